"""Timing: how far ahead or behind each count is, or why that can't be told."""
