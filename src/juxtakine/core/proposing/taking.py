"""Taking what is proposed: rows that are not written yet, and cues where none is written. What was typed stays."""

from collections.abc import Collection
from dataclasses import replace

from juxtakine.core.counting.checks import Mend
from juxtakine.core.counting.lines import rewritten
from juxtakine.core.counting.sheets import Mark, Phrase, Score
from juxtakine.core.counting.structure import Row, Written, as_instructed, other_side, rows
from juxtakine.core.proposing.against import Against, Disagreement
from juxtakine.core.proposing.proposal import Proposal, ProposedRow


def takeable(written: Written, found: Proposal) -> list[int]:
    """Rows (from 1, as danced) of which anything can be taken."""
    danced = rows(as_instructed(written))
    new = range(len(danced) + 1, (found.danced if not written.order.strip() else 0) + 1)
    known = [
        n for n, row in enumerate(danced, 1) if _given(row) and _filled(row.phrase, found.rows[n - 1]) != row.phrase
    ]
    return [*known, *new]


def taken(written: Written, found: Proposal, numbers: Collection[int]) -> Written:
    """The sheet with what is sure of these rows (from 1, as danced), and with all new rows before the last of them."""
    danced, phrases = rows(as_instructed(written)), list(written.phrases)
    for n, row in enumerate(danced, 1):
        if n in numbers and _given(row):
            phrases[row.written - 1] = _filled(phrases[row.written - 1], found.rows[n - 1])
    if not written.order.strip():
        phrases += [_sure(row) for row in found.rows[len(danced) : max(numbers, default=0)]]
    return replace(written, phrases=tuple(phrases))


def _given(row: Row) -> bool:
    """Whether the row is danced as it is written."""
    return not row.again and not row.repetition.other_side and row.repetition.cut is None


def _sure(row: ProposedRow) -> Phrase:
    sure = {c.label for c in row.cells if c.sure}
    return replace(row.phrase, marks=tuple(m for m in row.phrase.marks if m.label in sure))


def _filled(phrase: Phrase, row: ProposedRow) -> Phrase:
    """With cues where nothing is written; another line stays as it is, and so do its counts' cues."""
    if phrase.line != row.phrase.line:
        return phrase
    said = {m.label: m for m in phrase.marks}
    marks = [_joined(said.get(m.label, Mark(m.label)), m) for m in _sure(row).marks]
    others = [m for m in phrase.marks if m.label not in {n.label for n in marks}]
    return replace(phrase, marks=(*others, *marks)) if marks else phrase


def _joined(said: Mark, seen: Mark) -> Mark:
    """What is said of a count is complete once it has a cue."""
    if said.cue or said.score is Score.FREE:
        return said
    return replace(said, cue=seen.cue, layers={**seen.layers, **said.layers}, foot=said.foot or seen.foot,
                   weight=said.weight or seen.weight, turn=said.turn or seen.turn)  # fmt: skip


def mend(written: Written, found: Against) -> Mend | None:
    """The sheet as the clip has it there; None where that is not one count's or one row's."""
    row = rows(as_instructed(written))[found.row - 1]
    if row.again or row.repetition.cut is not None:
        return None
    phrase = written.phrases[row.written - 1]
    other = row.repetition.other_side
    turn = -found.shown if other else found.shown
    match found.kind, found.label:
        case Disagreement.SIDE, _:
            made = other_side(phrase)
        case Disagreement.TURN, str(label):
            made = replace(phrase, marks=_turned(phrase.marks, label, turn))
        case Disagreement.NOTHING_ARRIVES, str(label):
            part = " " in label
            made = replace(phrase, line=rewritten(phrase.line, phrase.counts, label, "" if part else "-"))
            if part:
                made = replace(made, marks=tuple(m for m in made.marks if m.label != label))
        case Disagreement.HOLD, str(label) if " " not in label:
            made = replace(phrase, line=rewritten(phrase.line, phrase.counts, label, label))
        case _:
            return None
    phrases = list(written.phrases)
    phrases[row.written - 1] = made
    return Mend("write it as the clip has it", replace(written, phrases=tuple(phrases)))


def _turned(marks: tuple[Mark, ...], label: str, turn: int) -> tuple[Mark, ...]:
    known = {m.label: m for m in marks}
    return (*(m for m in marks if m.label != label), replace(known.get(label, Mark(label)), turn=turn))
