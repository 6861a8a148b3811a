"""The routine as it is written, each row once, and the rows as they are danced: repeated, on the other side, cut, ended
otherwise.

Rows as danced are an ordinary sheet, so that whatever reads a sheet need not know of repetitions.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from enum import StrEnum
from fractions import Fraction
from itertools import groupby
from math import ceil

from juxtakine.core.counting.lines import EIGHT, LineError, first_counts, read_line
from juxtakine.core.counting.orders import Repetition, items, read_order
from juxtakine.core.counting.sheets import Done, Mark, Phrase, Score, Sheet, SheetProblem, check
from juxtakine.core.limits import MOST_COUNTS, MOST_ROWS

UNNAMED = "A"
"""What the first rows are called where no section is named."""


class Danced(StrEnum):
    """Which of two variants the student dances."""

    FULL = "full"
    EASIER = "easier"


@dataclass(frozen=True)
class Override:
    """In one repetition (from 1, in the order), a count of a written row (from 1) is marked otherwise: as it is danced
    there, on its own side."""

    repetition: int
    row: int
    mark: Mark


@dataclass(frozen=True)
class Written:
    """A routine as it is written: `phrases` once, and the order of their sections ("": as they stand)."""

    title: str
    phrases: tuple[Phrase, ...]
    order: str = ""
    overrides: tuple[Override, ...] = ()
    dances: Danced = Danced.FULL
    walls: int | None = None
    enters: int = 0
    """Counts by which this role comes in after the one that the instructor dances."""
    ones: tuple[Fraction, ...] = ()
    """Counts at which somebody heard a 1 of the music's own eights; they need not be the sheet's."""


@dataclass(frozen=True)
class Row:
    """A row as it is danced: the `written` row (from 1) it comes from, in which repetition (from 1), and as what."""

    phrase: Phrase
    written: int
    number: int
    repetition: Repetition
    first: bool
    """Whether its repetition begins here."""
    again: bool
    """Whether the written row has been danced before."""


def eights(written: Written) -> tuple[Fraction, ...]:
    """The counts of the routine at which the music's own eights begin: every eight from each 1 that was heard to the
    next, and before the first. Raises LineError as `unfolded` does."""
    ones = sorted(written.ones)
    if not ones:
        return ()
    total = unfolded(written).total
    begins = [one - EIGHT * k for one in ones[:1] for k in range(1, int(one // EIGHT) + 1)]
    for one, after in zip(ones, [*ones[1:], Fraction(total)], strict=True):
        begins += [one + EIGHT * k for k in range(max(1, ceil((after - one) / EIGHT)))]
    return tuple(sorted(b for b in begins if 0 <= b < total))


def as_instructed(written: Written) -> Written:
    """As the instructor dances it, whichever way the student does."""
    return replace(written, dances=Danced.FULL)


def section_names(written: Written) -> tuple[str, ...]:
    """In the order in which they are written."""
    return tuple(_sections(written))


def unfolded(written: Written) -> Sheet:
    """The sheet as it is danced. Raises LineError where the order can't be read or danced."""
    return Sheet(written.title, tuple(row.phrase for row in rows(written)))


def rows(written: Written) -> tuple[Row, ...]:
    """The rows as they are danced; a row's second time has an id of its own. Raises LineError as `unfolded` does."""
    made: list[Row] = []
    if not written.phrases:
        return ()
    _check_length(written)
    seen: set[int] = set()
    for number, (repetition, body) in enumerate(_repetitions(written), 1):
        overrides = {(o.row, o.mark.label): o.mark for o in written.overrides if o.repetition == number}
        for place, (row, phrase) in enumerate(body):
            variant = _variant(phrase, written.dances)
            shown = _overridden(other_side(variant) if repetition.other_side else variant, row, overrides)
            times = sum(r.written == row for r in made) + 1
            known = shown if times == 1 or not shown.id else replace(shown, id=f"{shown.id}.{times}")
            made.append(Row(known, row, number, repetition, place == 0, row in seen))
        seen.update(row.written for row in made)
    return tuple(made)


def _check_length(written: Written) -> None:
    """Before anything is built of an order that says little and means much. Raises LineError."""
    lengths = {name: (len(body), sum(p.counts for _, p in body)) for name, body in _sections(written).items()}
    danced = [r.section for r in read_order(written.order, tuple(lengths))] if written.order.strip() else [*lengths]
    rows, counts = sum(lengths[name][0] for name in danced), sum(lengths[name][1] for name in danced)
    if rows > MOST_ROWS or counts > MOST_COUNTS:
        raise LineError(
            f"this makes {rows} rows and {counts} counts; at most {MOST_ROWS} rows and {MOST_COUNTS} counts are danced",
            0,
            len(written.order),
        )


def problems(written: Written) -> tuple[SheetProblem, ...]:
    """All that keeps the routine from being danced as it is written; rows are numbered as danced."""
    for number, phrase in enumerate(written.phrases, 1):
        if phrase.easier:
            try:
                read_line(phrase.easier.line, phrase.counts, phrase.swing)
            except LineError as error:
                return (SheetProblem(number, f"the easier way: {error.reason}"),)
    try:
        return check(unfolded(written))
    except LineError as error:
        return (SheetProblem(0, f"the order: {error.reason}", error.start, error.end),)


def other_side(phrase: Phrase) -> Phrase:
    """The same phrase with left and right swapped: feet, weight, turns, and the sides that its cues name."""
    return replace(
        phrase,
        marks=tuple(map(mirrored, phrase.marks)),
        weight=phrase.weight and phrase.weight.other,
        facing=None if phrase.facing is None else -phrase.facing % 8,
        easier=phrase.easier and replace(phrase.easier, marks=tuple(map(mirrored, phrase.easier.marks))),
    )


