"""Moving the 1: teachers' numbers and the music's may differ, and nothing that is written may be lost by it."""

from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import groupby, pairwise

from juxtakine.core.counting.lines import Sounding, read_line
from juxtakine.core.counting.sheets import Mark, Phrase, Score
from juxtakine.core.counting.structure import Written


@dataclass(frozen=True)
class _Moment:
    """What is written on one sounding, in counts from the routine's first 1."""

    at: Fraction
    sounding: Sounding
    mark: Mark | None
    swing: Fraction


def renumbered(written: Written, at: int) -> Written:
    """The whole count `at` (from 0) is a 1 now: a row begins there, and each later row as many counts after it as
    before. The counts before it become a row of their own; the last row ends where the routine does.

    Raises LineError where a row can't be read.
    """
    moments = _moments(written.phrases)
    total = sum(p.counts for p in written.phrases)
    old = [sum(p.counts for p in written.phrases[:i]) for i in range(len(written.phrases))]
    row = max(i for i, start in enumerate(old) if start <= at)
    shift = at - old[row]
    if shift == 0:
        return written
    begins = [*old[: row + 1], *(start + shift for start in old[row:] if start + shift < total), total]
    phrases = []
    for a, b in pairwise(begins):
        inside = [m for m in moments if a <= m.at < b or (a == 0 and m.at < 0)]
        named = next((p for p, start in zip(written.phrases, old, strict=True) if start <= a < start + p.counts), None)
        phrases.append(_row(inside, a, b - a, named if named else written.phrases[-1]))
    return replace(written, phrases=tuple(phrases))


def _moments(phrases: tuple[Phrase, ...]) -> list[_Moment]:
    made: list[_Moment] = []
    start = 0
    for phrase in phrases:
        marks = {m.label: m for m in phrase.marks}
        soundings = read_line(phrase.line, phrase.counts, phrase.swing)
        made += [_Moment(start + s.at, s, marks.get(s.label), phrase.swing) for s in soundings]
        start += phrase.counts
    return made


def _row(moments: list[_Moment], start: int, counts: int, like: Phrase) -> Phrase:
    tokens, marks = [], []
    written = {whole: list(group) for whole, group in groupby(moments, key=lambda m: int(m.at // 1) - start)}
    begun = False
    for count in sorted({*range(counts), *written}):
        first = next(iter(written.get(count, [])), None)
        if count >= 0 and (begun if first is None else not begun and first.at.denominator > 1):
            # nobody was to be judged here, and nobody is
            tokens.append("-")
            marks.append(Mark(str(count + 1), score=Score.FREE))
        for m in written.get(count, []):
            between = m.at.denominator > 1
            sign = next(word for word in m.sounding.label.split() if word.isdigit() != between)
            name = f"{count + 1} {sign}" if between else str(count + 1)
            if between and count < 0:
                name = f"{sign} 1"
            plain = sign if between else "~" if m.sounding.goes_on else "-" if m.sounding.hold else str(count + 1)
            tokens.append(f"-{sign}" if between and m.sounding.hold else plain)
            begun = True
            if m.mark:
                marks.append(replace(m.mark, label=name))
    if not begun:
        tokens = ["-"] * counts
        marks = [Mark(str(count + 1), score=Score.FREE) for count in range(counts)]
    swing = moments[0].swing if moments else like.swing
    return replace(like, counts=counts, line=" ".join(tokens), swing=swing, marks=tuple(marks), easier=None)
