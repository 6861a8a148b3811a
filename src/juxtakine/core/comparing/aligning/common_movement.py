"""Common time by movement: where a take's clock stands against the reference's when no music tells it, and its tempo.

The rise and fall of every limb and of the hips hardly depends on where a camera stands. Their speeds in the reference,
stretched to each tempo, are laid over the take's at every offset (normalised cross-correlation, as in template
matching); both sides are tried. A musical phrase repeats, and so do steps: how sure it is comes from how far the best
place stands above the next one that differs by more than half a count.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from scipy.special import expit

from juxtakine.core.comparing.aligning.overlay import likeness_by_offset
from juxtakine.core.counting.grids import Grid
from juxtakine.core.movement.features import MIRRORED, Features
from juxtakine.core.movement.tracks import Floats

RATE = 20.0
"""Steps a second at which movements are laid over each other."""
TEMPI = np.geomspace(0.38, 1.2, 90)
FINE = np.linspace(-0.012, 0.012, 9)
LEAST_S = 2.0
"""Shorter clips and dances tell nothing."""
OWN_LAGS_S, SURELY = 0.06, 2.0
"""How far a dancer's lags scatter at most (standard deviation), and by how many standard errors of what that makes of
the tempo another one is believed: of a few counts only one that is clearly another."""
STILL = 1e-3
"""What moves by so little a step does not move, in lengths."""
LEAST_SHARE = 0.4
"""How much of the dance has to lie inside the take."""
LIKENESS_STEEPNESS, EVEN = 9.0, 0.18
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
    shown, own = _Rises.of(reference), _Rises.of(take)
    if not (shown and own):
        return None
    seen = own.tamed(np.asarray(np.arange(take.seconds[0], take.seconds[-1], 1 / RATE), float))

    def places_at(tempo: float) -> Iterator[_Place]:
        steps = int((end - begin) / tempo * RATE)
        if steps >= LEAST_S * RATE:
            wanted = shown.tamed(np.asarray(begin + np.arange(steps) * tempo / RATE, float), tempo)
            yield from _places(wanted, seen, tempo, float(take.seconds[0]))

    places = [p for tempo in TEMPI for p in places_at(float(tempo))]
    if not places:
        return None
    best = max(places, key=lambda p: p.likeness)
    near = (p for change in FINE for p in places_at(best.tempo * (1 + float(change))))
    finer = (p for p in near if abs(p.start_s - best.start_s) < 0.5)
    best = max(finer, key=lambda p: p.likeness, default=best)
    best = _at_own_tempo(best, counts, float(grid.count_length(counts[0])), places_at)
    half = 0.5 * float(grid.count_length(counts[0])) / best.tempo
    lasts = (end - begin) / best.tempo

    def elsewhere(p: _Place) -> bool:
        ends = p.start_s + (end - begin) / p.tempo - best.start_s - lasts
        return abs((p.start_s - best.start_s + ends) / 2) > half

    second = max((p.likeness for p in places if elsewhere(p)), default=0.0)
    lead = (best.likeness - second) / max(best.likeness, 1e-9)
    certainty = float(expit(LIKENESS_STEEPNESS * (lead - EVEN) / EVEN) * expit((best.likeness - LIKE) / LIKE_SPREAD))
    return MovementMatch(grid.carried(begin, best.start_s, best.tempo), certainty, best.likeness)


def _at_own_tempo(
    best: _Place, counts: Floats, count_s: float, places_at: Callable[[float], Iterator[_Place]]
) -> _Place:
    """The place at the reference's own tempo, where another one is no further from it than a dancer's own lags make a
    few counts seem: a straight line through n lags that scatter by s is wrong by s √12 / n^1.5 a count."""
    n = float(counts[-1] - counts[0]) + 1
    if abs(best.tempo - 1) > SURELY * OWN_LAGS_S * 12**0.5 / n**1.5 / count_s:
        return best
    middle = float(counts.mean() - counts[0] + 1) * count_s

    def apart(p: _Place) -> float:
        return abs(p.start_s + middle / p.tempo - best.start_s - middle / best.tempo)

    return min(places_at(1.0), key=apart, default=best)


@dataclass(frozen=True)
class _Rises:
    """(N,) seconds, (N, D) how high each limb and the hips are, and (D,) how fast they usually rise or sink, a step."""

    seconds: Floats
    heights: Floats
    usual: Floats

    @classmethod
    def of(cls, f: Features) -> "_Rises | None":
        """None of a clip that is too short to tell."""
        if f.seconds[-1] - f.seconds[0] < LEAST_S:
            return None
        heights = np.column_stack([f.vectors[..., 1], f.level])
        speeds = np.abs(_speeds(f.seconds, heights, np.arange(f.seconds[0], f.seconds[-1], 1 / RATE)))
        return cls(f.seconds, heights, np.asarray(np.nanpercentile(speeds, 80, axis=0), float))

    def tamed(self, at: Floats, tempo: float = 1.0) -> Floats:
        """(k, D) the speeds between moments that are `tempo` steps apart; 0 where not seen. Large ones are tamed, so
        that all count."""
        speeds = _speeds(self.seconds, self.heights, at)
        return np.asarray(np.nan_to_num(np.tanh(speeds / (self.usual * tempo + STILL) / 2)), float)


def _speeds(seconds: Floats, heights: Floats, at: Floats) -> Floats:
    """(k, D) of heights (N, D), by straight lines between their seconds; NaN beyond both ends."""
    carried = [np.interp(at, seconds, h, left=np.nan, right=np.nan) for h in heights.T]
    return np.asarray(np.gradient(np.column_stack(carried), axis=0), float)


def _places(wanted: Floats, seen: Floats, tempo: float, start_s: float) -> Iterator[_Place]:
    """The few best places, on either side, of what is wanted in what is seen from `start_s` on."""
    sides = np.stack([wanted, wanted[:, [*MIRRORED, len(MIRRORED)]]])
    offsets, both = likeness_by_offset(sides, seen, LEAST_SHARE)
    for likeness in both:
        for _ in range(6):
            i = int(likeness.argmax())
            yield _Place(float(likeness[i]), tempo, start_s + float(offsets[i]) / RATE)
            likeness[max(0, i - 5) : i + 6] = -1
