"""Posed: each count's parts, judged where the student arrives; and the lags that turn out to be another movement's."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from juxtakine.core.comparing.position.parts import positions
from juxtakine.core.comparing.results import Position, Untold
from juxtakine.core.comparing.timing.timed import Timed
from juxtakine.core.movement.features import LIMBS
from juxtakine.core.movement.tracks import Bools, Floats

ELSEWHERE_DEG = 16.0
"""Mean over the limbs beyond which somebody is not where the reference is. (Of 195 lags that are told on 550 tuning
pairs, right ones leave 15 at most, and six of thirteen that are false 17 to 37.)"""


@dataclass(frozen=True)
class Posed:
    """Each count's position, at the moments `timed` says."""

    timed: Timed
    poses: tuple[Position, ...]


def posed(timed: Timed) -> Posed:
    """The parts at each count. A lag at which somebody is elsewhere is no lag: such a count is judged where
    it should be."""
    counts = timed.laid.counts
    poses = positions(timed.view, counts, timed.places)
    astray = _astray(timed.signs, poses)
    if astray.any():
        timed = timed.without(astray, Untold.ANOTHER_MOVE)
        poses = positions(timed.view, counts, timed.places)
    return Posed(timed, tuple(poses))


def _astray(signs: Floats, poses: Sequence[Position]) -> Bools:
    """(k,) which lags would be told though somebody is elsewhere there: they are another movement's as well."""
    limbs = ([abs(r.error) for p, r in pose.parts.items() if p in LIMBS and r.error is not None] for pose in poses)
    elsewhere = np.array([np.mean(off or [0.0]) > ELSEWHERE_DEG for off in limbs])
    return np.asarray(elsewhere & (np.abs(signs) == 1))
