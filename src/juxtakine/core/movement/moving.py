"""When somebody begins to dance: the first moment from which the body goes on moving."""

import numpy as np
from scipy.ndimage import gaussian_filter1d

from juxtakine.core.movement.features import Features

STILL_SHARE, GOES_ON_S, STANDS_S = 0.3, 1.0, 0.4
"""Of the usual speed, for so long at least; and before it, for so long at most as much."""


def moves_off(danced: Features) -> float | None:
    """Seconds at which the dancer moves off after having stood; None where they move from the first frame on."""
    change = np.linalg.norm(np.diff(danced.vectors[..., :2], axis=0), axis=2)
    rate = 1 / float(np.median(np.diff(danced.seconds)))
    known = np.isfinite(change).any(1)
    speed = np.zeros(len(change))
    speed[known] = np.nanmean(change[known], axis=1) * rate
    speed = gaussian_filter1d(speed, 0.08 * rate)
    line = STILL_SHARE * float(np.median(speed))
    moving = speed > line
    ahead, behind = round(GOES_ON_S * rate), round(STANDS_S * rate)
    for i in np.flatnonzero(moving[1:] & ~moving[:-1]) + 1:
        if i >= behind and not moving[i - behind : i].any() and moving[i : i + ahead].mean() > 0.8:
            return float(danced.seconds[i])
    return None
