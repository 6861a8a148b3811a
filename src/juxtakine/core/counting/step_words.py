"""The steps that one comma's worth of a line names: their feet, turns, and the counts that are written beside them.

Conventions: sides are the dancer's own; turns in eighths; places in the text from its first letter on.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from juxtakine.core.counting.dictionary import Action, Step, Style, Which, look_up, near
from juxtakine.core.counting.sheets import Foot

WORD = re.compile(r"\d+/\d+|[^\s:.]+")
FEET = {"r": Foot.RIGHT, "right": Foot.RIGHT, "rf": Foot.RIGHT, "l": Foot.LEFT, "left": Foot.LEFT, "lf": Foot.LEFT}
AMOUNTS = {"1/8": 1, "\u215b": 1, "eighth": 1, "1/4": 2, "\u00bc": 2, "quarter": 2, "3/8": 3, "\u215c": 3, "1/2": 4,
           "\u00bd": 4, "half": 4, "3/4": 6, "\u00be": 6, "full": 8}  # fmt: skip
WORDS_OF_TURN = {"turn", "turning"}
FILLERS = {"with", "on", "to", "the", "foot", "a", "your", "step"}
AND = {"&", "and", "+", "then"}
WITH = {"with", "w/"}
PIVOT = "pivot"
AGAIN, MIRROR = ("repeat", "again"), ("mirror", "other side", "opposite side", "repeat other side")


@dataclass(frozen=True)
class Unknown:
    """A name that is not in the dictionary, its place in the text, and names that are spelled much like it."""

    name: str
    start: int
    end: int
    near: tuple[str, ...]


@dataclass(frozen=True)
class SaidStep:
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


Word = tuple[str, int, int]
"""A word, and its place in the text."""


def read_item(
    text: str, start: int, style: Style | None, own: Sequence[Step], unknown: list[Unknown]
) -> list[SaidStep]:
    """One comma's worth: usually a step, or several that follow without a comma (`rock L recover`)."""
    words = [(m.group(), start + m.start(), start + m.end()) for m in WORD.finditer(text)]
    made: list[SaidStep] = []
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
            if not words or words[0][0].casefold() in AND:
                made.append(SaidStep(_turn(amount, way), turn=amount, way=way, between=between))
                between, amount, way = False, None, None
            continue
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


def _details(step: Step, words: list[Word]) -> tuple[list[Foot], SaidStep, list[Word]]:
    """What follows a name: its feet, a turn with its side, a number of counts or the count's own number."""
    feet: list[Foot] = []
    said = SaidStep(step)
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


def repeated(text: str, so_far: Sequence[SaidStep], first: Foot | None) -> list[SaidStep]:
    """What `repeat`, `mirror` and `same with L` stand for, of steps of which this foot acted first; nothing for other
    words."""
    words = " ".join(text.lower().split())
    if not so_far or not words:
        return []
    if words in AGAIN:
        return list(so_far)
    if words in MIRROR:
        return _on_the_other_side(so_far, first)
    if words.startswith("same"):
        foot = next((FEET[w] for w in words.split() if w in FEET), None)
        lead = foot or (so_far[-1].lead.other if so_far[-1].lead else None)
        return [replace(so_far[-1], lead=lead, way=None, label=None)]
    return []


def _on_the_other_side(so_far: Sequence[SaidStep], first: Foot | None) -> list[SaidStep]:
    made = [replace(s, lead=s.lead and s.lead.other, way=s.way and s.way.other, label=None) for s in so_far]
    if made[0].lead is None and first:
        made[0] = replace(made[0], lead=first.other)
    return made
