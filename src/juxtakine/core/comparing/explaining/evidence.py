"""What causes are told from, and how the finding of a stretch is made."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby

from scipy.special import expit

from juxtakine.core.comparing.results import CountResult, Finding, FindingKind, Unit
from juxtakine.core.movement.tracks import Bools, Floats

STRETCHES = frozenset(
    {
        FindingKind.SLIP, FindingKind.DRIFT, FindingKind.LEFT_HOLD_EARLY, FindingKind.TURN, FindingKind.WRONG_SIDE,
        FindingKind.MISSING, FindingKind.EXTRA, FindingKind.RANGE, FindingKind.PACE,
    }
)  # fmt: skip


LOST = STRETCHES - {FindingKind.DRIFT, FindingKind.LEFT_HOLD_EARLY}
"""Who has one of these danced something else than what is compared."""


@dataclass(frozen=True)
class Evidence:
    """Per count (k,): how much the reference moves, and how much the take at least (units of noise); how far its limbs
    go from the count before, as a share of the reference's way; how far, in degrees, they are from the reference and
    from its mirror image; which parts are on their way to it and from it; by how many counts it is danced later than
    due, and how surely at another pace. Per phrase the size of the arms' ways as a share of the reference's, with its
    standard error."""

    motion: Floats
    own_least: Floats
    ways: Floats
    plain_deg: Floats
    mirrored_deg: Floats
    coming: Bools
    going: Bools
    off: Floats
    pace: Floats
    ranges: dict[int, tuple[float, float]]


Explains = Callable[[Finding], bool]
Causes = Iterator[tuple[Finding, Explains]]


def everything(_: Finding) -> bool:
    return True


def of_time(f: Finding) -> bool:
    return f.unit is Unit.MILLISECONDS


def runs(results: Sequence[CountResult], off: Sequence[bool], whole: bool = False) -> Iterator[list[CountResult]]:
    """Stretches of neighbouring counts that are off, in one phrase or, `whole`, through the routine."""

    def alike(pair: tuple[bool, CountResult]) -> tuple[bool, int]:
        return bool(pair[0]), 0 if whole else pair[1].count.phrase

    for (is_off, _), group in groupby(zip(off, results, strict=True), key=alike):
        if is_off:
            yield [r for _, r in group]


def chance(value: float, even: float, steep: float) -> float:
    return float(expit(steep * (value - even)))


def is_told(r: CountResult) -> bool:
    return any(f.kind in STRETCHES for f in (*r.findings, *r.within))


def of_stretch(
    kind: FindingKind, run: Sequence[CountResult], size: float, unit: Unit | None, sure: float,
    counts: float | None = None,
) -> Finding:  # fmt: skip
    return Finding(kind, None, run[0].count.at, run[-1].count.at, size, unit, sure, counts)
