"""The body as the estimator sees it: 33 landmarks, and the segments that are compared.

Sides are the dancer's own. Landmark numbers follow the estimator (its 33-point order).
"""

from enum import IntEnum, StrEnum

import numpy as np
from numpy.typing import NDArray

LANDMARKS = 33


class Landmark(IntEnum):
    """The landmarks that are used."""

    NOSE = 0
    LEFT_EAR, RIGHT_EAR = 7, 8
    LEFT_SHOULDER, RIGHT_SHOULDER = 11, 12
    LEFT_ELBOW, RIGHT_ELBOW = 13, 14
    LEFT_WRIST, RIGHT_WRIST = 15, 16
    LEFT_HIP, RIGHT_HIP = 23, 24
    LEFT_KNEE, RIGHT_KNEE = 25, 26
    LEFT_ANKLE, RIGHT_ANKLE = 27, 28


class Part(StrEnum):
    """What a position is told of."""

    HEAD = "head"
    TORSO = "torso"
    LEFT_UPPER_ARM = "left-upper-arm"
    RIGHT_UPPER_ARM = "right-upper-arm"
    LEFT_FOREARM = "left-forearm"
    RIGHT_FOREARM = "right-forearm"
    LEFT_THIGH = "left-thigh"
    RIGHT_THIGH = "right-thigh"
    LEFT_SHIN = "left-shin"
    RIGHT_SHIN = "right-shin"
    LEVEL = "level"
    SPREAD = "spread"
    FACING = "facing"

    @property
    def words(self) -> str:
        return self.value.replace("-", " ")


def kind_of(part: Part) -> str:
    """The part without its side."""
    return part.value.removeprefix("left-").removeprefix("right-")


def mirrored_part(part: Part) -> Part:
    """What this part is in the mirror."""
    side, _, rest = part.value.partition("-")
    other = {"left": "right", "right": "left"}.get(side)
    return Part(f"{other}-{rest}") if other else part


SEGMENTS: dict[Part, tuple[tuple[Landmark, ...], tuple[Landmark, ...]]] = {
    Part.HEAD: ((Landmark.LEFT_EAR, Landmark.RIGHT_EAR), (Landmark.NOSE,)),
    Part.TORSO: ((Landmark.LEFT_HIP, Landmark.RIGHT_HIP), (Landmark.LEFT_SHOULDER, Landmark.RIGHT_SHOULDER)),
    Part.LEFT_UPPER_ARM: ((Landmark.LEFT_SHOULDER,), (Landmark.LEFT_ELBOW,)),
    Part.RIGHT_UPPER_ARM: ((Landmark.RIGHT_SHOULDER,), (Landmark.RIGHT_ELBOW,)),
    Part.LEFT_FOREARM: ((Landmark.LEFT_ELBOW,), (Landmark.LEFT_WRIST,)),
    Part.RIGHT_FOREARM: ((Landmark.RIGHT_ELBOW,), (Landmark.RIGHT_WRIST,)),
    Part.LEFT_THIGH: ((Landmark.LEFT_HIP,), (Landmark.LEFT_KNEE,)),
    Part.RIGHT_THIGH: ((Landmark.RIGHT_HIP,), (Landmark.RIGHT_KNEE,)),
    Part.LEFT_SHIN: ((Landmark.LEFT_KNEE,), (Landmark.LEFT_ANKLE,)),
    Part.RIGHT_SHIN: ((Landmark.RIGHT_KNEE,), (Landmark.RIGHT_ANKLE,)),
}
"""Each segment from the middle of the first landmarks to the middle of the second."""

ARMS = tuple(p for p in Part if p.endswith("arm"))
TRUNK_AND_LEGS = (Part.TORSO, Part.LEFT_THIGH, Part.RIGHT_THIGH, Part.LEFT_SHIN, Part.RIGHT_SHIN)


def ends(points: NDArray[np.float64], part: Part) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(n, d) the segment's beginning and its end, of (n, 33, d) landmarks."""
    start, end = (np.asarray(sum(points[:, mark] for mark in marks) / len(marks)) for marks in SEGMENTS[part])
    return start, end


def along(points: NDArray[np.float64], part: Part) -> NDArray[np.float64]:
    """(n, d) from the segment's beginning to its end, of (n, 33, d) landmarks."""
    start, end = ends(points, part)
    return end - start


PARENT = {
    Part.LEFT_FOREARM: Part.LEFT_UPPER_ARM,
    Part.RIGHT_FOREARM: Part.RIGHT_UPPER_ARM,
    Part.LEFT_SHIN: Part.LEFT_THIGH,
    Part.RIGHT_SHIN: Part.RIGHT_THIGH,
}

SWAPPED = (0, 4, 5, 6, 1, 2, 3, 8, 7, 10, 9, *(n for left in range(11, 33, 2) for n in (left + 1, left)))
"""The landmark that each one is in the mirror."""
