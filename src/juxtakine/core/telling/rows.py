"""The one sentence that says what to do, and what stands at a row's end."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from juxtakine.core.comparing.explaining.phrases import badness
from juxtakine.core.comparing.results import (
    Comparison,
    CountResult,
    Finding,
    FindingKind,
    PhraseKind,
    PhraseResult,
    Unit,
)
from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.movement.body import Part
from juxtakine.core.telling.findings import said, timing_said

TALLIES = 5
LATE_OR_EARLY = (FindingKind.EARLY, FindingKind.LATE)


@dataclass(frozen=True)
class RowWords:
    """`tallies` 0 to 5; `kind` short enough to stand beside the row; `lines` for the row that is open."""

    tallies: int
    kind: str
    lines: tuple[str, ...]


@dataclass(frozen=True)
class Sentence:
    """`strong` is set heavier than `rest`."""

    strong: str
    rest: str


def tallies(need: float) -> int:
    """Need as pencil tallies: the next whole one."""
    return ceil(round(need * TALLIES, 6))


def sentence(comparison: Comparison, sheet: Sheet) -> Sentence:
    """What to do now."""
    if comparison.redrill:
        first, *more = comparison.redrill
        row = comparison.phrases[first - 1]
        rest = f"from {_first_label(comparison, row)}"
        if more:
            rest += f", then {_name(sheet, more[0])}"
        return Sentence(f"Redrill {_name(sheet, first)}", f"{rest}.")
    unclear = [p.phrase for p in comparison.phrases if p.kind is PhraseKind.UNCLEAR]
    if unclear:
        return Sentence("Film again, the whole body in shot:", f"{_rows(unclear)} could not be measured.")
    return Sentence("Nothing to redrill:", "every row is clean in this take.")


def row_words(comparison: Comparison, phrase: int) -> RowWords:
    row = comparison.phrases[phrase - 1]
    counts = [c for c in comparison.counts if c.count.phrase == phrase]
    free = sum(c.count.free for c in counts)
    if row.kind is PhraseKind.CLEAN:
        return RowWords(0, f"clean, {free} {'is' if free == 1 else 'are'} yours" if free else "clean", ())
    if row.kind is PhraseKind.UNCLEAR:
        return RowWords(0, "unclear: film again", (f"{row.measured} of {row.scored} could be measured",))
    worst = sorted(row.findings, key=badness, reverse=True)
    lines = tuple(_line(comparison.counts, counts, f) for f in worst[:3])
    if len(worst) > len(lines):
        lines += (f"and {len(worst) - len(lines)} more",)
    return RowWords(tallies(row.need), _kind(row, counts), lines)


def _line(every: Sequence[CountResult], counts: Sequence[CountResult], finding: Finding) -> str:
    """A finding for a stretch names its counts itself."""
    text = timing_said(finding) if finding.kind in LATE_OR_EARLY else said(finding, every)
    return text if finding.end > finding.start else f"{_label(counts, finding)}: {text}"


def _kind(row: PhraseResult, counts: Sequence[CountResult]) -> str:
    own = [f for f in row.findings if f.kind in _KINDS.get(row.kind, ())]
    if own:
        worst = max(own, key=badness)
        if worst.start < counts[0].count.at:
            return f"the {worst.kind.value} goes on"
        return f"{_CALLED[worst.kind]} {_stretch(counts, worst)}"
    timed = [f for f in row.findings if f.unit is Unit.MILLISECONDS]
    if row.kind is PhraseKind.TIMING:
        timed = [f for f in timed if f.kind not in _PACE] or timed
        if timed[0].kind in _PACE:
            words = {_PACE[f.kind] for f in timed if f.kind in _PACE}
            return f"{' and '.join(sorted(words))} on {_labels(counts, timed)}"
        late = sum(f.size > 0 for f in timed)
        word = "late" if late == len(timed) else "early" if not late else "late and early"
        return f"{word} on {_labels(counts, timed)}"
    posed = [f for f in row.findings if f.unit is not Unit.MILLISECONDS]
    if all(f.kind is FindingKind.RANGE for f in posed):
        return "arms too small throughout"
    parts = {f.part for f in posed if f.part}
    what = _SHORT.get(parts.pop(), "position") if len(parts) == 1 else "position"
    return f"{what} on {_labels(counts, posed)}"


_PACE = {FindingKind.HURRIED: "hurried", FindingKind.DRAGGED: "dragged"}
_KINDS = {
    PhraseKind.SLIP: (FindingKind.SLIP,),
    PhraseKind.DRIFT: (FindingKind.DRIFT,),
    PhraseKind.TURN: (FindingKind.TURN,),
    PhraseKind.WRONG_SIDE: (FindingKind.WRONG_SIDE,),
    PhraseKind.MEMORY: (FindingKind.MISSING, FindingKind.EXTRA),
    PhraseKind.TIMING: (FindingKind.PACE,),
}
_CALLED = {
    FindingKind.SLIP: "slips on",
    FindingKind.DRIFT: "drifts from",
    FindingKind.TURN: "turn,",
    FindingKind.WRONG_SIDE: "other side,",
    FindingKind.MISSING: "move missing on",
    FindingKind.EXTRA: "moves in the hold on",
    FindingKind.PACE: "another pace,",
}


def _stretch(counts: Sequence[CountResult], finding: Finding) -> str:
    """ "3 to 6"; of a slip, where it begins; within this phrase."""
    inside = [c.count.label for c in counts if finding.start <= c.count.at <= finding.end]
    whole = finding.kind is not FindingKind.SLIP and len(inside) > 1
    return f"{inside[0]} to {inside[-1]}" if whole else inside[0]


_SHORT = {
    **{p: p.words.split()[0] + " arm" for p in Part if p.endswith("arm")},
    **{p: p.words.split()[0] + " leg" for p in Part if p.endswith(("thigh", "shin"))},
    Part.LEVEL: "level",
    Part.SPREAD: "step",
    Part.TORSO: "torso",
    Part.HEAD: "head",
    Part.FACING: "facing",
}


def _labels(counts: Sequence[CountResult], of: Sequence[Finding]) -> str:
    labels = list(dict.fromkeys(_label(counts, f) for f in sorted(of, key=lambda f: f.start)))
    return ", ".join(labels) if len(labels) < 4 else f"{labels[0]} to {labels[-1]}"


def _label(counts: Sequence[CountResult], finding: Finding) -> str:
    """Of where it begins among these counts."""
    return next(c.count.label for c in counts if c.count.at >= finding.start)


def _first_label(comparison: Comparison, row: PhraseResult) -> str:
    first = min(f.start for f in row.findings)
    return next(c.count.label for c in comparison.counts if c.count.at == first)


def _name(sheet: Sheet, phrase: int) -> str:
    return sheet.phrases[phrase - 1].name or f"row {phrase}"


def _rows(numbers: Sequence[int]) -> str:
    if len(numbers) == 1:
        return f"row {numbers[0]}"
    return f"rows {', '.join(map(str, numbers[:-1]))} and {numbers[-1]}"
