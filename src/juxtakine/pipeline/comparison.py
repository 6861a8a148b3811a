"""From two recordings, a sheet and a grid to a comparison."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.comparing import sides
from juxtakine.core.comparing.common_movement import match_movements
from juxtakine.core.comparing.common_time import match_sounds
from juxtakine.core.comparing.compare import CommonTime, CompareError, compare
from juxtakine.core.comparing.results import Comparison, Method
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet, expand
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import Features, features
from juxtakine.core.movement.tracks import Track
from juxtakine.media.sound import RATE

LEAST_CERTAINTY = 0.5
SAY_WHERE = "Say where count 1 is in the take."


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


class Align(StrEnum):
    """By what the common time is to be found; AUTO takes the sound, and the movement where that says nothing."""

    AUTO = "auto"
    SOUND = "sound"
    MOVEMENT = "movement"


@dataclass(frozen=True)
class Said:
    """What a person says of the two clips, where they do: the take's grid, by what to align, what is mirrored."""

    take_grid: Grid | None = None
    align: Align = Align.AUTO
    mirror: sides.Said = sides.Said.AUTO


def compared(reference: Recording, take: Recording, sheet: Sheet, grid: Grid, said: Said = Said()) -> Comparison:
    """The whole way. Raises CompareError, SheetError."""
    danced, own = reference.features(), take.features()
    common = _by_hand_or_sound(reference, take, grid, said)
    if common is None:
        common = _by_movement(danced, own, sheet, grid)
    return compare(danced, own, sheet, grid, common, said.mirror)


def _by_hand_or_sound(reference: Recording, take: Recording, grid: Grid, said: Said) -> CommonTime | None:
    """None where neither tells, and movement may."""
    if said.take_grid is not None:
        return CommonTime(said.take_grid, Method.MANUAL, 1.0)
    if said.align is Align.MOVEMENT:
        return None
    if reference.sound is None or take.sound is None:
        silent = "The instructor's clip" if reference.sound is None else "Your take"
        reason = f"{silent} has no sound to find the music by."
    else:
        match = match_sounds(reference.sound, take.sound, RATE)
        if match.certainty >= LEAST_CERTAINTY:
            shift = match.offset_s + take.start_s - reference.start_s
            return CommonTime(grid.shifted(shift), Method.SOUND, match.certainty)
        reason = "The reference's music can't be heard in the take, or at another tempo."
    if said.align is Align.SOUND:
        raise NoCommonTime(f"{reason} {SAY_WHERE}")
    return None


def _by_movement(reference: Features, take: Features, sheet: Sheet, grid: Grid) -> CommonTime:
    counts = np.array([float(c.at) for c in expand(sheet)])
    match = match_movements(reference, take, grid, counts)
    if match is None or match.certainty < LEAST_CERTAINTY:
        raise NoCommonTime(f"Neither the music nor the movement tells where the dance begins in the take. {SAY_WHERE}")
    return CommonTime(match.grid, Method.MOVEMENT, match.certainty)
