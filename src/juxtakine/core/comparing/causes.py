"""Causes before symptoms: what is told once, for a stretch, instead of on each of its counts.

A slip (late from one count on), a drift, a hold left early; a turn not made or one too many; the other side; a move
that is missing or one too many; ways cut off throughout a phrase. Each takes the place of what it explains.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import groupby, pairwise

import numpy as np
from scipy.special import expit, logit

from juxtakine.core.comparing.findings import LEAST_CERTAINTY, ON_MS
from juxtakine.core.comparing.results import SURE, CountResult, Finding, FindingKind, Timing, TimingVerdict, Unit
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.tracks import Floats

LEAST_MS = 60.0
"""A stretch is late or early as a whole from here on."""
LEAN_MS = 20.0
"""Counts at the beginning of a drift are hardly off yet: they belong to it from here on."""
SLIP_COUNTS, DRIFT_COUNTS = 3, 4
STEADY_MS = 35.0
"""How far the counts of a slip lie apart at most (standard deviation)."""
DRIFTS_BY_MS, LINE_SHARE = 90.0, 0.6
"""A drift grows by so much, and scatters about its line by less than this share of its whole spread."""
LEFT_EARLY_MS = 80.0
STANDS, STIRS = 0.5, 5.0
"""Share of the reference's way below which a move is missing; times its movement above which one is too many."""
LEAST_MOTION = 60.0
"""What counts as movement, in units of noise."""
ELSEWHERE_DEG = 15.0
"""Mean over the limbs from which on somebody is not where the reference arrives."""
TURNED_DEG = 40.0
ASIDE_DEG, MOST_ASIDE, ALIKE = 5.0, 4.0, 0.2
"""A count on which the limbs are so much nearer to the mirror image, in the mean, speaks once for the other side (or
against it), one on which they are much nearer so many times at most; from so many times on it says anything."""
NEARER = 0.7
"""So much nearer to the mirror image a stretch on the other side is as a whole."""
WHOLE = 0.2
"""So near to whole counts a slip is said to be so many."""
CLEARLY, AROUND, ALONE = 0.9, Fraction(3, 2), 1.2
MISTAKEN = (FindingKind.LIMB, FindingKind.HEAD, FindingKind.FACING)
"""What the estimator now and then sees far off, and is off where nothing clearly is more than so many counts away, is
less likely to be so by this much (logarithm of the odds). Fitted on 480 tuning pairs: of what was said to be 80 to 97 %
sure 71 % was true where nothing else was off, and 86 % where something was."""
FLATTER, STEEPER = 0.5, 2.5
"""So much slower the odds (logarithm) of a part rise above what is sure than its errors let think, and so much quicker
they fall below: a part is mistaken seldom, but then by much. On 880 tuning pairs, as said and as it came true: 66 and
60 % (n 65), 85 and 80 (n 146), 94 and 91 (n 139), 99.7 and 99.2 (n 793)."""
CUT_OFF, OTHERWISE = 0.92, 0.06
"""The share of the arms' ways below which they are cut off, and the standard error of it from which on they are other
ways, and not the same ones smaller."""
LEAST_USUAL = 0.95
"""Arms seem to go so much of their way by the view or the body alone: at least, and where no other phrases tell."""
ARMS = tuple(p for p in Part if p.endswith("arm"))


@dataclass(frozen=True)
class Evidence:
    """Per count (k,): how much the reference moves, and how much the take at least (units of noise); how far its limbs
    go from the count before, as a share of the reference's way; how far, in degrees, they are from the reference and
    from its mirror image. Per phrase the size of the arms' ways as a share of the reference's, with its standard error.
    """

    motion: Floats
    own_least: Floats
    ways: Floats
    plain_deg: Floats
    mirrored_deg: Floats
    ranges: dict[int, tuple[float, float]]


def explained(results: Sequence[CountResult], evidence: Evidence) -> tuple[CountResult, ...]:
    """The same counts, with findings for stretches on their first count, and none for what these explain."""
    told = tuple(results)
    for cause in (_other_side, _missing, _turns, _extra, _stretches, _left_early, _cut_off):
        for found, explains in cause(told, evidence):
            if found.sure:  # what is only perhaps the cause must not take away what is surely seen
                told = _told(told, found, explains)
    return tuple(_hold(r) for r in _doubted(told))


Explains = Callable[[Finding], bool]
Causes = Iterator[tuple[Finding, Explains]]


