"""From clips to a comparison: what the command line and the jobs share. No database, no web."""
