"""What the command line can do; a command loads what it needs when it runs, so that help is there at once."""
