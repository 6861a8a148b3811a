"""What no pair of the table does: dancers who travel, turn to every wall, bend, crouch, mark with small movements, spin
quickly; and students who go on whole counts away from the music.

Each showed a cause that was mended on even seeds: who comes nearer grew, spins were taken for exchanged sides, small
moves were timed too surely, another body's proportions were taken to stay in the picture as it turned.
"""

from dataclasses import replace

import numpy as np

from accuracy.faults import Planted
from accuracy.pairs import Pair, pair
from accuracy.routines import unusual
from accuracy.score import Scores, all_findings, scored
from accuracy.tracks import of_pair
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.results import Comparison, FindingKind, Method
from juxtakine.core.telling.findings import said
from juxtakine.pipeline.comparison import Recording

TUNING, TABLE = 30_000, 32_017
"""Where the seeds begin; who is off counts has those from SLIPS on after them."""
SLIPS = 5_000
BY = (-1, 1, 1, 2)
HURRIED = 3
"""Counts around the slip in which whatever is told may be so: a step left out is missing, and others are hurried."""


def of_seed(seed: int, model: str, library_pairs: int) -> Scores:
    one = pair(seed, unusual(seed // 2))
    told = scored(one, _compared(one, model, library_pairs))
    scores = Scores()
    for key in [k for k in told.hits if k.startswith(("false", "nothing", "measured", "timing"))]:
        scores.hits[f"{one.routine.kind}: {key}"] += told.hits[key]
    for key in [k for k in told.values if k.startswith("timing")]:
        scores.values[f"{one.routine.kind}: timing error"] += told.values[key]
    scores.misses += [m for m in told.misses if "false" in m]
    return scores


def off_counts(seed: int, model: str, library_pairs: int) -> Scores:
    """A clean take that from a count on, or from the first, is danced whole counts later or sooner."""
    random = np.random.default_rng(seed)
    one = pair(seed + SLIPS)
    meant = one.routine.build(one.take.motion.first_s, one.conditions.tempo)
    by, first = int(random.choice(BY)), float(random.choice([0.0, *one.routine.moves[8:-8]]))
    by = abs(by) if first == 0 else by
    late_s = by * 60 / meant.bpm
    keys = tuple(replace(k, late_s=k.late_s + late_s) if k.count >= first else k for k in meant.keys)
    planted = (Planted("slip", first, one.routine.moves[-1], 1000 * late_s),)
    done = replace(meant, keys=keys).inexact(seed)
    one = replace(one, take=replace(one.take, motion=done), planted=planted)
    told = _compared(one, model, library_pairs)
    slips = [f for f in all_findings(told) if f.sure and f.kind is FindingKind.SLIP]
    right = [f for f in slips if 0 <= f.start - first <= HURRIED - 1 and abs(f.size - 1000 * late_s) < 100]
    others = [f for f in all_findings(told) if f.sure and f not in slips and not abs(f.start - first) <= HURRIED]
    scores = Scores()
    scores.hits["whole counts off: told as that, from there"].append(len(right) == 1 == len(slips))
    scores.hits["whole counts off: anything else told"].append(bool(others))
    if others or not right:
        told_as = [said(f, told.counts) for f in slips], [f"{float(f.start):g} {said(f, told.counts)}" for f in others]
        scores.misses.append(f"{seed + SLIPS} {one.routine.kind} by {by} from {first:g} told {told_as}")
    return scores


def _compared(one: Pair, model: str, library_pairs: int) -> Comparison:
    reference, take = (Recording(t).features for t in of_pair(one, model, library_pairs))
    given = CommonTime(one.take_grid, Method.SOUND, 1.0)
    return compare(reference, take, one.routine.sheet, one.reference_grid, given, one.sides)
