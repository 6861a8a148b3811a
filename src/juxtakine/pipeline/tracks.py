"""The shelf of tracks: what was tracked once, from the same clip in the same way, is never tracked again."""

import fcntl
import hashlib
import os
import shutil
import time
import zipfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import astuple, dataclass
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.movement.following import follow, follow_most_prominent
from juxtakine.core.movement.people import Click, Followed, Sightings, guides, unclaimed
from juxtakine.core.movement.tracks import Track
from juxtakine.media import apart, pose
from juxtakine.media.processes import Progress
from juxtakine.media.sightings import load_sightings, save_sightings, several_in_shot, sighted
from juxtakine.media.track_file import UNREADABLE, TrackFileError, load_track, save_track
from juxtakine.media.tracking import track

FromTo = tuple[float | None, float | None]
"""From and to, in seconds of the clip; None is its beginning or end."""
Clicks = Sequence[Click]
WAIT_S = 0.2
PEOPLE_VERSION = 1
TRACKING_VERSION = 4
"""Raised when the same estimator would give another track (frames picked, how they are filled in, who is followed)."""


def content_of(path: Path) -> str:
    """The file's SHA-256, by which the same clip is known under any name."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


@dataclass(frozen=True)
class Shelf:
    """`folder` keeps the tracks, `models` the estimator's network files."""

    folder: Path
    models: Path

    def key(self, content: str, model: str, stretch: FromTo = (None, None), clicks: Clicks = ()) -> str:
        """Names a track by all that makes it what it is."""
        whom = tuple(map(astuple, clicks)) or "most prominent"
        # a network's name, be it as the enum or as a string
        told = (content, stretch, whom, pose.ESTIMATOR, str(model), TRACKING_VERSION)
        return hashlib.sha256(repr(told).encode()).hexdigest()[:40]

    def looks_key(self, content: str, stretch: FromTo) -> str:
        """Names what was seen of all that are in shot."""
        return hashlib.sha256(repr((content, stretch, PEOPLE_VERSION)).encode()).hexdigest()[:40]

    def people(self, content: str, stretch: FromTo) -> Path:
        """Where it is kept who was in shot."""
        return self.folder / f"{self.looks_key(content, stretch)}.people.npz"

    def glance_key(self, content: str) -> str:
        return content[:40]

    def glance(self, content: str) -> Path:
        """Where a glance at the clip keeps what it has seen until it is through."""
        return self.folder / f"{self.glance_key(content)}.glance"

    def path(self, key: str) -> Path:
        return self.folder / f"{key}.npz"

    def holds(self, key: str) -> bool:
        """Whether a track is there, and not cut off: the last part of its file says what is in it."""
        return zipfile.is_zipfile(self.path(key))

    def fetch(self, key: str) -> Track | None:
        """None where it is not there; one that can't be read goes, to be made again."""
        try:
            return load_track(self.path(key))
        except TrackFileError:
            self.path(key).unlink(missing_ok=True)
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
        stretch: FromTo = (None, None),
        content: str | None = None,
        clicks: Clicks = (),
    ) -> Track:
        """From the shelf, or tracked now and put there; broken-off work is gone on with.

        Raises ClipError, and NobodyThere for a click that hits nobody.
        """
        content = content or content_of(clip)
        key = self.key(content, model, stretch, clicks)
        kept = self.fetch(key)
        if kept is not None:
            return kept
        workspace = self.folder / f"{key}.parts"
        with _alone(workspace, lambda: on_progress(0, 1)):
            if self.fetch(key) is None:
                whom = self._whom(clip, content, stretch, clicks, on_progress)
                guided = whom and (lambda seconds: guides(*whom, seconds))
                made = track(clip, self.models / f"pose_{model}.task", workspace, on_progress, *stretch, guided)
                self.keep(key, unclaimed(made, *whom) if whom else made)
            shutil.rmtree(workspace, ignore_errors=True)
        # as every later call will have it, to the last digit
        return load_track(self.path(key))

    def sightings(self, clip: Path, content: str, stretch: FromTo, on_progress: Progress) -> Sightings:
        """Everybody in shot, from the shelf or looked at now."""
        file = self.people(content, stretch)
        if self.seen(content, stretch) is None:
            workspace = file.with_suffix(".parts")
            with _alone(workspace, lambda: on_progress(0, 1)):
                if self.seen(content, stretch) is None:
                    save_sightings(sighted(clip, workspace, on_progress, *stretch), file)
                shutil.rmtree(workspace, ignore_errors=True)
        return load_sightings(file)

    def seen(self, content: str, stretch: FromTo) -> Sightings | None:
        """Everybody in shot, as it was looked at before; None where nobody has, or it can't be read any more."""
        try:
            return load_sightings(self.people(content, stretch))
        except UNREADABLE:
            return None

    def followed(
        self, content: str, stretch: FromTo, clicks: Clicks, aspect: float
    ) -> tuple[NDArray[np.float64], Followed] | None:
        """Seconds of the looks, and whom the clicks follow, or of several in shot the most prominent; None where nobody
        looked who is in shot yet, or only one body is. Raises NobodyThere."""
        seen = self.seen(content, stretch)
        if seen is None:
            return None
        one = follow(seen, [c.scaled(aspect) for c in clicks]) if clicks else follow_most_prominent(seen, aspect)
        return None if one is None else (seen.seconds, one)

    def _whom(
        self, clip: Path, content: str, stretch: FromTo, clicks: Clicks, on_progress: Progress
    ) -> tuple[Sightings, Followed] | None:
        """Everybody in shot, and the one who is followed among several."""
        if not clicks and not self._several(clip, content, stretch, lambda: on_progress(0, 1)):
            return None
        facts = apart.read(clip).facts
        seen = self.sightings(clip, content, stretch, on_progress)
        found = self.followed(content, stretch, clicks, facts.width / facts.height)
        return found and (seen, found[1])

    def _several(self, clip: Path, content: str, stretch: FromTo, waiting: Callable[[], None]) -> bool:
        if self.seen(content, stretch) is not None:
            return True
        with TemporaryDirectory(prefix="juxtakine-") as workspace:
            return several_in_shot(clip, Path(workspace), waiting, *stretch)

    def forget_looks(self, content: str, stretch: FromTo) -> None:
        """Who was in shot, and what a glance has seen."""
        file = self.people(content, stretch)
        file.unlink(missing_ok=True)
        for folder in (file.with_suffix(".parts"), self.glance(content)):
            _clear(folder)

    def forget(self, key: str) -> None:
        self.path(key).unlink(missing_ok=True)
        _clear(self.folder / f"{key}.parts")

    def clear(self, kept: set[str], older_s: float) -> int:
        """Remove what no name in `kept` begins with (keys, `looks_key`, `glance_key`) and nobody has touched for so
        long; returns how many files and folders. Who works on something is left alone."""
        before = time.time() - older_s
        left = [e for e in self.folder.glob("*") if e.name.split(".")[0] not in kept and e.stat().st_mtime < before]
        for entry in left:
            if entry.is_dir():
                _clear(entry)
            else:
                entry.unlink(missing_ok=True)
        return len(left)


def _clear(workspace: Path) -> None:
    """Remove it, unless somebody works in it: who does clears it at their end."""
    try:
        folder = os.open(workspace, os.O_RDONLY)
    except FileNotFoundError:
        return
    try:
        if _locked(folder):
            shutil.rmtree(workspace, ignore_errors=True)
    finally:
        os.close(folder)


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
