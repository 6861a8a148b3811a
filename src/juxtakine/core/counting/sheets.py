"""Sheets: the phrases of a routine, and the one continuous count line that they expand into.

Conventions: phrases are numbered from 1; positions are counts from the routine's first 1 (which is 0). Sides are the
dancer's own. Facing and turns are in eighths, clockwise seen from above: 0 is the front, 2 the dancer's right (3 on the
clock), and a turn over the right shoulder is positive.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from fractions import Fraction
from functools import lru_cache
from itertools import accumulate, pairwise
from types import MappingProxyType

from juxtakine.core.counting.lines import STRAIGHT, LineError, read_line


class Score(StrEnum):
    """How a count is scored; at the dancer's own pace order and shape are, and time is left free."""

    BOTH = "both"
    TIMING = "timing"
    POSITION = "position"
    FREE = "free"
    OWN_PACE = "own-pace"


class Layer(StrEnum):
    """What people teach, drill and score apart."""

    FEET = "feet"
    BODY = "body"
    ARMS = "arms"
    HEAD = "head"


class Foot(StrEnum):
    """Which foot acts, or where the weight is."""

    LEFT = "left"
    RIGHT = "right"
    BOTH = "both"

    @property
    def other(self) -> "Foot":
        return {Foot.LEFT: Foot.RIGHT, Foot.RIGHT: Foot.LEFT, Foot.BOTH: Foot.BOTH}[self]


class Quality(StrEnum):
    """How a layer moves into its count."""

    SHARP = "sharp"
    SLOW = "slow"
    BOUNCED = "bounced"
    LIGHT = "light"


@dataclass(frozen=True)
class Done:
    """What one layer does on a count."""

    cue: str
    quality: Quality | None = None


@dataclass(frozen=True)
class Mark:
    """What is said of one count of a phrase; with `parts`, `score` holds for these layers alone.

    `cue` is the step's name, `sounds` and `lyrics` what other schools say there. `foot` acts and `weight` is where the
    weight is afterwards (None: where it was); `turn` in eighths, positive over the right shoulder. `either`: two styles
    are right there, each as one of the instructor's clips shows it.
    """

    label: str
    cue: str = ""
    score: Score = Score.BOTH
    parts: frozenset[Layer] = frozenset()
    sounds: str = ""
    lyrics: str = ""
    layers: Mapping[Layer, Done] = field(default_factory=dict)
    foot: Foot | None = None
    weight: Foot | None = None
    turn: int = 0
    either: bool = False


@dataclass(frozen=True)
class Easier:
    """A low-impact way of dancing a phrase: the same counts, another line."""

    line: str
    marks: tuple[Mark, ...] = ()


@dataclass(frozen=True)
class Phrase:
    """A row of the sheet. `section` names the section that begins with it ("": it goes on); `weight` and `facing` are
    where it is written to begin (None: not written). `id` stays the row's own when it is renamed, moved or edited ("":
    nobody asked for one)."""

    name: str
    counts: int
    line: str
    swing: Fraction = STRAIGHT
    marks: tuple[Mark, ...] = ()
    section: str = ""
    weight: Foot | None = None
    facing: int | None = None
    easier: Easier | None = None
    id: str = ""


@dataclass(frozen=True)
class Sheet:
    """A routine as rows, one after the other as they are danced."""

    title: str
    phrases: tuple[Phrase, ...]

    @property
    def total(self) -> int:
        """Counts of the whole routine."""
        return sum(p.counts for p in self.phrases)

    def starts(self) -> tuple[int, ...]:
        """Where each phrase's 1 lies, in counts from the routine's first 1."""
        return tuple(accumulate((p.counts for p in self.phrases), initial=0))[:-1]


