"""Position: once the lag is taken out, how far each part of the body is from where the instructor's is.

Limbs are compared as vectors in the picture, turned by the fitted view; the angle is that of the chord between them,
so that a limb pointing at the camera is judged by what can be seen of it. Arms are told in the chest's frame (the
difference of the torsos is taken out first), legs and torso in the picture's. The tolerance is the larger of what a
teacher lets pass and what the estimator can tell from this view, known from the spread over the whole take.

Units and signs: degrees, and leg lengths for level and spread; see `results`.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from juxtakine.core.comparing.noise import chance_of_fault, cues, standard_error
from juxtakine.core.comparing.results import LAYER_OF, PartResult, Position, PositionVerdict, Unit
from juxtakine.core.comparing.view import View, predicted
from juxtakine.core.counting.sheets import Score, SheetCount
from juxtakine.core.movement.body import PARENT, Part
from juxtakine.core.movement.features import LIMBS, wrapped
from juxtakine.core.movement.tracks import Bools, Floats

AROUND_S = np.array([-2, -1, 0, 1, 2]) / 30
"""The frames around a count that are looked at together: a fault lasts, noise does not."""
SHIFTS_S = np.array([-1, 0, 1]) / 40
"""A limb may be there this much sooner or later than the body as a whole: that is timing, not position."""
SHORTENED = 0.08
"""How well a segment's shortening in the picture is known, in its own lengths."""
SIGN_UNKNOWN = 0.65
"""Depth (of its own length) below which it is not known whether a segment points to the camera or away."""
DEPTH_OF_FEET = 0.06
"""How well it is known how far one foot is before the other, in leg lengths."""
NEAR = 1.5
"""Up to so many tolerances a part is near, beyond it is off."""
SPREAD_LIMIT = 2.5
"""A tolerance is at least this many of the take's own standard errors."""
SEEN = 0.5
WEIGHTS = {Part.HEAD: 0.5, Part.FACING: 0.5}
ARMS = (Part.LEFT_UPPER_ARM, Part.RIGHT_UPPER_ARM, Part.LEFT_FOREARM, Part.RIGHT_FOREARM)
UPPER = (Part.LEFT_UPPER_ARM, Part.RIGHT_UPPER_ARM, Part.LEFT_THIGH, Part.RIGHT_THIGH)
LEGS = (Part.LEFT_THIGH, Part.RIGHT_THIGH, Part.LEFT_SHIN, Part.RIGHT_SHIN)
PASSES = {Part.HEAD: 12.0, Part.TORSO: 7.0, Part.LEVEL: 0.05, Part.SPREAD: 0.075, Part.FACING: 17.0}
"""What a teacher lets pass; limbs not named here: 12 degrees."""
LIMB_PASSES = 12.0
TURNED_DEG = 20.0
SHORT = 0.5
"""A segment shorter than this (of its own length) in the picture has no direction there worth naming."""


@dataclass(frozen=True)
class Measured:
    """One part over all counts: (k,) signed errors, share of frames seen, and the words for each."""

    error: Floats
    seen: Floats
    words: list[str]


@dataclass(frozen=True)
class Poses:
    """(k, 10, 2) segments of both in the picture, and (k,) level, spread and facing; the mean around each count.

    `facing` (k,) of both, 0 towards their own camera: what can be seen of them; `doubt` (k, 10) of both segments
    together, in degrees; `slant` how much of depth the turned picture shows (0 for the same view, 1 from the side).
    """

    want: Floats
    got: Floats
    flat: dict[Part, tuple[Floats, Floats]]
    seen: dict[Part, Floats]
    facing: tuple[Floats, Floats]
    doubt: Floats
    slant: float


