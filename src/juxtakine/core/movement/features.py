"""Features: movement told free of where the camera stands off and of how long the limbs are.

Each segment is a vector in the picture in its own near-longest length, with its depth; level and feet are in leg
lengths. The picture knows directions to 1-3 degrees, depth is known far less well (see `depth`): it is used to turn the
view and never compared by itself.

Conventions: x to the picture's right, y down, z away from the camera; angles in degrees; turning to the dancer's left
is positive.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import binary_opening

from juxtakine.core.movement.body import SEGMENTS, Landmark, Part, along, mirrored_part
from juxtakine.core.movement.cleaning import RATE, Movement
from juxtakine.core.movement.depth import Known, depth, depth_of
from juxtakine.core.movement.nearness import nearness
from juxtakine.core.movement.tracks import Bools, Floats

LIMBS = tuple(SEGMENTS)
MIRRORED = [LIMBS.index(mirrored_part(part)) for part in LIMBS]
"""The segment that each one is in the mirror."""
Numbers = NDArray[np.int64]
Span = tuple[float, float, int]
"""From and to, in seconds, and a number."""
NEAR_LONGEST = 95
LIFTED = 0.1
"""A foot this much higher above the floor than the other, in leg lengths, is not on it."""
HELD_UP, HELD_UP_S = 0.05, 0.2
"""Nor is one that stays this much higher for so long: a step only passes through."""
FACE_SEEN = 100.0
"""Turned away by more degrees a face is not seen."""
STEEPEST = 0.3
"""As seen from a camera at the height of a breast and not much nearer than five metres; kicks may look as more."""
TRUNK = Known(shortening=0.3, in_space=0.4)
"""How well the line across the trunk is known, fitted on filmed made-up dancers."""
TURNED_TOO_LITTLE = 1.3
"""The estimator's trunks turn less than they should on feet that stay: their line is this much deeper than it says."""
HEAD_REACH = 0.75
"""How far the nose stands before the middle of the ears, in distances between the ears seen from the front."""


@dataclass(frozen=True)
class Features:
    """(n,) seconds; `vectors` (n, 10, 3) in the order of LIMBS; `doubt` (n, 10, 2) their standard errors in the picture
    and in depth, in the same lengths; `feet` (n, 3) from the right ankle to the left in leg lengths; (n,) level, and
    the yaws of body and head; NaN where not seen. `camera` (n,) numbers the places from which they were filmed, where a
    clip was put together from several.
    """

    seconds: Floats
    vectors: Floats
    doubt: Floats
    feet: Floats
    level: Floats
    facing: Floats
    head: Floats
    camera: Numbers

    def at(self, seconds: Floats) -> "Features":
        """The same at other times (k,), by straight lines; not seen beyond both ends."""
        last = len(self.seconds) - 1
        if last < 1:
            low, share = np.zeros(len(seconds), int), np.full(len(seconds), np.nan)
        else:
            low = np.clip(np.searchsorted(self.seconds, seconds, side="right") - 1, 0, last - 1)
            share = (seconds - self.seconds[low]) / (self.seconds[low + 1] - self.seconds[low])
            share = np.where((share < 0) | (share > 1), np.nan, share)

        def carried(values: Floats) -> Floats:
            w = share.reshape(-1, *(1,) * (values.ndim - 1))
            return np.asarray(values[low] * (1 - w) + values[np.minimum(low + 1, last)] * w)

        return Features(
            seconds, carried(self.vectors), carried(self.doubt), carried(self.feet), carried(self.level),
            carried(self.facing), carried(self.head), self.camera[low],
        )  # fmt: skip

    @property
    def mirrored(self) -> "Features":
        """The same movement as a flipped picture shows it: left is right."""
        vectors, doubt = self.vectors[:, MIRRORED] * [-1, 1, 1], self.doubt[:, MIRRORED]
        return Features(
            self.seconds, vectors, doubt, self.feet * [1, -1, -1], self.level, -self.facing, -self.head, self.camera
        )

    def turned(self, degrees: Floats) -> "Features":
        """The same body turned to its own left by so many degrees (n,) at each time, as a whole."""
        about = np.radians(degrees)
        return Features(
            self.seconds, _about_upright(self.vectors, about), self.doubt, _about_upright(self.feet, about), self.level,
            self.facing + degrees, self.head + degrees, self.camera,
        )  # fmt: skip


