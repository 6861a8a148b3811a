"""Made-up routines whose phrases repeat: plain, on the other side, with another ending, cut; and what is found of it.

Exact joints with an estimator's error on them, cleaned by the product's own way. Even seeds are for tuning.
"""

from dataclasses import dataclass, replace

import numpy as np
from scipy.ndimage import gaussian_filter1d

from accuracy.faults import mirrored
from accuracy.pairs import INEXACT_DEG, INEXACT_M, INEXACT_MS, bodies
from accuracy.routines import KINDS, Random
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Phrase, Sheet
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import Features, features
from juxtakine.core.movement.tracks import Floats, Track
from juxtakine.core.watching.repeats import Repeat, repeats
from juxtakine.demo.camera import Camera
from juxtakine.demo.motion import REST, Key, Motion
from juxtakine.demo.skeleton import Body

OFF, OFF_LASTS_S = 0.025, 0.12
"""The estimator's error in torso lengths, and how long it stays alike."""
PER_S = 15
LINE = "1 2 3 4 5 6 7 8"
USABLE = ("arms", "steps", "kicks", "torso", "mixed", "quick", "holds")
"""Kinds in which left and right differ: of others it can't be told on which side they are danced."""


@dataclass(frozen=True)
class Row:
    """A phrase: which material it is danced from, on which side, how it ends, and how many counts of it."""

    material: int
    mirrored: bool = False
    ending: int | None = None
    counts: int = 8


@dataclass(frozen=True)
class Structure:
    rows: tuple[Row, ...]
    sheet: Sheet
    grid: Grid
    reference: Features


def structure(seed: int) -> Structure:
    random = np.random.default_rng(50_000 + seed)
    rows = _rows(random)
    kinds = [str(random.choice(USABLE)) for _ in range(12)]
    keys: list[Key] = []
    start = 0
    for row in rows:
        material = _keys(kinds[row.material], row.material, seed)
        if row.ending is not None:
            cut = float(row.ending)
            other = _keys(kinds[row.material], row.material + 500, seed)
            material = [k for k in material if k.count < cut] + [k for k in other if k.count >= cut]
        if row.mirrored:
            material = [replace(k, channels=mirrored(k.channels)) for k in material]
        keys += [replace(k, at=k.at + start, count=k.count + start) for k in material if k.count < row.counts]
        start += row.counts
    bpm = float(random.integers(88, 124))
    motion = Motion(bpm, 1.5, tuple(keys)).inexact(seed, INEXACT_MS, INEXACT_DEG, INEXACT_M)
    sheet = Sheet("made up", tuple(Phrase("", r.counts, " ".join(str(k + 1) for k in range(r.counts))) for r in rows))
    return Structure(rows, sheet, Grid.from_tempo(1.5, bpm), _features(motion, random))


def _rows(random: Random) -> tuple[Row, ...]:
    """Six to nine phrases, of which about half repeat an earlier one."""
    rows = [Row(0), Row(1)]
    new = 2
    while len(rows) < int(random.integers(6, 10)):
        if random.random() < 0.45:
            rows.append(Row(new))
            new += 1
            continue
        first = rows[int(random.integers(len(rows)))]
        plain = Row(first.material, bool(random.random() < 0.4))
        way = random.random()
        if way < 0.25:
            plain = replace(plain, ending=int(random.choice([5, 6])))
        elif way < 0.45:
            plain = replace(plain, counts=int(random.choice([4, 6])))
        rows.append(plain)
    return tuple(rows)


def _keys(kind: str, material: int, seed: int) -> list[Key]:
    random = np.random.default_rng(1000 * seed + material)
    motion = Motion(60, 0.0)
    for k in range(8):
        motion = KINDS[kind][1](motion, float(k), 0.75, random)
    said = {c for k in motion.keys if k.count == 0 for c in k.channels}
    # what the phrase before left bent is straightened, or the same phrase would not be danced the same
    at_rest = Key(0.0, 0.0, 0.75, {c: v for c, v in REST.items() if c not in said})
    return [at_rest, *motion.keys]


def _features(motion: Motion, random: Random) -> Features:
    body = Body(str(random.choice(bodies())))
    orbit = float(random.uniform(-20, 20))
    camera = Camera((0, 1.2, 5.2), (0, 0.95, 0), field_deg=38, orbit_deg=orbit, shake_m=0, size=(640, 360), fps=30)
    seconds = np.arange(0, motion.end_s + 1, 1 / PER_S)
    channels = motion.sample(seconds, seed=int(random.integers(1_000_000)))
    world = np.array([body.landmarks(*body.pose(dict(zip(channels, row, strict=True))))
                      for row in zip(*channels.values(), strict=True)])  # fmt: skip
    return features(clean(seen(world, seconds, camera, random)))


def seen(world: Floats, seconds: Floats, camera: Camera, random: Random) -> Track:
    """As the estimator tells it: with errors that last a moment."""
    view = camera.view(0.0, 0)
    image = np.array([view.project(w) for w in world])
    torso = float(np.median(np.linalg.norm(image[:, 11:13].mean(1) - image[:, 23:25].mean(1), axis=1)))
    lasts = OFF_LASTS_S * PER_S
    errors = gaussian_filter1d(random.normal(0, 1, image.shape), lasts, axis=0) * np.sqrt(2 * lasts * np.sqrt(np.pi))
    turned = (world - world[:, [23, 24]].mean(1, keepdims=True)) @ view.r.T
    n = len(image)
    return Track(seconds, image + OFF * torso * errors, turned + random.normal(0, 0.02, turned.shape), np.ones((n, 33)),
                 np.ones(n, bool), np.ones(n, bool), *camera.size, "made up")  # fmt: skip


def told_rightly(made: Structure) -> tuple[int, int, int, int, list[str]]:
    """Repeats there are and found; phrases that are new and those falsely told; and what went wrong."""
    told = {r.phrase: r for r in repeats(made.reference, made.grid, made.sheet)}
    there = found = new = false = 0
    misses = []
    for k, row in enumerate(made.rows):
        earlier = [(i, r) for i, r in enumerate(made.rows[:k]) if r.material == row.material]
        said = told.get(k + 1)
        if not earlier:
            new += 1
            false += said is not None
            if said is not None:
                misses.append(f"false {said}")
            continue
        there += 1
        right = said is not None and _fits(row, made.rows[said.like - 1], said)
        found += right
        if not right:
            misses.append(f"{row} told as {said}")
    return there, found, new, false, misses


def _fits(row: Row, like: Row, said: Repeat) -> bool:
    """Whether what is said of the phrase is so: the side, and how much of it."""
    if row.material != like.material or said.mirrored != (row.mirrored != like.mirrored):
        return False
    common = min(row.counts, like.counts, *(e for e in (row.ending, like.ending) if e is not None))
    if row.ending == like.ending:
        common = min(row.counts, like.counts)
    if said.other_ending != (common < row.counts):
        return False
    return abs(said.counts - common) <= 1 and said.cut == (row.counts < like.counts and common == row.counts)
