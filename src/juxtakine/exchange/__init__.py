"""Sheets and grids for other programs, and in again: CSV, Markdown, paper, subtitles, MIDI."""
