"""What both bodies show around each count once the lag is taken out: segments in the picture, level, spread, where body
and head face.

The reference is turned by the fitted view, and where a segment's depth is not known it may look like anything in that
range: the nearest to what the take shows is taken.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from juxtakine.core.comparing.aligning.view import View
from juxtakine.core.movement.body import ARMS, Part
from juxtakine.core.movement.features import LIMBS, wrapped
from juxtakine.core.movement.tracks import Bools, Floats, Ints

AROUND_S = np.array([-2, -1, 0, 1, 2]) / 30
"""The frames around a count that are looked at together: a fault lasts, noise does not."""
SHIFTS_S = np.array([-1, 0, 1]) / 40
"""A limb may be there this much sooner or later than the body as a whole: that is timing, not position."""
DEPTHS = 1.5
"""Up to so many standard errors of its depth a segment may point further to the camera or away."""


@dataclass(frozen=True)
class Poses:
    """(k, 10, 2) segments of both in the picture, and `flat` (k,) level, spread, and the yaws of body and head; the
    mean around each count.

    `facing` (k,) of both, 0 towards their own camera: what can be seen of them; `yaws` (k,) how body and head are meant
    to face both cameras; `doubt` (k, 10) of both segments together, in degrees; `depth_shown` (2,) where in the turned
    picture depth shows, and how much of it; `feet_depth` (2, k) in leg lengths how much further away the left foot is
    than the right one in the reference, and how much more of it is told of the take than there should be. `lean` (k,)
    of the torsos in degrees, with no depth explained, and what a standard error of its depth would change of it.
    """

    want: Floats
    got: Floats
    flat: dict[Part, tuple[Floats, Floats]]
    seen: dict[Part, Floats]
    facing: tuple[Floats, Floats]
    yaws: dict[Part, tuple[Floats, Floats]]
    doubt: Floats
    depth_shown: Floats
    feet_depth: Floats
    lean: tuple[Floats, Floats]

    @property
    def slant(self) -> float:
        """How much of depth the turned picture shows: 0 for the same view, 1 from the side."""
        return float(np.linalg.norm(self.depth_shown))


def poses_of(view: View, at: Floats, lags_s: Floats, turned_by: Floats | None = None) -> Poses:
    """What both show around the counts `at` (k,), the student taken `lags_s` (k,) seconds after the common time, and
    the reference, where that is asked, as if it were turned by so many degrees (k,) more."""
    ref_s = view.reference_grid.seconds(at)[:, None] + AROUND_S
    take_s = (view.take_grid.seconds(at) + lags_s)[:, None] + AROUND_S
    ref = view.reference.at(ref_s.ravel())
    if turned_by is not None:
        ref = ref.turned(turned_by.repeat(len(AROUND_S)))
    want = view.expected(ref).reshape(*ref_s.shape, -1)
    got, seen = zip(*(_around(view.take_channels(take_s + s), want) for s in SHIFTS_S), strict=True)
    shown_take = [view.take.at((take_s + s).ravel()) for s in SHIFTS_S]
    middle = len(SHIFTS_S) // 2
    doubts = [f.doubt.reshape(*ref_s.shape, len(LIMBS), 2) for f in (ref, shown_take[middle])]
    ref_doubt, own_doubt = (_mean(d, np.isfinite(d)) for d in doubts)
    doubt = np.degrees(np.hypot(ref_doubt[..., 0], own_doubt[..., 0]))
    n = len(LIMBS)
    wanted, _ = _around(want, want)
    segments = np.array([g[:, : 2 * n].reshape(-1, n, 2) for g in got])
    meant = _explained(wanted[:, : 2 * n].reshape(-1, n, 2), ref_doubt[..., 1], segments, view.depth_shown)
    best = _least(np.linalg.norm(segments - meant, axis=3))
    limbs, shown = _picked(meant, best), _picked(segments, best)
    at_best = _picked(np.array(seen)[..., : 2 * n : 2], best)
    parts = {part: at_best[:, i] for i, part in enumerate(LIMBS)}
    flat = {}
    for j, part in enumerate((Part.LEVEL, Part.SPREAD)):
        values, clear = np.array([g[:, 2 * n + j] for g in got]), np.array([s[:, 2 * n + j] for s in seen])
        i = _least(np.abs(values - wanted[:, 2 * n + j]))
        flat[part], parts[part] = (wanted[:, 2 * n + j], _picked(values, i)), _picked(clear, i)
    yaws = {}
    for part, yaw, own, bias in (
        (Part.FACING, ref.facing, [f.facing for f in shown_take], view.facing_bias),
        (Part.HEAD, ref.head, [f.head for f in shown_take], view.head_bias),
    ):
        meant_yaw = (yaw + bias).reshape(ref_s.shape)
        flat[part], parts[part] = _yaws(meant_yaw, [o.reshape(take_s.shape) for o in own])
        yaws[part] = flat[part][0] - bias, flat[part][0]
    own_facing = shown_take[middle].facing.reshape(take_s.shape)
    facing = yaws[Part.FACING][0], _mean(own_facing, np.isfinite(own_facing))
    torso = LIMBS.index(Part.TORSO)
    lean = _lean(wanted[:, 2 * torso : 2 * torso + 2], shown[:, torso], ref_doubt[:, torso, 1], view.depth_shown)
    feet_depth = _feet_depth(view, ref.feet, shown_take[middle].feet).reshape(2, *ref_s.shape)
    deep = np.array([_mean(d, np.isfinite(d)) for d in feet_depth])
    return Poses(limbs, shown, flat, parts, facing, yaws, doubt, view.depth_shown, deep, lean)


def _feet_depth(view: View, reference: Floats, take: Floats) -> Floats:
    """(2, n) of the feet of both (n, 3): the reference's depth, and how much more of it the take has than there."""
    return np.stack([reference[:, 2], take[:, 2] - view.turn.apply(reference)[:, 2]])


