"""The sheet's arithmetic, checked as a teacher would: lengths, turns and walls, weight, restarts, what is too quick.

A finding says which things disagree, not who is right; where there is one obvious mend it carries the mended sheet.
"""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from fractions import Fraction
from typing import Any

from juxtakine.core.counting.sheets import Done, Foot, Layer, Mark, Score, SheetCount, expand
from juxtakine.core.counting.structure import Row, Written, eights, rows, unfolded

QUICKEST_S = 0.12
"""A foot does not act twice within this."""
ENDS_WITHIN = 2
"""Counts by which sheet and run may differ: a last pose is held, an end is cut."""
MORE_THAN = 8
"""Counts of a run after the sheet's end that need no word: a pose, a bow."""
ON_A_ONE = Fraction(1, 2)
EIGHTHS = 8
UNSEEN = {
    Layer.FEET: re.compile(r"\b(heel|toe|scuff|brush)", re.IGNORECASE),
    Layer.ARMS: re.compile(r"\b(finger|wrist|snap)", re.IGNORECASE),
}
"""Words for what no landmark shows: heel against toe, the foot's direction, fingers and wrists."""
MOST_TIMES = 8
"""After so many times through, any turn has come back to its wall."""


class About(StrEnum):
    LENGTH = "length"
    WALLS = "walls"
    FACING = "facing"
    WEIGHT = "weight"
    MUSIC = "music"
    QUICK = "quick"
    TWICE = "twice"
    UNSEEN = "unseen"
    STYLE = "style"


@dataclass(frozen=True)
class Mend:
    """What to do, in words, and the sheet as it is then."""

    says: str
    written: Written


@dataclass(frozen=True)
class SheetFinding:
    """`row` as danced (from 1; 0 for the sheet itself) and the count's label there, if it is about one."""

    row: int
    label: str | None
    about: About
    text: str
    mend: Mend | None = None


@dataclass(frozen=True)
class MusicEights:
    """What is known of the run: counts a minute, the count at which it ends, and how many clips show the dance."""

    bpm: float | None = None
    ends: float | None = None
    clips: int | None = None


def checked(written: Written, music: MusicEights) -> tuple[SheetFinding, ...]:
    """All findings, in the order of the rows. The sheet can be expanded: raises SheetError and LineError otherwise."""
    if not written.phrases:
        return ()
    danced, counts = rows(written), expand(unfolded(written))
    found = [
        *_length(danced, music),
        *_walls(written, danced, counts),
        *_twice(written, danced),
        *_facing(written, danced, counts),
        *_weight(written, danced, counts),
        *_landing(danced, eights(written)),
        *_quick(counts, music),
        *_unseen(written, danced),
        *_styles(danced, music),
    ]
    return tuple(sorted(found, key=lambda f: f.row))


def clock(eighths: int) -> str:
    """A facing as on a clock: 0 is 12, 1 is 1:30, 2 is 3."""
    minutes = eighths % EIGHTHS * 90
    hours, rest = divmod(minutes, 60)
    return f"{hours or 12}" + (f":{rest:02}" if rest else "")


def amount(eighths: int) -> str:
    """A turn in words: "a quarter turn to the right"."""
    names = {0: "no turn", 1: "an eighth", 2: "a quarter", 3: "three eighths", 4: "half a turn", 5: "five eighths",
             6: "three quarters", 7: "seven eighths", 8: "a full turn"}  # fmt: skip
    name = names.get(abs(eighths), f"{abs(eighths) / EIGHTHS:g} turns")
    return name if eighths == 0 else f"{name} to the {'right' if eighths > 0 else 'left'}"


def walls_of(danced: Sequence[Row], counts: Sequence[SheetCount]) -> int:
    """On how many walls the section that comes most often begins, if the whole is danced again and again."""
    names = [r.repetition.section for r in danced if r.first]
    most = max(names, key=names.count)
    turned = _facing_before(danced, counts)
    begins = [turned[i] for i, r in enumerate(danced) if r.first and r.repetition.section == most]
    net = counts[-1].facing - turned[0]
    return len({(facing + k * net) % EIGHTHS for k in range(MOST_TIMES) for facing in begins})


def _facing_before(danced: Sequence[Row], counts: Sequence[SheetCount]) -> list[int]:
    """(rows) the facing with which each row begins, in eighths."""
    first = danced[0].phrase.facing or 0
    ends = {c.phrase: c.facing for c in counts}
    return [first, *(ends[n] for n in range(1, len(danced)))]


def _length(danced: Sequence[Row], music: MusicEights) -> Iterator[SheetFinding]:
    if music.ends is None:
        return
    total = sum(r.phrase.counts for r in danced)
    beyond = total - music.ends
    if beyond > ENDS_WITHIN:
        text = f"The sheet has {total} counts and the run {music.ends:.0f}: its last {beyond:.0f} are not in the clip."
        yield SheetFinding(0, None, About.LENGTH, text)
    elif beyond < -MORE_THAN:
        yield SheetFinding(
            0, None, About.LENGTH, f"The run goes on for {-beyond:.0f} counts after the sheet's {total}."
        )


def _walls(written: Written, danced: Sequence[Row], counts: Sequence[SheetCount]) -> Iterator[SheetFinding]:
    if written.walls is None:
        return
    there = walls_of(danced, counts)
    if there == written.walls:
        return
    net = sum(m.turn for r in danced for m in r.phrase.marks)
    mend = Mend(f"write {there} wall{'s' if there > 1 else ''}", replace(written, walls=there))
    text = f"{written.walls} walls are written, and with {amount(net)} in all it is danced on {there}: these disagree."
    yield SheetFinding(0, None, About.WALLS, text, mend)


