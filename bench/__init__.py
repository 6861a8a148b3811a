"""What is measured and not tested: speed here, accuracy beside it. `make bench` prints the table."""
