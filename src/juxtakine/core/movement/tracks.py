"""Tracks: one body's landmarks over the time of a clip.

Conventions: `seconds` are the file's own time stamps; `image` pixels of the upright picture, x right, y down;
`world` metres, origin between the hips, x to the picture's right, y down, z away from the camera;
NaN where nobody was found; `estimated` is false where a frame lies between two estimated ones.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.movement.body import LANDMARKS

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Ints = NDArray[np.int64]


class Network(StrEnum):
    """The two sizes of the estimator's network: `full` is quick, `heavy` careful."""

    FULL = "full"
    HEAVY = "heavy"


@dataclass(frozen=True)
class Track:
    """(n,) seconds, (n, 33, 2) image, (n, 33, 3) world, (n, 33) visibility, (n,) followed and estimated."""

    seconds: Floats
    image: Floats
    world: Floats
    visibility: Floats
    followed: Bools
    estimated: Bools
    width: int
    height: int
    estimator: str

    def __post_init__(self) -> None:
        n = len(self.seconds)
        shapes = {
            "image": (n, LANDMARKS, 2), "world": (n, LANDMARKS, 3), "visibility": (n, LANDMARKS),
            "followed": (n,), "estimated": (n,),
        }  # fmt: skip
        for name, shape in shapes.items():
            if getattr(self, name).shape != shape:
                raise ValueError(f"a track's {name} has the shape {getattr(self, name).shape}, not {shape}")
        if not np.isfinite(self.seconds).all() or any(
            np.isinf(getattr(self, name)).any() for name in ("image", "world")
        ):
            raise ValueError("a track has a time or a place that is no number")
        if min(self.width, self.height) < 1:
            raise ValueError(f"a track's picture can't be {self.width} by {self.height}")
        if n > 1 and (np.diff(self.seconds) <= 0).any():
            raise ValueError("a track's time stamps must rise")

    @property
    def model(self) -> str:
        """The size of the estimator's network: the last word of its name, `full` or `heavy`."""
        return self.estimator.rpartition(" ")[2].removeprefix("pose_")

    @property
    def found(self) -> Bools:
        """(n,) whether somebody was found in the frame."""
        return np.isfinite(self.image[:, 0, 0])
