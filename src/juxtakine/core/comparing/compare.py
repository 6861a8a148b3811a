"""Compare: two cleaned movements and a sheet become a comparison."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from scipy.stats import theilslopes

from juxtakine.core.comparing import causes, findings, phrases, timing
from juxtakine.core.comparing.common_time import CommonTime
from juxtakine.core.comparing.counts_off import SHIFTS, carried_on, counts_off
from juxtakine.core.comparing.evidence import Evidence
from juxtakine.core.comparing.passing import PARTS, passing
from juxtakine.core.comparing.position import positions
from juxtakine.core.comparing.refused import ANOTHER_DANCE, check_alike, check_seen, inside_of
from juxtakine.core.comparing.results import (
    Alignment,
    Comparison,
    CountResult,
    Method,
    Mirror,
    Position,
    PositionVerdict,
    Timing,
    TimingVerdict,
    Untold,
)
from juxtakine.core.comparing.sides import UNSAID, KnownSides, turned_back, unlikeness_by_count
from juxtakine.core.comparing.styles import Measured
from juxtakine.core.comparing.view import View, build
from juxtakine.core.comparing.ways import shares_of_way, sizes_of_ways
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.sheets import Sheet, SheetCount, expand
from juxtakine.core.movement.features import LIMBS, Features
from juxtakine.core.movement.tracks import Bools, Floats

LEAST_FOR_LINE = 8
REFIT_S = 0.03
"""A constant lag beyond this is taken out of the fit of the view, which is then made again."""
SCATTERED_S, SLIPS_S, LEFT_IN_PARTS = 0.03, 0.08, 0.4
"""A slip for good: lags that scatter by more, lie later by more after it, and of whose scatter no more is left in its
two parts. (Of a drift half would be.)"""
MAY_BE = 2.0
"""So many of its standard errors more a lag may be, where it is asked what it explains."""
ELSEWHERE_DEG = 16.0
"""Mean over the limbs beyond which somebody is not where the reference is. (Of 195 lags that are told on 550 tuning
pairs, right ones leave 15 at most, and six of thirteen that are false 17 to 37.)"""
NEARLY = 0.95


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
    """Each count by itself. Raises SheetError; CompareError where too little of a person is seen, or another dance."""
    counts = expand(sheet)
    at, goes_on = np.array([float(c.at) for c in counts]), np.array([c.goes_on for c in counts])
    check_seen(reference, reference_grid, at, "The instructor", "the reference")
    check_seen(take, common.grid, at, "You", "the take")
    view, mirrored, common, off = _followed(sides, reference, take, reference_grid, common, at)
    reference, take = view.reference, view.take
    lags = timing.lags(view, at, goes_on)
    if common.method is Method.MOVEMENT:
        common = replace(common, grid=_straightened(common.grid, at, lags))
        view = build(reference, take, reference_grid, carried_on(common.grid, at, off), at)
        lags = timing.lags(view, at, goes_on)
    danced = view.take_grid
    constant = _constant(lags)
    if abs(constant) > REFIT_S:
        view = build(reference, take, reference_grid, danced, at, constant)
        lags = timing.lags(view, at, goes_on)
        constant = _constant(lags)
    by_music = common.method is Method.SOUND
    # by hand no constant of the dancer can be told from the hand's: it belongs to the common time
    grid = common.grid if by_music else common.grid.shifted(constant)
    late = lags.own + danced.seconds(at) - common.grid.seconds(at) - constant
    why = list(lags.why)
    _leave_out(late, why, _doubtful(late, lags), Untold.ANOTHER_MOVE)
    _leave_out(late, why, _carried(_signs(late, lags), at), Untold.BETWEEN)
    places = np.where(np.isfinite(late), lags.own, constant)
    poses = positions(view, counts, places)
    astray, by_what_is_off = _astray(_signs(late, lags), poses), _by_what_is_off(view, at, goes_on, lags, late, poses)
    if astray.any() or by_what_is_off.any():
        _leave_out(late, why, astray, Untold.ANOTHER_MOVE)
        _leave_out(late, why, by_what_is_off, Untold.BY_WHAT_IS_OFF)
        places[astray | by_what_is_off] = constant
        poses = positions(view, counts, places)
    inside = inside_of(reference, reference_grid, at) & inside_of(take, danced, at)
    judged = danced.seconds(at) + places
    times = np.column_stack([reference_grid.seconds(at), grid.seconds(at), judged, grid.count_length(at)])
    results = tuple(
        _count(c, i, lags, error_s, why[i], poses[i], times[i], bool(inside[i]))
        for i, (c, error_s) in enumerate(zip(counts, late.tolist(), strict=True))
    )
    check_alike(view.unlikeness, results)
    alignment = Alignment(
        common.method,
        float(grid.seconds(0.0) - reference_grid.seconds(0.0)),
        _tempo_ratio(reference_grid, grid, at),
        common.certainty,
        1000 * constant if by_music else None,
    )
    turned = float(np.degrees(view.turn.magnitude()))
    beyond = [{part: told.tolerance for part, told in p.parts.items() if told.beyond} for p in poses]
    tolerances = np.array([[parts.get(part, 0.0) for part in PARTS] for parts in beyond])
    explains = (late + np.sign(late) * MAY_BE * lags.se) / times[:, 3]
    on_their_way = passing(view, at, places, explains, tolerances)
    evidence = _evidence(view, lags, counts, at, _between(late, lags, at, constant), constant, on_their_way)
    return Measured(alignment, mirrored, turned, view.unlikeness, results, evidence)


def _followed(
    sides: KnownSides, reference: Features, take: Features, reference_grid: Grid, common: CommonTime, at: Floats
) -> tuple[View, Mirror, CommonTime, Floats]:
    """The view of how the counts (k,) were danced, what is told of the mirror, the common time, and by how many counts
    each was danced later than it says."""

    def laid(grid: Grid) -> tuple[View, Mirror]:
        return turned_back(sides, reference, take, reference_grid, grid, at)

    view, mirrored = laid(common.grid)
    telling = view
    if view.unlikeness > ANOTHER_DANCE:
        # it may be danced away from the music throughout: the cameras are then known where it fits
        count_s = float(common.grid.count_length(at.mean()))
        shifted = [laid(common.grid.shifted(shift * count_s))[0] for shift in SHIFTS if shift]
        telling = replace(min([view, *shifted], key=lambda v: v.unlikeness), take_grid=common.grid)
    off = counts_off(telling, at)
    if not off.any():
        return view, mirrored, common, off
    if common.method is not Method.SOUND:  # the first stretch then says where count 1 is
        begins = float(off[0] * common.grid.count_length(at[0]))
        common, off = replace(common, grid=common.grid.shifted(begins)), off - off[0]
    return *laid(carried_on(common.grid, at, off)), common, off


def nearest(measured: Sequence[Measured]) -> int:
    """Of one take measured beside several references, which one is seen from the nearest angle.

    Only those count by which nearly as much is measured as by the best of them: what a camera does not see can't be
    compared, however near it stands.
    """
    most = max(m.measured for m in measured)
    enough = [i for i, m in enumerate(measured) if m.measured >= NEARLY * most]
    return min(enough, key=lambda i: measured[i].turned_deg)


def _between(late_s: Floats, lags: timing.Lags, at: Floats, constant: float) -> Floats:
    """(k,) each count's lag, and of one that has none what its neighbours' say."""
    timed = np.isfinite(late_s)
    return np.interp(at, at[timed], lags.own[timed]) if timed.any() else np.full(len(at), constant)


def _evidence(
    view: View, lags: timing.Lags, counts: Sequence[SheetCount], at: Floats, lags_s: Floats, constant: float,
    on_their_way: tuple[Bools, Bools],
) -> Evidence:  # fmt: skip
    plain, mirrored = unlikeness_by_count(view, at, constant)
    phrase = np.array([c.phrase for c in counts])
    rows = [(int(n), phrase == n) for n in np.unique(phrase)]
    arrivals = [len({int(c.at) for c in counts if c.phrase == n and not (c.hold or c.goes_on)}) for n, _ in rows]
    sizes = sizes_of_ways(view, [at[row] for _, row in rows], [lags_s[row] for _, row in rows], arrivals)
    ranges = dict(zip((n for n, _ in rows), sizes, strict=True))
    # where a move is missing they may follow the one after it
    ways = np.fmin(*(shares_of_way(view, at, late) for late in (lags_s, np.full(len(at), constant))))
    return Evidence(lags.motion, lags.own_least, ways, plain, mirrored, *on_their_way, ranges)


def _constant(lags: timing.Lags) -> float:
    """What is the dancer's or the camera's throughout: the median; of who slips for good, that of before the slip."""
    own = lags.own[np.isfinite(lags.own)]
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


def _leave_out(late_s: Floats, why: list[Untold | None], which: Bools, reason: Untold) -> None:
    """In place: these (k,) lags are told no more, for this reason, where no earlier one holds."""
    for i in np.flatnonzero(which & np.isfinite(late_s)):
        late_s[i], why[i] = np.nan, reason


def _doubtful(late_s: Floats, lags: timing.Lags) -> Bools:
    """(k,) which lags are likelier those of another movement: such counts are judged where they should be."""
    rows = zip(1000 * late_s, 1000 * lags.se, lags.misfit, strict=True)
    return np.array([findings.doubtful(*row) for row in rows])


def _signs(late_s: Floats, lags: timing.Lags) -> Floats:
    """(k,) 1 where a lag would be told as behind, -1 as ahead, 0 as on; NaN where there is none."""
    rows = zip(1000 * late_s, 1000 * lags.se, strict=True)
    off = np.array([findings.timing_verdict(*row) is not TimingVerdict.ON for row in rows])
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


def _astray(signs: Floats, poses: Sequence[Position]) -> Bools:
    """(k,) which lags would be told though somebody is elsewhere there: they are another movement's as well."""
    limbs = ([abs(r.error) for p, r in pose.parts.items() if p in LIMBS and r.error is not None] for pose in poses)
    elsewhere = np.array([np.mean(off or [0.0]) > ELSEWHERE_DEG for off in limbs])
    return np.asarray(elsewhere & (np.abs(signs) == 1))


