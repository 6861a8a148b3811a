"""Cleaning: from a raw track to evenly spaced, smooth movement in which every point is either believable or not seen.

The estimator's visibility does not tell when it is wrong; continuity does. Left and right limbs that were swapped for
a stretch are found by the path over the whole clip that moves least (Viterbi over plain and swapped, for arms and legs
apart), single-frame spikes by a Hampel filter (median of neighbours), and somebody else by a trunk that leaps away and
back. Smoothing is zero-phase (Savitzky-Golay of order 2 over 0.2 s), as a lag would be a timing error.
"""

from dataclasses import dataclass
from itertools import combinations, pairwise

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import interp1d
from scipy.signal import savgol_filter

from juxtakine.core.movement.body import SWAPPED, Landmark
from juxtakine.core.movement.errors import standard_errors, torso_length, yaw
from juxtakine.core.movement.filling import filled_in
from juxtakine.core.movement.tracks import Bools, Floats, Track
from juxtakine.core.paths import least_path

RATE = 30.0
"""Steps a second of cleaned movement."""
WINDOW = 7
SEEN, ARM_SEEN = 0.2, 0.5
"""Visibility below which a landmark counts as hidden; down to there its standard error tells how well it is known. An
arm that the body hides, as of who stands sideways, the estimator makes up: of 500 elbows and wrists of filmed tuning
clips that were less visible than this every fifth lets its limb point 20° elsewhere and more; of legs none does."""
SIDEWAYS_DEG, FAR_ARM_SEEN = (70.0, 150.0), 0.9
"""Turned so far the body hides the arm on its far side, which is then put where the other one is, or guessed, however
visible it is said to be: of 1756 such arms in films 23 % point 20° elsewhere and more (10 % from 70 to 80°, and below
that 3 %), of 5683 near ones 2 %."""
MARGIN = 0.02
"""How far beyond the picture's edge, in picture widths, a landmark may be guessed."""
SPIKE = 0.45
"""A jump away from both neighbours, in torso lengths, that no body makes within one frame."""
LEAP, FASTEST = 0.3, 8.0
"""A trunk does not move further between two frames than so many of its lengths, and so many a second more."""
FLIP, FLIP_S = 1.2, 0.15
"""Nobody's shoulders move so far about their hips, in torso lengths, between two frames of so long at most."""
AWAY_S = 2.0
"""For so long at most somebody else is followed by mistake; who stays longer may as well be the dancer."""
SWITCH_COST = 0.6
"""What a change of labelling costs, in torso lengths: crossing limbs alone must not cause one. Arms and legs together
cost as much as either, as the estimator mistakes a whole body's front for its back."""
AGREEING = 0.4
"""What a frame costs in which shoulders and hips would point against each other, in torso lengths."""
SWAPPED_COST = 0.01
"""What a frame with swapped labels costs: the estimator is right more often than not."""
SHOULDERS, HIPS = (Landmark.LEFT_SHOULDER, Landmark.RIGHT_SHOULDER), (Landmark.LEFT_HIP, Landmark.RIGHT_HIP)
USED = list(Landmark)
LEFT_ARM = np.isin(USED, [Landmark.LEFT_ELBOW, Landmark.LEFT_WRIST])
RIGHT_ARM = np.isin(USED, [Landmark.RIGHT_ELBOW, Landmark.RIGHT_WRIST])
LIMBS = (tuple(range(11, 23)), tuple(range(23, 33)))
"""Landmarks that are swapped together: arms, legs."""


@dataclass(frozen=True)
class Movement:
    """(n,) evenly spaced seconds, (n, 33, 2) image in pixels and (n, 33, 3) world; NaN where not seen, and of landmarks
    that are not used; (n, 33) `error`, the standard error of a landmark in pixels, its constant offset apart."""

    seconds: Floats
    image: Floats
    world: Floats
    error: Floats

    @property
    def seen(self) -> Bools:
        """(n, 33)"""
        return np.isfinite(self.image[..., 0])

    def only(self, rows: NDArray[np.int64]) -> "Movement":
        """At some of its steps."""
        return Movement(self.seconds[rows], self.image[rows], self.world[rows], self.error[rows])


