"""Cells: how wide each sounding of a phrase stands on the sheet, in counts from the phrase's own 1."""

from dataclasses import dataclass
from fractions import Fraction

from juxtakine.core.counting.lines import STRAIGHT, LineError, Sounding, read_line


@dataclass(frozen=True)
class Cell:
    """A sounding with its `width` in counts; a pick-up has a negative place."""

    sounding: Sounding
    width: Fraction


def cells(line: str, counts: int, swing: Fraction = STRAIGHT) -> tuple[Cell, ...]:
    """One cell a sounding, each as wide as the way to the next, at most a count. Raises LineError."""
    soundings = read_line(line, counts, swing)
    ends = [*(s.at for s in soundings[1:]), Fraction(counts)]
    return tuple(Cell(s, min(Fraction(1), end - s.at)) for s, end in zip(soundings, ends, strict=True))


def mended(line: str, counts: int, swing: Fraction = STRAIGHT) -> str | None:
    """The line with a hold written on the first count that is missing; None where that is not what is wrong."""
    try:
        read_line(line, counts, swing)
    except LineError as error:
        if not error.missing:
            return None
        before, after = line[: error.start].rstrip(), line[error.start :].lstrip()
        return " ".join(part for part in (before, "-", after) if part)
    return None
