"""Sheet and grid: placing the counts, the beat, step names, and the way out to other programs and in again."""

from enum import StrEnum
from fractions import Fraction
from pathlib import PurePath
from typing import Annotated

from fastapi import APIRouter, Depends, Query
from fastapi.responses import Response
from sqlalchemy.orm import Session

from juxtakine.core.counting.cells import mended
from juxtakine.core.counting.grids import Anchor, Grid, check_within
from juxtakine.core.counting.lines import LineError, read_line
from juxtakine.core.counting.music.taps import tapped
from juxtakine.core.counting.pasted import PastedError, PastedRows, read_pasted
from juxtakine.core.counting.positions import from_decimal
from juxtakine.core.counting.renumbering import renumbered, repaced
from juxtakine.core.counting.steps import filled
from juxtakine.core.counting.told_structure import structured
from juxtakine.core.limits import MOST_COUNTS
from juxtakine.exchange.midi import NOT_IN_MIDI, grid_from_midi, to_midi
from juxtakine.exchange.paper import Paper, to_pdf
from juxtakine.exchange.subtitles import NOT_IN_VTT, grid_from_vtt, to_vtt
from juxtakine.exchange.table import NOT_IN_CSV, from_csv, to_csv, to_markdown
from juxtakine.jobs import beats, flow, inputs, intake
from juxtakine.pipeline.forms import FormError, formed
from juxtakine.pipeline.sheet_forms import GridForm, MarkForm, PhraseForm, SheetForm
from juxtakine.settings import settings
from juxtakine.store import routines
from juxtakine.store.models import Clip, Routine
from juxtakine.web import counting, views
from juxtakine.web import schemas as s
from juxtakine.web.context import Db, RoutineHeld, RoutineShown
from juxtakine.web.refused import Refused
from juxtakine.web.routines import keep_sheet, readable
from juxtakine.web.uploads import BYTES, Bytes, plain_name

router = APIRouter()
FONT = "atkinson-hyperlegible-next-latin-wght-normal*.woff2"


class OutForm(StrEnum):
    """As what a sheet goes out."""

    JSON = "json"
    CSV = "csv"
    MARKDOWN = "md"
    PDF = "pdf"
    LETTER = "letter.pdf"
    VTT = "vtt"
    MIDI = "mid"


TYPES = {
    OutForm.JSON: "application/json", OutForm.CSV: "text/csv", OutForm.MARKDOWN: "text/markdown",
    OutForm.PDF: "application/pdf", OutForm.LETTER: "application/pdf", OutForm.VTT: "text/vtt",
    OutForm.MIDI: "audio/midi",
}  # fmt: skip


def _counted(routine: RoutineHeld) -> tuple[Routine, Clip]:
    """The routine, and the clip on which its counts are placed. Raises Refused."""
    reference = routines.reference(routine)
    if reference is None:
        raise Refused("There is no instructor's clip to place the counts on.")
    return routine, reference


Counted = Annotated[tuple[Routine, Clip], Depends(_counted)]


@router.put("/routines/{routine_id}/grid")
def change_grid(db: Db, counted: Counted, change: s.GridChange) -> s.RoutineView:
    """Where the counts lie in the instructor's clip."""
    routine, reference = counted
    for seconds in (change.first_s, change.count_s):
        check_within(seconds or 0.0, reference.duration_s)
    return _placed(db, routine, _grid(change).shifted(reference.start_s))


def _grid(change: s.GridChange) -> Grid:
    if change.count is not None and change.count_s is not None:
        later = Anchor(Fraction(change.count - 1), change.count_s)
        return Grid((Anchor(Fraction(0), change.first_s), later))
    if change.bpm is None:
        raise Refused("Say the tempo, or where a later count is.", 422)
    return Grid.from_tempo(change.first_s, change.bpm)


