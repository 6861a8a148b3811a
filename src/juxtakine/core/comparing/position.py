"""Position: once the lag is taken out, how far each part of the body is from where the instructor's is.

Limbs are compared as vectors in the picture, turned by the fitted view; the angle is that of the chord between them,
so that a limb pointing at the camera is judged by what can be seen of it. Arms are told in the chest's frame (the
difference of the torsos is taken out first), legs and torso in the picture's. The tolerance is the larger of what a
teacher lets pass and what the estimator can tell from this view, known from the spread over the whole take.

Units and signs: degrees, and leg lengths for level and spread; see `results`.
"""

from dataclasses import dataclass, replace

import numpy as np

from juxtakine.core.comparing.noise import chance_of_fault, cues, kind_of, standard_error
from juxtakine.core.comparing.poses import Poses, meant, poses_of, rotated, segment, turned
from juxtakine.core.comparing.results import LAYER_OF, PartResult, Position, PositionVerdict, Unit
from juxtakine.core.comparing.view import View
from juxtakine.core.counting.sheets import Score, SheetCount
from juxtakine.core.movement.body import ARMS, PARENT, Part
from juxtakine.core.movement.features import LIMBS, wrapped
from juxtakine.core.movement.tracks import Bools, Floats

DEPTH_OF_FEET = 0.12
"""How well it is known how far one foot is before the other, in leg lengths."""
FROM_ELSEWHERE = {"upper-arm": (2.5, 1.0), "forearm": (3.0, 1.0), "shin": (1.0, 0.7)}
"""How much less is known of a part, by the sine of the angle between the cameras, along where depth shows in the turned
picture and across it: what was not known of its depth shows from another place, to the side, and arms point at the
camera most. How high a part is raised looks alike from all round."""
NEAR = 1.5
"""Up to so many tolerances a part is near, beyond it is off."""
SPREAD_LIMIT = 2.5
"""A tolerance is at least this many of the take's own standard errors."""
SEEN = 0.5
WEIGHTS = {Part.HEAD: 0.5, Part.FACING: 0.5}
UPPER = (Part.LEFT_UPPER_ARM, Part.RIGHT_UPPER_ARM, Part.LEFT_THIGH, Part.RIGHT_THIGH)
LEGS = (Part.LEFT_THIGH, Part.RIGHT_THIGH, Part.LEFT_SHIN, Part.RIGHT_SHIN)
PASSES = {Part.HEAD: 12.0, Part.TORSO: 7.0, Part.LEVEL: 0.05, Part.SPREAD: 0.075, Part.FACING: 17.0}
"""What a teacher lets pass; limbs not named here: 12 degrees."""
LIMB_PASSES = 12.0
SHOWN = 0.85
"""So much of a limb's error is measured: in tuning pairs 0.82 in the median, of arms and forearms and from all sides
alike, and of exact joints 0.88. A picture shows no more of it, and the nearest explanation is taken."""
TURNED_DEG = 20.0
SHORT = 0.5
"""A segment shorter than this (of its own length) in the picture has no direction there worth naming."""


@dataclass(frozen=True)
class PartErrors:
    """One part over all counts: (k,) signed errors, share of frames seen, and the words for each."""

    error: Floats
    seen: Floats
    words: list[str]


def positions(view: View, counts: tuple[SheetCount, ...], lags_s: Floats) -> list[Position]:
    """The position on each count, the student taken `lags_s` (k,) after the common time."""
    poses = poses_of(view, np.array([float(c.at) for c in counts]), lags_s)
    measured = {part: measured_of(part, poses) for part in Part}
    results = {
        part: _results(part, m, _standard_errors(part, m, poses), meant(part, poses)) for part, m in measured.items()
    }
    return [_position(i, {p: r[i] for p, r in results.items() if _scored(c, p)}, poses) for i, c in enumerate(counts)]


