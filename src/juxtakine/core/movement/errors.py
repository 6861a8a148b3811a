"""How far each landmark may be off, at each moment: standard errors from what can be seen in a track itself.

What tells: a limb that points at the camera (by far the most), a body turned away, how fast the movement changes, a low
visibility, a limb that changes its length. Their weights were found by quantile regression of the true errors of filmed
made-up dancers (Koenker and Bassett, 1978), so that 95 % of the errors lie within two standard errors;
`python -m accuracy.errors` in bench/ fits them and prints the curve. What elbows and wrists lose where they are less
visible is set by hand, by the 95th percentile of the errors in five steps of visibility: few are, but then by much.

Errors are distances in the picture. A constant offset of a landmark from the joint that it is named after (where the
estimator puts a shoulder is its own affair) is apart, as it does not matter where two tracks are compared.
"""

from typing import NamedTuple

import numpy as np

from juxtakine.core.movement.body import LANDMARKS, SWAPPED
from juxtakine.core.movement.tracks import Floats, Track

STEP_S = 1 / 15
"""Accelerations are told per step of this length, whatever the frame rate."""
HIDDEN_FROM, HIDDEN_DECADES = 1e-3, 3.0
"""1 - visibility from which on a landmark counts as partly hidden, and over how many powers of ten."""
SHORT = 0.6
"""A limb shorter in the picture than this, in its own near-longest length, has its end hidden in depth."""
MOST = 1.0


class LandmarkWeights(NamedTuple):
    """Of each cue for two standard errors, in torso lengths; of `offset`, the constant that is apart, for one."""

    plain: float
    hidden: float
    unseen: float
    sudden: float
    side: float
    back: float
    short: float
    stretched: float
    offset: float


HEAD, SHOULDER, ELBOW, WRIST, HIP, KNEE, ANKLE = "head", "shoulder", "elbow", "wrist", "hip", "knee", "ankle"
_LEFT = {
    **dict.fromkeys((1, 2, 3, 7, 9), HEAD),
    11: SHOULDER,
    13: ELBOW,
    **dict.fromkeys((15, 17, 19, 21), WRIST),
    23: HIP,
    25: KNEE,
    **dict.fromkeys((27, 29, 31), ANKLE),
}
KIND = [HEAD if k == 0 else _LEFT.get(k) or _LEFT[SWAPPED[k]] for k in range(LANDMARKS)]
"""The joint that a landmark is, or hangs on."""
_LIMB = {SHOULDER: (11, 13), ELBOW: (11, 13), WRIST: (13, 15), HIP: (23, 25), KNEE: (23, 25), ANKLE: (25, 27)}
_OF = [(k, _LIMB[kind] if k % 2 else tuple(SWAPPED[m] for m in _LIMB[kind])) for k, kind in enumerate(KIND) if k > 10]
LIMB_ENDS = {limb: [k for k, of in _OF if of == limb] for limb in dict.fromkeys(of for _, of in _OF)}
"""From which landmark to which a limb goes: the landmarks that it tells of."""
WEIGHTS: dict[str, dict[str, LandmarkWeights]] = {
    "full": {
        HEAD: LandmarkWeights(0.021, 0.088, 0.000, 0.198, 0.079, 0.079, 0.000, 0.000, 0.026),
        SHOULDER: LandmarkWeights(0.073, 0.759, 0.000, 0.108, 0.039, 0.019, 0.162, 0.016, 0.028),
        ELBOW: LandmarkWeights(0.067, 0.000, 0.400, 0.152, 0.050, 0.000, 1.987, 0.345, 0.026),
        WRIST: LandmarkWeights(0.022, 0.044, 1.200, 0.067, 0.067, 0.011, 0.313, 0.109, 0.014),
        HIP: LandmarkWeights(0.022, 0.119, 0.000, 0.235, 0.076, 0.024, 0.106, 0.064, 0.035),
        KNEE: LandmarkWeights(0.022, 0.000, 0.000, 0.462, 0.031, 0.017, 0.000, 0.794, 0.024),
        ANKLE: LandmarkWeights(0.022, 0.000, 0.000, 0.455, 0.081, 0.012, 0.000, 0.290, 0.068),
    },
    "heavy": {
        HEAD: LandmarkWeights(0.020, 0.022, 0.000, 0.202, 0.069, 0.068, 0.000, 0.000, 0.025),
        SHOULDER: LandmarkWeights(0.072, 0.513, 0.000, 0.079, 0.000, 0.011, 0.000, 0.096, 0.024),
        ELBOW: LandmarkWeights(0.021, 0.120, 0.400, 0.199, 0.052, 0.000, 0.098, 0.012, 0.023),
        WRIST: LandmarkWeights(0.026, 0.018, 1.200, 0.106, 0.055, 0.057, 0.260, 0.032, 0.012),
        HIP: LandmarkWeights(0.020, 0.000, 0.000, 0.211, 0.095, 0.021, 0.222, 0.093, 0.031),
        KNEE: LandmarkWeights(0.024, 0.000, 0.000, 0.268, 0.030, 0.012, 0.869, 0.329, 0.025),
        ANKLE: LandmarkWeights(0.020, 0.000, 0.000, 0.388, 0.025, 0.023, 1.998, 0.134, 0.066),
    },
}


