"""The count-domain view: reference and take on one count line, the reference turned to the take's camera.

The rotation between the two cameras is fitted once for the whole take (robustly, so that faults do not count), and
what then is constant for a part over the whole take (proportions, the fitted view's remainder) is taken out.
Lags are seconds of the take's own time: the take at lag L shows what it does L seconds after its common time.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from juxtakine.core.counting.grids import Grid
from juxtakine.core.movement.body import TRUNK_AND_LEGS
from juxtakine.core.movement.cleaning import RATE
from juxtakine.core.movement.features import LIMBS, Features, wrapped
from juxtakine.core.movement.tracks import Bools, Floats

FIT_STEP = 0.25
SOFT = 0.12
"""Beyond this difference (in segment lengths) a pair of segments weighs less and less in the fit."""
YAWS_DEG = np.arange(-180.0, 180.0, 20.0)
"""Where the search for the rotation between the cameras begins: the instructor may be filmed from behind."""
ENOUGH = 2000
"""Segments of both that settle three angles; in a long dance more of them only take time."""
ROUGHLY = 4
"""One in so many of them tells where to begin."""
NEARLY = 1e-5
"""A share of an angle, or of what is left, that is not worth another step of the fit."""
NOISE_FLOOR = 0.03
NOW_AND_THEN = 0.1
"""Share of a clip."""
STEPS_ALIKE = 4
"""After so many of them a step of the fit tells something new."""
PROPORTIONS = [1 / 0.08**2] * 2
"""By how much bodies differ as they turn, in segment lengths (one over its square)."""
Singles = NDArray[np.float32]
Steps = TypeVar("Steps", Floats, Singles)


@dataclass(frozen=True)
class View:
    """Both dancers' features and grids, and what turns the reference into the take's picture.

    `turn` the rotation between the cameras; `bias` (3, D) differences that stay, per channel, as they are from the
    front, and how they change as the dancer turns (see `_turning`); `noise` (D,) the spread of what is left;
    `facing_bias` and `head_bias` by how many degrees body and head stay turned; `unlikeness` the mean soft difference
    that is left between the two.
    """

    reference: Features
    take: Features
    reference_grid: Grid
    take_grid: Grid
    turn: Rotation
    bias: Floats
    noise: Floats
    facing_bias: float
    head_bias: float
    unlikeness: float

    @property
    def depth_shown(self) -> Floats:
        """(2,) where in the turned picture depth shows, and how much of it: 0 for the same view, 1 from the side."""
        return np.asarray(self.turn.as_matrix()[:2, 2])

    @cached_property
    def _reference_steps(self) -> Floats:
        return self.expected(self.reference)

    @cached_property
    def _take_steps(self) -> Floats:
        return channels(self.take)

    def expected(self, reference: Features) -> Floats:
        """(n, D) what the take should show where the reference is like this."""
        return predicted(reference, self.turn) + _turning(reference.facing + self.facing_bias) @ self.bias

    def reference_channels(self, counts: Floats) -> Floats:
        """(k, D) what the take should show at these counts."""
        return between(self._reference_steps, self.reference_grid.seconds(counts) - self.reference.seconds[0])

    def take_channels(self, seconds: Floats) -> Floats:
        """(..., D) what the take shows at these times of its own."""
        return between(self._take_steps, seconds - self.take.seconds[0])

    @cached_property
    def shown(self) -> Bools:
        """(D,) which channels both show now and then: legs that are out of the picture throughout tell nothing."""
        reference, take = (np.isfinite(steps).mean(0) for steps in (self._reference_steps, self._take_steps))
        return np.asarray(np.minimum(reference, take) > NOW_AND_THEN)

    @cached_property
    def in_noise(self) -> tuple[Singles, Singles]:
        """Both in units of the noise, in single precision: six digits are plenty, at half the time."""
        reference, take = (s / self.noise for s in (self._reference_steps, self._take_steps))
        return reference.astype(np.float32), take.astype(np.float32)

    def reference_in_noise(self, counts: Floats) -> Singles:
        """(..., D) the reference's channels in units of the noise."""
        return between(self.in_noise[0], self.reference_grid.seconds(counts) - self.reference.seconds[0])

    def take_in_noise(self, seconds: Floats) -> Singles:
        """(..., D) the take's."""
        return between(self.in_noise[1], seconds - self.take.seconds[0])


