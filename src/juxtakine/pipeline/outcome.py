"""A comparison with all that is said about it: what is stored for a take, and what its screens draw."""

from collections.abc import Sequence

from juxtakine.core.comparing import words
from juxtakine.core.comparing.marks import Marks, Picture, marks
from juxtakine.core.comparing.results import Comparison, CountResult, Method, PhraseKind, TimingVerdict, Unit
from juxtakine.core.counting.positions import to_decimal
from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.drilling.loops import Drill, RunIn, drills
from juxtakine.core.movement.framing import frame_of
from juxtakine.core.movement.tracks import Track
from juxtakine.pipeline.comparison import Recording
from juxtakine.pipeline.comparison_form import ComparisonForm
from juxtakine.pipeline.forms import Form, Share


class RowWords(Form):
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
    """`timing_sure`: false where a count is ahead or behind by no finding."""

    at: float
    timing_sure: bool
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

    @classmethod
    def of(cls, track: Track, from_s: float, to_s: float) -> "FrameForm":
        return cls(**vars(frame_of(track, from_s, to_s)))


class Outcome(Form):
    comparison: ComparisonForm
    strong: str
    rest: str
    common_time: str
    rows: list[RowWords]
    counts: list[CountWords]
    drills: list[DrillForm]
    reference_frame: FrameForm
    take_frame: FrameForm

    @classmethod
    def of(
        cls, comparison: Comparison, sheet: Sheet, reference: Recording, take: Recording, styles: Sequence[str] = ()
    ) -> "Outcome":
        """Of the recordings that were compared; `styles` names the other references whose style may be right too."""
        first, last = comparison.counts[0], comparison.counts[-1]
        pictures = _picture(reference), _picture(take)
        seen = [marks(c, comparison.mirror, *pictures) for c in comparison.counts]
        told = words.sentence(comparison, sheet)
        return cls(
            comparison=ComparisonForm.of(comparison),
            strong=told.strong,
            rest=told.rest,
            common_time=_common_time(comparison),
            rows=[_row(comparison, p.phrase) for p in comparison.phrases],
            counts=[_count(c, styles, m) for c, m in zip(comparison.counts, seen, strict=True)],
            drills=[_drill(d, sheet) for d in drills(comparison, sheet)],
            reference_frame=FrameForm.of(reference.track, first.reference_s, last.reference_s),
            take_frame=FrameForm.of(take.track, first.take_s, last.take_s),
        )


def _row(comparison: Comparison, phrase: int) -> RowWords:
    told = words.row_words(comparison, phrase)
    state = comparison.phrases[phrase - 1].kind
    return RowWords(phrase=phrase, tallies=told.tallies, kind=told.kind, lines=list(told.lines), state=state)


def _picture(recording: Recording) -> Picture:
    return Picture(recording.movement, recording.track.width, recording.track.height)


def _count(c: CountResult, styles: Sequence[str], seen: Marks) -> CountWords:
    told = [RemarkForm(**vars(r)) for r in words.remarks(c, styles)]
    on = c.timing.verdict is TimingVerdict.ON
    sure = on or any(f.unit is Unit.MILLISECONDS for f in (*c.findings, *c.within))
    drawn = {of: [LineForm(**vars(line)) for line in lines] for of, lines in vars(seen).items()}
    shown = MomentForm(**vars(words.moment(c)))
    return CountWords(at=to_decimal(c.count.at), timing_sure=sure, remarks=told, moment=shown, marks=MarksForm(**drawn))


def _drill(d: Drill, sheet: Sheet) -> DrillForm:
    loops = {
        k: LoopForm(run_in=to_decimal(v.run_in), start=to_decimal(v.start), end=to_decimal(v.end))
        for k, v in d.loops.items()
    }
    return DrillForm(phrase=d.phrase, name=sheet.phrases[d.phrase - 1].name, reason=d.reason, loops=loops)


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
