"""Loops: the stretch of a phrase that is drilled, and the counts danced before it to come into it moving."""

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from math import floor

from juxtakine.core.comparing.results import Comparison
from juxtakine.core.counting.sheets import Sheet

SHORTEST = 4
"""Counts: a shorter loop comes round before one has breathed."""


class RunIn(StrEnum):
    """How much is danced before the drilled stretch."""

    TWO = "two"
    EIGHT = "eight"
    TOP = "top"


@dataclass(frozen=True)
class Loop:
    """From `run_in` over `start` to `end`, in counts from the routine's first 1; whole counts."""

    run_in: Fraction
    start: Fraction
    end: Fraction


@dataclass(frozen=True)
class Drill:
    """A phrase to redrill, and its loop with each run-in."""

    phrase: int
    loops: dict[RunIn, Loop]


def loop(sheet: Sheet, phrase: int, first: Fraction, run_in: RunIn) -> Loop:
    """From the whole count of `first` to the phrase's end, at least SHORTEST counts where the phrase has them."""
    begin = Fraction(sheet.starts()[phrase - 1])
    end = begin + sheet.phrases[phrase - 1].counts
    start = max(begin, min(Fraction(floor(first)), end - SHORTEST))
    before = {RunIn.TWO: start - 2, RunIn.EIGHT: begin - _length_before(sheet, phrase), RunIn.TOP: Fraction(0)}
    return Loop(min(start, before[run_in]), start, end)


def drills(comparison: Comparison, sheet: Sheet) -> tuple[Drill, ...]:
    """The phrases to redrill, worst first."""
    return tuple(_drill(comparison, sheet, phrase) for phrase in comparison.redrill)


def _drill(comparison: Comparison, sheet: Sheet, phrase: int) -> Drill:
    first = min(f.start for f in comparison.phrases[phrase - 1].findings)
    return Drill(phrase, {run_in: loop(sheet, phrase, first, run_in) for run_in in RunIn})


def _length_before(sheet: Sheet, phrase: int) -> int:
    """Counts of the phrase before, or an eight of the intro before the first."""
    return sheet.phrases[phrase - 2].counts if phrase > 1 else 8