def measured_of(part: Part, poses: Poses) -> PartErrors:
    """How far the student's part is from the instructor's, with its sign and in words."""
    if part in (Part.LEVEL, Part.SPREAD):
        want, got = poses.flat[part]
        low, high = ("too low", "too high") if part is Part.LEVEL else ("too narrow", "too wide")
        return PartErrors(got - want, poses.seen[part], [low if e < 0 else high for e in got - want])
    if part is Part.FACING:
        return _facing(*poses.flat[part], poses.seen[part])
    want, got = segment(poses, part)
    if part is Part.HEAD:
        return _head(*poses.flat[part], _raised(got) - _raised(want), poses.seen[part])
    if part is Part.TORSO:
        lean = turned(want, got)
        return PartErrors(lean, poses.seen[part], [f"leans {'left' if e > 0 else 'right'}" for e in lean])
    size = np.degrees(2 * np.arcsin(np.clip(np.linalg.norm(got - want, axis=1) / 2, 0, 1)))
    limb = _limb(part, want, got, size, poses)
    return replace(limb, error=limb.error / SHOWN)


def _lift(v: Floats) -> Floats:
    """(k,) degrees from hanging (0) over level (90) to straight up (180)."""
    length = np.maximum(np.linalg.norm(v, axis=1), SHORT)
    return np.asarray(np.degrees(np.arccos(np.clip(v[:, 1] / length, -1, 1))))


def _limb(part: Part, want: Floats, got: Floats, size: Floats, poses: Poses) -> PartErrors:
    lift = _lift(got) - _lift(want)
    main = np.abs(lift) >= 0.5 * size
    if part in UPPER:
        error = np.where(main & (lift < 0), -size, size)
        return PartErrors(error, poses.seen[part], _limb_words(part, main, lift, want, got))
    parent_want, parent_got = segment(poses, PARENT[part])
    bend = np.abs(turned(parent_got, got)) - np.abs(turned(parent_want, want))
    bent = np.abs(bend) >= 0.5 * size
    error = np.where(bent & (bend < 0), -size, size)
    plain = _limb_words(part, main, lift, want, got)
    words = [
        ("not bent enough" if b < 0 else "too bent") if k else w for k, b, w in zip(bent, bend, plain, strict=True)
    ]
    return PartErrors(error, poses.seen[part], words)


def _limb_words(part: Part, main: Bools, lift: Floats, want: Floats, got: Floats) -> list[str]:
    """Too low or too high; at the same height, too far out or in (away from or towards the body's middle)."""
    outward = 1 if part.startswith("left") else -1
    out = (got[:, 0] - want[:, 0]) * outward
    return [
        ("too low" if up < 0 else "too high") if m else ("too far out" if o > 0 else "too far in")
        for m, up, o in zip(main, lift, out, strict=True)
    ]


def _raised(v: Floats) -> Floats:
    """(k,) degrees by which the face points up."""
    return np.asarray(np.degrees(np.arcsin(np.clip(-v[:, 1], -1, 1))))


def _head(want: Floats, got: Floats, up: Floats, seen: Floats) -> PartErrors:
    """By the yaws of both, and by how much further up the face points."""
    across = wrapped(got - want)
    sideways = np.abs(across) >= np.abs(up)
    main, size = np.where(sideways, across, up), np.hypot(across, up)
    names = [("left", "right") if s else ("up", "down") for s in sideways]
    words = [f"too far {n[0] if m > 0 else n[1]}" for n, m in zip(names, main, strict=True)]
    return PartErrors(np.where(main > 0, size, -size), seen, words)


def _facing(want: Floats, got: Floats, seen: Floats) -> PartErrors:
    """Negative is turned too little; where the reference does not turn, positive is to the left."""
    more = wrapped(got - want)
    turns = np.abs(want) > TURNED_DEG
    error = np.where(turns, more * np.sign(want), more)
    words = [
        ("turned too little" if e < 0 else "turned too far") if t else f"turned to the {'left' if e > 0 else 'right'}"
        for e, t in zip(error, turns, strict=True)
    ]
    return PartErrors(error, seen, words)


