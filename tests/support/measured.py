"""What was measured of a made-up sheet, with what a test says is off; and what is told of it."""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

import numpy as np

from juxtakine.core.comparing.explaining.causes import explained
from juxtakine.core.comparing.explaining.evidence import Evidence
from juxtakine.core.comparing.explaining.findings import of_count
from juxtakine.core.comparing.explaining.transit import PARTS
from juxtakine.core.comparing.results import (
    CountResult,
    FindingKind,
    PartResult,
    Position,
    PositionVerdict,
    Timing,
    TimingVerdict,
    Unit,
    Way,
)
from juxtakine.core.comparing.timing.verdicts import timing_verdict
from juxtakine.core.counting.sheets import Phrase, Sheet, expand
from juxtakine.core.movement.body import Part
from juxtakine.core.telling.remarks import Remark, remarks

SHEET = Sheet("", (Phrase("a", 8, "1 2 3 4 5 6 7 8"), Phrase("b", 4, "1 2 3 4"), Phrase("c", 8, "1 2 3 & 4 - 6 7 8")))
COUNTS = expand(SHEET)
SE = 8.0
HELD = Position(
    PositionVerdict.HELD, 1.0, {p: PartResult(1.0, Unit.DEGREES, 1.0, PositionVerdict.HELD, 3, 12) for p in Part}
)
QUIET = Evidence(
    motion=np.full(len(COUNTS), 900.0), own_least=np.zeros(len(COUNTS)), ways=np.ones(len(COUNTS)),
    plain_deg=np.full(len(COUNTS), 4.0), mirrored_deg=np.full(len(COUNTS), 40.0),
    coming=np.zeros((len(COUNTS), len(PARTS)), bool), going=np.zeros((len(COUNTS), len(PARTS)), bool),
    off=np.zeros(len(COUNTS)), pace=np.zeros(len(COUNTS)), ranges={},
)  # fmt: skip
"""The reference moves into each count, the student stands in holds, and does all else as it should be."""


def measured(late_ms: Sequence[float | None]) -> list[CountResult]:
    """Each count with its lag, and nothing else off; of a hold, and of None, no lag can be told."""
    out = []
    for count, ms in zip(COUNTS, late_ms, strict=True):
        timing = Timing(TimingVerdict.UNMEASURABLE)
        if ms is not None and not count.hold:
            timing = Timing(timing_verdict(ms, SE), ms, ms / 500, SE)
        out.append(CountResult(count, 0, 0, None, 0, timing, HELD, of_count(count, timing, HELD), not count.hold))
    return out


def seen(**changes: object) -> Evidence:
    """What the bodies show, changed on the counts that are named by their place in the sheet."""
    arrays = {k: np.array(v) for k, v in vars(QUIET).items() if k != "ranges"}
    for name, on in changes.items():
        if name != "ranges":
            for i, value in on.items():  # type: ignore[attr-defined]
                arrays[name][i] = value
    return Evidence(**arrays, ranges=changes.get("ranges", {}))  # type: ignore[arg-type]


def lines(result: CountResult, of: Sequence[CountResult] = (), styles: Sequence[str] = ()) -> list[Remark]:
    """What is told of a count: of a whole comparison, or of this one alone."""
    return list(remarks(result, of or [result], styles))


ON_TIME = [0.0] * len(COUNTS)


def stands(*on: int) -> list[CountResult]:
    """On time, but for some counts into which the student does not move."""
    return measured([None if i in on else 0.0 for i in range(len(COUNTS))])


HOLD = next(i for i, c in enumerate(COUNTS) if c.hold)
FAR = PartResult(30.0, Unit.DEGREES, 1.0, PositionVerdict.OFF, 3, 12, Way.LOW)


def off(results: list[CountResult], at: range, **parts: PartResult) -> list[CountResult]:
    """The same, with these parts off on some counts."""
    out = list(results)
    for i in at:
        named = {Part(name.replace("_", "-")): result for name, result in parts.items()}
        position = Position(PositionVerdict.OFF, 0.5, HELD.parts | named)
        found = of_count(COUNTS[i], out[i].timing, position)
        out[i] = replace(out[i], position=position, findings=found)
    return out


def told(results: list[CountResult], evidence: Evidence) -> list[tuple[FindingKind, Fraction, Fraction]]:
    made = explained(results, evidence)
    return [(f.kind, f.start, f.end) for r in made for f in r.findings if f.sure]
