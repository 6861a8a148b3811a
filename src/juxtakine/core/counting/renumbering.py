"""Moving the 1, and counting half or twice as fast: teachers' numbers and the music's may differ (what is taught as
1 2 3 4 may be 3 & 4 & in the music), and nothing that is written may be lost by it."""

from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import groupby, pairwise

from juxtakine.core.counting.lines import STRAIGHT, LineError, read_line
from juxtakine.core.counting.sheets import Mark, Phrase, Score
from juxtakine.core.counting.structure import Written


@dataclass(frozen=True)
class _Moment:
    """What is written on one sounding, in counts from the routine's first 1."""

    at: Fraction
    sign: str
    hold: bool
    goes_on: bool
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
        like = next(p for start, p in reversed(list(zip(old, written.phrases, strict=True))) if start <= a)
        if a not in old:  # a row that is new says nothing of where it begins
            like = replace(like, weight=None, facing=None, section="", id="")
        phrases.append(_row(inside, a, b - a, like))
    return replace(written, phrases=tuple(phrases))


def repaced(written: Written, by: Fraction) -> Written:
    """The same counted half (1/2) or twice (2) as fast: 1 2 3 4 is 1 & 2 & then, or 1 - 3 - 5 - 7 -.

    Raises LineError where a row can't be counted so: an odd one by half, an e or a third.
    """
    phrases = []
    for number, phrase in enumerate(written.phrases, 1):
        counts = phrase.counts * by
        moments = [replace(m, at=m.at * by, swing=STRAIGHT) for m in _moments((phrase,))]
        fine = all(m.at.denominator in (1, 2, 4) and not (m.goes_on and m.at.denominator > 1) for m in moments)
        if counts.denominator > 1 or not fine:
            raise LineError(f"row {number} can't be counted {'half' if by < 1 else 'twice'} as fast", 0, 0)
        signed = [replace(m, sign=SIGNS.get(m.at % 1, m.sign)) for m in moments]
        phrases.append(_row(signed, 0, int(counts), phrase))
    ones = tuple(one * by for one in written.ones)
    return replace(written, phrases=tuple(phrases), ones=ones)


SIGNS = {Fraction(1, 4): "e", Fraction(1, 2): "&", Fraction(3, 4): "a"}


def _moments(phrases: tuple[Phrase, ...]) -> list[_Moment]:
    made: list[_Moment] = []
    start = 0
    for phrase in phrases:
        marks = {m.label: m for m in phrase.marks}
        for s in read_line(phrase.line, phrase.counts, phrase.swing):
            made.append(_Moment(start + s.at, s.sign, s.hold, s.goes_on, marks.get(s.label), phrase.swing))
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
            whole = "~" if m.goes_on else "-" if m.hold else str(count + 1)
            tokens.append(f"{'-' if m.hold else ''}{m.sign}" if between else whole)
            begun = True
            if m.mark:
                name = f"{m.sign} 1" if count < 0 else f"{count + 1} {m.sign}" if between else str(count + 1)
                marks.append(replace(m.mark, label=name))
    if not begun:
        tokens = ["-"] * counts
        marks = [Mark(str(count + 1), score=Score.FREE) for count in range(counts)]
    swing = moments[0].swing if moments else like.swing
    return replace(like, counts=counts, line=" ".join(tokens), swing=swing, marks=tuple(marks), easier=None)
