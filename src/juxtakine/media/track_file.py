"""A track as an .npz file (docs/formats.md says its arrays)."""

import uuid
import zlib
from pathlib import Path
from zipfile import BadZipFile

import numpy as np

from juxtakine.core.movement import errors
from juxtakine.core.movement.tracks import Track

UNREADABLE = (
    OSError, ValueError, KeyError, EOFError, TypeError, OverflowError, NotImplementedError, MemoryError, BadZipFile,
    zlib.error,
)  # fmt: skip
"""What a file of arrays that is damaged, cut off or something else may lead to."""


class TrackFileError(ValueError):
    """A file that is no track."""


def save_track(track: Track, to: Path) -> None:
    """Written aside first: a track file that is there is whole."""
    to.parent.mkdir(parents=True, exist_ok=True)
    aside = to.with_name(f".{to.name}.{uuid.uuid4().hex}.new.npz")
    np.savez_compressed(
        aside,
        seconds=track.seconds, image=track.image.astype(np.float32), world=track.world.astype(np.float32),
        visibility=track.visibility.astype(np.float32), error_px=errors.of_track(track).astype(np.float32),
        followed=track.followed, estimated=track.estimated,
        width=track.width, height=track.height, estimator=track.estimator,
    )  # fmt: skip
    aside.rename(to)


def load_track(path: Path) -> Track:
    """Raises TrackFileError when the file is not a track."""
    try:
        with np.load(path) as data:
            seconds, image, world, visibility = (
                np.asarray(data[k], float) for k in ("seconds", "image", "world", "visibility")
            )
            followed, estimated = (np.asarray(data[k], bool) for k in ("followed", "estimated"))
            width, height, estimator = int(data["width"]), int(data["height"]), str(data["estimator"])
        return Track(seconds, image, world, visibility, followed, estimated, width, height, estimator)
    except UNREADABLE as error:
        raise TrackFileError(f"{path.name} is not a track: {error}") from error
