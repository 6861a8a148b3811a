"""Made-up routines of twelve kinds, drawn from a seed: what is danced, and the sheet that says so.

Every count's keys are written for that count, so that faults can be planted on it.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from juxtakine.core.counting.sheets import Phrase, Sheet, expand
from juxtakine.demo.motion import Motion

Random = np.random.Generator
Move = Callable[[Motion, float, float, Random], Motion]
"""Adds what is danced on a count: the movement so far, the count, how many counts the way takes, chance."""

PHRASES = 4
LEAST_CHANGE = 40.0
"""Degrees by which an arm's shape differs from the one before it."""


@dataclass(frozen=True)
class Routine:
    """`moves` are all sounded counts, in order; `build` gives the movement at a tempo from a first second on."""

    kind: str
    bpm: float
    sheet: Sheet
    seed: int

    @property
    def symmetrical(self) -> bool:
        """Left and right do the same throughout: which is which can't be told, and does not matter."""
        return self.kind in ("arms-together", "sustained")

    @property
    def moves(self) -> list[float]:
        return [float(c.at) for c in expand(self.sheet) if not c.hold and not c.goes_on]

    @property
    def holds(self) -> list[float]:
        return [float(c.at) for c in expand(self.sheet) if c.hold]

    def build(self, first_s: float, tempo: float = 1.0) -> Motion:
        random = np.random.default_rng(self.seed)
        motion = Motion(self.bpm * tempo, first_s)
        before = -1.0
        for at in self.moves:
            over = 0.95 * (at - before) if self.kind == "sustained" else min(0.75, 0.95 * (at - before))
            motion = (KINDS | UNUSUAL)[self.kind][1](motion, at, over, random)
            before = at
        return motion


def routine(seed: int) -> Routine:
    """The routine of this seed; twelve seeds in a row are of the twelve kinds."""
    return _routine(KINDS, seed, (88, 124))


def unusual(seed: int) -> Routine:
    """One of other kinds, the spins quicker than any of the twelve."""
    made = _routine(UNUSUAL, seed, (88, 124))
    return made if made.kind != "quick spins" else _routine(UNUSUAL, seed, (140, 180))


def _routine(kinds: dict[str, tuple[str, Move]], seed: int, bpm: tuple[int, int]) -> Routine:
    kind = list(kinds)[seed % len(kinds)]
    random = np.random.default_rng(10_000 + seed)
    line = kinds[kind][0]
    phrases = tuple(Phrase(f"row {n + 1}", 8, line) for n in range(PHRASES))
    return Routine(kind, float(random.integers(*bpm)), Sheet(kind, phrases), seed)


def _differing(random: Random, before: float, low: float, high: float) -> float:
    while True:
        value = float(random.uniform(low, high))
        if abs(value - before) >= LEAST_CHANGE:
            return value


def _arms(m: Motion, random: Random, both: bool = False) -> dict[str, float]:
    """A new shape of the arms: sideways or to the front, more or less bent."""
    left = _differing(random, _last(m, "l_elev", 10), 10, 165)
    right = left if both else _differing(random, _last(m, "r_elev", 10), 10, 165)
    bent = float(random.choice([10, 15, 60, 85]))
    up = float(random.choice([0, 40, 70])) if bent > 50 else 0.0
    az = float(random.choice([10, 10, 10, 45]))
    return {"l_elev": left, "r_elev": right, "l_elbow": bent, "r_elbow": bent, "l_rot": up, "r_rot": up,
            "l_az": az, "r_az": az}  # fmt: skip


def _arms_alone(m: Motion, at: float, over: float, random: Random) -> Motion:
    return m.key(at, over, **_arms(m, random))


def _arms_together(m: Motion, at: float, over: float, random: Random) -> Motion:
    return m.key(at, over, **_arms(m, random, both=True), drop=float(random.uniform(0, 0.06)))


def _place(m: Motion, random: Random) -> dict[str, float]:
    x = float(np.clip(_last(m, "x", 0) + random.choice([-0.16, 0.16]), -0.4, 0.4))
    return {"x": x, "width": float(random.choice([0.22, 0.5, 0.62])), "drop": float(random.uniform(0, 0.1))}


def _last(motion: Motion, channel: str, default: float) -> float:
    return next((k.channels[channel] for k in reversed(motion.keys) if channel in k.channels), default)


def _steps(m: Motion, at: float, over: float, random: Random) -> Motion:
    return m.stance(at, over=over, **_place(m, random), **_arms(m, random))


def _levels(m: Motion, at: float, over: float, random: Random) -> Motion:
    low = _last(m, "drop", 0) < 0.1
    drop = float(random.uniform(0.14, 0.26) if low else random.uniform(0, 0.04))
    return m.stance(at, over=over, width=0.6 if low else 0.3, drop=drop, **_arms(m, random, both=True))


def _walls(m: Motion, at: float, over: float, random: Random) -> Motion:
    """A quarter to the left and back within a phrase."""
    yaw = {3.0: 60.0, 4.0: 60.0, 5.0: 60.0}.get(at % 8, 0.0)
    return m.stance(at, over=over, yaw=yaw, **_place(m, random), **_arms(m, random))