def clean(track: Track) -> Movement:
    """Mend swaps, drop what can't be, space evenly, smooth without lag."""
    rows = track.estimated & track.followed
    if rows.sum() < 2:
        return Movement(np.empty(0), np.empty((0, 33, 2)), np.empty((0, 33, 3)), np.empty((0, 33)))
    seconds, image, world = track.seconds[rows], track.image[rows], track.world[rows]
    torso = torso_length(image)
    own = ~(elsewhere(image, seconds, torso) | upended(image, seconds, torso))
    seconds, image, world, visibility = (a[own] for a in (seconds, image, world, track.visibility[rows]))
    order = unswapped(image, world, torso)
    swapped = np.flatnonzero((order != np.arange(order.shape[1])).any(1))
    for told in (image, world, visibility):
        told[swapped] = told[swapped[:, None], order[swapped]]
    error = standard_errors(image, world, visibility, seconds, track.model)
    too_dim = visibility[:, USED] < least_seen(world)
    hidden = ~_in_picture(track, image[:, USED]) | too_dim | spikes(image[:, USED], torso)
    points = np.where(hidden[..., None], np.nan, np.concatenate([image[:, USED], world[:, USED]], 2))
    even = np.minimum(np.arange(seconds[0], seconds[-1], 1 / RATE), seconds[-1])  # a sum may end a hair beyond
    # each landmark's way lies together, as it is read landmark by landmark
    moved = np.full((image.shape[1], len(even), 5), np.nan).swapaxes(0, 1)
    moved[:, USED] = _smooth(_carried(even, seconds, points))
    return Movement(even, moved[..., :2], moved[..., 2:], np.asarray(interp1d(seconds, error, axis=0)(even), float))


def unswapped(image: Floats, world: Floats, torso: float) -> np.ndarray[tuple[int, int], np.dtype[np.int64]]:
    """(n, 33) for each frame, the landmark that truly stands in each place.

    The least path through four labellings: as told, arms swapped, legs swapped, both.
    """
    mirror = np.array(SWAPPED)
    limbs = [np.array(limb) for limb in LIMBS]
    # with their depths: of a body that spins the sides cross in the picture, but not in space
    points = np.concatenate([image / torso, world[..., 2:] / torso_length(world)], 2)
    moves = [_move_costs(points[:, marks], points[:, mirror[marks]]) for marks in limbs]
    told = _agreement(world)
    order = np.tile(np.arange(image.shape[1]), (len(image), 1))
    if (told >= 0).all() and all((kept <= exchanged).all() for kept, exchanged in moves):
        return order  # as in most clips: each step of the path as told costs least, and so the whole
    states = [(arms, legs) for arms in (0, 1) for legs in (0, 1)]
    change = np.array(
        [
            [sum(m[int(a[k] != b[k])] for k, m in enumerate(moves)) + SWITCH_COST * (a != b) for b in states]
            for a in states
        ]
    )
    agree = {True: told, False: -told}  # once both or neither are exchanged, once one of them is
    unlikely = np.array([SWAPPED_COST * sum(s) + AGREEING * np.maximum(0, -agree[s[0] == s[1]]) for s in states])
    path = np.array([states[i] for i in least_path(change, unlikely)])
    for k, marks in enumerate(limbs):
        order[np.ix_(path[:, k] == 1, marks)] = mirror[marks]
    return order


def _move_costs(plain: Floats, mirrored: Floats) -> Floats:
    """(2, n - 1) how far (n, k, 3) points move from frame to frame: labels kept, labels exchanged."""
    steps = np.stack([np.diff(plain, axis=0), plain[1:] - mirrored[:-1]])
    return np.asarray(np.nan_to_num(np.nanmean(np.sqrt((steps**2).sum(3)), axis=2)))


def _agreement(world: Floats) -> Floats:
    """(n,) cosine between the lines of shoulders and hips from above; negative when one of them is swapped."""
    lines = [world[:, [left, right]] for left, right in (SHOULDERS, HIPS)]
    across = [(line[:, 0] - line[:, 1])[:, [0, 2]] for line in lines]
    sizes = np.linalg.norm(across[0], axis=1) * np.linalg.norm(across[1], axis=1)
    return np.asarray(np.nan_to_num((across[0] * across[1]).sum(1) / np.maximum(sizes, 1e-9)))


