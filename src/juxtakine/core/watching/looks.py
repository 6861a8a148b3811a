"""A cheap look at a clip: twice a second, is somebody there, and how much does that body move.

Dancing moves the whole body or swings the arms wide; who talks stands, and moves the hands before the body.
Conventions: a row per step of STEP_S seconds from the clip's beginning on; ways in torso lengths a second.
"""

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import uniform_filter1d

from juxtakine.core.movement.body import Landmark
from juxtakine.core.movement.errors import torso_length
from juxtakine.core.movement.tracks import Bools, Floats, Track

STEP_S = 0.5
SEEN = 0.5
JUMP = 6.0
"""Torso lengths a second that no body's middle makes: the estimator has taken another body or another place for it."""
MARKS = {
    "arms": (Landmark.LEFT_ELBOW, Landmark.RIGHT_ELBOW, Landmark.LEFT_WRIST, Landmark.RIGHT_WRIST),
    "legs": (Landmark.LEFT_KNEE, Landmark.RIGHT_KNEE, Landmark.LEFT_ANKLE, Landmark.RIGHT_ANKLE),
    "body": (Landmark.LEFT_HIP, Landmark.RIGHT_HIP, Landmark.LEFT_SHOULDER, Landmark.RIGHT_SHOULDER),
}


@dataclass(frozen=True)
class Looks:
    """(n,) steps: whether somebody is `there`, and the `ways` (n,) that the body makes; 0 where nobody is."""

    there: Bools
    ways: Floats

    @property
    def seconds(self) -> Floats:
        """(n,) the middle of each step, from the clip's beginning."""
        return np.asarray((np.arange(len(self.there)) + 0.5) * STEP_S, float)


def looks(track: Track, start_s: float, duration_s: float) -> Looks:
    """From a track with about one frame a step; `start_s` is the clip's beginning in the track's time."""
    n = max(1, int(np.ceil(duration_s / STEP_S)))
    step = np.clip(((track.seconds - start_s) / STEP_S).astype(int), 0, n - 1)
    there = np.zeros(n, bool)
    there[step[track.found]] = True
    ways = np.full(n, np.nan)
    seen = np.flatnonzero(track.found)
    if len(seen) > 1:
        image, seconds = track.image[seen], track.seconds[seen]
        lasts = np.diff(seconds)
        moved = np.linalg.norm(np.diff(image, axis=0), axis=2) / torso_length(image) / lasts[:, None]
        visible = np.minimum(track.visibility[seen][1:], track.visibility[seen][:-1]) > SEEN
        way = np.nanmax([_mean(moved, visible, marks) for marks in MARKS.values()], axis=0)
        possible = (lasts < 2.5 * STEP_S) & (moved[:, list(MARKS["body"])].mean(1) < JUMP)
        ways[step[seen[:-1]][possible]] = way[possible]
    known = np.isfinite(ways)
    if known.any():
        ways = np.interp(np.arange(n), np.flatnonzero(known), ways[known])
    return Looks(there, np.where(there, np.nan_to_num(ways), 0.0))


def _mean(moved: Floats, visible: Bools, marks: tuple[Landmark, ...]) -> Floats:
    """(n,) mean way of these landmarks, of those that are seen; 0 where none is."""
    some = visible[:, list(marks)]
    return np.asarray((moved[:, list(marks)] * some).sum(1) / np.maximum(some.sum(1), 1))


def calm(values: Floats, seconds: float) -> Floats:
    """(n,) mean over so many seconds around each step."""
    return np.asarray(uniform_filter1d(values, max(1, round(seconds / STEP_S)), mode="nearest"))
