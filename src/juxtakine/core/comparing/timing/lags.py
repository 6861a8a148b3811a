"""Timing: how far ahead or behind the student starts each move and arrives with it, with standard errors.

Where nothing moves there is no evidence, and none is made up: of a faint move the distribution of its lag is wide.
"""

from dataclasses import dataclass

import numpy as np

from juxtakine.core.comparing.aligning.view import View
from juxtakine.core.comparing.results import Untold
from juxtakine.core.comparing.timing.activity import LONGEST, activity
from juxtakine.core.comparing.timing.moves import LAGS_S, Moves, moves
from juxtakine.core.movement.tracks import Bools, Floats, Ints

MOVING = 9.0
"""Squared distance between the reference and its own standstill, in units of noise, from which on a count moves."""
SEEN = 0.6
WIDER = 1.2
"""Standard errors are wider by this than the distributions, which take each count's errors for its own."""
LARGEST_SE_S = 0.06
LEAST_SE_S = 0.005
EDGE_S = 0.05
"""A lag so near to the widest that is looked at may be a wider one."""


@dataclass(frozen=True)
class Lags:
    """Per count (k,), in seconds of the take: lags of the arrival and, where a move starts, of its start, with standard
    errors, NaN where `why` says that there is none; whether and how much the reference moves around the count, and how
    much at least the take does, in units of noise."""

    own: Floats
    se: Floats
    start: Floats
    start_se: Floats
    why: tuple[Untold | None, ...]
    moves: Bools
    motion: Floats
    own_least: Floats


def lags(view: View, at: Floats, goes_on: Bools, holds: Bools) -> Lags:
    """The take's lag at each of the counts `at` (k,), through some of which a move goes on, and some of which are
    holds, with no arrival."""
    arrives = np.flatnonzero(~(goes_on | holds))
    own, se, start, start_se = (np.full(len(at), np.nan) for _ in range(4))
    if len(arrives):
        found, begins = _of_moves(view, at, goes_on, arrives)
        for lag, error, likely in ((own, se, found.arrival), (start, start_se, found.start)):
            lag[arrives], error[arrives] = _mean(likely)
        # what was there before the first move is not of the dance
        start[arrives[0]] = np.nan
        _on_the_way(at, goes_on, arrives, begins, (own, se, start))
    around = np.interp(at, at[arrives], own[arrives]) if len(arrives) else np.zeros(len(at))
    around_counts = activity(view, at, goes_on, around)
    moving, seen = around_counts.reference >= MOVING, around_counts.seen >= SEEN
    why = tuple(map(_why, seen, moving, own, se))
    told = np.array([w is None for w in why])
    own, se, start, start_se = (np.where(told, a, np.nan) for a in (own, se, start, start_se))
    known = start_se <= LARGEST_SE_S
    start, start_se = (np.where(known, a, np.nan) for a in (start, start_se))
    return Lags(own, se, start, start_se, why, moving, around_counts.reference, around_counts.take)


def _of_moves(view: View, at: Floats, goes_on: Bools, arrives: Ints) -> tuple[Moves, Floats]:
    """The moves that arrive on these of the counts, and where each begins: after the count before it, or after the
    arrival before it where it went on through counts."""
    ends = at[arrives]
    before = np.r_[at[0] - 1, at[:-1]][arrives]
    lasts = np.r_[False, goes_on[:-1]][arrives]
    arrival_before = np.r_[ends[0] - LONGEST, ends[:-1]]
    begins = np.maximum(np.where(lasts, arrival_before, before), ends - np.where(lasts, LONGEST, 1.0))
    return moves(view, begins, ends, np.diff(ends, append=ends[-1] + 1)), begins


def _mean(likely: Floats) -> tuple[Floats, Floats]:
    """(m,) means and standard errors of distributions (m, L) over LAGS_S."""
    mean = likely @ LAGS_S
    variance = likely @ LAGS_S**2 - mean**2
    return mean, np.maximum(WIDER * np.sqrt(np.maximum(variance, 0)), LEAST_SE_S)


def _on_the_way(at: Floats, goes_on: Bools, arrives: Ints, begins: Floats, lags: tuple[Floats, Floats, Floats]) -> None:
    """In place: where a move goes on through a count, the lag is that of so much of its way."""
    own, se, start = lags
    for i in np.flatnonzero(goes_on):
        move = np.searchsorted(arrives, i)
        if move < len(arrives) and at[i] > begins[move]:
            end = arrives[move]
            share = (at[i] - begins[move]) / (at[end] - begins[move])
            own[i], se[i] = start[end] + share * (own[end] - start[end]), se[end]


def _why(seen: bool, moving: bool, lag_s: float, se_s: float) -> Untold | None:
    if not seen:
        return Untold.NOT_SEEN
    if not moving or not np.isfinite(lag_s):
        return Untold.STILL
    if abs(lag_s) > LAGS_S[-1] - EDGE_S:
        return Untold.TOO_FAR
    return Untold.FAINT if se_s > LARGEST_SE_S else None
