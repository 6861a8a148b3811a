"""Parts that are carried along tell of what carries them.

What a shoulder or a hip does carries both segments of its limb, and both tell how far it is off. An elbow that the
estimator takes for elsewhere puts both off as well, but in opposite directions. A torso that leans takes the arms
along.

Vectors are differences from what is meant, in the picture, in each segment's own near-longest length: (k, 2), x right,
y down; NaN where a segment is not seen. Standard errors are in degrees, so are sizes.
"""

from dataclasses import dataclass

import numpy as np

from juxtakine.core.movement.tracks import Bools, Floats

ALIKE = 9.0
"""Two segments are off alike where their difference, squared, is not above so many of its variances."""

LEAST_VOUCHED, MOST_VOUCHED = -1.0, 4.0
"""Who leans may hold the arms where they are: that speaks little against it; and four segments are not wholly apart."""


@dataclass(frozen=True)
class AsOne:
    """(k, 2) how far the root of a limb is off by both of its segments, (k,) the standard error of that in degrees, and
    where it is told so, as likelier than that one of them is off by itself; `carried`: where the lower one is rather
    off with the upper one than by itself."""

    difference: Floats
    standard_error: Floats
    told: Bools
    carried: Bools


def degrees(difference: Floats) -> Floats:
    """(k,) the angle that such a vector (k, 2) is the chord of."""
    return np.asarray(np.degrees(2 * np.arcsin(np.clip(np.linalg.norm(difference, axis=1) / 2, 0, 1))))


def as_one(upper: Floats, lower: Floats, upper_error: Floats, lower_error: Floats) -> AsOne:
    """Both segments by how well each is known: the mean that inverse variances weigh."""
    weights = np.column_stack([upper_error, lower_error]) ** -2.0
    share = (weights[:, 0] / weights.sum(1))[:, None]
    apart = degrees(upper - lower) ** 2 / (upper_error**2 + lower_error**2)
    carried = apart < (degrees(upper) / upper_error) ** 2
    alike = (apart < ALIKE) & (apart < (degrees(lower) / lower_error) ** 2)
    return AsOne(share * upper + (1 - share) * lower, weights.sum(1) ** -0.5, carried & alike, carried)


def against(one: Floats, other: Floats) -> Floats:
    """(k,) 0 to 1, how much of what one segment is off the other goes against."""
    size = np.einsum("kd,kd->k", one, one)
    share = -np.einsum("kd,kd->k", one, other) / np.maximum(size, 1e-9)
    return np.asarray(np.clip(np.nan_to_num(share), 0, 1))


def vouched(lean: Floats, want: Floats, got: Floats, errors: Floats) -> Floats:
    """(k,) by how much the arms speak for a torso that is `lean` (k,) degrees off, positive to the picture's right.

    The logarithm of how much likelier it is to see their segments where they are, (k, 4, 2) of standard errors (k, 4)
    in degrees, if they are carried along than if they stay (a likelihood ratio of normal distributions).
    """
    carried = np.stack([-want[..., 1], want[..., 0]], axis=2) * np.radians(lean)[:, None, None]
    weight = np.radians(errors)[..., None] ** -2.0
    told = np.nansum(carried * (got - want - carried / 2) * weight, axis=(1, 2))
    return np.asarray(np.clip(told, LEAST_VOUCHED, MOST_VOUCHED))