def positions(view: View, counts: tuple[SheetCount, ...], lags_s: Floats) -> list[Position]:
    """The position on each count, the student taken `lags_s` (k,) after the common time."""
    poses = poses_of(view, np.array([float(c.at) for c in counts]), lags_s)
    measured = {part: measured_of(part, poses) for part in Part}
    errors = {part: _standard_errors(part, m, poses) for part, m in measured.items()}
    return [_position(c, i, measured, errors, poses) for i, c in enumerate(counts)]


def poses_of(view: View, at: Floats, lags_s: Floats) -> Poses:
    """What both show around the counts `at` (k,), the student taken `lags_s` (k,) seconds after the common time."""
    ref_s = view.reference_grid.seconds(at)[:, None] + AROUND_S
    take_s = (view.take_grid.seconds(at) + lags_s)[:, None] + AROUND_S
    ref = view.reference.at(ref_s.ravel())
    want = (predicted(ref, view.turn) + view.bias).reshape(*ref_s.shape, -1)
    depth = ref.vectors[..., 2].reshape(*ref_s.shape, -1)
    facing = (ref.facing + view.facing_bias).reshape(ref_s.shape)
    got, seen = zip(*(_around(view.take_channels(take_s + s), want) for s in SHIFTS_S), strict=True)
    shown_take = [view.take.at((take_s + s).ravel()) for s in SHIFTS_S]
    own = [f.facing.reshape(take_s.shape) for f in shown_take]
    middle = len(SHIFTS_S) // 2
    doubts = [f.doubt.reshape(*ref_s.shape, -1) for f in (ref, shown_take[middle])]
    doubt = np.degrees(np.hypot(*(_mean(d, np.isfinite(d)) for d in doubts)))
    n = len(LIMBS)
    wanted, _ = _around(want, want)
    segments = np.array([g[:, : 2 * n].reshape(-1, n, 2) for g in got])
    meant = _explained(wanted[:, : 2 * n].reshape(-1, n, 2), _mean(depth, np.isfinite(depth)), segments, view.turn)
    best = _least(np.linalg.norm(segments - meant, axis=3))
    limbs, shown = _picked(meant, best), _picked(segments, best)
    at_best = _picked(np.array(seen)[..., : 2 * n : 2], best)
    parts = {part: at_best[:, i] for i, part in enumerate(LIMBS)}
    flat = {}
    for j, part in enumerate((Part.LEVEL, Part.SPREAD)):
        values, clear = np.array([g[:, 2 * n + j] for g in got]), np.array([s[:, 2 * n + j] for s in seen])
        i = _least(np.abs(values - wanted[:, 2 * n + j]))
        flat[part], parts[part] = (wanted[:, 2 * n + j], _picked(values, i)), _picked(clear, i)
    turned = np.array([_mean(wrapped(o - facing), np.isfinite(o - facing)) for o in own])
    base = wrapped(_mean(facing, np.isfinite(facing)))
    i = _least(np.abs(turned))
    flat[Part.FACING] = base, base + _picked(turned, i)
    parts[Part.FACING] = _picked(np.array([np.isfinite(o - facing).mean(1) for o in own]), i)
    own_facing = _mean(own[middle], np.isfinite(own[middle]))
    shown_facing = _mean(ref.facing.reshape(ref_s.shape), np.isfinite(facing))
    slant = float(np.linalg.norm(view.turn.as_matrix()[:2, 2]))
    return Poses(limbs, shown, flat, parts, (shown_facing, own_facing), doubt, slant)


def _around(values: Floats, want: Floats) -> tuple[Floats, Floats]:
    """(k, D) mean over the frames around a count in which both are seen, and the share of such frames."""
    clear = np.isfinite(values) & np.isfinite(want)
    return _mean(values, clear), clear.mean(1)


