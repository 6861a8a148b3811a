"""The forms that files and the interface carry (docs/formats.md), and their way to and from the core's values."""

from collections.abc import Mapping
from fractions import Fraction
from pathlib import Path
from typing import Annotated, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, PlainSerializer, ValidationError

from juxtakine.core.comparing import results as core
from juxtakine.core.counting.dictionary import PatternError, Step, Style, actions_of
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.positions import from_decimal, to_decimal
from juxtakine.core.counting.sheets import Done, Easier, Foot, Layer, Mark, Phrase, Quality, Score, Sheet, expand
from juxtakine.core.counting.structure import Danced, Override, Written, unfolded
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


class DoneForm(Form):
    cue: str = ""
    quality: Quality | None = None


class MarkForm(Form):
    """`turn` in eighths, positive over the right shoulder; `weight` is where it is afterwards; `either`: two styles
    are right there."""

    label: str
    cue: str = ""
    score: Score = Score.BOTH
    parts: list[Layer] = []
    sounds: str = ""
    lyrics: str = ""
    layers: dict[Layer, DoneForm] = {}
    foot: Foot | None = None
    weight: Foot | None = None
    turn: int = Field(0, ge=-16, le=16)
    either: bool = False

    def value(self) -> Mark:
        layers = {k: Done(v.cue, v.quality) for k, v in self.layers.items() if v.cue or v.quality}
        return Mark(
            self.label, self.cue, self.score, frozenset(self.parts), self.sounds, self.lyrics, layers, self.foot,
            self.weight, self.turn, self.either,
        )  # fmt: skip

    @classmethod
    def of(cls, m: Mark) -> "MarkForm":
        layers = {k: DoneForm(cue=v.cue, quality=v.quality) for k, v in m.layers.items()}
        return cls(
            label=m.label, cue=m.cue, score=m.score, parts=sorted(m.parts), sounds=m.sounds, lyrics=m.lyrics,
            layers=layers, foot=m.foot, weight=m.weight, turn=m.turn, either=m.either,
        )  # fmt: skip


class EasierForm(Form):
    line: str
    marks: list[MarkForm] = []


Clock = Annotated[float, Field(ge=0, le=12, multiple_of=1.5)]
"""A facing as on a clock seen from above: 12 the front, 3 the dancer's right, 1.5 between them."""


def to_clock(eighths: int) -> float:
    return eighths % 8 * 1.5 or 12.0


def from_clock(clock: float) -> int:
    return round(clock / 1.5) % 8


class PhraseForm(Form):
    name: str = ""
    counts: int = Field(8, ge=1, le=64)
    line: str
    swing: float = Field(0.5, ge=0.5, le=0.8)
    marks: list[MarkForm] = []
    section: str = Field("", pattern="^[^,]*$")
    weight: Foot | None = None
    facing: Clock | None = None
    easier: EasierForm | None = None

    def value(self) -> Phrase:
        marks = tuple(m.value() for m in self.marks)
        easier = self.easier and Easier(self.easier.line, tuple(m.value() for m in self.easier.marks))
        facing = None if self.facing is None else from_clock(self.facing)
        swing = from_decimal(self.swing)
        return Phrase(self.name, self.counts, self.line, swing, marks, self.section, self.weight, facing, easier)

    @classmethod
    def of(cls, p: Phrase) -> "PhraseForm":
        easier = p.easier and EasierForm(line=p.easier.line, marks=[MarkForm.of(m) for m in p.easier.marks])
        return cls(
            name=p.name, counts=p.counts, line=p.line, swing=to_decimal(p.swing), section=p.section, weight=p.weight,
            marks=[MarkForm.of(m) for m in p.marks], facing=None if p.facing is None else to_clock(p.facing),
            easier=easier,
        )  # fmt: skip


class OverrideForm(Form):
    """In one repetition (from 1), a count of a row (from 1, as written) is marked otherwise."""

    repetition: int = Field(ge=1)
    row: int = Field(ge=1)
    mark: MarkForm


class StepForm(Form):
    """A step of one's own; `pattern` as in docs/formats.md, empty where it has no fixed counts."""

    name: str = Field(min_length=1)
    what: str = ""
    pattern: str = ""

    def value(self) -> Step:
        """Raises FormError."""
        try:
            return Step(self.name, self.what, actions_of(self.pattern))
        except PatternError as error:
            raise FormError(f"{self.name}: {error}") from error


class SheetForm(Form):
    """The routine as it is written; `order` says how its sections follow each other ("": as they stand), `ones` are the
    counts at which somebody heard a 1 of the music's own eights."""

    form: Literal["juxtakine/sheet-1"] = Field("juxtakine/sheet-1", alias="schema")
    title: str = ""
    phrases: list[PhraseForm] = []
    order: str = ""
    overrides: list[OverrideForm] = []
    dances: Danced = Danced.FULL
    walls: int | None = Field(None, ge=1, le=8)
    enters: int = Field(0, ge=0, le=64)
    ones: list[float] = []
    style: Style | None = None
    steps: list[StepForm] = []

    def written(self) -> Written:
        overrides = tuple(Override(o.repetition, o.row, o.mark.value()) for o in self.overrides)
        phrases = tuple(p.value() for p in self.phrases)
        return Written(self.title, phrases, self.order, overrides, self.dances, self.walls, self.enters,
                       tuple(map(from_decimal, self.ones)))  # fmt: skip

    def value(self) -> Sheet:
        """As it is danced. Raises LineError where the order can't be read."""
        return unfolded(self.written())

    def rewritten(self, written: Written) -> "SheetForm":
        """This form with what the core has changed."""
        overrides = [
            OverrideForm(repetition=o.repetition, row=o.row, mark=MarkForm.of(o.mark)) for o in written.overrides
        ]
        return self.model_copy(
            update={
                "title": written.title, "phrases": [PhraseForm.of(p) for p in written.phrases], "order": written.order,
                "overrides": overrides, "dances": written.dances, "walls": written.walls, "enters": written.enters,
                "ones": [to_decimal(one) for one in written.ones],
            }
        )  # fmt: skip

    @classmethod
    def of(cls, sheet: Sheet) -> "SheetForm":
        return cls(title=sheet.title, phrases=[PhraseForm.of(p) for p in sheet.phrases])


class ExpandedCountForm(Form):
    """`facing` on the clock and `weight` at the count's end; `weight` null where the sheet does not tell."""

    at: float
    phrase: int
    label: str
    facing: float
    weight: Foot | None
    cue: str


class ExpandedForm(Form):
    form: Literal["juxtakine/expanded-1"] = Field("juxtakine/expanded-1", alias="schema")
    counts: list[ExpandedCountForm]
    total: int

    @classmethod
    def of(cls, sheet: Sheet) -> "ExpandedForm":
        """Raises SheetError."""
        counts = [
            ExpandedCountForm(
                at=to_decimal(c.at), phrase=c.phrase, label=c.label, facing=to_clock(c.facing), weight=c.weight,
                cue=c.cue,
            )
            for c in expand(sheet)
        ]  # fmt: skip
        return cls(counts=counts, total=sheet.total)


class BeatForm(Form):
    """A candidate for the routine's first 1."""

    seconds: Seconds
    certainty: Share


class BeatsForm(Form):
    form: Literal["juxtakine/beats-1"] = Field("juxtakine/beats-1", alias="schema")
    tempo_bpm: float
    beats: list[Seconds]
    ones: list[BeatForm]


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
