"""Timed: each count's lag, its standard error, or why there is none."""

from dataclasses import dataclass, replace

import numpy as np
from scipy.stats import theilslopes

from juxtakine.core.comparing.aligning.counts_off import carried_on
from juxtakine.core.comparing.aligning.laid import Laid
from juxtakine.core.comparing.aligning.view import View, build
from juxtakine.core.comparing.results import Method, TimingVerdict, Untold
from juxtakine.core.comparing.timing.lags import Lags, lags
from juxtakine.core.comparing.timing.verdicts import timing_verdict
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.movement.tracks import Bools, Floats

LEAST_FOR_LINE = 8
REFIT_S = 0.03
"""A constant lag beyond this is taken out of the fit of the view, which is then made again."""
SCATTERED_S, SLIPS_S, LEFT_IN_PARTS = 0.03, 0.08, 0.4
"""A slip for good: lags that scatter by more, lie later by more after it, and of whose scatter no more is left in its
two parts. (Of a drift half would be.)"""


@dataclass(frozen=True)
class Timed:
    """How both are seen once the take's constant lag is known; the lags; that constant in seconds, positive when
    behind; the grid by which the take's counts are told; each count's (k,) own error in seconds, without the constant,
    NaN where `why` says that there is none."""

    laid: Laid
    view: View
    lags: Lags
    constant: float
    grid: Grid
    late: Floats
    why: tuple[Untold | None, ...]

    @property
    def places(self) -> Floats:
        """(k,) seconds after the grid by which it was danced at which each count is judged."""
        return np.where(np.isfinite(self.late), self.lags.own, self.constant)

    @property
    def started(self) -> Floats:
        """(k,) each move's lag at its start in seconds, without the constant; NaN where it can't be told."""
        return np.asarray(np.where(np.isfinite(self.late), self.late + self.lags.start - self.lags.own, np.nan))

    @property
    def signs(self) -> Floats:
        """(k,) 1 where a lag would be told as behind, -1 as ahead, 0 as on; NaN where there is none."""
        return signs(self.late, self.lags.se)

    def without(self, which: Bools, reason: Untold) -> "Timed":
        """These (k,) lags are told no more, for this reason, where no earlier one holds."""
        gone = which & np.isfinite(self.late)
        why = tuple(reason if g else w for g, w in zip(gone, self.why, strict=True))
        return replace(self, late=np.where(gone, np.nan, self.late), why=why)


def timed(laid: Laid) -> Timed:
    """Each count's lag beside the take's constant one."""
    at, view, common = laid.at, laid.view, laid.common
    reference_grid, found = view.reference_grid, lags(view, at, laid.goes_on, laid.holds)
    if common.method is Method.MOVEMENT:
        common = replace(common, grid=_straightened(common.grid, at, found))
        view = build(view.reference, view.take, reference_grid, carried_on(common.grid, at, laid.off), at)
        found = lags(view, at, laid.goes_on, laid.holds)
    danced, constant = view.take_grid, _constant(_with_the_music(laid, found))
    if abs(constant) > REFIT_S:
        view = build(view.reference, view.take, reference_grid, danced, at, constant)
        found = lags(view, at, laid.goes_on, laid.holds)
        constant = _constant(_with_the_music(laid, found))
    # by hand no constant of the dancer can be told from the hand's: it belongs to the common time
    grid = common.grid if common.method is Method.SOUND else common.grid.shifted(constant)
    late = found.own + danced.seconds(at) - common.grid.seconds(at) - constant
    every = Timed(laid, view, found, constant, grid, late, found.why)
    every = every.without(laid.pace > 0, Untold.OTHER_PACE)
    return every.without(_carried(every.signs, at), Untold.BETWEEN)


def _with_the_music(laid: Laid, found: Lags) -> Floats:
    """The lags of counts that are danced where they are due; all of them where there are none."""
    known = np.isfinite(found.own)
    due = known & (laid.off == 0)
    return found.own[due if due.any() else known]


def _constant(own: Floats) -> float:
    """What is the dancer's or the camera's throughout: the median; of who slips for good, that of before the slip."""
    if not len(own):
        return 0.0
    apart = _scatter(own)
    if apart > SCATTERED_S:
        parted = {k: _scatter(own[:k]) * k + _scatter(own[k:]) * (len(own) - k) for k in range(4, len(own) - 3)}
        slip = min(parted, key=lambda k: parted[k], default=0)
        before, after = (float(np.median(part)) for part in (own[:slip] if slip else own, own[slip:]))
        if slip and after - before > SLIPS_S and parted[slip] < LEFT_IN_PARTS * apart * len(own):
            return before
    return float(np.median(own))


def signs(late_s: Floats, se_s: Floats) -> Floats:
    """(k,) 1 where a lag would be told as behind, -1 as ahead, 0 as on; NaN where there is none."""
    rows = zip(1000 * late_s, 1000 * se_s, strict=True)
    off = np.array([timing_verdict(*row) is not TimingVerdict.ON for row in rows])
    return np.asarray(np.where(np.isfinite(late_s), np.where(off, np.sign(late_s), 0.0), np.nan))


def _carried(signs: Floats, at: Floats) -> Bools:
    """(k,) which lags between counts are only that of the whole count beside them, alone with it: who hurries to a 3,
    or comes late to it, is under way on the & before it when they should not be, or not when they should."""
    out, between = np.zeros(len(at), bool), at % 1 != 0
    timed = np.flatnonzero(np.isfinite(signs))
    changes = np.flatnonzero(np.diff(signs[timed])) + 1
    for run in np.split(timed, changes):
        if len(run) == 2 and signs[run[0]] != 0 and np.diff(at[run]) < 1 and not between[run].all():
            out[run] = between[run]
    return out


def _scatter(lags: Floats) -> float:
    return float(np.mean(np.abs(lags - np.median(lags))))


def _straightened(grid: Grid, at: Floats, lags: Lags) -> Grid:
    """The grid with the line through all lags taken out: by movement, offset and tempo are the dancer's own.

    The line is Theil and Sen's (median of slopes), so that faults do not bend it.
    """
    good = np.isfinite(lags.own)
    if good.sum() < LEAST_FOR_LINE:
        return grid
    slope, height, _, _ = theilslopes(lags.own[good], at[good])
    return Grid(tuple(Anchor(a.at, a.seconds + height + slope * float(a.at)) for a in grid.anchors))
