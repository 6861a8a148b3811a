"""Laid on the count line: both dancers at the same counts, seen from one place, on the same sides."""

from dataclasses import dataclass, replace

import numpy as np

from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.aligning.counts_off import NEAR_SHIFTS, carried_on, counts_off, excused
from juxtakine.core.comparing.aligning.sides import KnownSides, turned_back
from juxtakine.core.comparing.aligning.view import View
from juxtakine.core.comparing.refused import ANOTHER_DANCE, check_seen
from juxtakine.core.comparing.results import Method, Mirror
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet, SheetCount, expand
from juxtakine.core.movement.features import Features
from juxtakine.core.movement.tracks import Bools, Floats


@dataclass(frozen=True)
class Laid:
    """A take on its reference's counts: the sheet's counts, how both are seen, what is told of the mirror, the common
    time, and by how many counts each count (k,) was danced later than that says; how surely each was danced at another
    pace than the counts', 0 where it was not."""

    counts: tuple[SheetCount, ...]
    view: View
    mirror: Mirror
    common: CommonTime
    off: Floats
    pace: Floats

    @property
    def at(self) -> Floats:
        """(k,) count positions."""
        return np.array([float(c.at) for c in self.counts])

    @property
    def goes_on(self) -> Bools:
        """(k,) through which counts a move goes on."""
        return np.array([c.goes_on for c in self.counts])

    @property
    def holds(self) -> Bools:
        """(k,) which counts are holds."""
        return np.array([c.hold for c in self.counts])


def laid(
    reference: Features, take: Features, sheet: Sheet, reference_grid: Grid, common: CommonTime, sides: KnownSides
) -> Laid:
    """Raises SheetError; CompareError where too little of a person is seen."""
    counts = expand(sheet)
    at = np.array([float(c.at) for c in counts])
    check_seen(reference, reference_grid, at, "The instructor", "the reference")
    check_seen(take, common.grid, at, "You", "the take")
    own_pace = np.array([c.own_pace for c in counts])
    return Laid(counts, *_followed(sides, reference, take, reference_grid, common, at, own_pace))


def _followed(
    sides: KnownSides, reference: Features, take: Features, reference_grid: Grid, common: CommonTime, at: Floats,
    own_pace: Bools,
) -> tuple[View, Mirror, CommonTime, Floats, Floats]:  # fmt: skip
    """The view of how the counts (k,) were danced, what is told of the mirror, the common time, and by how many counts
    each was danced later than it says."""

    def laid(grid: Grid) -> tuple[View, Mirror]:
        return turned_back(sides, reference, take, reference_grid, grid, at)

    view, mirrored = laid(common.grid)
    telling = view
    if view.unlikeness > ANOTHER_DANCE:
        # it may be danced away from the music throughout: the cameras are then known where it fits
        count_s = float(common.grid.count_length(at.mean()))
        shifted = [laid(common.grid.shifted(shift * count_s))[0] for shift in NEAR_SHIFTS if shift]
        telling = replace(min([view, *shifted], key=lambda v: v.unlikeness), take_grid=common.grid)
    found = counts_off(telling, at, own_pace)
    off = found.counts
    if not off.any():
        return view, mirrored, common, off, found.pace
    if common.method is not Method.SOUND:  # the first stretch then says where count 1 is
        begins = float(off[0] * common.grid.count_length(at[0]))
        common, off = replace(common, grid=common.grid.shifted(begins)), off - off[0]
    danced, made = carried_on(common.grid, at, off), excused(off, own_pace)
    # where the pace is the dancer's own, the counts are when they dance them
    common, off = replace(common, grid=carried_on(common.grid, at, made)), off - made
    return *laid(danced), common, off, found.pace
