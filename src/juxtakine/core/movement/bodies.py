"""Bodies in shot: one while nobody else is near, and what it looks like. Places and sizes as in people.py."""

from dataclasses import dataclass, field

import numpy as np

from juxtakine.core.movement.people import Sightings
from juxtakine.core.movement.tracks import Floats

NEAR = 1.25
"""Trunk lengths between two people below which they may be taken for each other."""
STRANGE = 2.4
"""How different somebody may look from before, in units of the looks' own spread, and still be the same."""
LEAST_SPREAD = 0.035
LIMBS = [7, 8, 9, 10, 13, 14, 15, 16]
"""Elbows, wrists, knees and ankles among the key points."""
DANCES, STANDS = 0.12, 0.2
"""Trunk lengths that limbs go from look to look, of who dances; and how much less prominent it is to stand."""
ASIDE = 0.7
"""What is taken from who stands at the picture's edge."""
WEIGHTS = np.array([1.0, 1.0, 0.6, 0.4])
"""Of trunk, thighs, forearms and head: the small ones are often missed."""


@dataclass
class Alone:
    """One body while nobody else is near: looks (indices of time) and which of the sighted it is there."""

    at: list[int] = field(default_factory=list)
    who: list[int] = field(default_factory=list)

    @property
    def first(self) -> int:
        return self.at[0]

    @property
    def last(self) -> int:
        return self.at[-1]


@dataclass(frozen=True)
class Colours:
    """The usual colours of a stretch, (LOOKS, 3), and how much they spread."""

    colours: Floats
    spread: Floats

    def unlike(self, other: "Colours") -> float:
        """How different, in units of their spread; parts that one of them does not show say nothing."""
        apart = np.abs(self.colours - other.colours) / np.maximum(np.fmax(self.spread, other.spread), LEAST_SPREAD)
        parts = np.minimum(apart, 8.0).mean(1)
        known = np.isfinite(parts)
        return float(WEIGHTS[known] @ parts[known] / WEIGHTS[known].sum()) if known.any() else 1.0


def prominence(seen: Sightings, s: Alone, aspect: float) -> float:
    """How much of the clip is about this body: how large it is, how near the middle, whether it dances, how long."""
    places, sizes = seen.places[s.at, s.who], seen.sizes[s.at, s.who]
    aside = np.minimum(np.abs(places[:, 0] - aspect / 2) / (aspect / 2), 1)
    limbs = (seen.points[s.at, s.who][:, LIMBS, :2] - places[:, None]) / sizes[:, None, None]
    moved = float(np.linalg.norm(np.diff(limbs, axis=0), axis=2).mean()) if len(limbs) > 1 else 0.0
    return float(np.clip(moved / DANCES, STANDS, 1.0)) * float((sizes * (1 - ASIDE * aside)).sum())


def look(seen: Sightings, s: Alone) -> Colours:
    """What the body of a stretch usually looks like."""
    colours = seen.looks[s.at, s.who]
    with np.errstate(all="ignore"):
        middle = np.nanmedian(colours, axis=0) if np.isfinite(colours).any() else colours[0]
        spread = 1.4826 * np.nanmedian(np.abs(colours - middle), axis=0)
    return Colours(middle, np.nan_to_num(spread, nan=0.1))