@router.put("/routines/{routine_id}/grid/anchors")
def anchor(db: Db, counted: Counted, said: s.AnchorSaid) -> s.RoutineView:
    """This count is at this moment; the other anchors stay."""
    routine, reference = counted
    check_within(said.seconds, reference.duration_s)
    grid = _known(routine).anchored(from_decimal(said.at), said.seconds + reference.start_s)
    return _placed(db, routine, grid)


@router.delete("/routines/{routine_id}/grid/anchors")
def loosen(db: Db, counted: Counted, at: Annotated[float, Query(ge=-MOST_COUNTS, le=2 * MOST_COUNTS)]) -> s.RoutineView:
    routine, _ = counted
    return _placed(db, routine, _known(routine).loosened(from_decimal(at)))


@router.post("/routines/{routine_id}/grid/taps")
def tap(db: Db, counted: Counted, taps: s.Taps) -> s.TapsTold:
    """The counts as they were tapped along."""
    routine, reference = counted
    for seconds in taps.seconds:
        check_within(seconds, reference.duration_s)
    made = tapped(taps.seconds, taps.first)
    bpm = 60 / float(made.grid.count_length(0))
    out = f", {made.left_out} left out" if made.left_out else ""
    said = (
        f"{len(taps.seconds)} taps{out}: {bpm:.1f} a minute; they scatter by {1000 * made.scatter_s:.0f} ms, "
        f"so the first count is known to ±{1000 * made.error_s:.0f} ms."
    )
    return s.TapsTold(routine=_placed(db, routine, made.grid.shifted(reference.start_s)), said=said)


@router.get("/routines/{routine_id}/beats")
def heard(routine: RoutineShown) -> s.BeatsFound:
    """The beat of the instructor's clip, and where the first 1 may be."""
    reference = routines.reference(routine)
    if reference is None:
        return s.BeatsFound(paces=[], waiting="There is no instructor's clip yet.")
    if flow.awaits_run(reference):
        return s.BeatsFound(paces=[], waiting="The run in this clip is not chosen yet: do that in Watch.")
    return counting.beats_found(beats.found(reference), reference.start_s)


@router.post("/routines/{routine_id}/grid/beats")
def take_beats(db: Db, counted: Counted, chosen: s.BeatsChosen) -> s.RoutineView:
    """The counts on the beats that were heard."""
    routine, reference = counted
    paces = beats.found(reference).paces
    if chosen.pace >= len(paces):
        raise Refused("No beat was found in this clip.")
    check_within(chosen.first_s, reference.duration_s)
    return _placed(db, routine, paces[chosen.pace].grid(chosen.first_s + reference.start_s))


def _known(routine: Routine) -> Grid:
    form = routines.current(routine).grid
    if form is None:
        raise Refused("Count 1 is not placed yet: place it first.")
    return GridForm.model_validate(form).value()


def _placed(db: Session, routine: Routine, grid: Grid) -> s.RoutineView:
    form = GridForm.of(grid).model_dump(mode="json")
    intake.keep_edit(db, routine, routines.current(routine).sheet, form)
    flow.compare_all(db, routine)
    return views.routine(routine)


@router.post("/routines/{routine_id}/renumber")
def renumber(db: Db, routine: RoutineHeld, said: s.Renumber) -> s.RoutineView:
    """What is this count becomes a 1, or all is counted at another pace; nothing that is written is lost, and every
    count stays where it sounds."""
    edit = routines.current(routine)
    form, grid = SheetForm.model_validate(edit.sheet), edit.grid
    written = form.written()
    if form.order.strip() or any(p.easier for p in written.phrases):
        raise Refused("Rows with an order or an easier way can't be renumbered: take these out first.", 422)
    if said.pace is not None:
        by = from_decimal(said.pace)
        written = repaced(written, by)
        grid = grid and GridForm.of(inputs.grid_of(grid).repaced(by)).model_dump(mode="json")
    elif said.at is not None:
        written = renumbered(written, said.at)
    changed = form.rewritten(written).identified(form)
    readable(changed)
    intake.keep_edit(db, routine, changed.model_dump(mode="json"), grid)
    flow.compare_all(db, routine)
    return views.routine(routine)


