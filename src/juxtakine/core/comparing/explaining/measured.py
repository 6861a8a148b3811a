"""Measured: what each count shows beside one reference, and what causes are told from."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from juxtakine.core.comparing.aligning.sides import unlikeness_by_count
from juxtakine.core.comparing.explaining import findings
from juxtakine.core.comparing.explaining.amplitude import shares_of_way, sizes_of_ways
from juxtakine.core.comparing.explaining.evidence import Evidence
from juxtakine.core.comparing.explaining.transit import PARTS, passing
from juxtakine.core.comparing.position.posed import Posed
from juxtakine.core.comparing.refused import check_alike, inside_of
from juxtakine.core.comparing.results import (
    Alignment,
    CountResult,
    Method,
    Mirror,
    Position,
    PositionVerdict,
    Timing,
    TimingVerdict,
    Untold,
)
from juxtakine.core.comparing.timing.timed import Timed
from juxtakine.core.comparing.timing.verdicts import timing_verdict
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import SheetCount
from juxtakine.core.movement.tracks import Bools, Floats

MAY_BE = 2.0
"""So many of its standard errors more a lag may be, where it is asked what it explains."""
NEARLY = 0.95


@dataclass(frozen=True)
class Measured:
    """A take measured count by count beside one reference, before causes are looked for. The rest as in Comparison."""

    alignment: Alignment
    mirror: Mirror
    turned_deg: float
    unlikeness: float
    counts: tuple[CountResult, ...]
    evidence: Evidence

    @property
    def measured(self) -> int:
        """Counts of which something is told."""
        return sum(c.measured for c in self.counts if not c.count.free)


def measured(posed: Posed) -> Measured:
    """Each count by itself. Raises AnotherDance."""
    timed = posed.timed
    laid, view, at, grid = timed.laid, timed.view, timed.laid.at, timed.grid
    inside = inside_of(view.reference, view.reference_grid, at) & inside_of(view.take, view.take_grid, at)
    judged = view.take_grid.seconds(at) + timed.places
    times = np.column_stack([view.reference_grid.seconds(at), grid.seconds(at), judged, grid.count_length(at)])
    results = tuple(_count(timed, i, posed.poses[i], times[i], bool(inside[i])) for i in range(len(laid.counts)))
    check_alike(view.unlikeness, results)
    alignment = Alignment(
        laid.common.method,
        float(grid.seconds(0.0) - view.reference_grid.seconds(0.0)),
        _tempo_ratio(view.reference_grid, grid, at),
        laid.common.certainty,
        1000 * timed.constant if laid.common.method is Method.SOUND else None,
    )
    beyond = [{part: told.tolerance for part, told in p.parts.items() if told.beyond} for p in posed.poses]
    tolerances = np.array([[parts.get(part, 0.0) for part in PARTS] for parts in beyond])
    explains = (timed.late + np.sign(timed.late) * MAY_BE * timed.lags.se) / times[:, 3]
    on_their_way = passing(view, at, timed.places, explains, tolerances)
    turned = float(np.degrees(view.turn.magnitude()))
    return Measured(alignment, laid.mirror, turned, view.unlikeness, results, _evidence(timed, on_their_way))


def nearest(measured: Sequence[Measured]) -> int:
    """Of one take measured beside several references, which one is seen from the nearest angle.

    Only those count by which nearly as much is measured as by the best of them: what a camera does not see can't be
    compared, however near it stands.
    """
    most = max(m.measured for m in measured)
    enough = [i for i, m in enumerate(measured) if m.measured >= NEARLY * most]
    return min(enough, key=lambda i: measured[i].turned_deg)


def _between(timed: Timed) -> Floats:
    """(k,) each count's lag, and of one that has none what its neighbours' say."""
    at, known = timed.laid.at, np.isfinite(timed.late)
    return np.interp(at, at[known], timed.lags.own[known]) if known.any() else np.full(len(at), timed.constant)


def _evidence(timed: Timed, on_their_way: tuple[Bools, Bools]) -> Evidence:
    view, counts, at, constant = timed.view, timed.laid.counts, timed.laid.at, timed.constant
    lags_s = _between(timed)
    plain, mirrored = unlikeness_by_count(view, at, constant)
    phrase = np.array([c.phrase for c in counts])
    rows = [(int(n), phrase == n) for n in np.unique(phrase)]
    arrivals = [len({int(c.at) for c in counts if c.phrase == n and not (c.hold or c.goes_on)}) for n, _ in rows]
    sizes = sizes_of_ways(view, [at[row] for _, row in rows], [lags_s[row] for _, row in rows], arrivals)
    ranges = dict(zip((n for n, _ in rows), sizes, strict=True))
    # where a move is missing they may follow the one after it
    ways = np.fmin(*(shares_of_way(view, at, late) for late in (lags_s, np.full(len(at), constant))))
    laid, lags = timed.laid, timed.lags
    return Evidence(
        lags.motion, lags.own_least, ways, plain, mirrored, *on_their_way, laid.off, laid.pace, ranges
    )  # fmt: skip


def _tempo_ratio(reference: Grid, take: Grid, at: Floats) -> float:
    lasts = [float(g.seconds(at[-1]) - g.seconds(at[0])) for g in (reference, take)]
    return lasts[0] / lasts[1] if len(at) > 1 else 1.0


def _count(timed: Timed, i: int, position: Position, times: Floats, inside: bool) -> CountResult:
    """`times` (4,): the count in the reference and in the take, where it was judged, and how long it lasts there."""
    count = timed.laid.counts[i]
    reference_s, take_s, judged_s, count_s = (float(t) for t in times)
    if not inside or timed.laid.pace[i]:
        position = Position(PositionVerdict.NOT_SEEN if count.posed and not inside else PositionVerdict.FREE, None, {})
    told = _timing(timed, i, count_s, inside)
    found = findings.of_count(count, told, position)
    matched_s = judged_s if told.error_ms is not None else None
    moves = bool(timed.lags.moves[i])
    return CountResult(count, reference_s, take_s, matched_s, judged_s, told, position, found, moves)


def _timing(timed: Timed, i: int, count_s: float, inside: bool) -> Timing:
    reason = _untold(timed.laid.counts[i], timed.why[i], inside)
    if reason:
        return Timing(_VERDICTS.get(reason, TimingVerdict.UNMEASURABLE), why=reason)
    error_s, se = float(timed.late[i]), float(timed.lags.se[i])
    verdict = timing_verdict(1000 * error_s, 1000 * se)
    started = 1000 * float(timed.started[i]), 1000 * float(timed.lags.start_se[i])
    known = started if np.isfinite(started).all() else (None, None)
    return Timing(verdict, 1000 * error_s, error_s / count_s, 1000 * se, *known)


_VERDICTS = {
    Untold.FREE: TimingVerdict.FREE,
    Untold.BEYOND_CLIP: TimingVerdict.NOT_SEEN,
    Untold.NOT_SEEN: TimingVerdict.NOT_SEEN,
}


def _untold(count: SheetCount, why: Untold | None, inside: bool) -> Untold | None:
    """By the sheet first, then by the camera, then by the movement."""
    if not count.timed:
        return Untold.FREE
    if not inside:
        return Untold.BEYOND_CLIP
    if why is Untold.NOT_SEEN:
        return why
    if count.hold:
        return Untold.HOLD
    # of a move that goes on through a count, the pace is judged where it arrives
    return Untold.GOES_ON if count.goes_on else why
