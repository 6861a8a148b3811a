"""Refused: two recordings that can't be compared, so that nothing is told of them that can't be defended."""

from collections.abc import Sequence

import numpy as np

from juxtakine.core.comparing.results import CountResult
from juxtakine.core.counting.grids import Grid
from juxtakine.core.movement.features import Features, seen
from juxtakine.core.movement.tracks import Bools, Floats

LEAST_SEEN = 0.5
"""Share of the sheet's stretch in which the person must be seen for anything to be said."""
ANOTHER_DANCE = 0.6
"""What is left between a take and a reference of which more is not the same dance, or not at these counts: of made-up
pairs the same dance leaves 0.26 at most, another one at least 1.1."""
TIMED = 0.4
"""Who is so unlike dances the routine all the same where one phrase has so large a share of its moves timed: of 120
other dances, or counts that lie elsewhere, a third at most; of 60 who stand from the middle on half or more in 57."""
STEP = 0.25
"""Counts between the moments at which somebody has to be seen."""
OTHERWISE = (
    "Where its counts lie, hardly anything that is seen in this take is the instructor's dance. If it is of this "
    "routine, say where count 1 is in it, or which one you are; if it is of another one, delete it."
)


class CompareError(ValueError):
    """Two recordings that can't be compared; the message is a sentence for the student."""


class AnotherDance(CompareError):
    """Somebody is seen in the take, who hardly does anything of what the reference shows."""


def check_seen(features: Features, grid: Grid, at: Floats, who: str, where: str) -> None:
    """Raises CompareError. Counts (k,) beyond the recording do not matter: a short take is measured as far as it
    goes."""
    if len(features.seconds) < 2:
        raise CompareError(f"Nobody was found in {where}. The whole body has to be in the picture.")
    stretch = np.arange(at[0], at[-1] + STEP, STEP)
    inside = stretch[inside_of(features, grid, stretch)]
    if not len(inside):
        raise CompareError(f"None of the sheet's counts lies inside {where}. Look where its count 1 is.")
    share = float((seen(features.at(grid.seconds(inside))).mean(1) > 0.5).mean())
    if share < LEAST_SEEN:
        raise CompareError(
            f"{who} can be seen in only {share:.0%} of the counts of {where}. "
            "Film again with the whole body in shot, in enough light."
        )


def check_alike(unlikeness: float, results: Sequence[CountResult]) -> None:
    """Raises AnotherDance. Who dances some of it, and then stands, is told so."""
    moves = [r for r in results if r.moves and r.count.timed and not (r.count.hold or r.count.goes_on)]
    phrases = {r.count.phrase for r in moves}
    timed = [[r.timing.error_ms is not None for r in moves if r.count.phrase == n] for n in phrases]
    # of who is unlike throughout nothing may be known to move
    if unlikeness > ANOTHER_DANCE and all(np.mean(phrase) < TIMED for phrase in timed):
        raise AnotherDance(OTHERWISE)


def inside_of(features: Features, grid: Grid, at: Floats) -> Bools:
    """(k,) which counts lie in the recording."""
    seconds = grid.seconds(at)
    return np.asarray((seconds >= features.seconds[0]) & (seconds <= features.seconds[-1]))
