"""Movements made of smooth random limbs: cheap, and of all that is in them the truth is known."""

from dataclasses import replace

import numpy as np
from scipy.ndimage import gaussian_filter1d
from scipy.spatial.transform import Rotation

from juxtakine.core.counting.grids import Grid
from juxtakine.core.movement.cleaning import RATE
from juxtakine.core.movement.features import LIMBS, Features

LASTS_S = 24.0
GRID = Grid.from_tempo(2.0, 110)
COUNTS = np.arange(4.0, 28.0)
ARMS = [i for i, part in enumerate(LIMBS) if part.endswith("arm")]


def danced(seed: int = 1) -> Features:
    """Each limb swings about its own direction and arrives on each count; all of it is seen, with a little noise."""
    random = np.random.default_rng(seed)
    seconds = np.arange(0, LASTS_S, 1 / RATE)
    keys = random.normal(0, 1, (60, len(LIMBS), 3)) + random.normal(0, 1.2, (len(LIMBS), 3))
    at = np.clip(np.floor(GRID.count(seconds) + 0.5), 0, 59).astype(int)
    vectors = gaussian_filter1d(keys[at], 0.09 * RATE, axis=0)
    vectors /= np.linalg.norm(vectors, axis=2, keepdims=True)
    n = len(seconds)
    return Features(
        seconds, vectors, np.tile([0.02, 0.1], (n, len(LIMBS), 1)), np.tile([0.3, 0.0, 0.05], (n, 1)),
        np.full(n, 0.95), np.zeros(n), np.zeros(n), np.zeros(n, np.int64),
    )  # fmt: skip


def noisy(f: Features, seed: int = 5, size: float = 0.015) -> Features:
    return replace(f, vectors=f.vectors + np.random.default_rng(seed).normal(0, size, f.vectors.shape))


def later(f: Features, lag_s: float) -> Features:
    """The same, with everything done so much later."""
    moved = f.at(np.clip(f.seconds - lag_s, f.seconds[0], f.seconds[-1]))
    return replace(moved, seconds=f.seconds)


def turned(f: Features, degrees: float) -> Features:
    turn = Rotation.from_euler("y", degrees, degrees=True)
    return replace(f, vectors=turn.apply(f.vectors.reshape(-1, 3)).reshape(f.vectors.shape), feet=turn.apply(f.feet))
