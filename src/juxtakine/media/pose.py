"""The pose estimator over a stretch of a clip, without the lag of its own smoothing.

Run as a process of its own (`python -m juxtakine.media.pose JOB.json`): it says `frame SECONDS` on standard output
for each frame it has done, and ends at once when its standard input closes, that is when its parent is gone.
The estimator smooths by the time stamps that it is told: stamps stretched by a large factor switch that off.
"""

import json
import os
import sys
import threading
from dataclasses import asdict, dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.movement.body import LANDMARKS
from juxtakine.media.frames import frames, upright

STRETCH = 100_000  # milliseconds told to the estimator per millisecond of film
LONGEST_SIDE = 640
SAME_S = 1e-4
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
    i = 0
    with vision.PoseLandmarker.create_from_options(options) as landmarker:
        for seconds, frame in frames(Path(chunk.clip), chunk.times[0], sparse=chunk.slack_s > 0):
            while i < n and wanted[i] < seconds - chunk.slack_s - SAME_S:
                i += 1  # a frame that can't be decoded: nobody is found in it
            if i == n:
                break
            if wanted[i] > seconds + SAME_S:
                continue
            picture = mp.Image(image_format=mp.ImageFormat.SRGB, data=upright(frame, LONGEST_SIDE))
            found = landmarker.detect_for_video(picture, round((seconds - wanted[0]) * 1000 * STRETCH))
            if found.pose_landmarks:
                image[i] = [(p.x, p.y) for p in found.pose_landmarks[0]]
                visibility[i] = [p.visibility for p in found.pose_landmarks[0]]
                world[i] = [(p.x, p.y, p.z) for p in found.pose_world_landmarks[0]]
            print(f"frame {seconds}", flush=True)
            i += 1
    keep = slice(chunk.keep_from, None)
    return Estimates(wanted[keep], image[keep], world[keep], visibility[keep])


def save(estimates: Estimates, to: Path) -> None:
    """Written aside first, so that a file that is there is whole."""
    aside = to.with_suffix(f".{os.getpid()}.npz")
    np.savez_compressed(aside, **asdict(estimates))
    aside.rename(to)


def load(path: Path) -> Estimates:
    with np.load(path) as data:
        return Estimates(**{k: data[k] for k in data.files})


def _end_with_parent() -> None:
    sys.stdin.read()
    os._exit(1)


if __name__ == "__main__":
    threading.Thread(target=_end_with_parent, daemon=True).start()
    job = Chunk(**json.loads(Path(sys.argv[1]).read_text()))
    save(run(job), Path(job.out))