def _lean(want: Floats, got: Floats, depth_error: Floats, depth_shown: Floats) -> tuple[Floats, Floats]:
    """(k,) degrees from one torso to the other, and how much of that is left open by how deep the first one points."""
    aside = np.column_stack([-want[:, 1], want[:, 0]]) / np.maximum((want**2).sum(1), 1e-9)[:, None]
    return turned(want, got), np.abs(np.degrees(depth_error * (aside @ depth_shown)))


def _yaws(want: Floats, own: Sequence[Floats]) -> tuple[tuple[Floats, Floats], Floats]:
    """(k,) where something faces in the reference and in the take, by the nearest of some times, and how much of it is
    seen; of (k, a) yaws around each count, `own` at each of these times."""
    apart, seen = zip(*(_around(wrapped(o - want), want) for o in own), strict=True)
    i = _least(np.abs(np.array(apart)))
    base = wrapped(_mean(want, np.isfinite(want)))
    return (base, base + _picked(np.array(apart), i)), _picked(np.array(seen), i)


def _around(values: Floats, want: Floats) -> tuple[Floats, Floats]:
    """(k, D) mean over the frames around a count in which both are seen, and the share of such frames."""
    clear = np.isfinite(values) & np.isfinite(want)
    return _mean(values, clear), clear.mean(1)


def _explained(want: Floats, depth_error: Floats, got: Floats, along: Floats) -> Floats:
    """(s, k, n, 2) what the reference may look like from the take's camera, as near to what is shown as may be.

    A segment's depth is known to a range only: the turned picture is a line, and where it reaches what the take shows,
    there is no fault.
    """
    reach = np.einsum("sknd,d->skn", got - want, along) / max(float(along @ along), 1e-9)
    more = np.clip(reach, -DEPTHS * depth_error, DEPTHS * depth_error)
    return np.asarray(want + more[..., None] * along)


def _least(sizes: Floats) -> Ints:
    """Along axis 0, which is the smallest; the middle one where none is known."""
    sizes = np.where(np.isfinite(sizes), sizes, np.inf)
    middle = len(sizes) // 2
    return np.where(np.isfinite(sizes).any(0), sizes.argmin(0), middle)


def _picked(values: Floats, index: Ints) -> Floats:
    """From (s, ...) the one that `index` names, elementwise."""
    shaped = index.reshape(1, *index.shape, *(1,) * (values.ndim - 1 - index.ndim))
    return np.asarray(np.take_along_axis(values, shaped, 0)[0])


def _mean(values: Floats, clear: Bools) -> Floats:
    """Over axis 1, of what is clear; NaN where nothing is."""
    n = clear.sum(1)
    total = np.where(clear, values, 0).sum(1)
    return np.where(n > 0, total / np.maximum(n, 1), np.nan)


def segment(poses: Poses, part: Part) -> tuple[Floats, Floats]:
    """(k, 2) wanted and shown vector of a segment, arms with the torsos' difference taken out."""
    i = LIMBS.index(part)
    want, got = poses.want[:, i], poses.got[:, i]
    if part in ARMS:
        torso = LIMBS.index(Part.TORSO)
        got = rotated(got, -turned(poses.want[:, torso], poses.got[:, torso]))
    return want, got


def meant(part: Part, poses: Poses) -> Floats:
    """(k, 2) where a segment should point in the take's picture, arms on the torso that is shown; NaN for what is no
    segment."""
    if part not in LIMBS:
        return np.full((len(poses.want), 2), np.nan)
    torso = LIMBS.index(Part.TORSO)
    want = poses.want[:, LIMBS.index(part)]
    return rotated(want, turned(poses.want[:, torso], poses.got[:, torso])) if part in ARMS else want


def turned(a: Floats, b: Floats) -> Floats:
    """(k,) degrees from a to b in the picture; y is down, so positive leans to the picture's right."""
    return wrapped(np.degrees(np.arctan2(b[:, 1], b[:, 0]) - np.arctan2(a[:, 1], a[:, 0])))


def rotated(v: Floats, degrees: Floats) -> Floats:
    a = np.radians(degrees)
    return np.column_stack([np.cos(a) * v[:, 0] - np.sin(a) * v[:, 1], np.sin(a) * v[:, 0] + np.cos(a) * v[:, 1]])
