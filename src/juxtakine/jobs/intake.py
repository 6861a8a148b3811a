"""A clip comes to a routine, and goes from it for good."""

from sqlalchemy.orm import Session

from juxtakine.jobs.places import media, shelf, stretch_of, track_of
from juxtakine.media.clips import ClipFacts
from juxtakine.pipeline.tracks import Stretch
from juxtakine.settings import settings
from juxtakine.store import clips, jobs
from juxtakine.store.models import Clip, Routine, Step


def add(db: Session, routine: Routine, number: int, name: str, content: str, facts: ClipFacts) -> Clip:
    """`number` 0 is the reference, takes count from 1; `content` names the file in the media folder.

    All clips of a routine are tracked by the same model, as they are compared with each other.
    """
    model = next((c.model for c in routine.clips), settings().model)
    clip = Clip(number=number, name=name, content=content, model=model, **vars(facts))
    routine.clips.append(clip)
    db.flush()
    return clip


def forget(db: Session, clip: Clip) -> None:
    """Jobs, result and row; and where no other clip has the same content, its files and track."""
    jobs.cancel(db, clip)
    if not clips.is_shared(db, clip):
        _forget_files(clip.content, track_of(clip))
        shelf().forget_looks(clip.content, stretch_of(clip))
    routine = clip.routine
    db.delete(clip)
    db.flush()
    db.expire(routine, ["clips"])


def use(db: Session, clip: Clip, start_s: float, end_s: float) -> None:
    """From now on only this stretch of the clip counts; what was measured of another one goes."""
    _unmeasured(db, clip)
    if not clips.is_shared(db, clip):
        shelf().forget_looks(clip.content, stretch_of(clip))
    clip.run = [start_s, end_s]


def follow(db: Session, clip: Clip, clicks: list[list[float]] | None) -> None:
    """From now on these clicks say who is followed; what was measured of others goes."""
    _unmeasured(db, clip)
    clip.clicks = clicks


def _unmeasured(db: Session, clip: Clip) -> None:
    jobs.cancel(db, clip)
    if not clips.is_shared(db, clip):
        shelf().forget(track_of(clip))
    jobs.forget(db, clip, Step.TRACK)


def tidy(db: Session, content: str, track: str, stretch: Stretch) -> None:
    """After work that was called off: what it still wrote for a clip that was deleted meanwhile goes too."""
    if not clips.holds(db, content):
        _forget_files(content, track)
        shelf().forget_looks(content, stretch)


def _forget_files(content: str, track: str) -> None:
    shelf().forget(track)
    media().forget(content)
