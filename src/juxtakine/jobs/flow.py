"""What follows what: probe at the door, then play copy, of a long clip a glance for its run, track, compare; an edit
compares again, and tracks nothing."""

from sqlalchemy.orm import Session

from juxtakine.jobs import inputs
from juxtakine.jobs.app import send_after_commit
from juxtakine.store import clips, jobs, routines
from juxtakine.store.models import Clip, Role, Routine, Step

LONG_S = 100.0
"""A reference that lasts longer is looked through for its run; a shorter one is danced through, as a rule."""


def begin(db: Session, clip: Clip) -> None:
    """From the first step that is not done; what is done is not done again."""
    if not clips.has_done(clip, Step.PREPARE):
        queue(db, clip, Step.PREPARE)
    elif is_long(clip) and clip.run is None and clip.stretches is None:
        queue(db, clip, Step.GLANCE)
    elif awaits_run(clip):
        return
    elif not clips.has_done(clip, Step.TRACK):
        queue(db, clip, Step.TRACK)
    elif clip.role is Role.REFERENCE:
        compare_all(db, clip.routine)
    else:
        _compare_if_stale(db, clip)


def is_long(clip: Clip) -> bool:
    return clip.role is Role.REFERENCE and clip.duration_s > LONG_S


def awaits_run(clip: Clip) -> bool:
    """Whether somebody has to say which stretch of a long clip is the run."""
    return is_long(clip) and clip.run is None


def follow(db: Session, clip_id: int) -> None:
    """Queue what a finished step makes possible."""
    begin(db, clips.get(db, clip_id))


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
