"""What follows what: probe at the door (or a clip put together from others), of a long clip a glance for its run, then
play copy, track; a reference beside the first is placed, a take compared. An edit places and compares again, and
tracks nothing."""

from sqlalchemy.orm import Session

from juxtakine.jobs import inputs, intake
from juxtakine.jobs.app import send
from juxtakine.store import clips, jobs, routines
from juxtakine.store.database import after_commit
from juxtakine.store.models import Clip, JobState, JobStep, Role, Routine

LONG_S = 100.0
"""A reference that lasts longer is looked through for its run; a shorter one is danced through, as a rule."""


def begin(db: Session, clip: Clip) -> None:
    """From the first step that is not done; what is done is not done again."""
    if clip.role is Role.FORMER:
        return
    if clip.parts and not clips.has_done(clip, JobStep.ASSEMBLE):
        queue(db, clip, JobStep.ASSEMBLE)
    elif _awaits_glance(clip):
        queue(db, clip, JobStep.GLANCE)  # before the play copy, which takes as long: the run is proposed the sooner
    elif not clips.has_done(clip, JobStep.PREPARE):
        queue(db, clip, JobStep.PREPARE)
    elif clip.role is Role.COMING:
        intake.take_over(db, clip)
        begin(db, clip)
    elif awaits_run(clip):
        return
    elif not clips.has_done(clip, JobStep.TRACK):
        queue(db, clip, JobStep.TRACK)
    elif clip.role is Role.REFERENCE:
        compare_all(db, clip.routine)
    else:
        _if_stale(db, clip)


def _awaits_glance(clip: Clip) -> bool:
    """A glance that failed is not tried again: the run can be shown by hand."""
    last = clips.last_job(clip, JobStep.GLANCE)
    failed = last is not None and last.state is JobState.FAILED
    return awaits_run(clip) and clip.stretches is None and not failed


def is_long(clip: Clip) -> bool:
    return clip.role is Role.REFERENCE and clip.duration_s > LONG_S


def awaits_run(clip: Clip) -> bool:
    """Whether somebody has to say which stretch of a long clip is the run."""
    return is_long(clip) and clip.run is None


def follow(db: Session, clip_id: int) -> None:
    """Queue what a finished step makes possible."""
    begin(db, clips.get(db, clip_id))


def compare_all(db: Session, routine: Routine) -> None:
    """After an edit of sheet or grid: every reference whose place and every take whose result is out of date."""
    for clip in (*routines.others(routine), *routines.takes(routine)):
        _if_stale(db, clip)


def catch_up(db: Session) -> None:
    """After an update: what it compares otherwise is compared anew."""
    for routine in routines.every(db):
        compare_all(db, routine)


def queue(db: Session, clip: Clip, step: JobStep) -> None:
    job_id = jobs.add(db, clip, step).id
    after_commit(db, lambda: send(job_id))  # a worker may only hear of a job once it can see it


def _if_stale(db: Session, clip: Clip) -> None:
    wanted = inputs.fingerprint(clip)
    if wanted is None or is_made(clip, wanted):
        return
    step = JobStep.COMPARE if clip.role is Role.TAKE else JobStep.PLACE
    if not jobs.at_work(db, clip, step):  # who is at work looks again when it is done
        queue(db, clip, step)


def is_made(clip: Clip, wanted: str) -> bool:
    """Whether a take's result, or a reference's place, was made from this fingerprint's inputs."""
    if clip.role is Role.TAKE:
        return clips.compared(clip, wanted) is not None
    return clip.placed is not None and clip.placed["inputs"] == wanted
