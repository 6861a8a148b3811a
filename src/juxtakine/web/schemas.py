"""The shapes that go over the wire; the front end's types are generated from them.

All seconds here are of the play copy (it starts at 0), so that the player needs no arithmetic.
"""

from datetime import datetime
from enum import StrEnum
from typing import Literal

from pydantic import BaseModel, Field

from juxtakine.core.counting.checks import About
from juxtakine.core.counting.dictionary import Style
from juxtakine.core.counting.sheets import Foot
from juxtakine.core.watching.stretches import Kind
from juxtakine.pipeline.forms import MarkForm, PhraseForm, SheetForm, StepForm
from juxtakine.pipeline.outcome import Outcome
from juxtakine.pipeline.reading import Reading
from juxtakine.store.models import JobState, Step


class Problem(BaseModel):
    """What was refused, in a sentence; `start` and `end` are the place in a typed line."""

    sentence: str
    phrase: int = 0
    start: int = 0
    end: int = 0


class Health(BaseModel):
    healthy: bool
    database: bool
    broker: bool
    worker: bool


class CellView(BaseModel):
    """`offset` and `width` in counts of the phrase; `at` in counts of the routine; `mark` as it is danced. `weight` and
    `facing` (on the clock) are those at its end, `turned` in words where it turns; `scored` says how, in a word."""

    at: float
    label: str
    sign: str
    offset: float
    width: float
    hold: bool
    goes_on: bool
    free: bool
    mark: MarkForm
    weight: Foot | None
    facing: float
    turned: str | None
    scored: str


class RowView(BaseModel):
    """A row as it is danced. `written` is the row (from 1) of the sheet as written, `again` what it repeats, in words;
    `heading` stands before it. `checkpoint` says how it begins and ends, where the sheet tells."""

    number: int
    name: str
    counts: int
    line: str
    start: int
    cells: list[CellView]
    begins_s: float | None
    written: int
    repetition: int
    again: str | None
    heading: str | None
    checkpoint: str | None


class MendView(BaseModel):
    """What to do, in words, and the sheet as it is then."""

    says: str
    sheet: SheetForm


class SheetFindingView(BaseModel):
    """What disagrees in the sheet: the row as danced (from 1; 0 for the sheet itself) and the count's label."""

    row: int
    label: str | None
    about: About
    text: str
    mend: MendView | None


class UnknownStep(BaseModel):
    """A name that is in no dictionary: its place in the text, and names that are spelled much like it."""

    name: str
    start: int
    end: int
    near: list[str]


class StepsSaid(BaseModel):
    """A line of step names; `weight` is where it is before them."""

    text: str
    weight: Foot | None = None
    style: Style | None = None
    own: list[StepForm] = []


class StepsRead(BaseModel):
    """The row that the steps fill (none where nothing is said), and what was not understood."""

    phrase: PhraseForm | None
    cells: list[CellView]
    unknown: list[UnknownStep]


class StepView(BaseModel):
    """A step's name, what it is, its counts as a line (empty where none are fixed) and what else it is called."""

    name: str
    what: str
    line: str
    aliases: list[str]
    style: Style | None


class LineReading(BaseModel):
    """What a typed line says, or what is wrong with it and the line that would mend it."""

    cells: list[CellView]
    problem: Problem | None
    mended: str | None


class JobView(BaseModel):
    step: Step
    state: JobState
    done: int
    total: int
    seconds_left: int | None
    error: str | None


class Span(BaseModel):
    """From and to."""

    from_s: float
    to_s: float


class StretchView(Span):
    """A stretch of a long clip: what is going on there, in a word and as it is told."""

    kind: Kind
    said: str
    certainty: float


class LongClipView(BaseModel):
    """What a long clip was found to hold; `proposed` is the likeliest run, told with how sure it is."""

    stretches: list[StretchView]
    proposed: Span | None
    said: str


class PlaceView(BaseModel):
    """In the picture, as shares of its width and height."""

    x: float
    y: float


class QuestionView(BaseModel):
    """After a meeting: which of these goes on as the one who is followed?"""

    at_s: float
    places: list[PlaceView]


class FeetLine(BaseModel):
    """Under somebody's feet: from x1 to x2 at y, as shares of the picture."""

    x1: float
    x2: float
    y: float
    followed: bool


class FeetView(BaseModel):
    """Everybody's feet, as they were seen at some moments a second."""

    seconds: list[float]
    people: list[list[FeetLine]]


class FollowedView(BaseModel):
    """How much of the run the one who was clicked is followed, where not, and what has to be asked."""

    clicks: int
    share: float
    lost: list[Span]
    questions: list[QuestionView]


class ClipView(BaseModel):
    id: int
    number: int
    name: str
    duration_s: float
    width: int
    height: int
    fps: float
    frames: int
    has_sound: bool
    playable: bool
    measured: bool
    made_at: datetime
    job: JobView | None
    first_s: float | None
    """Where count 1 was put by hand in a take."""
    small: bool
    """A take that is marked, with small movements on purpose."""
    flipped: bool | None
    mirrored: bool | None
    """What a person said of the picture and of the dancer's sides; null is not said."""
    run: Span | None
    """The stretch that is used; null is all of it, or what somebody still has to choose (`awaits_run`)."""
    awaits_run: bool
    assembled: bool
    """Put together from pieces of other clips."""
    followed: FollowedView | None
    """Null where nobody was clicked: the largest person is taken, as a rule."""
    long: LongClipView | None


class OtherView(BaseModel):
    """A reference beside the first: how it shows the dance, in words, and by what it is known and how surely, or why
    it is not; seconds of its play copy for each whole count of the sheet and for its end, where they are known."""

    clip: ClipView
    said: str | None
    sure: str | None
    waiting: str | None
    counts_s: list[float] | None
    usable: bool
    """Whether a take can be compared with it."""