def _explained(want: Floats, depth: Floats, got: Floats, turn: Rotation) -> Floats:
    """(s, k, n, 2) what the reference may look like from the take's camera, as near to what is shown as may be.

    A segment's depth is known from its shortening only, to a range and often without its sign: the turned picture is
    a line, and where it reaches what the take shows, there is no fault.
    """
    short = np.sqrt(np.clip(1 - depth**2, 0, 1))
    low, high = (np.sqrt(np.clip(1 - (short + s * SHORTENED) ** 2, 0, 1)) for s in (1, -1))
    unsure = np.abs(depth) < SIGN_UNKNOWN
    least = np.where(unsure, -high, np.where(depth > 0, low, -high))
    most = np.where(unsure, high, np.where(depth > 0, high, -low))
    along = turn.as_matrix()[:2, 2]
    reach = np.einsum("sknd,d->skn", got - want, along) / max(float(along @ along), 1e-9)
    more = np.clip(reach, least - depth, most - depth)
    return np.asarray(want + more[..., None] * along)


def _least(sizes: Floats) -> NDArray[np.int64]:
    """Along axis 0, which is the smallest; the middle one where none is known."""
    sizes = np.where(np.isfinite(sizes), sizes, np.inf)
    middle = len(sizes) // 2
    return np.where(np.isfinite(sizes).any(0), sizes.argmin(0), middle)


def _picked(values: Floats, index: NDArray[np.int64]) -> Floats:
    """From (s, ...) the one that `index` names, elementwise."""
    shaped = index.reshape(1, *index.shape, *(1,) * (values.ndim - 1 - index.ndim))
    return np.asarray(np.take_along_axis(values, shaped, 0)[0])


def _mean(values: Floats, clear: Bools) -> Floats:
    """Over axis 1, of what is clear; NaN where nothing is."""
    n = clear.sum(1)
    total = np.where(clear, values, 0).sum(1)
    return np.where(n > 0, total / np.maximum(n, 1), np.nan)


def measured_of(part: Part, poses: Poses) -> Measured:
    """How far the student's part is from the instructor's, with its sign and in words."""
    if part in (Part.LEVEL, Part.SPREAD):
        want, got = poses.flat[part]
        low, high = ("too low", "too high") if part is Part.LEVEL else ("too narrow", "too wide")
        return Measured(got - want, poses.seen[part], [low if e < 0 else high for e in got - want])
    if part is Part.FACING:
        return _facing(*poses.flat[part], poses.seen[part])
    want, got = _segment(poses, part)
    if part is Part.TORSO:
        lean = _turned(want, got)
        return Measured(lean, poses.seen[part], [f"leans {'left' if e > 0 else 'right'}" for e in lean])
    size = np.degrees(2 * np.arcsin(np.clip(np.linalg.norm(got - want, axis=1) / 2, 0, 1)))
    if part is Part.HEAD:
        return _head(want, got, size, poses.seen[part])
    return _limb(part, want, got, size, poses)


def _segment(poses: Poses, part: Part) -> tuple[Floats, Floats]:
    """(k, 2) wanted and shown vector of a segment, arms with the torsos' difference taken out."""
    i = LIMBS.index(part)
    want, got = poses.want[:, i], poses.got[:, i]
    if part in ARMS:
        torso = LIMBS.index(Part.TORSO)
        got = _rotated(got, -_turned(poses.want[:, torso], poses.got[:, torso]))
    return want, got


def _turned(a: Floats, b: Floats) -> Floats:
    """(k,) degrees from a to b in the picture; y is down, so positive leans to the picture's right."""
    return wrapped(np.degrees(np.arctan2(b[:, 1], b[:, 0]) - np.arctan2(a[:, 1], a[:, 0])))


def _rotated(v: Floats, degrees: Floats) -> Floats:
    a = np.radians(degrees)
    return np.column_stack([np.cos(a) * v[:, 0] - np.sin(a) * v[:, 1], np.sin(a) * v[:, 0] + np.cos(a) * v[:, 1]])


def _lift(v: Floats) -> Floats:
    """(k,) degrees from hanging (0) over level (90) to straight up (180)."""
    length = np.maximum(np.linalg.norm(v, axis=1), SHORT)
    return np.asarray(np.degrees(np.arccos(np.clip(v[:, 1] / length, -1, 1))))


