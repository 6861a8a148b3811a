"""Watching: what a clip holds, before anything is counted: its stretches and the run-through among them."""
