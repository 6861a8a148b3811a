"""Pairs of an instructor and a student, drawn from a seed: bodies, cameras, tempo, side, and what was planted.

Even seeds are for tuning, odd ones for the table; docs/accuracy.md says where that was not kept to.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from accuracy.faults import PLANTS, Planted
from accuracy.films import Film
from accuracy.routines import Routine, routine
from juxtakine.core.comparing.aligning.sides import UNSAID, KnownSides
from juxtakine.core.counting.grids import Grid
from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.look import Look
from juxtakine.demo.motion import Motion

TUNING, TABLE = (0, 1000), (7681, 25341)
"""Where the seeds of filmed and of track pairs begin; those for the table are odd, and only looked at for it. Tables
before this one began at 7001, 7201, 7301, 7401, 7413, 7425, 7433, 7441, 7541, 7551, 7651 and 7669, and at 8001, 9301,
9501, 9701, 9901, 10101, 10301, 10501, 10701, 10901, 13701, 14141, 14941, 15741, 16541, 17341, 18141, 18941, 19741,
20541, 21341, 22141, 22941, 23741 and 24541."""
INEXACT_MS, INEXACT_DEG, INEXACT_M = 10.0, 2.0, 0.01
Planter = Callable[[Motion, Routine, np.random.Generator], tuple[Motion, tuple[Planted, ...]]]
OFTEN = {"late": 4.0, "limb": 3.0}
"""Kinds that are planted more often than the others."""


@dataclass(frozen=True)
class Conditions:
    """How the take differs from a plain one; `orbit_deg` between the two cameras. `mirrored`: mirror images, as the
    take's picture is flipped or the instructor dances mirrored on purpose."""

    orbit_deg: float
    tempo: float = 1.0
    mirrored: bool = False
    behind: bool = False

    @property
    def hard(self) -> bool:
        return self.orbit_deg > 20 or self.tempo != 1 or self.mirrored or self.behind


@dataclass(frozen=True)
class Pair:
    seed: int
    routine: Routine
    conditions: Conditions
    reference: Scene
    take: Scene
    reference_grid: Grid
    take_grid: Grid
    planted: tuple[Planted, ...]
    true_lag_ms: dict[float, float]
    """Of the take against the reference on each count that is danced, by what was written."""

    @property
    def film(self) -> Film:
        """How the take is filmed; those for tuning are plain."""
        return {1: Film.UNEVEN, 3: Film.TURNED, 5: Film.COMPANY}.get(self.seed % 8, Film.PLAIN)

    @property
    def sides(self) -> KnownSides:
        """What is known of them: every other of the mirrored ones is the instructor's doing, and said to be."""
        return KnownSides(reference=True) if self.conditions.mirrored and self.seed % 4 < 2 else UNSAID


def pair(seed: int, danced: Routine | None = None, plant: Planter | None = None) -> Pair:
    """Of a routine of the twelve kinds, or of this one; with faults that are well apart, or as `plant` has them."""
    random = np.random.default_rng(seed)
    usual = routine(int(random.integers(12)) + 12 * (seed % 7))
    danced = danced or usual
    conditions = _conditions(random)
    reference_s, take_s = 1.5 + 60 / danced.bpm, float(random.uniform(1.2, 3.5)) + 60 / danced.bpm
    body, other = random.choice(len(bodies()), 2, replace=False)
    shown = danced.build(reference_s).inexact(seed + 1, INEXACT_MS / 2, INEXACT_DEG / 2, INEXACT_M / 2)
    meant, planted = (plant or _planted)(danced.build(take_s, conditions.tempo), danced, random)
    done = meant.inexact(seed + 2, INEXACT_MS, INEXACT_DEG, INEXACT_M)
    turned = float(random.uniform(-8, 8))
    reference = Scene(
        shown, _look(bodies()[body], random), _camera(turned + 180 * conditions.behind, random), None, seed
    )
    around = turned + conditions.orbit_deg * float(random.choice([-1, 1]))
    take = Scene(done, _look(bodies()[other], random), _camera(around, random), None, seed + 3)
    grids = Grid.from_tempo(reference_s, danced.bpm), Grid.from_tempo(take_s, danced.bpm * conditions.tempo)
    return Pair(seed, danced, conditions, reference, take, *grids, planted, _true_lags(shown, done, danced))