def _limb(part: Part, want: Floats, got: Floats, size: Floats, poses: Poses) -> Measured:
    lift = _lift(got) - _lift(want)
    main = np.abs(lift) >= 0.5 * size
    if part in UPPER:
        error = np.where(main & (lift < 0), -size, size)
        return Measured(error, poses.seen[part], _limb_words(part, main, lift, want, got))
    parent_want, parent_got = _segment(poses, PARENT[part])
    bend = np.abs(_turned(parent_got, got)) - np.abs(_turned(parent_want, want))
    bent = np.abs(bend) >= 0.5 * size
    error = np.where(bent & (bend < 0), -size, size)
    plain = _limb_words(part, main, lift, want, got)
    words = [
        ("not bent enough" if b < 0 else "too bent") if k else w for k, b, w in zip(bent, bend, plain, strict=True)
    ]
    return Measured(error, poses.seen[part], words)


def _limb_words(part: Part, main: Bools, lift: Floats, want: Floats, got: Floats) -> list[str]:
    """Too low or too high; at the same height, too far out or in (away from or towards the body's middle)."""
    outward = 1 if part.startswith("left") else -1
    out = (got[:, 0] - want[:, 0]) * outward
    return [
        ("too low" if up < 0 else "too high") if m else ("too far out" if o > 0 else "too far in")
        for m, up, o in zip(main, lift, out, strict=True)
    ]


def _head(want: Floats, got: Floats, size: Floats, seen: Floats) -> Measured:
    across, up = got[:, 0] - want[:, 0], want[:, 1] - got[:, 1]
    sideways = np.abs(across) >= np.abs(up)
    main = np.where(sideways, across, up)
    names = [("left", "right") if s else ("up", "down") for s in sideways]
    words = [f"too far {n[0] if m > 0 else n[1]}" for n, m in zip(names, main, strict=True)]
    return Measured(np.where(main > 0, size, -size), seen, words)


def _facing(want: Floats, got: Floats, seen: Floats) -> Measured:
    """Negative is turned too little; where the reference does not turn, positive is to the left."""
    more = wrapped(got - want)
    turned = np.abs(want) > TURNED_DEG
    error = np.where(turned, more * np.sign(want), more)
    words = [
        ("turned too little" if e < 0 else "turned too far") if t else f"turned to the {'left' if e > 0 else 'right'}"
        for e, t in zip(error, turned, strict=True)
    ]
    return Measured(error, seen, words)


def _standard_errors(part: Part, measured: Measured, poses: Poses) -> Floats:
    """(k,) what the estimator leaves open from both views, and at least the part's own spread over the whole take.

    The spread is by the median, so that faults do not count; a limb's difference is the length of a vector with noise
    in two directions (its median is 1.18 standard errors).
    """
    by_view = standard_error(part, telling(part, poses))
    if part is Part.SPREAD:
        by_view = np.hypot(by_view, poses.slant * DEPTH_OF_FEET)
    good = np.isfinite(measured.error) & np.isfinite(by_view)
    plain = part in (Part.TORSO, Part.LEVEL, Part.SPREAD, Part.FACING)
    if not good.any():
        return np.asarray(by_view)
    ratio = float(np.median(np.abs(measured.error[good]) / by_view[good])) * (1.4826 if plain else 1 / 1.1774)
    return np.asarray(by_view * max(1.0, ratio))


def telling(part: Part, poses: Poses) -> Floats:
    """(k, 5) what tells how well a part's difference is known."""
    k = len(poses.facing[0])
    if part not in LIMBS:
        return cues(np.zeros(k), np.ones(k), poses.facing)
    i = LIMBS.index(part)
    lengths = [np.linalg.norm(v[:, i], axis=1) for v in (poses.want, poses.got)]
    return cues(poses.doubt[:, i], np.fmin(*lengths), poses.facing)


