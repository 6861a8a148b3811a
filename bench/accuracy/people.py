"""Real people: one person filmed at the same moment by four cameras, from the demo that the package pose2sim ships.

Every camera against every other as if they were two dancers: all lags are known to be nought, or what the time stamps
were moved by; and each clip against its own picture flipped, cut close to the body, or dim and grainy. The clips last
under two seconds and the cameras stand 47 to 180 degrees apart: far harder than a take.
"""

import subprocess
import sys
import zipfile
from collections.abc import Callable
from itertools import permutations
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

from accuracy.films import CACHE
from accuracy.score import Scores
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.refused import CompareError
from juxtakine.core.comparing.results import Method
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Phrase, Sheet
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import features
from juxtakine.core.movement.tracks import Floats, Track
from juxtakine.media.track_file import load_track, save_track
from juxtakine.media.tracking import track
from juxtakine.settings import settings

PACKAGE, FOLDER = "pose2sim==0.10.49", "Pose2Sim/Demo_SinglePerson/videos/"
CAMERAS = (1, 2, 3, 4)
SHEET = Sheet("a kick", (Phrase("", 4, "1 & 2 & 3 & 4"),))
GRID = Grid.from_tempo(0.25, 150)
MOVED_MS = (-120.0, 0.0, 80.0)
CLOSE, DIM, GRAIN = 0.04, 0.3, 10.0
"""How near the body the picture is cut, in its heights; how bright a dim one is, and how grainy in levels."""
Picture = NDArray[np.uint8]
Change = Callable[[Picture], Picture]
LIMB_ENDS = [13, 14, 15, 16, 25, 26, 27, 28]
SWAPPED = 0.2
"""Half of the limbs' ends so many torso lengths away from where the heavy model's track has them: left for right."""


def measured(model: str) -> Scores:
    """Lags against what they are known to be; and where left and right stay exchanged after cleaning."""
    scores = Scores()
    found = {c: tracked(c, model) for c in CAMERAS}
    seen = {c: features(clean(t)) for c, t in found.items()}
    for one, other in permutations(CAMERAS, 2):
        for moved in MOVED_MS:
            common = CommonTime(GRID.shifted(0.0), Method.SOUND, 1.0)
            later = features(clean(_later(found[other], moved / 1000)))
            told = compare(seen[one], later, SHEET, GRID, common)
            constant = told.alignment.constant_lag_ms or 0.0
            for c in told.counts:
                scores.hits["real person, another camera: measured"].append(c.timing.error_ms is not None)
                if c.timing.error_ms is not None:
                    error = c.timing.error_ms + constant - moved
                    scores.values["real person, another camera: lag error"].append(error)
    for c in CAMERAS:
        for how in CHANGES:
            own, name = features(clean(changed(c, how, model))), f"real person, picture {how}"
            try:
                told = compare(seen[c], own, SHEET, GRID, CommonTime(GRID, Method.SOUND, 1.0))
            except CompareError as refused:
                scores.hits[f"{name}: enough is seen"].append(False)
                scores.misses.append(f"camera {c}, picture {how}: {refused}")
                continue
            scores.hits[f"{name}: enough is seen"].append(True)
            constant = told.alignment.constant_lag_ms or 0.0
            errors = [x.timing.error_ms for x in told.counts if x.timing.error_ms is not None]
            scores.values[f"{name}: lag error"] += [e + constant for e in errors]
            scores.hits[f"{name}: mirror images or not"].append(bool(told.mirror.used) == (how == "flipped"))
            scores.hits[f"{name}: false findings"] += [any(f.sure for f in x.findings) for x in told.counts]
        wrong = _swapped(found[c], tracked(c, "heavy"))
        scores.hits["real person: left and right exchanged in a frame"] += wrong.tolist()
    return scores


def _later(t: Track, seconds: float) -> Track:
    return Track(
        t.seconds + seconds, t.image, t.world, t.visibility, t.followed, t.estimated, t.width, t.height, t.estimator
    )


def _swapped(one: Track, trusted: Track) -> Floats:
    a, b = clean(one).image, clean(trusted).image
    torso = np.nanmedian(np.linalg.norm(b[:, 11] - b[:, 23], axis=1))
    return np.asarray(np.nanmedian(np.linalg.norm(a - b, axis=2)[:, LIMB_ENDS], axis=1) > SWAPPED * torso)


def tracked(camera: int, model: str) -> Track:
    """Looked at by eye: the heavy model's tracks of all four clips have left and right where they are."""
    file = CACHE / "people" / model / f"{camera}.npz"
    if not file.exists():
        clip = fetched() / f"cam{camera:02}.mp4"
        save_track(track(clip, settings().task_file(model), file.with_suffix(".parts")), file)
    return load_track(file)


def changed(camera: int, how: str, model: str) -> Track:
    """The same clip with its picture changed, and tracked anew."""
    file = CACHE / "people" / model / f"{camera}-{how}.npz"
    if not file.exists():
        clip = file.with_suffix(".mp4")
        _written(fetched() / f"cam{camera:02}.mp4", clip, CHANGES[how](tracked(camera, model)))
        save_track(track(clip, settings().task_file(model), file.with_suffix(".parts")), file)
    return load_track(file)


def _written(clip: Path, to: Path, change: Change) -> None:
    with av.open(str(clip)) as file, av.open(str(to), "w") as out:
        shown = file.streams.video[0]
        video = out.add_stream("libx264", rate=shown.average_rate, options={"crf": "18", "preset": "veryfast"})
        video.pix_fmt, video.codec_context.time_base = "yuv420p", shown.time_base
        for i, frame in enumerate(file.decode(shown)):
            made = av.VideoFrame.from_ndarray(np.ascontiguousarray(change(frame.to_ndarray(format="rgb24"))), "rgb24")
            if i == 0:
                video.width, video.height = made.width, made.height
            made.pts, made.time_base = frame.pts, frame.time_base
            out.mux(video.encode(made))
        out.mux(video.encode())


def _flipped(found: Track) -> Change:
    return lambda picture: picture[:, ::-1]


def _cropped(found: Track) -> Change:
    """To where somebody is seen, and a little more."""
    x, y = (found.image[..., k] for k in (0, 1))
    edge = CLOSE * found.height
    box = [np.nanmin(y) - edge, np.nanmax(y) + edge, np.nanmin(x) - edge, np.nanmax(x) + edge]
    top, bottom, left, right = (max(0, int(v)) // 2 * 2 for v in box)
    return lambda picture: picture[top:bottom, left:right]


def _dimmed(found: Track) -> Change:
    random = np.random.default_rng(0)
    return lambda picture: np.clip(DIM * picture + random.normal(0, GRAIN, (*picture.shape[:2], 1)), 0, 255).astype(
        np.uint8
    )


CHANGES: dict[str, Callable[[Track], Change]] = {"flipped": _flipped, "cropped": _cropped, "dimmed": _dimmed}


def fetched() -> Path:
    """The folder with the four clips."""
    folder = CACHE / "people"
    if not (folder / FOLDER).exists():
        command = [sys.executable, "-m", "pip", "download", "--quiet", "--no-deps", "--dest", str(folder), PACKAGE]
        subprocess.run(command, check=True)
        with zipfile.ZipFile(next(folder.glob("pose2sim-*.whl"))) as wheel:
            wheel.extractall(folder, [n for n in wheel.namelist() if n.startswith(FOLDER)])
    return folder / FOLDER
