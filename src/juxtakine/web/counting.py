"""What Count shows: rows and cells with what is said of them, the grid, the beat, and what disagrees."""

from collections.abc import Sequence

import numpy as np

from juxtakine.core.counting.cells import Cell, cells
from juxtakine.core.counting.checks import Mend, MusicEights, amount, checked, clock
from juxtakine.core.counting.dictionary import DICTIONARY, Step
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.lines import LineError
from juxtakine.core.counting.positions import to_decimal
from juxtakine.core.counting.sheets import Layer, Mark, Phrase, Score, Sheet, SheetCount, SheetError, expand
from juxtakine.core.counting.steps import line_of
from juxtakine.core.counting.structure import Row, Written, section_names
from juxtakine.core.counting.structure import rows as danced_rows
from juxtakine.pipeline.beats import HeardBeats
from juxtakine.pipeline.sheet_forms import MarkForm, PhraseForm, SheetForm, to_clock
from juxtakine.store.models import Clip
from juxtakine.web import schemas as s

States = dict[str, SheetCount]
"""The counts of one row, by their labels."""


def rows(written: Written, counts: Sequence[SheetCount], grid: Grid | None, start_s: float) -> list[s.RowView]:
    """`counts` are those of the sheet as danced; none where it can't be read."""
    states: dict[int, States] = {}
    for count in counts:
        states.setdefault(count.phrase, {})[count.label] = count
    made, at = [], 0
    danced = danced_rows(written)
    headings = _headings(danced, written, states)
    for number, row in enumerate(danced, 1):
        made.append(_row(number, row, written, at, states.get(number, {}), grid, start_s, headings.get(number)))
        at += row.phrase.counts
    return made


def _headings(danced: Sequence[Row], written: Written, states: dict[int, States]) -> dict[int, str]:
    """By row what stands before it: the section, and of a dance of walls which wall it is and what it faces."""
    names = section_names(written)
    if not (written.order.strip() or len(names) > 1):
        return {}
    made: dict[int, str] = {}
    walls, facing = 0, (danced[0].phrase.facing or 0) if danced else 0
    for number, row in enumerate(danced, 1):
        if row.first:
            made[number] = str(row.repetition)
            if written.walls and written.order.strip() and row.repetition.section == names[0]:
                walls += 1
                made[number] += f": wall {walls}, facing {clock(facing)}"
        ends = [*states.get(number, {}).values()]
        facing = ends[-1].facing if ends else facing
    return made


def _row(
    number: int, row: Row, written: Written, start: int, states: States, grid: Grid | None, start_s: float,
    heading: str | None,
) -> s.RowView:  # fmt: skip
    phrase = row.phrase
    return s.RowView(
        id=phrase.id, number=number, name=phrase.name, counts=phrase.counts, line=phrase.line, start=start,
        cells=line_cells(phrase, start, states),
        begins_s=float(grid.seconds(start)) - start_s if grid else None,
        written=row.written, repetition=row.number, again=_again(row, written), heading=heading,
        checkpoint=_checkpoint(phrase, states),
    )  # fmt: skip


def _again(row: Row, written: Written) -> str | None:
    whole = written.phrases[row.written - 1].counts
    if not row.again and not row.repetition.other_side and row.phrase.counts == whole:
        return None
    side = ", other side" if row.repetition.other_side else ""
    cut = f", cut after {row.phrase.counts}" if row.phrase.counts < whole else ""
    return f"row {row.written}{side}{cut}"


def _checkpoint(phrase: Phrase, states: States) -> str | None:
    """Where the row ends: to which wall, on which foot; None where the sheet says nothing of either."""
    if not states or not any(m.turn or m.weight for m in phrase.marks):
        return None
    last = [*states.values()][-1]
    foot = "" if last.weight is None else ", on both feet" if last.weight == "both" else f", on the {last.weight} foot"
    return f"ends to {clock(last.facing)}{foot}"


def line_cells(phrase: Phrase, start: int, states: States | None = None) -> list[s.CellView]:
    """Of a line that can't be read there are none."""
    marks = {m.label: m for m in phrase.marks}
    try:
        made = cells(phrase.line, phrase.counts, phrase.swing)
    except LineError:
        return []
    return [
        _cell(c, start, marks.get(c.sounding.label, Mark(c.sounding.label)), (states or {}).get(c.sounding.label))
        for c in made
    ]