def between(steps: Steps, seconds: Floats) -> Steps:
    """(..., D) evenly spaced steps (n, D) at seconds from the first, by straight lines; NaN beyond both ends.

    One gather for all lags of all moments: this is where a comparison spends its time.
    """
    place = seconds * RATE
    last = len(steps) - 1
    low = np.clip(np.floor(place), 0, max(0, last - 1)).astype(int)
    values, after = steps.take(low, axis=0), steps.take(np.minimum(low + 1, last), axis=0)
    after -= values
    after *= (place - low).astype(steps.dtype)[..., None]
    values += after
    values[(place < 0) | (place > last)] = np.nan
    return values


def channels(f: Features) -> Floats:
    """(n, D) the compared values side by side: x and y of each segment, level, spread."""
    flat = f.vectors[..., :2].reshape(len(f.vectors), -1)
    return np.column_stack([flat, f.level, np.linalg.norm(f.feet[:, :2], axis=1)])


def predicted(f: Features, turn: Rotation) -> Floats:
    """(n, D) the same body seen by the turned camera."""
    turned = turn.apply(f.vectors.reshape(-1, 3)).reshape(f.vectors.shape)
    feet = np.linalg.norm(turn.apply(f.feet)[:, :2], axis=1)
    return np.column_stack([turned[..., :2].reshape(len(turned), -1), f.level, feet])


def build(
    reference: Features, take: Features, reference_grid: Grid, take_grid: Grid, counts: Floats, lag_s: float = 0.0
) -> View:
    """The view over the stretch of `counts`, fitted with the take `lag_s` after its common time."""
    steps = np.arange(counts[0], counts[-1] + FIT_STEP, FIT_STEP)
    reference = _from_one_place(reference, take, reference_grid.seconds(steps), take_grid.seconds(steps) + lag_s)
    ref = reference.at(reference_grid.seconds(steps))
    own = take.at(take_grid.seconds(steps) + lag_s)
    turn = _fit_turn(ref.vectors, own.vectors[..., :2])
    difference = channels(own) - predicted(ref, turn)
    facing = _turned_by(own.facing - ref.facing)
    turning = _turning(ref.facing + facing)
    bias = _staying(difference, turning)
    left = difference - turning @ bias
    noise = np.maximum(1.4826 * _nanmedian(np.abs(left)), NOISE_FLOOR)
    unlikeness = _soft(left[np.isfinite(left)])
    head = _turned_by(own.head - ref.head)
    return View(reference, take, reference_grid, take_grid, turn, bias, noise, facing, head, unlikeness)


def _turning(facing: Floats) -> Floats:
    """(n, 3) how a difference that stays with the body shows as it turns: one, sine, and cosine less one; as from the
    front where the facing is not known."""
    a = np.radians(np.nan_to_num(facing))
    return np.column_stack([np.ones(len(a)), np.sin(a), np.cos(a) - 1])


def _staying(difference: Floats, turning: Floats) -> Floats:
    """(3, D) what stays of the differences (n, D) throughout, by how the dancer is turned (n, 3).

    Another body's proportions stay with the body: what leans to the left from the front leans to the right from the
    back. Robust ridge regression (Huber's weights), for trunk and legs across the picture alone: arms have no place of
    their own on the body, and height does not change as one turns.
    """
    out = np.zeros((turning.shape[1], difference.shape[1]))
    out[0] = _nanmedian(difference)
    for k in (2 * LIMBS.index(part) for part in TRUNK_AND_LEGS):
        good = np.isfinite(difference[:, k])
        if not good.any():
            continue
        told, basis = difference[good, k], turning[good]
        for _ in range(3):
            left = told - basis @ out[:, k]
            spread = max(1.4826 * float(np.median(np.abs(left))), NOISE_FLOOR)
            weight = 1 / np.maximum(np.abs(left) / spread, 1.5)
            normal = (basis.T * weight) @ basis / (spread**2 * STEPS_ALIKE) + np.diag([0, *PROPORTIONS])
            out[:, k] = np.linalg.solve(normal, (basis.T * weight) @ told / (spread**2 * STEPS_ALIKE))
    return out


