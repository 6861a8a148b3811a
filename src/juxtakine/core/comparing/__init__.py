"""Two movements on one count line: common time, timing, position, findings, and what to redrill."""
