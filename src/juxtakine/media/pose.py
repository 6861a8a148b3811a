"""The pose estimator over a stretch of a clip, without the lag of its own smoothing.

Run as a process of its own (`python -m juxtakine.media.pose JOBS.json`): it says `frame SECONDS` on standard output
for each frame it has done, and ends at once when its standard input closes, that is when its parent is gone.
The estimator smooths by the time stamps that it is told: stamps stretched by a large factor switch that off.
"""

import json
import os
import sys
from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.movement.body import LANDMARKS
from juxtakine.media.children import confined
from juxtakine.media.frames import Decode, Picture, upright, wanted_frames

STRETCH = 100_000  # milliseconds told to the estimator per millisecond of film
LONGEST_SIDE = 640
GREY = 128
TRUNK = [11, 12, 23, 24]
AWAY = 0.45
"""Trunk lengths from where the one is followed beyond which it is somebody else."""
ESTIMATOR = "mediapipe-0.10.30"
Guides = list[list[float] | None]
"""For each frame the box of the one who is followed, the middle of the trunk and its length, in heights of the
picture (core/movement/people.py); None where they are not seen."""


@dataclass(frozen=True)
class Chunk:
    """A stretch of a clip for one process: which frames to estimate, and from which on to keep them. A frame may be
    taken up to `slack_s` after its time."""

    clip: str
    model: str
    times: list[float]
    keep_from: int
    out: str
    slack_s: float = 0.0
    decode: Decode = Decode.ALL
    guides: Guides | None = None
    """All but who is followed is painted over."""


@dataclass(frozen=True)
class Estimates:
    """(k,) seconds, (k, 33, 2) image as a share of the picture, (k, 33, 3) world, (k, 33) visibility."""

    seconds: NDArray[np.float64]
    image: NDArray[np.float64]
    world: NDArray[np.float64]
    visibility: NDArray[np.float64]


@dataclass(frozen=True)
class BodySeen:
    """(33, 2) pixels, (33, 3) world, (33,) visibility in one picture."""

    image: NDArray[np.float64]
    world: NDArray[np.float64]
    visibility: NDArray[np.float64]


def run(chunk: Chunk) -> Estimates:
    """Estimate the chunk's frames. NaN where nobody is found."""
    import mediapipe as mp  # heavy to load: only the processes that estimate do

    vision = mp.tasks.vision
    options = vision.PoseLandmarkerOptions(
        base_options=mp.tasks.BaseOptions(model_asset_path=chunk.model),
        running_mode=vision.RunningMode.VIDEO,
        num_poses=1,
    )
    n = len(chunk.times)
    image, world = np.full((n, LANDMARKS, 2), np.nan), np.full((n, LANDMARKS, 3), np.nan)
    visibility = np.full((n, LANDMARKS), np.nan)
    wanted = np.array(chunk.times)
    with vision.PoseLandmarker.create_from_options(options) as landmarker:

        def told(rgb: Picture, stamp: int) -> BodySeen | None:
            found = landmarker.detect_for_video(mp.Image(image_format=mp.ImageFormat.SRGB, data=rgb), stamp)
            return _body(found, rgb) if found.pose_landmarks else None

        for i, seconds, frame in wanted_frames(Path(chunk.clip), chunk.times, chunk.slack_s, chunk.decode):
            rgb, stamp = upright(frame, LONGEST_SIDE), round((seconds - wanted[0]) * 1000 * STRETCH)
            found = told(rgb, stamp) if chunk.guides is None else _guided(told, rgb, stamp, chunk.guides, i)
            if found is not None:
                image[i] = found.image / [rgb.shape[1], rgb.shape[0]]
                visibility[i], world[i] = found.visibility, found.world
            print(f"frame {seconds}", flush=True)
    keep = slice(chunk.keep_from, None)
    return Estimates(wanted[keep], image[keep], world[keep], visibility[keep])


def _body(found: Any, rgb: Picture) -> BodySeen:
    image, world = found.pose_landmarks[0], found.pose_world_landmarks[0]
    high, wide = rgb.shape[:2]
    return BodySeen(
        np.array([(p.x * wide, p.y * high) for p in image]),
        np.array([(p.x, p.y, p.z) for p in world]),
        np.array([p.visibility for p in image]),
    )


Told = Callable[[Picture, int], BodySeen | None]
"""What the estimator tells of a picture at a time stamp."""


def _guided(told: Told, rgb: Picture, stamp: int, guides: Guides, i: int) -> BodySeen | None:
    """What the estimator tells of the one who is followed; None where they are not there."""
    guide = guides[i]
    if guide is None:
        return None
    rows, columns = _window(guides, rgb)
    alone = np.ascontiguousarray(_alone(rgb, guide)[rows, columns])

    def there(stamp: int) -> BodySeen | None:
        found = told(alone, stamp)
        placed = found and replace(found, image=found.image + np.array([columns.start, rows.start]))
        return placed if placed and _is_there(placed, guide, rgb) else None

    found = there(stamp)
    if found is None:
        # it holds on to somebody else: an empty picture makes it let go
        told(np.full_like(alone, GREY), stamp + 1)
        found = there(stamp + 2)
    return found


def _window(guides: Guides, rgb: Picture) -> tuple[slice, slice]:
    """The rows and columns in which the one is throughout: in a picture that is mostly painted over, the estimator does
    not find who is small."""
    boxes = np.array([g[:4] for g in guides if g]) * rgb.shape[0]
    left, top = np.maximum(0, np.floor(boxes[:, :2].min(0))).astype(int)
    right, bottom = np.ceil(boxes[:, 2:].max(0)).astype(int)
    return slice(top, bottom), slice(left, right)


def _alone(rgb: Picture, guide: list[float]) -> Picture:
    """The picture with everything outside the guide's box painted grey."""
    left, top, right, bottom = (max(0, round(v * rgb.shape[0])) for v in guide[:4])
    out = np.full_like(rgb, GREY)
    out[top:bottom, left:right] = rgb[top:bottom, left:right]
    return out


def _is_there(found: BodySeen, guide: list[float], rgb: Picture) -> bool:
    """Whether the estimator's trunk is where the guide says that the followed one's is."""
    x, y = found.image[TRUNK].mean(0) / rgb.shape[0]
    return bool(np.hypot(x - guide[4], y - guide[5]) < AWAY * guide[6])


def asked() -> list[Chunk]:
    """The chunks that this process is to do, one after the other."""
    return [Chunk(**job) for job in json.loads(Path(sys.argv[1]).read_text())]


def save(estimates: Estimates, to: Path) -> None:
    """Written aside first, so that a file that is there is whole."""
    aside = to.with_suffix(f".{os.getpid()}.npz")
    np.savez_compressed(aside, **asdict(estimates))
    aside.rename(to)


def load(path: Path) -> Estimates:
    with np.load(path) as data:
        return Estimates(**{k: data[k] for k in data.files})


if __name__ == "__main__":
    confined()
    for job in asked():
        save(run(job), Path(job.out))
