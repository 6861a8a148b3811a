"""How far a part of two dancers who do the same may seem to differ: the standard error of a difference.

What tells: how far the landmarks may be off (`doubt`, core/movement/errors.py), a limb that points at a camera (a
little more or less of its depth is seen as another length), a body turned away, and most of all both together, as the
body hides what points away from it; an arm that lies before the body or behind it; a head that is turned on its neck.
Weights by quantile regression of what was told on counts without faults of made-up dancers, filmed and with the
estimator's errors replayed, so that 95 % lie within two standard errors; `python -m accuracy.differences` in bench/
fits them. Set by hand, and larger than fitted, are the first of upper arm, thigh and shin, and what upper arms,
forearms and facing lose from behind (the pairs had few such).
"""

from typing import NamedTuple

import numpy as np

from juxtakine.core.movement.body import Part
from juxtakine.core.movement.tracks import Floats

LONG, SHORTER = 0.9, 0.4
"""A segment at least so long in the picture, in its own near-longest length, lies across it; what is known of it falls
until it is by so much shorter."""
OUTWARDS = 0.15
"""An arm that reaches less far outwards in the picture, in its own lengths, is not seen beside the body."""


class Weights(NamedTuple):
    """Of each cue, for one standard error, in degrees or leg lengths."""

    plain: float
    doubt: float
    short: float
    side: float
    back: float
    hidden: float
    before: float = 0.0


WEIGHTS: dict[str, Weights] = {
    "head": Weights(3.800, 0.000, 8.700, 0.500, 60.000, 0.000),
    "torso": Weights(0.640, 0.100, 6.700, 0.000, 0.500, 0.000),
    "upper-arm": Weights(1.106, 0.141, 8.353, 0.000, 2.353, 6.235, 2.353),
    "forearm": Weights(1.624, 0.082, 5.929, 0.000, 2.353, 47.059, 2.706),
    "thigh": Weights(0.941, 0.436, 8.353, 0.691, 1.600, 0.000),
    "shin": Weights(0.941, 0.379, 5.412, 1.706, 0.165, 35.294),
    "level": Weights(0.017, 0.000, 0.000, 0.043, 0.005, 0.000),
    "spread": Weights(0.019, 0.000, 0.000, 0.050, 0.000, 0.000),
    "facing": Weights(4.000, 0.000, 0.000, 6.000, 6.000, 0.000),
}


LET_PASS = 0.6
"""Of what a teacher lets pass: beyond so much of it an error counts against the estimator's, as few are just short of
it."""
EVEN_ODDS = {
    "upper-arm": 2.86,
    "forearm": 3.39,
    "head": 3.78,
    "torso": 3.62,
    "thigh": 3.23,
    "shin": 3.94,
    "level": 2.94,
    "spread": 2.6,
    "facing": 3.2,
}
"""By how many standard errors beyond that a part is as likely at fault as not: more where errors are seldom but
large."""
STEEPNESS = 5.6
"""The odds grow by this power of how far beyond it is: parts are wrong seldom, but then by much, so that above even
odds they grow ever more slowly, and below them fall ever quicker. All of these by maximum likelihood, together with
what is said of a part that is off alone (`causes.ALONE`), on 3947 parts of 1860 tuning pairs that are further off than
what passes; one in seven was taken to be near a fault by chance."""


def chance_of_fault(part: Part, size: float, passes: float, se: float) -> float:
    """0 to 1, of a part that is `size` off where so much `passes`; fitted on the tuning pairs."""
    beyond = (size - LET_PASS * passes) / se
    return float(1 / (1 + (EVEN_ODDS[kind_of(part)] / beyond) ** STEEPNESS)) if beyond > 0 else 0.0


def kind_of(part: Part) -> str:
    """The part without its side."""
    return part.value.removeprefix("left-").removeprefix("right-")


def standard_error(part: Part, telling: Floats) -> Floats:
    """(k,) by (k, 7) cues."""
    return np.asarray(telling @ np.array(WEIGHTS[kind_of(part)]))


def cues(doubt: Floats, length: Floats, facing: tuple[Floats, Floats], outwards: Floats) -> Floats:
    """(k, 7) in the order of Weights, from the doubt of both in degrees, the shorter one's length, both facings
    (0: the camera; the one who is turned away more tells; what is not known counts as faced), and how far an arm
    reaches outwards (1 for what is no arm)."""
    away = np.maximum(*(np.abs((np.nan_to_num(f) + 180) % 360 - 180) for f in facing))
    # half turned is still seen well, from the side limbs hide each other
    side, back = np.clip(1 - np.abs(away / 90 - 1), 0, 1) ** 2, np.clip(away / 90 - 1, 0, 1)
    short = np.clip(LONG - np.nan_to_num(length, nan=1.0), 0, SHORTER)
    before = np.clip(OUTWARDS - np.nan_to_num(outwards, nan=1.0), 0, 1)
    return np.column_stack([np.ones(len(away)), np.nan_to_num(doubt), short, side, back, short * back, before])
