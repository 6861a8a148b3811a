"""A written sheet held against the clip: where the instructor's movement and the sheet disagree. Who is right is left
open, as teachers slip too."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from fractions import Fraction

import numpy as np

from juxtakine.core.counting.sheets import Foot, Mark, Sheet, SheetCount, expand
from juxtakine.core.proposing.arrivals import Arrivals

DANCED, TOLD_FROM, SUREST_OF_ALL = 0.5, 0.97, 0.99
"""How surely something arrives on the last place of a clip; from where on a disagreement is told. Nothing is said to be
surer than the last: of the bench's right sheets one in twelve has a false remark."""
SHIFTS = tuple(d for d in range(-4, 5) if d)
CLEARLY = 12.0
"""By how much more likely all of a sheet has to be with its later rows shifted, in natural logarithms."""
LEAST, MOST = 0.03, 0.97
"""Nothing is taken for surer than this: the sheet and the clip may both be a little otherwise."""
EVEN = 0.5
"""So near to each other two readings are as likely."""
LEAST_FEET, MOSTLY = 3, 4
"""A row is danced to the other side where so many feet are the other ones, and so many times as many as are not."""
QUICK = (4,)
"""Of an e or an a the movement shows too little to say that it is not there."""


class Disagreement(StrEnum):
    SHIFTED = "shifted"
    TURN = "turn"
    SIDE = "side"
    NOTHING_ARRIVES = "nothing-arrives"
    ARRIVES = "arrives"
    HOLD = "hold"


@dataclass(frozen=True)
class Against:
    """Of a row as danced (from 1) and a count of it by its label (None: the row from there on). `written` and `shown`
    are counts or eighths by kind, 0 where it is about neither."""

    kind: Disagreement
    row: int
    label: str | None
    at: Fraction
    certainty: float
    written: int = 0
    shown: int = 0


@dataclass(frozen=True)
class ReadOff:
    """What the clip shows: arrivals, and of places at which something arrives the mark (without cues that somebody
    would have to choose) and how surely the turn is told."""

    arrivals: Arrivals
    marks: Mapping[Fraction, Mark]
    turn_certainty: Mapping[Fraction, float]

    @property
    def ends(self) -> Fraction:
        """The last place at which anything arrives."""
        likely = zip(self.arrivals.at, self.arrivals.arrives, strict=True)
        return max((at for at, sure in likely if sure > DANCED), default=Fraction(-1))


def against(sheet: Sheet, shown: ReadOff) -> list[Against]:
    """All that disagrees, in the order of the counts. Raises SheetError."""
    counts = expand(sheet)
    shifted = _shifted(sheet, counts, shown)
    last = shifted.row if shifted else len(sheet.phrases) + 1
    found = [f for row in range(1, last) for f in _of_row([c for c in counts if c.phrase == row], shown)]
    every = [*found, *([shifted] if shifted else [])]
    return [replace(f, certainty=min(f.certainty, SUREST_OF_ALL)) for f in every]


def _of_row(counts: Sequence[SheetCount], shown: ReadOff) -> Iterator[Against]:
    """Beside a turn, whoever tells of it, limbs pass each other in the picture, and after an e or an a the next count
    is not told apart: of what arrives there nothing is said."""
    blurred = [c.at for c in counts if c.at.denominator in QUICK]
    turned = [at for at, mark in shown.marks.items() if mark.turn] + [c.at for c in counts if c.mark.turn]
    for found in _disagreeing(counts, shown):
        near = any(abs(found.at - at) <= 1 for at in turned) or any(0 <= found.at - at < 1 for at in blurred)
        if not near or found.kind in (Disagreement.TURN, Disagreement.SIDE):
            yield found


def _disagreeing(counts: Sequence[SheetCount], shown: ReadOff) -> Iterator[Against]:
    side = _side(counts, shown)
    if side:
        yield side
    written = {c.at for c in counts}
    for c in counts:
        yield from _of_count(c, shown, side is not None)
    if not counts:
        return
    start, end, told = counts[0].at, counts[-1].at + 1, set[str]()
    for at, sure in zip(shown.arrivals.at, shown.arrivals.arrives, strict=True):
        between = at.denominator > 1 and start <= at < end and at not in written
        # a move that swings may lie between the places that the sheet has
        near = any(abs(at - w) < Fraction(1, 3) and w.denominator > 1 for w in written)
        if between and sure > TOLD_FROM and not near and _seen(shown, at):
            whole = next((c for c in reversed(counts) if c.at <= at), counts[0])
            if whole.free or whole.label in told:
                continue
            told.add(whole.label)
            yield Against(Disagreement.ARRIVES, counts[0].phrase, whole.label, at, float(sure))


