"""Where files lie for the jobs and the web."""

from juxtakine.core.movement.people import Click
from juxtakine.media.play_copy import is_whole
from juxtakine.pipeline.tracks import FromTo, Shelf
from juxtakine.settings import settings
from juxtakine.store.media_folder import MediaFolder
from juxtakine.store.models import Clip


def media() -> MediaFolder:
    return MediaFolder(settings().media)


def shelf() -> Shelf:
    return Shelf(settings().tracks, settings().models)


def stretch_of(clip: Clip) -> FromTo:
    """From where to where the clip is used, in its own seconds."""
    return (clip.run[0], clip.run[1]) if clip.run else (None, None)


def clicks_of(clip: Clip) -> tuple[Click, ...]:
    """Who is followed in the clip; nobody in particular where there are none."""
    return tuple(Click(*c) for c in clip.clicks or ())


def track_of(clip: Clip) -> str:
    """The name of the clip's track on the shelf."""
    return shelf().key(clip.content, clip.model, stretch_of(clip), clicks_of(clip))


def is_prepared(content: str) -> bool:
    """Whether the copy that browsers play, the sound and its wave are there and whole."""
    wave = media().wave(content)
    heard = wave is not None and (not wave or media().holds_sound(content))
    return heard and is_whole(media().play_copy(content))
