"""What is taken in at most, in one place: bytes that are sent, what a sheet holds, and times that can be.

Whoever reads from outside checks against these before anything is built of it.
"""

LARGEST_CLIP = 8_000_000_000
LARGEST_SHEET = 4_000_000
LARGEST_SAID = 1_000_000
"""Bytes of a clip, of a sheet or its times as a file, and of everything else that is sent."""

LONGEST_CLIP_S = 30 * 60
MOST_PIXELS = 8192 * 4608
"""Of one picture of a clip."""

MOST_COUNTS = 4096
MOST_ROWS = 512
"""Of a routine as it is danced."""
MOST_WRITTEN = 256
"""Rows as they are written; repetitions in the order and steps of one's own too."""
MOST_MARKS = 512
"""Counts of a row of which something is said; a row has 64 counts at most."""
LONGEST_LINE, LONGEST_WORDS, LONGEST_TEXT = 1_000, 2_000, 200_000
"""Characters of a row's line or an order, of a cue or a name, and of a whole sheet that is pasted."""

MOST_TAPS = 4096
FARTHEST_S = 100_000.0
"""Seconds of any moment in any clip: stamps of a file may begin late."""
BEYOND_S = 60.0
"""How far before and after a clip a count may be placed: a clip may begin after count 1."""
SHORTEST_COUNT_S, LONGEST_COUNT_S = 0.02, 30.0
