"""How near somebody is to the camera at each moment, against the middle of the clip: who travels towards the camera
grows in the picture, and that is no lower hip and no longer arm.

A single moment tells it badly (how long the trunk and the legs are in the picture against the estimator's 3D, to 2 or
3 %), but on a level floor it hangs on one thing only: how far down in the picture the feet stand. Under the horizon a
thing's size grows in proportion, so that a straight line through all moments tells it, and its slope is what the
camera's height makes it: 0.2 to 1.3 per trunk length for cameras from 0.4 to 2.5 m (least squares with that as prior).
"""

import numpy as np
from scipy.ndimage import grey_closing

from juxtakine.core.movement.body import TRUNK_AND_LEGS, Landmark, Part, along
from juxtakine.core.movement.tracks import Floats

SLOPE, SLOPE_SE = 0.5, 0.25
"""Of size against place of the feet, in trunk lengths, as cameras usually stand."""
SIZE_SE, INDEPENDENT_STEPS = 0.03, 10
"""How well one moment tells the size, and after how many steps one tells something new."""
AIRBORNE_STEPS = 21
"""Both feet may be off the floor for less than so many steps."""


def nearness(image: Floats, world: Floats) -> Floats:
    """(n,) size in the picture at each step of cleaned movement, 1 in the middle of the clip, of (n, 33, 2) pixels and
    (n, 33, 3) metres; where the feet or the trunk are never seen it is 1."""
    ones = np.ones(len(image))
    feet = np.fmax(image[:, Landmark.LEFT_ANKLE, 1], image[:, Landmark.RIGHT_ANKLE, 1])
    size = _size(image, world)
    good = np.isfinite(feet) & np.isfinite(size)
    if good.sum() < 2:
        return ones
    trunk = float(np.median(np.linalg.norm(along(image, Part.TORSO)[good], axis=1)))
    standing = grey_closing(np.interp(np.arange(len(feet)), np.flatnonzero(good), feet[good]), (AIRBORNE_STEPS,))
    down = (standing - np.median(standing[good])) / trunk
    grown = np.clip(size[good] / np.median(size[good]) - 1, -0.5, 0.5)
    weight = 1 / (SIZE_SE**2 * INDEPENDENT_STEPS)
    about = down[good] - down[good].mean()
    slope = (weight * (about * grown).sum() + SLOPE / SLOPE_SE**2) / (weight * (about**2).sum() + 1 / SLOPE_SE**2)
    return np.asarray(np.maximum(1 + slope * down, 0.5))


def _size(image: Floats, world: Floats) -> Floats:
    """(n,) pixels a metre, by least squares over trunk and legs."""
    pairs = [(along(image, part), along(world, part)[:, :2]) for part in TRUNK_AND_LEGS]
    return np.asarray(sum((i * w).sum(1) for i, w in pairs) / sum((w * w).sum(1) for _, w in pairs))
