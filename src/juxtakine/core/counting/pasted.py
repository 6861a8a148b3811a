"""A whole sheet as text: a line for each row, `Ropes: 1 2 3 & 4 - 6 7 8`, with or without its name.

`# A` by itself begins section A. A row has as many counts as its line writes; a line without counts is read as step
names. Empty lines are passed over.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from juxtakine.core.counting.dictionary import Step, Style
from juxtakine.core.counting.lines import LineError, counts_of, read_line
from juxtakine.core.counting.sheets import Foot, Phrase
from juxtakine.core.counting.steps import filled

NAMED = re.compile(r"(?P<name>[^:|\t]*)[:|\t](?P<line>.+)")
COUNTED = re.compile(r"(?:[0-9]+|-?[&ea]|[-~])(?:\s+(?:[0-9]+|-?[&ea]|[-~]))*")
MOST = 64


@dataclass(frozen=True)
class PastedProblem:
    """What can't be read, in which line of the text (from 1)."""

    line: int
    reason: str


class PastedError(ValueError):
    """All that can't be read, at once."""

    def __init__(self, problems: tuple[PastedProblem, ...]) -> None:
        super().__init__("; ".join(f"line {p.line}: {p.reason}" for p in problems))
        self.problems = problems


def read_pasted(text: str, style: Style | None = None, own: Sequence[Step] = ()) -> tuple[Phrase, ...]:
    """The rows of a text; step names as in `style`, and the student's own. Raises PastedError with everything that
    can't be read."""
    phrases: list[Phrase] = []
    problems: list[PastedProblem] = []
    section, weight = "", None
    for number, written in enumerate(text.splitlines(), 1):
        said = written.strip()
        if said.startswith("#"):
            section = said.lstrip("#").strip().replace(",", "")
        elif said:
            try:
                phrase, weight = _row(said, weight, style, own)
                phrases.append(Phrase(phrase.name, phrase.counts, phrase.line, marks=phrase.marks, section=section))
                section = ""
            except LineError as error:
                problems.append(PastedProblem(number, error.reason))
    if not phrases and not problems:
        problems.append(PastedProblem(1, "there is no row in it"))
    if problems:
        raise PastedError(tuple(problems))
    return tuple(phrases)


def _row(said: str, weight: Foot | None, style: Style | None, own: Sequence[Step]) -> tuple[Phrase, Foot | None]:
    named = NAMED.fullmatch(said)
    name, line = (named["name"].strip(), named["line"].strip()) if named else ("", said)
    if COUNTED.fullmatch(line) or any(word.isdecimal() for word in line.split()[:2]):
        counts = counts_of(line)
        if not 1 <= counts <= MOST:
            raise LineError(f"{counts} counts: a row has from 1 to {MOST}", 0, len(line))
        read_line(line, counts)
        return Phrase(name, counts, line), weight
    made = filled(line, weight, style, own)
    if not 1 <= made.counts <= MOST:
        raise LineError(f"{made.counts} counts: a row has from 1 to {MOST}", 0, len(line))
    return Phrase(name, made.counts, made.line, marks=made.marks), made.weight