def elsewhere(image: Floats, seconds: Floats, torso: float) -> Bools:
    """(n,) frames between two leaps of the trunk, of (n, 33, 2) points: away, and back to near where it was."""
    trunk = image[:, [*SHOULDERS, *HIPS]].mean(1) / torso
    far = np.linalg.norm(np.diff(trunk, axis=0), axis=1) > LEAP + FASTEST * np.diff(seconds)
    leaps = np.flatnonzero(far) + 1
    out = np.zeros(len(seconds), bool)
    for away, back in combinations(leaps, 2):
        here = trunk[away - 1]
        if seconds[back] - seconds[away] <= AWAY_S and not out[away]:
            out[away:back] = 2 * np.linalg.norm(trunk[back] - here) < np.linalg.norm(trunk[away] - here)
    return out


def upended(image: Floats, seconds: Floats, torso: float) -> Bools:
    """(n,) frames, of (n, 33, 2) points, in which the trunk is upside down, where it got so or comes back from it by a
    flip: in a dim picture somebody is now and then taken for standing on their head."""
    trunk = (image[:, [*SHOULDERS]].mean(1) - image[:, [*HIPS]].mean(1)) / torso
    flips = np.r_[False, (np.linalg.norm(np.diff(trunk, axis=0), axis=1) > FLIP) & (np.diff(seconds) <= FLIP_S), False]
    down = trunk[:, 1] > 0
    out = np.zeros(len(seconds), bool)
    for start, end in pairwise([0, *np.flatnonzero(np.diff(down)) + 1, len(out)]):
        out[start:end] = down[start] and (flips[start] or flips[end])
    return out


def spikes(image: Floats, torso: float) -> Bools:
    """(n, k) points that jump away from the median of the five frames around them and back."""
    padded = np.pad(image, ((2, 2), (0, 0), (0, 0)), mode="edge")
    x, y = np.moveaxis(image - _median_of_five(*(padded[k : k + len(image)] for k in range(5))), 2, 0)
    return np.asarray(np.hypot(x, y) > SPIKE * torso)


def _median_of_five(a: Floats, b: Floats, c: Floats, d: Floats, e: Floats) -> Floats:
    """By the least comparisons, many times as quick as sorting: the median of the fifth and of the middle two of four,
    neither the least nor the greatest of which can be it."""
    low = np.maximum(np.minimum(a, b), np.minimum(c, d))
    high = np.minimum(np.maximum(a, b), np.maximum(c, d))
    return np.maximum(np.minimum(low, high), np.minimum(np.maximum(low, high), e))


def least_seen(world: Floats) -> Floats:
    """(n, k) how visible each of the used landmarks has to be, of bodies (n, 33, 3), so that it is believed."""
    turned = yaw(world)[:, None]
    begin, end = SIDEWAYS_DEG
    sideways = (np.abs(turned) >= begin) & (np.abs(turned) < end)
    far = sideways & np.where(turned > 0, LEFT_ARM, RIGHT_ARM)
    return np.where(far, FAR_ARM_SEEN, np.where(LEFT_ARM | RIGHT_ARM, ARM_SEEN, SEEN))


def _in_picture(track: Track, image: Floats) -> Bools:
    slack = MARGIN * track.width
    x, y = image[..., 0], image[..., 1]
    return np.asarray((x > -slack) & (x < track.width + slack) & (y > -slack) & (y < track.height + slack))


def _carried(even: Floats, seconds: Floats, values: Floats) -> Floats:
    """Landmark by landmark, as one may be unseen while the others are seen; those never unseen go together."""
    whole = np.isfinite(values[..., 0]).all(0)
    if whole.all():
        return filled_in(even, seconds, values)
    out = np.full((len(even), *values.shape[1:]), np.nan)
    if whole.any():
        out[:, whole] = filled_in(even, seconds, values[:, whole])
    for k in np.flatnonzero(~whole):
        out[:, k] = filled_in(even, seconds, values[:, k])
    return out


def _smooth(values: Floats) -> Floats:
    """Savitzky-Golay of points (n, k, d), leaving them as they are within half a window of a gap."""
    if len(values) < WINDOW:
        return values
    filled = np.nan_to_num(values)
    smoothed = savgol_filter(filled, WINDOW, 2, axis=0)
    gap = np.isnan(values[..., 0])
    reach = np.pad(gap, ((WINDOW // 2, WINDOW // 2), (0, 0)), mode="edge")
    near_gap = np.any([reach[k : k + len(values)] for k in range(WINDOW)], axis=0)
    return np.where(near_gap[..., None], values, smoothed)
