"""The proposal: rows of counts with what was read off the instructor's movement, each with how sure it is."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from fractions import Fraction
from itertools import accumulate

import numpy as np

from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.lines import STRAIGHT, read_line
from juxtakine.core.counting.sheets import Done, Layer, Mark, Phrase, Sheet
from juxtakine.core.counting.structure import mirrored as other_side
from juxtakine.core.movement.features import Features
from juxtakine.core.movement.tracks import Floats
from juxtakine.core.proposing.against import ReadOff
from juxtakine.core.proposing.arrivals import Arrivals, arrivals
from juxtakine.core.proposing.footwork import Act, FootPaths, acts
from juxtakine.core.proposing.shapes import Change, shapes
from juxtakine.core.proposing.turning import turns
from juxtakine.core.watching.repeats import Repeat, repeats

SURE_ENOUGH = 0.8
"""From here on a count, a cue and a turn are proposed as sure; below it they are left open."""
LIKELY, SUREST = 0.5, 0.995
"""What is likelier than the first is proposed, nothing is said to be surer than the last: of the surest one in
a hundred is wrong in the bench."""
SWING = Fraction(2, 3)
STAYS = 0.12
"""Counts after an arrival at which the pose is looked at: who arrives stays for a moment."""
PARTS = {Fraction(1, 4): "e", Fraction(1, 2): "&", Fraction(3, 4): "a"}
TRIPLE = {Fraction(1, 3): "&", Fraction(2, 3): "a"}
AMOUNTS = {1: "eighth", 2: "quarter", 3: "3 eighths", 4: "half", 6: "3 quarters", 8: "full"}


class ProposedKind(StrEnum):
    """What happens on a count."""

    ARRIVES = "arrives"
    HOLDS = "holds"
    GOES_ON = "goes-on"
    NOT_SEEN = "not-seen"


@dataclass(frozen=True)
class ProposedCell:
    """A moment of a row: by its label, what happens there, and how surely."""

    label: str
    kind: ProposedKind
    certainty: float

    @property
    def sure(self) -> bool:
        return self.certainty >= SURE_ENOUGH


def _cell(label: str, kind: ProposedKind, chance: float, seen: bool = True) -> ProposedCell:
    return ProposedCell(label, kind, min(chance, SUREST)) if seen else ProposedCell(label, ProposedKind.NOT_SEEN, 0.0)


@dataclass(frozen=True)
class ProposedRow:
    """A row as it is danced: its phrase with cues, its cells in order, and the earlier row that it is like."""

    phrase: Phrase
    cells: tuple[ProposedCell, ...]
    like: Repeat | None

    @property
    def certainty(self) -> float:
        """That every count of it is right, taken as independent."""
        return float(np.prod([c.certainty for c in self.cells]))


@dataclass(frozen=True)
class Proposal:
    """The rows, and what they were read from."""

    rows: tuple[ProposedRow, ...]
    shown: ReadOff

    def sheet(self, rows: int) -> Sheet:
        """As it is proposed, with so many rows."""
        return Sheet("", tuple(r.phrase for r in self.rows[:rows]))

    @property
    def danced(self) -> int:
        """Rows up to the last one in which anything arrives."""
        moving = [n for n, r in enumerate(self.rows, 1) if any(c.kind is ProposedKind.ARRIVES for c in r.cells)]
        return max(moving, default=0)


def proposal(danced: Features, feet: FootPaths, grid: Grid, lengths: Sequence[int], mirrored: bool = False) -> Proposal:
    """Rows of these lengths in counts, from the grid's first 1 on; `mirrored` where the clip shows left for right."""
    if mirrored:
        danced, feet = danced.mirrored, feet.mirrored
    found = arrivals(danced, feet, grid, sum(lengths))
    at = [i for i, sure in enumerate(found.arrives) if sure >= LIKELY]
    places = [found.at[i] for i in at]
    shown = _shown(danced, feet, grid, found, places)
    starts = list(accumulate(lengths, initial=0))
    phrases, cells = [], []
    for start, counts in zip(starts, lengths, strict=False):
        line, told = _row(found, start, counts)
        swing = SWING if found.swung else STRAIGHT
        labels = [s for s in read_line(line, counts, swing) if not s.hold and not s.goes_on]
        written = tuple(
            replace(shown.marks[start + s.at], label=s.label) for s in labels if start + s.at in shown.marks
        )
        phrases.append(Phrase("", counts, line, swing, written))
        cells.append(told)
    alike = {r.phrase: r for r in repeats(danced, grid, Sheet("", tuple(phrases)))}
    return Proposal(
        tuple(
            ProposedRow(_cues_of(phrases, alike.get(n), p), c, alike.get(n))
            for n, (p, c) in enumerate(zip(phrases, cells, strict=True), 1)
        ),
        shown,
    )


