"""A comparison with all that is said about it: what a take's screens draw."""

from collections.abc import Sequence

from juxtakine.core.comparing.explaining.marks import Marks
from juxtakine.core.comparing.results import (
    Comparison,
    CountResult,
    Method,
    PhraseKind,
    TimingVerdict,
    Unit,
)
from juxtakine.core.counting.positions import to_decimal
from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.drilling.loops import Drill, RunIn, drills
from juxtakine.core.telling.remarks import moment, remarks
from juxtakine.core.telling.rows import row_words, sentence
from juxtakine.pipeline.comparison_form import ComparisonForm
from juxtakine.pipeline.forms import Form, Share
from juxtakine.pipeline.result import Result

HELD_WELL = 0.75
"""Share of the body that holds from which on a count is drawn as held."""


class RowWordsForm(Form):
    """What stands at the end of a phrase's row."""

    phrase: int
    tallies: int
    kind: str
    lines: list[str]
    state: PhraseKind


class RemarkForm(Form):
    text: str
    note: str
    off: bool


class MomentForm(Form):
    """Where the student is shown: so many seconds after the count's common time, and in words where one sees it."""

    after_s: float
    words: str


class LineForm(Form):
    """From one point of a picture to another, as shares of it."""

    x1: Share
    y1: Share
    x2: Share
    y2: Share


class MarksForm(Form):
    """Over the instructor's picture, and over the student's: the parts that are off, and where they are meant to be."""

    reference: list[LineForm]
    own: list[LineForm]
    meant: list[LineForm]


class CountWords(Form):
    """`timing_sure`: false where a count is ahead or behind by no finding. `held_well`: whether so much of the body
    held that it is drawn as held. `worst`: the part that is off by most of those that are told, in words."""

    at: float
    timing_sure: bool
    held_well: bool
    worst: str
    remarks: list[RemarkForm]
    moment: MomentForm
    marks: MarksForm


class LoopForm(Form):
    """Counts of the routine: danced from `run_in`, drilled from `start` to `end`."""

    run_in: float
    start: float
    end: float


class DrillForm(Form):
    phrase: int
    name: str
    reason: str
    loops: dict[RunIn, LoopForm]


class FrameForm(Form):
    """What has to be shown of a clip's picture, as shares of it, so that nothing of the dance is cut off."""

    left: Share
    top: Share
    right: Share
    bottom: Share


class Outcome(Form):
    comparison: ComparisonForm
    strong: str
    rest: str
    common_time: str
    rows: list[RowWordsForm]
    counts: list[CountWords]
    drills: list[DrillForm]
    reference_frame: FrameForm
    take_frame: FrameForm

    @classmethod
    def of(cls, result: Result, sheet: Sheet, styles: Sequence[str] = ()) -> "Outcome":
        """`styles` names the other references whose style may be right too."""
        comparison = result.comparison
        rows = [_row(comparison, p.phrase) for p in comparison.phrases]
        told = sentence(comparison, sheet)
        return cls(
            comparison=ComparisonForm.of(comparison),
            strong=told.strong,
            rest=told.rest,
            common_time=_common_time(comparison),
            rows=rows,
            counts=[_count(c, comparison, styles, m) for c, m in zip(comparison.counts, result.marks, strict=True)],
            drills=[_drill(d, sheet, rows[d.phrase - 1].kind) for d in drills(comparison, sheet)],
            reference_frame=FrameForm(**vars(result.reference_frame)),
            take_frame=FrameForm(**vars(result.take_frame)),
        )


def _row(comparison: Comparison, phrase: int) -> RowWordsForm:
    told = row_words(comparison, phrase)
    state = comparison.phrases[phrase - 1].kind
    return RowWordsForm(phrase=phrase, tallies=told.tallies, kind=told.kind, lines=list(told.lines), state=state)


def _count(c: CountResult, comparison: Comparison, styles: Sequence[str], seen: Marks) -> CountWords:
    told = [RemarkForm(**vars(r)) for r in remarks(c, comparison.counts, styles)]
    on = c.timing.verdict is TimingVerdict.ON
    sure = on or any(f.unit is Unit.MILLISECONDS for f in (*c.findings, *c.within))
    drawn = {of: [LineForm(**vars(line)) for line in lines] for of, lines in vars(seen).items()}
    return CountWords(
        at=to_decimal(c.count.at), timing_sure=sure, held_well=c.position.held is None or c.position.held >= HELD_WELL,
        worst=next((f.part.words for f in c.findings if f.part), ""), remarks=told,
        moment=MomentForm(**vars(moment(c))), marks=MarksForm(**drawn),
    )  # fmt: skip


def _drill(d: Drill, sheet: Sheet, reason: str) -> DrillForm:
    loops = {
        k: LoopForm(run_in=to_decimal(v.run_in), start=to_decimal(v.start), end=to_decimal(v.end))
        for k, v in d.loops.items()
    }
    return DrillForm(phrase=d.phrase, name=sheet.phrases[d.phrase - 1].name, reason=reason, loops=loops)


def _common_time(comparison: Comparison) -> str:
    """How the clips were laid together, how surely, and the constant or the mirror that is told apart."""
    a, turned = comparison.alignment, comparison.mirror.used
    mirrored = "; mirror images, sides put right" if turned else ""
    sure = f"{min(a.certainty, 0.99):.0%} sure"
    if a.method is Method.MANUAL:
        return f"count 1 put by hand{mirrored}"
    if a.method is Method.MOVEMENT:
        return f"by the movement, {sure}; {a.tempo_ratio:.0%} of the tempo{mirrored}"
    lag = a.constant_lag_ms or 0.0
    side = "behind" if lag > 0 else "ahead"
    return f"by sound, {sure}; whole take {abs(lag):.0f} ms {side}{mirrored}"
