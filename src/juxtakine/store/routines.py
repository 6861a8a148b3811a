"""Routines and the edits of their sheets."""

from typing import Any

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from juxtakine.store.models import Clip, Edit, PieceRow, Role, Routine


class Missing(LookupError):
    """There is no such thing (any more); the message names it."""


def every(db: Session) -> list[Routine]:
    """Newest first."""
    return list(db.scalars(select(Routine).order_by(Routine.made_at.desc(), Routine.id.desc())))


def get(db: Session, routine_id: int, lock: bool = False) -> Routine:
    found = db.get(Routine, routine_id, with_for_update=lock or None)
    if found is None:
        raise Missing("This routine is not here any more.")
    return found


def hold(db: Session, routine_id: int) -> None:
    """Wait for whoever changes this routine, and let nobody else until the transaction ends. It has to come first: what
    is read before may be older."""
    db.execute(select(Routine.id).where(Routine.id == routine_id).with_for_update())


def create(db: Session, sheet: dict[str, Any], grid: dict[str, Any] | None = None, demo: str | None = None) -> Routine:
    routine = Routine(demo=demo)
    routine.edits.append(Edit(number=0, sheet=sheet, grid=grid))
    db.add(routine)
    db.flush()
    return routine


def demo(db: Session, name: str) -> Routine | None:
    return db.scalar(select(Routine).where(Routine.demo == name))


def current(routine: Routine) -> Edit:
    return next(e for e in routine.edits if e.number == routine.edit)


def change(
    db: Session, routine: Routine, sheet: dict[str, Any], grid: dict[str, Any] | None, first: Clip | None = None
) -> None:
    """A new edit, of another first reference where one is given; what had been undone is dropped."""
    reference_id = first.id if first else current(routine).reference_id
    db.execute(delete(Edit).where(Edit.routine_id == routine.id, Edit.number > routine.edit))
    routine.edit += 1
    db.add(Edit(routine_id=routine.id, number=routine.edit, sheet=sheet, grid=grid, reference_id=reference_id))
    db.flush()
    db.expire(routine, ["edits"])


def step(routine: Routine, by: int) -> bool:
    """Undo (-1) or redo (+1); false where there is nothing to."""
    wanted = routine.edit + by
    if not any(e.number == wanted for e in routine.edits):
        return False
    routine.edit = wanted
    return True


def reference(routine: Routine) -> Clip | None:
    """The one on which the sheet's counts are placed."""
    return next((c for c in routine.clips if c.is_first), None)


def references(routine: Routine) -> list[Clip]:
    """The instructor's clips, the first of them first."""
    first = reference(routine)
    return [*([first] if first else []), *others(routine)]


def others(routine: Routine) -> list[Clip]:
    """The references beside the first, oldest first."""
    return [c for c in routine.clips if c.role is Role.REFERENCE and not c.is_first]


def coming(routine: Routine) -> Clip | None:
    """What takes the first reference's place as soon as it is whole."""
    return next((c for c in routine.clips if c.role is Role.COMING), None)


def former(routine: Routine) -> list[Clip]:
    """What undo may give its place back to as the first reference."""
    return [c for c in routine.clips if c.role is Role.FORMER]


def takes(routine: Routine) -> list[Clip]:
    """Oldest first."""
    return [c for c in routine.clips if c.role is Role.TAKE]


def keep_piece(db: Session, routine: Routine, piece: PieceRow) -> None:
    """In the place of the one that its row had before."""
    db.merge(piece)
    db.flush()
    db.expire(routine, ["pieces"])


def drop_piece(db: Session, routine: Routine, row_id: str) -> None:
    db.execute(delete(PieceRow).where(PieceRow.routine_id == routine.id, PieceRow.row_id == row_id))
    db.expire(routine, ["pieces"])
