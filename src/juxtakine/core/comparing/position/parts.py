"""Position: once the lag is taken out, how far each part of the body is from where the instructor's is.

Limbs are compared as vectors in the picture, turned by the fitted view; the angle is that of the chord between them,
so that a limb pointing at the camera is judged by what can be seen of it. Arms are told in the chest's frame (the
difference of the torsos is taken out first), legs and torso in the picture's. The tolerance is the larger of what a
teacher lets pass and what the estimator can tell from this view, known from the spread over the whole take.

Units and signs: degrees, and leg lengths for level and spread; see `results`.
"""

from dataclasses import dataclass, replace

import numpy as np

from juxtakine.core.comparing.aligning.view import View
from juxtakine.core.comparing.position.chains import (
    against,
    along_with_trunk,
    angle,
    as_one,
    chord,
    degrees,
    lean_of_arms,
)
from juxtakine.core.comparing.position.chances import certainty, is_told, passes
from juxtakine.core.comparing.position.noise import standard_errors
from juxtakine.core.comparing.position.poses import Poses, meant, poses_of, segment, turned
from juxtakine.core.comparing.results import LAYER_OF, SURE, PartResult, Position, PositionVerdict, Unit, Way
from juxtakine.core.counting.sheets import Score, SheetCount
from juxtakine.core.movement.body import ARMS, PARENT, Part
from juxtakine.core.movement.features import LIMBS, wrapped
from juxtakine.core.movement.tracks import Bools, Floats

NEAR = 1.5
"""Up to so many tolerances a part is near, beyond it is off."""
SPREAD_LIMIT = 2.5
"""A tolerance is at least this many of the take's own standard errors."""
SEEN = 0.5
WEIGHTS = {Part.HEAD: 0.5, Part.FACING: 0.5}
UPPER = (Part.LEFT_UPPER_ARM, Part.RIGHT_UPPER_ARM, Part.LEFT_THIGH, Part.RIGHT_THIGH)
CARRIES = {**PARENT, Part.HEAD: Part.FACING}
"""What a part is carried along by: the head looks where the body does."""
LEFT_OPEN = 0.25
"""Of what a head is turned further than its trunk, so much is one standard error of how far both are."""
LEGS = (Part.LEFT_THIGH, Part.RIGHT_THIGH, Part.LEFT_SHIN, Part.RIGHT_SHIN)
LEADING = (Part.FACING, Part.LEVEL, Part.SPREAD, Part.TORSO, Part.HEAD, *UPPER, *PARENT)
"""All parts, those that lead before those that follow."""
SURELY_TURNED = 0.7
"""Limbs follow a body that is as surely turned: it is told even where nothing else in the take is off."""
TURNED_ALONG, MOST_LEFT = (Part.TORSO, Part.SPREAD, *UPPER, *PARENT), 0.6
"""Parts that look otherwise where the whole body is turned too far; so they do where no more than this share of the
difference is left once the reference is turned as far, or no more than passes."""
SHOWN = 0.85
"""So much of a limb's error is measured: in tuning pairs 0.82 in the median, of arms and forearms and from all sides
alike, and of exact joints 0.88. A picture shows no more of it, and the nearest explanation is taken."""
TURNED_DEG = 20.0
SHORT = 0.5
"""A segment shorter than this (of its own length) in the picture has no direction there worth naming."""


@dataclass(frozen=True)
class PartErrors:
    """One part over all counts: (k,) signed errors, share of frames seen, and which way each is off."""

    error: Floats
    seen: Floats
    ways: list[Way]
    as_one: Bools | None = None
    """(k,) where it is told by what it carries as well."""
    rather: Floats | None = None
    """(k,) the chance that it is this one of two."""


@dataclass(frozen=True)
class Turning:
    """(k,) by how many degrees a body is turned to its left, with the standard error of that; where it is told by its
    head as well; where the head is turned along; and the chances that it is the body, or the head alone, rather than
    the other of the two."""

    by: Floats
    standard_error: Floats
    with_head: Bools
    head_carried: Bools
    body_rather: Floats
    head_rather: Floats


