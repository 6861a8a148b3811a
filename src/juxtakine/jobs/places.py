"""Where files lie for the jobs and the web."""

from juxtakine.pipeline.tracks import Shelf
from juxtakine.settings import settings
from juxtakine.store.media_folder import MediaFolder


def media() -> MediaFolder:
    return MediaFolder(settings().media)


def shelf() -> Shelf:
    return Shelf(settings().tracks, settings().models)
