"""Where everybody's feet stand in the picture: lines under the dancers that tell who is followed.

Units: seconds; shares of the picture's width and height, from its top left.
"""

from dataclasses import dataclass

import numpy as np

from juxtakine.core.movement.body import Landmark
from juxtakine.core.movement.people import Followed, Sightings
from juxtakine.core.movement.tracks import Floats, Track

ANKLES = [15, 16]
"""Among the key points of who was sighted."""
BEYOND, UNDER = 0.025, 0.04
"""How far a line reaches beyond the ankles, and how deep under them it is drawn, in heights of the picture."""


@dataclass(frozen=True)
class Feet:
    """A line from x1 to x2 at height y; whether it is the one who is followed."""

    x1: float
    x2: float
    y: float
    followed: bool


def of_people(seen: Sightings, followed: Followed, aspect: float) -> list[list[Feet]]:
    """Under everybody, for each look."""
    shares = [1 / aspect, 1.0]
    return [
        [_line(p[ANKLES, :2] * shares, k == who, aspect) for k, p in enumerate(points) if np.isfinite(p[ANKLES]).all()]
        for points, who in zip(seen.points, followed.who, strict=True)
    ]


def of_track(track: Track, every_s: float) -> tuple[Floats, list[list[Feet]]]:
    """Under the only one who was tracked, at moments that far apart, and these moments; none where nobody was found."""
    seconds = np.arange(track.seconds[0], track.seconds[-1], every_s)
    rows = np.searchsorted(track.seconds, seconds)
    ankles = track.image[rows][:, [Landmark.LEFT_ANKLE, Landmark.RIGHT_ANKLE]] / [track.width, track.height]
    aspect = track.width / track.height
    return seconds, [[_line(a, True, aspect)] if np.isfinite(a).all() else [] for a in ankles]


def _line(ankles: Floats, followed: bool, aspect: float) -> Feet:
    """Of (2, 2) ankles, in shares."""
    x, y = ankles.T
    beyond = BEYOND / aspect
    return Feet(float(x.min() - beyond), float(x.max() + beyond), float(min(y.max() + UNDER, 0.99)), followed)