SIDES = {"left": "right", "right": "left", "l": "r", "r": "l"}
SIDE = re.compile(r"\b(left|right|l|r)\b", re.IGNORECASE)


def swapped_words(said: str) -> str:
    """Left for right in a cue, in whatever letters they are written."""

    def swap(found: re.Match[str]) -> str:
        word = found.group()
        other = SIDES[word.lower()]
        return other.upper() if word.isupper() else other.capitalize() if word[0].isupper() else other

    return SIDE.sub(swap, said)


def mirrored(mark: Mark) -> Mark:
    """What is said of a count, on the other side."""
    return replace(
        mark,
        cue=swapped_words(mark.cue),
        layers={layer: Done(swapped_words(d.cue), d.quality) for layer, d in mark.layers.items()},
        foot=mark.foot and mark.foot.other,
        weight=mark.weight and mark.weight.other,
        turn=-mark.turn,
    )


def _repetitions(written: Written) -> Iterator[tuple[Repetition, list[tuple[int, Phrase]]]]:
    """What is danced one after the other, with its rows; without an order the rows as they stand."""
    if written.order.strip():
        for repetition in read_order(written.order, section_names(written)):
            yield repetition, list(_danced(written, repetition))
    else:
        for name, run in groupby(_in_sections(written), key=lambda r: r[0]):
            yield Repetition(name), [(row, phrase) for _, row, phrase in run]


def _in_sections(written: Written) -> Iterator[tuple[str, int, Phrase]]:
    """Each row (from 1) with the name of the section that it is in."""
    name = UNNAMED
    for row, phrase in enumerate(written.phrases, 1):
        name = phrase.section or name
        yield name, row, phrase


def _sections(written: Written) -> dict[str, list[tuple[int, Phrase]]]:
    """By name, the rows of each section; a name that comes twice goes on."""
    found: dict[str, list[tuple[int, Phrase]]] = {}
    for name, row, phrase in _in_sections(written):
        found.setdefault(name, []).append((row, phrase))
    return found


def _danced(written: Written, repetition: Repetition) -> Iterator[tuple[int, Phrase]]:
    sections = _sections(written)
    body = sections[repetition.section]
    total = sum(p.counts for _, p in body)
    ending = sections[repetition.ending] if repetition.ending else []
    kept = min(total if repetition.cut is None else repetition.cut, total) - sum(p.counts for _, p in ending)
    if repetition.cut is not None and repetition.cut >= total:
        raise _refused(written, repetition, f"{repetition.section} has {total} counts, it can't be cut after "
                       f"{repetition.cut}")  # fmt: skip
    if kept < 0 or (kept == 0 and not ending):
        raise _refused(written, repetition, f"nothing is left of {repetition}")
    for row, phrase in body:
        if kept <= 0:
            break
        yield row, phrase if phrase.counts <= kept else _cut(written, repetition, phrase, kept)
        kept -= phrase.counts
    yield from ending


def _cut(written: Written, repetition: Repetition, phrase: Phrase, kept: int) -> Phrase:
    try:
        line = first_counts(phrase.line, phrase.counts, kept)
        labels = {s.label for s in read_line(line, kept, phrase.swing)}
    except LineError as error:
        if not phrase.line.strip() or _unreadable(phrase):
            return phrase  # is told where the row is written
        raise _refused(
            written, repetition, f"{repetition}: {phrase.name or 'the row'} has not begun by then"
        ) from error
    return replace(phrase, counts=kept, line=line, marks=tuple(m for m in phrase.marks if m.label in labels))


def _unreadable(phrase: Phrase) -> bool:
    try:
        read_line(phrase.line, phrase.counts, phrase.swing)
    except LineError:
        return True
    return False


def _refused(written: Written, repetition: Repetition, reason: str) -> LineError:
    """At the place of the repetition in the order's text."""
    for start, item in items(written.order):
        if repetition in read_order(item, section_names(written)):
            return LineError(reason, start, start + len(item))
    return LineError(reason, 0, len(written.order))


def _variant(phrase: Phrase, dances: Danced) -> Phrase:
    """The easier way is danced against the full one: its timing can be judged, its positions can't."""
    if dances is Danced.FULL or phrase.easier is None:
        return phrase
    return _timed(replace(phrase, line=phrase.easier.line, marks=phrase.easier.marks, easier=None))


def by_timing(sheet: Sheet) -> Sheet:
    """The same sheet with nothing scored but timing: for who marks it, with small movements on purpose. Raises
    LineError."""
    return replace(sheet, phrases=tuple(map(_timed, sheet.phrases)))


def _timed(phrase: Phrase) -> Phrase:
    written = {m.label: m for m in phrase.marks}
    soundings = read_line(phrase.line, phrase.counts, phrase.swing)
    return replace(phrase, marks=tuple(_timing_of(written.get(s.label, Mark(s.label))) for s in soundings))


def _timing_of(mark: Mark) -> Mark:
    free = mark.score in (Score.POSITION, Score.OWN_PACE) or (mark.score is Score.FREE and not mark.parts)
    return replace(mark, score=Score.FREE if free else Score.TIMING, parts=frozenset())


def _overridden(phrase: Phrase, row: int, overrides: dict[tuple[int, str], Mark]) -> Phrase:
    ours = {label: mark for (at, label), mark in overrides.items() if at == row}
    if not ours:
        return phrase
    sounded = {s.label for s in read_line(phrase.line, phrase.counts, phrase.swing)}
    ours = {label: mark for label, mark in ours.items() if label in sounded}  # the row may be cut
    kept = tuple(ours.pop(m.label, m) for m in phrase.marks)
    return replace(phrase, marks=(*kept, *ours.values()))