def _quick(m: Motion, at: float, over: float, random: Random) -> Motion:
    return m.key(at, over, **_arms(m, random), drop=float(random.uniform(0, 0.1)))


def _kicks(m: Motion, at: float, over: float, random: Random) -> Motion:
    """A kick on every second count, left and right in turn, and down again: one foot is always on the floor."""
    if int(at) % 2:
        side = "lr"[int(at) // 2 % 2]
        shape = {"hip": float(random.uniform(40, 80)), "knee": float(random.uniform(5, 80)), "point": 30.0}
        leg = {f"{side}_legw": 1.0} | {f"{side}_{k}": v for k, v in shape.items()}
        return m.key(at, over, drop=0.01, **leg, **_arms(m, random))
    down = {f"{s}_{k}": 0.0 for s in "lr" for k in ("legw", "hip", "knee", "point")}
    return m.key(at, over, **down).stance(at, over=over, **_place(m, random), **_arms(m, random))


def _torso(m: Motion, at: float, over: float, random: Random) -> Motion:
    side = float(random.choice([-18, 0, 18]))
    turn = float(random.choice([-40, 0, 40]))
    return m.key(at, over, side=side, turn=turn, nod=float(random.choice([-15, 0, 20])), **_arms(m, random))


def _spins(m: Motion, at: float, over: float, random: Random) -> Motion:
    """One whole turn a phrase, on 5 and 6."""
    yaw = 360.0 * (int(at) // 8) + {4.0: 180.0}.get(at % 8, 360.0 if at % 8 >= 5 else 0.0)
    return m.stance(at, over=over, yaw=yaw, width=0.26, drop=0.02, **_arms(m, random, both=True))


def _mixed(m: Motion, at: float, over: float, random: Random) -> Motion:
    return (_steps, _levels, _arms_alone, _torso)[int(random.integers(4))](m, at, over, random)


_PLAIN = "1 2 3 4 5 6 7 8"
KINDS: dict[str, tuple[str, Move]] = {
    "arms": (_PLAIN, _arms_alone),
    "arms-together": (_PLAIN, _arms_together),
    "steps": (_PLAIN, _steps),
    "levels": (_PLAIN, _levels),
    "walls": (_PLAIN, _walls),
    "quick": ("1 & 2 3 & 4 5 & 6 7 8", _quick),
    "holds": ("1 2 - 4 5 - 7 8", _steps),
    "sustained": ("1 ~ 3 ~ 5 ~ 7 ~", _arms_together),
    "kicks": (_PLAIN, _kicks),
    "torso": (_PLAIN, _torso),
    "spins": (_PLAIN, _spins),
    "mixed": ("1 2 3 & 4 - 6 7 8", _mixed),
}


def _travels(m: Motion, at: float, over: float, random: Random) -> Motion:
    """To and fro before the camera, towards it and away."""
    x, z = (float(np.clip(_last(m, k, 0) + random.choice(far), -most, most))
            for k, far, most in (("x", [-0.45, 0.45], 1.0), ("z", [-0.4, 0, 0.4], 0.8)))  # fmt: skip
    return m.stance(at, over=over, x=x, z=z, width=float(random.choice([0.22, 0.4, 0.5])), **_arms(m, random))


def _all_round(m: Motion, at: float, over: float, random: Random) -> Motion:
    """To every wall, half of it seen from the side or from behind."""
    yaw = (0, 90, 90, 180, 180, 90, 0, -90)[int(at) % 8]
    return m.stance(at, over=over, yaw=float(yaw), **_place(m, random), **_arms(m, random))


def _bends(m: Motion, at: float, over: float, random: Random) -> Motion:
    bend, side, twist = (float(random.choice(v)) for v in ([-10, 0, 35, 60], [-30, 0, 30], [-40, 0, 40]))
    return m.key(at, over, bend=bend, side=side, twist=twist, **_arms(m, random))


def _crouches(m: Motion, at: float, over: float, random: Random) -> Motion:
    wide, drop = float(random.choice([0.3, 0.6])), float(random.choice([0, 0.2, 0.38]))
    return m.stance(at, over=over, width=wide, drop=drop, **_arms(m, random))


def _small(m: Motion, at: float, over: float, random: Random) -> Motion:
    """As one marks a dance: arms that go 15 to 40 degrees, or not at all."""
    lifts = {f"{s}_elev": 30 + float(random.choice([-15, 0, 15])) for s in "lr"}
    bends = {f"{s}_elbow": 60 + float(random.choice([-20, 20])) for s in "lr"}
    return m.key(at, over, **lifts, **bends)


UNUSUAL: dict[str, tuple[str, Move]] = {
    "travels": (_PLAIN, _travels),
    "all round": (_PLAIN, _all_round),
    "bends": (_PLAIN, _bends),
    "crouches": (_PLAIN, _crouches),
    "small": (_PLAIN, _small),
    "quick spins": (_PLAIN, _spins),
}
"""What none of the twelve does."""
