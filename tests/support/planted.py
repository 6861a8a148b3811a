"""Planted faults against what a comparison tells of them."""

from dataclasses import dataclass

from juxtakine.core.comparing.results import Comparison, Finding, FindingKind
from juxtakine.demo.lantern_quay import Fault


@dataclass(frozen=True)
class Told:
    """What was told of planted faults: those that were `missed`, and findings that nobody planted."""

    missed: list[Fault]
    unplanted: list[Finding]
    timed_share: float


def told(comparison: Comparison, faults: tuple[Fault, ...]) -> Told:
    """Every fault of 120 ms or 30 degrees has to be told with its direction, or with its limb and side."""
    findings = [f for c in comparison.counts for f in c.findings]
    missed = [f for f in faults if not _is_told([x for x in findings if x.start <= f.at <= x.end], f)]
    unplanted = [
        f for c in comparison.counts for f in c.findings if f.sure and not any(_explains(p, f) for p in faults)
    ]
    moving = [c for c in comparison.counts if not c.count.hold and not c.count.free]
    return Told(missed, unplanted, sum(c.timing.verdict.measured for c in moving) / len(moving))


def _is_told(findings: list[Finding], fault: Fault) -> bool:
    """By findings that cover the fault's count; a slip tells all the late counts that it covers."""
    sure = [f for f in findings if f.sure]
    if fault.late_ms:
        kind = FindingKind.LATE if fault.late_ms > 0 else FindingKind.EARLY
        return any(f.kind in (kind, FindingKind.SLIP) for f in sure)
    return any(f.part == fault.part and (not fault.lower or f.size < 0) for f in sure)


def _explains(fault: Fault, finding: Finding) -> bool:
    """A fault shows on its own count, in its own part or one that hangs on it."""
    if float(finding.start) != fault.at:
        return False
    if fault.late_ms:
        return finding.kind in (FindingKind.LATE, FindingKind.EARLY, FindingKind.SLIP)
    return finding.part is not None
