"""A clip comes to a routine, and goes from it for good."""

from sqlalchemy.orm import Session

from juxtakine.core.movement.tracks import Network
from juxtakine.jobs.places import media, shelf, stretch_of, track_of
from juxtakine.media.clips import ClipFacts
from juxtakine.pipeline.tracks import Stretch
from juxtakine.settings import settings
from juxtakine.store import clips, jobs
from juxtakine.store.models import Clip, Role, Routine, Step


def add(db: Session, routine: Routine, role: Role, number: int, name: str, content: str, facts: ClipFacts) -> Clip:
    """`number` 0 is the first reference; `content` names the file in the media folder.

    All clips of a routine are tracked by the same model, as they are compared with each other.
    """
    model = next((c.model for c in routine.clips), settings().model)
    clip = Clip(role=role, number=number, name=name, content=content, model=model, **vars(facts))
    return _added(db, routine, clip)


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


def forget(db: Session, clip: Clip) -> None:
    """Jobs, result and row; and where no other clip has the same content, its files and track."""
    jobs.cancel(db, clip)
    _forget_track(db, clip)
    _forget_looks(db, clip)
    if not clips.is_shared(db, clip):
        media().forget(clip.content)
    routine = clip.routine
    db.delete(clip)
    db.flush()
    db.expire(routine, ["clips"])


def use(db: Session, clip: Clip, start_s: float, end_s: float) -> None:
    """From now on only this stretch of the clip counts; what was measured of another one goes."""
    _unmeasured(db, clip)
    clip.run = [start_s, end_s]


def follow(db: Session, clip: Clip, clicks: list[list[float]] | None) -> None:
    """From now on these clicks say who is followed; what was measured of others goes."""
    _untracked(db, clip)
    clip.clicks = clicks
    if not clicks:  # whether there is more than one to follow is looked at anew
        _forget_looks(db, clip)


def remeasure(db: Session, routine: Routine, network: Network) -> None:
    """From now on all the routine's clips are measured by this network, as they are compared with each other; what
    another one measured goes."""
    for clip in routine.clips:
        if clip.model != network:
            _untracked(db, clip)
            clip.model = network


def _untracked(db: Session, clip: Clip) -> None:
    jobs.cancel(db, clip)
    _forget_track(db, clip)
    jobs.forget(db, clip, Step.TRACK)
    clip.placed = None


def _unmeasured(db: Session, clip: Clip) -> None:
    _untracked(db, clip)
    _forget_looks(db, clip)


def _forget_looks(db: Session, clip: Clip) -> None:
    """Who was seen, unless another clip is the same stretch of the same file."""
    if not any(stretch_of(c) == stretch_of(clip) for c in clips.others_like(db, clip)):
        shelf().forget_looks(clip.content, stretch_of(clip))


def _forget_track(db: Session, clip: Clip) -> None:
    if not any(track_of(c) == track_of(clip) for c in clips.others_like(db, clip)):
        shelf().forget(track_of(clip))


def tidy(db: Session, content: str, track: str, stretch: Stretch) -> None:
    """After work that was called off: what it still wrote for a clip that was deleted meanwhile goes too."""
    if not clips.holds(db, content):
        shelf().forget(track)
        media().forget(content)
        shelf().forget_looks(content, stretch)
