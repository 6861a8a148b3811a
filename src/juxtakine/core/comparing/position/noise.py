"""How far a part of two dancers who do the same may seem to differ: the standard error of a difference.

What tells: how far the landmarks may be off (`doubt`, core/movement/errors.py), a limb that points at a camera (a
little more or less of its depth is seen as another length), a body turned away, and most of all both together, as the
body hides what points away from it; an arm that lies before the body or behind it; a head that is turned on its neck;
a body that has just turned its back.
Weights by quantile regression of what was told on counts without faults of made-up dancers, filmed and with the
estimator's errors replayed, so that 95 % lie within two standard errors; `python -m accuracy.differences` in bench/
fits them. Set by hand, and larger than fitted, are the first of upper arm, thigh and shin, and what upper arms,
forearms and facing lose from behind (the pairs had few such).
"""

from typing import NamedTuple

import numpy as np

from juxtakine.core.comparing.position.poses import Poses, segment
from juxtakine.core.movement.body import ARMS, Part, kind_of
from juxtakine.core.movement.features import LIMBS, wrapped
from juxtakine.core.movement.tracks import Floats

DEPTH_OF_FEET, HANGING = 0.42, 0.4
"""How well it is known how far one foot is before the other, as a share of that; and in leg lengths, where the feet are
off the floor all the time: one that hangs before the other, as in a low kick, may be taken to stand beside it."""
MISPLACED, AS_DEEP = 0.2, 0.1
"""Where that is told more differently of the two dancers than by so many leg lengths, a foot of one of them is not
where it is thought to be, as after a kick: so much of what is more is not known of the spread."""
FROM_ELSEWHERE = {"upper-arm": (2.5, 1.0), "forearm": (3.0, 1.0), "shin": (1.0, 0.7)}
"""How much less is known of a part, by the sine of the angle between the cameras, along where depth shows in the turned
picture and across it: what was not known of its depth shows from another place, to the side, and arms point at the
camera most. How high a part is raised looks alike from all round."""
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
    "spread": Weights(0.020, 0.000, 0.000, 0.031, 0.000, 0.000),
    "facing": Weights(4.200, 0.000, 0.000, 5.500, 4.000, 20.000),
}


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


def standard_errors(part: Part, error: Floats, poses: Poses) -> Floats:
    """(k,) what the estimator leaves open from both views, and at least the part's own spread over the whole take.

    The spread is by the median, so that faults do not count; a limb's difference is the length of a vector with noise
    in two directions (its median is 1.18 standard errors).
    """
    by_view = standard_error(part, telling(part, poses))
    if part is Part.SPREAD:
        by_view = np.hypot(by_view, _feet_open(poses))
    if part is Part.TORSO:
        by_view = np.hypot(by_view, poses.lean[1])
    by_view = by_view * elsewhere(part, poses)
    good = np.isfinite(error)
    plain = part in (Part.TORSO, Part.LEVEL, Part.SPREAD, Part.FACING)
    if not good.any():
        return np.asarray(by_view)
    ratio = float(np.median(np.abs(error[good]) / by_view[good])) * (1.4826 if plain else 1 / 1.1774)
    return np.asarray(by_view * max(1.0, ratio))


def _feet_open(poses: Poses) -> Floats:
    """(k,) what is left open of how wide the feet stand by where they stand in depth, in leg lengths."""
    deep, differs = np.nan_to_num(np.abs(poses.feet_depth))
    legs, steps = (np.isfinite(poses.flat[part][0]) for part in (Part.LEVEL, Part.SPREAD))
    off_the_floor = float((legs & ~steps).sum() / max(legs.sum(), 1))
    turned = poses.slant * (DEPTH_OF_FEET * deep + HANGING * off_the_floor)
    return np.asarray(np.hypot(turned, MISPLACED * np.maximum(differs - AS_DEEP, 0)))


def elsewhere(part: Part, poses: Poses) -> Floats:
    """(k,) by how much less is known of how a part differs than if both were filmed from one place: 1 and more."""
    if kind_of(part) not in FROM_ELSEWHERE:
        return np.ones(len(poses.want))
    want, got = segment(poses, part)
    apart, depth = got - want, poses.depth_shown / max(poses.slant, 1e-9)
    share = (apart @ depth) ** 2 / np.maximum((apart**2).sum(1), 1e-9)
    along, across = ((1 + more * poses.slant) ** 2 for more in FROM_ELSEWHERE[kind_of(part)])
    return np.asarray(np.sqrt(share * along + (1 - share) * across))


def telling(part: Part, poses: Poses) -> Floats:
    """(k, 7) what tells how well a part's difference is known."""
    k = len(poses.facing[0])
    if part in (Part.FACING, Part.HEAD):
        # as they are meant to be turned: who is turned too far is not known less well for it
        at_rest = _ahead(poses) if part is Part.HEAD else _standing(poses)
        return cues(np.zeros(k), at_rest, poses.yaws[part], np.ones(k))
    if part not in LIMBS:
        return cues(np.zeros(k), np.ones(k), poses.facing, np.ones(k))
    i = LIMBS.index(part)
    both = poses.want[:, i], poses.got[:, i]
    shorter = np.fmin(*(np.linalg.norm(v, axis=1) for v in both))
    return cues(poses.doubt[:, i], shorter, poses.facing, _outwards(part, *both, poses.facing[1]))


def _ahead(poses: Poses) -> Floats:
    """(k,) 1 where the head is meant to look where the body faces, by a hundredth less for each degree aside."""
    (head, _), (body, _) = poses.yaws[Part.HEAD], poses.yaws[Part.FACING]
    return np.asarray(1 - np.abs(wrapped(head - body)) / 100)


def _standing(poses: Poses) -> Floats:
    """(k,) 1 where the body is meant to face where it did on the count before, by a third of a hundredth less for each
    degree that it has turned since."""
    meant, _ = poses.yaws[Part.FACING]
    return np.asarray(1 - np.abs(wrapped(np.diff(meant, prepend=meant[:1]))) / 300)


def _outwards(part: Part, want: Floats, got: Floats, facing: Floats) -> Floats:
    """(k,) how far from the body's middle the arm reaches that reaches less; from behind the sides are exchanged."""
    if part not in ARMS:
        return np.ones(len(facing))
    side = np.where(np.abs(wrapped(facing)) > 90, -1, 1) * (1 if part.startswith("left") else -1)
    return np.asarray(np.fmin(side * want[:, 0], side * got[:, 0]))
