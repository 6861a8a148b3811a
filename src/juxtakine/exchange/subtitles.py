"""Counts and cues as subtitles (WebVTT) for any player, and their times in again as a grid."""

from fractions import Fraction

import pysubs2

from juxtakine.core.counting.grids import Anchor, Grid, GridError
from juxtakine.core.counting.sheets import Sheet, SheetCount, expand
from juxtakine.pipeline.forms import FormError

NOT_IN_VTT = "Subtitles hold counts, cues and their times; nothing else of the sheet."
LONGEST_S = 1.5


def to_vtt(sheet: Sheet, grid: Grid, start_s: float) -> str:
    """A subtitle for each count, from its moment to the next; `start_s` of the grid's clip is the film's 0."""
    counts = expand(sheet)
    seconds = grid.seconds([float(c.at) for c in counts]) - start_s
    ends = [*seconds[1:], seconds[-1] + float(grid.count_length(float(counts[-1].at)))]
    subtitles = pysubs2.SSAFile()
    for count, begin, end in zip(counts, seconds, ends, strict=True):
        if begin >= 0:
            event = pysubs2.SSAEvent(round(1000 * begin), round(1000 * min(end, begin + LONGEST_S)))
            event.plaintext = f"{count.label}  {count.cue}".strip()
            subtitles.append(event)
    return subtitles.to_string("vtt")


def grid_from_vtt(data: bytes, sheet: Sheet, start_s: float) -> Grid:
    """Where the subtitles put the whole counts of the sheet. Raises FormError where they are not of this sheet."""
    try:
        subtitles = pysubs2.SSAFile.from_string(data.decode("utf-8-sig"), "vtt")
    except (UnicodeDecodeError, pysubs2.exceptions.Pysubs2Error, ValueError) as error:
        raise FormError("this file can't be read as WebVTT subtitles") from error
    counts = expand(sheet)
    events = [e for e in subtitles if not e.is_comment]
    skipped = len(counts) - len(events)
    if skipped < 0 or not events or not all(map(_is_of, events, counts[skipped:])):
        raise FormError(
            f"these subtitles are not of this sheet: it has {len(counts)} counts, they are {len(events)}, "
            "and each has to begin with its count"
        )
    whole = [(c.at, e.start / 1000) for c, e in zip(counts[skipped:], events, strict=True) if c.at.denominator == 1]
    try:
        return Grid(tuple(Anchor(Fraction(at), seconds + start_s) for at, seconds in whole))
    except GridError as error:
        raise FormError(str(error)) from error


def _is_of(event: pysubs2.SSAEvent, count: SheetCount) -> bool:
    return event.plaintext.strip().startswith(count.label)
