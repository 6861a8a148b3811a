"""Pure computation: values in, values out. No files, no database, no web, no clock, no randomness."""
