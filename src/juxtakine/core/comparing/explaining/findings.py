"""Findings: what is told of a count, with its size and how sure it is."""

import numpy as np

from juxtakine.core.comparing.position.chances import certainty, is_told
from juxtakine.core.comparing.results import (
    Finding,
    FindingKind,
    PartResult,
    Position,
    Timing,
    TimingVerdict,
    Unit,
)
from juxtakine.core.comparing.timing.verdicts import chance_off
from juxtakine.core.counting.sheets import SheetCount
from juxtakine.core.movement.body import Part

APART_MS, CHANCE = 80.0, 2.5
"""So far apart a move's start and its arrival lie to be told, and by more than so many standard errors."""
_KINDS = {
    Part.HEAD: FindingKind.HEAD,
    Part.TORSO: FindingKind.TORSO,
    Part.LEVEL: FindingKind.LEVEL,
    Part.SPREAD: FindingKind.SPREAD,
    Part.FACING: FindingKind.FACING,
}


def of_count(count: SheetCount, timing: Timing, position: Position) -> tuple[Finding, ...]:
    """All findings of one count, the timing first, then the parts by size against their tolerance."""
    parts = [(p, r) for p, r in position.parts.items() if is_told(r, p)]
    parts.sort(key=lambda pr: -abs(pr[1].error or 0.0) / pr[1].tolerance)
    return (*_of_timing(count, timing), *(_of_part(count, p, r) for p, r in parts))


def _of_timing(count: SheetCount, timing: Timing) -> tuple[Finding, ...]:
    if timing.verdict is TimingVerdict.ON:
        return _of_pace(count, timing)
    if not timing.verdict.measured:
        return ()
    error = timing.error_ms or 0.0
    kind = FindingKind.LATE if error > 0 else FindingKind.EARLY
    sure = chance_off(error, timing.se_ms or 1.0)
    return (Finding(kind, None, count.at, count.at, error, Unit.MILLISECONDS, sure, timing.error_counts),)


def _of_pace(count: SheetCount, timing: Timing) -> tuple[Finding, ...]:
    """A move that arrives on its count, and starts so late that it is hurried, or so early that it is dragged."""
    if timing.error_ms is None or timing.se_ms is None or timing.start_ms is None or timing.start_se_ms is None:
        return ()
    apart, se = timing.start_ms - timing.error_ms, float(np.hypot(timing.se_ms, timing.start_se_ms))
    if abs(apart) <= APART_MS or abs(apart) <= CHANCE * se:
        return ()
    kind = FindingKind.HURRIED if apart > 0 else FindingKind.DRAGGED
    return (Finding(kind, None, count.at, count.at, apart, Unit.MILLISECONDS, chance_off(apart, se)),)


def _of_part(count: SheetCount, part: Part, result: PartResult) -> Finding:
    return Finding(
        _KINDS.get(part, FindingKind.LIMB), part, count.at, count.at, result.error or 0.0, result.unit,
        certainty(result, part),
    )  # fmt: skip
