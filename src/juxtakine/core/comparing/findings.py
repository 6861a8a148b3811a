"""Findings: what is told of a count, with its size and how sure it is."""

from juxtakine.core.comparing.chances import certainty, is_told
from juxtakine.core.comparing.results import (
    SURE,
    Finding,
    FindingKind,
    PartResult,
    Position,
    Timing,
    TimingVerdict,
    Unit,
)
from juxtakine.core.counting.sheets import SheetCount
from juxtakine.core.movement.body import Part

ON_MS = 50.0
"""A count is on within this and one and a half standard errors: it is said to be off where it surely is."""
UNSURE_PER_MS, OTHERWISE, LATE_STEEPNESS = 12.2, 1.65, 2.2
"""A lag beyond ON_MS by its standard error squared, times its misfit to the power OTHERWISE, over UNSURE_PER_MS is as
likely wrong as not, and the odds grow by the power STEEPNESS of how far it is beyond. What is badly known is wrong by
more than its standard error tells; and where much is left between the two movements at the lag that fits best, it was
another movement, and not the same one at another time. By maximum likelihood on the 1312 lags of 1380 tuning pairs that
are said to be off: misfit alone parts most of the 45 that are not."""
_KINDS = {
    Part.HEAD: FindingKind.HEAD,
    Part.TORSO: FindingKind.TORSO,
    Part.LEVEL: FindingKind.LEVEL,
    Part.SPREAD: FindingKind.SPREAD,
    Part.FACING: FindingKind.FACING,
}


def timing_verdict(error_ms: float, se_ms: float) -> TimingVerdict:
    if abs(error_ms) <= ON_MS + 1.5 * se_ms:
        return TimingVerdict.ON
    return TimingVerdict.BEHIND if error_ms > 0 else TimingVerdict.AHEAD


def chance_off(error_ms: float, se_ms: float, misfit: float) -> float:
    """0 to 1, that a count which is told as ahead or behind truly is."""
    beyond, even_ms = abs(error_ms) - ON_MS, se_ms**2 * misfit**OTHERWISE / UNSURE_PER_MS
    return float(1 / (1 + (even_ms / beyond) ** LATE_STEEPNESS)) if beyond > 0 else 0.0


def doubtful(error_ms: float, se_ms: float, misfit: float) -> bool:
    """Whether a count would be told as ahead or behind, and more likely is not."""
    off = timing_verdict(error_ms, se_ms) is not TimingVerdict.ON
    return off and chance_off(error_ms, se_ms, misfit) < SURE


def of_count(count: SheetCount, timing: Timing, position: Position) -> tuple[Finding, ...]:
    """All findings of one count, the timing first, then the parts by size against their tolerance."""
    parts = [(p, r) for p, r in position.parts.items() if is_told(r, p)]
    parts.sort(key=lambda pr: -abs(pr[1].error or 0.0) / pr[1].tolerance)
    return (*_of_timing(count, timing), *(_of_part(count, p, r) for p, r in parts))


def _of_timing(count: SheetCount, timing: Timing) -> tuple[Finding, ...]:
    if timing.verdict not in (TimingVerdict.AHEAD, TimingVerdict.BEHIND):
        return ()
    error = timing.error_ms or 0.0
    kind = FindingKind.LATE if error > 0 else FindingKind.EARLY
    sure = chance_off(error, timing.se_ms or 1.0, 1.0 if timing.misfit is None else timing.misfit)
    return (Finding(kind, None, count.at, count.at, error, Unit.MILLISECONDS, sure, timing.error_counts),)


def _of_part(count: SheetCount, part: Part, result: PartResult) -> Finding:
    return Finding(
        _KINDS.get(part, FindingKind.LIMB), part, count.at, count.at, result.error or 0.0, result.unit,
        certainty(result, part),
    )  # fmt: skip