def _standard_errors(part: Part, measured: PartErrors, poses: Poses) -> Floats:
    """(k,) what the estimator leaves open from both views, and at least the part's own spread over the whole take.

    The spread is by the median, so that faults do not count; a limb's difference is the length of a vector with noise
    in two directions (its median is 1.18 standard errors).
    """
    by_view = standard_error(part, telling(part, poses))
    if part is Part.SPREAD:
        by_view = np.hypot(by_view, poses.slant * DEPTH_OF_FEET)
    by_view = by_view * elsewhere(part, poses)
    good = np.isfinite(measured.error)
    plain = part in (Part.TORSO, Part.LEVEL, Part.SPREAD, Part.FACING)
    if not good.any():
        return np.asarray(by_view)
    ratio = float(np.median(np.abs(measured.error[good]) / by_view[good])) * (1.4826 if plain else 1 / 1.1774)
    return np.asarray(by_view * max(1.0, ratio))


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
        ahead = _ahead(poses) if part is Part.HEAD else np.ones(k)
        return cues(np.zeros(k), ahead, poses.yaws[part], np.ones(k))
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


def _outwards(part: Part, want: Floats, got: Floats, facing: Floats) -> Floats:
    """(k,) how far from the body's middle the arm reaches that reaches less; from behind the sides are exchanged."""
    if part not in ARMS:
        return np.ones(len(facing))
    side = np.where(np.abs(wrapped(facing)) > 90, -1, 1) * (1 if part.startswith("left") else -1)
    return np.asarray(np.fmin(side * want[:, 0], side * got[:, 0]))


def unit_of(part: Part) -> Unit:
    return Unit.LEGS if part in (Part.LEVEL, Part.SPREAD) else Unit.DEGREES


def passes(part: Part) -> float:
    """What a teacher lets pass, in the part's unit."""
    return PASSES.get(part, LIMB_PASSES)


def certainty(part: PartResult, of: Part) -> float:
    """The chance that a part is truly off, and no error of the estimator's.

    By how many standard errors it is; the curves are the bench's, where gross errors are rare but there.
    """
    return chance_of_fault(of, abs(part.error or 0.0), passes(of), part.se)


def _position(i: int, parts: dict[Part, PartResult], poses: Poses) -> Position:
    """Of the count `i`, by the parts that are scored there."""
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


def _results(part: Part, m: PartErrors, se: Floats, meant: Floats) -> list[PartResult]:
    """What is told of a part on each count; (k, 2) `meant` with NaN for what is no segment."""
    unit, least = unit_of(part), passes(part)
    tolerance = np.maximum(least, SPREAD_LIMIT * se)
    known = (m.seen >= SEEN) & np.isfinite(m.error)
    size = np.where(known, np.abs(m.error) / tolerance, 0.0)
    rank = (size > 1).astype(int) + (size > NEAR)
    there = np.isfinite(meant).all(1)
    rows = (known, m.error, m.seen, rank, se, tolerance, there, *meant.T)
    return [
        PartResult(error, unit, share, _RANK[r], se_, limit, words, meant=(x, y) if t else None) if k
        else PartResult(None, unit, share, PositionVerdict.NOT_SEEN, least, least)
        for k, error, share, r, se_, limit, t, x, y, words in zip(*(a.tolist() for a in rows), m.words, strict=True)
    ]  # fmt: skip


def _led(part: Part, result: PartResult, parts: dict[Part, PartResult], poses: Poses, i: int) -> PartResult:
    """The same result, naming the part whose fault alone put this one off."""
    if not result.beyond:
        return result
    leader = _leader(part, result, parts, poses, i)
    return result if leader is None else replace(result, follows=leader)


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
    (pw, pg), (w, g) = (segment(poses, p) for p in (parent, part))
    carried = rotated(w[i : i + 1], turned(pw[i : i + 1], pg[i : i + 1]))
    left = np.degrees(2 * np.arcsin(min(1.0, float(np.linalg.norm(g[i] - carried[0])) / 2))) / SHOWN
    return parent if left <= NEAR * result.tolerance else None
