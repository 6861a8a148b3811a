"""Compare: two cleaned movements and a sheet become a comparison."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from scipy.stats import theilslopes

from juxtakine.core.comparing import causes, findings, phrases, timing
from juxtakine.core.comparing.causes import Evidence
from juxtakine.core.comparing.common_time import CommonTime
from juxtakine.core.comparing.position import positions
from juxtakine.core.comparing.results import (
    Alignment,
    Comparison,
    CountResult,
    Method,
    Position,
    PositionVerdict,
    Timing,
    TimingVerdict,
)
from juxtakine.core.comparing.sides import UNSAID, KnownSides, turned_back, unlikeness_by_count
from juxtakine.core.comparing.styles import Measured
from juxtakine.core.comparing.view import View, build, shares_of_way, size_of_ways
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.sheets import Sheet, SheetCount, expand
from juxtakine.core.movement.features import Features, seen
from juxtakine.core.movement.tracks import Bools, Floats

LEAST_FOR_LINE = 8
REFIT_S = 0.03
"""A constant lag beyond this is taken out of the fit of the view, which is then made again."""
NEARLY = 0.95
LEAST_SEEN = 0.5
"""Share of the sheet's stretch in which the person must be seen for anything to be said."""


class CompareError(ValueError):
    """Two recordings that can't be compared; the message is a sentence for the student."""


def compare(
    reference: Features, take: Features, sheet: Sheet, reference_grid: Grid, common: CommonTime,
    sides: KnownSides = UNSAID,
) -> Comparison:  # fmt: skip
    """Everything told of a take beside one reference. Raises as `measure` does."""
    return told(measure(reference, take, sheet, reference_grid, common, sides), sheet)


def told(measured: Measured, sheet: Sheet) -> Comparison:
    """What was measured, with its causes, its rows and the order in which to redrill them."""
    results = causes.explained(measured.counts, measured.evidence)
    rows = tuple(
        phrases.of_phrase(n, start, [r for r in results if r.count.phrase == n])
        for n, start in enumerate(sheet.starts(), 1)
    )
    m = measured
    return Comparison(m.alignment, m.mirror, m.turned_deg, m.unlikeness, results, rows, phrases.redrill(rows))


def measure(
    reference: Features, take: Features, sheet: Sheet, reference_grid: Grid, common: CommonTime,
    sides: KnownSides = UNSAID,
) -> Measured:  # fmt: skip
    """Each count by itself. Raises SheetError, and CompareError where too little of a person is seen."""
    counts = expand(sheet)
    at, goes_on = np.array([float(c.at) for c in counts]), np.array([c.goes_on for c in counts])
    _check_seen(reference, reference_grid, at, "The instructor", "the reference")
    _check_seen(take, common.grid, at, "You", "the take")
    view, mirrored = turned_back(sides, reference, take, reference_grid, common.grid, at)
    reference, take = view.reference, view.take
    lags = timing.lags(view, at, goes_on)
    if common.method is Method.MOVEMENT:
        common = replace(common, grid=_straightened(common.grid, at, lags))
        view = build(reference, take, reference_grid, common.grid, at)
        lags = timing.lags(view, at, goes_on)
    constant = _constant(lags)
    if abs(constant) > REFIT_S:
        view = build(reference, take, reference_grid, common.grid, at, constant)
        lags = timing.lags(view, at, goes_on)
        constant = _constant(lags)
    by_music = common.method is Method.SOUND
    # by hand no constant of the dancer can be told from the hand's: it belongs to the common time
    grid = common.grid if by_music else common.grid.shifted(constant)
    places = np.where(np.isfinite(lags.own), lags.own, constant)
    poses = positions(view, counts, places)
    inside = _inside(reference, reference_grid, at) & _inside(take, common.grid, at)
    times = np.column_stack([reference_grid.seconds(at), grid.seconds(at), grid.count_length(at)])
    results = tuple(
        _count(c, i, lags, constant, poses[i], times[i], by_music, bool(inside[i])) for i, c in enumerate(counts)
    )
    alignment = Alignment(
        common.method,
        float(grid.seconds(0.0) - reference_grid.seconds(0.0)),
        _tempo_ratio(reference_grid, grid, at),
        common.certainty,
        1000 * constant if by_music else None,
    )
    turned = float(np.degrees(view.turn.magnitude()))
    evidence = _evidence(view, lags, counts, at, constant)
    return Measured(alignment, mirrored, turned, view.unlikeness, results, evidence)


