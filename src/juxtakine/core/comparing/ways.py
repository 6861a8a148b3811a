"""Ways: how far the limbs go from count to count, as a share of how far the instructor's go."""

import numpy as np

from juxtakine.core.comparing.view import View
from juxtakine.core.movement.features import LIMBS
from juxtakine.core.movement.tracks import Floats

STEP = 0.25
"""Counts between the moments at which the arms' ways are looked at."""
LEAST_STEPS, LEAST_WAY = 8, 0.1
"""Moments, and what they go in all, in their own lengths squared, from which on a share can be told."""
LEAST_LEFT, ROUNDS = 0.05, 5
"""Of the robust fit: what scatters so little, in their own lengths, is not less by chance; its steps."""
LEAST_SPREAD = 0.02
"""What is open of the size of ways at least: another body's shoulders, another place."""
A_WAY = 0.5
"""Of all limbs together, in their own lengths: less is no move."""


def shares_of_way(view: View, counts: Floats, lags_s: Floats) -> Floats:
    """(k,) how far the limbs go from the count before, as a share of the reference's way; NaN where there is none."""
    columns = slice(0, 2 * len(LIMBS))
    wanted = np.diff(view.reference_channels(counts)[:, columns], axis=0)
    shown = np.diff(view.take_channels(view.take_grid.seconds(counts) + lags_s)[:, columns], axis=0)
    known = np.isfinite(wanted) & np.isfinite(shown)
    sizes, own = (np.sqrt(np.where(known, ways**2, 0).sum(1)) for ways in (wanted, shown))
    return np.concatenate([[np.nan], np.where(sizes > A_WAY, own / np.maximum(sizes, A_WAY), np.nan)])


def size_of_ways(view: View, counts: Floats, lags_s: Floats) -> tuple[float, float]:
    """How large the upper arms' ways are from the first of the counts (k,) to the last, as a share of the reference's,
    and the standard error.

    The upper arms', as what a forearm does is its elbow's as well. Where each arm is all along, about its own middle,
    is a share of where the reference's is: robust least squares, so that a count on which it is elsewhere does not make
    all of them small. An arm that goes further tells more.
    """
    at = np.arange(counts[0] - STEP, counts[-1] + 1.5 * STEP, STEP)
    late = np.interp(at, counts, lags_s)
    wanted, shown = view.reference_channels(at), view.take_channels(view.take_grid.seconds(at) + late)
    arms = [slice(2 * i, 2 * i + 2) for i, part in enumerate(LIMBS) if part.endswith("upper-arm")]
    gains = np.array([_gain(wanted[:, arm], shown[:, arm]) for arm in arms])
    told = gains[:, 2] > 0
    if not told.any():
        return 1.0, 1.0
    share = float(np.average(gains[told, 0], weights=gains[told, 2]))
    return share, float(np.hypot(np.sqrt(gains[told, 1].mean() / told.sum()), LEAST_SPREAD))


def _gain(wanted: Floats, shown: Floats) -> tuple[float, float, float]:
    """By which share the way (n, 2) is the wanted one's, its variance, and how far that goes (0: it tells nothing)."""
    known = np.isfinite(wanted).all(1) & np.isfinite(shown).all(1)
    if known.sum() < LEAST_STEPS:
        return 1.0, 1.0, 0.0
    want, got = wanted[known], shown[known]
    share, size, weight, left = 1.0, 0.0, np.ones(len(want)), np.zeros(len(want))
    for _ in range(ROUNDS):
        about, own = (way - np.average(way, axis=0, weights=weight) for way in (want, got))
        size = float((weight * (about**2).sum(1)).sum())
        if size < LEAST_WAY:
            return 1.0, 1.0, 0.0
        share = float((weight * (about * own).sum(1)).sum()) / size
        left = np.linalg.norm(own - share * about, axis=1)
        weight = 1 / (1 + (left / max(1.4826 * float(np.median(left)), LEAST_LEFT)) ** 2)
    return share, float((weight * left**2).sum()) / (len(want) - 1) / size, size
