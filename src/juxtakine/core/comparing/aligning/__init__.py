"""Aligning: where the take lies on the count line, and from where it is seen."""
