"""Faults that are planted in a take, each with what has to be told of it.

In time from 40 ms on and in limbs from 10 degrees on, where nothing has to be told yet; else from the sizes that are
asked for.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from accuracy.routines import Routine
from juxtakine.demo.motion import REST, Key, Motion

Random = np.random.Generator
LEG_M = 0.8
"""Of the made-up dancer: levels and spreads are said in leg lengths."""
LEAST_LEVEL = 0.08


@dataclass(frozen=True)
class Planted:
    """One fault: its kind, from which count to which it shows, the part, and its size with sign."""

    kind: str
    start: float
    end: float
    size: float
    part: str | None = None

    def covers(self, at: float, before: float = 0.0, after: float = 0.0) -> bool:
        return self.start - before <= at <= self.end + after


Plant = Callable[[Motion, Routine, float, Random], tuple[Motion, Planted] | None]
"""A fault on or from a count; None where the routine has no place for it there."""


def keys_of(motion: Motion, at: float) -> list[Key]:
    return [k for k in motion.keys if abs(k.count - at) < 1e-6]


def target(motion: Motion, at: float, channel: str) -> float | None:
    """Where a channel is to arrive on a count, if it is written there."""
    return next((k.channels[channel] for k in keys_of(motion, at) if channel in k.channels), None)


def changed(motion: Motion, of: Callable[[Key], bool], to: Callable[[Key], Key]) -> Motion:
    return replace(motion, keys=tuple(to(k) if of(k) else k for k in motion.keys))


def late(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted]:
    ms = float(random.choice([-1, 1]) * random.uniform(40, 300))
    return motion.delay(at, ms), Planted("early" if ms < 0 else "late", at, at, ms)


def limb(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    if _kicks(motion, at):
        return _leg(motion, at, random)
    side = str(random.choice(["left", "right"]))
    channel = f"{side[0]}_elev"
    there = target(motion, at, channel)
    if there is None:
        return None
    size = float(random.uniform(10, 60))
    signs = [s for s in (-1, 1) if 0 <= there + s * size <= 170]
    if not signs:
        return None
    delta = float(random.choice(signs)) * size
    return motion.adjust(at, **{channel: delta}), Planted("limb", at, at, delta, f"{side}-upper-arm")


def _leg(motion: Motion, at: float, random: Random) -> tuple[Motion, Planted] | None:
    """The one that kicks: the whole of it higher or lower, or its knee more or less bent."""
    side = "left" if target(motion, at, "l_legw") else "right"
    joint, part, most = [("hip", "thigh", 100), ("knee", "shin", 110)][int(random.integers(2))]
    there, size = target(motion, at, f"{side[0]}_{joint}") or 0.0, float(random.uniform(10, 60))
    signs = [s for s in (-1, 1) if 5 <= there + s * size <= most]
    if not signs:
        return None
    delta = float(random.choice(signs)) * size
    return motion.adjust(at, **{f"{side[0]}_{joint}": delta}), Planted("limb", at, at, delta, f"{side}-{part}")


def forearm(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    side = str(random.choice(["left", "right"]))
    there = target(motion, at, f"{side[0]}_elbow")
    if there is None:
        return None
    delta = float(random.uniform(10, 60)) * (1 if there < 60 else -1)
    return motion.adjust(at, **{f"{side[0]}_elbow": delta}), Planted("limb", at, at, delta, f"{side}-forearm")


def level(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    there = target(motion, at, "drop")
    if there is None or _kicks(motion, at):
        return None
    size = LEG_M * float(random.uniform(LEAST_LEVEL, 0.25))
    delta = size if there < 0.1 else -min(size, there)
    until = _stays(motion, routine, at, "drop")
    if abs(delta) < LEG_M * LEAST_LEVEL:
        return None
    return motion.adjust(at, drop=delta), Planted("level", at, until, -delta / LEG_M, "level")


def spread(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    if target(motion, at, "l_fx") is None or _kicks(motion, at):
        return None
    wide = (target(motion, at, "l_fx") or 0) - (target(motion, at, "r_fx") or 0)
    size = LEG_M * float(random.uniform(0.12, 0.31))
    delta = size if wide < 0.4 else -size
    moved = motion.adjust(at, l_fx=delta / 2, r_fx=-delta / 2)
    return moved, Planted("spread", at, _stays(motion, routine, at, "l_fx"), delta / LEG_M, "spread")


def lean(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted]:
    """From the hips up, to one side."""
    delta = float(random.choice([-1, 1]) * random.uniform(12, 25))
    until = _next(routine, at)
    moved = motion.key(at, 0.6, tilt=delta).key(until, 0.6, tilt=0)
    return moved, Planted("torso", at, at, delta, "torso")


def head(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted]:
    delta = float(random.choice([-1, 1]) * random.uniform(20, 45))
    turn, until = _channel(motion, at, "turn"), _next(routine, at)
    moved = motion.key(at, 0.6, turn=turn + delta).key(until, 0.6, turn=_channel(motion, until, "turn"))
    return moved, Planted("head", at, at, delta, "head")


def facing(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    if target(motion, at, "yaw") is None:
        return None
    delta = float(random.choice([-1, 1]) * random.uniform(30, 60))
    return motion.adjust(at, yaw=delta), Planted("facing", at, _stays(motion, routine, at, "yaw"), delta, "facing")


def slip(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    """All from a count to the end of its phrase late by about the same."""
    after = [m for m in routine.moves if at <= m < 8 * (at // 8 + 1)]
    if len(after) < 4:
        return None
    ms = float(random.uniform(120, 250))
    for m in after:
        motion = motion.delay(m, ms)
    return motion, Planted("slip", at, after[-1], ms)


def drift(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    """Later and later, or earlier and earlier, over a phrase."""
    start = 8 * (at // 8)
    inside = [m for m in routine.moves if start <= m < start + 8]
    ms = float(random.choice([-1, 1]) * random.uniform(160, 260))
    for m in inside:
        motion = motion.delay(m, ms * (m - start + 1) / 8)
    return motion, Planted("drift", inside[0], inside[-1], ms)


def wrong_side(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    """Half a phrase or more danced to the other side."""
    inside = [m for m in routine.moves if at <= m < at + 4 and m // 8 == at // 8]
    if len(inside) < 3:
        return None
    back = _next(routine, inside[-1])
    swapped = changed(motion, lambda k: k.count in inside, lambda k: replace(k, channels=mirrored(k.channels)))
    home = {c: _channel(motion, back, c) for k in motion.keys if k.count in inside for c in mirrored(k.channels)}
    written = {c for k in keys_of(motion, back) for c in k.channels}
    rest = {c: v for c, v in home.items() if c not in written}
    swapped = swapped.key(back, 0.7, **rest) if rest else swapped
    sides = [
        abs(k.channels["l_elev"] - k.channels["r_elev"])
        for k in motion.keys
        if k.count in inside and "l_elev" in k.channels
    ]
    return swapped, Planted("wrong-side", inside[0], inside[-1], float(np.mean(sides or [0.0])))


def missing(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    """What is written for a count is left out."""
    if "l_elev" not in {c for k in keys_of(motion, at) for c in k.channels} or at == routine.moves[-1]:
        return None
    if max(abs((target(motion, at, c) or 0) - _before(motion, at, c)) for c in ("l_elev", "r_elev")) < 50:
        return None
    return replace(motion, keys=tuple(k for k in motion.keys if k.count != at)), Planted("missing", at, at, 0.0)


def extra(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    """A movement in a hold."""
    if at not in routine.holds:
        return None
    left, right = _channel(motion, at, "l_elev"), _channel(motion, at, "r_elev")
    more = [60 if v < 90 else -60 for v in (left, right)]
    moved = motion.key(at - 0.05, 0.4, count=-1, l_elev=left + more[0], r_elev=right + more[1])
    return moved.key(at + 0.35, 0.35, count=-1, l_elev=left, r_elev=right), Planted("extra", at, at, 0.0)


def left_early(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    """What follows a hold begins, and arrives, while it should still last."""
    if at not in routine.holds:
        return None
    ms = -float(random.uniform(0.35, 0.6)) * 60_000 / motion.bpm
    return motion.delay(_next(routine, at), ms), Planted("left-hold-early", at, _next(routine, at), ms)


def turn(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    """One that is not made, or one too many; all until the facing is right again is danced to the wrong wall."""
    if routine.kind == "walls":
        if at % 8 != 3:
            return None
        return changed(motion, lambda k: at <= k.count < at + 3, _unturned), Planted("turn", at, at + 2, -60.0)
    there = [m for m in routine.moves if at <= m < at + 3]
    if routine.kind == "spins" or any(target(motion, m, "yaw") is None or _kicks(motion, m) for m in there):
        return None
    delta = float(random.choice([-90, 90]))
    more = changed(motion, lambda k: k.count in there, lambda k: _turned(k, motion, delta))
    return more, Planted("turn", at, there[-1], delta)


def small(motion: Motion, routine: Routine, at: float, random: Random) -> tuple[Motion, Planted] | None:
    """The arms' ways cut off throughout a phrase."""
    start, share = 8 * (at // 8), float(random.uniform(0.6, 0.85))

    def less(k: Key) -> Key:
        middle = {"l_elev": 70.0, "r_elev": 70.0}
        return replace(
            k, channels={c: middle[c] + share * (v - middle[c]) if c in middle else v for c, v in k.channels.items()}
        )

    return changed(motion, lambda k: start <= k.count < start + 8, less), Planted("range", start, start + 7, share)


def _kicks(motion: Motion, at: float) -> bool:
    return any(k.channels.get("l_legw") or k.channels.get("r_legw") for k in keys_of(motion, at))


def _turned(k: Key, motion: Motion, degrees: float) -> Key:
    """To the dancer's left, feet and all, about the place where the body is."""
    x, z, a = target(motion, k.count, "x") or 0.0, target(motion, k.count, "z") or 0.0, np.radians(degrees)
    ways = {c: v + degrees for c, v in k.channels.items() if c.endswith("yaw")}
    for side in "lr":
        if f"{side}_fx" in k.channels:
            fx, fz = k.channels[f"{side}_fx"] - x, k.channels[f"{side}_fz"] - z
            ways[f"{side}_fx"] = x + fx * np.cos(a) + fz * np.sin(a)
            ways[f"{side}_fz"] = z + fz * np.cos(a) - fx * np.sin(a)
    return replace(k, channels={**k.channels, **ways})


def _unturned(k: Key) -> Key:
    if "yaw" in k.channels:
        return replace(k, channels={**k.channels, "yaw": 0.0})
    return k


def mirrored(channels: dict[str, float] | object) -> dict[str, float]:
    """The same channels on the other side."""
    out = {}
    for name, value in dict(channels).items():  # type: ignore[call-overload]
        to = {"l": "r", "r": "l"}[name[0]] + name[1:] if name[:2] in ("l_", "r_") else name
        other_way = to.endswith(("fx", "fyaw")) or to in ("x", "yaw", "tilt", "side", "twist", "hside", "turn")
        out[to] = -value if other_way else value
    return out


def _next(routine: Routine, at: float) -> float:
    return next((m for m in routine.moves if m > at + 1e-6), at + 1)


def _stays(motion: Motion, routine: Routine, at: float, channel: str) -> float:
    """The last count on which a channel is still as it was written for this one."""
    again = min((k.count for k in motion.keys if k.count > at + 1e-6 and channel in k.channels), default=np.inf)
    return max(m for m in routine.moves if m < again - 1e-6)


def _channel(motion: Motion, at: float, name: str) -> float:
    """Where a channel stands on a count, by what is written up to it."""
    written = [k for k in motion.keys if name in k.channels and k.at <= at + 1e-6]
    return max(written, key=lambda k: k.at).channels[name] if written else REST[name]


def _before(motion: Motion, at: float, name: str) -> float:
    return _channel(motion, at - 0.01, name)


PLANTS: dict[str, Plant] = {
    "late": late, "limb": limb, "forearm": forearm, "level": level, "spread": spread, "lean": lean, "head": head,
    "facing": facing, "slip": slip, "drift": drift, "wrong-side": wrong_side, "missing": missing, "extra": extra,
    "left-hold-early": left_early, "turn": turn, "range": small,
}  # fmt: skip
