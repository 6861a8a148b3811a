"""What a comparison told of a pair against what was planted: each row of the table is a list of hits or of errors."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from accuracy.faults import Planted
from accuracy.pairs import Pair
from juxtakine.core.comparing.results import Comparison, Finding, PositionVerdict, TimingVerdict, Unit
from juxtakine.core.telling.findings import said

TIMED = ("early", "late", "slip", "drift", "left-hold-early")
BIG_MS = 80.0
CLEAN_MS = 40.0
SIDES_DEG = 20.0
"""How far the arms must be apart in the mean for anybody to see to which side is danced."""


@dataclass
class Scores:
    """`hits` and `values` by the name of their row; `misses` are said for looking at."""

    hits: dict[str, list[bool]] = field(default_factory=lambda: defaultdict(list))
    values: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    pairs: dict[str, list[tuple[float, float, float]]] = field(default_factory=lambda: defaultdict(list))
    """Lags by row: true, true of the count before, told."""
    certainties: list[tuple[float, bool]] = field(default_factory=list)
    misses: list[str] = field(default_factory=list)

    def add(self, other: "Scores") -> None:
        for mine, theirs in ((self.hits, other.hits), (self.values, other.values)):
            for key, rows in theirs.items():
                mine[key] += rows  # type: ignore[operator]
        for row, lags in other.pairs.items():
            self.pairs[row] += lags
        self.certainties += other.certainties
        self.misses += other.misses


def scored(pair: Pair, told: Comparison) -> Scores:
    scores = Scores()
    _timing(pair, told, scores)
    _faults(pair, told, scores)
    _clean(pair, told, scores)
    _order(pair, told, scores)
    unknowable = pair.routine.symmetrical and told.mirror.used is None
    right = unknowable or bool(told.mirror.used) == pair.conditions.mirrored
    scores.hits["mirror images or not"].append(right)
    if not right:
        scores.misses.append(f"{pair.seed} {pair.routine.kind} mirror told {told.mirror} {pair.conditions}")
    return scores


def near_fault(pair: Pair, at: float, before: float = 1.0, after: float = 1.0) -> bool:
    return any(p.covers(at, before, after) for p in pair.planted)


def _timing(pair: Pair, told: Comparison, scores: Scores) -> None:
    hard = "hard" if pair.conditions.hard else "full tempo"
    plain = [
        lag for at, lag in pair.true_lag_ms.items() if not any(p.kind in TIMED and p.covers(at) for p in pair.planted)
    ]
    constant = float(np.median(plain)) if plain else 0.0
    for c in told.counts:
        at = float(c.count.at)
        if at not in pair.true_lag_ms or any(
            p.kind in ("wrong-side", "missing", "extra") and p.covers(at, 1, 1) for p in pair.planted
        ):
            continue
        truth = pair.true_lag_ms[at] - constant
        scores.hits["measured at all: timing"].append(c.timing.verdict.measured)
        if c.timing.error_ms is None:
            if not near_fault(pair, at):
                scores.misses.append(
                    f"{pair.seed} {pair.routine.kind} {c.count.label} {c.count.phrase}: {c.timing.verdict.value}"
                )
            continue
        error = c.timing.error_ms - truth
        scores.values[f"timing error, {hard}"].append(error)
        if c.timing.se_ms:
            scores.hits["timing within two standard errors"].append(abs(error) <= 2 * c.timing.se_ms)
        clean = not near_fault(pair, at) and abs(truth) < CLEAN_MS
        if clean:
            wrong = c.timing.verdict is not TimingVerdict.ON
            scores.hits["false ahead or behind on clean counts"].append(wrong)
            if wrong:
                told_ms = f"{c.timing.error_ms:.0f}±{c.timing.se_ms:.0f}"
                scores.misses.append(f"{pair.seed} {pair.routine.kind} at {at}: false {told_ms} true {truth:.0f}")


def _faults(pair: Pair, told: Comparison, scores: Scores) -> None:
    for planted in pair.planted:
        row = _row(pair, planted)
        if row is None:
            continue
        planted = _as_it_lasts(pair, planted)
        findings = [f for f in all_findings(told) if f.sure]
        found = any(_tells(f, planted, pair.routine.symmetrical) for f in findings)
        scores.hits[row].append(found)
        if planted.kind in ("early", "late"):
            slow = "slow moves" if _goes_on(told, planted.start) else "all but slow moves"
            scores.hits[f"late or early by 80 ms and more, {slow}"].append(found)
        if not found:
            there = [f"{f.kind.value} {said(f, told.counts)}" for f in findings if planted.covers(float(f.start), 1, 1)]
            scores.misses.append(f"{pair.seed} {pair.routine.kind} missed {planted} {pair.conditions} told {there}")
        if planted.kind == "limb" and found:
            size = next(abs(f.size) for f in findings if _tells(f, planted, pair.routine.symmetrical))
            scores.values["size of a limb's error"].append(size - abs(planted.size))


def _goes_on(told: Comparison, at: float) -> bool:
    """Whether what arrives on this count is a move that went on through the one before."""
    before = [c.count for c in told.counts if float(c.count.at) < at - 1e-6]
    return bool(before) and before[-1].goes_on


def _as_it_lasts(pair: Pair, planted: Planted) -> Planted:
    """A lean or a turned head stays until the next move, also through a count that goes on."""
    if planted.kind not in ("torso", "head"):
        return planted
    following = next((m for m in pair.routine.moves if m > planted.start + 1e-6), planted.start + 1)
    return replace(planted, end=max(planted.start, following - 1))


def all_findings(told: Comparison) -> list[Finding]:
    return list(
        dict.fromkeys([*(f for c in told.counts for f in c.findings), *(f for p in told.phrases for f in p.findings)])
    )


def _row(pair: Pair, planted: Planted) -> str | None:
    if planted.kind in ("early", "late"):
        return "late or early by 80 ms and more, direction right" if abs(planted.size) >= BIG_MS else None
    if planted.kind == "wrong-side" and planted.size < SIDES_DEG:
        return None  # nobody can see it
    if planted.kind == "head" and pair.conditions.behind:
        return "head, the instructor from behind"
    if planted.kind == "limb":
        if abs(planted.size) < 20:
            return None
        big = "30°" if abs(planted.size) >= 30 else "20°"
        return f"limb {big} off, camera {'round' if pair.conditions.orbit_deg > 20 else 'on the same side'}"
    return planted.kind


def _tells(finding: Finding, planted: Planted, either_side: bool) -> bool:
    """Whether the finding is the planted fault; on `either_side` where nobody can see which is which."""
    at = planted.start
    kind = finding.kind.value
    here = abs(float(finding.start) - at) <= 0.26
    if planted.kind in ("early", "late"):
        after_hold = kind == "left-hold-early" and planted.kind == "early" and abs(float(finding.end) - at) <= 0.26
        return (here and kind == planted.kind) or after_hold
    if planted.kind == "facing" and kind == "turn":
        return here
    if planted.kind == "limb":
        side, of = (planted.part or "").split("-", 1)
        sides = ("left", "right") if either_side else (side,)
        return here and finding.part is not None and finding.part.value in {f"{s}-{of}" for s in sides}
    if planted.kind in ("level", "spread", "torso", "head", "facing"):
        there = planted.covers(float(finding.start), 0.26, 0.26)
        return there and finding.part is not None and finding.part.value == planted.part
    if planted.kind in ("slip", "missing", "extra"):
        return kind == planted.kind and abs(float(finding.start) - at) <= (1.01 if planted.kind == "slip" else 0.51)
    if planted.kind == "left-hold-early":
        return kind in ("left-hold-early", "early") and planted.covers(float(finding.start), 0.5, 0.5)
    return kind == planted.kind and planted.covers((float(finding.start) + float(finding.end)) / 2, 1, 1)


def _clean(pair: Pair, told: Comparison, scores: Scores) -> None:
    far = "up to 40°" if pair.conditions.orbit_deg > 20 else "up to 20°"
    for c in told.counts:
        at = float(c.count.at)
        clean = not near_fault(pair, at, 1.01, 1.51)
        if clean:
            false = [f for f in c.findings if f.sure and f.unit is not Unit.MILLISECONDS]
            scores.hits[f"false position finding on clean counts, camera {far} round"].append(bool(false))
            scores.misses += [
                f"{pair.seed} {pair.routine.kind} at {at}: false {said(f, told.counts)} ({f.certainty:.2f}) "
                f"{pair.conditions}"
                for f in false
            ]
            if not pair.planted:
                scores.hits["measured at all: positions"].append(c.position.verdict is not PositionVerdict.NOT_SEEN)
    for f in all_findings(told):
        explained = any(
            p.covers(float(f.start), 1.01, 1.51) or p.covers(float(f.end), 1.01, 1.51) for p in pair.planted
        )
        scores.certainties.append((f.certainty, explained))


def _order(pair: Pair, told: Comparison, scores: Scores) -> None:
    planted = [p for p in pair.planted if _row(pair, p)]
    faulty = _phrases(pair, planted)
    # what is too small to be asked for may come or not
    small = _phrases(pair, [p for p in pair.planted if p not in planted]) - faulty
    who = f"{pair.seed} {pair.routine.kind}"
    if faulty:
        first = set([n for n in told.redrill if n not in small][: len(faulty)]) == faulty
        scores.hits["faulty eights first in the order"].append(first)
        if not first:
            scores.misses.append(f"{who} order {told.redrill}, faulty {faulty} {[(p.kind, p.start) for p in planted]}")
    if not pair.planted:
        scores.hits["nothing to redrill in clean takes"].append(not told.redrill)
        if told.redrill:
            scores.misses.append(f"{who} clean take: redrill {told.redrill} {pair.conditions}")


def _phrases(pair: Pair, planted: Sequence[Planted]) -> set[int]:
    """The numbers of those in which they show."""
    starts = enumerate(pair.routine.sheet.starts(), 1)
    return {n for n, s in starts if any(p.start < s + 8 and p.end >= s for p in planted)}
