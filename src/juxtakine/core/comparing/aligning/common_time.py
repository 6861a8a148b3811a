"""Common time: where the sheet's counts lie in a take, settled between what the sound and what the movement say."""

from dataclasses import dataclass

from juxtakine.core.comparing.results import Method
from juxtakine.core.counting.grids import Grid

SURE_SOUND = 0.95
FAR_COUNTS = 3.0
"""Sound that is so sure is believed though the movement fits better some counts away: that is a student off the music.
Where it fits more counts away than these, and as surely, something else was taken for the music (in two of 125 takes in
which nothing is heard but talk)."""
LEAST_CERTAINTY, SUREST = 0.5, 0.999
"""Below even odds nothing is believed; beyond a thousand to one nothing is sure where it is contradicted."""


@dataclass(frozen=True)
class CommonTime:
    """Where the take's counts lie, and how that is known. `certainty` 0 to 1."""

    grid: Grid
    method: Method
    certainty: float


def settled(sound: list[CommonTime], movement: CommonTime | None, middle: float) -> CommonTime | None:
    """One of the places that the sound tells, likeliest first, or the one that the movement tells; None where nobody
    knows.

    A musical phrase repeats: of the places of the sound, the one that the movement agrees with (within half a count at
    the count `middle`) is believed. Where none agrees, the surer of both is, less sure by the other's word against it:
    a metronome that both recorded at two tempi fits somewhere, and is no match for a movement that fits nowhere else.
    """
    if sound and sound[0].certainty >= SURE_SOUND and not _refuted(sound[0], movement, middle):
        return sound[0]
    if movement is None:
        return next((s for s in sound if s.certainty >= LEAST_CERTAINTY), None)
    agreeing = next((s for s in sound if _same(s.grid, movement.grid, middle)), None)
    if agreeing is not None:
        doubt = (1 - agreeing.certainty) * (1 - movement.certainty)
        best = CommonTime(agreeing.grid, agreeing.method, 1 - doubt)
    else:
        first, other = sorted((movement, *sound[:1]), key=lambda c: -c.certainty)[:2] if sound else (movement, None)
        best = CommonTime(first.grid, first.method, _against(first.certainty, other.certainty if other else 0.0))
    return best if best.certainty >= LEAST_CERTAINTY else None


def _against(one: float, other: float) -> float:
    """How sure one is that another contradicts: the chance that it is right and the other is wrong, and, where that is
    all but certain, of all that can be, as not both are right (Bayes)."""
    alone = one * (1 - other)
    one, other = min(one, SUREST), min(other, SUREST)
    of_all = one * (1 - other) / (1 - one * other)
    return of_all if of_all >= SURE_SOUND else alone


def _refuted(sound: CommonTime, movement: CommonTime | None, middle: float) -> bool:
    if movement is None or movement.certainty < SURE_SOUND:
        return False
    return _apart(sound.grid, movement.grid, middle) > FAR_COUNTS


def _same(a: Grid, b: Grid, middle: float) -> bool:
    return _apart(a, b, middle) < 0.5


def _apart(a: Grid, b: Grid, middle: float) -> float:
    """By how many counts."""
    return abs(float(a.seconds(middle) - b.seconds(middle))) / float(b.count_length(middle))
