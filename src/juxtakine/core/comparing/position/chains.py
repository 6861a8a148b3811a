"""Parts that are carried along tell of what carries them.

What a shoulder or a hip does carries both segments of its limb, and both tell how far it is off. An elbow that the
estimator takes for elsewhere puts both off as well, but in opposite directions. A torso that leans takes the arms
along.

Vectors are differences from what is meant, in the picture, in each segment's own near-longest length: (k, 2), x right,
y down; NaN where a segment is not seen. Standard errors are in degrees, so are sizes.
"""

from dataclasses import dataclass

import numpy as np
from scipy.special import expit
from scipy.stats import norm

from juxtakine.core.movement.tracks import Bools, Floats

MOST_VARIANCES = 9.0
"""Two are off alike where their difference, squared, is not above so many of its variances."""
SEEN_OF_TURN, SCATTERS = 0.7, 0.25
"""What the estimator sees of a trunk that is turned on feet that stay, as a share of how far it is, and its standard
deviation; of 36 turned by 30 to 60 degrees on film."""
ALONE = 2.0
"""By so much likelier a head is turned alone than with such a trunk, before the trunk is looked at: of 33 each on film
(docs/decisions/0019) the fewest are then taken for the other."""


@dataclass(frozen=True)
class AsOne:
    """(k, 2) how far what carries is off by itself and by what it carries, (k,) the standard error of that in degrees,
    and where it is told so, as likelier than that one of the two is off by itself; `carried`: where what is carried is
    rather off along with it than by itself."""

    difference: Floats
    standard_error: Floats
    told: Bools
    carried: Bools


def degrees(difference: Floats) -> Floats:
    """(k,) the angle that such a vector (k, 2) is the chord of."""
    return np.asarray(np.degrees(2 * np.arcsin(np.clip(np.linalg.norm(difference, axis=1) / 2, 0, 1))))


def chord(degrees: Floats) -> Floats:
    """(k, 2) such a vector of so many degrees (k,), to the right where they are positive."""
    return np.column_stack([2 * np.sin(np.radians(degrees) / 2), np.zeros(len(degrees))])


def angle(difference: Floats) -> Floats:
    """(k,) the degrees of which `chord` made such vectors (k, 2), with their sign."""
    return degrees(difference) * np.sign(difference[:, 0])


def as_one(carrying: Floats, carried: Floats, error: Floats, carried_error: Floats) -> AsOne:
    """Both by how well each is known: the mean that inverse variances weigh."""
    weights = np.column_stack([error, carried_error]) ** -2.0
    share = (weights[:, 0] / weights.sum(1))[:, None]
    apart = degrees(carrying - carried) ** 2 / (error**2 + carried_error**2)
    along = apart < (degrees(carrying) / error) ** 2
    alike = (apart < MOST_VARIANCES) & (apart < (degrees(carried) / carried_error) ** 2)
    return AsOne(share * carrying + (1 - share) * carried, weights.sum(1) ** -0.5, along & alike, along)


def along_with_trunk(trunk: Floats, head: Floats, error: Floats) -> Floats:
    """(k,) 0 to 1, the chance that a head that is turned further than its trunk (k,), in degrees, is turned along with
    it for all that, as less is seen of the trunk, whose standard errors are (k,). NaN where it is not turned further.

    The odds are the ratio of the likelihoods of two normal distributions.
    """
    with_it = norm.logpdf(trunk, SEEN_OF_TURN * head, np.hypot(error, SCATTERS * head))
    alone = norm.logpdf(trunk, 0, error)
    chance = np.where(trunk * head > 0, expit(with_it - alone - np.log(ALONE)), 0.0)
    return np.where(np.abs(head) > np.abs(trunk), chance, np.nan)


def against(one: Floats, other: Floats) -> Floats:
    """(k,) 0 to 1, how much of what one segment is off the other goes against."""
    size = np.einsum("kd,kd->k", one, one)
    share = -np.einsum("kd,kd->k", one, other) / np.maximum(size, 1e-9)
    return np.asarray(np.clip(np.nan_to_num(share), 0, 1))


def lean_of_arms(want: Floats, got: Floats, errors: Floats) -> tuple[Floats, Floats]:
    """(k,) by how much the arms lean, and its standard error, in degrees, positive to the picture's right: of their
    segments (k, 4, 2), wanted and shown, whose standard errors are (k, 4).

    The mean by inverse variances of how far each is turned; NaN where none of them is seen.
    """
    turns = np.stack([-want[..., 1], want[..., 0]], axis=2)
    weights = (turns**2).sum(2) * errors**-2.0
    told = np.degrees((turns * (got - want)).sum(2)) * errors**-2.0
    seen = np.isfinite(told) & np.isfinite(weights)
    weight = np.where(seen, weights, 0).sum(1)
    weight[weight == 0] = np.nan
    return np.where(seen, told, 0).sum(1) / weight, np.asarray(weight**-0.5)
