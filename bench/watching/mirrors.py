"""How rightly it is told whether an instructor dances mirrored: by cues that name a side, from the back, and by another
clip of the same dance that is seen from the back. Made-up pairs with the estimator's errors replayed on them."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from accuracy.pairs import Pair, pair
from accuracy.tracks import flipped, of_pair
from juxtakine.core.comparing.aligning.sides import mirror_images
from juxtakine.core.counting.sheets import Mark, Sheet, expand
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import Features, features
from juxtakine.core.watching.mirrored import Beside, Sides, sides

SURE = 0.9
MORE_DEG = 60.0
"""By how much farther one arm has to go than the other, so that a teacher names it."""
CUES = 3
"""A phrase, at most: teachers name a side here and there."""


@dataclass(frozen=True)
class Told:
    """`right` is None where nothing was proposed."""

    evidence: str
    right: bool | None
    sure: bool


def told_of(seed: int, model: str) -> list[Told]:
    return list(_told_of(seed, model))


def _told_of(seed: int, model: str) -> Iterator[Told]:
    one = pair(seed)
    tracks = of_pair(one, model, 0)
    reference = features(clean(tracks[0]))
    if one.conditions.behind:
        yield _told("from the back", sides(reference), mirrored=False)
        yield from _beside(one, reference, features(clean(tracks[1])))
        return
    cued, already = _cued(one), one.sides.reference is True
    for mirrored in (False, True):
        seen = features(clean(flipped(tracks[0]) if mirrored != already else tracks[0]))
        yield _told("nothing that tells", sides(seen, one.routine.sheet, one.reference_grid), mirrored)
        if any(m.cue for p in cued.phrases for m in p.marks):
            yield _told("cues", sides(seen, cued, one.reference_grid), mirrored)


def _beside(one: Pair, back: Features, front: Features) -> Iterator[Told]:
    """The take stands for a clip of the instructor from the front."""
    counts = np.array([float(c.at) for c in expand(one.routine.sheet)])
    by_view = sides(back)
    if by_view.mirrored is None or one.routine.symmetrical:
        return
    for mirrored in (False, True):
        seen = front.mirrored if mirrored != one.conditions.mirrored else front
        images, certainty = mirror_images(back, seen, one.reference_grid, one.take_grid, counts)
        if images is None:
            yield Told("another clip", None, False)
            continue
        chance = certainty if images else 1 - certainty
        beside = Beside(1 - by_view.certainty, by_view.why, min(max(chance, 0.02), 0.98))
        yield _told("another clip", sides(seen, beside=[beside]), mirrored)


def _told(evidence: str, said: Sides, mirrored: bool) -> Told:
    right = None if said.mirrored is None else said.mirrored is mirrored
    return Told(evidence, right, said.mirrored is not None and said.certainty >= SURE)


def _cued(one: Pair) -> Sheet:
    """The sheet with the arm or leg named that alone moves, or moves much farther."""
    random, motion = np.random.default_rng(one.seed), one.routine.build(0.0)
    before: dict[str, float] = {}
    names: dict[float, str] = {}
    for key in motion.keys:
        ways = {s: abs(key.channels.get(f"{s}_elev", 0) - before.get(f"{s}_elev", 10)) for s in "lr"}
        kick = next((s for s in "lr" if key.channels.get(f"{s}_legw")), None)
        before |= key.channels
        if kick:
            names[key.count] = f"{'left' if kick == 'l' else 'right'} kick"
        elif "l_elev" in key.channels and abs(ways["l"] - ways["r"]) > MORE_DEG:
            names[key.count] = f"{'left' if ways['l'] > ways['r'] else 'right'} arm"
    phrases = []
    for phrase, start in zip(one.routine.sheet.phrases, one.routine.sheet.starts(), strict=True):
        there = [c for c in expand(Sheet("", (phrase,))) if float(start + c.at) in names]
        chosen = random.permutation(len(there))[:CUES]
        marks = tuple(Mark(there[k].label, names[float(start + there[k].at)]) for k in sorted(chosen))
        phrases.append(replace(phrase, marks=marks))
    return replace(one.routine.sheet, phrases=tuple(phrases))
