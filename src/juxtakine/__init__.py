"""Juxtakine: recordings become movement on the count line; everything else reads from there."""
