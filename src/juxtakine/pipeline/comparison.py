"""From two recordings, a sheet and a grid to a comparison."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.comparing.common_time import match_sounds
from juxtakine.core.comparing.compare import CommonTime, CompareError, compare
from juxtakine.core.comparing.results import Comparison, Method
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import Features, features
from juxtakine.core.movement.tracks import Track
from juxtakine.media.sound import RATE

LEAST_CERTAINTY = 0.5


class NoCommonTime(CompareError):
    """The sounds say nothing: somebody has to say where count 1 is in the take."""


@dataclass(frozen=True)
class Recording:
    """One dancer's track, and the clip's sound from `start_s` on, where it has any."""

    track: Track
    sound: NDArray[np.float32] | None = None
    start_s: float = 0.0

    def features(self) -> Features:
        return features(clean(self.track))


def common_time(reference: Recording, take: Recording, grid: Grid, take_grid: Grid | None) -> CommonTime:
    """Where the take's counts lie: as said by hand, or by the music. Raises NoCommonTime."""
    if take_grid is not None:
        return CommonTime(take_grid, Method.MANUAL, 1.0)
    if reference.sound is None or take.sound is None:
        silent = "The instructor's clip" if reference.sound is None else "Your take"
        raise NoCommonTime(f"{silent} has no sound to find the music by. Say where count 1 is in the take.")
    match = match_sounds(reference.sound, take.sound, RATE)
    if match.certainty < LEAST_CERTAINTY:
        raise NoCommonTime(
            "The reference's music can't be heard in the take, or at another tempo. Say where count 1 is in the take."
        )
    return CommonTime(grid.shifted(match.offset_s + take.start_s - reference.start_s), Method.SOUND, match.certainty)


def compared(
    reference: Recording, take: Recording, sheet: Sheet, grid: Grid, take_grid: Grid | None = None
) -> Comparison:
    """The whole way. Raises CompareError, SheetError."""
    return compared_at(reference, take, sheet, grid, common_time(reference, take, grid, take_grid))


def compared_at(reference: Recording, take: Recording, sheet: Sheet, grid: Grid, common: CommonTime) -> Comparison:
    """The rest of the way, where the common time is known. Raises CompareError, SheetError."""
    return compare(reference.features(), take.features(), sheet, grid, common)
