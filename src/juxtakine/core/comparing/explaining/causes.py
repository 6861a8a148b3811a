"""Causes before symptoms: what is told once, for a stretch, instead of on each of its counts.

A slip, a drift, a hold left early (`causes_in_time`); the other side, a turn, a move that is missing or one too many,
small ways (`causes_in_moves`). Each takes the place of what it explains.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from fractions import Fraction

from scipy.special import expit, logit

from juxtakine.core.comparing.explaining.causes_in_moves import cut_off, extra, missing, other_side, turns
from juxtakine.core.comparing.explaining.causes_in_time import left_early, other_pace, slips_and_drifts
from juxtakine.core.comparing.explaining.evidence import STRETCHES, Evidence, Explains
from juxtakine.core.comparing.explaining.transit import PARTS
from juxtakine.core.comparing.results import SURE, CountResult, Finding, FindingKind, Timing, TimingVerdict, Untold
from juxtakine.core.movement.body import Part

CLEARLY, AROUND = 0.9, Fraction(3, 2)
MISTAKEN, ALONE = (FindingKind.LIMB, FindingKind.HEAD, FindingKind.FACING), 0.74
"""What the estimator now and then sees far off is less likely to be off (by so much, logarithm of the odds) where
nothing that is more than AROUND counts away clearly is; fitted with `noise.EVEN_ODDS`."""
PACE_AFTER = {FindingKind.LATE: FindingKind.HURRIED, FindingKind.EARLY: FindingKind.DRAGGED, None: None}
"""Who comes late to a count hurries to the next one, and that is no fault of its own."""


def explained(results: Sequence[CountResult], evidence: Evidence) -> tuple[CountResult, ...]:
    """The same counts, with findings for stretches on their first count, and none for what these explain."""
    told = tuple(results)
    for cause in (other_pace, other_side, turns, missing, extra, slips_and_drifts, left_early, cut_off):
        for found, explains in cause(told, evidence):
            if found.sure:  # what is only perhaps the cause must not take away what is surely seen
                told = _told(told, found, explains)
    return tuple(_hold(_rather(r)) for r in _doubted(tuple(_arrived(told, evidence))))


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


def _arrived(results: Sequence[CountResult], e: Evidence) -> Iterator[CountResult]:
    """Without findings of what is off only because its count comes late, or may for all that is known, or the next one
    early, or late after an &: parts on the reference's way. Who is late, and on time with the next, only passes
    through, and hurries to it."""
    late_before: FindingKind | None = None
    for i, r in enumerate(results):
        following = results[i + 1 : i + 2]
        late = any(f.kind is FindingKind.LATE for f in r.findings)
        hurried = any(f.kind is FindingKind.EARLY for n in following for f in n.findings)
        to = [n for n in following if r.count.at % 1 and n.count.at < r.count.at + 1]
        waits = any(f.kind is FindingKind.LATE for n in to for f in n.findings)
        left = hurried or any(f.kind is FindingKind.LEFT_HOLD_EARLY for f in r.findings)
        on_the_way = ((late or waits or r.untimed) & e.coming[i]) | ((late or left) & e.going[i])
        passing = {part for part, is_on_it in zip(PARTS, on_the_way, strict=True) if is_on_it}
        yield _without(r, passing, PACE_AFTER[late_before]) if passing or late_before else r
        late_before = next((f.kind for f in r.findings if f.kind in PACE_AFTER), None)


def _without(r: CountResult, passing: set[Part], pace: FindingKind | None) -> CountResult:
    """Parts that are passing have no finding, and say so; nor has a pace that the count before makes."""
    parts = {p: replace(x, passing=x.beyond and p in passing) for p, x in r.position.parts.items()}
    told = tuple(f for f in r.findings if f.part not in passing and f.kind is not pace)
    return replace(r, findings=told, position=replace(r.position, parts=parts))


def _doubted(results: Sequence[CountResult]) -> Iterator[CountResult]:
    """Limbs, heads and facings are less sure where they alone are off: where a take is right but for one part on one
    count, that is likelier an error of the estimator's than where others are off as well, as many parts were looked at
    on many counts."""
    clear = [f for r in results for f in r.findings if f.certainty >= CLEARLY]

    def doubted(f: Finding) -> Finding:
        if f.kind not in MISTAKEN or any(o.end < f.start - AROUND or o.start > f.end + AROUND for o in clear):
            return f
        return replace(f, certainty=float(expit(logit(f.certainty) - ALONE)))

    return (replace(r, findings=_likely(map(doubted, r.findings))) for r in results)


def _likely(told: Iterable[Finding]) -> tuple[Finding, ...]:
    """What is likelier an error of the estimator's is none."""
    return tuple(f for f in told if f.sure)


def _rather(r: CountResult) -> CountResult:
    """That one of two parts is off may be sure, and which of them less so."""
    parts = r.position.parts
    chances = [(f, parts[f.part].rather if f.part in parts else 1.0) for f in r.findings]
    told = (replace(f, certainty=max(SURE, f.certainty * rather)) for f, rather in chances)
    return replace(r, findings=tuple(told))


def _hold(r: CountResult) -> CountResult:
    """A hold that was left early is ahead; it has no arrival, and so no figure of its own."""
    left = any(f.kind is FindingKind.LEFT_HOLD_EARLY for f in r.findings)
    if not (left and r.count.hold and r.count.timed):
        return r
    return replace(r, timing=Timing(TimingVerdict.AHEAD, why=Untold.HOLD))
