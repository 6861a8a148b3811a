"""The sheet read off the instructor's movement: a proposal to take, and what a written sheet is held against."""
