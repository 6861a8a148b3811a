"""A comparison as files and the interface carry it."""

from fractions import Fraction
from typing import Literal

from pydantic import Field

from juxtakine.core.comparing import results as core
from juxtakine.core.counting.positions import to_decimal
from juxtakine.core.movement.body import Part
from juxtakine.core.telling.findings import said
from juxtakine.pipeline.forms import Error, Form, MaybeSeconds, MaybeShare, MaybeTenths, Seconds, Share

Counts = tuple[core.CountResult, ...]


class AlignmentForm(Form):
    method: core.Method
    offset_s: Seconds
    tempo_ratio: Seconds
    certainty: Share
    constant_lag_ms: MaybeTenths


class MirrorForm(Form):
    """Whether the movements are mirror images of each other; null where it could not be told."""

    used: bool | None
    whose: Literal["take", "reference"] | None = None
    certainty: Share


class TimingForm(Form):
    error_ms: MaybeTenths
    error_counts: Error
    se_ms: MaybeTenths
    start_ms: MaybeTenths
    verdict: core.TimingVerdict
    why: core.Untold | None


class PartForm(Form):
    error: Error
    unit: core.Unit
    seen: Share
    verdict: core.PositionVerdict
    follows: Part | None


class PositionForm(Form):
    held: MaybeShare
    verdict: core.PositionVerdict
    parts: dict[Part, PartForm]


class FindingForm(Form):
    kind: core.FindingKind
    part: Part | None
    start: float = Field(alias="from")
    end: float = Field(alias="to")
    size: Error
    unit: core.Unit | None
    certainty: Share
    text: str


class CountForm(Form):
    phrase: int
    label: str
    at: float
    hold: bool
    reference_s: Seconds
    take_s: Seconds
    matched_s: MaybeSeconds
    timing: TimingForm
    position: PositionForm
    findings: list[FindingForm]


class PhraseResultForm(Form):
    phrase: int
    timing_ms: MaybeTenths
    timing_spread_ms: MaybeTenths
    held: MaybeShare
    need: Share
    kind: core.PhraseKind
    start_at: float
    findings: list[FindingForm]


class ComparisonForm(Form):
    form: Literal["juxtakine/comparison-1"] = Field("juxtakine/comparison-1", alias="schema")
    alignment: AlignmentForm
    mirror: MirrorForm
    counts: list[CountForm]
    phrases: list[PhraseResultForm]
    redrill: list[int]

    @classmethod
    def of(cls, c: core.Comparison) -> "ComparisonForm":
        return cls(
            alignment=AlignmentForm(**vars(c.alignment)),
            mirror=MirrorForm(used=c.mirror.used, whose=c.mirror.whose, certainty=c.mirror.certainty),
            counts=[_count(r, c.counts) for r in c.counts],
            phrases=[_phrase_result(p, c.counts) for p in c.phrases],
            redrill=list(c.redrill),
        )


def _count(r: core.CountResult, every: Counts) -> CountForm:
    return CountForm(
        phrase=r.count.phrase, label=r.count.label, at=to_decimal(r.count.at), hold=r.count.hold,
        reference_s=r.reference_s, take_s=r.take_s, matched_s=r.matched_s,
        timing=TimingForm.model_validate(r.timing, from_attributes=True), position=_position(r.position),
        findings=[_finding(f, every) for f in r.findings],
    )  # fmt: skip


def _position(p: core.Position) -> PositionForm:
    return PositionForm(held=p.held, verdict=p.verdict, parts={k: _part(v) for k, v in p.parts.items()})


def _part(p: core.PartResult) -> PartForm:
    return PartForm(error=p.error, unit=p.unit, seen=p.seen, verdict=p.verdict, follows=p.follows)


def _finding(f: core.Finding, every: Counts) -> FindingForm:
    return FindingForm(
        kind=f.kind, part=f.part, start=to_decimal(f.start), end=to_decimal(f.end), size=f.size, unit=f.unit,
        certainty=f.certainty, text=said(f, every),
    )  # fmt: skip


def _phrase_result(p: core.PhraseResult, every: Counts) -> PhraseResultForm:
    return PhraseResultForm(
        phrase=p.phrase, timing_ms=p.timing_ms, timing_spread_ms=p.timing_spread_ms, held=p.held, need=p.need,
        kind=p.kind, start_at=to_decimal(Fraction(p.start_at)), findings=[_finding(f, every) for f in p.findings],
    )  # fmt: skip