@router.post("/line")
def read(phrase: PhraseForm) -> s.LineReading:
    """What a line says while it is being typed."""
    swing = from_decimal(phrase.swing)
    try:
        read_line(phrase.line, phrase.counts, swing)
    except LineError as error:
        problem = s.Problem(sentence=error.reason, start=error.start, end=error.end)
        return s.LineReading(cells=[], problem=problem, mended=mended(phrase.line, phrase.counts, swing))
    return s.LineReading(cells=counting.reading(phrase), problem=None, mended=None)


@router.post("/steps")
def read_steps(said: s.StepsSaid) -> s.StepsRead:
    """The row that a line of step names fills."""
    own = [step.value() for step in said.own]
    made = filled(said.text, said.weight, said.style, own)
    unknown = [s.UnknownStep(name=u.name, start=u.start, end=u.end, near=list(u.near)) for u in made.unknown]
    misfits = [s.MisfitView(told=m.told, start=m.start, end=m.end) for m in made.misfits]
    if not made.counts:
        return s.StepsRead(phrase=None, cells=[], unknown=unknown, misfits=misfits)
    marks = [MarkForm.of(m) for m in made.marks]
    phrase = formed(lambda: PhraseForm(counts=min(64, made.counts), line=made.line, marks=marks))
    return s.StepsRead(phrase=phrase, cells=counting.reading(phrase), unknown=unknown, misfits=misfits)


@router.get("/steps")
def steps() -> list[s.StepView]:
    """The dictionary."""
    return counting.dictionary()


@router.get("/routines/{routine_id}/sheet/{form}", response_class=Response)
def out(routine: RoutineShown, form: OutForm) -> Response:
    """The sheet as a file."""
    sheet = SheetForm.model_validate(routines.current(routine).sheet)
    readable(sheet)
    if not sheet.phrases:
        raise Refused("The sheet has no row yet: there is nothing to write out.")
    name = plain_name(sheet.title or "routine").encode("ascii", "ignore").decode().strip() or "routine"
    headers = {"Content-Disposition": f'attachment; filename="{name}.{form}"'}
    return Response(_content(form, sheet, routine), media_type=TYPES[form], headers=headers)


def _content(form: OutForm, sheet: SheetForm, routine: Routine) -> str | bytes:
    match form:
        case OutForm.JSON:
            return sheet.model_dump_json(indent=1) + "\n"
        case OutForm.CSV:
            return to_csv(sheet)
        case OutForm.MARKDOWN:
            return to_markdown(sheet)
        case OutForm.PDF | OutForm.LETTER:
            font = next(settings().frontend.glob(f"assets/{FONT}"), None)
            return to_pdf(sheet.written(), Paper.A4 if form is OutForm.PDF else Paper.LETTER, font)
        case OutForm.VTT | OutForm.MIDI:
            grid, start = _known(routine), routines.reference(routine)
            timed = to_vtt if form is OutForm.VTT else to_midi
            return timed(sheet.value(), grid, start.start_s if start else 0.0)


@router.post("/routines/{routine_id}/import", openapi_extra=BYTES)
def take_in(data: Bytes, db: Db, routine: RoutineHeld, name: str) -> s.Imported:
    """A sheet (JSON, CSV) or the times of its counts (WebVTT, MIDI), told apart by the file's name; undo takes it
    back."""
    called = plain_name(name)
    kind = PurePath(called).suffix.lower().lstrip(".")
    try:
        if kind in ("json", "csv"):
            return _sheet_in(db, routine, data, kind)
        if kind in ("vtt", "mid", "midi"):
            return _grid_in(db, routine, data, kind)
    except FormError as error:
        raise Refused(f"{called}: {error}. Nothing was changed.", 422) from error
    raise Refused(f"{called} is none of .json, .csv, .vtt and .mid. Nothing was changed.", 415)


