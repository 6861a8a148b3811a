"""A phrase from a line of step names: `walk R L, shuffle R, rock L recover, coaster L`.

Steps are parted by commas, semicolons or a slash between spaces. After a name come the foot it begins on (R, L;
several: once each), a turn (`1/4 R`, `half left`) and a number of counts for what has none of its own (`body roll 4`).
A turn may stand before the name as well (`1/4 pivot R`). Counts may be written before the names, with a colon or
without (`3&4: shuffle R`), or after each of them (`rock R 5, recover 6 & together`): they have to be those that the
steps take. A step after an `&` falls between two counts. `repeat` repeats all before it, `mirror` does so on the other
side, and `same with L` repeats the step before. A foot that is not said is the one that is free. A name that is not
known is kept as a cue of one count.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction

from juxtakine.core.counting.dictionary import Action, Step, Style, Which
from juxtakine.core.counting.lines import EIGHT, LineError, counts_of, read_line
from juxtakine.core.counting.sheets import Foot, Mark
from juxtakine.core.counting.step_words import SaidStep, Unknown, read_item, repeated

ITEM = re.compile(r"(?:[^,;/]|(?<=\S)/(?=\S))+")
LABELLED = re.compile(r"\s*(?P<counts>\d[\d\s&+e\-]*?|&\s*\d+)\s*(?::|(?=\s[^\W\d_]{2}))", re.IGNORECASE)
PARTS = {Fraction(1, 4): "e", Fraction(1, 2): "&", Fraction(3, 4): "a"}
HALF = Fraction(1, 2)


@dataclass(frozen=True)
class Misfit:
    """Counts that are written beside steps and are not those that the steps take; where they stand in the text."""

    said: str
    meant: str
    start: int
    end: int

    @property
    def told(self) -> str:
        return f"{self.said} is written there, and the steps take {self.meant}"


@dataclass(frozen=True)
class Filled:
    """A phrase as the steps fill it. `weight` is where it is at the end."""

    counts: int
    line: str
    marks: tuple[Mark, ...]
    weight: Foot | None
    unknown: tuple[Unknown, ...]
    misfits: tuple[Misfit, ...] = ()


@dataclass
class _Row:
    """What is filled so far: marks by their places, holds, ways that go on, whole counts, where the weight is."""

    weight: Foot | None
    moments: dict[Fraction, Mark] = field(default_factory=dict)
    holds: set[Fraction] = field(default_factory=set)
    going: set[Fraction] = field(default_factory=set)
    counts: int = 0

    @property
    def first(self) -> Foot | None:
        """The foot that acts first."""
        return next((m.foot for _, m in sorted(self.moments.items()) if m.foot), None)

    def add(self, said: SaidStep) -> None:
        lead = said.lead or _lead_of(said) or (self.weight.other if self.weight else Foot.RIGHT)
        actions = said.step.actions or (Action(Fraction(0), Which.NONE, False, said.step.name),)
        length = said.counts or said.step.counts or 1
        begin = self.counts - (HALF if said.between and self.counts else 0)
        held = said.step.name == "hold"
        for action in (a for a in actions if a.at < length):
            turns_here = action is next((a for a in reversed(actions) if a.takes_weight), actions[-1])
            mark = _mark(said, action, lead, first=action is actions[0], turns_here=turns_here)
            self.weight = mark.weight or self.weight
            self.moments[begin + action.at] = mark
            if held:
                self.holds.add(begin + action.at)
        last = begin + max((a.at for a in actions if a.at < length), default=Fraction(0))
        until = self.counts + length if begin == self.counts else int(last) + 1
        for count in range(self.counts, until):
            if Fraction(count) not in self.moments:
                (self.holds if held else self.going).add(Fraction(count))
        self.counts = max(self.counts, until)


def filled(text: str, weight: Foot | None = None, style: Style | None = None, own: Sequence[Step] = ()) -> Filled:
    """The counts that the steps take, from the foot that bears the weight on; empty text has no counts."""
    row = _Row(weight)
    unknown: list[Unknown] = []
    misfits: list[Misfit] = []
    so_far: list[SaidStep] = []
    offset = 0
    for item in ITEM.finditer(text):
        begun = row.counts
        labelled = LABELLED.match(item.group())
        if labelled and not begun and not so_far:
            offset = _first(labelled["counts"]) - 1
        start = item.start() + (labelled.end() if labelled else 0)
        said_there = text[start : item.end()]
        more = repeated(said_there, so_far, row.first) or read_item(said_there, start, style, own, unknown)
        for said in more:
            misfits += _added(row, said, offset)
        so_far += more
        if labelled:
            place = item.start() + labelled.start("counts"), item.start() + labelled.end("counts")
            misfits += _labels(labelled["counts"], begun, offset, row, more, *place)
    line, marks = _written(row.moments, row.holds, row.going, row.counts)
    return Filled(row.counts, line, marks, row.weight, tuple(unknown), tuple(misfits))


def _added(row: _Row, said: SaidStep, offset: int) -> list[Misfit]:
    """A number after a step is the count that it falls on; after a hold it may be how many."""
    begin = row.counts + offset - (1 if said.between else 0)
    if said.label is None or (said.label[0] - 1) % EIGHT == begin % EIGHT:
        row.add(said)
        return []
    number, start, end = said.label
    if said.step.name == "hold" and number <= EIGHT:
        row.add(replace(said, counts=number))
        return []
    row.add(said)
    return [Misfit(str(number), str(begin % EIGHT + 1), start, end)]


def _labels(
    said: str, begun: int, offset: int, row: _Row, more: Sequence[SaidStep], start: int, end: int
) -> list[Misfit]:
    """Counts that are written before steps: they stretch one that is shorter, and else have to be its own."""
    lasts = counts_of(said) - _first(said) + 1
    if lasts > row.counts - begun and len(more) == 1:
        held = range(row.counts, begun + lasts)
        row.holds.update(Fraction(c) for c in held)
        row.counts = begun + lasts
    every = row.moments.keys() | row.holds | row.going
    taken = sorted(at - begun for at in every if begun - HALF <= at < row.counts)
    try:
        meant = [s.at - (_first(said) - 1) for s in read_line(said, counts_of(said))]
    except LineError:
        meant = []
    # a range, as 1-4, says how long it is and not what falls on its &s
    ranged = "&" not in said and lasts == row.counts - begun
    if (taken == meant or ranged) and (_first(said) - 1) % EIGHT == (begun + offset) % EIGHT:
        return []
    shown = _written(
        {at - begun: Mark("") for at in row.moments if at >= begun}, {h - begun for h in row.holds if h >= begun},
        {g - begun for g in row.going if g >= begun}, row.counts - begun,
    )[0]  # fmt: skip
    return [Misfit(said.strip(), _numbered(shown, begun + offset), start, end)]


def _first(said: str) -> int:
    found = re.search(r"\d+", said)
    return int(found.group()) if found else 1


def _numbered(line: str, begun: int) -> str:
    """A line that begins at 1, as it is called from another count on."""
    return " ".join(str((int(w) + begun - 1) % EIGHT + 1) if w.isdecimal() else w for w in line.split())


def line_of(step: Step) -> str:
    """The counts that a step takes, as a line (`1 & 2`); empty where none are fixed."""
    moments = {a.at: Mark("") for a in step.actions}
    return _written(moments, set(), set(), step.counts or 0)[0]


def _lead_of(said: SaidStep) -> Foot | None:
    """The foot on which a step begins that turns to the side that is said."""
    turn = next((a.turn for a in said.step.actions if a.turn), 0)
    if not said.way or not turn:
        return None
    return said.way if turn > 0 else said.way.other


def _mark(said: SaidStep, action: Action, lead: Foot, first: bool, turns_here: bool) -> Mark:
    foot = {Which.LEAD: lead, Which.OTHER: lead.other, Which.BOTH: Foot.BOTH, Which.NONE: None}[action.which]
    side = "R" if lead is Foot.RIGHT else "L"
    stands = said.step.name + (f" {side}" if action.which is not Which.NONE and said.step.name != "hold" else "")
    own = sum(a.turn for a in said.step.actions)
    sign = 1 if lead is Foot.RIGHT else -1
    if said.turn is None:
        turn = action.turn * sign
    elif own:  # the step's own turn, by the amount that was said
        way = sign if said.way is None else (1 if said.way is Foot.RIGHT else -1) * (1 if own > 0 else -1)
        turn = round(action.turn * said.turn / abs(own)) * way
    else:
        way = (said.way or lead) is Foot.RIGHT
        turn = (said.turn if way else -said.turn) if turns_here else 0
    cue = stands if first else action.cue
    return Mark("", cue, foot=foot, weight=foot if action.takes_weight else None, turn=turn)


def _written(
    moments: dict[Fraction, Mark], holds: set[Fraction], going: set[Fraction], counts: int
) -> tuple[str, tuple[Mark, ...]]:
    tokens, marks = [], []
    for count in range(counts):
        whole = Fraction(count)
        tokens.append("-" if whole in holds else "~" if whole in going else str(count + 1))
        if whole in moments:
            marks.append(replace(moments[whole], label=str(count + 1)))
        for part, sign in PARTS.items():
            if whole + part in moments:
                tokens.append(sign)
                marks.append(replace(moments[whole + part], label=f"{count + 1} {sign}"))
    return " ".join(tokens), tuple(marks)
