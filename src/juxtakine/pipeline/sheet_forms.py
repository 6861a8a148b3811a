"""Sheet and grid as files and the interface carry them, and their way to and from the core's values."""

from secrets import token_hex
from typing import Annotated, Literal

from pydantic import Field

from juxtakine.core.counting.carried import carried
from juxtakine.core.counting.dictionary import PatternError, Step, Style, actions_of
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.lines import plain
from juxtakine.core.counting.positions import from_decimal, to_decimal
from juxtakine.core.counting.sheets import Done, Easier, Foot, Layer, Mark, Phrase, Quality, Score, Sheet, expand
from juxtakine.core.counting.structure import Danced, Override, Written, unfolded
from juxtakine.core.limits import FARTHEST_S, MOST_COUNTS, MOST_MARKS, MOST_WRITTEN
from juxtakine.pipeline.forms import Form, FormError, Line, Words


class DoneForm(Form):
    cue: Words = ""
    quality: Quality | None = None


class MarkForm(Form):
    """`turn` in eighths, positive over the right shoulder; `weight` is where it is afterwards; `either`: two styles
    are right there."""

    label: Line
    cue: Words = ""
    score: Score = Score.BOTH
    parts: list[Layer] = Field([], max_length=len(Layer))
    sounds: Words = ""
    lyrics: Words = ""
    layers: dict[Layer, DoneForm] = Field({})
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
    line: Line
    marks: list[MarkForm] = Field([], max_length=MOST_MARKS)


Clock = Annotated[float, Field(ge=0, le=12, multiple_of=1.5)]
"""A facing as on a clock seen from above: 12 the front, 3 the dancer's right, 1.5 between them."""


def to_clock(eighths: int) -> float:
    return eighths % 8 * 1.5 or 12.0


def from_clock(clock: float) -> int:
    return round(clock / 1.5) % 8


class PhraseForm(Form):
    name: Words = ""
    counts: int = Field(8, ge=1, le=64)
    line: Line
    swing: float = Field(0.5, ge=0.5, le=0.8)
    marks: list[MarkForm] = Field([], max_length=MOST_MARKS)
    section: Words = Field("", pattern="^[^,]*$")
    weight: Foot | None = None
    facing: Clock | None = None
    easier: EasierForm | None = None
    id: str = Field("", pattern="^[0-9a-f]{0,16}$")

    def value(self) -> Phrase:
        marks = tuple(m.value() for m in self.marks)
        easier = Easier(self.easier.line, tuple(m.value() for m in self.easier.marks)) if self.easier else None
        facing = None if self.facing is None else from_clock(self.facing)
        swing = from_decimal(self.swing)
        return Phrase(
            self.name, self.counts, self.line, swing, marks, self.section, self.weight, facing, easier, self.id
        )  # fmt: skip

    @classmethod
    def of(cls, p: Phrase) -> "PhraseForm":
        easier = p.easier and EasierForm(line=p.easier.line, marks=[MarkForm.of(m) for m in p.easier.marks])
        return cls(
            name=p.name, counts=p.counts, line=p.line, swing=to_decimal(p.swing), section=p.section, weight=p.weight,
            marks=[MarkForm.of(m) for m in p.marks], facing=None if p.facing is None else to_clock(p.facing),
            easier=easier, id=p.id,
        )  # fmt: skip


class OverrideForm(Form):
    """In one repetition (from 1), a count of a row (from 1, as written) is marked otherwise."""

    repetition: int = Field(ge=1)
    row: int = Field(ge=1)
    mark: MarkForm


class StepForm(Form):
    """A step of one's own; `pattern` as in docs/formats.md, empty where it has no fixed counts."""

    name: Words = Field(min_length=1)
    what: Words = ""
    pattern: Line = ""

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
    title: Words = ""
    phrases: list[PhraseForm] = Field([], max_length=MOST_WRITTEN)
    order: Line = ""
    overrides: list[OverrideForm] = Field([], max_length=MOST_COUNTS)
    dances: Danced = Danced.FULL
    walls: int | None = Field(None, ge=1, le=8)
    enters: int = Field(0, ge=0, le=64)
    ones: list[Annotated[float, Field(ge=0, le=MOST_COUNTS)]] = Field([], max_length=MOST_WRITTEN)
    style: Style | None = None
    steps: list[StepForm] = Field([], max_length=MOST_WRITTEN)

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

    def plainly(self) -> "SheetForm":
        """With its lines in the signs that they are kept in."""
        rows = [p.model_copy(update={"line": plain(p.line)}) for p in self.phrases]
        return self.model_copy(update={"phrases": rows})

    def identified(self, before: "SheetForm") -> "SheetForm":
        """With an id for every row: a row without one (typed anew, or come from a file that holds none) that is still
        found in the sheet `before` has the one that it had there."""
        were, now = (tuple(p.value() for p in form.phrases) for form in (before, self))
        found = {place: were[was].id for was, place in carried(were, now).items()}
        own = [p.id if p.id not in {q.id for q in now[:i]} else "" for i, p in enumerate(now)]
        used = {*own}
        ids = []
        for place, said in enumerate(own):
            known = found.get(place, "")
            ids.append(said or (known if known not in used else "") or token_hex(4))
            used.add(ids[-1])
        rows = [p.model_copy(update={"id": i}) for p, i in zip(self.phrases, ids, strict=True)]
        return self.model_copy(update={"phrases": rows})

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


class AnchorForm(Form):
    at: float = Field(ge=-MOST_COUNTS, le=2 * MOST_COUNTS)
    seconds: float = Field(ge=-FARTHEST_S, le=FARTHEST_S)


class GridForm(Form):
    form: Literal["juxtakine/grid-1"] = Field("juxtakine/grid-1", alias="schema")
    anchors: list[AnchorForm] = Field(max_length=2 * MOST_COUNTS)

    def value(self) -> Grid:
        """Raises GridError."""
        return Grid(tuple(Anchor(from_decimal(a.at), a.seconds) for a in self.anchors))

    @classmethod
    def of(cls, grid: Grid) -> "GridForm":
        return cls(anchors=[AnchorForm(at=to_decimal(a.at), seconds=a.seconds) for a in grid.anchors])
