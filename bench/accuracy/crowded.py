"""Faults that stand beside each other, where those of the table's pairs are well apart: up to three on a count and the
two after it, at most one of them of timing.

An arm that is off on a count that comes late, or before one that comes early, was taken for the timing's doing.
"""

import numpy as np

from accuracy.faults import PLANTS, Planted
from accuracy.pairs import pair
from accuracy.routines import Routine
from accuracy.score import Scores, scored
from accuracy.tracks import of_pair
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.results import Method
from juxtakine.demo.motion import Motion
from juxtakine.pipeline.comparison import Recording

TUNING, TABLE = 50_000, 52_501
GROUPS, MOST, AROUND = 3, 3, 3
"""Groups of a take, faults of a group, and the moves that it lies on."""
KINDS = ("late", "late", "limb", "limb", "level", "spread", "lean", "head", "facing")


def of_seed(seed: int, model: str, library_pairs: int) -> Scores:
    """The rows of what is found and what is told falsely, of the faults alone."""
    one = pair(seed, plant=planted)
    reference, take = (Recording(t).features for t in of_pair(one, model, library_pairs))
    given = CommonTime(one.take_grid, Method.SOUND, 1.0)
    told = scored(one, compare(reference, take, one.routine.sheet, one.reference_grid, given, one.sides))
    kept = ("late or early", "limb", "level", "spread", "torso", "head", "facing", "false", "faulty")
    scores = Scores(misses=[f"crowded {m}" for m in told.misses])
    for key in [k for k in told.hits if k.startswith(kept)]:
        scores.hits[f"crowded: {key}"] += told.hits[key]
    return scores


def planted(motion: Motion, danced: Routine, random: np.random.Generator) -> tuple[Motion, tuple[Planted, ...]]:
    """Of a group no two of one part, and one of timing: nobody hurries into the count after a late one."""
    out: list[Planted] = []
    for _ in range(GROUPS):
        first, group = int(random.integers(2, len(danced.moves) - AROUND)), list[Planted]()
        if any(q.covers(danced.moves[first], AROUND + 2, AROUND + 2) for q in out):
            continue
        kinds = random.choice(KINDS, int(random.integers(1, MOST + 1)))
        for kind in sorted(kinds.tolist(), key=lambda k: k == "late"):  # at last: all that is done there comes late
            at = float(danced.moves[first + int(random.integers(AROUND))])
            made = PLANTS[kind](motion, danced, at, random)
            if made and all(made[1].part != q.part for q in group):
                motion = made[0]
                group.append(made[1])
        out += group
    return motion, tuple(sorted(out, key=lambda p: p.start))
