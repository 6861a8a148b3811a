"""Findings: what is told of a count, with its size and how sure it is."""

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