def unit_of(part: Part) -> Unit:
    return Unit.LEGS if part in (Part.LEVEL, Part.SPREAD) else Unit.DEGREES


def passes(part: Part) -> float:
    """What a teacher lets pass, in the part's unit."""
    return PASSES.get(part, LIMB_PASSES)


def certainty(part: PartResult, of: Part) -> float:
    """The chance that a part is truly further off than a teacher lets pass.

    By how many standard errors it is; the curves are the bench's, where gross errors are rare but there.
    """
    return chance_of_fault(of, (abs(part.error or 0.0) - passes(of)) / part.se)


def _position(
    count: SheetCount, i: int, measured: dict[Part, Measured], errors: dict[Part, Floats], poses: Poses
) -> Position:
    parts = {p: _part(p, measured[p], i, float(errors[p][i])) for p in Part if _scored(count, p)}
    if not parts:
        return Position(PositionVerdict.FREE, None, {})
    parts = {p: _led(p, r, parts, poses, i) for p, r in parts.items()}
    clear = {p: r for p, r in parts.items() if r.verdict is not PositionVerdict.NOT_SEEN}
    weight = {p: WEIGHTS.get(p, 1.0) for p in parts}
    if sum(weight[p] for p in clear) < SEEN * sum(weight.values()):
        return Position(PositionVerdict.NOT_SEEN, None, parts)
    held = sum(weight[p] for p, r in clear.items() if r.verdict is PositionVerdict.HELD)
    worst = max((r.verdict for r in clear.values()), key=_RANK.index)
    return Position(worst, held / sum(weight[p] for p in clear), parts)


_RANK = [PositionVerdict.HELD, PositionVerdict.NEAR, PositionVerdict.OFF]


def _scored(count: SheetCount, part: Part) -> bool:
    return count.scores[LAYER_OF[part]] in (Score.BOTH, Score.POSITION)


def _part(part: Part, m: Measured, i: int, se: float) -> PartResult:
    tolerance = max(passes(part), SPREAD_LIMIT * se)
    unit, share = unit_of(part), float(m.seen[i])
    if share < SEEN or not np.isfinite(m.error[i]) or not np.isfinite(se):
        return PartResult(None, unit, share, PositionVerdict.NOT_SEEN, passes(part), passes(part))
    error = float(m.error[i])
    size = abs(error) / tolerance
    verdict = _RANK[0] if size <= 1 else _RANK[1] if size <= NEAR else _RANK[2]
    return PartResult(error, unit, share, verdict, se, tolerance, m.words[i])


def _led(part: Part, result: PartResult, parts: dict[Part, PartResult], poses: Poses, i: int) -> PartResult:
    """The same result, naming the part whose fault alone put this one off."""
    if result.verdict not in (PositionVerdict.NEAR, PositionVerdict.OFF):
        return result
    leader = _leader(part, result, parts, poses, i)
    return result if leader is None else PartResult(**{**result.__dict__, "follows": leader})


def _leader(part: Part, result: PartResult, parts: dict[Part, PartResult], poses: Poses, i: int) -> Part | None:
    def off(p: Part) -> bool:
        return p in parts and parts[p].verdict is PositionVerdict.OFF

    if part in LEGS:
        for whole in (Part.LEVEL, Part.SPREAD):
            if off(whole):
                return whole
    if part is Part.HEAD and off(Part.FACING):
        return Part.FACING  # the head looks where the body does
    parent = PARENT.get(part)
    if parent is None or not off(parent):
        return None
    (pw, pg), (w, g) = (_segment(poses, p) for p in (parent, part))
    carried = _rotated(w[i : i + 1], _turned(pw[i : i + 1], pg[i : i + 1]))
    left = np.degrees(2 * np.arcsin(min(1.0, float(np.linalg.norm(g[i] - carried[0])) / 2)))
    return parent if left <= NEAR * result.tolerance else None
