"""What was measured, in sentences: made where they are read, from values alone."""
