"""Tracks of a pair: from video with the real estimator, or the truth with the estimator's real errors replayed on it.

Replaying: what the estimator got wrong on filmed pairs is kept beside the pose that it was wrong on. A new track takes,
half a second at a time, the errors that belonged to the most similar poses (joint directions as the camera sees them).
Left and right that were exchanged are exchanged again: how far apart they were is the pose's, and no error of its own.
"""

import os
from dataclasses import dataclass
from functools import cache
from itertools import pairwise

import numpy as np
from scipy.spatial import cKDTree

from accuracy.films import CACHE, filmed
from accuracy.pairs import Pair, pair
from juxtakine.core.movement.body import SEGMENTS, SWAPPED, along
from juxtakine.core.movement.cleaning import LIMBS
from juxtakine.core.movement.tracks import Bools, Floats, Track
from juxtakine.demo import lantern_quay
from juxtakine.demo.film import Scene
from juxtakine.demo.lantern_quay import TAKES
from juxtakine.demo.load import TRACKS
from juxtakine.media.track_file import load_track, save_track
from juxtakine.media.tracking import picked_frames

LIBRARY = (*range(0, 20, 2), 172, 36, 24, 98, 184, 174, 20, 132)
"""Filmed pairs for tuning whose errors are replayed: some of all kinds, then those of the first hundred whose dancers
stand sideways the longest, as hidden arms are what the estimator gets wrong the most."""
BLOCK = 8
FADE = 2
NEAREST = 4
EXCHANGED, LEAST = 0.6, 0.08
"""Arms or legs were exchanged where that leaves so small a share of their error, which was at least so large, in torso
lengths."""


def exact(scene: Scene, name: str) -> Track:
    """The truth in the estimator's form, at the frames that are estimated."""
    file = CACHE / "exact" / f"{name}.npz"
    if not file.exists():
        file.parent.mkdir(parents=True, exist_ok=True)
        aside = file.with_suffix(f".{os.getpid()}.npz")
        save_track(_exact(scene), aside)
        aside.rename(file)
    return load_track(file)


def _exact(scene: Scene) -> Track:
    return exact_at(scene, scene.times)


def exact_at(scene: Scene, meant_s: Floats) -> Track:
    """The truth in the estimator's form, where at each frame is danced what is meant for these seconds (n,)."""
    picked = picked_frames(scene.times)
    truth = scene.truth(meant_s[picked])
    hips = truth.world[:, [23, 24]].mean(1, keepdims=True)
    turned = np.stack(
        [
            (w - h) @ scene.camera.view(t, scene.seed).r.T
            for t, w, h in zip(truth.seconds, truth.world, hips, strict=True)
        ]
    )
    n, (width, height) = len(truth.seconds), scene.camera.size
    return Track(scene.times[picked], truth.image, turned, np.ones((n, 33)), np.ones(n, bool), np.ones(n, bool),
                 width, height, "truth")  # fmt: skip


@dataclass(frozen=True)
class Errors:
    """(n, F) descriptions of poses; (n, 33, 2) errors in torso lengths, (n, 33, 3) in metres, (n, 33) visibility and
    whether it was exchanged with the other side's."""

    poses: Floats
    image: Floats
    world: Floats
    visibility: Floats
    exchanged: Bools
    starts: Floats
    model: str


def described(t: Track) -> Floats:
    """(n, F) directions of the segments as the camera sees them, depth included."""
    ways = (along(t.world, part) for part in SEGMENTS)
    out = [v / np.linalg.norm(v, axis=1, keepdims=True) for v in ways]
    across = t.world[:, 11] - t.world[:, 12]
    return np.concatenate([*out, 2 * across / np.linalg.norm(across, axis=1, keepdims=True)], axis=1)


def torso_px(t: Track) -> float:
    return float(np.percentile(np.linalg.norm(t.image[:, 11:13].mean(1) - t.image[:, 23:25].mean(1), axis=1), 75))


def clips(model: str, pairs: int) -> list[tuple[Track, Track]]:
    """The truth and what was found: of the demo's clips, where that model tracked them, and of so many filmed pairs
    for tuning."""
    scenes = [("demo-reference", lantern_quay.reference_scene(), load_track(TRACKS / "reference.npz"))]
    scenes += [(f"demo-{p.name}", lantern_quay.take_scene(p), load_track(TRACKS / f"{p.name}.npz")) for p in TAKES]
    scenes = [s for s in scenes if s[2].model == model]
    for one in map(pair, LIBRARY[:pairs]):
        named = ((f"{one.seed}-reference", one.reference), (f"{one.seed}-take", one.take))
        scenes += [(name, scene, filmed(scene, name, model)) for name, scene in named]
    return [(exact(scene, name), found) for name, scene, found in scenes]


