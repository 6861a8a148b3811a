"""Routines: the list, the sheet and its grid, undo, and clips dropped in."""

from pathlib import PurePath

from fastapi import APIRouter, Request
from sqlalchemy.orm import Session

from juxtakine.core.counting.sheets import SheetError
from juxtakine.core.counting.structure import problems
from juxtakine.core.watching.assembled import PieceError
from juxtakine.jobs import assembly, flow, intake, mending
from juxtakine.pipeline.sheet_forms import SheetForm
from juxtakine.store import clips, routines
from juxtakine.store.models import PieceRow, Role, Routine
from juxtakine.web import proposing, views, watching
from juxtakine.web import schemas as s
from juxtakine.web.context import Db, RoutineHeld, RoutineShown
from juxtakine.web.refused import Refused
from juxtakine.web.uploads import BYTES, Arrived, take_in

router = APIRouter()


@router.get("/home")
def home(db: Db) -> s.Home:
    return views.home(routines.every(db))


@router.post("/routines", openapi_extra=BYTES)
async def begin(request: Request, name: str) -> s.Uploaded:
    """A new routine from the instructor's clip, which is the body."""

    def make(db: Session, arrived: Arrived) -> s.Uploaded:
        title = PurePath(arrived.name).stem.replace("-", " ").replace("_", " ").strip()
        routine = routines.create(db, SheetForm(title=title).model_dump(mode="json"))
        return _added(db, routine, Role.REFERENCE, arrived)

    return await take_in(request, name, make)


@router.get("/routines/{routine_id}")
def show(db: Db, routine: RoutineShown) -> s.RoutineView:
    if any(map(mending.lost, routine.clips)):
        mending.mend(db, routines.get(db, routine.id, lock=True))
    return views.routine(routine)


@router.get("/routines/{routine_id}/reading")
def reading(routine: RoutineShown, clip: int | None = None) -> s.ReadingView:
    """What an instructor's clip (the first, where none is named) shows of each row; what is missing for it, as a
    sentence."""
    return watching.reading(routine, clip)


@router.put("/routines/{routine_id}/network")
def measure_by(db: Db, routine: RoutineHeld, said: s.MeasuredBy) -> s.RoutineView:
    """All clips of the routine are measured anew, by the quick or by the careful network."""
    intake.remeasure(db, routine, said.network)
    for clip in routine.clips:
        flow.begin(db, clip)
    db.flush()
    return views.routine(routine)


@router.delete("/routines/{routine_id}", status_code=204)
def delete(db: Db, routine: RoutineHeld) -> None:
    for clip in list(routine.clips):
        intake.forget(db, clip)
    db.delete(routine)


@router.post("/routines/{routine_id}/reference", openapi_extra=BYTES)
async def change_reference(request: Request, routine_id: int, name: str) -> s.Uploaded:
    """Another instructor's clip in the place of the first one, as soon as it is whole; its grid is still to be placed
    then, and undo brings the first one back."""

    def make(db: Session, arrived: Arrived) -> s.Uploaded:
        routine = routines.get(db, routine_id, lock=True)
        _check_new(routine, arrived)
        if routines.reference(routine) is None:
            return _added(db, routine, Role.REFERENCE, arrived)
        clip = intake.add(db, routine, Role.COMING, arrived.name, arrived.content, arrived.facts)
        flow.begin(db, clip)
        return s.Uploaded(routine=routine.id, clip=clip.id, screen=s.Screen.COUNT)

    return await take_in(request, name, make)


@router.post("/routines/{routine_id}/takes", openapi_extra=BYTES)
async def add_take(request: Request, routine_id: int, name: str) -> s.Uploaded:
    """A take: the body is the clip."""

    def make(db: Session, arrived: Arrived) -> s.Uploaded:
        routine = routines.get(db, routine_id, lock=True)
        _check_new(routine, arrived)
        return _added(db, routine, Role.TAKE, arrived)

    return await take_in(request, name, make)


@router.post("/routines/{routine_id}/references", openapi_extra=BYTES)
async def add_reference(request: Request, routine_id: int, name: str) -> s.Uploaded:
    """Another clip of the instructor beside the first: a slow one, from the back, of the feet."""

    def make(db: Session, arrived: Arrived) -> s.Uploaded:
        routine = routines.get(db, routine_id, lock=True)
        if routines.reference(routine) is None:
            raise Refused("There is no instructor's clip yet for another one to lie beside. Drop it in Count.")
        _check_new(routine, arrived)
        return _added(db, routine, Role.REFERENCE, arrived)

    return await take_in(request, name, make)


