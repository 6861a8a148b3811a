"""Filling in: values between the frames that were estimated."""

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import make_interp_spline

from juxtakine.core.movement.tracks import Bools, Floats

LONGEST_GAP = 3
"""Steps between estimated frames beyond which nothing is interpolated."""


def filled_in(times: Floats, estimated_s: Floats, values: Floats) -> Floats:
    """Values (k, ...) at the estimated times, carried to all frame `times` (n,) by a cubic spline.

    A frame whose two estimated neighbours are not both there (NaN) stays NaN, so gaps are never invented.
    """
    out = np.full((len(times), *values.shape[1:]), np.nan)
    good: Bools = np.asarray(np.isfinite(values.reshape(len(values), -1)).all(1))
    step = np.median(np.diff(estimated_s)) if len(estimated_s) > 1 else 1.0
    for run in _runs(good, estimated_s, LONGEST_GAP * step):
        xs, ys = estimated_s[run], values[run]
        inside = (times >= xs[0] - 1e-9) & (times <= xs[-1] + 1e-9)
        if len(xs) == 1:
            out[inside] = ys[0]
        else:
            out[inside] = make_interp_spline(xs, ys, k=3, bc_type="natural")(times[inside])
    return out


def _runs(good: Bools, seconds: Floats, longest: float) -> list[NDArray[np.int64]]:
    """Indices of stretches of good rows without a gap longer than `longest` seconds or a bad row."""
    index = np.flatnonzero(good)
    if not len(index):
        return []
    breaks = (np.diff(index) > 1) | (np.diff(seconds[index]) > longest)
    return list(np.split(index, np.flatnonzero(breaks) + 1))
