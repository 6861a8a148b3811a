"""How far a part of two dancers who do the same may seem to differ: the standard error of a difference.

What tells: how far the landmarks may be off (`doubt`, core/movement/errors.py), a limb that points at a camera (a
little more or less of its depth is seen as another length), a body turned away. Weights by quantile regression of what
was told on counts without faults of filmed made-up dancers, so that 95 % lie within two standard errors;
`python -m accuracy.differences` in bench/ fits them. Set by hand, and larger than fitted, are the first of head, torso,
forearm, thigh and shin (other films may be worse) and what arms lose from behind (the pairs had few such).
"""

from typing import NamedTuple

import numpy as np
from scipy.special import expit

from juxtakine.core.movement.body import Part
from juxtakine.core.movement.tracks import Floats

LONG, SHORTER = 0.9, 0.4
"""A segment at least so long in the picture, in its own near-longest length, lies across it; what is known of it falls
until it is by so much shorter."""


class Weights(NamedTuple):
    """Of each cue, for one standard error, in degrees or leg lengths."""

    plain: float
    doubt: float
    short: float
    side: float
    back: float


WEIGHTS: dict[str, Weights] = {
    "head": Weights(2.000, 0.502, 0.071, 0.000, np.inf),
    "torso": Weights(0.500, 0.187, 0.000, 0.000, 0.547),
    "upper-arm": Weights(2.043, 0.044, 20.812, 1.146, 2.000),
    "forearm": Weights(1.500, 0.278, 17.597, 0.749, 10.000),
    "thigh": Weights(0.800, 0.371, 17.168, 0.587, 0.116),
    "shin": Weights(0.800, 0.354, 31.241, 1.616, 0.000),
    "level": Weights(0.017, 0.000, 0.000, 0.011, 0.004),
    "spread": Weights(0.019, 0.000, 0.000, 0.119, 0.000),
    "facing": Weights(3.591, 0.000, 0.000, 24.067, 9.312),
}


EVEN_ODDS = {
    "upper-arm": 0.7,
    "forearm": 2.2,
    "head": 1.3,
    "torso": 1.2,
    "thigh": 1.2,
    "shin": 1.2,
    "level": 1.8,
    "spread": 1.7,
    "facing": 1.7,
}
"""By how many standard errors beyond what passes a part is as likely at fault as not; more where errors are seldom but
large, as of a forearm that the body hides."""
STEEPNESS = 1.6


def chance_of_fault(part: Part, beyond: float) -> float:
    """0 to 1, of a part that is `beyond` standard errors further off than what passes; fitted on the tuning pairs."""
    return float(expit(STEEPNESS * (beyond - EVEN_ODDS[kind_of(part)])))


def kind_of(part: Part) -> str:
    """The part without its side."""
    return part.value.removeprefix("left-").removeprefix("right-")


def standard_error(part: Part, telling: Floats) -> Floats:
    """(k,) by (k, 5) cues; infinite where the part can't be seen from there at all."""
    weights = np.array(WEIGHTS[kind_of(part)])
    with np.errstate(invalid="ignore"):
        return np.asarray(np.where(telling > 0, telling * weights, 0.0).sum(1))


def cues(doubt: Floats, length: Floats, facing: tuple[Floats, Floats]) -> Floats:
    """(k, 5) in the order of Weights, from the doubt of both in degrees, the shorter one's length, and both facings
    (0: the camera; the one who is turned away more tells; what is not known counts as faced)."""
    away = np.maximum(*(np.abs((np.nan_to_num(f) + 180) % 360 - 180) for f in facing))
    # half turned is still seen well, from the side limbs hide each other
    side, back = np.clip(1 - np.abs(away / 90 - 1), 0, 1) ** 2, np.clip(away / 90 - 1, 0, 1)
    short = np.clip(LONG - np.nan_to_num(length, nan=1.0), 0, SHORTER)
    return np.column_stack([np.ones(len(away)), np.nan_to_num(doubt), short, side, back])
