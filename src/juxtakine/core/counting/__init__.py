"""How dancers count: exact positions, count lines, sheets, and the grid between counts and seconds."""
