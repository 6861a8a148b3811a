"""The state of jobs: who may take one, whether its worker lives, and whether it is still wanted."""

from datetime import timedelta

from sqlalchemy import CursorResult, delete, select, update
from sqlalchemy.orm import Session

from juxtakine.store.models import Clip, Job, JobState, JobStep, now

DEAD_AFTER_S = 8


def add(db: Session, clip: Clip, step: JobStep) -> Job:
    """A new job of this clip, or the one like it that is still waiting."""
    waiting = next((j for j in clip.jobs if j.step is step and j.state is JobState.QUEUED), None)
    if waiting:
        return waiting
    job = Job(clip_id=clip.id, step=step)
    clip.jobs.append(job)
    db.flush()
    return job


def claim(db: Session, job_id: int, worker: str) -> Job | None:
    """Take the job if nobody has: the same message may come twice."""
    taken = db.execute(
        update(Job)
        .where(Job.id == job_id, Job.state == JobState.QUEUED)
        .values(state=JobState.RUNNING, worker=worker, started_at=now(), heartbeat_at=now(), done=0, error=None)
    )
    assert isinstance(taken, CursorResult)
    return db.get(Job, job_id) if taken.rowcount else None


def beat(db: Session, job_id: int, worker: str, progress: tuple[int, int] | None) -> bool:
    """Say that the worker lives and how far it is; false when the job is not its own any more (cancelled, deleted)."""
    values: dict[str, object] = {"heartbeat_at": now()}
    if progress:
        values |= {"done": progress[0], "total": progress[1]}
    mine = (Job.id == job_id, Job.worker == worker, Job.state == JobState.RUNNING)
    beaten = db.execute(update(Job).where(*mine).values(**values))
    assert isinstance(beaten, CursorResult)
    return bool(beaten.rowcount)


def finish(db: Session, job_id: int, worker: str, state: JobState, error: str | None = None) -> bool:
    """False when the job is not its own any more, so that nothing may follow from it."""
    mine = (Job.id == job_id, Job.worker == worker, Job.state == JobState.RUNNING)
    ended = db.execute(update(Job).where(*mine).values(state=state, error=error, heartbeat_at=now()))
    assert isinstance(ended, CursorResult)
    return bool(ended.rowcount)


def at_work(db: Session, clip: Clip, step: JobStep) -> bool:
    """Whether a worker does this step of the clip now; until this transaction ends it can't finish.

    Else it could end between our look and our edit's commit: it would not see the edit, and we would leave it to it.
    """
    running = (Job.clip_id == clip.id, Job.step == step, Job.state == JobState.RUNNING)
    with db.no_autoflush:  # the job's lock comes before the clip's, as it does for who finishes it
        return db.scalar(select(Job.id).where(*running).with_for_update()) is not None


def cancel(db: Session, clip: Clip) -> None:
    live = (Job.clip_id == clip.id, Job.state.in_([JobState.QUEUED, JobState.RUNNING]))
    db.execute(update(Job).where(*live).values(state=JobState.CANCELLED))
    db.expire(clip, ["jobs"])


def forget(db: Session, clip: Clip, step: JobStep) -> None:
    """That the step was ever done: it has to be done again."""
    db.execute(delete(Job).where(Job.clip_id == clip.id, Job.step == step))
    db.expire(clip, ["jobs"])


def orphans(db: Session) -> list[int]:
    """Put back what is marked as running but has no heartbeat; returns all that waits to be taken."""
    dead = now() - timedelta(seconds=DEAD_AFTER_S)
    lost = (Job.state == JobState.RUNNING, Job.heartbeat_at < dead)
    # looked for without a lock, and locked by their keys: over all jobs it had met whoever ends one in a deadlock
    if ids := db.scalars(select(Job.id).where(*lost)).all():
        db.execute(update(Job).where(Job.id.in_(ids), *lost).values(state=JobState.QUEUED, worker=None))
    return list(db.scalars(select(Job.id).where(Job.state == JobState.QUEUED).order_by(Job.id)))