def _twice(written: Written, danced: Sequence[Row]) -> Iterator[SheetFinding]:
    """Of the rows as written: those that are danced shorter are cut on purpose."""
    lengths: dict[str, tuple[int, int]] = {}
    for number, phrase in enumerate(written.phrases, 1):
        name = phrase.name.strip().casefold()
        if not name:
            continue
        row, counts = lengths.setdefault(name, (number, phrase.counts))
        if counts != phrase.counts:
            shown = next((n for n, r in enumerate(danced, 1) if r.written == number), 0)
            text = f"{phrase.name} has {phrase.counts} counts here and {counts} in row {row}."
            yield SheetFinding(shown, None, About.TWICE, text)


def _facing(written: Written, danced: Sequence[Row], counts: Sequence[SheetCount]) -> Iterator[SheetFinding]:
    """What is written holds for a section's first time; later times are turned as a whole."""
    before = _facing_before(danced, counts)
    for number, (row, facing) in enumerate(zip(danced, before, strict=True), 1):
        said = written.phrases[row.written - 1].facing
        if said is None or row.again or number == 1 or said == facing:
            continue
        mend = Mend(f"write {clock(facing)}", _rewritten(written, row, facing=facing))
        text = f"Begins to {clock(said)}, and the turns before it end at {clock(facing)}: these disagree."
        yield SheetFinding(number, None, About.FACING, text, mend)


def _weight(written: Written, danced: Sequence[Row], counts: Sequence[SheetCount]) -> Iterator[SheetFinding]:
    """A foot that steps or kicks has to be free, and a row begins with the weight that is written."""
    weight = danced[0].phrase.weight
    row = 1
    for count in counts:
        if count.phrase != row:
            row = count.phrase
            said = danced[row - 1].phrase.weight
            if said and weight and weight is said.other and said is not Foot.BOTH:
                text = f"Begins on the {said} foot, and the row before ends on the {weight}: these disagree."
                yield SheetFinding(row, None, About.WEIGHT, text, _weight_mend(written, danced[row - 1], weight))
        foot = count.mark.foot
        if foot in (Foot.LEFT, Foot.RIGHT) and weight is foot and count.mark.weight is not Foot.BOTH:
            text = f"The weight is on the {weight}, and {count.label} needs that foot free."
            yield SheetFinding(row, count.label, About.WEIGHT, text)
        weight = count.weight or weight


def _weight_mend(written: Written, row: Row, weight: Foot) -> Mend | None:
    if row.again or row.repetition.other_side:
        return None
    return Mend(f"write {weight}", _rewritten(written, row, weight=weight))


def _rewritten(written: Written, row: Row, **change: Any) -> Written:
    phrases = list(written.phrases)
    phrases[row.written - 1] = replace(phrases[row.written - 1], **change)
    return replace(written, phrases=tuple(phrases))


def _landing(danced: Sequence[Row], begins: Sequence[Fraction]) -> Iterator[SheetFinding]:
    """Where a section begins, the music's own eights should."""
    at = 0
    for number, row in enumerate(danced, 1):
        before = [one for one in begins if one <= at + ON_A_ONE]
        if row.first and number > 1 and before and at - before[-1] > ON_A_ONE:
            on = round(at - before[-1]) + 1
            text = f"{row.repetition.section} begins on the music's {on}; its own eights begin on a 1."
            yield SheetFinding(number, None, About.MUSIC, text)
        at += row.phrase.counts


def _quick(counts: Sequence[SheetCount], music: MusicEights) -> Iterator[SheetFinding]:
    if music.bpm is None:
        return
    last: dict[Foot, SheetCount] = {}
    for count in counts:
        foot = count.mark.foot
        if foot is None:
            continue
        before = last.get(foot)
        apart_s = float(count.at - before.at) * 60 / music.bpm if before else QUICKEST_S
        if before and apart_s < QUICKEST_S:
            text = f"The {foot} foot acts on {before.label} and again {1000 * apart_s:.0f} ms later."
            yield SheetFinding(count.phrase, count.label, About.QUICK, text)
        last[foot] = count


def _unseen(written: Written, danced: Sequence[Row]) -> Iterator[SheetFinding]:
    """Counts that live from what the camera can't tell are proposed as timing only, for the layer that does it."""
    for number, row in enumerate(danced, 1):
        phrase = written.phrases[row.written - 1]
        meant = {m.label: frozenset(_hidden(m)) for m in phrase.marks if any(_hidden(m))}
        if row.again or not meant:
            continue
        marks = tuple(
            replace(m, score=Score.TIMING, parts=meant[m.label]) if m.label in meant else m for m in phrase.marks
        )
        where, layers = ", ".join(meant), " and ".join(sorted(frozenset().union(*meant.values()), reverse=True))
        text = f"On {where} it lives from what the camera can't see: the {layers} can be scored by timing only."
        mend = Mend("score timing only", _rewritten(written, row, marks=marks))
        yield SheetFinding(number, next(iter(meant)), About.UNSEEN, text, mend)


def _styles(danced: Sequence[Row], music: MusicEights) -> Iterator[SheetFinding]:
    """Of two styles that are both right, each has to be shown."""
    for number, row in enumerate(danced, 1):
        either = [m.label for m in row.phrase.marks if m.either]
        if either and not row.again and music.clips == 1:
            text = f"On {', '.join(either)} two styles are right, and one clip shows the dance: add the other in Watch."
            yield SheetFinding(number, either[0], About.STYLE, text)


def _hidden(mark: Mark) -> Iterator[Layer]:
    """Layers of a count that is scored in full whose words name what can't be seen."""
    if mark.score is Score.BOTH:
        for layer, words in UNSEEN.items():
            if words.search(mark.cue) or words.search(mark.layers.get(layer, Done("")).cue):
                yield layer
