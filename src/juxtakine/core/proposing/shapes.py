"""Shapes: what the arms, the body and the head do on an arrival, in words of one closed list.

Conventions: features as in movement.features, y down; levels in leg lengths; angles in degrees.
"""

from dataclasses import dataclass

import numpy as np

from juxtakine.core.counting.sheets import Layer
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.features import LIMBS, Features
from juxtakine.core.movement.tracks import Floats

DOWN_DEG, UP_DEG = 45.0, 125.0
"""An upper arm hangs below the first and is up above the second; between them it is out, or before the body."""
BEFORE = 0.5
"""Seen so short, an arm that is neither up nor down points to the front."""
BENT_DEG = 65.0
LEAST_ARM = 0.35
"""Way of an arm, in its own lengths, from which on it is worth a word."""
HIGHER = 0.25
"""Way up of both hands, in lengths of an upper arm, from which on arms that stay out are said to go higher."""
LEVEL = 0.09
TIPPED = 0.22
"""Way of the trunk's upper end to the side, in its own length."""
LOOKS_DEG = 32.0
SIDES = ("left", "right")


@dataclass(frozen=True)
class Change:
    """Words for a layer, short and in full, and how much moves, in units of what is worth a word."""

    layer: Layer
    cue: str
    said: str
    size: float


def shapes(danced: Features) -> list[list[Change]]:
    """Of features at arrivals, the first of them where the dance begins: of each what has changed since the one before
    it (m,), the largest change first."""
    told: list[list[Change]] = [[]]
    for i in range(1, len(danced.seconds)):
        found = [s for s in (_arms(danced, i), _body(danced, i), _head(danced, i)) if s]
        told.append(sorted(found, key=lambda s: -s.size))
    return told


def _limb(danced: Features, i: int, name: str) -> Floats:
    return np.asarray(danced.vectors[i, LIMBS.index(Part(name)), :2])


def _arms(danced: Features, i: int) -> Change | None:
    places: list[str] = []
    moved: list[float] = []
    for side in SIDES:
        now, was = (_arm(danced, at, side) for at in (i, i - 1))
        if not np.isfinite(now).all() or not np.isfinite(was).all():
            return None
        places.append(_place(now))
        moved.append(float(np.linalg.norm(now - was)))
    size = max(moved) / LEAST_ARM
    if size < 1:
        return None
    if places == [_place(_arm(danced, i - 1, side)) for side in SIDES]:
        higher = float(np.mean([(_arm(danced, i - 1, s) - _arm(danced, i, s)).sum(0)[1] for s in SIDES]))
        word = "arms" if abs(higher) < HIGHER else "lift" if higher > 0 else "drop"
        return Change(Layer.ARMS, word, f"arms {word}" if word != "arms" else "arms move", size)
    if places[0] == places[1]:
        return Change(Layer.ARMS, f"arms {places[0]}", f"arms {places[0]}", size)
    k = int(np.argmax(moved))
    one = f"{SIDES[k]} arm {places[k]}"
    both = f"{one}, {SIDES[1 - k]} {places[1 - k]}" if min(moved) >= LEAST_ARM else one
    return Change(Layer.ARMS, f"{SIDES[k][0].upper()} arm {places[k]}", both, size)


def _arm(danced: Features, i: int, side: str) -> Floats:
    """(2, 2) upper arm and forearm."""
    return np.array([_limb(danced, i, f"{side}-{part}") for part in ("upper-arm", "forearm")])


def _place(arm: Floats) -> str:
    upper, fore = arm
    raised = float(np.degrees(np.arccos(np.clip(upper[1], -1, 1))))
    if raised > UP_DEG:
        return "up"
    lengths = np.linalg.norm(arm, axis=1)
    turned = np.degrees(np.arccos(np.clip(upper @ fore / max(lengths.prod(), 1e-6), -1, 1)))
    if raised < DOWN_DEG:
        return "bent" if turned > BENT_DEG else "down"
    if lengths[0] < BEFORE:
        return "front"
    return "bent" if turned > BENT_DEG else "out"


def _body(danced: Features, i: int) -> Change | None:
    lower = float(danced.level[i - 1] - danced.level[i])
    tipped, was = (float(_limb(danced, at, "torso")[0]) for at in (i, i - 1))
    sizes = {"level": abs(lower) / LEVEL, "tip": abs(tipped - was) / TIPPED}
    sizes = {k: v for k, v in sizes.items() if np.isfinite(v) and v >= 1}
    if not sizes:
        return None
    kind = max(sizes, key=lambda k: sizes[k])
    if kind == "level":
        word = "down" if lower > 0 else "up"
        return Change(Layer.BODY, word, "bend, go down" if lower > 0 else "rise", sizes[kind])
    upright = abs(tipped) < TIPPED / 2
    facing = float(danced.facing[i])
    seen_from_front = not np.isfinite(facing) or abs((facing + 180) % 360 - 180) < 90
    side = "left" if (tipped > 0) == seen_from_front else "right"
    return Change(Layer.BODY, "upright" if upright else f"tip {side[0].upper()}",
                 "come upright" if upright else f"tip to the {side}", sizes[kind])  # fmt: skip


def _head(danced: Features, i: int) -> Change | None:
    now, was = (float(danced.head[at] - danced.facing[at]) for at in (i, i - 1))
    size = abs(now - was) / LOOKS_DEG
    if not np.isfinite(size) or size < 1:
        return None
    way = "front" if abs(now) < LOOKS_DEG / 2 else "left" if now > 0 else "right"
    return Change(Layer.HEAD, f"look {way}", f"look to the {way}", size)