def _by_what_is_off(
    view: View, at: Floats, goes_on: Bools, lags: timing.Lags, late_s: Floats, poses: Sequence[Position]
) -> Bools:
    """(k,) which lags would be told only by parts that are off there or were on the whole count before, which was on
    time: an arm that comes from elsewhere has another way. (On an & they may only wait for a late count.)"""
    signs = _signs(late_s, lags)
    off = np.array([[p in pose.parts and pose.parts[p].beyond for p in LIMBS] for pose in poses])
    before = np.roll(off & ((signs == 0) & (at % 1 == 0))[:, None], 1, axis=0)
    before[0] = False
    off = (off | before) & (np.abs(signs) == 1)[:, None]
    channels = np.column_stack([np.repeat(off, 2, axis=1), np.zeros((len(at), 2), bool)])
    own, se = timing.lags_without(view, at, goes_on, lags, channels)
    rest = _signs(late_s + own - lags.own, replace(lags, se=se))
    return np.asarray(off.any(1) & (rest != signs))


def _scatter(lags: Floats) -> float:
    return float(np.mean(np.abs(lags - np.median(lags))))


def _straightened(grid: Grid, at: Floats, lags: timing.Lags) -> Grid:
    """The grid with the line through all lags taken out: by movement, offset and tempo are the dancer's own.

    The line is Theil and Sen's (median of slopes), so that faults do not bend it.
    """
    good = np.isfinite(lags.own)
    if good.sum() < LEAST_FOR_LINE:
        return grid
    slope, height, _, _ = theilslopes(lags.own[good], at[good])
    return Grid(tuple(Anchor(a.at, a.seconds + height + slope * float(a.at)) for a in grid.anchors))


