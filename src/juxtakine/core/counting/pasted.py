"""A whole sheet as text: a line for each row, `Ropes: 1 2 3 & 4 - 6 7 8`, with or without its name.

`# A` by itself begins section A. A row has as many counts as its line writes; a line with two eights is two rows. A
line without counts is read as step names. Empty lines are passed over.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from juxtakine.core.counting.dictionary import Step, Style
from juxtakine.core.counting.lines import LineError, counted, counts_of, eights, plain, read_line
from juxtakine.core.counting.sheets import Foot, Phrase
from juxtakine.core.counting.steps import filled

NAMED = re.compile(r"(?P<name>[^:|\t]*)[:|\t](?P<line>.+)")
USUAL = (4, 8, 12, 16, 32)
"""Counts of a row that need no word."""
MOST = 64


@dataclass(frozen=True)
class PastedRows:
    """The rows of a text, and what somebody should look at in it."""

    phrases: tuple[Phrase, ...]
    remarks: tuple["PastedProblem", ...]


@dataclass(frozen=True)
class PastedProblem:
    """What can't be read, or is worth a look, in which line of the text (from 1; 0 for the rows that came of it)."""

    line: int
    reason: str


class PastedError(ValueError):
    """All that can't be read, at once."""

    def __init__(self, problems: tuple[PastedProblem, ...]) -> None:
        super().__init__("; ".join(f"line {p.line}: {p.reason}" for p in problems))
        self.problems = problems


def read_pasted(text: str, style: Style | None = None, own: Sequence[Step] = ()) -> PastedRows:
    """The rows of a text; step names as in `style`, and the student's own. Raises PastedError with everything that
    can't be read."""
    phrases: list[Phrase] = []
    problems: list[PastedProblem] = []
    remarks: list[PastedProblem] = []
    section, weight = "", None
    for number, written in enumerate(text.splitlines(), 1):
        said = written.strip()
        if said.startswith("#"):
            section = said.lstrip("#").strip().replace(",", "")
        elif said:
            try:
                rows, weight, odd = _rows(said, weight, style, own)
                phrases += [replace(p, section="" if k else section) for k, p in enumerate(rows)]
                remarks += [PastedProblem(number, reason) for reason in odd]
                section = ""
            except LineError as error:
                problems.append(PastedProblem(number, error.reason))
    if not phrases and not problems:
        problems.append(PastedProblem(1, "there is no row in it"))
    if problems:
        raise PastedError(tuple(problems))
    return PastedRows(tuple(phrases), (*remarks, *_odd_lengths(phrases)))


def _odd_lengths(phrases: Sequence[Phrase]) -> list[PastedProblem]:
    """Of rows that are neither as long as rows are, nor as long as another one of the sheet."""
    lengths = [p.counts for p in phrases]
    odd = [n for n, c in enumerate(lengths, 1) if c not in USUAL and lengths.count(c) == 1]
    return [PastedProblem(0, f"row {n} of these has {lengths[n - 1]} counts") for n in odd]


def _rows(
    said: str, weight: Foot | None, style: Style | None, own: Sequence[Step]
) -> tuple[list[Phrase], Foot | None, list[str]]:  # fmt: skip
    """The rows of a line, where the weight is then, and what in it should be looked at."""
    named = NAMED.fullmatch(said)
    # counts before a colon are those of the steps after it, and no name
    last = re.split("[,;]", named["name"])[-1] if named else ""
    is_name = named and not (counted(last) and re.search(r"\d", last))
    name, line = (named["name"].strip(), named["line"].strip()) if named and is_name else ("", said)
    if counted(line) or (any(word.isdecimal() for word in line.split()[:2]) and not re.search(r"[^\W\d_]{2}", line)):
        parts = eights(line) if len(eights(line)) > 1 else (line,)
        return [_counted_row(name, part) for part in parts], weight, []
    made = filled(line, weight, style, own)
    if not 1 <= made.counts <= MOST:
        raise LineError(f"{made.counts} counts: a row has from 1 to {MOST}", 0, len(line))
    odd = [f"{u.name} is not in the dictionary: it is kept as a cue of one count" for u in made.unknown]
    odd += [m.told for m in made.misfits]
    return [Phrase(name, made.counts, made.line, marks=made.marks)], made.weight, odd


def _counted_row(name: str, line: str) -> Phrase:
    counts = counts_of(line)
    if not 1 <= counts <= MOST:
        raise LineError(f"{counts} counts: a row has from 1 to {MOST}", 0, len(line))
    read_line(line, counts)
    return Phrase(name, counts, plain(line))
