"""Causes before symptoms: what is told once, for a stretch, instead of on each of its counts.

A slip, a drift, a hold left early (`causes_in_time`); the other side, a turn, a move that is missing or one too many,
small ways (`causes_in_moves`). Each takes the place of what it explains.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from fractions import Fraction

from scipy.special import expit, logit

from juxtakine.core.comparing.causes_in_moves import cut_off, extra, missing, other_side, turns
from juxtakine.core.comparing.causes_in_time import left_early, slips_and_drifts
from juxtakine.core.comparing.evidence import STRETCHES, Evidence, Explains
from juxtakine.core.comparing.findings import LEAST_CERTAINTY
from juxtakine.core.comparing.results import SURE, CountResult, Finding, FindingKind, Timing, TimingVerdict

CLEARLY, AROUND, FOUR_TO_ONE = 0.9, Fraction(3, 2), 0.8
MISTAKEN, BESIDE, ALONE = (FindingKind.LIMB, FindingKind.HEAD, FindingKind.FACING), 0.3, 1.7
"""What the estimator now and then sees far off is less likely to be off than its errors let think (logarithm of the
odds): by so much where something else clearly is off as well, by so much where nothing is more than AROUND counts away.
On 880 tuning pairs, of what its errors alone would put at four to eleven to one, 23 of 34 came true beside another
fault, and 16 of 31 alone."""
FLATTER, STEEPER = 0.5, 1.5
"""What is then left at four to one is just sure (SURE); so much slower the odds of a part rise above that than its
errors let think, and so much quicker they fall below: a part is mistaken seldom, but then by much. All findings, as
said and as they came true, on the same pairs and on 180 on which the bar alone was chosen as well: 75 and 71 % (n 78;
70, n 20), 85 and 90 (n 111; 82, n 22), 94 and 92 (n 109; 90, n 21), 99.7 and 99 (n 778; 99, n 118)."""


def explained(results: Sequence[CountResult], evidence: Evidence) -> tuple[CountResult, ...]:
    """The same counts, with findings for stretches on their first count, and none for what these explain."""
    told = tuple(results)
    for cause in (other_side, turns, missing, extra, slips_and_drifts, left_early, cut_off):
        for found, explains in cause(told, evidence):
            if found.sure:  # what is only perhaps the cause must not take away what is surely seen
                told = _told(told, found, explains)
    return tuple(_hold(r) for r in _doubted(told))


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


def _doubted(results: Sequence[CountResult]) -> Iterator[CountResult]:
    """Parts are about as sure as such ones came true. Limbs, heads and facings are less sure where they alone are off:
    where a take is right but for one part on one count, that is likelier an error of the estimator's than where others
    are off as well, as many parts were looked at on many counts."""
    clear = [f for r in results for f in r.findings if f.certainty >= CLEARLY]

    def doubted(f: Finding) -> Finding:
        if f.part is None:
            return f
        beside = any(o.end < f.start - AROUND or o.start > f.end + AROUND for o in clear)
        doubt = (BESIDE if beside else ALONE) if f.kind in MISTAKEN else 0.0
        beyond = logit(f.certainty) - logit(FOUR_TO_ONE) - doubt
        return replace(f, certainty=float(expit(logit(SURE) + beyond * (FLATTER if beyond > 0 else STEEPER))))

    return (replace(r, findings=_likely(map(doubted, r.findings))) for r in results)


def _likely(told: Iterable[Finding]) -> tuple[Finding, ...]:
    """What is likelier an error of the estimator's is none."""
    return tuple(f for f in told if f.certainty >= LEAST_CERTAINTY)


def _hold(r: CountResult) -> CountResult:
    """A hold that was left early is ahead; it has no arrival, and so no figure of its own."""
    left = any(f.kind is FindingKind.LEFT_HOLD_EARLY for f in r.findings)
    return replace(r, timing=Timing(TimingVerdict.AHEAD)) if left and r.count.hold and r.count.timed else r
