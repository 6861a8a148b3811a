"""The shelf of tracks: what was tracked once, from the same clip in the same way, is never tracked again."""

import fcntl
import hashlib
import os
import shutil
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from juxtakine.core.movement.tracks import Track
from juxtakine.media import pose
from juxtakine.media.track_file import TrackFileError, load_track, save_track
from juxtakine.media.tracking import Progress, track

Stretch = tuple[float | None, float | None]
"""From and to, in seconds of the clip; None is its beginning or end."""
WAIT_S = 0.2
TRACKING_VERSION = 1
"""Raised when the same estimator would give another track (frames picked, how they are filled in)."""


def content_of(path: Path) -> str:
    """The file's SHA-256, by which the same clip is known under any name."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


@dataclass(frozen=True)
class Shelf:
    """`folder` keeps the tracks, `models` the estimator's network files."""

    folder: Path
    models: Path

    def key(self, content: str, model: str, stretch: Stretch = (None, None)) -> str:
        """Names a track by all that makes it what it is."""
        told = (content, stretch, "largest person", pose.ESTIMATOR, model, TRACKING_VERSION)
        return hashlib.sha256(repr(told).encode()).hexdigest()[:40]

    def path(self, key: str) -> Path:
        return self.folder / f"{key}.npz"

    def fetch(self, key: str) -> Track | None:
        try:
            return load_track(self.path(key))
        except TrackFileError:
            return None

    def keep(self, key: str, made: Track) -> None:
        save_track(made, self.path(key))

    def put(self, key: str, track_file: Path) -> None:
        """A track that was made elsewhere in the same way."""
        self.folder.mkdir(parents=True, exist_ok=True)
        shutil.copyfile(track_file, self.path(key))

    def track(
        self,
        clip: Path,
        model: str,
        on_progress: Progress = lambda done, total: None,
        stretch: Stretch = (None, None),
        content: str | None = None,
    ) -> Track:
        """From the shelf, or tracked now and put there; broken-off work is gone on with. Raises ClipError."""
        key = self.key(content or content_of(clip), model, stretch)
        kept = self.fetch(key)
        if kept is not None:
            return kept
        workspace = self.folder / f"{key}.parts"
        with _alone(workspace, lambda: on_progress(0, 1)):
            if self.fetch(key) is None:
                self.keep(key, track(clip, self.models / f"pose_{model}.task", workspace, on_progress, *stretch))
            shutil.rmtree(workspace, ignore_errors=True)
        # as every later call will have it, to the last digit
        return load_track(self.path(key))

    def forget(self, key: str) -> None:
        self.path(key).unlink(missing_ok=True)
        shutil.rmtree(self.folder / f"{key}.parts", ignore_errors=True)


@contextmanager
def _alone(workspace: Path, waiting: Callable[[], None]) -> Iterator[None]:
    """Two may want the same track at once: one works, the other is called `waiting` until it is done (or raises).

    The lock is on the folder itself, so that it ends with the process that held it.
    """
    while True:
        workspace.mkdir(parents=True, exist_ok=True)
        folder = os.open(workspace, os.O_RDONLY)
        try:
            if _locked(folder) and _is_still(workspace, folder):
                yield
                return
        finally:
            os.close(folder)
        waiting()
        time.sleep(WAIT_S)


def _locked(folder: int) -> bool:
    try:
        fcntl.flock(folder, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    return True


def _is_still(workspace: Path, folder: int) -> bool:
    """Whoever had it before may have taken the folder away at its end."""
    return workspace.exists() and workspace.stat().st_ino == os.fstat(folder).st_ino
