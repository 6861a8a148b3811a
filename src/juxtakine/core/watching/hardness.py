"""What will be hard in each phrase, read from the instructor's movement: how dense, how fast, how much it turns, goes
down and changes sides, and whether there is a place where somebody who is late could catch up.

Units: arrivals a second; segment lengths a second; degrees; leg lengths; counts.
"""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.signal import find_peaks, savgol_filter

from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.movement.cleaning import RATE
from juxtakine.core.movement.features import Features, wrapped
from juxtakine.core.movement.tracks import Bools, Floats

SMOOTH = 5
"""Steps over which the speed is looked at: what the estimator trembles is no movement."""
STILL = 0.28
"""Share of the routine's usual speed below which somebody could catch up."""
LEAST_PAUSE = 0.45
"""Counts that a pause lasts at least."""
FAST = 90
"""Percentile of the speed over a phrase that tells how fast its moves are, however long it rests between them."""
ARRIVAL = 0.5
"""A peak of speed counts as a move when it rises so much (of the routine's usual speed) over its surroundings."""
LEAST_SEEN = 0.7
"""Share of a phrase that has to be seen."""
LEVEL_NOISE, TURN_NOISE, BEHIND_NOISE = 0.03, 12.0, 25.0
"""Changes smaller than these, in leg lengths and degrees, are swaying; from behind, facing is seen half as well."""


@dataclass(frozen=True)
class Hardness:
    """Of one phrase: `moves` a second, `speed` of the fastest of it, `turn` and `level` summed over the phrase, `side`
    how often a second the side that moves more changes; `pauses` from and to in counts of the phrase (0 is its 1)."""

    phrase: int
    moves: float
    speed: float
    turn: float
    level: float
    side: float
    pauses: tuple[tuple[float, float], ...]
    longest_without: tuple[float, float]

    @property
    def gap(self) -> float:
        """Counts in a row without a pause."""
        return self.longest_without[1] - self.longest_without[0]


def hardness(reference: Features, grid: Grid, sheet: Sheet) -> list[Hardness]:
    """Of every phrase that is seen at all, in order."""
    speed = _speed(reference)
    usual = float(np.nanpercentile(speed, 75)) if np.isfinite(speed).any() else 0.0
    if not usual:
        return []
    found = []
    for number, (start, phrase) in enumerate(zip(sheet.starts(), sheet.phrases, strict=True), 1):
        begin, end = grid.seconds(np.array([start - 0.5, start + phrase.counts - 0.5]))
        rows = _of_one_camera(reference, (reference.seconds >= begin) & (reference.seconds < end))
        if np.isfinite(speed[rows]).sum() / RATE < LEAST_SEEN * (end - begin):
            continue
        at = grid.count(reference.seconds[rows]) - start
        found.append(_phrase(number, reference, rows, speed, usual, at, float(end - begin), phrase.counts))
    return found


def _of_one_camera(reference: Features, rows: Bools) -> Bools:
    """Without the edge that another camera saw: its change is no turn."""
    most = np.bincount(reference.camera[rows], minlength=1).argmax()
    return np.asarray(rows & (reference.camera == most))


def _phrase(
    number: int, reference: Features, rows: Bools, speed: Floats, usual: float, at: Floats, lasts_s: float, counts: int
) -> Hardness:
    own = np.nan_to_num(speed[rows])
    peaks, _ = find_peaks(own, prominence=ARRIVAL * usual)
    pauses = _pauses(own < STILL * usual, at)
    edges = [-0.5, *(e for p in pauses for e in p), counts - 0.5]
    busy = max(zip(edges[::2], edges[1::2], strict=True), key=lambda g: g[1] - g[0])
    facing = reference.facing[rows]
    seen = np.abs(wrapped(facing[np.isfinite(facing)]))
    noise = BEHIND_NOISE if len(seen) and float(np.median(seen)) > 90 else TURN_NOISE
    return Hardness(
        number, len(peaks) / lasts_s, float(np.percentile(own, FAST)), _summed(facing, noise),
        _summed(reference.level[rows], LEVEL_NOISE), _sides(reference, rows), tuple(pauses), busy,
    )  # fmt: skip


def _speed(f: Features) -> Floats:
    """(n,) of all limbs together, in segment lengths a second."""
    flat = f.vectors.reshape(len(f.vectors), -1)
    known = np.isfinite(flat)
    calm = savgol_filter(np.where(known, flat, 0.0), SMOOTH, 2, deriv=1, delta=1 / RATE, axis=0)
    ways = np.where(known, calm, np.nan).reshape(f.vectors.shape)[..., :2]
    square = (ways**2).sum(2)
    seen = np.isfinite(square)
    total = np.sqrt(np.where(seen, square, 0).sum(1) / np.maximum(seen.sum(1), 1))
    return np.asarray(np.where(seen.mean(1) > 0.5, total, np.nan))


def _summed(values: Floats, noise: float) -> float:
    """How far it goes to and fro, smaller changes than the noise left out."""
    good = values[np.isfinite(values)]
    if len(good) < 2:
        return 0.0
    turns = [good[0]]
    for v in good[1:]:
        # the last turning point moves on as long as it goes the same way
        if len(turns) > 1 and (turns[-1] - turns[-2]) * (v - turns[-1]) >= 0:
            turns[-1] = v
        elif abs(v - turns[-1]) > noise:
            turns.append(v)
    return float(sum(abs(b - a) for a, b in pairwise(turns)))


def _sides(f: Features, rows: Bools) -> float:
    """How often the side that moves more changes, a second."""
    ways = np.nan_to_num(np.diff(f.vectors[rows], axis=0))
    sizes = (ways[..., :2] ** 2).sum(2)
    left, right = sizes[:, 2::2].sum(1), sizes[:, 3::2].sum(1)
    window = round(RATE * 0.3)
    blur = np.ones(window) / window
    lead = np.convolve(left, blur, "same") - np.convolve(right, blur, "same")
    clear = np.sign(lead[np.abs(lead) > 0.5 * np.abs(lead).mean()])
    return float((np.diff(clear) != 0).sum() / max(len(lead) / RATE, 1e-9))


def _pauses(still: Bools, at: Floats) -> list[tuple[float, float]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[0], still.astype(int), [0]])))
    spans = [(float(at[a]), float(at[min(b, len(at) - 1)])) for a, b in zip(edges[::2], edges[1::2], strict=True)]
    return [s for s in spans if s[1] - s[0] >= LEAST_PAUSE]