def _about_upright(v: Floats, radians: Floats) -> Floats:
    """(n, ..., 3) turned from x to z by (n,) angles."""
    c, s = (f(radians).reshape(-1, *(1,) * (v.ndim - 2)) for f in (np.cos, np.sin))
    return np.stack([c * v[..., 0] - s * v[..., 2], v[..., 1], s * v[..., 0] + c * v[..., 2]], axis=-1)


def features(movement: Movement, cameras: Sequence[Span] = ()) -> Features:
    """The features of a cleaned movement; `cameras` are spans of seconds with the number of the place from which each
    was filmed, lengths being measured for each place by itself."""
    camera = np.zeros(len(movement.seconds), np.int64)
    for begin, end, number in cameras:
        camera[(movement.seconds >= begin) & (movement.seconds < end)] = number
    groups = [np.flatnonzero(camera == c) for c in np.unique(camera)]
    if len(groups) < 2:
        return Features(movement.seconds, *_features(movement), camera)
    order = np.concatenate(groups).argsort()
    parts = [_features(movement.only(rows)) for rows in groups]
    vectors, doubt, feet, level, facing, head = (np.concatenate(a)[order] for a in zip(*parts, strict=True))
    return Features(movement.seconds, vectors, doubt, feet, level, facing, head, camera)


def _features(movement: Movement) -> tuple[Floats, Floats, Floats, Floats, Floats, Floats]:
    """Vectors, doubt, feet, level, facing and head, as one camera saw them."""
    near = nearness(movement.image, movement.world)[:, None]
    image, world, error = movement.image / near[..., None], movement.world, movement.error / near
    told = [_segment(image, world, error, part) for part in LIMBS]
    vectors, doubt = (np.stack(rows, 1) for rows in zip(*told, strict=True))
    leg, ankles = _leg(image), _points(image, "ANKLE")
    level = (ankles[..., 1].max(1) - _middle(image, "HIP")[:, 1]) / leg
    facing = _facing(image, world)
    return vectors, doubt, _feet(image, world, leg), level, facing, _head(image, world, facing)


def _feet(image: Floats, world: Floats, leg: float) -> Floats:
    """(n, 3) from the right ankle to the left in leg lengths, which are `leg` pixels in the picture; with a foot in the
    air there is no step to be told."""
    flat, deep = (_points(p, "ANKLE")[:, 0] - _points(p, "ANKLE")[:, 1] for p in (image, world))
    feet = np.column_stack([flat / leg, deep[:, 2] / _leg(world)])
    higher = np.abs(feet[:, 1] + _floor(feet) * feet[:, 2])
    held_up = binary_opening(higher > HELD_UP, np.ones(round(HELD_UP_S * RATE), bool))
    return np.where((held_up | ~(higher < LIFTED))[:, None], np.nan, feet)


def _floor(feet: Floats) -> float:
    """By how much what is further away stands higher in the picture: of most steps both feet are on the floor (least
    absolute deviations of a line through the origin, which is a median with weights)."""
    rows = feet[np.isfinite(feet).all(1) & (feet[:, 2] != 0)]
    if not len(rows):
        return 0.0
    slopes, weights = -rows[:, 1] / rows[:, 2], np.abs(rows[:, 2])
    order = slopes.argsort()
    half = np.searchsorted(weights[order].cumsum(), weights.sum() / 2)
    return float(np.clip(slopes[order][half], 0.0, STEEPEST))


def _points(points: Floats, joint: str) -> Floats:
    """(n, 2, d): left, right."""
    return points[:, [Landmark[f"LEFT_{joint}"], Landmark[f"RIGHT_{joint}"]]]


def _middle(points: Floats, joint: str) -> Floats:
    return np.asarray(_points(points, joint).mean(1))


def _segment(image: Floats, world: Floats, error: Floats, part: Part) -> tuple[Floats, Floats]:
    """(n, 3) the segment in its own near-longest length, and (n, 2) its standard errors, flat and in depth."""
    longest = _longest(image, part)
    flat = along(image, part) / longest
    deep, deep_error = depth(part, flat, along(world, part))
    return np.column_stack([flat, deep]), np.column_stack([_doubt(error, part) / longest, deep_error])