def _told(results: Sequence[CountResult], found: Finding, explains: Explains) -> tuple[CountResult, ...]:
    """With the finding on its first count, and without what it explains on all that it covers."""

    def changed(r: CountResult) -> CountResult:
        left = tuple(f for f in r.findings if f.kind in STRETCHES or not explains(f))
        if r.count.at == found.start:
            return replace(r, findings=(found, *left))
        return replace(r, findings=left, within=(*r.within, found))

    first = bisect_left(results, found.start, key=lambda r: r.count.at)
    beyond = bisect_right(results, found.end, key=lambda r: r.count.at)
    return (*results[:first], *map(changed, results[first:beyond]), *results[beyond:])


STRETCHES = frozenset(
    {
        FindingKind.SLIP, FindingKind.DRIFT, FindingKind.LEFT_HOLD_EARLY, FindingKind.TURN, FindingKind.WRONG_SIDE,
        FindingKind.MISSING, FindingKind.EXTRA, FindingKind.RANGE,
    }
)  # fmt: skip


LOST = STRETCHES - {FindingKind.DRIFT, FindingKind.LEFT_HOLD_EARLY}
"""Who has one of these danced something else than what is compared."""


def _everything(_: Finding) -> bool:
    return True


def _of_time(f: Finding) -> bool:
    return f.unit is Unit.MILLISECONDS


def _runs(results: Sequence[CountResult], off: Sequence[bool], whole: bool = False) -> Iterator[list[CountResult]]:
    """Stretches of neighbouring counts that are off, in one phrase or, `whole`, through the routine."""

    def alike(pair: tuple[bool, CountResult]) -> tuple[bool, int]:
        return bool(pair[0]), 0 if whole else pair[1].count.phrase

    for (is_off, _), group in groupby(zip(off, results, strict=True), key=alike):
        if is_off:
            yield [r for _, r in group]


def _chance(value: float, even: float, steep: float) -> float:
    return float(expit(steep * (value - even)))


def _other_side(results: Sequence[CountResult], e: Evidence) -> Causes:
    """The stretch of a phrase that speaks most for the other side, on some of whose counts both sides may be alike. One
    count alone only where the student went there: who stands may have been there before."""
    posed = np.array([r.count.posed for r in results])
    speaks = np.clip((e.plain_deg - e.mirrored_deg) / ASIDE_DEG, -MOST_ASIDE, MOST_ASIDE)
    speaks = np.where(posed, np.nan_to_num(speaks), 0.0)
    for _, group in groupby(range(len(results)), key=lambda i: results[i].count.phrase):
        rows = list(group)
        stretch = _most([float(s) for s in speaks[rows]])
        rows = [i for i in rows[stretch] if abs(speaks[i]) > ALIKE]
        if not rows or (len(rows) == 1 and not e.ways[rows[0]] > STANDS):
            continue
        run = results[rows[0] : rows[-1] + 1]
        if e.mirrored_deg[rows].sum() < NEARER * e.plain_deg[rows].sum():
            sure = _chance(float(speaks[rows].sum()), 2.5, 3.0)
            text = f"danced to the other side {_from_to(run)}"
            yield _finding(FindingKind.WRONG_SIDE, run, 0.0, None, sure, text), _everything


def _most(values: Sequence[float]) -> slice:
    """Where neighbouring values have the largest sum."""
    sums = np.concatenate([[0.0], np.cumsum(values)])
    gains = np.triu(sums[1:] - sums[:-1, None])
    first, last = np.unravel_index(int(gains.argmax()), gains.shape)
    return slice(int(first), int(last) + 1)


def _missing(results: Sequence[CountResult], e: Evidence) -> Causes:
    """The reference moves and the student stands, elsewhere: who stands where it arrives was only there before."""
    for i, r in enumerate(results):
        if r.count.hold or r.count.goes_on or not (r.count.timed or r.count.posed) or _is_told(r):
            continue
        share = float(e.ways[i])
        if share < STANDS and e.plain_deg[i] > ELSEWHERE_DEG:
            sure = _chance(STANDS - share, 0.0, 30.0)
            yield _finding(FindingKind.MISSING, [r], 0.0, None, sure, "this move is missing"), _everything


def _extra(results: Sequence[CountResult], e: Evidence) -> Causes:
    """The student moves in a hold of the reference, and is back for the next count."""
    for i, r in enumerate(results):
        following = results[i + 1].timing.error_ms if i + 1 < len(results) else None
        left = following is not None and following < -LEFT_EARLY_MS
        if not r.count.hold or left or e.own_least[i] < LEAST_MOTION or _is_told(r):
            continue
        times = float(e.own_least[i] / max(e.motion[i], 1.0))
        if times > STIRS:
            sure = _chance(times, STIRS + 1, 0.8)
            yield _finding(FindingKind.EXTRA, [r], 0.0, None, sure, "a move in the hold"), _everything