class PieceSaid(BaseModel):
    """Where a row is danced in a clip: its 1, and the 1 after it. `flipped`: there the picture is turned over."""

    clip: int
    first_s: float
    next_s: float
    flipped: bool = False


class PieceView(PieceSaid):
    """`said`: its place and tempo, in words."""

    row: int
    said: str


class PostView(BaseModel):
    """An anchor of the grid: a count (from 0), what it is called, and where it is."""

    at: float
    count: int
    label: str
    seconds: float


class GridView(BaseModel):
    """`said`: the tempo in words."""

    posts: list[PostView]
    bpm: float
    said: str
    counts_s: list[float]
    """Where each whole count of the sheet lies, one more for its end."""


class RoutineView(BaseModel):
    id: int
    title: str
    sheet: SheetForm
    rows: list[RowView]
    total: int
    problem: Problem | None
    findings: list[SheetFindingView]
    sections: list[str]
    eights: list[float]
    """Counts at which the music's own eights begin, where that was said."""
    order_said: str
    remark: str | None
    """Where sheet and clip do not fit each other, which is no error."""
    grid: GridView | None
    reference: ClipView | None
    others: list[OtherView]
    pieces: list[PieceView]
    missing: list[int]
    """Rows without a piece, where a reference is to be put together from pieces."""
    music: int | None
    """The clip in which the routine's music is heard."""
    takes: list[ClipView]
    can_undo: bool
    can_redo: bool


class Screen(StrEnum):
    WATCH = "watch"
    COUNT = "count"
    COMPARE = "compare"
    REDRILL = "redrill"


class RowCard(BaseModel):
    number: int
    name: str
    counts: int
    tallies: int
    kind: str


class RoutineCard(BaseModel):
    id: int
    title: str
    counts: int
    bpm: float | None
    rows: list[RowCard]
    takes: int
    danced: bool
    said: str
    """The last take and what it showed, in words."""
    act: str
    """The one thing to do next, and the screen where it is done."""
    screen: Screen


class Home(BaseModel):
    routines: list[RoutineCard]
    stored: str


class GridChange(BaseModel):
    """Where count 1 is, and either the tempo or where a later count is (`count` is numbered from 1)."""

    first_s: float
    bpm: float | None = Field(None, gt=0)
    count: int | None = Field(None, ge=2)
    count_s: float | None = None


class AnchorSaid(BaseModel):
    """A count (from 0, in counts of the routine) is at this moment."""

    at: float
    seconds: float


class Taps(BaseModel):
    """Moments that were tapped, one on each count from `first` (0 is the routine's first 1) on."""

    seconds: list[float]
    first: int = 0


class TapsTold(BaseModel):
    routine: "RoutineView"
    said: str


class OneView(BaseModel):
    """A candidate for the first 1."""

    seconds: float
    certainty: float
    said: str


class BeatsView(BaseModel):
    """Beats of the clip's sound at one of three paces (the beat itself, half, double); or why there are none."""

    bpm: float
    said: str
    seconds: list[float]
    ones: list[OneView]


class BeatsFound(BaseModel):
    """`paces`: the beat as it was found first, then counted half as fast and twice as fast."""

    paces: list[BeatsView]
    waiting: str | None


class BeatsChosen(BaseModel):
    """By which pace (place in `paces`) and which first 1 the counts are to be placed."""

    pace: int = Field(0, ge=0, le=2)
    first_s: float


class Renumber(BaseModel):
    """What is this whole count (from 0) becomes a 1; or all is counted half (0.5) or twice (2) as fast."""

    at: int | None = Field(None, ge=1)
    pace: Literal[0.5, 2] | None = None


class Pasted(BaseModel):
    """A whole sheet as text, a line for each row."""

    text: str


class Imported(BaseModel):
    """What came of a file: the routine as it is now, and a sentence on what was taken from it."""

    routine: "RoutineView"
    said: str


class SidesSaid(BaseModel):
    """Two things, never one: the picture is flipped, and the dancer mirrors on purpose; null is not known."""

    flipped: bool | None
    mirrored: bool | None


class FollowClick(PlaceView):
    """A body in the picture at a moment."""

    at_s: float


class FirstCount(BaseModel):
    """Where count 1 is in a take, danced at a percentage of the reference's tempo."""

    first_s: float
    percent: float = Field(100, ge=25, le=150)


class Small(BaseModel):
    """Whether a take is marked, with small movements on purpose."""

    small: bool


class Against(BaseModel):
    """The reference that a take is to be compared with; null is the one seen from the nearest angle."""

    reference: int | None


class ClockAnchor(BaseModel):
    """The same count in both play copies."""

    at: float
    reference_s: float
    take_s: float


class TakeResult(BaseModel):
    """A take and what came of it; `waiting` says why there is no result, or why this one is out of date. `reference` is
    the clip that it was compared with, `against` the one that was chosen for it (null: the nearest angle)."""

    take: ClipView
    reference: ClipView | None
    against: int | None
    waiting: str | None
    outcome: Outcome | None
    clock: list[ClockAnchor]
    count_ms: int | None


class ReadingView(BaseModel):
    """What was read off the instructor's clip, seconds of its play copy; or what is missing for it."""

    reading: Reading | None
    waiting: str | None


class Uploaded(BaseModel):
    """`screen` is where to go on."""

    routine: int
    clip: int
    screen: Screen


class ClipProgress(BaseModel):
    clip: int
    job: JobView


class Progress(BaseModel):
    """All live and newest jobs of a routine's clips."""

    clips: list[ClipProgress]


class Wave(BaseModel):
    peaks: list[float]
    per_second: int