def bodies() -> list[str]:
    from juxtakine.demo.skeleton import ASSET

    return [str(n) for n in np.load(ASSET)["names"]]


def _conditions(random: np.random.Generator) -> Conditions:
    kind = random.choice(["near", "near", "near", "round", "round", "slow", "mirrored", "behind"])
    orbit = float(random.uniform(20, 40) if kind == "round" else random.uniform(0, 20))
    tempo = float(random.choice([0.4, 0.5, 0.6, 0.75, 0.9, 1.1])) if kind == "slow" else 1.0
    return Conditions(orbit, tempo, bool(kind == "mirrored"), bool(kind == "behind"))


def _camera(orbit: float, random: np.random.Generator) -> Camera:
    portrait = random.random() < 0.3
    return Camera(
        position=(float(random.uniform(-0.2, 0.2)), float(random.uniform(0.6, 1.9)), float(random.uniform(4.4, 6.2))),
        look_at=(0.0, 0.95, 0.0),
        field_deg=48.0 if portrait else 38.0,
        orbit_deg=orbit,
        shake_m=float(random.choice([0, 0, 0.01])),
        size=(360, 640) if portrait else (640, 360),
        fps=int(random.choice([30, 30, 30, 30, 30, 25, 60])),
    )


def _look(body: str, random: np.random.Generator) -> Look:
    shade = lambda: tuple(float(v) for v in random.uniform(0.08, 0.85, 3))  # noqa: E731  # three draws alike
    dim = bool(random.random() < 0.2)
    return Look(body=body, shirt=shade(), trousers=shade(), wall=shade(), sleeve=float(random.uniform(0, 2)),
                hem=float(random.uniform(1, 2)), grain=float(random.uniform(8, 14) if dim else random.uniform(1, 6)),
                key=0.6 if dim else 2.1, ambient=0.3 if dim else 0.75)  # fmt: skip


def _planted(motion: Motion, danced: Routine, random: np.random.Generator) -> tuple[Motion, tuple[Planted, ...]]:
    """None in a quarter of the takes, else one to four, in phrases of their own or well apart."""
    planted: list[Planted] = []
    if random.random() < 0.25:
        return motion, ()
    for _ in range(int(random.integers(1, 5))):
        weights = np.array([OFTEN.get(k, 1.0) for k in PLANTS])
        kind = str(random.choice(list(PLANTS), p=weights / weights.sum()))
        at = float(
            random.choice(danced.holds if kind in ("extra", "left-hold-early") and danced.holds else danced.moves[1:-1])
        )
        if any(p.covers(at, 4, 4) or (p.start // 8 == at // 8 and _long(kind, p)) for p in planted):
            continue
        made = PLANTS[kind](motion, danced, at, random)
        if made and not any(q.start <= made[1].end + 1.5 and made[1].start <= q.end + 1.5 for q in planted):
            motion = made[0]
            planted.append(made[1])
    return motion, tuple(sorted(planted, key=lambda p: p.start))


def _long(kind: str, other: Planted) -> bool:
    return kind in ("slip", "drift", "range") or other.kind in ("slip", "drift", "range")


def _true_lags(shown: Motion, done: Motion, danced: Routine) -> dict[float, float]:
    def late(motion: Motion) -> dict[float, float]:
        return {m: next(k.late_s for k in motion.keys if k.count == m) for m in danced.moves
                if any(k.count == m for k in motion.keys)}  # fmt: skip

    a, b = late(shown), late(done)
    return {m: 1000 * (b[m] - a[m]) for m in b if m in a}