@router.put("/routines/{routine_id}/pieces/{row}")
def keep_piece(db: Db, routine: RoutineHeld, row: int, said: s.PieceSaid) -> s.RoutineView:
    """Where a row is danced in a clip, for a reference that is put together."""
    clip = clips.of(routine, said.clip)
    first, after = clip.start_s + said.first_s, clip.start_s + min(said.next_s, clip.duration_s)
    piece = PieceRow(
        routine_id=routine.id, row_id=_id_of(routine, row), clip_id=clip.id, first_s=first, next_s=after,
        flipped=said.flipped,
    )  # fmt: skip
    try:
        assembly.piece_of(piece, clip)
    except PieceError as error:
        raise Refused(str(error), 422) from error
    routines.keep_piece(db, routine, piece)
    return views.routine(routine)


@router.delete("/routines/{routine_id}/pieces/{row}")
def drop_piece(db: Db, routine: RoutineHeld, row: int) -> s.RoutineView:
    routines.drop_piece(db, routine, _id_of(routine, row))
    return views.routine(routine)


def _id_of(routine: Routine, row: int) -> str:
    """Of a row as it is danced. Raises Refused."""
    phrases = SheetForm.model_validate(routines.current(routine).sheet).value().phrases
    if not 1 <= row <= len(phrases):
        raise Refused(f"The sheet has no row {row}.", 422)
    return phrases[row - 1].id


@router.post("/routines/{routine_id}/assemble")
def assemble(db: Db, routine: RoutineHeld) -> s.Uploaded:
    """The pieces of all rows, one after the other, become the clip on which the sheet is counted."""
    try:
        clip = assembly.put_together(db, routine)
    except PieceError as error:
        raise Refused(str(error)) from error
    flow.begin(db, clip)
    return s.Uploaded(routine=routine.id, clip=clip.id, screen=s.Screen.WATCH)


def _added(db: Session, routine: Routine, role: Role, arrived: Arrived) -> s.Uploaded:
    clip = intake.add(db, routine, role, arrived.name, arrived.content, arrived.facts)
    flow.begin(db, clip)
    taken, watched = clip.role is Role.TAKE, flow.is_long(clip) or not clip.is_first
    screen = s.Screen.COMPARE if taken else s.Screen.WATCH if watched else s.Screen.COUNT
    return s.Uploaded(routine=routine.id, clip=clip.id, screen=screen)


@router.put("/routines/{routine_id}/sheet")
def change_sheet(db: Db, routine: RoutineHeld, sheet: SheetForm) -> s.RoutineView:
    """A new state of the sheet. Refused with the place and the reason where a line can't be read."""
    readable(sheet)
    return keep_sheet(db, routine, sheet)


def readable(sheet: SheetForm) -> None:
    """Raises SheetError where a row or the order can't be read, FormError where a step of one's own can't."""
    for step in sheet.steps:
        step.value()
    found = problems(sheet.written()) if sheet.phrases else ()
    if found:
        raise SheetError(found)


def keep_sheet(db: Session, routine: Routine, sheet: SheetForm) -> s.RoutineView:
    before = routines.current(routine)
    form = sheet.plainly().identified(SheetForm.model_validate(before.sheet)).model_dump(mode="json")
    if form != before.sheet:
        intake.keep_edit(db, routine, form, before.grid)
        flow.compare_all(db, routine)
    return views.routine(routine)


@router.get("/routines/{routine_id}/proposal")
def proposed(routine: RoutineShown) -> s.ProposalView:
    """What is read off the instructor's clip for the sheet."""
    return proposing.view(routine)


@router.post("/routines/{routine_id}/proposal")
def take_proposed(db: Db, routine: RoutineHeld, said: s.RowsTaken) -> s.RoutineView:
    """What is sure of it goes into the sheet, where nothing was typed."""
    return keep_sheet(db, routine, proposing.take(routine, said.rows))


@router.post("/routines/{routine_id}/undo")
def undo(db: Db, routine: RoutineHeld) -> s.RoutineView:
    return _step(db, routine, -1)


@router.post("/routines/{routine_id}/redo")
def redo(db: Db, routine: RoutineHeld) -> s.RoutineView:
    return _step(db, routine, 1)


def _step(db: Session, routine: Routine, by: int) -> s.RoutineView:
    if intake.step(db, routine, by):
        flow.compare_all(db, routine)
        if first := routines.reference(routine):
            flow.begin(db, first)  # what was replaced for long may be measured otherwise by now
    return views.routine(routine)


def _check_new(routine: Routine, arrived: Arrived) -> None:
    """Raises Refused, which leaves a file that had been missing in its place."""
    same = clips.same(routine, arrived.content)
    if same is None:
        return
    others = {Role.TAKE: f"take {same.number}", Role.COMING: "the one that is being made ready"}
    which = others.get(same.role, "the instructor's clip")
    done = "Its file was missing, and is back." if arrived.restored else "Nothing was added."
    raise Refused(f"This very clip is here already, as {which}. {done}")
