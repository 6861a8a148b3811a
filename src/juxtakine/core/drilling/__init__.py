"""What to do about it: which stretch to loop, with which run-in, and in what order."""
