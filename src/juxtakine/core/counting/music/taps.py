"""Counts tapped along: the line through them, and how far they scatter about it.

Least squares over the taps, without those that lie far off (a tap that slipped); people tap ahead of what they hear by
some 20 to 50 ms, which the line can't know: it is told, and the first 1 can be nudged.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from juxtakine.core.counting.grids import Anchor, Grid, GridError

LEAST_TAPS = 4
FAR_SPREADS = 3.0
"""Spreads (of the median deviation) from the line beyond which a tap is left out."""
LEAST_SPREAD_S = 0.02
UNEVEN = 0.2
"""Of a count: who scatters by more did not tap this tempo."""
MOST_GAPS = 2
"""Counts to a tap: who passes over more does not tap along."""
TOO_UNEVEN = "the taps are too uneven to know the tempo: tap again, one on each count"


@dataclass(frozen=True)
class Tapped:
    """`scatter_s`: standard deviation of the taps that were used about the line; `error_s`: of the line itself, at its
    first count."""

    grid: Grid
    scatter_s: float
    error_s: float
    left_out: int


def tapped(seconds: Sequence[float], first: int = 0) -> Tapped:
    """The grid from one tap on each count from `first` (0 is the routine's first 1) on; a count that was passed over is
    noticed by its gap. Raises GridError where there are too few, or they are too uneven."""
    taps = np.sort(np.asarray(seconds, float))
    if len(taps) < LEAST_TAPS:
        raise GridError(f"tap at least {LEAST_TAPS} counts in a row: {len(taps)} are too few to know the tempo")
    beat = float(np.median(np.diff(taps)))
    if beat <= 0:
        raise GridError("the taps all fell on one moment")
    steps = np.maximum(1, np.rint(np.diff(taps) / beat))
    counts = first + np.concatenate([[0], np.cumsum(steps)])
    if counts[-1] - first > MOST_GAPS * len(taps):
        raise GridError(TOO_UNEVEN)
    used = np.ones(len(taps), bool)
    for _ in range(2):
        slope, start = np.polyfit(counts[used], taps[used], 1)
        off = taps - (start + slope * counts)
        spread = max(LEAST_SPREAD_S, 1.4826 * float(np.median(np.abs(off[used]))))
        used = np.abs(off) <= FAR_SPREADS * spread
        if used.sum() < LEAST_TAPS:
            raise GridError(TOO_UNEVEN)
    n = int(used.sum())
    scatter = float(np.sqrt((off[used] ** 2).sum() / (n - 2)))
    if scatter > UNEVEN * slope:
        raise GridError(TOO_UNEVEN)
    mean = counts[used].mean()
    error = scatter * float(np.sqrt(1 / n + (first - mean) ** 2 / ((counts[used] - mean) ** 2).sum()))
    last = int(counts[-1])
    anchors = (
        Anchor(Fraction(first), float(start + slope * first)),
        Anchor(Fraction(last), float(start + slope * last)),
    )
    return Tapped(Grid(anchors), scatter, error, len(taps) - n)