def lengths(movement: Movement, part: Part) -> Floats:
    """(n,) how many pixels a segment's own near-longest length is, at each step, as the dancer comes nearer."""
    near = nearness(movement.image, movement.world)
    return np.asarray(near * _longest(movement.image / near[:, None, None], part))


def _longest(image: Floats, part: Part) -> float:
    """The segment's own near-longest length in the picture, in pixels."""
    if part is Part.HEAD:
        ears = image[:, Landmark.LEFT_EAR] - image[:, Landmark.RIGHT_EAR]
        return HEAD_REACH * _percentile(np.linalg.norm(ears, axis=1))
    return _percentile(np.linalg.norm(along(image, part), axis=1))


def _doubt(error: Floats, part: Part) -> Floats:
    """(n,) standard error of the segment's vector, of both ends (of a middle of two, theirs halved)."""
    ends = [np.linalg.norm(error[:, list(marks)], axis=1) / len(marks) for marks in SEGMENTS[part]]
    return np.asarray(np.hypot(*ends))


def _leg(points: Floats) -> float:
    """Own leg length in the unit of the points: near-longest thigh plus shin, the mean of both sides."""
    hip, knee, ankle = (_points(points, j) for j in ("HIP", "KNEE", "ANKLE"))
    thigh, shin = np.linalg.norm(knee - hip, axis=2), np.linalg.norm(ankle - knee, axis=2)
    return float(np.mean([_percentile(thigh[:, s]) + _percentile(shin[:, s]) for s in (0, 1)]))


def _percentile(values: Floats) -> float:
    good = values[np.isfinite(values)]
    return float(np.percentile(good, NEAR_LONGEST)) if len(good) else float("nan")


def _facing(image: Floats, world: Floats) -> Floats:
    """(n,) yaw of the trunk, 0 towards the camera, on beyond 180 as the body turns on: by how narrow the shoulders
    look, and by the lines of shoulders and hips in space, which tell the side."""
    ends = _points(image, "SHOULDER"), _points(world, "SHOULDER"), _points(world, "HIP")
    shown, shoulders, hips = (p[:, 0] - p[:, 1] for p in ends)
    width = np.linalg.norm(shown, axis=1)
    beside, away = (shoulders + hips)[:, 0], TURNED_TOO_LITTLE * (shoulders + hips)[:, 2]
    deep, _ = depth_of(width / _percentile(width), away / np.hypot(beside, away), TRUNK)
    return _unwrapped(np.arctan2(deep, np.sign(beside) * np.sqrt(1 - np.minimum(deep**2, 1))))


def _head(image: Floats, world: Floats, facing: Floats) -> Floats:
    """(n,) yaw of the head, 0 towards the camera: half by how far the nose stands beside the middle of the ears in the
    picture and how far they are apart there, half by the line of the ears in space. Of who is turned away the face is
    only guessed."""
    flat, deep = (_points(p, "EAR")[:, 0] - _points(p, "EAR")[:, 1] for p in (image, world))
    beside = along(image, Part.HEAD)[:, 0] / HEAD_REACH
    shown, in_space = (np.arctan2(*v) for v in ((beside, flat[:, 0]), (deep[:, 2], deep[:, 0])))
    yaw = _unwrapped(np.angle(np.exp(1j * shown) + np.exp(1j * in_space)))
    away = np.fmax(np.abs(wrapped(yaw)), np.abs(wrapped(facing)))
    return np.where(away > FACE_SEEN, np.nan, yaw)


def _unwrapped(radians: Floats) -> Floats:
    """(n,) degrees: between 179 and -179 lies the back, and not the front."""
    out, good = np.degrees(radians), np.isfinite(radians)
    out[good] = np.degrees(np.unwrap(radians[good]))
    return np.asarray(out)


def wrapped(degrees: Floats) -> Floats:
    """The same turn within -180 to 180."""
    return np.asarray((degrees + 180) % 360 - 180)


def seen(values: Features) -> Bools:
    """(n, 10) which segments are seen."""
    return np.isfinite(values.vectors[..., 0])