def positions(view: View, counts: tuple[SheetCount, ...], lags_s: Floats) -> list[Position]:
    """The position on each count, the student taken `lags_s` (k,) after the common time."""
    at = np.array([float(c.at) for c in counts])
    poses = poses_of(view, at, lags_s)
    own = {part: measured_of(part, poses) for part in Part}
    measured = dict(own)
    known = {part: standard_errors(part, m.error, poses) for part, m in measured.items()}
    measured[Part.TORSO], known[Part.TORSO] = _with_arms(measured[Part.TORSO], known, poses)
    turning = _turning(known, poses)
    body, _ = poses.flat[Part.FACING]
    told = _facing(body, body + turning.by, measured[Part.FACING].seen)
    measured[Part.FACING] = replace(told, as_one=turning.with_head, rather=turning.body_rather)
    measured[Part.HEAD] = replace(measured[Part.HEAD], rather=turning.head_rather)
    known[Part.FACING], carried = turning.standard_error, {Part.HEAD: turning.head_carried}
    for part, parent in PARENT.items():
        measured[parent], known[parent], known[part], carried[part] = _as_one(parent, part, poses, measured, known)
    results = {part: _results(part, m, known[part], meant(part, poses)) for part, m in measured.items()}
    turned_too = np.array([r.beyond and certainty(r, Part.FACING) >= SURELY_TURNED for r in results[Part.FACING]])
    turned_by = np.where(turned_too, turning.by, 0.0)
    by_turning = _by_turning(view, at, lags_s, turned_by, own) if turned_too.any() else {}

    def on(i: int, count: SheetCount) -> Position:
        parts = {p: r[i] for p, r in results.items() if _scored(count, p)}
        turned_along = {p for p, along in by_turning.items() if along[i]}
        return _position(led(parts, turned_along, {p for p, along in carried.items() if along[i]}))

    return [on(i, count) for i, count in enumerate(counts)]


def _by_turning(
    view: View, at: Floats, lags_s: Floats, turned_by: Floats, own: dict[Part, PartErrors]
) -> dict[Part, Bools]:
    """(k,) by part, where it is off only as the body is turned by so many degrees (k,) too far."""
    turned_poses = poses_of(view, at, lags_s, turned_by)
    left = {part: np.abs(measured_of(part, turned_poses).error) for part in TURNED_ALONG}
    most_left = {part: np.maximum(passes(part), MOST_LEFT * np.abs(own[part].error)) for part in TURNED_ALONG}
    return {part: (turned_by != 0) & (e < most_left[part]) for part, e in left.items()}


def measured_of(part: Part, poses: Poses) -> PartErrors:
    """How far the student's part is from the instructor's, with its sign and which way."""
    if part in (Part.LEVEL, Part.SPREAD):
        want, got = poses.flat[part]
        low, high = (Way.LOW, Way.HIGH) if part is Part.LEVEL else (Way.NARROW, Way.WIDE)
        return PartErrors(got - want, poses.seen[part], [low if e < 0 else high for e in got - want])
    if part is Part.FACING:
        return _facing(*poses.flat[part], poses.seen[part])
    want, got = segment(poses, part)
    if part is Part.HEAD:
        return _head(*poses.flat[part], np.degrees(want[:, 1] - got[:, 1]), poses.seen[part])
    if part is Part.TORSO:
        return _torso(poses.lean[0], poses.seen[part])
    return _limb(part, want, got, poses)


def _torso(lean: Floats, seen: Floats) -> PartErrors:
    return PartErrors(lean, seen, [Way.LEFT if e > 0 else Way.RIGHT for e in lean])


def _lift(v: Floats) -> Floats:
    """(k,) degrees from hanging (0) over level (90) to straight up (180)."""
    length = np.maximum(np.linalg.norm(v, axis=1), SHORT)
    return np.asarray(np.degrees(np.arccos(np.clip(v[:, 1] / length, -1, 1))))


def _limb(part: Part, want: Floats, got: Floats, poses: Poses) -> PartErrors:
    size, lift = degrees(got - want), _lift(got) - _lift(want)
    main = np.abs(lift) >= 0.5 * size
    if part in UPPER:
        error = np.where(main & (lift < 0), -size, size) / SHOWN
        return PartErrors(error, poses.seen[part], _limb_ways(part, main, lift, want, got))
    parent_want, parent_got = segment(poses, PARENT[part])
    bend = np.abs(turned(parent_got, got)) - np.abs(turned(parent_want, want))
    bent = np.abs(bend) >= 0.5 * size
    error = np.where(bent & (bend < 0), -size, size) / SHOWN
    plain = _limb_ways(part, main, lift, want, got)
    ways = [(Way.STRAIGHT if b < 0 else Way.BENT) if k else w for k, b, w in zip(bent, bend, plain, strict=True)]
    return PartErrors(error, poses.seen[part], ways)


