"""A phrase from a line of step names: `walk R L, shuffle R, rock L recover, coaster L`.

Steps are parted by commas; after a name come the foot it begins on (R, L; several: once each), a turn (`¼ R`, `1/2
left`) and a number of counts for what has none of its own (`body roll 4`). A foot that is not said is the one that is
free. A name that is not known is kept as a cue of one count.
"""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from juxtakine.core.counting.dictionary import Action, Step, Style, Which, look_up, near
from juxtakine.core.counting.sheets import Foot, Mark

ITEM = re.compile(r"[^,]+")
FEET = {"r": Foot.RIGHT, "right": Foot.RIGHT, "l": Foot.LEFT, "left": Foot.LEFT}
AMOUNTS = {"1/8": 1, "⅛": 1, "eighth": 1, "1/4": 2, "¼": 2, "quarter": 2, "3/8": 3, "⅜": 3, "1/2": 4, "½": 4, "half": 4,
           "3/4": 6, "¾": 6, "full": 8}  # fmt: skip
PARTS = {Fraction(1, 4): "e", Fraction(1, 2): "&", Fraction(3, 4): "a"}
WORDS_OF_TURN = {"turn"}


@dataclass(frozen=True)
class Unknown:
    """A name that is not in the dictionary, its place in the text, and names that are spelled much like it."""

    name: str
    start: int
    end: int
    near: tuple[str, ...]


@dataclass(frozen=True)
class Filled:
    """A phrase as the steps fill it. `weight` is where it is at the end."""

    counts: int
    line: str
    marks: tuple[Mark, ...]
    weight: Foot | None
    unknown: tuple[Unknown, ...]


@dataclass(frozen=True)
class _Said:
    """One step as it is written: `lead` None is the free foot, `turn` None the step's own."""

    step: Step
    lead: Foot | None
    turn: int | None
    counts: int | None


def filled(text: str, weight: Foot | None = None, style: Style | None = None, own: Sequence[Step] = ()) -> Filled:
    """The counts that the steps take, from the foot that bears the weight on; empty text has no counts."""
    moments: dict[Fraction, Mark] = {}
    holds: set[Fraction] = set()
    going: set[Fraction] = set()
    unknown: list[Unknown] = []
    at = 0
    for item in ITEM.finditer(text):
        for said in _read(item, style, own, unknown):
            lead = said.lead or (weight.other if weight else Foot.RIGHT)
            length = said.counts or said.step.counts or 1
            actions = said.step.actions or (Action(Fraction(0), Which.NONE, False, said.step.name),)
            for action in (a for a in actions if a.at < length):
                turns_here = action is next((a for a in reversed(actions) if a.takes_weight), actions[-1])
                mark = _mark(said, action, lead, first=action is actions[0], turns_here=turns_here)
                weight = mark.weight or weight
                moments[at + action.at] = mark
                if said.step.name == "hold":
                    holds.add(at + action.at)
            held = said.step.name == "hold"
            for count in range(length):
                if Fraction(at + count) not in moments:
                    (holds if held else going).add(Fraction(at + count))
            at += length
    line, marks = _written(moments, holds, going, at)
    return Filled(at, line, marks, weight, tuple(unknown))


def line_of(step: Step) -> str:
    """The counts that a step takes, as a line (`1 & 2`); empty where none are fixed."""
    moments = {a.at: Mark("") for a in step.actions}
    return _written(moments, set(), set(), step.counts or 0)[0]


def _read(item: re.Match[str], style: Style | None, own: Sequence[Step], unknown: list[Unknown]) -> Iterator[_Said]:
    """One comma's worth: usually a step, or several that follow without a comma (`rock L recover`)."""
    words = [(m.group(), item.start() + m.start(), item.start() + m.end()) for m in re.finditer(r"\S+", item.group())]
    while words:
        size = next((k for k in range(len(words), 0, -1) if _named(words[:k], style, own)), 0)
        if size:
            step = _named(words[:size], style, own)
        else:  # up to what can't belong to a name
            size = next(
                (k for k, w in enumerate(words) if k and (_is_detail(w[0]) or _named([w], style, own))), len(words)
            )
            name = " ".join(w for w, _, _ in words[:size])
            step = Step(name, "", (Action(Fraction(0), Which.NONE, False, name),))
            unknown.append(Unknown(name, words[0][1], words[size - 1][2], near(name, own)))
        assert step is not None
        words = words[size:]
        feet: list[Foot] = []
        turn, counts = None, None
        while words and (_is_detail(words[0][0]) or words[0][0].casefold() in WORDS_OF_TURN):
            word = words.pop(0)[0].casefold()
            if word in AMOUNTS:
                while words and words[0][0].casefold() in WORDS_OF_TURN:
                    words.pop(0)
                side = words.pop(0)[0].casefold() if words and words[0][0].casefold() in FEET else None
                turn = AMOUNTS[word] * (-1 if FEET.get(side or "r") is Foot.LEFT else 1)
            elif word in FEET:
                feet.append(FEET[word])
            elif word.isdecimal():
                counts = max(1, min(16, int(word)))
        for foot in feet or (None,):
            yield _Said(step, foot, turn, counts)


def _named(words: Sequence[tuple[str, int, int]], style: Style | None, own: Sequence[Step]) -> Step | None:
    return look_up(" ".join(w for w, _, _ in words), style, own)


def _is_detail(word: str) -> bool:
    return word.casefold() in FEET or word.casefold() in AMOUNTS or word.isdecimal()


def _mark(said: _Said, action: Action, lead: Foot, first: bool, turns_here: bool) -> Mark:
    foot = {Which.LEAD: lead, Which.OTHER: lead.other, Which.BOTH: Foot.BOTH, Which.NONE: None}[action.which]
    side = "R" if lead is Foot.RIGHT else "L"
    stands = said.step.name + (f" {side}" if action.which is not Which.NONE and said.step.name != "hold" else "")
    turning = any(a.turn for a in said.step.actions)
    if said.turn is None:
        turn = action.turn * (1 if lead is Foot.RIGHT else -1)
    elif turning:  # the step's own turn, by the amount that was said
        own = sum(a.turn for a in said.step.actions)
        turn = round(action.turn * abs(said.turn) / abs(own)) * (1 if said.turn * action.turn > 0 else -1)
    else:
        turn = said.turn if turns_here else 0
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