def nearest(measured: Sequence[Measured]) -> int:
    """Of one take measured beside several references, which one is seen from the nearest angle.

    Only those count by which nearly as much is measured as by the best of them: what a camera does not see can't be
    compared, however near it stands.
    """
    most = max(m.measured for m in measured)
    enough = [i for i, m in enumerate(measured) if m.measured >= NEARLY * most]
    return min(enough, key=lambda i: measured[i].turned_deg)


def _evidence(view: View, lags: timing.Lags, counts: Sequence[SheetCount], at: Floats, constant: float) -> Evidence:
    plain, mirrored = unlikeness_by_count(view, at, constant)
    phrase = np.array([c.phrase for c in counts])
    ranges = {int(n): size_of_ways(view, at[phrase == n], lags.path[phrase == n]) for n in np.unique(phrase)}
    # where a move is missing the path may follow the one after it
    ways = np.fmin(*(shares_of_way(view, at, late) for late in (lags.path, np.full(len(at), constant))))
    return Evidence(lags.motion, lags.own_least, ways, plain, mirrored, ranges)


def _constant(lags: timing.Lags) -> float:
    measured = lags.own[np.isfinite(lags.own)]
    return float(np.median(measured)) if len(measured) else 0.0


def _straightened(grid: Grid, at: Floats, lags: timing.Lags) -> Grid:
    """The grid with the line through all lags taken out: by movement, offset and tempo are the dancer's own.

    The line is Theil and Sen's (median of slopes), so that faults do not bend it.
    """
    good = np.isfinite(lags.own)
    if good.sum() < LEAST_FOR_LINE:
        return grid
    slope, height, _, _ = theilslopes(lags.own[good], at[good])
    return Grid(tuple(Anchor(a.at, a.seconds + height + slope * float(a.at)) for a in grid.anchors))


def _check_seen(features: Features, grid: Grid, at: Floats, who: str, where: str) -> None:
    """Counts beyond the recording do not matter here: a short take is measured as far as it goes."""
    if len(features.seconds) < 2:
        raise CompareError(f"Nobody was found in {where}. The whole body has to be in the picture.")
    stretch = np.arange(at[0], at[-1] + 0.25, 0.25)
    inside = stretch[_inside(features, grid, stretch)]
    if not len(inside):
        raise CompareError(f"None of the sheet's counts lies inside {where}. Look where its count 1 is.")
    share = float((seen(features.at(grid.seconds(inside))).mean(1) > 0.5).mean())
    if share < LEAST_SEEN:
        raise CompareError(
            f"{who} can be seen in only {share:.0%} of the counts of {where}. Film again with the whole body in shot."
        )


def _inside(features: Features, grid: Grid, at: Floats) -> Bools:
    seconds = grid.seconds(at)
    return np.asarray((seconds >= features.seconds[0]) & (seconds <= features.seconds[-1]))


def _tempo_ratio(reference: Grid, take: Grid, at: Floats) -> float:
    lasts = [float(g.seconds(at[-1]) - g.seconds(at[0])) for g in (reference, take)]
    return lasts[0] / lasts[1] if len(at) > 1 else 1.0


def _count(
    count: SheetCount, i: int, lags: timing.Lags, constant: float, position: Position, times: Floats, by_music: bool,
    inside: bool,
) -> CountResult:  # fmt: skip
    """`times` (3,): the count in the reference and in the take, and how long it lasts there."""
    reference_s, take_s, count_s = (float(t) for t in times)
    if not inside:
        position = Position(PositionVerdict.FREE if not count.posed else PositionVerdict.NOT_SEEN, None, {})
    told = _timing(count, i, lags, constant, count_s, inside)
    late = lags.own[i] if by_music else lags.own[i] - constant
    return CountResult(
        count, reference_s, take_s, take_s + float(late) if told.error_ms is not None else None,
        told, position, findings.of_count(count, told, position), bool(lags.moves[i]),
    )  # fmt: skip


def _timing(count: SheetCount, i: int, lags: timing.Lags, constant: float, count_s: float, inside: bool) -> Timing:
    if not count.timed:
        return Timing(TimingVerdict.FREE)
    if not inside or not lags.seen[i]:
        return Timing(TimingVerdict.NOT_SEEN)
    # of a move that goes on through a count, the pace is judged where it arrives
    if count.hold or count.goes_on or not np.isfinite(lags.own[i]):
        return Timing(TimingVerdict.UNMEASURABLE)
    error, se = float(lags.own[i]) - constant, float(lags.se[i])
    verdict = findings.timing_verdict(1000 * error, 1000 * se)
    return Timing(verdict, 1000 * error, error / count_s, 1000 * se)
