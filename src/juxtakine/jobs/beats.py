"""The beat of a reference's run: found once for each stretch, and kept beside the clip."""

from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import features
from juxtakine.core.movement.moving import moves_off
from juxtakine.jobs.places import media, shelf, stretch_of, track_of
from juxtakine.pipeline.beats import HeardBeats, heard_beats
from juxtakine.pipeline.comparison import Sound
from juxtakine.store import clips
from juxtakine.store.models import Clip, JobStep

VERSION = 1
"""Of how beats are found: what an older one found is found anew."""


def found(clip: Clip) -> HeardBeats:
    """Found now, if it was not before: a second or two for a run of three minutes."""
    kept = media().beats(clip.content, _name(clip))
    if kept:
        return HeardBeats.model_validate(kept)
    samples = media().sound(clip.content)
    if samples is None:
        return HeardBeats(paces=[], why_not="This clip has no sound to find the beat in: place the counts by hand.")
    made = heard_beats(Sound(samples, clip.start_s).between(*stretch_of(clip)), _moves_off(clip))
    media().keep_beats(clip.content, _name(clip), made.model_dump(mode="json"))
    return made


def _moves_off(clip: Clip) -> float | None:
    track = shelf().fetch(track_of(clip)) if clips.has_done(clip, JobStep.TRACK) else None
    return moves_off(features(clean(track))) if track and track.found.any() else None


def _name(clip: Clip) -> str:
    """By the version, the stretch, and whether it was known who moves."""
    ends = "-".join("all" if at is None else f"{at:.2f}" for at in stretch_of(clip))
    return f"{VERSION}-{ends}-{'moved' if clips.has_done(clip, JobStep.TRACK) else 'heard'}"