@cache
def library(model: str, pairs: int) -> Errors:
    """What the estimator got wrong on these clips."""
    rows = [_errors(truth, found) for truth, found in clips(model, pairs)]
    arrays = [np.concatenate(a) for a in zip(*rows, strict=True)]
    lengths = np.cumsum([0, *(len(r[0]) for r in rows)])
    starts = np.concatenate([np.arange(a, b - BLOCK) for a, b in pairwise(lengths)])
    return Errors(*arrays, starts, model)


def _errors(truth: Track, found: Track) -> tuple[Floats, Floats, Floats, Floats, Bools]:
    rows = np.searchsorted(found.seconds, truth.seconds - 1e-4)
    exchanged = _exchanged(found.image[rows], truth.image, torso_px(truth))
    shown, in_space, visibility = (swapped(v[rows], exchanged) for v in (found.image, found.world, found.visibility))
    image, world = (shown - truth.image) / torso_px(truth), in_space - truth.world
    # what is constant over a clip is the body's and stays so: in blocks from several clips it would be noise
    image, world = (e - np.nanmedian(e, axis=0) for e in (image, world))
    return described(truth), image, world, visibility, exchanged


def _exchanged(found: Floats, truth: Floats, torso: float) -> Bools:
    """(n, 33) which landmarks were taken for the other side's."""
    out = np.zeros(found.shape[:2], bool)
    for marks in map(list, LIMBS):
        other = [SWAPPED[k] for k in marks]
        as_told, as_exchanged = (np.linalg.norm(found[:, k] - truth[:, marks], axis=2).mean(1) for k in (marks, other))
        out[:, marks] = ((as_exchanged < EXCHANGED * as_told) & (as_told > LEAST * torso))[:, None]
    return out


def swapped(values: Floats, which: Bools) -> Floats:
    """(n, 33, ...) with left and right exchanged of (n, 33) some landmarks."""
    return np.where(which.reshape(*which.shape, *(1,) * (values.ndim - 2)), values[:, list(SWAPPED)], values)


def replayed(t: Track, errors: Errors, seed: int) -> Track:
    """The exact track with the estimator's errors on it."""
    random = np.random.default_rng(seed)
    probe = [0, BLOCK // 2, BLOCK - 1]
    known = np.concatenate([errors.poses[errors.starts + k] for k in probe], axis=1)
    tree = cKDTree(known)
    poses = described(t)
    n = len(poses)
    kept = errors.image, errors.world, errors.visibility, errors.exchanged
    image, world, visibility, exchanged = (np.zeros((n, *a.shape[1:])) for a in kept)
    total = np.zeros(n)
    for first in range(0, n, BLOCK - FADE):
        rows = np.minimum(first + np.arange(BLOCK), n - 1)
        wanted = np.concatenate([poses[rows[k]] for k in probe])
        near = tree.query(wanted, NEAREST)[1]
        start = int(errors.starts[random.choice(near)])
        for k in range(min(BLOCK, n - first)):
            w = min(1.0, (k + 1) / (FADE + 1), (BLOCK - k) / (FADE + 1))
            for out, source in zip((image, world, visibility, exchanged), kept, strict=True):
                out[first + k] += w * source[start + k]
            total[first + k] += w
    image, world, visibility, exchanged = (
        a / total.reshape(-1, *(1,) * (a.ndim - 1)) for a in (image, world, visibility, exchanged)
    )
    found = np.isfinite(image[:, 0, 0])  # where nobody was found, nobody is
    made = t.image + image * torso_px(t), t.world + world, np.clip(visibility, 0, 1)
    return Track(
        t.seconds, *(swapped(v, exchanged > 0.5) for v in made), found, t.estimated, t.width, t.height,
        f"replayed {errors.model}",
    )  # fmt: skip


def flipped(t: Track) -> Track:
    """As a selfie camera shows it, or the other way round as somebody dances it: the picture flipped, and with it what
    is taken for left."""
    order = np.array(SWAPPED)
    image, world = t.image[:, order] * [-1, 1] + [t.width, 0], t.world[:, order] * [-1, 1, 1]
    return Track(
        t.seconds, image, world, t.visibility[:, order], t.followed, t.estimated, t.width, t.height, t.estimator
    )


def of_pair(one: Pair, model: str, library_pairs: int | None = None) -> tuple[Track, Track]:
    """The instructor's track and the student's: filmed, or with errors from a library of the demo and so many pairs."""
    names = f"{one.seed}-reference", f"{one.seed}-take"
    scenes = one.reference, one.take
    if library_pairs is not None:
        truths = [exact(s, n) for s, n in zip(scenes, names, strict=True)]
        shown, done = (replayed(t, library(model, library_pairs), one.seed + k) for k, t in enumerate(truths))
    else:
        shown, done = filmed(scenes[0], names[0], model), filmed(scenes[1], names[1], model, one.film)
    if one.sides.reference:
        return flipped(shown), done
    return shown, flipped(done) if one.conditions.mirrored else done
