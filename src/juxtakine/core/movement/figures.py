"""Small figures: the joints at given moments, wherever the body stands in the picture and however large it is there."""

from dataclasses import dataclass

import numpy as np

from juxtakine.core.movement.body import Landmark
from juxtakine.core.movement.cleaning import RATE, Movement
from juxtakine.core.movement.tracks import Bools, Floats

LEFT = (
    Landmark.LEFT_SHOULDER,
    Landmark.LEFT_ELBOW,
    Landmark.LEFT_WRIST,
    Landmark.LEFT_HIP,
    Landmark.LEFT_KNEE,
    Landmark.LEFT_ANKLE,
)
RIGHT = (
    Landmark.RIGHT_SHOULDER,
    Landmark.RIGHT_ELBOW,
    Landmark.RIGHT_WRIST,
    Landmark.RIGHT_HIP,
    Landmark.RIGHT_KNEE,
    Landmark.RIGHT_ANKLE,
)
LINES = (
    (LEFT[0], RIGHT[0]), (LEFT[3], RIGHT[3]),
    *((side[a], side[b]) for side in (LEFT, RIGHT) for a, b in ((0, 1), (1, 2), (0, 3), (3, 4), (4, 5))),
)  # fmt: skip
"""Shoulders, hips, then arm, trunk and leg of either side."""
STANDING = 90
"""Percentile of the height from ankle to nose that is standing upright."""


@dataclass(frozen=True)
class Figure:
    """`lines` from x, y to x, y, and the `head`: x from the middle of the hips, y up from the lower foot, in the
    dancer's own height from ankle to nose. What is not seen is not there. `middle`: where the hips stand in the
    picture, as a share of its width."""

    lines: tuple[tuple[float, float, float, float], ...]
    head: tuple[float, float] | None
    middle: float | None


def figures(movement: Movement, seconds: Floats, width: int) -> list[Figure]:
    """One for each moment (k,) of a movement in a picture of this width."""
    points = movement.image
    low = np.fmax(points[:, Landmark.LEFT_ANKLE, 1], points[:, Landmark.RIGHT_ANKLE, 1])
    heights = low - points[:, Landmark.NOSE, 1]
    known = heights[np.isfinite(heights)]
    if not len(known):
        return [Figure((), None, None) for _ in seconds]
    height = float(np.percentile(known, STANDING))
    rows = np.rint((seconds - movement.seconds[0]) * RATE).astype(int)
    return [_figure(points[r], low[r], height, width) if 0 <= r < len(points) else Figure((), None, None) for r in rows]


def _figure(points: Floats, floor: float, height: float, width: int) -> Figure:
    middle = float(points[[Landmark.LEFT_HIP, Landmark.RIGHT_HIP], 0].mean())
    placed = np.column_stack([(points[:, 0] - middle) / height, (floor - points[:, 1]) / height])
    seen: Bools = np.asarray(np.isfinite(placed).all(1))
    xy = [(float(x), float(y)) for x, y in placed]
    lines = tuple((*xy[a], *xy[b]) for a, b in LINES if seen[a] and seen[b])
    return Figure(
        lines, xy[Landmark.NOSE] if seen[Landmark.NOSE] else None, middle / width if np.isfinite(middle) else None
    )