def standard_errors(image: Floats, world: Floats, visibility: Floats, seconds: Floats, model: str) -> Floats:
    """(n, 33) in pixels, of landmarks (n, 33, 2) and (n, 33, 3) estimated at `seconds`; NaN where not seen.

    Without the constant offset. Of a model that is not known, what is told is that of the less sure one.
    """
    weights = _weights(model)
    table = np.array([weights[kind][:-1] for kind in KIND]) / 2 * torso_length(image)
    telling = cues(image, world, visibility, seconds)
    return sum((cue * weight for cue, weight in zip(telling, table.T, strict=True)), np.zeros(visibility.shape))


def with_offset(errors: Floats, image: Floats, model: str) -> Floats:
    """The same with each landmark's constant offset in it: how far from the true joint."""
    offsets = np.array([_weights(model)[kind].offset for kind in KIND])
    return np.hypot(errors, offsets * torso_length(image))


def of_track(track: Track) -> Floats:
    """(n, 33) standard errors of a track's landmarks from the true joints, in pixels; NaN where nobody was found."""
    out = np.full(track.visibility.shape, np.nan)
    rows = track.found
    if rows.sum() > 1:
        image = track.image[rows]
        local = standard_errors(image, track.world[rows], track.visibility[rows], track.seconds[rows], track.model)
        out[rows] = with_offset(local, image, track.model)
    return out


def cues(image: Floats, world: Floats, visibility: Floats, seconds: Floats) -> list[Floats]:
    """What tells of errors, in the order of Weights, each from 0 to about 1: (n, 33), or (n, 1) where all
    landmarks have the same."""
    n = len(seconds)
    hidden = np.clip(np.log10(np.maximum(1 - visibility, 1e-9) / HIDDEN_FROM) / HIDDEN_DECADES, 0, MOST)
    away = np.abs(yaw(world))
    side, back = (np.clip(v, 0, 1)[:, None] for v in (1 - np.abs(away / 90 - 1), away / 90 - 1))
    short, stretched = np.zeros((n, LANDMARKS)), np.zeros((n, LANDMARKS))
    for (a, b), ends in LIMB_ENDS.items():
        short[:, ends] = _short(image[:, b] - image[:, a])[:, None]
        stretched[:, ends] = _stretched(world[:, b] - world[:, a])[:, None]
    plain = np.ones((n, 1))
    return [plain, hidden, (1 - visibility) ** 2, _sudden(image, seconds), side, back, short, stretched]


def torso_length(image: Floats) -> float:
    """Typical length of the torso in pixels."""
    shoulders, hips = image[:, [11, 12]].mean(1), image[:, [23, 24]].mean(1)
    return float(np.nanpercentile(np.linalg.norm(shoulders - hips, axis=1), 75))


def _weights(model: str) -> dict[str, LandmarkWeights]:
    return WEIGHTS.get(model, WEIGHTS["full"])


def yaw(world: Floats) -> Floats:
    """(n,) degrees of the lines of shoulders and hips in space, as the estimator has them (n, 33, 3): 0 towards the
    camera, more as the dancer turns to their own left."""
    across = world[:, 11] - world[:, 12] + world[:, 23] - world[:, 24]
    return np.asarray(np.degrees(np.arctan2(across[:, 2], across[:, 0])))


def _sudden(image: Floats, seconds: Floats) -> Floats:
    """(n, 33) change of velocity from step to step, in torso lengths a step."""
    out = np.zeros(image.shape[:2])
    if len(seconds) > 2:
        step = float(np.median(np.diff(seconds)))
        x, y = np.moveaxis(np.diff(image, 2, axis=0), 2, 0)
        change = np.hypot(x, y) / torso_length(image)
        out[1:-1] = np.clip(change * (STEP_S / step) ** 2, 0, MOST)
    return out


def _short(limb: Floats) -> Floats:
    length = np.linalg.norm(limb, axis=1)
    return np.asarray(np.clip(SHORT - length / np.nanpercentile(length, 95), 0, MOST))


def _stretched(limb: Floats) -> Floats:
    length = np.linalg.norm(limb, axis=1)
    return np.asarray(np.clip(np.abs(np.log(length / np.nanmedian(length))), 0, MOST))