def _turns(results: Sequence[CountResult], e: Evidence) -> Causes:
    """From where the facing goes wrong until it is right again: two counts or more."""
    errors = [r.position.parts[Part.FACING].error if Part.FACING in r.position.parts else None for r in results]
    for run in _runs(results, [x is not None and abs(x) > TURNED_DEG for x in errors]):
        if len(run) < 2 or any(_is_told(r) for r in run):
            continue
        size = float(np.median([r.position.parts[Part.FACING].error or 0.0 for r in run]))
        se = float(np.median([r.position.parts[Part.FACING].se for r in run])) / len(run) ** 0.5
        words = "turned too little" if size < 0 else "turned too far"
        sure = _chance((abs(size) - TURNED_DEG / 2) / se, 2.0, 1.5)
        made = _finding(
            FindingKind.TURN, run, size, Unit.DEGREES, sure, f"{words} by {abs(size):.0f}° from {_span(run)}"
        )
        yield made, lambda f: not _of_time(f)


def _left_early(results: Sequence[CountResult], e: Evidence) -> Causes:
    """What follows a hold comes while it should still last."""
    for hold, after in pairwise(results):
        error, se = after.timing.error_ms, after.timing.se_ms
        if not hold.count.hold or error is None or se is None or error > -max(LEFT_EARLY_MS, 2 * se):
            continue
        if _is_told(after):
            continue
        sure = _chance((-error - ON_MS) / se, 1.0, 1.5)
        text = f"the hold is left {-error:.0f} ms early"
        yield _finding(FindingKind.LEFT_HOLD_EARLY, [hold, after], error, Unit.MILLISECONDS, sure, text), _of_time


def _stretches(results: Sequence[CountResult], e: Evidence) -> Causes:
    """Slips and drifts: runs of measured counts that are all late, or all early."""
    measured = [r for r in results if r.timing.error_ms is not None and not _is_told(r)]
    errors = np.array([r.timing.error_ms for r in measured], float)
    runs = ((sign, run) for sign in (1, -1) for run in _runs(measured, list(sign * errors > LEAN_MS), whole=True))
    slips = [s for s in (_slip(run, sign) for sign, run in runs) if s and s.sure]
    yield from ((s, _of_time) for s in slips)
    for sign in (1, -1):
        for run in _runs(measured, list(sign * errors > LEAN_MS)):
            drifted = _drift(run, sign)
            if drifted and not any(s.start <= drifted.end and drifted.start <= s.end for s in slips):
                yield drifted, _of_time


def _drift(run: list[CountResult], sign: int) -> Finding | None:
    """Later and later, or earlier and earlier."""
    errors = sign * np.array([r.timing.error_ms for r in run], float)
    grows, scatter = _line(run, errors)
    if len(run) < DRIFT_COUNTS or not _follows(grows, scatter, errors):
        return None
    text = f"drifts {'behind' if sign > 0 else 'ahead'} from {_span(run)}, by {errors[-1]:.0f} ms"
    sure = _chance(grows / max(scatter, 10.0), 3.0, 1.2)
    return _finding(FindingKind.DRIFT, run, sign * float(errors[-1]), Unit.MILLISECONDS, sure, text)


def _slip(run: list[CountResult], sign: int) -> Finding | None:
    """One late count, and all that follow late by about the same; or one left out, and all that follow early."""
    errors = sign * np.array([r.timing.error_ms for r in run], float)
    late = errors > max(LEAST_MS, float(np.median(errors)) / 2)
    # a count after it that is a little late, as any may be, is not of the slip
    origin, end = int(late.argmax()), len(late) - int(late[::-1].argmax())
    run, tail = run[origin:end], errors[origin:end]
    steady = tail.std() <= max(STEADY_MS, 0.3 * tail.mean())
    if len(tail) < SLIP_COUNTS or not late[origin:end].all() or not steady or _goes_on_growing(run, tail):
        return None
    size, se = float(np.median(tail)), float(np.median([r.timing.se_ms or 1.0 for r in run]))
    sure = _chance((size - ON_MS) / se * len(tail) ** 0.5, 2.0, 1.0)
    text = f"slips {'' if sign > 0 else 'ahead '}by {_in_counts(run, size)}, from {run[0].count.label} on"
    return _finding(FindingKind.SLIP, run, sign * size, Unit.MILLISECONDS, sure, text)


def _in_counts(run: Sequence[CountResult], size_ms: float) -> str:
    """ "190 ms", or "a count, 545 ms" where it is whole ones."""
    counts = abs(float(np.median([r.timing.error_counts or 0.0 for r in run])))
    whole = round(counts)
    if not whole or abs(counts - whole) > WHOLE:
        return f"{size_ms:.0f} ms"
    return f"{'a count' if whole == 1 else f'{whole} counts'}, {size_ms:.0f} ms"