def _of_count(c: SheetCount, shown: ReadOff, other_side: bool) -> Iterator[Against]:
    found = shown.arrivals
    if c.free or c.at < 0 or c.at not in found.at or not _seen(shown, c.at):
        return
    sure = found.of(c.at)
    if c.hold:
        if sure > TOLD_FROM:
            yield Against(Disagreement.HOLD, c.phrase, c.label, c.at, sure)
        return
    if c.goes_on:
        return
    if sure < 1 - TOLD_FROM:
        if c.at.denominator in QUICK:
            return
        yield Against(Disagreement.NOTHING_ARRIVES, c.phrase, c.label, c.at, 1 - sure)
        return
    turn = -c.mark.turn if other_side else c.mark.turn
    seen, certainty = _turned(shown, c.at)
    if certainty > TOLD_FROM and seen != turn and (turn or seen):
        yield Against(Disagreement.TURN, c.phrase, c.label, c.at, certainty, turn, seen)


def _turned(shown: ReadOff, at: Fraction) -> tuple[int, float]:
    mark = shown.marks.get(at)
    return (mark.turn if mark else 0), shown.turn_certainty.get(at, 0.0)


def _seen(shown: ReadOff, at: Fraction) -> bool:
    """Whether the instructor is seen there, and has not ended: a sheet may go on where a clip does not."""
    count = int(at)
    return at <= shown.ends and 0 <= count < len(shown.arrivals.seen) and bool(shown.arrivals.seen[count])


def _side(counts: Sequence[SheetCount], shown: ReadOff) -> Against | None:
    told = [(c, shown.marks[c.at].foot) for c in counts if c.at in shown.marks]
    both = [(c.mark.foot, seen) for c, seen in told if c.mark.foot in (Foot.LEFT, Foot.RIGHT) and seen]
    opposed = sum(said is not seen for said, seen in both)
    if opposed < LEAST_FEET or (len(both) - opposed) * MOSTLY > opposed:
        return None
    return Against(Disagreement.SIDE, counts[0].phrase, None, counts[0].at, opposed / len(both))


def _shifted(sheet: Sheet, counts: Sequence[SheetCount], shown: ReadOff) -> Against | None:
    """From which row on all lies some counts later (positive) than written, if that tells the clip far better."""
    rows = range(1, len(sheet.phrases) + 1)
    by_row = [[c for c in counts if c.phrase == row] for row in rows]
    told = {d: np.array([_likely(some, shown, d) for some in by_row]) for d in (0, *SHIFTS)}
    best = None
    for d in SHIFTS:
        gain = told[d] - told[0]
        tails = gain[::-1].cumsum()[::-1]
        # of rows that tell nothing, as they are free, the shift begins after the last
        row = int(np.flatnonzero(tails >= tails.max() - EVEN)[-1])
        if tails[row] > CLEARLY and (best is None or tails[row] > best[0]):
            best = float(tails[row]), row + 1, d
    if best is None:
        return None
    most, row, d = best
    start = Fraction(sheet.starts()[row - 1])
    return Against(Disagreement.SHIFTED, row, None, start, float(1 - np.exp(-most)), 0, d)


def _likely(counts: Sequence[SheetCount], shown: ReadOff, shift: int) -> float:
    """The logarithm of how likely what is written is, if it lies so many counts later."""
    total = 0.0
    found = shown.arrivals
    for c in counts:
        at = c.at + shift
        if c.free or at not in found.at or not _seen(shown, at):
            continue
        chance = found.of(at)
        if at.denominator == 1 and (c.hold or c.goes_on):
            chance = float((found.holds if c.hold else found.goes_on)[int(at)])
        total += float(np.log(np.clip(chance, LEAST, MOST)))
        if not (c.hold or c.goes_on):
            total += _alike(c.mark, shown, at)
    return total


def _alike(mark: Mark, shown: ReadOff, at: Fraction) -> float:
    seen = shown.marks.get(at, Mark(""))
    turned, certainty = _turned(shown, at)
    total = float(np.log(np.clip(certainty if turned == mark.turn else 1 - certainty, LEAST, MOST)))
    if mark.foot in (Foot.LEFT, Foot.RIGHT) and seen.foot:
        total += float(np.log(0.9 if mark.foot is seen.foot else 0.1))
    return total
