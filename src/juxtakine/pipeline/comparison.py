"""From two recordings, a sheet and a grid to a comparison."""

from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.comparing.aligning.common_movement import match_movements
from juxtakine.core.comparing.aligning.common_sound import match_sounds
from juxtakine.core.comparing.aligning.common_time import CommonTime, settled
from juxtakine.core.comparing.aligning.sides import UNSAID, KnownSides
from juxtakine.core.comparing.compare import measure
from juxtakine.core.comparing.explaining.explained import explained
from juxtakine.core.comparing.explaining.measured import Measured
from juxtakine.core.comparing.refused import CompareError
from juxtakine.core.comparing.results import Comparison, Method
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet, expand
from juxtakine.core.movement.cleaning import Movement, clean
from juxtakine.core.movement.features import Features, Span, features
from juxtakine.core.movement.tracks import Track
from juxtakine.media.sound import RATE

SAY_WHERE = "Say where count 1 is in the take."


class NoCommonTime(CompareError):
    """The sounds say nothing: somebody has to say where count 1 is in the take."""


@dataclass(frozen=True)
class Sound:
    """A clip's sound from `start_s` on."""

    samples: NDArray[np.float32]
    start_s: float

    def between(self, from_s: float | None, to_s: float | None) -> "Sound":
        """What is heard from one second to another; None is the beginning or the end."""
        first, last = (None if at is None else max(0, round((at - self.start_s) * RATE)) for at in (from_s, to_s))
        return Sound(self.samples[first:last], self.start_s + (first or 0) / RATE)


@dataclass(frozen=True)
class Music:
    """The sound to which the routine is danced, and where its counts lie in it."""

    heard: Sound
    grid: Grid


@dataclass(frozen=True)
class Recording:
    """One dancer's track, the clip's sound, where it has any, and from where it was filmed, where it was put together
    from clips that were filmed from several places."""

    track: Track
    heard: Sound | None = None
    cameras: tuple[Span, ...] = ()

    @cached_property
    def movement(self) -> Movement:
        return clean(self.track)

    @cached_property
    def features(self) -> Features:
        return features(self.movement, self.cameras)


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
    sides: KnownSides = UNSAID
    music: Music | None = None
    """Where the routine is danced to the music in another clip than the reference."""
    enters: int = 0
    """Counts of the music by which the take's dancer comes in after the instructor, as in a canon."""


def compared(reference: Recording, take: Recording, sheet: Sheet, grid: Grid, said: Said = Said()) -> Comparison:
    """The whole way. Raises CompareError, SheetError."""
    return explained(measured(reference, take, sheet, grid, said), sheet)


def measured(reference: Recording, take: Recording, sheet: Sheet, grid: Grid, said: Said = Said()) -> Measured:
    """As far as to each count by itself. Raises CompareError, SheetError."""
    danced, own = reference.features, take.features
    if said.take_grid is not None:
        common = CommonTime(said.take_grid, Method.MANUAL, 1.0)
    else:
        music = said.music or (Music(reference.heard, grid) if reference.heard else None)
        by_sound = _by_sound(music, take.heard, said)
        common = _found(by_sound, danced, own, sheet, grid, said.align)
    return measure(danced, own, sheet, grid, common, said.sides)


def _by_sound(music: Music | None, take: Sound | None, said: Said) -> list[CommonTime]:
    """Where the sound tells that the counts may lie in the take, likeliest first."""
    if said.align is Align.MOVEMENT:
        return []
    if music is None or take is None:
        if said.align is Align.SOUND:
            silent = "The instructor's clip" if music is None else "Your take"
            raise NoCommonTime(f"{silent} has no sound to find the music by. {SAY_WHERE}")
        return []
    match = match_sounds(music.heard.samples, take.samples, RATE, float(music.grid.count_length(0.0)))
    own = music.grid.renumbered(said.enters)
    grids = [own.carried(music.heard.start_s, take.start_s + p.offset_s, p.tempo) for p in match.places]
    rest = (1 - match.certainty) / max(1, len(grids) - 1)
    return [CommonTime(g, Method.SOUND, rest if i else match.certainty) for i, g in enumerate(grids)]


def _found(
    by_sound: list[CommonTime], danced: Features, own: Features, sheet: Sheet, grid: Grid, align: Align
) -> CommonTime:
    counts = np.array([float(c.at) for c in expand(sheet)])
    moved = None if align is Align.SOUND else match_movements(danced, own, grid, counts)
    movement = CommonTime(moved.grid, Method.MOVEMENT, moved.certainty) if moved else None
    common = settled(by_sound, movement, float(counts.mean()))
    if common is None and align is Align.SOUND:
        raise NoCommonTime(f"The reference's music can't be heard in the take. {SAY_WHERE}")
    if common is None:
        raise NoCommonTime(f"Neither the music nor the movement tells where the dance begins in the take. {SAY_WHERE}")
    return common
