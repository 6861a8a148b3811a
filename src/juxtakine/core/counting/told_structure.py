"""A dance's structure as people say it in one sentence, read into walls, order and what has to be checked:

`32 counts, 4 walls, 16 intro, restart on wall 3 after 16 facing 6, bridge of 4 after wall 7, danced 9 times`
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import groupby

from juxtakine.core.counting.checks import clock
from juxtakine.core.counting.lines import LineError
from juxtakine.core.counting.orders import MOST_TIMES
from juxtakine.core.counting.sheets import Phrase
from juxtakine.core.counting.structure import Written, rows, section_names

WORDS = ("one", "two", "three", "four", "five", "six", "seven", "eight", "nine")
NUMBERS = {word: n for n, word in enumerate(WORDS, 1)}
N = rf"(?:\d{{1,3}}|{'|'.join(NUMBERS)})"
FACING = r"(?:\s*(?:,\s*)?facing\s+(?P<facing>\d+(?::30)?)(?:\s*o.clock)?)?"
PARTS = {
    "counts": re.compile(rf"(?P<n>{N})[\s-]*counts?"),
    "walls": re.compile(rf"(?P<n>{N})[\s-]*walls?"),
    "intro": re.compile(rf"(?:(?P<n>{N})[\s-]*(?:counts?\s+)?intro|intro\s+(?:of\s+)?(?P<m>{N})(?:\s+counts?)?)"),
    "times": re.compile(rf"(?:danced\s+)?(?P<n>{N})\s+times"),
    "restart": re.compile(
        rf"restart\s+(?:on|in|at|during)\s+wall\s+(?P<wall>{N})\s+after\s+(?P<n>{N})(?:\s+counts?)?{FACING}"
    ),
    "tag": re.compile(
        rf"(?P<name>bridge|tag)(?:\s+of\s+(?P<n>{N})(?:\s+counts?)?)?"
        rf"\s+(?:after|at the end of)\s+wall\s+(?P<wall>{N}){FACING}"
    ),
    "ends": re.compile(rf"ends?\s+(?:on|in)\s+wall\s+(?P<wall>{N})\s+after\s+(?P<n>{N})(?:\s+counts?)?{FACING}"),
}  # fmt: skip
TAG_COUNTS = 4


@dataclass(frozen=True)
class Structured:
    """The sheet in that order, and what of the sentence does not agree with it, in sentences."""

    written: Written
    remarks: tuple[str, ...]
    intro: int | None


@dataclass(frozen=True)
class _Part:
    """What is said, and from where to where in the sentence."""

    kind: str
    found: re.Match[str]
    start: int
    end: int

    def error(self, reason: str) -> LineError:
        return LineError(reason, self.start, self.end)

    def number(self, name: str) -> int | None:
        said = self.found.groupdict().get(name)
        return None if said is None else NUMBERS.get(said) or int(said)


def structured(text: str, written: Written) -> Structured:
    """The first section is what is danced on each wall. A bridge or tag that has no section gets an empty one. Raises
    LineError with the part that can't be read, or that can't be danced."""
    if not written.phrases:
        raise LineError("the rows come first: what is danced on each wall is the first section", 0, len(text))
    parts = list(_parts(text))
    main = section_names(written)[0]
    total = sum(r.phrase.counts for r in rows(replace(written, order=main)))
    left = [p for p in parts if p.kind in ("restart", "ends")]
    cuts = {p.number("wall"): (p.number("n"), p) for p in left}
    twice = next((p for p in left if cuts[p.number("wall")][1] is not p), None)
    if twice:
        raise twice.error(f"wall {twice.number('wall')} is left twice")
    tags = [p for p in parts if p.kind == "tag"]
    walls = next((p.number("n") for p in parts if p.kind == "walls"), written.walls)
    last = max([w or 0 for w in cuts] + [p.number("wall") or 0 for p in tags] + [walls or 1])
    ends = next((p.number("wall") for p in parts if p.kind == "ends"), None)
    times = ends or next((p.number("n") for p in parts if p.kind == "times"), None) or last
    for number, (after, part) in cuts.items():
        if not 0 < (after or 0) < total:
            raise part.error(f"{main} has {total} counts: wall {number} can't be left after {after}")
    if times > MOST_TIMES:
        raise LineError(f"{times} walls are too many: at most {MOST_TIMES} are danced", 0, len(text))
    for part in parts:
        wall = part.number("wall")
        if wall is not None and not 1 <= wall <= times:
            raise part.error(f"there is no wall {wall}: {times} are danced")
    made = written
    items: list[str] = []
    for wall in range(1, times + 1):
        cut = cuts.get(wall)
        items.append(f"{main} cut {cut[0]}" if cut else main)
        for tag in (t for t in tags if t.number("wall") == wall):
            made, name = _with_tag(made, tag)
            items.append(name)
    order = ", ".join(f"{item} x{n}" if (n := len(list(run))) > 1 else item for item, run in groupby(items))
    made = replace(made, order=order, walls=walls)
    intro = next((p.number("n") or p.number("m") for p in parts if p.kind == "intro"), None)
    new = {*section_names(made)} - {*section_names(written)}
    return Structured(made, tuple(dict.fromkeys(_remarks(parts, made, main, total, new))), intro)


def _parts(text: str) -> Iterator[_Part]:
    at = 0
    for said in re.split(r"([,;.]\s*(?!\s*facing)|\s+and\s+)", text.rstrip(" .")):
        words = said.strip(" ,;.")
        start = at + len(said) - len(said.lstrip(" ,;."))
        at += len(said)
        if not words or words == "and":
            continue
        matched = ((kind, shape.fullmatch(words.casefold())) for kind, shape in PARTS.items())
        found = next(((kind, m) for kind, m in matched if m), None)
        if found is None:
            example = "32 counts, 4 walls, restart on wall 3 after 16 facing 6, tag of 4 after wall 7"
            raise LineError(f"“{words}” can't be read: say it like {example}", start, start + len(words))
        yield _Part(*found, start, start + len(words))


def _with_tag(written: Written, tag: _Part) -> tuple[Written, str]:
    """The sheet with a section of that name, which is made where there is none."""
    name = tag.found["name"]
    known = {n.casefold(): n for n in section_names(written)}
    if name in known:
        return written, known[name]
    counts = tag.number("n") or TAG_COUNTS
    line = " ".join(map(str, range(1, counts + 1)))
    return replace(written, phrases=(*written.phrases, Phrase(name, counts, line, section=name))), name


def _remarks(parts: list[_Part], written: Written, main: str, total: int, new: set[str]) -> Iterator[str]:
    """`new`: sections that there were none of."""
    said = next((p.number("n") for p in parts if p.kind == "counts"), None)
    if said is not None and said != total:
        yield f"You said {said} counts, and {main} has {total}."
    for part in (p for p in parts if p.kind == "tag"):
        there = sum(r.phrase.counts for r in rows(replace(written, order=part.found["name"])))
        if part.number("n") not in (None, there):
            yield f"You said a {part.found['name']} of {part.number('n')} counts, and it has {there}."
        if part.number("n") is None and part.found["name"] in new:
            yield f"The {part.found['name']} is taken to have {there} counts."
    for part in parts:
        facing, wall = part.found.groupdict().get("facing"), part.number("wall")
        if facing is None or wall is None:
            continue
        ends = _facing_after(written, main, wall)
        if ends is not None and clock(ends) != facing:
            yield f"You said that wall {wall} ends facing {facing}, and with the turns as written it is {clock(ends)}."


def _facing_after(written: Written, main: str, wall: int) -> int | None:
    """The facing, in eighths, at the end of the wall of that number, with the restart that is in it."""
    danced = rows(written)
    facing, number = danced[0].phrase.facing or 0, 0
    for row in danced:
        if row.first and row.repetition.section == main:
            number += 1
        if number > wall or (number == wall and row.repetition.section != main):
            return facing
        facing = (facing + sum(m.turn for m in row.phrase.marks)) % 8
    return facing if number == wall else None