def _limb_ways(part: Part, main: Bools, lift: Floats, want: Floats, got: Floats) -> list[Way]:
    """Low or high; at the same height, out or in."""
    outward = 1 if part.startswith("left") else -1
    out = (got[:, 0] - want[:, 0]) * outward
    return [
        (Way.LOW if up < 0 else Way.HIGH) if m else (Way.OUT if o > 0 else Way.IN)
        for m, up, o in zip(main, lift, out, strict=True)
    ]


def _head(want: Floats, got: Floats, up: Floats, seen: Floats) -> PartErrors:
    """By the yaws of both, and by how much further up the picture shows the face: a bowed one moves less in it, and is
    known less well."""
    across = wrapped(got - want)
    sideways = np.abs(across) >= np.abs(up)
    main, size = np.where(sideways, across, up), np.hypot(across, up)
    pairs = [(Way.LEFT, Way.RIGHT) if s else (Way.UP, Way.DOWN) for s in sideways]
    ways = [more if m > 0 else less for (more, less), m in zip(pairs, main, strict=True)]
    return PartErrors(np.where(main > 0, size, -size), seen, ways)


def _facing(want: Floats, got: Floats, seen: Floats) -> PartErrors:
    """Negative is turned too little; where the reference does not turn, positive is to the left."""
    more = wrapped(got - want)
    turns = np.abs(want) > TURNED_DEG
    error = np.where(turns, more * np.sign(want), more)
    ways = [
        (Way.LITTLE if e < 0 else Way.FAR) if t else (Way.LEFT if e > 0 else Way.RIGHT)
        for e, t in zip(error, turns, strict=True)
    ]
    return PartErrors(error, seen, ways)


def _with_arms(torso: PartErrors, known: dict[Part, Floats], poses: Poses) -> tuple[PartErrors, Floats]:
    """A torso's lean, by its arms as well where they lean along, and its standard error."""
    arms = [LIMBS.index(part) for part in ARMS]
    errors = np.column_stack([known[part] for part in ARMS])
    by_arms, arms_error = lean_of_arms(poses.want[:, arms], poses.got[:, arms], errors)
    one = as_one(chord(torso.error), chord(by_arms), known[Part.TORSO], arms_error)
    told = _torso(np.where(one.told, angle(one.difference), torso.error), torso.seen)
    return replace(told, as_one=one.told), np.where(one.told, one.standard_error, known[Part.TORSO])


def _turning(known: dict[Part, Floats], poses: Poses) -> Turning:
    """By the trunk, and by the head where that is turned along."""
    trunk, head = (wrapped(own - meant) for meant, own in (poses.flat[Part.FACING], poses.flat[Part.HEAD]))
    trunk_se, head_se = known[Part.FACING], known[Part.HEAD]
    one = as_one(chord(trunk), chord(head), trunk_se, head_se)
    chance = along_with_trunk(trunk, head, trunk_se)
    further, along = np.isfinite(chance), np.nan_to_num(chance) > SURE
    both, by_head = one.told & (along | ~further), along & ~one.told
    by = np.select([both, by_head], [angle(one.difference), head], trunk)
    se = np.select([both, by_head], [one.standard_error, np.hypot(head_se, LEFT_OPEN * (head - trunk))], trunk_se)
    carried = np.where(further, along, one.carried)
    rather = (np.where(asked, of, 1.0) for asked, of in ((along, chance), (further & ~along, 1 - chance)))
    return Turning(by, se, both | by_head, carried, *rather)


def _as_one(
    parent: Part, part: Part, poses: Poses, measured: dict[Part, PartErrors], known: dict[Part, Floats]
) -> tuple[PartErrors, Floats, Floats, Bools]:
    """What is told of a limb's upper segment, the standard errors of both, and where the lower one is carried along."""
    (upper_want, upper_got), (lower_want, lower_got) = segment(poses, parent), segment(poses, part)
    upper, lower = upper_got - upper_want, lower_got - lower_want
    upper_se, lower_se = known[parent], known[part]
    one = as_one(upper / SHOWN, lower / SHOWN, upper_se, lower_se)
    if part in ARMS:
        upper_se, lower_se = upper_se * (1 + against(upper, lower)), lower_se * (1 + against(lower, upper))
    told, own = _limb(parent, upper_want, upper_want + SHOWN * one.difference, poses), measured[parent]
    ways = [w if t else o for t, w, o in zip(one.told, told.ways, own.ways, strict=True)]
    error = np.where(one.told, told.error, own.error)
    return (
        PartErrors(error, own.seen, ways, one.told),
        np.where(one.told, one.standard_error, upper_se),
        lower_se,
        one.carried,
    )


