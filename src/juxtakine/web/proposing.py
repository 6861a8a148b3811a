"""What is read off the instructor's clip for the sheet, and what of the sheet the clip does otherwise."""

from collections.abc import Collection
from functools import lru_cache

import numpy as np

from juxtakine.core.counting.structure import Written, as_instructed, unfolded
from juxtakine.core.counting.structure import rows as danced_rows
from juxtakine.core.movement.features import Span
from juxtakine.core.proposing.against import against
from juxtakine.core.proposing.proposal import Proposal, ProposedRow
from juxtakine.core.proposing.taking import mend, takeable, taken
from juxtakine.core.telling.clip_beside_sheet import told
from juxtakine.core.watching.words import repeated
from juxtakine.jobs import inputs
from juxtakine.jobs.mending import Lost
from juxtakine.jobs.places import shelf
from juxtakine.pipeline.comparison import Recording
from juxtakine.pipeline.proposing import lengths, proposed
from juxtakine.pipeline.sheet_forms import GridForm, SheetForm
from juxtakine.store import routines
from juxtakine.store.models import Routine
from juxtakine.web import counting
from juxtakine.web import schemas as s
from juxtakine.web.refused import Refused


def view(found: Routine) -> s.ProposalView:
    try:
        source, read = _proposed(found)
    except inputs.NotReady as missing:
        return s.ProposalView(waiting=str(missing), counts_s=[], rows=[], against=[])
    form = SheetForm.model_validate(routines.current(found).sheet)
    written = form.written()
    grid = GridForm.model_validate_json(source.grid).value()
    every = Written("", tuple(r.phrase for r in read.rows))
    shown = counting.rows(every, (), grid, source.start_s)
    known, open_ = len(danced_rows(written)), set(takeable(written, read))
    rows = [
        s.ProposedRowView(row=row, said=_said(made), unsure=[c.label for c in made.cells if not c.sure], new=n > known,
                          takes=n in open_, like=made.like and repeated(made.like))
        for n, (row, made) in enumerate(zip(shown, read.rows, strict=True), 1)
        if n <= known or n in open_
    ]  # fmt: skip
    counts = np.arange(sum(r.row.counts for r in rows) + 1)
    seconds = [round(float(t), 4) for t in grid.seconds(counts) - source.start_s]
    return s.ProposalView(waiting=None, counts_s=seconds, rows=rows, against=_against(form, written, read))


def take(found: Routine, numbers: Collection[int]) -> SheetForm:
    """The sheet with what is sure of these rows (none: of all). Raises Refused where nothing can be proposed yet."""
    try:
        _, read = _proposed(found)
    except inputs.NotReady as missing:
        raise Refused(str(missing)) from missing
    form = SheetForm.model_validate(routines.current(found).sheet)
    written = form.written()
    possible = takeable(written, read)
    return form.rewritten(taken(written, read, [n for n in possible if n in numbers or not numbers]))


def _proposed(found: Routine) -> tuple[inputs.DancedClip, Proposal]:
    source = inputs.danced_of(inputs.first_of(found))
    written = SheetForm.model_validate(routines.current(found).sheet).written()
    lengths = tuple(r.phrase.counts for r in danced_rows(written))
    return source, _read_off(source.track, source.grid, source.mirrored, source.cameras, lengths)


@lru_cache(maxsize=16)
def _read_off(
    track: str, grid: str, mirrored: bool, cameras: tuple[Span, ...], written: tuple[int, ...]
) -> Proposal:  # fmt: skip
    """It takes a second or two, and every look at the screen asks for it."""
    made = shelf().fetch(track)
    if made is None:
        raise Lost
    shown, placed = Recording(made, cameras=cameras), GridForm.model_validate_json(grid).value()
    return proposed(shown, placed, lengths(shown, placed, written), mirrored)


def _against(form: SheetForm, written: Written, read: Proposal) -> list[s.SheetFindingView]:
    sheet = unfolded(as_instructed(written))
    if not sheet.phrases:
        return []
    found = against(sheet, read.shown)
    mends = [mend(written, f) for f in found]
    return [
        s.SheetFindingView(
            row=f.row, label=f.label, about=f.kind, text=told(f),
            mend=m and s.MendView(says=m.says, sheet=form.rewritten(m.written)),
        )
        for f, m in zip(found, mends, strict=True)
    ]  # fmt: skip


def _said(row: ProposedRow) -> str:
    sure = sum(c.sure for c in row.cells)
    return f"{100 * row.certainty:.0f} % sure" if sure == len(row.cells) else f"{sure} of {len(row.cells)} sure"
