"""How well the estimator knows each part from where the camera stands, in degrees or leg lengths.

Measured on filmed made-up dancers against their exact joints, then widened on the bench (docs/method.md). Seen from
the side or from behind, limbs hide behind the body; a segment that points at the camera has little direction.
"""

import numpy as np

from juxtakine.core.movement.body import Part
from juxtakine.core.movement.tracks import Floats

VIEWS_DEG = (0.0, 45.0, 90.0, 135.0, 180.0)
"""Facing away from the camera, either way."""
_HEAD = (2.6, 4.5, 11.0, np.inf, np.inf)
_TORSO = (0.8, 0.8, 1.6, 1.6, 1.0)
_UPPER_ARM = (2.9, 3.4, 7.5, 7.0, 4.5)
_FOREARM = (2.7, 3.3, 8.5, 9.0, 8.5)
_THIGH = (1.9, 2.2, 5.0, 4.5, 2.6)
_SHIN = (1.9, 2.3, 7.0, 5.5, 2.4)
_LEVEL = (0.017, 0.018, 0.03, 0.045, 0.018)
_SPREAD = (0.014, 0.02, 0.05, 0.05, 0.02)
_FACING = (3.2, 4.5, 14.0, 20.0, 9.0)
NOISE: dict[Part, tuple[float, ...]] = {
    Part.HEAD: _HEAD,
    Part.TORSO: _TORSO,
    Part.LEFT_UPPER_ARM: _UPPER_ARM,
    Part.RIGHT_UPPER_ARM: _UPPER_ARM,
    Part.LEFT_FOREARM: _FOREARM,
    Part.RIGHT_FOREARM: _FOREARM,
    Part.LEFT_THIGH: _THIGH,
    Part.RIGHT_THIGH: _THIGH,
    Part.LEFT_SHIN: _SHIN,
    Part.RIGHT_SHIN: _SHIN,
    Part.LEVEL: _LEVEL,
    Part.SPREAD: _SPREAD,
    Part.FACING: _FACING,
}
SHORT, SHORT_FACTOR = 0.6, 3.0
"""Of its own length in the picture; a segment of no length at all is known this many times worse."""


def standard_error(part: Part, facing: Floats, length: Floats | None = None) -> Floats:
    """(k,) of one clip's part, where the body faces `facing` degrees (0: the camera) and the segment is `length` long.

    Infinite where the part can't be seen from there at all; what is not known counts as faced.
    """
    away = np.abs((np.nan_to_num(facing) + 180) % 360 - 180)
    noise = np.interp(away, VIEWS_DEG, NOISE[part])
    noise = np.where(np.isnan(noise), np.inf, noise)
    if length is None:
        return np.asarray(noise)
    short = np.clip(1 - np.nan_to_num(length, nan=1.0) / SHORT, 0, 1)
    return np.asarray(noise * (1 + (SHORT_FACTOR - 1) * short))