def _cues_of(phrases: list[Phrase], like: Repeat | None, own: Phrase) -> Phrase:
    """What repeats is called as it was called the first time."""
    if like is None or like.other_ending or like.cut or phrases[like.like - 1].line != own.line:
        return own
    shown = phrases[like.like - 1].marks
    return Phrase(own.name, own.counts, own.line, own.swing, tuple(map(other_side, shown)) if like.mirrored else shown)


def _row(found: Arrivals, start: int, counts: int) -> tuple[str, tuple[ProposedCell, ...]]:
    """The line of a row, and its cells."""
    words: list[str] = []
    cells: list[ProposedCell] = []
    parts = TRIPLE if found.swung else PARTS
    for count in range(counts):
        at = start + count
        chances = {
            ProposedKind.ARRIVES: found.of(Fraction(at)),
            ProposedKind.HOLDS: found.holds[at],
            ProposedKind.GOES_ON: found.goes_on[at],
        }
        kind = max(chances, key=lambda k: chances[k])
        words.append({ProposedKind.ARRIVES: str(count + 1), ProposedKind.HOLDS: "-", ProposedKind.GOES_ON: "~"}[kind])
        cells.append(_cell(str(count + 1), kind, float(chances[kind]), bool(found.seen[at])))
        said = [(p, found.of(at + p)) for p in parts if found.of(at + p) >= LIKELY]
        for part, sure in said:
            alone = found.swung and len(said) == 1
            if alone and part != SWING:
                continue  # a line has no sign for a first third that stands alone
            name = "&" if alone else parts[part]
            words.append(name)
            cells.append(_cell(f"{count + 1} {name}", ProposedKind.ARRIVES, sure))
    return " ".join(words), tuple(cells)


def _shown(danced: Features, feet: FootPaths, grid: Grid, found: Arrivals, places: list[Fraction]) -> ReadOff:
    """What is said of each of these arrivals, without its label, where anything can be."""
    if not places:
        return ReadOff(found, {}, {})
    at = np.array([float(p) for p in places]) + found.offset
    before = max(float(places[0]) + found.offset - 1, -1.0)
    looks = danced.at(grid.seconds(np.concatenate([[before], at + STAYS])))
    turned = turns(_facings(danced, grid, np.concatenate([[before], at])))
    said = shapes(looks)[1:]
    seconds = grid.seconds(at + STAYS)
    footing = acts(feet, seconds, looks.facing[1:])
    told = zip(places, turned.eighths[1:], turned.certainty[1:], footing, said, strict=True)
    marks = {place: _mark(int(turn), float(sure), act, words) for place, turn, sure, act, words in told}
    return ReadOff(
        found, {place: m for place, m in marks.items() if m},
        {place: float(sure) for place, sure in zip(places, turned.certainty[1:], strict=True)},
    )  # fmt: skip


def _facings(danced: Features, grid: Grid, at: Floats) -> Floats:
    """(m,) the median facing just after each place."""
    around = [danced.at(grid.seconds(at + later)).facing for later in (0.0, 0.08, 0.16, 0.24)]
    known = np.isfinite(around)
    told = np.median(np.where(known, around, 0.0), axis=0)
    return np.where(known.all(0), told, np.nan)


def _mark(turn: int, turn_sure: float, act: Act | None, said: list[Change]) -> Mark | None:
    turn = turn if turn_sure >= SURE_ENOUGH else 0
    act = act if act and act.certainty >= SURE_ENOUGH else None
    cues: dict[Layer, str] = {s.layer: s.said for s in said}
    words = [s.cue for s in said]
    if act:
        cues[Layer.FEET] = act.cue
        words.insert(0, act.cue)
    if turn:
        words.insert(0, f"{AMOUNTS.get(abs(turn), f'{abs(turn)}/8')} {'R' if turn > 0 else 'L'}")
    if not words:
        return None
    weight = act.foot if act and act.weight else None
    return Mark("", words[0], layers={k: Done(v) for k, v in cues.items()}, foot=act.foot if act else None,
                weight=weight, turn=turn)  # fmt: skip
