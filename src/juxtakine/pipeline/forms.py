"""The forms that files and the interface carry (docs/formats.md), and their way to and from the core's values."""

from collections.abc import Mapping
from fractions import Fraction
from pathlib import Path
from typing import Annotated, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, PlainSerializer, ValidationError

from juxtakine.core.comparing import results as core
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.positions import from_decimal, to_decimal
from juxtakine.core.counting.sheets import Layer, Mark, Phrase, Score, Sheet
from juxtakine.core.movement.body import Part


class FormError(ValueError):
    """A file that does not have the form it should; the message says where and why."""


class Form(BaseModel):
    model_config = ConfigDict(populate_by_name=True, serialize_by_alias=True)


def _rounded(digits: int) -> PlainSerializer:
    return PlainSerializer(lambda v: None if v is None else round(v, digits), return_type=float | None)


Seconds = Annotated[float, PlainSerializer(lambda v: round(v, 4), return_type=float)]
MaybeSeconds = Annotated[float | None, _rounded(4)]
MaybeTenths = Annotated[float | None, _rounded(1)]
Share = Annotated[float, PlainSerializer(lambda v: round(v, 3), return_type=float)]
MaybeShare = Annotated[float | None, _rounded(3)]
Error = Annotated[float | None, _rounded(3)]


class MarkForm(Form):
    label: str
    cue: str = ""
    score: Score = Score.BOTH
    parts: list[Layer] = []


class PhraseForm(Form):
    name: str = ""
    counts: int = Field(8, ge=1, le=64)
    line: str
    swing: float = Field(0.5, ge=0.5, le=0.8)
    marks: list[MarkForm] = []


class SheetForm(Form):
    form: Literal["juxtakine/sheet-1"] = Field("juxtakine/sheet-1", alias="schema")
    title: str = ""
    phrases: list[PhraseForm] = []

    def value(self) -> Sheet:
        return Sheet(self.title, tuple(_phrase(p) for p in self.phrases))

    @classmethod
    def of(cls, sheet: Sheet) -> "SheetForm":
        return cls(title=sheet.title, phrases=[_phrase_form(p) for p in sheet.phrases])


def _phrase(p: PhraseForm) -> Phrase:
    marks = tuple(Mark(m.label, m.cue, m.score, frozenset(m.parts)) for m in p.marks)
    return Phrase(p.name, p.counts, p.line, from_decimal(p.swing), marks)


def _phrase_form(p: Phrase) -> PhraseForm:
    marks = [MarkForm(label=m.label, cue=m.cue, score=m.score, parts=sorted(m.parts)) for m in p.marks]
    return PhraseForm(name=p.name, counts=p.counts, line=p.line, swing=to_decimal(p.swing), marks=marks)


class AnchorForm(Form):
    at: float
    seconds: float


class GridForm(Form):
    form: Literal["juxtakine/grid-1"] = Field("juxtakine/grid-1", alias="schema")
    anchors: list[AnchorForm]

    def value(self) -> Grid:
        """Raises GridError."""
        return Grid(tuple(Anchor(from_decimal(a.at), a.seconds) for a in self.anchors))

    @classmethod
    def of(cls, grid: Grid) -> "GridForm":
        return cls(anchors=[AnchorForm(at=to_decimal(a.at), seconds=a.seconds) for a in grid.anchors])


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
    verdict: core.TimingVerdict


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
            mirror=MirrorForm(**vars(c.mirror)),
            counts=[_count(r) for r in c.counts],
            phrases=[_phrase_result(p) for p in c.phrases],
            redrill=list(c.redrill),
        )


def _count(r: core.CountResult) -> CountForm:
    return CountForm(
        phrase=r.count.phrase, label=r.count.label, at=to_decimal(r.count.at), hold=r.count.hold,
        reference_s=r.reference_s, take_s=r.take_s, matched_s=r.matched_s,
        timing=TimingForm(**vars(r.timing)), position=_position(r.position),
        findings=[_finding(f) for f in r.findings],
    )  # fmt: skip


def _position(p: core.Position) -> PositionForm:
    return PositionForm(held=p.held, verdict=p.verdict, parts={k: _part(v) for k, v in p.parts.items()})


def _part(p: core.PartResult) -> PartForm:
    return PartForm(error=p.error, unit=p.unit, seen=p.seen, verdict=p.verdict, follows=p.follows)


def _finding(f: core.Finding) -> FindingForm:
    return FindingForm(
        kind=f.kind, part=f.part, start=to_decimal(f.start), end=to_decimal(f.end), size=f.size, unit=f.unit,
        certainty=f.certainty, text=f.text,
    )  # fmt: skip


def _phrase_result(p: core.PhraseResult) -> PhraseResultForm:
    return PhraseResultForm(
        phrase=p.phrase, timing_ms=p.timing_ms, timing_spread_ms=p.timing_spread_ms, held=p.held, need=p.need,
        kind=p.kind, start_at=to_decimal(Fraction(p.start_at)), findings=[_finding(f) for f in p.findings],
    )  # fmt: skip


F = TypeVar("F", bound=Form)


def read_form(form: type[F], path: Path) -> F:
    """A JSON file in its form. Raises FormError with the first thing that is wrong."""
    try:
        return form.model_validate_json(path.read_bytes())
    except ValidationError as error:
        raise FormError(f"{path.name}: {first_problem(error.errors())}") from error


def first_problem(errors: list[Mapping[str, object]] | list[object]) -> str:
    """The first of pydantic's problems, as a place and a reason."""
    first = errors[0]
    assert isinstance(first, Mapping)
    place = ".".join(str(k) for k in first["loc"])  # type: ignore[attr-defined]
    return f"{place}: {first['msg']}" if place else str(first["msg"])