def _tempo_ratio(reference: Grid, take: Grid, at: Floats) -> float:
    lasts = [float(g.seconds(at[-1]) - g.seconds(at[0])) for g in (reference, take)]
    return lasts[0] / lasts[1] if len(at) > 1 else 1.0


def _count(
    count: SheetCount, i: int, lags: timing.Lags, error_s: float, why: Untold | None, position: Position,
    times: Floats, inside: bool,
) -> CountResult:  # fmt: skip
    """`times` (4,): the count in the reference and in the take, where it was judged, and how long it lasts there."""
    reference_s, take_s, judged_s, count_s = (float(t) for t in times)
    if not inside:
        position = Position(PositionVerdict.FREE if not count.posed else PositionVerdict.NOT_SEEN, None, {})
    told = _timing(count, i, lags, error_s, why, count_s, inside)
    found = findings.of_count(count, told, position)
    matched_s = judged_s if told.error_ms is not None else None
    moves = bool(lags.moves[i])
    return CountResult(count, reference_s, take_s, matched_s, judged_s, told, position, found, moves)


def _timing(
    count: SheetCount, i: int, lags: timing.Lags, error_s: float, why: Untold | None, count_s: float, inside: bool
) -> Timing:
    reason = _untold(count, why, inside)
    if reason:
        return Timing(_VERDICTS.get(reason, TimingVerdict.UNMEASURABLE), why=reason)
    se = float(lags.se[i])
    verdict = findings.timing_verdict(1000 * error_s, 1000 * se)
    return Timing(verdict, 1000 * error_s, error_s / count_s, 1000 * se, float(lags.misfit[i]))


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
