"""Position: how far each part is from where it is meant to be, or why that can't be told."""
