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

from juxtakine.core.counting.dictionary import Action, Step, Style, Which, look_up, near
from juxtakine.core.counting.lines import LineError, counts_of, read_line
from juxtakine.core.counting.sheets import Foot, Mark

ITEM = re.compile(r"(?:[^,;/]|(?<=\S)/(?=\S))+")
WORD = re.compile(r"\d+/\d+|[^\s:.]+")
LABELLED = re.compile(r"\s*(?P<counts>\d[\d\s&+e\-]*?|&\s*\d+)\s*(?::|(?=\s[^\W\d_]{2}))", re.IGNORECASE)
FEET = {"r": Foot.RIGHT, "right": Foot.RIGHT, "rf": Foot.RIGHT, "l": Foot.LEFT, "left": Foot.LEFT, "lf": Foot.LEFT}
AMOUNTS = {"1/8": 1, "\u215b": 1, "eighth": 1, "1/4": 2, "\u00bc": 2, "quarter": 2, "3/8": 3, "\u215c": 3, "1/2": 4,
           "\u00bd": 4, "half": 4, "3/4": 6, "\u00be": 6, "full": 8}  # fmt: skip
PARTS = {Fraction(1, 4): "e", Fraction(1, 2): "&", Fraction(3, 4): "a"}
HALF = Fraction(1, 2)
WORDS_OF_TURN = {"turn", "turning"}
FILLERS = {"with", "on", "to", "the", "foot", "a", "your", "step"}
AND = {"&", "and", "+", "then"}
WITH = {"with", "w/"}
AGAIN, MIRROR = ("repeat", "again"), ("mirror", "other side", "opposite side", "repeat other side")
PIVOT = "pivot"
EIGHT = 8


@dataclass(frozen=True)
class Unknown:
    """A name that is not in the dictionary, its place in the text, and names that are spelled much like it."""

    name: str
    start: int
    end: int
    near: tuple[str, ...]


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


@dataclass(frozen=True)
class _Said:
    """One step as it is written: `lead` None is the free foot, `turn` in eighths None the step's own, `way` the side
    that it is said to go to; `between`: on the & after the step before it. `label` is the count that is written after
    it, with its place."""

    step: Step
    lead: Foot | None = None
    turn: int | None = None
    way: Foot | None = None
    counts: int | None = None
    between: bool = False
    label: tuple[int, int, int] | None = None


@dataclass
class _Row:
    """What is filled so far: marks by their places, holds, ways that go on, whole counts, where the weight is."""

    weight: Foot | None
    moments: dict[Fraction, Mark] = field(default_factory=dict)
    holds: set[Fraction] = field(default_factory=set)
    going: set[Fraction] = field(default_factory=set)
    counts: int = 0

    def add(self, said: _Said) -> None:
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
    so_far: list[_Said] = []
    offset = 0
    for item in ITEM.finditer(text):
        begun = row.counts
        labelled = LABELLED.match(item.group())
        if labelled and not begun and not so_far:
            offset = _first(labelled["counts"]) - 1
        start = item.start() + (labelled.end() if labelled else 0)
        said_there = text[start : item.end()]
        more = _repeated(said_there, so_far, row) or _read(said_there, start, style, own, unknown)
        for said in more:
            misfits += _added(row, said, offset)
        so_far += more
        if labelled:
            place = item.start() + labelled.start("counts"), item.start() + labelled.end("counts")
            misfits += _labels(labelled["counts"], begun, offset, row, more, *place)
    line, marks = _written(row.moments, row.holds, row.going, row.counts)
    return Filled(row.counts, line, marks, row.weight, tuple(unknown), tuple(misfits))


def _added(row: _Row, said: _Said, offset: int) -> list[Misfit]:
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


def _labels(said: str, begun: int, offset: int, row: _Row, more: Sequence[_Said], start: int, end: int) -> list[Misfit]:
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


def _repeated(text: str, so_far: Sequence[_Said], row: _Row) -> list[_Said]:
    """What `repeat`, `mirror` and `same with L` stand for; nothing for other words."""
    words = " ".join(text.lower().split())
    if not so_far or not words:
        return []
    if words in AGAIN:
        return list(so_far)
    if words in MIRROR:
        return _on_the_other_side(so_far, row)
    if words.startswith("same"):
        foot = next((FEET[w] for w in words.split() if w in FEET), None)
        lead = foot or (so_far[-1].lead.other if so_far[-1].lead else None)
        return [replace(so_far[-1], lead=lead, way=None, label=None)]
    return []


def _on_the_other_side(so_far: Sequence[_Said], row: _Row) -> list[_Said]:
    first = next((m.foot for _, m in sorted(row.moments.items()) if m.foot), None)
    made = [replace(s, lead=s.lead and s.lead.other, way=s.way and s.way.other, label=None) for s in so_far]
    if made[0].lead is None and first:
        made[0] = replace(made[0], lead=first.other)
    return made


def line_of(step: Step) -> str:
    """The counts that a step takes, as a line (`1 & 2`); empty where none are fixed."""
    moments = {a.at: Mark("") for a in step.actions}
    return _written(moments, set(), set(), step.counts or 0)[0]


Word = tuple[str, int, int]
"""A word, and its place in the text."""