def _cell(cell: Cell, start: int, mark: Mark, state: SheetCount | None) -> s.CellView:
    sounding = cell.sounding
    return s.CellView(
        at=to_decimal(start + sounding.at), label=sounding.label, sign=sounding.sign,
        offset=to_decimal(sounding.at), width=to_decimal(cell.width), hold=sounding.hold, goes_on=sounding.goes_on,
        free=mark.score is Score.FREE and not mark.parts, mark=MarkForm.of(mark),
        weight=state.weight if state else mark.weight, facing=to_clock(state.facing if state else 0),
        turned=amount(mark.turn) if mark.turn else None, scored=_scored(mark),
    )  # fmt: skip


def _scored(mark: Mark) -> str:
    """Short enough for a cell: all, timing, free, or what of which layers."""
    whole = {Score.BOTH: "all", Score.TIMING: "timing", Score.POSITION: "position", Score.FREE: "free",
             Score.OWN_PACE: "own pace"}[mark.score]  # fmt: skip
    if mark.either:
        whole = f"{whole}, either"
    if not mark.parts or mark.score is Score.BOTH:
        return whole
    named = [layer.value for layer in Layer if layer in mark.parts]
    if mark.score is Score.FREE:  # rather what is left
        return " ".join(layer.value for layer in Layer if layer not in mark.parts) or "free"
    return f"{' '.join(named)}: {whole}"


def order_said(written: Written) -> str:
    danced = danced_rows(written)
    return ", ".join(dict.fromkeys(f"{r.number} {r.repetition}" for r in danced if r.first)) if written.order else ""


def findings(form: SheetForm, placed: Grid | None, shown: Sequence[Clip]) -> list[s.SheetFindingView]:
    """`shown`: the instructor's clips, the first of them first."""
    found = checked(form.written(), _music(placed, shown))
    return [
        s.SheetFindingView(
            row=f.row, label=f.label, about=f.about, text=f.text, mend=f.mend and _mend(f.mend, form)
        )
        for f in found
    ]  # fmt: skip


def _mend(mend: Mend, form: SheetForm) -> s.MendView:
    return s.MendView(says=mend.says, sheet=form.rewritten(mend.written))


def _music(placed: Grid | None, shown: Sequence[Clip]) -> MusicEights:
    if placed is None or not shown:
        return MusicEights()
    reference = shown[0]
    ends = reference.run[1] if reference.run else reference.start_s + reference.duration_s
    first, last = placed.anchors[0], placed.anchors[-1]
    bpm = 60 * float(last.at - first.at) / (last.seconds - first.seconds)
    return MusicEights(bpm, float(placed.count(ends)), len(shown))


def grid(placed: Grid, counts: Sequence[SheetCount], total: int, start_s: float) -> s.GridView:
    first, last = placed.anchors[0], placed.anchors[-1]
    bpm = 60 * float(last.at - first.at) / (last.seconds - first.seconds)
    names = {c.at: f"{c.label} of row {c.phrase}" for c in counts}
    posts = [
        s.PostView(
            at=to_decimal(a.at), count=int(np.floor(float(a.at))) + 1, seconds=a.seconds - start_s,
            label=names.get(a.at, f"count {float(a.at) + 1:g}"),
        )
        for a in placed.anchors
    ]  # fmt: skip
    whole = placed.seconds(np.arange(total + 1)) - start_s
    return s.GridView(
        posts=posts, bpm=round(bpm, 2), said=_tempo(placed, total), counts_s=[round(float(t), 4) for t in whole]
    )


def _tempo(placed: Grid, total: int) -> str:
    """One tempo, or from which to which."""
    tempi = 60 / placed.count_length(np.arange(max(1, total)))
    slowest, fastest = float(tempi.min()), float(tempi.max())
    if fastest - slowest < 0.05 * slowest / 10:
        return f"{tempi.mean():.1f} a minute"
    return f"{slowest:.1f} to {fastest:.1f} a minute"


def beats_found(heard: HeardBeats, start_s: float) -> s.BeatsFound:
    paces = [
        s.BeatsView(
            bpm=round(p.bpm, 2), said=p.said, seconds=[t - start_s for t in p.seconds],
            ones=[
                s.OneView(seconds=o.seconds - start_s, certainty=o.certainty, said=", ".join(o.why)) for o in p.ones
            ],
        )
        for p in heard.paces
    ]  # fmt: skip
    return s.BeatsFound(paces=paces, waiting=heard.why_not)


def reading(phrase: PhraseForm) -> list[s.CellView]:
    """The cells of a row by itself, as it is being typed."""
    written = phrase.value()
    try:
        counts = expand(Sheet("", (written,)))
    except SheetError:
        counts = ()
    return line_cells(written, 0, {c.label: c for c in counts})


def dictionary() -> list[s.StepView]:
    return [_step(step) for step in DICTIONARY]


def _step(step: Step) -> s.StepView:
    return s.StepView(name=step.name, what=step.what, line=line_of(step), aliases=list(step.aliases), style=step.style)
