"""The files of clips, by content: the same clip is kept once, however often and under whatever name it comes."""

import hashlib
import json
import shutil
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class MediaFolder:
    root: Path

    def of(self, content: str) -> Path:
        return self.root / content[:2] / content

    def clip(self, content: str) -> Path:
        return self.of(content) / "clip"

    def play_copy(self, content: str) -> Path:
        return self.of(content) / "play.mp4"

    def sound(self, content: str) -> NDArray[np.float32] | None:
        file = self.of(content) / "sound.npy"
        return np.load(file) if file.exists() else None

    def wave(self, content: str) -> list[float]:
        file = self.of(content) / "wave.json"
        return json.loads(file.read_text()) if file.exists() else []

    def keep_sound(self, content: str, samples: NDArray[np.float32], wave: NDArray[np.float32]) -> None:
        with (self.of(content) / "sound.npy").open("wb") as file:
            np.save(file, samples)
        (self.of(content) / "wave.json").write_text(json.dumps([round(float(v), 3) for v in wave]))

    def beats(self, content: str, stretch: str) -> Any | None:
        """What was found of the beat in a stretch of a clip, if anybody has looked."""
        file = self.of(content) / f"beats-{stretch}.json"
        return json.loads(file.read_text()) if file.exists() else None

    def keep_beats(self, content: str, stretch: str, found: Any) -> None:
        (self.of(content) / f"beats-{stretch}.json").write_text(json.dumps(found))

    def incoming(self) -> Path:
        """A new name for something on its way in."""
        folder = self.root / "incoming"
        folder.mkdir(parents=True, exist_ok=True)
        return folder / uuid.uuid4().hex

    def take_in(self, arrived: Path) -> str:
        """Put an arrived file in its place; returns its content's name."""
        with arrived.open("rb") as file:
            content = hashlib.file_digest(file, "sha256").hexdigest()
        place = self.clip(content)
        place.parent.mkdir(parents=True, exist_ok=True)
        arrived.replace(place)
        return content

    def make_clip(self, content: str, make: Callable[[Path], None]) -> None:
        """A clip that is made here, and named by what it is made of."""
        self._make(self.clip(content), make)

    def make_play_copy(self, content: str, make: Callable[[Path], None]) -> None:
        self._make(self.play_copy(content), make)

    def _make(self, file: Path, make: Callable[[Path], None]) -> None:
        """Made aside, so that a file that is there is whole."""
        if file.exists():
            return
        file.parent.mkdir(parents=True, exist_ok=True)
        aside = file.with_name(f"{file.stem}.{uuid.uuid4().hex}.new")
        try:
            make(aside)
            aside.replace(file)
        finally:
            aside.unlink(missing_ok=True)

    def forget(self, content: str) -> None:
        shutil.rmtree(self.of(content), ignore_errors=True)