def _from_one_place(reference: Features, take: Features, reference_s: Floats, take_s: Floats) -> Features:
    """What was filmed from several places, each place's part turned by itself to where the take was filmed from."""
    if not reference.camera.any():
        return reference
    ref, own = reference.at(reference_s), take.at(take_s)
    places = np.unique(ref.camera)
    if len(places) < 2:
        return reference
    vectors, feet = reference.vectors.copy(), reference.feet.copy()
    facing, head = reference.facing.copy(), reference.head.copy()
    for place in places:
        some, all_of_it = ref.camera == place, reference.camera == place
        turn = _fit_turn(ref.vectors[some], own.vectors[some][..., :2])
        vectors[all_of_it] = turn.apply(vectors[all_of_it].reshape(-1, 3)).reshape(-1, *vectors.shape[1:])
        feet[all_of_it] = turn.apply(feet[all_of_it])
        facing[all_of_it] += _turned_by((own.facing - ref.facing)[some])
        head[all_of_it] += _turned_by((own.head - ref.head)[some])
    return replace(reference, vectors=vectors, feet=feet, facing=facing, head=head)


def _fit_turn(vectors: Floats, seen: Floats) -> Rotation:
    """The rotation that best carries (n, 10, 3) reference segments onto (n, 10, 2) pictured ones."""
    body = [i for i, part in enumerate(LIMBS) if part != "head"]
    a, b = vectors[:, body].reshape(-1, 3), seen[:, body].reshape(-1, 2)
    good = np.isfinite(a).all(1) & np.isfinite(b).all(1)
    if good.sum() < 3 * len(body):
        return Rotation.identity()
    every = max(1, int(good.sum()) // ENOUGH)
    a, b = a[good][::every], b[good][::every]

    def miss(angles: Floats, every: int = 1) -> Floats:
        return np.asarray((_turn(angles).apply(a[::every])[:, :2] - b[::every]).ravel())

    def slopes(angles: Floats) -> Floats:
        """A point moves at right angles to the axis that it turns about."""
        upright, across, ahead = np.eye(3)[[1, 0, 2]]
        axes = Rotation.from_euler("xz", angles[1:]).apply(upright), _turn([0, 0, angles[2]]).apply(across), ahead
        x, y, z = _turn(angles).apply(a).T
        return np.stack([np.stack([v[1] * z - v[2] * y, v[2] * x - v[0] * z], 1).ravel() for v in axes], 1)

    begin = min((np.radians([yaw, 0, 0]) for yaw in YAWS_DEG), key=lambda angles: _soft(miss(angles, ROUGHLY)))
    fit = least_squares(miss, begin, jac=slopes, loss="soft_l1", f_scale=SOFT, max_nfev=25, xtol=NEARLY, ftol=NEARLY)
    return _turn(fit.x)


def _turn(angles: Sequence[float] | Floats) -> Rotation:
    """About the upright axis, then the one across, then the one to the camera, which stay where they are."""
    return Rotation.from_euler("yxz", angles)


def _soft(differences: Floats) -> float:
    """Mean of a cost that is square for small differences and straight for large ones."""
    return float(np.mean(np.sqrt(1 + (differences / SOFT) ** 2) - 1))


def _turned_by(degrees: Floats) -> float:
    """The median turn, which may lie at the back, where 180 is -180."""
    good = degrees[np.isfinite(degrees)]
    if not len(good):
        return 0.0
    about = float(np.degrees(np.angle(np.exp(1j * np.radians(good)).mean())))
    return about + float(np.median(wrapped(good - about)))


def _nanmedian(values: Floats) -> Floats:
    """Median per column, 0 for a column that is never seen."""
    out = np.zeros(values.shape[1])
    for k in range(values.shape[1]):
        good = values[np.isfinite(values[:, k]), k]
        out[k] = np.median(good) if len(good) else 0.0
    return out
