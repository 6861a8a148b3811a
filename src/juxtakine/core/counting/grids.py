"""The grid: where each count lies in a clip's own time, by anchors with straight lines between and beyond.

Units: counts from the routine's first 1 (0), seconds in the clip's own time stamps.
"""

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import ArrayLike, NDArray

from juxtakine.core.limits import BEYOND_S, LONGEST_COUNT_S, SHORTEST_COUNT_S

Floats = NDArray[np.float64]


class GridError(ValueError):
    """Anchors that make no grid."""


def check_within(seconds: float, lasts_s: float) -> None:
    """A count may lie a little outside a clip that begins at 0 and lasts `lasts_s`: it may begin after count 1. Raises
    GridError beyond."""
    if not -BEYOND_S <= seconds <= lasts_s + BEYOND_S:
        raise GridError(
            f"{seconds:.0f} s is not in this clip, which lasts {lasts_s:.0f} s. What was placed before is kept"
        )


@dataclass(frozen=True)
class Anchor:
    at: Fraction
    seconds: float


@dataclass(frozen=True)
class Grid:
    """At least two anchors, both counts and seconds rising, at a pace that can be. Raises GridError otherwise."""

    anchors: tuple[Anchor, ...]

    def __post_init__(self) -> None:
        if len(self.anchors) < 2:
            raise GridError("a grid needs two anchors: where count 1 is, and the tempo or a later count")
        for a, b in pairwise(self.anchors):
            if not (np.isfinite(a.seconds) and np.isfinite(b.seconds)):
                raise GridError("an anchor of the grid has no time")
            if b.at <= a.at or b.seconds <= a.seconds:
                raise GridError(
                    f"the grid runs backwards: count {float(b.at) + 1:g} at {b.seconds:.2f} s stands after "
                    f"count {float(a.at) + 1:g} at {a.seconds:.2f} s"
                )
            lasts = (b.seconds - a.seconds) / float(b.at - a.at)
            if not SHORTEST_COUNT_S <= lasts <= LONGEST_COUNT_S:
                raise GridError(
                    f"between {a.seconds:.2f} and {b.seconds:.2f} s a count would last {lasts:.3g} s: nobody dances so"
                )

    @classmethod
    def from_tempo(cls, first: float, bpm: float) -> "Grid":
        """Count 1 at `first` seconds, then `bpm` counts a minute."""
        if not 20 <= bpm <= 400:
            raise GridError(f"a tempo of {bpm:g} counts a minute can't be danced: between 20 and 400")
        return cls((Anchor(Fraction(0), first), Anchor(Fraction(1), first + 60 / bpm)))

    def seconds(self, counts: ArrayLike) -> Floats:
        """Seconds of count positions (any shape)."""
        return _along(counts, *self._axes)

    def count(self, seconds: ArrayLike) -> Floats:
        """Count positions of seconds (any shape): the inverse of `seconds`."""
        at, time = self._axes
        return _along(seconds, time, at)

    def count_length(self, counts: ArrayLike) -> Floats:
        """Seconds that a count lasts at these positions."""
        at, time = self._axes
        slopes = np.diff(time) / np.diff(at)
        place = np.clip(np.searchsorted(at, np.asarray(counts, float), side="right") - 1, 0, len(slopes) - 1)
        return slopes[place]

    def anchored(self, at: Fraction, seconds: float) -> "Grid":
        """With this count at `seconds`, in the place of an anchor that it had. Raises GridError."""
        kept = [a for a in self.anchors if a.at != at]
        return Grid(tuple(sorted([*kept, Anchor(at, seconds)], key=lambda a: a.at)))

    def loosened(self, at: Fraction) -> "Grid":
        """Without the anchor of this count. Raises GridError where fewer than two are left."""
        return Grid(tuple(a for a in self.anchors if a.at != at))

    def renumbered(self, by: int) -> "Grid":
        """What was count `by` (from 0) is the routine's first 1 now; every count stays where it was."""
        return Grid(tuple(Anchor(a.at - by, a.seconds) for a in self.anchors))

    def repaced(self, by: Fraction) -> "Grid":
        """The same moments counted `by` times as fast."""
        return Grid(tuple(Anchor(a.at * by, a.seconds) for a in self.anchors))

    def shifted(self, seconds: float) -> "Grid":
        """The same counts, all later by `seconds`."""
        return Grid(tuple(Anchor(a.at, a.seconds + seconds) for a in self.anchors))

    def carried(self, from_s: float, to_s: float, tempo: float = 1.0) -> "Grid":
        """The same counts in another clip, where `from_s` of this one is `to_s` and the tempo is `tempo` of this."""
        return Grid(tuple(Anchor(a.at, to_s + (a.seconds - from_s) / tempo) for a in self.anchors))

    @cached_property
    def _axes(self) -> tuple[Floats, Floats]:
        return (
            np.array([float(a.at) for a in self.anchors]),
            np.array([a.seconds for a in self.anchors]),
        )


def _along(values: ArrayLike, xs: Floats, ys: Floats) -> Floats:
    """Piecewise linear interpolation that goes on straight beyond both ends."""
    x = np.asarray(values, float)
    place = np.clip(np.searchsorted(xs, x, side="right") - 1, 0, len(xs) - 2)
    slope = (ys[place + 1] - ys[place]) / (xs[place + 1] - xs[place])
    return np.asarray(ys[place] + (x - xs[place]) * slope)