@dataclass(frozen=True)
class SheetCount:
    """One sounded count, subdivision or hold of the expanded sheet, with what is said of it; `facing` and `weight` are
    those at its end (`weight` None: the sheet does not tell)."""

    phrase: int
    label: str
    at: Fraction
    hold: bool = False
    goes_on: bool = False
    scores: Mapping[Layer, Score] = field(default_factory=dict)
    mark: Mark = Mark("")
    facing: int = 0
    weight: Foot | None = None

    @property
    def cue(self) -> str:
        return self.mark.cue

    @property
    def timed(self) -> bool:
        return any(s in (Score.BOTH, Score.TIMING) for s in self.scores.values())

    @property
    def posed(self) -> bool:
        return any(s in (Score.BOTH, Score.POSITION, Score.OWN_PACE) for s in self.scores.values())

    @property
    def own_pace(self) -> bool:
        return Score.OWN_PACE in self.scores.values()

    @property
    def free(self) -> bool:
        return not (self.timed or self.posed)


@dataclass(frozen=True)
class SheetProblem:
    """Something wrong with a sheet: the phrase (from 1, 0 for the sheet itself), and the place in its line."""

    phrase: int
    reason: str
    start: int = 0
    end: int = 0

    def __str__(self) -> str:
        return f"phrase {self.phrase}: {self.reason}" if self.phrase else self.reason


class SheetError(ValueError):
    """A sheet that can't be expanded; `problems` are all that was found."""

    def __init__(self, problems: tuple[SheetProblem, ...]) -> None:
        super().__init__("; ".join(map(str, problems)))
        self.problems = problems


def expand(sheet: Sheet) -> tuple[SheetCount, ...]:
    """The one continuous count line, in order. Raises SheetError with every problem found."""
    counts, problems = _checked(sheet)
    if problems:
        raise SheetError(problems)
    return counts


def check(sheet: Sheet) -> tuple[SheetProblem, ...]:
    """All that keeps the sheet from being expanded; empty when nothing does."""
    return _checked(sheet)[1]


def _checked(sheet: Sheet) -> tuple[tuple[SheetCount, ...], tuple[SheetProblem, ...]]:
    if not sheet.phrases:
        return (), (SheetProblem(0, "the sheet has no phrase yet"),)
    problems = [p for number, phrase in enumerate(sheet.phrases, 1) for p in _check_phrase(number, phrase)]
    if problems:
        return (), tuple(problems)
    counts = _merged(sheet)
    return counts, _check_overlap(counts)


def _check_phrase(number: int, phrase: Phrase) -> list[SheetProblem]:
    if phrase.counts < 1:
        return [SheetProblem(number, "a phrase has at least one count")]
    try:
        labels = {s.label for s in read_line(phrase.line, phrase.counts, phrase.swing)}
    except LineError as error:
        return [SheetProblem(number, error.reason, error.start, error.end)]
    unknown = [m.label for m in phrase.marks if m.label not in labels]
    return [SheetProblem(number, f"a mark stands on {label}, which its line does not have") for label in unknown]


def _check_overlap(counts: tuple[SheetCount, ...]) -> tuple[SheetProblem, ...]:
    """A pick-up may not fall on or before what the phrase before it still dances."""
    return tuple(
        SheetProblem(b.phrase, f"its {b.label} falls on or before the {a.label} of phrase {a.phrase}")
        for a, b in pairwise(counts)
        if b.at <= a.at
    )


def _merged(sheet: Sheet) -> tuple[SheetCount, ...]:
    counts = []
    first = sheet.phrases[0]
    facing, weight = first.facing or 0, first.weight
    for number, (start, phrase) in enumerate(zip(sheet.starts(), sheet.phrases, strict=True), 1):
        marks = {m.label: m for m in phrase.marks}
        for s in read_line(phrase.line, phrase.counts, phrase.swing):
            mark = marks.get(s.label, Mark(s.label))
            facing, weight = (facing + mark.turn) % 8, mark.weight or weight
            counts.append(
                SheetCount(
                    number,
                    s.label,
                    start + s.at,
                    s.hold,
                    s.goes_on,
                    _scores(mark.score, mark.parts),
                    mark,
                    facing,
                    weight,
                )
            )
    return tuple(counts)


@lru_cache
def _scores(score: Score, parts: frozenset[Layer]) -> Mapping[Layer, Score]:
    held_for = parts or frozenset(Layer)
    return MappingProxyType({layer: score if layer in held_for else Score.BOTH for layer in Layer})