def _read(text: str, start: int, style: Style | None, own: Sequence[Step], unknown: list[Unknown]) -> list[_Said]:
    """One comma's worth: usually a step, or several that follow without a comma (`rock L recover`)."""
    words = [(m.group(), start + m.start(), start + m.end()) for m in WORD.finditer(text)]
    made: list[_Said] = []
    feet: list[Foot] = []
    between, amount, way = False, None, None
    while words:
        word = words[0][0].casefold()
        if word in AND:
            between, words = True, words[1:]
            continue
        if word in FEET and len(words) > 1 and _named(words[1:2], style, own):
            feet, words = [FEET[word]], words[1:]
            continue
        if word in WITH and made and len(words) > 1 and (other := _named(words[1:2], style, own)) and other.counts == 1:
            made[-1] = replace(made[-1], step=_ended(made[-1].step, other))
            words = words[2:]
            continue
        if word in AMOUNTS and not _named(words[:2], style, own):
            amount, way, words = _turn_before(words)
            if words and words[0][0].casefold() not in AND:
                continue
        if not words or words[0][0].casefold() in AND:
            break
        step, words = _step_of(words, style, own, unknown)
        found, said, words = _details(step, words)
        feet += found
        lead: list[Foot | None] = list(feet[:1])
        turn, side = said.turn if said.turn is not None else amount, said.way or way
        if step.name == PIVOT and made and made[-1].step.name in ("step", "forward") and not lead:
            # the step that a pivot begins with was said by itself
            lead, between = [made.pop().lead], False
        one = replace(said, lead=lead[0] if lead else None, turn=turn, way=side, between=between)
        made += [one, *(replace(one, lead=f, between=False) for f in feet[1:])]
        between, amount, way, feet = False, None, None, []
    if amount is not None:
        made.append(_Said(_turn(amount, way), turn=amount, way=way, between=between))
    return made


def _turn(amount: int, way: Foot | None) -> Step:
    """A turn that is no other step's."""
    name = {1: "eighth", 2: "quarter", 3: "3/8", 4: "half", 6: "3/4", 8: "full"}[amount]
    side = {Foot.RIGHT: " R", Foot.LEFT: " L"}.get(way or Foot.BOTH, "")
    return Step(f"{name} turn{side}", "", (Action(Fraction(0), Which.NONE, False, "turn"),))


def _ended(step: Step, other: Step) -> Step:
    """A step that ends with something else on its last count (`vine with brush`)."""
    if len(step.actions) < 2:
        return step
    last, new = step.actions[-1], other.actions[0]
    ending = replace(last, takes_weight=new.takes_weight, cue=other.name)
    return replace(step, actions=(*step.actions[:-1], ending))


def _turn_before(words: list[Word]) -> tuple[int, Foot | None, list[Word]]:
    """An amount that stands before its step's name, with the side, if it is said and not the step's foot."""
    amount, words = AMOUNTS[words[0][0].casefold()], words[1:]
    if words and words[0][0].casefold() in WORDS_OF_TURN:
        words = words[1:]
    if words and words[0][0].casefold() in FEET:
        return amount, FEET[words[0][0].casefold()], words[1:]
    return amount, None, words


def _step_of(
    words: list[Word], style: Style | None, own: Sequence[Step], unknown: list[Unknown]
) -> tuple[Step, list[Word]]:  # fmt: skip
    """The longest known name that the words begin with; else all up to what can't belong to a name, as it stands."""
    size = next((k for k in range(len(words), 0, -1) if _named(words[:k], style, own)), 0)
    if size:
        step = _named(words[:size], style, own)
        assert step is not None
        return step, words[size:]
    ends = (k for k, w in enumerate(words) if k and (_is_detail(w[0]) or w[0] in AND or _named([w], style, own)))
    size = next(ends, len(words))
    name = " ".join(w for w, _, _ in words[:size])
    unknown.append(Unknown(name, words[0][1], words[size - 1][2], near(name, own)))
    return Step(name, "", (Action(Fraction(0), Which.NONE, False, name),)), words[size:]


def _details(step: Step, words: list[Word]) -> tuple[list[Foot], _Said, list[Word]]:
    """What follows a name: its feet, a turn with its side, a number of counts or the count's own number."""
    feet: list[Foot] = []
    said = _Said(step)
    while words:
        word, start, end = words[0][0].casefold(), *words[0][1:]
        if word in WORDS_OF_TURN or (word in FILLERS and len(words) > 1 and _is_detail(words[1][0])):
            words = words[1:]
        elif word in AMOUNTS:
            if len(words) > 1 and (look_up(words[1][0]) or (len(words) > 2 and look_up(words[2][0]))):
                next_name = words[1][0].casefold()
                if next_name not in FEET and next_name not in WORDS_OF_TURN:
                    break  # it belongs to the next name
            amount, way, words = _turn_before(words)
            said = replace(said, turn=amount, way=way)
        elif word in FEET:
            feet.append(FEET[word])
            words = words[1:]
        elif word.isdecimal():
            number, words = int(word), words[1:]
            if step.counts is None:
                said = replace(said, counts=max(1, min(16, number)))
            elif number >= 1:
                said = replace(said, label=(number, start, end))
        else:
            break
    return feet, said, words


def _named(words: Sequence[Word], style: Style | None, own: Sequence[Step]) -> Step | None:
    """By its name, or that without the s of several."""
    name = " ".join(w for w, _, _ in words)
    ends = ("es", "s") if len(name) > 3 else ()
    shorter = (name[: -len(e)] for e in ends if name.casefold().endswith(e))
    return look_up(name, style, own) or next((s for n in shorter if (s := look_up(n, style, own))), None)


def _is_detail(word: str) -> bool:
    return word.casefold() in FEET or word.casefold() in AMOUNTS or word.isdecimal()


def _lead_of(said: _Said) -> Foot | None:
    """The foot on which a step begins that turns to the side that is said."""
    turn = next((a.turn for a in said.step.actions if a.turn), 0)
    if not said.way or not turn:
        return None
    return said.way if turn > 0 else said.way.other


def _mark(said: _Said, action: Action, lead: Foot, first: bool, turns_here: bool) -> Mark:
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
