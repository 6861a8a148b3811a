"""Common time by movement: where a take's clock stands against the reference's when no music tells it, and its tempo.

The rise and fall of every limb and of the hips hardly depends on where a camera stands. Their speeds in the reference,
stretched to each tempo, are laid over the take's at every offset (normalised cross-correlation, as in template
matching); both sides are tried. A musical phrase repeats, and so do steps: how sure it is comes from how far the best
place stands above the next one that differs by more than half a count.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from scipy.special import expit

from juxtakine.core.comparing.overlay import likeness_by_offset
from juxtakine.core.counting.grids import Grid
from juxtakine.core.movement.features import Features
from juxtakine.core.movement.tracks import Floats

RATE = 20.0
"""Steps a second at which movements are laid over each other."""
TEMPI = np.geomspace(0.38, 1.2, 90)
FINE = np.linspace(-0.012, 0.012, 9)
LEAST_SHARE = 0.4
"""How much of the dance has to lie inside the take."""
STEEPNESS, EVEN = 9.0, 0.18
"""Certainty from the lead of the best place over the next one: even odds at EVEN, then this steep."""
LIKE, LIKE_SPREAD = 0.32, 0.03
"""And from the likeness itself: what is elsewhere or of another dance correlates by chance up to about 0.25."""


@dataclass(frozen=True)
class MovementMatch:
    """`grid` of the take, how sure (0 to 1), and the correlation there."""

    grid: Grid
    certainty: float
    likeness: float


@dataclass(frozen=True)
class _Place:
    likeness: float
    tempo: float
    start_s: float
    """When the dance's first count would be, in seconds of the take."""


def match_movements(reference: Features, take: Features, grid: Grid, counts: Floats) -> MovementMatch | None:
    """Where the stretch of `counts` is danced in the take; None where there is too little movement to tell."""
    begin, end = (float(s) for s in grid.seconds([counts[0] - 1, counts[-1] + 0.5]))
    places: list[_Place] = []
    sides = [seen for own in (take, take.mirrored) if (seen := _Seen.of(own))]
    for seen in sides:
        for tempo in TEMPI:
            places += _places(reference, seen, begin, end, float(tempo))
    if not places:
        return None
    best = max(places, key=lambda p: p.likeness)
    best = max(_finer(reference, sides, begin, end, best), key=lambda p: p.likeness, default=best)
    half = 0.5 * float(grid.count_length(counts[0])) / best.tempo
    lasts = (end - begin) / best.tempo

    def elsewhere(p: _Place) -> bool:
        ends = p.start_s + (end - begin) / p.tempo - best.start_s - lasts
        return abs((p.start_s - best.start_s + ends) / 2) > half

    second = max((p.likeness for p in places if elsewhere(p)), default=0.0)
    lead = (best.likeness - second) / max(best.likeness, 1e-9)
    certainty = float(expit(STEEPNESS * (lead - EVEN) / EVEN) * expit((best.likeness - LIKE) / LIKE_SPREAD))
    return MovementMatch(grid.carried(begin, best.start_s, best.tempo), certainty, best.likeness)


def _finer(reference: Features, sides: list["_Seen"], begin: float, end: float, near: _Place) -> Iterator[_Place]:
    """Places near this one, at tempi closer together."""
    for seen in sides:
        for change in FINE:
            for p in _places(reference, seen, begin, end, near.tempo * (1 + float(change))):
                if abs(p.start_s - near.start_s) < 0.5:
                    yield p


def _speeds(f: Features, seconds: Floats) -> Floats:
    """(n, D) how fast each limb and the hips rise; 0 where not seen. Large speeds are tamed, so that all count."""
    at = f.at(seconds)
    heights = np.column_stack([at.vectors[..., 1], at.level])
    speed = np.gradient(heights, axis=0)
    usual = np.nanpercentile(np.abs(speed), 80, axis=0) + 1e-3
    return np.asarray(np.nan_to_num(np.tanh(speed / usual / 2)), float)


@dataclass(frozen=True)
class _Seen:
    """The take's speeds (n, D), from `start_s` on."""

    start_s: float
    speeds: Floats

    @classmethod
    def of(cls, take: Features) -> "_Seen | None":
        seconds = np.arange(take.seconds[0], take.seconds[-1], 1 / RATE)
        if len(seconds) < 2 * RATE:
            return None
        return cls(float(seconds[0]), _speeds(take, seconds))


def _places(reference: Features, seen: _Seen, begin: float, end: float, tempo: float) -> list[_Place]:
    """The few best places of the dance at this tempo."""
    steps = int((end - begin) / tempo * RATE)
    if steps < 2 * RATE:
        return []
    wanted = _speeds(reference, np.asarray(begin + np.arange(steps) * tempo / RATE, float))
    offsets, likeness = likeness_by_offset(wanted, seen.speeds, LEAST_SHARE)
    found = []
    for _ in range(6):
        i = int(likeness.argmax())
        found.append(_Place(float(likeness[i]), tempo, seen.start_s + float(offsets[i]) / RATE))
        likeness[max(0, i - 5) : i + 6] = -1
    return found
