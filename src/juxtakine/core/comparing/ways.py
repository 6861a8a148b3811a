"""Ways: how far the limbs go from count to count, as a share of how far the instructor's go."""

import numpy as np

from juxtakine.core.comparing.view import View
from juxtakine.core.movement.features import LIMBS
from juxtakine.core.movement.tracks import Floats

LEAST_WAY = 0.3
"""An upper arm's way between two counts, in its own lengths, from which on its size can be told."""
LEAST_WAYS = 4
LEAST_SPREAD, FROM_ELSEWHERE = 0.02, 0.06
"""What is open of the size of ways at least, and how much more from another place, where they look smaller."""
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
    """How large the arms' ways between counts (k,) are, as a share of the reference's, and the standard error.

    The upper arms', as what a forearm does is its elbow's as well. Each way's gain by least squares, then the median of
    all, the longer ways weighing more, so that one arm that is wrong on one count does not make all of them small.
    """
    columns = [2 * LIMBS.index(p) + k for p in LIMBS if p.endswith("upper-arm") for k in (0, 1)]
    wanted = np.diff(view.reference_channels(counts)[:, columns], axis=0).reshape(-1, 2)
    shown = np.diff(view.take_channels(view.take_grid.seconds(counts) + lags_s)[:, columns], axis=0).reshape(-1, 2)
    sizes = np.linalg.norm(wanted, axis=1)
    good = np.isfinite(sizes) & np.isfinite(shown).all(1) & (sizes > LEAST_WAY)
    if good.sum() < LEAST_WAYS:
        return 1.0, 1.0
    gains = (wanted[good] * shown[good]).sum(1) / sizes[good] ** 2
    share = _middle(gains, sizes[good])
    spread = 1.4826 * _middle(np.abs(gains - share), sizes[good])
    alone = max(spread * 1.25 / float(good.sum()) ** 0.5, LEAST_SPREAD)
    return share, float(np.hypot(alone, FROM_ELSEWHERE * view.slant))


def _middle(values: Floats, weights: Floats) -> float:
    """The weighted median."""
    return float(np.quantile(values, 0.5, weights=weights, method="inverted_cdf"))