def _goes_on_growing(run: Sequence[CountResult], errors: Floats) -> bool:
    """Whether in the first phrase they are a drift and no level, be it a small one."""
    here = sum(r.count.phrase == run[0].count.phrase for r in run)
    if here < DRIFT_COUNTS:
        return False
    grows, scatter = _line(run[:here], errors[:here])
    least = max(DRIFTS_BY_MS, float(errors.mean()) / 2)
    return 2 * grows > least and scatter <= LINE_SHARE * float(np.std(errors[:here]))


def _line(run: Sequence[CountResult], errors: Floats) -> tuple[float, float]:
    """By how much a straight line through the errors grows over the run, and how far they scatter about it."""
    if len(run) < 2:
        return 0.0, 0.0
    at = np.array([float(r.count.at) for r in run])
    slope, height = np.polyfit(at, errors, 1)
    return float(slope * (at[-1] - at[0])), float(np.std(errors - slope * at - height))


def _follows(grows: float, scatter: float, errors: Floats) -> bool:
    """Whether errors follow a line that grows, and not a level."""
    return grows > DRIFTS_BY_MS and scatter <= LINE_SHARE * float(np.std(errors))


def _cut_off(results: Sequence[CountResult], e: Evidence) -> Causes:
    """Arms whose ways are smaller throughout a phrase than in the others; not of who danced something else in it."""
    for phrase, (size, se) in e.ranges.items():
        rows = [r for r in results if r.count.phrase == phrase and r.count.posed]
        share = size / _usual_way([other for n, (other, _) in e.ranges.items() if n != phrase])
        if rows and share < CUT_OFF and se < OTHERWISE and not any(f.kind in LOST for r in rows for f in r.findings):
            sure = _chance((1 - share) / se, 3.2, 2.3)
            text = f"the arms go {share:.0%} of their way"
            made = _finding(FindingKind.RANGE, rows, share, Unit.RATIO, sure, text)
            yield made, lambda f: f.part in ARMS


def _usual_way(others: Sequence[float]) -> float:
    """What share of their ways the arms seem to go in the other phrases: of a little the view or the body is why."""
    return float(np.clip(np.median(others), LEAST_USUAL, 1.0)) if len(others) > 1 else LEAST_USUAL


def _doubted(results: Sequence[CountResult]) -> Iterator[CountResult]:
    """Parts are about as sure as such ones came true. Limbs, heads and facings are less sure where they alone are off:
    where a take is right but for one part on one count, that is likelier an error of the estimator's than where others
    are off as well, as many parts were looked at on many counts."""
    clear = [f for r in results for f in r.findings if f.certainty >= CLEARLY]

    def doubted(f: Finding) -> Finding:
        if f.part is None:
            return f
        beside = any(o.end < f.start - AROUND or o.start > f.end + AROUND for o in clear)
        beyond = logit(f.certainty) - logit(SURE) - (ALONE if f.kind in MISTAKEN and not beside else 0.0)
        return replace(f, certainty=float(expit(logit(SURE) + beyond * (FLATTER if beyond > 0 else STEEPER))))

    return (replace(r, findings=_likely(map(doubted, r.findings))) for r in results)


def _likely(told: Iterable[Finding]) -> tuple[Finding, ...]:
    """What is likelier an error of the estimator's is none."""
    return tuple(f for f in told if f.certainty >= LEAST_CERTAINTY)


def _from_to(run: Sequence[CountResult]) -> str:
    """ "from 3 & to 6", "on 7"."""
    return f"from {_span(run)}" if len(run) > 1 else f"on {run[0].count.label}"


def _span(run: Sequence[CountResult]) -> str:
    """ "3 & to 6"."""
    return f"{run[0].count.label} to {run[-1].count.label}"


def _is_told(r: CountResult) -> bool:
    return any(f.kind in STRETCHES for f in (*r.findings, *r.within))


def _finding(
    kind: FindingKind, run: Sequence[CountResult], size: float, unit: Unit | None, sure: float, text: str
) -> Finding:
    return Finding(kind, None, run[0].count.at, run[-1].count.at, size, unit, sure, text)


def _hold(r: CountResult) -> CountResult:
    """A hold that was left early is ahead; it has no arrival, and so no figure of its own."""
    left = any(f.kind is FindingKind.LEFT_HOLD_EARLY for f in r.findings)
    return replace(r, timing=Timing(TimingVerdict.AHEAD)) if left and r.count.hold and r.count.timed else r
