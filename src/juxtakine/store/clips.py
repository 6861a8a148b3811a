"""Clips of routines."""

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from juxtakine.store.models import Clip, Job, JobState, Routine, Step
from juxtakine.store.routines import Missing


def get(db: Session, clip_id: int) -> Clip:
    found = db.get(Clip, clip_id)
    if found is None:
        raise Missing("This clip is not here any more.")
    return found


def next_number(db: Session, routine: Routine) -> int:
    highest = db.scalar(select(func.max(Clip.number)).where(Clip.routine_id == routine.id))
    return (highest or 0) + 1


def same(routine: Routine, content: str) -> Clip | None:
    """The clip of this routine with the same content."""
    return next((c for c in routine.clips if c.content == content), None)


def is_shared(db: Session, clip: Clip) -> bool:
    """Whether another clip has the same content, so that its files must stay."""
    others = select(func.count()).where(Clip.content == clip.content, Clip.id != clip.id)
    return bool(db.scalar(others))


def holds(db: Session, content: str) -> bool:
    """Whether any clip has this content."""
    return bool(db.scalar(select(func.count()).where(Clip.content == content)))


def last_job(clip: Clip, step: Step | None = None) -> Job | None:
    return next((j for j in reversed(clip.jobs) if step is None or j.step is step), None)


def has_done(clip: Clip, step: Step) -> bool:
    return any(j.step is step and j.state is JobState.DONE for j in clip.jobs)