def unit_of(part: Part) -> Unit:
    return Unit.LEGS if part in (Part.LEVEL, Part.SPREAD) else Unit.DEGREES


def _position(parts: dict[Part, PartResult]) -> Position:
    """Of one count, by the parts that are scored there."""
    if not parts:
        return Position(PositionVerdict.FREE, None, {})
    clear = {p: r for p, r in parts.items() if r.verdict is not PositionVerdict.NOT_SEEN}
    weight = {p: WEIGHTS.get(p, 1.0) for p in parts}
    if sum(weight[p] for p in clear) < SEEN * sum(weight.values()):
        return Position(PositionVerdict.NOT_SEEN, None, parts)
    held = sum(weight[p] for p, r in clear.items() if r.verdict is PositionVerdict.HELD)
    worst = max((r.verdict for r in clear.values()), key=_RANK.index)
    return Position(worst, held / sum(weight[p] for p in clear), parts)


_RANK = [PositionVerdict.HELD, PositionVerdict.NEAR, PositionVerdict.OFF]


def _scored(count: SheetCount, part: Part) -> bool:
    return count.scores[LAYER_OF[part]] in (Score.BOTH, Score.POSITION, Score.OWN_PACE)


def _results(part: Part, m: PartErrors, se: Floats, meant: Floats) -> list[PartResult]:
    """What is told of a part on each count; (k, 2) `meant` with NaN for what is no segment."""
    unit, least = unit_of(part), passes(part)
    tolerance = np.maximum(least, SPREAD_LIMIT * se)
    known = (m.seen >= SEEN) & np.isfinite(m.error)
    size = np.where(known, np.abs(m.error) / tolerance, 0.0)
    rank = (size > 1).astype(int) + (size > NEAR)
    there = np.isfinite(meant).all(1)
    one = known & m.as_one if m.as_one is not None else np.zeros(len(known), bool)
    rather = m.rather if m.rather is not None else np.ones(len(known))
    rows = (known, m.error, m.seen, rank, se, tolerance, one, rather, there, *meant.T)
    return [
        PartResult(error, unit, share, _RANK[r], se_, limit, way, None, (x, y) if t else None, False, both, likelier)
        if k else PartResult(None, unit, share, PositionVerdict.NOT_SEEN, least, least)
        for k, error, share, r, se_, limit, both, likelier, t, x, y, way
        in zip(*(a.tolist() for a in rows), m.ways, strict=True)
    ]  # fmt: skip


def _by_legs(parts: dict[Part, PartResult], turned_along: set[Part]) -> dict[Part, PartResult]:
    """The level by the legs as well: hips that are too low bend them. Not where a step or the body's turn tells it."""
    level, spread = parts.get(Part.LEVEL), parts.get(Part.SPREAD)
    if level is None or not level.beyond or (spread and is_told(spread, Part.SPREAD)):
        return {}
    legs = [(p, parts[p]) for p in LEGS if p in parts and p not in turned_along]
    bent = any(is_told(r, p) and (r.error or 0.0) * (level.error or 0.0) < 0 for p, r in legs)
    return {Part.LEVEL: replace(level, as_one=bent)}


def led(parts: dict[Part, PartResult], turned_along: set[Part], carried: set[Part]) -> dict[Part, PartResult]:
    """The parts of a count, of which those that are off only because another one is name it: the body that is turned,
    level and spread for legs, and for what is `carried` along what carries it. Only what is told itself leads."""
    out = parts | _by_legs(parts, turned_along)
    for part in sorted(parts, key=LEADING.index):
        facing = [Part.FACING] if part in turned_along else []
        whole = [Part.LEVEL, Part.SPREAD] if part in LEGS else []
        carrying = [CARRIES[part]] if part in carried else []
        if out[part].beyond:
            leads = (p for p in (*facing, *whole, *carrying) if p in out and is_told(out[p], p))
            out[part] = replace(out[part], follows=next(leads, None))
    return out
