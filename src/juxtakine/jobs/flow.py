"""What follows what: probe at the door, then play copy, track, compare; an edit compares again, and tracks nothing."""

from sqlalchemy.orm import Session

from juxtakine.jobs import inputs
from juxtakine.jobs.app import send_after_commit
from juxtakine.store import clips, jobs, routines
from juxtakine.store.models import Clip, Role, Routine, Step


def begin(db: Session, clip: Clip) -> None:
    """From the first step that is not done; what is done is not done again."""
    for step in (Step.PREPARE, Step.TRACK):
        if not clips.has_done(clip, step):
            queue(db, clip, step)
            return
    if clip.role is Role.TAKE:
        _compare_if_stale(db, clip)


def follow(db: Session, clip_id: int, step: Step) -> None:
    """Queue what a finished step makes possible."""
    clip = clips.get(db, clip_id)
    if step is Step.PREPARE:
        queue(db, clip, Step.TRACK)
    elif clip.role is Role.REFERENCE:
        compare_all(db, clip.routine)
    else:
        _compare_if_stale(db, clip)


def compare_all(db: Session, routine: Routine) -> None:
    """After an edit of sheet or grid: every take whose result is out of date."""
    for take in routines.takes(routine):
        _compare_if_stale(db, take)


def compare_everything(db: Session) -> None:
    """After an update that compares otherwise."""
    for routine in routines.every(db):
        compare_all(db, routine)


def queue(db: Session, clip: Clip, step: Step) -> None:
    send_after_commit(db, jobs.add(db, clip, step).id)


def _compare_if_stale(db: Session, take: Clip) -> None:
    wanted = inputs.fingerprint(take)
    if wanted is None or (take.comparison and take.comparison.inputs == wanted):
        return
    if not jobs.at_work(db, take, Step.COMPARE):  # who is at work looks again when it is done
        queue(db, take, Step.COMPARE)
