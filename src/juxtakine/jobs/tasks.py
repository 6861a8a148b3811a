"""The one Celery task: take a job, do its step, queue what follows."""

import logging
import os
import socket
import threading
import time
import uuid

from sqlalchemy.exc import OperationalError

from juxtakine.core.comparing.refused import CompareError
from juxtakine.core.movement.following import NobodyThere
from juxtakine.jobs import flow, intake
from juxtakine.jobs.app import app
from juxtakine.jobs.mending import Lost, mend
from juxtakine.jobs.places import stretch_of, track_of
from juxtakine.jobs.room import disk_is_full, is_full
from juxtakine.jobs.steps import STEPS
from juxtakine.media.clips import ClipError
from juxtakine.settings import settings
from juxtakine.store import clips, jobs, routines
from juxtakine.store.database import is_away, is_deadlock, session
from juxtakine.store.models import Clip, JobState

BEAT_S = 1.0
ATTEMPTS = 4
log = logging.getLogger(__name__)


class Cancelled(Exception):
    """The job is not wanted any more."""


class Ticker:
    """Keeps a job's heartbeat while its step runs, and raises Cancelled in the step's progress once it is unwanted."""

    def __init__(self, job_id: int, worker: str) -> None:
        self.job_id, self.worker = job_id, worker
        self.progress: tuple[int, int] | None = None
        self.unwanted, self.over = threading.Event(), threading.Event()
        self.thread = threading.Thread(target=self._beat, daemon=True)

    def __enter__(self) -> "Ticker":
        self.thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self.over.set()
        self.thread.join()

    def __call__(self, done: int, total: int) -> None:
        self.progress = done, total
        if self.unwanted.is_set():
            raise Cancelled

    def _beat(self) -> None:
        while not self.over.wait(BEAT_S / 2):
            try:
                with session() as db:
                    alive = jobs.beat(db, self.job_id, self.worker, self.progress)
            except Exception:  # a database that restarts must not end the work
                log.exception("no heartbeat")
                time.sleep(BEAT_S)
                continue
            if not alive:
                self.unwanted.set()


@app.task(name="juxtakine.work")
def work(job_id: int) -> None:
    worker = f"{socket.gethostname()[:20]}-{os.getpid()}-{uuid.uuid4().hex[:8]}"
    with session() as db:
        job = jobs.claim(db, job_id, worker)
        if job is None:
            return
        step, clip_id = job.step, job.clip_id
        clip = clips.get(db, clip_id)
        content, track, stretch = clip.content, track_of(clip), stretch_of(clip)
    state, error = JobState.DONE, None
    try:
        with Ticker(job_id, worker) as tick:
            STEPS[step](clip_id, tick)
    except Cancelled:
        intake.clear(content, track, stretch)
        return
    except (ClipError, CompareError, NobodyThere) as refusal:
        state, error = JobState.FAILED, str(refusal)
    except Exception as failure:
        log.exception("job %s failed", job_id)
        if is_away(failure):  # whoever sweeps has it done again
            return
        state, error = JobState.FAILED, why(failure)
        if isinstance(failure, Lost):
            _mend(clip.routine_id)
    end(job_id, worker, clip, state, error)


def why(failure: Exception) -> str:
    """What is said of work that failed through no fault of the clip."""
    if is_full(failure, settings().var):
        return disk_is_full(settings().var)
    if isinstance(failure, Lost):
        return str(failure)
    if isinstance(failure, ChildProcessError):
        return "The measuring was ended twice, perhaps for want of memory. The clip is kept: measure it again."
    return f"This went wrong on our side ({type(failure).__name__}). The clip is kept: measure it again."


def _mend(routine_id: int) -> None:
    with session() as db:
        routines.hold(db, routine_id)
        mend(db, routines.get(db, routine_id))


def end(job_id: int, worker: str, clip: Clip, state: JobState, error: str | None = None) -> None:
    """Say how it ended and queue what follows; an edit at the same time may take the same rows, then once more.

    One after the other within a routine: of two tracks that end at once, each would else take the other for not done,
    and nobody would compare them.
    """
    for _ in range(ATTEMPTS):
        try:
            with session() as db:
                routines.hold(db, clip.routine_id)
                if jobs.finish(db, job_id, worker, state, error) and state is JobState.DONE:
                    flow.follow(db, clip.id)
            return
        except OperationalError as failure:
            if not is_deadlock(failure):
                raise
            log.warning("job %s ended beside an edit: once more", job_id)
    raise RuntimeError(f"job {job_id} could not be ended")
