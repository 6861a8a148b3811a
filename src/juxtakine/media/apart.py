"""What is read of a clip in a process of its own: whatever is wrong with the file, who asked gets an answer or a
sentence.

Run as `python -m juxtakine.media.apart JOB`, a JSON list of a task's name and its arguments. It says `done N` for
each picture, and last `answer JSON`, `refused SENTENCE` or `full`.
"""

import errno
import json
import sys
from collections.abc import Callable, Sequence
from dataclasses import asdict
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np

from juxtakine.media.assembling import ClipPart, assemble
from juxtakine.media.children import Child, Stalled, confined
from juxtakine.media.clips import ClipError, ClipFacts, ClipRead, missing, read_clip
from juxtakine.media.play_copy import make_play_copy
from juxtakine.media.sound import read_sound

OnFrame = Callable[[int], None]
WAIT_S = 0.4
TOO_MUCH = "This file can't be decoded within what this machine can give. Save it smaller, or as your camera does."


def read(clip: Path) -> ClipRead:
    """As `clips.read_clip`. Raises ClipError."""
    if not clip.exists():
        return read_clip(clip)  # which says so
    about = clip.stat()
    return _read(str(clip), about.st_size, about.st_mtime_ns)


@lru_cache(maxsize=16)
def _read(clip: str, size: int, changed: int) -> ClipRead:
    told = _asked("read", [clip])
    return ClipRead(ClipFacts(**told["facts"]), np.array(told["times"], float), np.array(told["keys"], float))


def sound_of(clip: Path, start_s: float, to: Path) -> bool:
    """Writes the clip's samples (`sound.read_sound`) as an array file; false where there are none. Raises ClipError."""
    return bool(_asked("sound", [str(clip), start_s, str(to)]))


def play_copy(clip: Path, to: Path, on_frame: OnFrame) -> list[tuple[float, float]]:
    """As `play_copy.make_play_copy`; returns (from, to) seconds of the clip's stretches of which no picture could be
    decoded. Raises ClipError."""
    return [(a, b) for a, b in _asked("play_copy", [str(clip), str(to)], on_frame)]


def put_together(parts: Sequence[ClipPart], to: Path, on_frame: OnFrame) -> None:
    """As `assembling.assemble`. Raises ClipError."""
    _asked("put_together", [[asdict(p) | {"clip": str(p.clip)} for p in parts], str(to)], on_frame)


def _asked(task: str, arguments: list[Any], on_frame: OnFrame = lambda done: None) -> Any:
    child = Child("juxtakine.media.apart", json.dumps([task, *arguments]))
    last = ""
    try:
        while child.status is None:
            for line in child.lines(WAIT_S):
                last = line
                if line.startswith("done "):
                    on_frame(int(line[5:]))
    except Stalled as error:
        raise ClipError(TOO_MUCH) from error
    finally:
        child.end()
    word, _, told = last.partition(" ")
    if word == "answer":
        return json.loads(told)
    if word == "full":
        raise OSError(errno.ENOSPC, "no space left")
    raise ClipError(told if word == "refused" else TOO_MUCH)


def _said(done: int) -> None:
    print(f"done {done}", flush=True)


def _read_here(clip: str) -> Any:
    made = read_clip(Path(clip))
    return {"facts": asdict(made.facts), "times": made.times.tolist(), "keys": made.keys.tolist()}


def _sound_here(clip: str, start_s: float, to: str) -> bool:
    samples = read_sound(Path(clip), start_s)
    if samples is not None:
        with open(to, "wb") as file:
            np.save(file, samples)
    return samples is not None


def _play_copy_here(clip: str, to: str) -> Any:
    made = read_clip(Path(clip))
    copied = make_play_copy(Path(clip), made.facts, Path(to), _said)
    return missing(made.times, copied)


def _put_together_here(parts: list[dict[str, Any]], to: str) -> None:
    assemble([ClipPart(**p | {"clip": Path(p["clip"])}) for p in parts], Path(to), _said)


TASKS: dict[str, Callable[..., Any]] = {
    "read": _read_here,
    "sound": _sound_here,
    "play_copy": _play_copy_here,
    "put_together": _put_together_here,
}


def _answer(task: str, arguments: list[Any]) -> str:
    try:
        return f"answer {json.dumps(TASKS[task](*arguments))}"
    except ClipError as error:
        return f"refused {error}"
    except MemoryError:
        return f"refused {TOO_MUCH}"
    except Exception as error:  # whatever a damaged file leads to in a decoder
        full = getattr(error, "errno", None) == errno.ENOSPC
        return "full" if full else "refused This file is damaged and can't be decoded. Copy it from the camera again."


if __name__ == "__main__":
    confined()
    name, *rest = json.loads(sys.argv[1])
    print(_answer(name, rest), flush=True)
