"""Clips of routines."""

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from juxtakine.store.models import Clip, ComparisonRow, Job, JobState, JobStep, Role, Routine
from juxtakine.store.routines import Missing

MOST_KEPT = 40
"""Comparisons of a take: of a routine that is edited again and again the newest are enough."""


def get(db: Session, clip_id: int) -> Clip:
    found = db.get(Clip, clip_id)
    if found is None:
        raise Missing("This clip is not here any more.")
    return found


def of(routine: Routine, clip_id: int) -> Clip:
    """One of the routine's clips."""
    found = next((c for c in routine.clips if c.id == clip_id), None)
    if found is None:
        raise Missing("This clip is not here any more.")
    return found


def next_number(db: Session, routine: Routine, role: Role) -> int:
    """Takes count from 1, and so do the references beside the first."""
    highest = db.scalar(select(func.max(Clip.number)).where(Clip.routine_id == routine.id, Clip.role == role))
    return (highest or 0) + 1


def same(routine: Routine, content: str) -> Clip | None:
    """The clip of this routine with the same content, but for those that had been replaced."""
    return next((c for c in routine.clips if c.content == content and c.role is not Role.FORMER), None)


def alike(db: Session, content: str) -> list[Clip]:
    """All clips with this content."""
    return list(db.scalars(select(Clip).where(Clip.content == content)))


def contents(db: Session) -> set[str]:
    """Of all clips."""
    return set(db.scalars(select(Clip.content)))


def last_job(clip: Clip, step: JobStep | None = None) -> Job | None:
    return next((j for j in reversed(clip.jobs) if step is None or j.step is step), None)


def has_done(clip: Clip, step: JobStep) -> bool:
    return any(j.step is step and j.state is JobState.DONE for j in clip.jobs)


def compared(clip: Clip, inputs: str) -> ComparisonRow | None:
    """What came of exactly these inputs."""
    return next((c for c in clip.comparisons if c.inputs == inputs), None)


def keep_comparison(db: Session, clip: Clip, made: ComparisonRow) -> None:
    """Beside the older ones, of which the oldest go; in the place of one from the same inputs."""
    same = compared(clip, made.inputs)
    for gone in (*([same] if same else []), *clip.comparisons[: -(MOST_KEPT - 1)]):
        db.delete(gone)
    db.flush()
    db.add(made)
    db.flush()
    db.expire(clip, ["comparisons"])
