"""Films of several made-up dancers who cross, leave and return, in like or unlike clothes; each one's exact joints.

Even seeds were looked at while the following was made, odd ones are the table's.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from accuracy.routines import Random, routine
from juxtakine.demo.camera import Camera, Framing
from juxtakine.demo.film import write
from juxtakine.demo.look import Look
from juxtakine.demo.motion import Motion
from juxtakine.demo.renderer import Renderer
from juxtakine.demo.skeleton import Body, Floats

LASTS_S, FPS, SIZE = 9.0, 30, (640, 360)
KINDS = ("cross", "alike", "trio", "leave", "turn back", "trio alike")
CLOTHES = (
    Look(body="f"),
    Look(body="m", shirt=(0.15, 0.35, 0.2), trousers=(0.1, 0.1, 0.1), hair=(0.05, 0.04, 0.03), bun=0.0),
    Look(body="m", shirt=(0.2, 0.25, 0.6), trousers=(0.6, 0.55, 0.45)),
    Look(body="f", shirt=(0.75, 0.45, 0.55), trousers=(0.2, 0.2, 0.25)),
    Look(body="m", shirt=(0.45, 0.46, 0.48), trousers=(0.25, 0.25, 0.27), bun=0.0),
)
Path3 = tuple[tuple[float, float, float], ...]
"""Seconds, and where on the floor: x, z in metres."""


@dataclass(frozen=True)
class Walker:
    """Somebody who dances along a path."""

    motion: Motion
    path: Path3
    look: Look

    def sample(self, seconds: Floats, seed: int) -> dict[str, Floats]:
        channels = self.motion.sample(seconds, seed=seed)
        for axis, column in (("x", 1), ("z", 2)):
            there = self._along(seconds, column)
            for name in (axis, f"l_f{axis}", f"r_f{axis}"):
                channels[name] = channels[name] + there
        return channels

    def _along(self, seconds: Floats, column: int) -> Floats:
        out = np.full_like(seconds, self.path[0][column])
        for a, b in zip(self.path, self.path[1:], strict=False):
            u = np.clip((seconds - a[0]) / (b[0] - a[0]), 0, 1)
            out += (b[column] - a[column]) * u**3 * (10 - 15 * u + 6 * u * u)
        return out


@dataclass(frozen=True)
class Company:
    kind: str
    walkers: tuple[Walker, ...]
    camera: Camera
    seed: int


def company(seed: int) -> Company:
    random = np.random.default_rng(80_000 + seed)
    kind = KINDS[seed // 2 % len(KINDS)]
    clothes = [CLOTHES[i] for i in random.permutation(len(CLOTHES))]
    if "alike" in kind or kind == "turn back":
        clothes = [clothes[0]] * 3
    away = float(random.uniform(4.8, 5.6))
    camera = Camera((float(random.uniform(-0.4, 0.4)), float(random.uniform(1, 1.4)), away), (0, 0.95, 0), field_deg=38,
                    shake_m=0.0, size=SIZE, fps=FPS)  # fmt: skip
    danced = [routine(int(random.integers(4))).build(0.5 + 0.2 * k) for k in range(3)]
    walkers = (Walker(m, p, c) for m, p, c in zip(danced, _paths(kind, random), clothes, strict=False))
    return Company(kind, tuple(walkers), camera, seed)


def _paths(kind: str, random: Random) -> tuple[Path3, ...]:
    at, wide, quick = (float(random.uniform(*r)) for r in ((1.2, 2.2), (0.65, 0.9), (1.1, 1.7)))

    def begins(side: float) -> Path3:
        return (0, -side * wide, 0.1), (at, -side * wide, 0.1)

    def crosses(side: float, deep: float) -> Path3:
        return (*begins(side), (at + quick, side * wide, deep))

    def returns(side: float, deep: float) -> Path3:
        over = at + quick + 1.6
        return (*crosses(side, deep), (over, side * wide, deep), (over + quick, -side * wide, 0.1))

    def turns_back(side: float) -> Path3:
        return (*begins(side), (at + quick, -side * 0.13, 0.15 * side), (at + 2 * quick, -side * wide, 0.1))

    if kind == "leave":
        out, back = at + 1.0, at + 3.0
        return (*begins(1), (out, -3.0, 0.2), (back, -3.0, 0.2), (back + 1.0, -wide, 0.1)), ((0, wide, 0.0),)
    if kind == "alike":
        return crosses(1, 0.5), crosses(-1, -0.4)
    if kind == "turn back":
        return turns_back(1), turns_back(-1)
    both = returns(1, 0.5), returns(-1, -0.4)
    return both if kind == "cross" else (*both, ((0, 0.0, 0.0),))


def film(made: Company, to: Path, times: Floats) -> Floats:
    """Writes the clip, a frame at each of `times` (n,); (people, n, 33, 2) each one's joints in pixels."""
    bodies = [Body(w.look.body) for w in made.walkers]
    posed = [_posed(w, b, times, made.seed + k) for k, (w, b) in enumerate(zip(made.walkers, bodies, strict=True))]
    views = [made.camera.view(t, made.seed) for t in times]
    if not to.exists():
        _draw(made, bodies, posed, views, to)
    return np.array(
        [[v.project(b.landmarks(*p)) for v, p in zip(views, poses, strict=True)]
         for b, poses in zip(bodies, posed, strict=True)]
    )  # fmt: skip


def _posed(walker: Walker, body: Body, times: Floats, seed: int) -> list[tuple[Floats, Floats]]:
    channels = walker.sample(times, seed)
    return [body.pose(dict(zip(channels, row, strict=True))) for row in zip(*channels.values(), strict=True)]


def _draw(
    made: Company, bodies: Sequence[Body], posed: list[list[tuple[Floats, Floats]]], views: list[Framing], to: Path
) -> None:
    """Everybody in one picture; they hide each other rightly."""
    camera, looks = made.camera, [w.look for w in made.walkers]
    renderer = Renderer(list(zip(bodies, looks, strict=True)), camera.size)
    pictures = (renderer.draw([p[i] for p in posed], view, camera.orbit_deg) for i, view in enumerate(views))
    aside = to.with_suffix(".new.mp4")
    write(pictures, aside, camera, looks[0].grain, made.seed)
    aside.rename(to)