@router.post("/routines/{routine_id}/structure")
def structure(db: Db, routine: RoutineHeld, told: s.Pasted) -> s.Imported:
    """The order and the walls from a sentence, as dances are told; what does not agree with the sheet is said."""
    sheet = SheetForm.model_validate(routines.current(routine).sheet)
    try:
        made = structured(told.text, sheet.written())
    except LineError as error:
        raise Refused(f"{error.reason}. Nothing was changed.", 422) from error
    changed = sheet.rewritten(made.written)
    readable(changed)
    now = keep_sheet(db, routine, changed)
    intro = [] if made.intro is None else [_intro(now, made.intro)]
    return s.Imported(routine=now, said=" ".join([f"Danced: {made.written.order}.", *made.remarks, *intro]))


def _intro(now: s.RoutineView, counts: int) -> str:
    """Where the intro would begin in the clip, by where the first 1 is."""
    if now.grid is None:
        return f"The intro has {counts} counts: place count 1 where it ends."
    begins = now.grid.counts_s[0] - counts * 60 / now.grid.bpm
    where = f"begins {-begins:.1f} s before the clip" if begins < 0 else f"begins at {begins:.1f} s"
    return f"By count 1 as it is placed, the intro of {counts} counts {where}."


@router.post("/routines/{routine_id}/paste")
def paste(db: Db, routine: RoutineHeld, pasted: s.Pasted) -> s.Imported:
    """Rows from a text, after those that are there. Refused with everything that can't be read in it."""
    sheet = SheetForm.model_validate(routines.current(routine).sheet)
    try:
        rows = read_pasted(pasted.text, sheet.style, [step.value() for step in sheet.steps])
    except PastedError as error:
        said = ". ".join(f"Line {p.line}: {p.reason}" for p in error.problems)
        raise Refused(f"{said}. Nothing was added; the text is kept.", 422) from error
    added = formed(lambda: SheetForm(phrases=[*sheet.phrases, *map(PhraseForm.of, rows.phrases)]))
    changed = sheet.model_copy(update={"phrases": added.phrases})
    readable(changed)
    return s.Imported(routine=keep_sheet(db, routine, changed), said=_pasted(rows))


def _pasted(rows: PastedRows) -> str:
    number = len(rows.phrases)
    look = ". ".join(f"Line {r.line}: {r.reason}" if r.line else r.reason for r in rows.remarks)
    return f"{number} row{'s were' if number > 1 else ' was'} added.{f' Look at these: {look}.' if look else ''}"


def _sheet_in(db: Session, routine: Routine, data: bytes, kind: str) -> s.Imported:
    before = SheetForm.model_validate(routines.current(routine).sheet)
    if kind == "csv":
        sheet, without = from_csv(data).model_copy(update={"title": before.title}), f" {NOT_IN_CSV}"
    else:
        sheet, without = formed(lambda: SheetForm.model_validate_json(data)), ""
    readable(sheet)
    rows = len(sheet.phrases)
    return s.Imported(routine=keep_sheet(db, routine, sheet), said=f"{rows} rows were taken in.{without}")


def _grid_in(db: Session, routine: Routine, data: bytes, kind: str) -> s.Imported:
    reference = routines.reference(routine)
    if reference is None:
        raise FormError("there is no instructor's clip for its times to lie in")
    if kind == "vtt":
        sheet = SheetForm.model_validate(routines.current(routine).sheet).value()
        grid, without = grid_from_vtt(data, sheet, reference.start_s), NOT_IN_VTT
    else:
        grid, without = grid_from_midi(data, reference.start_s), NOT_IN_MIDI
    said = f"The counts' times were taken in. {without}"
    return s.Imported(routine=_placed(db, routine, grid), said=said)
