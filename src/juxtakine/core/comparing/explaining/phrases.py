"""Phrases: how much each needs drilling, what kind of fault it is, and the order in which to redrill.

The need adds up how badly and how surely each scored count is off, so that a phrase with three late counts stands
before one with a single low arm; a third of a phrase's counts wholly off is the most there is. What only goes on from a
phrase before it is drilled there, and is no need of this one.
"""

from collections.abc import Sequence
from fractions import Fraction

import numpy as np

from juxtakine.core.comparing.results import (
    MEASURED,
    CountResult,
    Finding,
    FindingKind,
    PhraseKind,
    PhraseResult,
    Unit,
)

FULLY_OFF = {Unit.MILLISECONDS: 200.0, Unit.DEGREES: 45.0, Unit.LEGS: 0.25}
FULL_SHARE = 1 / 3
RUN_IN = 2
"""Counts danced before the first one with a finding."""


def of_phrase(number: int, start: int, counts: Sequence[CountResult]) -> PhraseResult:
    """One phrase's result from its counts, in order; `start` is where its 1 lies."""
    own = tuple(f for c in counts for f in c.findings)
    findings = (*(counts[0].within if counts else ()), *own)
    scored = [c for c in counts if not c.count.free]
    measured = sum(c.measured for c in scored)
    errors = [c.timing.error_ms for c in counts if c.timing.error_ms is not None]
    held = [c.position.held for c in counts if c.position.held is not None]
    first = min((f.start for f in own), default=None)
    return PhraseResult(
        number,
        float(np.mean(errors)) if errors else None,
        float(np.std(errors)) if errors else None,
        float(np.mean(held)) if held else None,
        _need(counts, len(scored)),
        _kind(own or findings, measured, len(scored)),
        Fraction(start) if first is None else first - RUN_IN,
        findings,
        measured,
        len(scored),
        bool(own),
    )


def redrill(phrases: Sequence[PhraseResult]) -> tuple[int, ...]:
    """Numbers of the phrases that need drilling, worst first.

    What only goes on from a fault of an earlier phrase is drilled there, where it began.
    """
    needy = [p for p in phrases if p.kind not in (PhraseKind.CLEAN, PhraseKind.UNCLEAR) and p.begins_here]
    return tuple(p.phrase for p in sorted(needy, key=lambda p: (-p.need, p.phrase)))


def badness(finding: Finding) -> float:
    """0 to 1: the finding's size against fully off, times its certainty."""
    if finding.unit is None:
        return finding.certainty
    size = 2 * abs(1 - finding.size) if finding.unit is Unit.RATIO else abs(finding.size) / FULLY_OFF[finding.unit]
    return min(1.0, size) * finding.certainty


def _need(counts: Sequence[CountResult], scored: int) -> float:
    """The worse half of a count is its timing or its worst part; both together are more than one.

    A finding for a stretch counts on each count of the phrase it begins in that it covers.
    """
    if not scored:
        return 0.0
    begin = counts[0].count.at
    total = 0.0
    for c in counts:
        here = [f for f in (*c.findings, *c.within) if f.start >= begin]
        times = max((badness(f) for f in here if f.unit is Unit.MILLISECONDS), default=0.0)
        poses = max((badness(f) for f in here if f.unit is not Unit.MILLISECONDS), default=0.0)
        total += 1 - (1 - times) * (1 - poses)
    return float(min(1.0, total / (FULL_SHARE * scored)))


def _kind(told: Sequence[Finding], measured: int, scored: int) -> PhraseKind:
    if not told:
        return PhraseKind.CLEAN if measured >= MEASURED * scored else PhraseKind.UNCLEAR
    weights: dict[PhraseKind, float] = {}
    for f in told:
        kind = _KIND_OF.get(f.kind, PhraseKind.POSITION)
        weights[kind] = weights.get(kind, 0.0) + badness(f) * (1 + float(f.end - f.start))
    return max(weights, key=lambda k: weights[k])


_KIND_OF = {
    FindingKind.EARLY: PhraseKind.TIMING,
    FindingKind.LATE: PhraseKind.TIMING,
    FindingKind.HURRIED: PhraseKind.TIMING,
    FindingKind.DRAGGED: PhraseKind.TIMING,
    FindingKind.LEFT_HOLD_EARLY: PhraseKind.TIMING,
    FindingKind.PACE: PhraseKind.TIMING,
    FindingKind.SLIP: PhraseKind.SLIP,
    FindingKind.DRIFT: PhraseKind.DRIFT,
    FindingKind.TURN: PhraseKind.TURN,
    FindingKind.WRONG_SIDE: PhraseKind.WRONG_SIDE,
    FindingKind.MISSING: PhraseKind.MEMORY,
    FindingKind.EXTRA: PhraseKind.MEMORY,
}
