"""Counts off: where the student goes on whole or half counts away from the music, as after a step that was put in or
left out; and where they dance at another pace than the counts say.

One extra step makes all that follows a count late: every pose is then another than the reference's, and not one of them
is a fault of its own. Each count is laid over the take at every shift of up to eight counts; the path through the
shifts that leaves least between the two tells where the student is (Viterbi, with a price on each change and on being
away).
A shift that stays is counts off; one that goes on changing is another pace.
"""

from dataclasses import dataclass
from fractions import Fraction
from itertools import groupby

import numpy as np

from juxtakine.core.comparing.aligning.view import SOFT, View
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.movement.tracks import Bools, Floats
from juxtakine.core.paths import least_path

SHIFTS = np.arange(-8, 8.25, 0.25)
"""Counts later in the take than the music says."""
NEAR_SHIFTS = np.arange(-2, 2.5, 0.5)
"""Those at which a dance is looked for that fits nowhere."""
AROUND = np.array([-0.5, -0.25, 0.0])
"""Counts from each count at which both are looked at: on the way to it, and there."""
CHANGE, PACE, AWAY = 3.0, 0.7, 0.1
"""What a change of the shift costs, what one of SLOWLY at most, and each count of being away from the music, by so many
counts: a stretch whose poses fit is worth it, a pose or two that happen to be like others are not. Where a dance
repeats itself the student is with the music."""
SLOWLY = 0.75
OWN_PACE = 5.0
"""How much more a pose that does not fit counts where the pace is the dancer's own: changes cost less by so much."""
FITS = 0.5
"""A stretch is told where no more than this share of the difference is left."""
LEAST_COUNTS = 4
"""The shortest stretch that is told: what is shorter may be other moves."""
LEAST_OFF = 0.5
"""Less is a lag, and told as that."""
LEAST_CHANGE = 1.0
"""By so many counts at least another pace takes the student away."""
LEAST_STEP = 0.3
"""Of what a count usually lasts, that is left for one that was left out."""


@dataclass(frozen=True)
class Off:
    """(k,) by how many counts each count is danced later than the common time says, mostly 0; and how surely it is
    danced at another pace, 0 where it is not."""

    counts: Floats
    pace: Floats


def counts_off(view: View, counts: Floats, own_pace: Bools) -> Off:
    """Where the student is on each of the counts (k,), some of which (k,) are danced at their own pace: there they are
    where it fits."""
    cost = _left(view, counts)
    home = cost[int(np.flatnonzero(SHIFTS == 0)[0])]
    # beyond the take's ends nobody is
    shown = np.where(np.isfinite(cost), cost, np.nanmax(cost, axis=0, initial=0.0))
    apart = np.abs(SHIFTS[:, None] - SHIFTS)
    change = np.where(apart == 0, 0.0, np.where(apart <= SLOWLY, PACE, CHANGE))
    away = AWAY * np.abs(SHIFTS)[:, None]
    path = least_path(change, np.where(np.isfinite(home), shown + away, 0.0) * np.where(own_pace, OWN_PACE, 1.0))
    off, pace = SHIFTS[path], np.zeros(len(counts))
    here = shown[path, np.arange(len(counts))]
    stays = np.zeros(len(counts), bool)
    for shift, group in groupby(range(len(counts)), key=lambda i: off[i]):
        run = list(group)
        stays[run] = shift == 0 or counts[run[-1]] - counts[run[0]] >= LEAST_COUNTS - 1
    for _, group in groupby(range(len(counts)), key=lambda i: (bool(stays[i]), off[i] if stays[i] else 0.0)):
        run = [i for i in group if np.isfinite(home[i]) and not own_pace[i]]
        left = here[run].sum() / max(home[run].sum(), 1e-9)
        lasts = bool(run) and counts[run[-1]] - counts[run[0]] >= LEAST_COUNTS - 1
        goes = abs(_around(off, run, 1) - _around(off, run, -1)) if run else 0.0
        if run and not stays[run[0]] and lasts and left <= FITS and goes >= LEAST_CHANGE:
            pace[run] = 1 - left
        elif run and not (stays[run[0]] and lasts and left <= FITS and abs(off[run[0]]) >= LEAST_OFF):
            off[run] = 0.0
    return Off(off, pace)


def excused(off: Floats, own_pace: Bools) -> Floats:
    """(k,) of these shifts (k,) what the dancer's own pace makes: in such a stretch, and from its end on by as much as
    they then are later than they were before it. What they were off before stays a fault."""
    out, fault = np.zeros(len(off)), 0.0
    for i in range(len(off)):
        ends = i > 0 and own_pace[i - 1]
        out[i] = off[i] - fault if own_pace[i] or ends else out[i - 1] if i else 0.0
        fault = fault if own_pace[i] else float(off[i] - out[i])
    return out


def _around(off: Floats, run: list[int], way: int) -> float:
    """The shift that is left, or come to, at one end of a run."""
    beside = run[-1] + 1 if way > 0 else run[0] - 1
    return float(off[beside] if 0 <= beside < len(off) else off[run[-1 if way > 0 else 0]])


def _left(view: View, counts: Floats) -> Floats:
    """(s, k) mean soft difference between both around each count, the take later by each of SHIFTS; NaN beyond its
    ends."""
    at = counts[:, None] + AROUND
    # many shifts of many counts are the same moments
    moments, places = np.unique(at + SHIFTS[:, None, None], return_inverse=True)
    shown, expected = view.take_channels(view.take_grid.seconds(moments)), view.reference_channels(at)
    out = np.empty((len(SHIFTS), len(counts)))
    for row, of_shift in zip(out, places.reshape(len(SHIFTS), *at.shape), strict=True):
        away = shown[of_shift] - expected
        known = np.isfinite(away)
        soft = np.where(known, np.sqrt(1 + (np.nan_to_num(away) / SOFT) ** 2) - 1, 0.0)
        some = known.sum((1, 2))
        row[:] = np.where(some > 0, soft.sum((1, 2)) / np.maximum(some, 1), np.nan)
    return out


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
