"""A clip comes to a routine, takes the first reference's place or gives it back, and goes for good.

Its files go after its row: once nothing in the database has the same content any more, and never beside somebody who
brings that content in.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import update
from sqlalchemy.orm import Session

from juxtakine.core.movement.tracks import Network
from juxtakine.jobs.places import media, shelf, stretch_of, track_of
from juxtakine.media.clips import ClipFacts
from juxtakine.pipeline.tracks import FromTo
from juxtakine.settings import settings
from juxtakine.store import clips, jobs, routines
from juxtakine.store.database import after_commit, session
from juxtakine.store.models import Clip, Edit, JobStep, Role, Routine


@contextmanager
def taken_in(arrived: Path, content: str) -> Iterator[Session]:
    """The arrived file in its place, and the transaction in which a clip gets it: both hold, or neither does."""
    with media().alone():
        media().take_in(arrived, content)
        try:
            with session() as db:
                yield db
        finally:
            with session() as db:
                _clear_unless_held(db, content)


def _clear_unless_held(db: Session, content: str) -> None:
    if not clips.alike(db, content):
        media().forget(content)


def add(db: Session, routine: Routine, role: Role, name: str, content: str, facts: ClipFacts) -> Clip:
    """`content` names the file in the media folder. The first clip of the instructor carries the counts; any further
    one lies beside it.

    All clips of a routine are tracked by the same model, as they are compared with each other.
    """
    if role is Role.COMING:
        _leave_out(db, routine)
    model = next((c.model for c in routine.clips), settings().model)
    is_first = role is Role.REFERENCE and routines.reference(routine) is None
    number = 0 if is_first else clips.next_number(db, routine, role)
    clip = _added(db, routine, Clip(role=role, number=number, name=name, content=content, model=model, **vars(facts)))
    if is_first:
        routines.current(routine).reference_id = clip.id
    return clip


def add_stretch(db: Session, clip: Clip, start_s: float, end_s: float) -> Clip:
    """Another reference from a stretch of a clip that is there."""
    routine = clip.routine
    kept = ("name", "content", "start_s", "duration_s", "width", "height", "fps", "frames", "has_sound", "model")
    number = clips.next_number(db, routine, Role.REFERENCE)
    said = {name: getattr(clip, name) for name in (*kept, "flipped", "mirrored")}
    return _added(db, routine, Clip(role=Role.REFERENCE, number=number, run=[start_s, end_s], **said))


def _added(db: Session, routine: Routine, clip: Clip) -> Clip:
    routine.clips.append(clip)
    db.flush()
    db.expire(routine, ["clips"])
    return clip


def add_made(db: Session, routine: Routine, clip: Clip) -> Clip:
    """A clip that is still to be made will be the first reference once it is."""
    _leave_out(db, routine)
    clip.role, clip.number = Role.COMING, clips.next_number(db, routine, Role.COMING)
    return _added(db, routine, clip)


def _leave_out(db: Session, routine: Routine) -> None:
    """One at most is to come: another one takes its place."""
    if waiting := routines.coming(routine):
        forget(db, waiting)


def take_over(db: Session, clip: Clip) -> None:
    """What was coming is whole: it carries the counts from now on, where that is known; undo gives the place back."""
    routine, grid = clip.routine, clip.grid
    _make_first(db, routine, clip)
    clip.grid = None
    keep_edit(db, routine, routines.current(routine).sheet, grid, clip)


def step(db: Session, routine: Routine, by: int) -> bool:
    """Undo (-1) or redo (+1), with the first reference as it was then; false where there is nothing to."""
    if not routines.step(routine, by):
        return False
    wanted = routines.current(routine).reference_id
    clip = next((c for c in routine.clips if c.id == wanted), None)
    if clip is not None:
        _make_first(db, routine, clip)
    return True


def _make_first(db: Session, routine: Routine, clip: Clip) -> None:
    """What was the first is kept for undo, or lies beside where the new one is put together from it."""
    before = routines.reference(routine)
    if before is clip:
        return
    if before is not None:
        is_part = any(part["clip"] == before.id for part in clip.parts or ())
        role = Role.REFERENCE if is_part else Role.FORMER
        before.role, before.number = role, clips.next_number(db, routine, role)
        db.flush()
    clip.role, clip.number = Role.REFERENCE, 0
    db.flush()
    db.expire(routine, ["clips"])


def keep_edit(
    db: Session, routine: Routine, sheet: dict[str, Any], grid: dict[str, Any] | None, first: Clip | None = None
) -> None:
    """A new state of sheet and grid; a clip that only undone states had as their first reference goes with them."""
    routines.change(db, routine, sheet, grid, first)
    reached = {edit.reference_id for edit in routine.edits}
    for clip in routines.former(routine):
        if clip.id not in reached:
            forget(db, clip)


def forget(db: Session, clip: Clip) -> None:
    """Jobs, result and row; and once that holds, its files and track, where no other clip has them."""
    jobs.cancel(db, clip)
    _clear_afterwards(db, clip)
    # where its counts lay means nothing in another clip
    db.execute(update(Edit).where(Edit.reference_id == clip.id).values(grid=None, reference_id=None))
    routine = clip.routine
    db.delete(clip)
    db.flush()
    db.expire(routine, ["clips", "edits"])


def use(db: Session, clip: Clip, start_s: float, end_s: float) -> None:
    """From now on only this stretch of the clip counts; what was measured of another one goes."""
    _untracked(db, clip)
    clip.run = [start_s, end_s]


def follow(db: Session, clip: Clip, clicks: list[list[float]] | None) -> None:
    """From now on these clicks say who is followed; what was measured of others goes."""
    _untracked(db, clip)
    clip.clicks = clicks
    if not clicks:  # whether there is more than one to follow is looked at anew
        content, stretch = clip.content, stretch_of(clip)
        if not any(stretch_of(c) == stretch for c in clips.alike(db, content) if c.id != clip.id):
            shelf().forget_looks(content, stretch)


def remeasure(db: Session, routine: Routine, network: Network) -> None:
    """From now on all the routine's clips are measured by this network, as they are compared with each other; what
    another one measured goes."""
    for clip in routine.clips:
        if clip.model != network:
            _untracked(db, clip)
            clip.model = network


def _untracked(db: Session, clip: Clip) -> None:
    jobs.cancel(db, clip)
    _clear_afterwards(db, clip)
    jobs.forget(db, clip, JobStep.TRACK)
    clip.placed = None


def _clear_afterwards(db: Session, clip: Clip) -> None:
    content, track, stretch = clip.content, track_of(clip), stretch_of(clip)
    after_commit(db, lambda: clear(content, track, stretch))


def clear(content: str, track: str, stretch: FromTo) -> None:
    """What lies there of a clip, as far as no clip needs it any more."""
    with media().alone(), session() as db:
        alike = clips.alike(db, content)
        if all(track_of(clip) != track for clip in alike):
            shelf().forget(track)
        if all(stretch_of(clip) != stretch for clip in alike):
            shelf().forget_looks(content, stretch)
        _clear_unless_held(db, content)
