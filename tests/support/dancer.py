"""Tracks that are exactly right: a made-up dancer's own joints, as one camera sees them."""

from dataclasses import replace
from functools import cache

import numpy as np

from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.results import Comparison, Method
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.movement.body import SWAPPED
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import Features, features
from juxtakine.core.movement.tracks import Track
from juxtakine.demo import lantern_quay
from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.look import Look
from juxtakine.demo.motion import Motion

FIRST_S = 2.0
GRID = Grid.from_tempo(FIRST_S, lantern_quay.BPM)
SHEET = lantern_quay.SHEET
ESTIMATED_FPS = 15
"""The product estimates every second frame at 30 a second."""
LEFT_HIP, RIGHT_HIP = 23, 24


def track_of(scene: Scene) -> Track:
    """The truth in the form that the estimator gives."""
    truth = scene.truth()
    n = len(truth.seconds)
    hips = truth.world[:, [LEFT_HIP, RIGHT_HIP]].mean(1, keepdims=True)
    views = [scene.camera.view(t, scene.seed) for t in truth.seconds]
    turned = np.stack([(w - h) @ v.r.T for v, w, h in zip(views, truth.world, hips, strict=True)])
    width, height = scene.camera.size
    return Track(
        truth.seconds, truth.image, turned, np.ones((n, 33)), np.ones(n, bool), np.ones(n, bool), width, height, "truth"
    )  # fmt: skip


def routine() -> Motion:
    return lantern_quay.routine(FIRST_S)


def danced(motion: Motion, body: str = "m", orbit_deg: float = 8, seed: int = 3) -> Features:
    camera = Camera(position=(0.1, 1.1, 4.3), look_at=(-0.15, 0.92, 0), orbit_deg=orbit_deg, fps=ESTIMATED_FPS)
    return features(clean(track_of(Scene(motion, Look(body=body), camera, None, seed))))


@cache
def reference() -> Features:
    return danced(routine(), body="f", orbit_deg=0, seed=5)


def compared(take: Features, grid: Grid = GRID, sheet: Sheet = SHEET) -> Comparison:
    return compare(reference(), take, sheet, GRID, CommonTime(grid, Method.SOUND, 1.0))


def mirrored(t: Track) -> Track:
    """As a flipped picture shows it, and with it what is taken for left."""
    order = np.array(SWAPPED)
    image, world = t.image[:, order] * [-1, 1] + [t.width, 0], t.world[:, order] * [-1, 1, 1]
    return replace(t, image=image, world=world, visibility=t.visibility[:, order])
