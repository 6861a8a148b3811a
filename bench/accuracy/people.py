"""Real people: one person filmed at the same moment by four cameras, from the demo that the package pose2sim ships.

Every camera against every other as if they were two dancers: all lags are known to be nought, or what the time stamps
were moved by. The clips last under two seconds and the cameras stand 47 to 180 degrees apart: far harder than a take.
"""

import subprocess
import sys
import zipfile
from itertools import permutations
from pathlib import Path

import numpy as np

from accuracy.films import CACHE
from accuracy.score import Scores
from juxtakine.core.comparing.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
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


def fetched() -> Path:
    """The folder with the four clips."""
    folder = CACHE / "people"
    if not (folder / FOLDER).exists():
        command = [sys.executable, "-m", "pip", "download", "--quiet", "--no-deps", "--dest", str(folder), PACKAGE]
        subprocess.run(command, check=True)
        with zipfile.ZipFile(next(folder.glob("pose2sim-*.whl"))) as wheel:
            wheel.extractall(folder, [n for n in wheel.namelist() if n.startswith(FOLDER)])
    return folder / FOLDER
