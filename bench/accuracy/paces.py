"""Takes of which a stretch is danced at another pace than the counts, laid by hand: a slower or quicker one, or a pair
of counts put in or left out. The one cause is told, and no position of what is danced elsewhere.
"""

from dataclasses import replace

import numpy as np

from accuracy.pairs import pair
from accuracy.score import Scores, all_findings
from accuracy.tracks import exact, exact_at, flipped, library, replayed
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.results import FindingKind, Method, Unit
from juxtakine.core.telling.findings import said
from juxtakine.pipeline.comparison import Recording

TUNING, TABLE = 70_000, 70_001
STRETCH, PAIR = (6.0, 12.0), 2.0
PACES = (0.6, 0.7, 1.35, 1.5)
CAUSES = {FindingKind.PACE, FindingKind.SLIP, FindingKind.DRIFT, FindingKind.MISSING}


def of_seed(seed: int, model: str, library_pairs: int) -> Scores:
    random = np.random.default_rng(seed)
    one = pair(seed, plant=lambda motion, danced, random: (motion, ()))
    grid, count_s = one.take_grid, float(one.take_grid.count_length(0.0))
    begins, lasts = float(random.integers(6, 16)), float(random.uniform(*STRETCH))
    is_pace = seed // 2 % 3 != 0
    share = float(random.choice(PACES))
    # counts by which all that follows is later
    later = lasts / share - lasts if is_pace else PAIR * float(random.choice([-1, 1]))
    ends = begins + (lasts if is_pace else 0.5)
    meant = np.array([-50.0, begins, ends, 200.0])
    done = meant + np.array([0.0, 0.0, later, later])
    done[2] = max(done[2], done[1] + 0.05)
    # long enough to see the end of it
    motion = one.take.motion
    longer = replace(
        one.take, motion=motion.key((motion.end_s - motion.first_s) / count_s + max(later, 0.0), 0.1, x=0.0)
    )
    times = longer.times
    counts = np.interp(grid.count(times), done, meant)
    errors = library(model, library_pairs)
    shown = replayed(exact(one.reference, f"{seed}-reference"), errors, seed)
    took = replayed(exact_at(longer, np.asarray(grid.seconds(counts))), errors, seed + 1)
    took = flipped(took) if one.conditions.mirrored else took
    told = compare(*(Recording(t).features for t in (shown, took)), one.routine.sheet, one.reference_grid,
                   CommonTime(grid, Method.MANUAL, 1.0), one.sides)  # fmt: skip
    kind = "a stretch at another pace" if is_pace else "two counts put in or left out"
    found = [f for f in all_findings(told) if f.sure]
    scores, near = Scores(), (begins - 2.0, ends + 2.0)
    causes = [f for f in found if f.kind in CAUSES]
    scores.hits[f"{kind}: told as one cause, where it is"].append(
        len(causes) == 1 and near[0] <= float(causes[0].start) <= near[1]
    )
    false = {float(f.start) for f in found if f.kind not in CAUSES and f.unit is not Unit.MILLISECONDS}
    scores.hits[f"{kind}: falsely something else on a count"] += [float(c.count.at) in false for c in told.counts]
    what = f"pace {seed} {one.routine.kind} {share if is_pace else later:g} from {begins:g} for {lasts:.1f}"
    scores.misses.append(f"{what}: {[f'{float(f.start):g} {said(f, told.counts)}' for f in found]}")
    return scores
