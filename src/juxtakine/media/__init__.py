"""Recordings in, arrays out: frames, sound, landmarks, and the copy that a browser plays."""
