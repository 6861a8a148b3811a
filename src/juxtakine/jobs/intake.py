"""A clip comes to a routine, and goes from it for good."""

from sqlalchemy.orm import Session

from juxtakine.jobs.places import media, shelf
from juxtakine.media.clips import ClipFacts
from juxtakine.settings import settings
from juxtakine.store import clips, jobs
from juxtakine.store.models import Clip, Routine


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
        _forget_files(clip.content, clip.model)
    routine = clip.routine
    db.delete(clip)
    db.flush()
    db.expire(routine, ["clips"])


def tidy(db: Session, content: str, model: str) -> None:
    """After work that was called off: what it still wrote for a clip that was deleted meanwhile goes too."""
    if not clips.holds(db, content):
        _forget_files(content, model)


def _forget_files(content: str, model: str) -> None:
    shelf().forget(shelf().key(content, model))
    media().forget(content)
