"""Causes in time: a slip (late from one count on), a drift, a hold that is left early."""

from collections.abc import Sequence
from itertools import groupby, pairwise

import numpy as np

from juxtakine.core.comparing.explaining.evidence import Causes, Evidence, chance, is_told, of_stretch, of_time, runs
from juxtakine.core.comparing.results import CountResult, Finding, FindingKind, Unit
from juxtakine.core.comparing.timing.verdicts import ON_MS
from juxtakine.core.movement.tracks import Floats

LEAST_MS = 60.0
"""A stretch is late or early as a whole from here on."""
LEAN_MS = 10.0
"""Counts at the beginning of a drift are hardly off yet: they belong to it from here on."""
SLIP_COUNTS, DRIFT_COUNTS, DRIFT_LASTS = 3, 3, 3
STEADY_MS = 35.0
"""How far the counts of a slip lie apart at most (standard deviation)."""
DRIFTS_BY_MS, LINE_SHARE = 90.0, 0.6
"""A drift grows by so much, and scatters about its line by less than this share of its whole spread."""
NOT_ALONE = 1 / 4
"""The second latest count of a drift is at least so late, of the latest: or else that is one late count."""
LEFT_EARLY_MS = 80.0


def other_pace(results: Sequence[CountResult], e: Evidence) -> Causes:
    """A stretch that is danced slower or quicker than the counts. It explains all in it, that the count before it
    already comes late or early, and what follows as well, until the student is with the music again."""
    for is_other, group in groupby(range(len(results)), key=lambda i: bool(e.pace[i])):
        rows = list(group)
        if not is_other:
            continue
        end = rows[-1] + 1
        while end < len(results) and e.off[end]:
            end += 1
        before = e.off[rows[0] - 1] if rows[0] else e.off[rows[0]]
        lasts = float(results[rows[-1]].count.at - results[rows[0]].count.at) + 1
        share = lasts / max(lasts + float(e.off[rows[-1]] - before), 1.0)
        first = rows[0] - (1 if rows[0] and any(map(of_time, results[rows[0] - 1].findings)) else 0)
        run, last = results[first:end], results[rows[-1]].count.at
        sure = float(np.mean(e.pace[rows]))
        yield of_stretch(FindingKind.PACE, run, share, Unit.RATIO, sure), lambda f: of_time(f) or f.start <= last  # noqa: B023


def slips_and_drifts(results: Sequence[CountResult], e: Evidence) -> Causes:
    """Slips and drifts: runs of measured counts that are all late, or all early."""
    measured = [r for r in results if r.timing.error_ms is not None and not is_told(r)]
    errors = np.array([r.timing.error_ms for r in measured], float)
    off = ((sign, run) for sign in (1, -1) for run in runs(measured, list(sign * errors > LEAN_MS), whole=True))
    slips = [s for s in (_slip(run, sign) for sign, run in off) if s and s.sure]
    yield from ((s, of_time) for s in slips)
    for sign in (1, -1):
        for run in runs(measured, list(sign * errors > LEAN_MS)):
            drifted = _drift(run, sign)
            if drifted and not any(s.start <= drifted.end and drifted.start <= s.end for s in slips):
                yield drifted, of_time


def left_early(results: Sequence[CountResult], e: Evidence) -> Causes:
    """What follows a hold comes while it should still last."""
    for hold, after in pairwise(results):
        error, se = after.timing.error_ms, after.timing.se_ms
        if not hold.count.hold or error is None or se is None or error > -max(LEFT_EARLY_MS, 2 * se):
            continue
        if is_told(after):
            continue
        sure = chance((-error - ON_MS) / se, 1.0, 1.5)
        yield of_stretch(FindingKind.LEFT_HOLD_EARLY, [hold, after], error, Unit.MILLISECONDS, sure), of_time


def _drift(run: list[CountResult], sign: int) -> Finding | None:
    """Later and later, or earlier and earlier."""
    if not _lasts(run):
        return None
    errors = sign * np.array([r.timing.error_ms for r in run], float)
    grows, scatter = _line(run, errors)
    if not _follows(grows, scatter, errors) or np.sort(errors)[-2] < errors.max() * NOT_ALONE:
        return None
    sure = chance(grows / max(scatter, 10.0), 3.0, 1.2)
    return of_stretch(FindingKind.DRIFT, run, sign * float(errors[-1]), Unit.MILLISECONDS, sure)


def _slip(run: list[CountResult], sign: int) -> Finding | None:
    """One late count, and all that follow late by about the same; or one left out, and all that follow early."""
    if len(run) < SLIP_COUNTS:
        return None
    errors = sign * np.array([r.timing.error_ms for r in run], float)
    late = errors > max(LEAST_MS, float(np.median(errors)) / 2)
    # a count after it that is a little late, as any may be, is not of the slip
    origin, end = int(late.argmax()), len(late) - int(late[::-1].argmax())
    run, tail = run[origin:end], errors[origin:end]
    steady = tail.std() <= max(STEADY_MS, 0.3 * tail.mean())
    if len(tail) < SLIP_COUNTS or not late[origin:end].all() or not steady or _goes_on_growing(run, tail):
        return None
    size, se = float(np.median(tail)), float(np.median([r.timing.se_ms or 1.0 for r in run]))
    sure = chance((size - ON_MS) / se * len(tail) ** 0.5, 2.0, 1.0)
    counts = float(np.median([r.timing.error_counts or 0.0 for r in run]))
    return of_stretch(FindingKind.SLIP, run, sign * size, Unit.MILLISECONDS, sure, counts)


def _goes_on_growing(run: Sequence[CountResult], errors: Floats) -> bool:
    """Whether in the first phrase they are a drift and no level, be it a small one."""
    here = sum(r.count.phrase == run[0].count.phrase for r in run)
    if not _lasts(run[:here]):
        return False
    grows, scatter = _line(run[:here], errors[:here])
    least = max(DRIFTS_BY_MS, float(errors.mean()) / 2)
    return 2 * grows > least and scatter <= LINE_SHARE * float(np.std(errors[:here]))


def _lasts(run: Sequence[CountResult]) -> bool:
    """Long enough for a drift: of a slow dance few counts are measured, of a quick one two may be the next one's."""
    return len(run) >= DRIFT_COUNTS and run[-1].count.at - run[0].count.at >= DRIFT_LASTS


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
