"""The pose estimator over a stretch of a clip, without the lag of its own smoothing.

Run as a process of its own (`python -m juxtakine.media.pose JOB.json`): it says `frame SECONDS` on standard output
for each frame it has done, and ends at once when its standard input closes, that is when its parent is gone.
The estimator smooths by the time stamps that it is told: stamps stretched by a large factor switch that off.
"""

import json
import os
import sys
import threading
from collections.abc import Callable
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.movement.body import LANDMARKS
from juxtakine.media.frames import Picture, upright, wanted_frames

STRETCH = 100_000  # milliseconds told to the estimator per millisecond of film
LONGEST_SIDE = 640
GREY = 128
TRUNK = (11, 12, 23, 24)
AWAY = 0.45
"""Trunk lengths from where the one is followed beyond which it is somebody else."""
ESTIMATOR = "mediapipe-0.10.30"


@dataclass(frozen=True)
class Chunk:
    """A stretch of a clip for one process: which frames to estimate, and from which on to keep them.

    A frame may be taken up to `slack_s` after its time; with more than none, those that no other frame needs are not
    even decoded.
    """

    clip: str
    model: str
    times: list[float]
    keep_from: int
    out: str
    slack_s: float = 0.0
    guides: list[list[float] | None] | None = None
    """For each frame the box of the one who is followed, the middle of the trunk and its length, in heights of the
    picture (core/movement/people.py); None where they are not seen. All else is painted over."""


@dataclass(frozen=True)
class Estimates:
    """(k,) seconds, (k, 33, 2) image as a share of the picture, (k, 33, 3) world, (k, 33) visibility."""

    seconds: NDArray[np.float64]
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

        def told(rgb: Picture, stamp: int) -> Any:
            return landmarker.detect_for_video(mp.Image(image_format=mp.ImageFormat.SRGB, data=rgb), stamp)

        for i, seconds, frame in wanted_frames(Path(chunk.clip), chunk.times, chunk.slack_s):
            rgb, stamp = upright(frame, LONGEST_SIDE), round((seconds - wanted[0]) * 1000 * STRETCH)
            found = told(rgb, stamp) if chunk.guides is None else _guided(told, rgb, stamp, chunk.guides[i])
            if found is not None and found.pose_landmarks:
                image[i] = [(p.x, p.y) for p in found.pose_landmarks[0]]
                visibility[i] = [p.visibility for p in found.pose_landmarks[0]]
                world[i] = [(p.x, p.y, p.z) for p in found.pose_world_landmarks[0]]
            print(f"frame {seconds}", flush=True)
    keep = slice(chunk.keep_from, None)
    return Estimates(wanted[keep], image[keep], world[keep], visibility[keep])


def _guided(told: Callable[[Picture, int], Any], rgb: Picture, stamp: int, guide: list[float] | None) -> Any:
    """What the estimator tells of the one who is followed; None where they are not there."""
    if guide is None:
        return None
    found = told(_alone(rgb, guide), stamp)
    if not _is_there(found, guide, rgb):
        # it holds on to somebody else: an empty picture makes it let go
        told(np.full_like(rgb, GREY), stamp + 1)
        found = told(_alone(rgb, guide), stamp + 2)
    return found if _is_there(found, guide, rgb) else None


def _alone(rgb: Picture, guide: list[float]) -> Picture:
    """The picture with everything outside the guide's box painted grey."""
    left, top, right, bottom = (max(0, round(v * rgb.shape[0])) for v in guide[:4])
    out = np.full_like(rgb, GREY)
    out[top:bottom, left:right] = rgb[top:bottom, left:right]
    return out


def _is_there(found: Any, guide: list[float], rgb: Picture) -> bool:
    """Whether the estimator's trunk is where the guide says that the followed one's is."""
    if not found.pose_landmarks:
        return False
    high, wide = rgb.shape[:2]
    x, y = np.mean([(found.pose_landmarks[0][k].x * wide / high, found.pose_landmarks[0][k].y) for k in TRUNK], axis=0)
    return bool(np.hypot(x - guide[4], y - guide[5]) < AWAY * guide[6])


def save(estimates: Estimates, to: Path) -> None:
    """Written aside first, so that a file that is there is whole."""
    aside = to.with_suffix(f".{os.getpid()}.npz")
    np.savez_compressed(aside, **asdict(estimates))
    aside.rename(to)


def load(path: Path) -> Estimates:
    with np.load(path) as data:
        return Estimates(**{k: data[k] for k in data.files})


def end_with_parent() -> None:
    sys.stdin.read()
    os._exit(1)


if __name__ == "__main__":
    threading.Thread(target=end_with_parent, daemon=True).start()
    job = Chunk(**json.loads(Path(sys.argv[1]).read_text()))
    save(run(job), Path(job.out))
