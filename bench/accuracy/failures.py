"""What estimators get grossly wrong, put on tracks of which the truth is known, all of it vouched for as well visible:
left and right exchanged for a stretch, somebody else followed, single points that leap away; and frames in which nobody
is found. Told is how much of it is still believed after cleaning, and what a comparison makes of such a take.
"""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from accuracy.pairs import pair
from accuracy.people import LIMB_ENDS
from accuracy.score import Scores, scored
from accuracy.tracks import of_pair, torso_px
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.results import Method
from juxtakine.core.movement.body import SWAPPED
from juxtakine.core.movement.cleaning import LIMBS, clean
from juxtakine.core.movement.tracks import Bools, Track
from juxtakine.pipeline.comparison import Recording

EVERY_S = 8.0
"""One of each kind of stretch in so many seconds."""
LASTS_S = {"exchanged": (0.4, 2.0), "somebody else": (0.3, 1.5), "lost": (0.1, 0.6)}
APART_S = 0.7
LEAPS = 0.004
"""Share of the points of the limbs that leap away in a frame."""
BESIDE = (1.5, 3.0)
FAR = (0.6, 1.5)
"""How far somebody else stands and points leap, in torso lengths."""
VOUCHED = 0.95
WRONG = 0.3
"""A landmark is wrong from here on, in torso lengths."""
Rows = NDArray[np.int64]


def of_seed(seed: int, model: str, library_pairs: int) -> Scores:
    one = pair(seed)
    reference, take = of_pair(one, model, library_pairs)
    worse, where = broken(take, reference, seed)
    scores = Scores()
    told, right = (clean(t) for t in (worse, take))
    at = np.searchsorted(told.seconds, take.seconds).clip(0, len(told.seconds) - 1)
    off, was = (
        np.linalg.norm(a - b, axis=2) / torso_px(take)
        for a, b in ((told.image[at], right.image[at]), (worse.image, take.image))
    )
    for kind, planted in where.items():
        there = planted & (was > WRONG) & right.seen[at]
        scores.hits[f"failures, {kind}: still believed"] += (off[there] > WRONG).tolist()
        scores.hits[f"failures, {kind}: put right"] += (off[there] <= WRONG).tolist()
    given = CommonTime(one.take_grid, Method.SOUND, 1.0)
    features = [Recording(t).features for t in (reference, worse)]
    found = scored(one, compare(*features, one.routine.sheet, one.reference_grid, given, one.sides))
    for key in [k for k in found.hits if k.startswith(("false", "measured", "nothing"))]:
        scores.hits[f"failures: {key}"] += found.hits[key]
    for key in [k for k in found.values if k.startswith("timing")]:
        scores.values[f"failures: {key}"] += found.values[key]
    return scores


def broken(t: Track, other: Track, seed: int) -> tuple[Track, dict[str, Bools]]:
    """A take with failures, and by kind the (n, 33) landmarks that are told wrongly."""
    random = np.random.default_rng(seed)
    image, world, visibility, followed = (a.copy() for a in (t.image, t.world, t.visibility, t.followed))
    where = {kind: np.zeros(visibility.shape, bool) for kind in ("exchanged", "somebody else", "leaping")}
    free = np.ones(len(t.seconds), bool)
    for kind in list(LASTS_S) * max(1, round((t.seconds[-1] - t.seconds[0]) / EVERY_S)):
        rows = _stretch(t, free, float(random.uniform(*LASTS_S[kind])), random)
        if not len(rows):
            continue
        if kind == "lost":
            followed[rows] = False
            continue
        if kind == "exchanged":
            marks = np.concatenate([LIMBS[k] for k in ((0,), (1,), (0, 1))[int(random.integers(3))]])
            for told in (image, world):
                told[np.ix_(rows, marks)] = told[np.ix_(rows, np.array(SWAPPED)[marks])]
        else:
            marks, there = np.arange(33), (rows + len(rows) + 40) % len(other.seconds)
            beside = float(random.choice([-1, 1]) * random.uniform(*BESIDE)) * torso_px(t)
            place = np.nanmean(image[rows[0], 23:25], axis=0) - np.nanmean(other.image[there[0], 23:25], axis=0)
            image[rows], world[rows] = other.image[there] + place + [beside, 0], other.world[there]
        visibility[np.ix_(rows, marks)] = VOUCHED
        where[kind][np.ix_(rows, marks)] = True
    leaping = (random.random(visibility.shape) < LEAPS) & free[:, None]
    leaping[:, [m for m in range(33) if m not in LIMB_ENDS]] = False
    ways = random.uniform(0, 2 * np.pi, leaping.sum())
    far = random.uniform(*FAR, leaping.sum())[:, None] * torso_px(t)
    image[leaping] += far * np.column_stack([np.cos(ways), np.sin(ways)])
    visibility[leaping] = VOUCHED
    where["leaping"] = leaping
    return replace(t, image=image, world=world, visibility=visibility, followed=followed), where


def _stretch(t: Track, free: Bools, lasts_s: float, random: np.random.Generator) -> Rows:
    """Rows of a stretch well apart from all before it, which are then no longer free; none where all is full."""
    starts = [
        s for s in t.seconds if t.seconds[0] + 1 < s < t.seconds[-1] - lasts_s - 1
        and free[(t.seconds > s - APART_S) & (t.seconds < s + lasts_s + APART_S)].all()
    ]  # fmt: skip
    if not starts:
        return np.empty(0, np.int64)
    start = float(random.choice(starts))
    rows = np.flatnonzero((t.seconds >= start) & (t.seconds < start + lasts_s))
    free[rows] = False
    return rows
