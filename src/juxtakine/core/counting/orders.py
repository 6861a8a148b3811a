"""The order of a routine's sections as dancers write it: `A, A other side, tag, B, A cut 12, A with ending Coda`.

Sections are parted by commas, each danced once, or `x3` times; `other side` swaps left and right; `cut 12` leaves off
after 12 counts, where a restart begins; `with ending E` dances section E in the place of the last counts.
"""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from juxtakine.core.counting.lines import LineError

SHAPE = re.compile(
    r"(?P<name>.+?)(?P<other>\s+other\s+side)?(\s+(?:cut|restart)(?:\s+after)?\s+(?P<cut>\d+))?"
    r"(\s+(?:with\s+)?ending\s+(?P<ending>.+?))?(\s+x\s*(?P<times>\d+))?",
    re.IGNORECASE,
)
MOST_TIMES = 32


@dataclass(frozen=True)
class Repetition:
    """A section danced once."""

    section: str
    other_side: bool = False
    cut: int | None = None
    ending: str | None = None

    def __str__(self) -> str:
        cut = "" if self.cut is None else f", cut after {self.cut}"
        ending = "" if self.ending is None else f", with ending {self.ending}"
        return f"{self.section}{', other side' if self.other_side else ''}{cut}{ending}"


def read_order(text: str, sections: Sequence[str]) -> tuple[Repetition, ...]:
    """Read an order of the named `sections` (case does not matter).

    Raises LineError with the place and the reason where a section is not there or is its own ending.
    """
    known = {name.casefold(): name for name in sections}
    repetitions: list[Repetition] = []
    for begin, item in items(text):
        said = item.strip()
        start = begin + len(item) - len(item.lstrip())
        shape = SHAPE.fullmatch(said)
        if shape is None:
            raise LineError("a section is missing beside a comma", begin, begin + len(item))
        repetition = _repetition(shape, known, start)
        times = int(shape["times"] or 1)
        if not 1 <= times <= MOST_TIMES:
            raise LineError(f"x{times} is not a number of times from 1 to {MOST_TIMES}", start, start + len(said))
        repetitions += [repetition] * times
    return tuple(repetitions)


def items(text: str) -> Iterator[tuple[int, str]]:
    """What stands between the commas, with where it begins."""
    begin = 0
    for item in text.split(","):
        yield begin, item
        begin += len(item) + 1


def _repetition(shape: re.Match[str], known: dict[str, str], start: int) -> Repetition:
    def named(key: str) -> str:
        if shape[key].casefold() in known:
            return known[shape[key].casefold()]
        there = ", ".join(known.values())
        places = start + shape.start(key), start + shape.end(key)
        raise LineError(f"there is no section {shape[key]}: the sheet has {there}", *places)

    name, ending = named("name"), named("ending") if shape["ending"] else None
    if ending == name:
        raise LineError(f"{name} can't be its own ending", start + shape.start("ending"), start + shape.end("ending"))
    return Repetition(name, bool(shape["other"]), int(shape["cut"]) if shape["cut"] else None, ending)
