"""Counts off: where the student goes on whole or half counts away from the music, as after a step that was put in or
left out.

One extra step makes all that follows a count late: every pose is then another than the reference's, and not one of them
is a fault of its own. Each count is laid over the take at every shift of up to two counts; the path through the shifts
that leaves least between the two tells where the student is (Viterbi, with a price on each change and on being away).
"""

from fractions import Fraction
from itertools import pairwise

import numpy as np

from juxtakine.core.comparing.aligning.view import SOFT, View
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.movement.tracks import Floats
from juxtakine.core.paths import least_path

SHIFTS = np.arange(-2, 2.5, 0.5)
"""Counts later in the take than the music says."""
AROUND = np.array([-0.5, -0.25, 0.0])
"""Counts from each count at which both are looked at: on the way to it, and there."""
CHANGE, AWAY = 3.0, 0.1
"""What a change of the shift costs, and each count of being away from the music, by so many counts: a stretch whose
poses fit is worth it, a pose or two that happen to be like others are not. Where a dance repeats itself the student is
with the music."""
FITS = 0.5
"""A stretch is told where no more than this share of the difference is left."""
LEAST_COUNTS = 4
"""The shortest stretch that is told: what is shorter may be other moves."""
LEAST_STEP = 0.3
"""Of what a count usually lasts, that is left for one that was left out."""


def counts_off(view: View, counts: Floats) -> Floats:
    """(k,) counts by which each of the counts (k,) is danced later than the view's common time says; mostly 0."""
    cost = np.array([_left(view, counts, shift) for shift in SHIFTS])
    known = np.isfinite(cost).all(0)
    apart = np.abs(SHIFTS)[:, None]
    path = least_path(CHANGE * (SHIFTS[:, None] != SHIFTS), np.where(known, cost, 0.0) + AWAY * apart)
    off = SHIFTS[path]
    at_home = int(np.flatnonzero(SHIFTS == 0)[0])
    edges = [0, *(np.flatnonzero(np.diff(off)) + 1), len(off)]
    for a, b in pairwise(edges):
        run = np.flatnonzero(known[a:b]) + a
        here, home = (cost[k][run].sum() for k in (path[a], at_home))
        long = len(run) and counts[run[-1]] - counts[run[0]] >= LEAST_COUNTS - 1
        if off[a] and not (long and here <= FITS * home):
            off[a:b] = 0.0
    return off


def _left(view: View, counts: Floats, shift: float) -> Floats:
    """(k,) mean soft difference between both around each count, the take `shift` counts later; NaN beyond its ends."""
    at = counts[:, None] + AROUND
    away = view.take_channels(view.take_grid.seconds(at + shift)) - view.reference_channels(at)
    known = np.isfinite(away)
    soft = np.where(known, np.sqrt(1 + (np.nan_to_num(away) / SOFT) ** 2) - 1, 0.0)
    some = known.sum((1, 2))
    return np.where(some > 0, soft.sum((1, 2)) / np.maximum(some, 1), np.nan)


def carried_on(grid: Grid, counts: Floats, off: Floats) -> Grid:
    """The grid by which the counts (k,), at least two, were danced, each `off` (k,) of the grid's counts later.

    What was left out is passed through quickly.
    """
    if not off.any():
        return grid
    seconds, usual = grid.seconds(counts + off), grid.count_length(counts)
    kept = [len(counts) - 1]
    for i in range(len(counts) - 2, -1, -1):
        if seconds[i] < seconds[kept[-1]] - LEAST_STEP * usual[i] * (counts[kept[-1]] - counts[i]):
            kept.append(i)
    return Grid(tuple(Anchor(Fraction(float(counts[i])), float(seconds[i])) for i in reversed(kept)))
