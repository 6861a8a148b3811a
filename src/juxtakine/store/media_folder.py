"""The files of clips, by content: the same clip is kept once, however often and under whatever name it comes.

A file here is whole and on the disk before it has its name. What can be made again from the clip (play copy, sound,
wave, beats) is told to be missing where it can't be read; who needs it has it made again.
"""

import fcntl
import json
import os
import shutil
import threading
import time
import uuid
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

INCOMING = "incoming"
ASIDE = ".new"
_held = threading.local()
"""The folder in which this thread is alone."""


@dataclass(frozen=True)
class MediaFolder:
    root: Path

    @contextmanager
    def alone(self) -> Iterator[None]:
        """Nobody else adds or takes away a clip's files as long as the block lasts, in any process.

        Whoever looks in the database whether a content is still needed, and acts on it, does both in here; who is in
        here already goes on.
        """
        if getattr(_held, "root", None) == self.root:
            yield
            return
        self.root.mkdir(parents=True, exist_ok=True)
        with (self.root / ".lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            _held.root = self.root
            try:
                yield
            finally:
                _held.root = None

    def contents(self) -> list[str]:
        """Of all clips that have a folder here."""
        return [folder.name for folder in self.root.glob("??/*") if folder.is_dir()]

    def of(self, content: str) -> Path:
        return self.root / content[:2] / content

    def clip(self, content: str) -> Path:
        return self.of(content) / "clip"

    def play_copy(self, content: str) -> Path:
        return self.of(content) / "play.mp4"

    def sound(self, content: str) -> NDArray[np.float32] | None:
        """None where the clip has no sound, or none that can be read."""
        try:
            return np.asarray(np.load(self.of(content) / "sound.npy"), np.float32)
        except (OSError, ValueError, EOFError):
            return None

    def holds_sound(self, content: str) -> bool:
        """Whether it could be read, without reading all of it."""
        try:
            return bool(np.load(self.of(content) / "sound.npy", mmap_mode="r").ndim)
        except (OSError, ValueError, EOFError):
            return False

    def wave(self, content: str) -> list[float] | None:
        """Empty for a silent clip; None where it was not made, or can't be read."""
        return _read_json(self.of(content) / "wave.json")

    def make_sound(self, content: str, make: Callable[[Path], bool]) -> NDArray[np.float32] | None:
        """`make` writes the samples as an array file, or says that there are none."""
        file = self.of(content) / "sound.npy"
        with _aside(file) as aside:
            if not make(aside):
                return None
            _on_disk(aside)
            aside.replace(file)
        return self.sound(content)

    def keep_wave(self, content: str, wave: NDArray[np.float32]) -> None:
        """The wave after the sound: where it is, the sound is too."""
        told = json.dumps([round(float(v), 3) for v in wave])
        _make(self.of(content) / "wave.json", lambda to: to.write_text(told))

    def missing(self, content: str) -> list[list[float]]:
        """(from, to) seconds of the stretches of the clip of which no picture could be decoded."""
        return _read_json(self.of(content) / "missing.json") or []

    def keep_missing(self, content: str, missing: Sequence[tuple[float, float]]) -> None:
        told = json.dumps(missing)
        _make(self.of(content) / "missing.json", lambda to: to.write_text(told))

    def beats(self, content: str, stretch: str) -> Any | None:
        """What was found of the beat in a stretch of a clip, if anybody has looked."""
        return _read_json(self.of(content) / f"beats-{stretch}.json")

    def keep_beats(self, content: str, stretch: str, found: Any) -> None:
        told = json.dumps(found)
        _make(self.of(content) / f"beats-{stretch}.json", lambda to: to.write_text(told))

    def incoming(self) -> Path:
        """A new name for something that this process takes in."""
        folder = self.root / INCOMING
        folder.mkdir(parents=True, exist_ok=True)
        return folder / f"{os.getpid()}.{uuid.uuid4().hex}"

    def clear_incoming(self) -> None:
        """Remove what was on its way in to a process that is no more: it will not come."""
        for file in (self.root / INCOMING).glob("*"):
            if not Path("/proc", file.name.partition(".")[0]).exists():
                file.unlink(missing_ok=True)

    def take_in(self, arrived: Path, content: str) -> None:
        """Put an arrived file in the place of its content, also where a damaged one lay."""
        place = self.clip(content)
        place.parent.mkdir(parents=True, exist_ok=True)
        _on_disk(arrived)
        arrived.replace(place)
        for folder in (place.parent, place.parent.parent, self.root):
            _on_disk(folder)

    def make_clip(self, content: str, make: Callable[[Path], object]) -> None:
        """A clip that is made here, and named by what it is made of."""
        if not self.clip(content).exists():
            _make(self.clip(content), make)

    def make_play_copy(self, content: str, make: Callable[[Path], object]) -> None:
        """In the place of one that is there."""
        _make(self.play_copy(content), make)

    def forget(self, content: str) -> None:
        shutil.rmtree(self.of(content), ignore_errors=True)

    def clear_broken_off(self, older_s: float) -> int:
        """Remove what a maker that was killed has left half made, if nobody has written to it for so long; returns how
        many files."""
        before = time.time() - older_s
        left = [file for file in self.root.glob(f"??/*/*{ASIDE}") if file.stat().st_mtime < before]
        for file in left:
            file.unlink(missing_ok=True)
        return len(left)


def _make(file: Path, make: Callable[[Path], object]) -> None:
    """Made aside, so that a file that is there is whole."""
    with _aside(file) as aside:
        make(aside)
        _on_disk(aside)
        aside.replace(file)


@contextmanager
def _aside(file: Path) -> Iterator[Path]:
    """A name beside the file's, of which nothing is left in the end."""
    file.parent.mkdir(parents=True, exist_ok=True)
    aside = file.with_name(f"{file.stem}.{uuid.uuid4().hex}{ASIDE}")
    try:
        yield aside
    finally:
        aside.unlink(missing_ok=True)


def _on_disk(path: Path) -> None:
    """Written for good, also where the power goes now."""
    opened = os.open(path, os.O_RDONLY)
    try:
        os.fsync(opened)
    finally:
        os.close(opened)


def _read_json(file: Path) -> Any | None:
    try:
        return json.loads(file.read_text())
    except (OSError, ValueError):
        return None
