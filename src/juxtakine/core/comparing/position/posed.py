"""Posed: each count's parts, judged where the student arrives; and the lags that turn out to be another movement's."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from juxtakine.core.comparing.position.parts import positions
from juxtakine.core.comparing.results import Position, Untold
from juxtakine.core.comparing.timing.lags import lags_without
from juxtakine.core.comparing.timing.timed import Timed, signs
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
    """The parts at each count. A lag at which somebody is elsewhere, or which only parts tell that are off, is no lag:
    such a count is judged where it should be."""
    counts = timed.laid.counts
    poses = positions(timed.view, counts, timed.places)
    astray, by_what_is_off = _astray(timed.signs, poses), _by_what_is_off(timed, poses)
    if astray.any() or by_what_is_off.any():
        timed = timed.without(astray, Untold.ANOTHER_MOVE).without(by_what_is_off, Untold.BY_WHAT_IS_OFF)
        poses = positions(timed.view, counts, timed.places)
    return Posed(timed, tuple(poses))


def _astray(signs: Floats, poses: Sequence[Position]) -> Bools:
    """(k,) which lags would be told though somebody is elsewhere there: they are another movement's as well."""
    limbs = ([abs(r.error) for p, r in pose.parts.items() if p in LIMBS and r.error is not None] for pose in poses)
    elsewhere = np.array([np.mean(off or [0.0]) > ELSEWHERE_DEG for off in limbs])
    return np.asarray(elsewhere & (np.abs(signs) == 1))


def _by_what_is_off(timed: Timed, poses: Sequence[Position]) -> Bools:
    """(k,) which lags would be told only by parts that are off there or were on the whole count before, which was on
    time: an arm that comes from elsewhere has another way. (On an & they may only wait for a late count.)"""
    at, told = timed.laid.at, timed.signs
    off = np.array([[p in pose.parts and pose.parts[p].beyond for p in LIMBS] for pose in poses])
    before = np.roll(off & ((told == 0) & (at % 1 == 0))[:, None], 1, axis=0)
    before[0] = False
    off = (off | before) & (np.abs(told) == 1)[:, None]
    channels = np.column_stack([np.repeat(off, 2, axis=1), np.zeros((len(at), 2), bool)])
    own, se = lags_without(timed.view, at, timed.laid.goes_on, timed.lags, channels)
    rest = signs(timed.late + own - timed.lags.own, se)
    return np.asarray(off.any(1) & (rest != told))
