"""What comes in and goes out of the sheet, its counts' places and the beat."""

from enum import Enum

from pydantic import Field

from juxtakine.core.counting.checks import About
from juxtakine.core.counting.dictionary import Style
from juxtakine.core.counting.sheets import Foot
from juxtakine.core.limits import MOST_COUNTS, MOST_TAPS, MOST_WRITTEN
from juxtakine.core.proposing.against import Disagreement
from juxtakine.pipeline.forms import Line, Text
from juxtakine.pipeline.sheet_forms import MarkForm, PhraseForm, SheetForm, StepForm
from juxtakine.web.schemas.shape import ClipSecond, Shape


class Problem(Shape):
    """What was refused, in a sentence; `start` and `end` are the place in a typed line."""

    sentence: str
    phrase: int = 0
    start: int = 0
    end: int = 0


class CellView(Shape):
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


class RowView(Shape):
    """A row as it is danced. `written` is the row (from 1) of the sheet as written, `again` what it repeats, in words;
    `heading` stands before it. `checkpoint` says how it begins and ends, where the sheet tells. `id` stays its own when
    it is renamed, moved or edited."""

    id: str
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


class MendView(Shape):
    """What to do, in words, and the sheet as it is then."""

    says: str
    sheet: SheetForm


class SheetFindingView(Shape):
    """What disagrees in the sheet: the row as danced (from 1; 0 for the sheet itself) and the count's label."""

    row: int
    label: str | None
    about: About | Disagreement
    text: str
    mend: MendView | None


class ProposedRowView(Shape):
    """A row as it is read off the clip, with how sure it is in words, and the labels of the counts that are not; `new`:
    it is not written yet; `takes`: there is something to take; `like`: the earlier row that it seems to be."""

    row: RowView
    said: str
    unsure: list[str]
    new: bool
    takes: bool
    like: str | None


class ProposalView(Shape):
    """What is read off the instructor's clip (or why nothing is yet), when each count of these rows is, and where the
    clip does otherwise than the sheet."""

    waiting: str | None
    counts_s: list[float]
    rows: list[ProposedRowView]
    against: list[SheetFindingView]


class RowsTaken(Shape):
    """Rows (from 1, as danced) that are taken as proposed; none for all."""

    rows: list[int] = Field([], max_length=MOST_WRITTEN)


class UnknownStep(Shape):
    """A name that is in no dictionary: its place in the text, and names that are spelled much like it."""

    name: str
    start: int
    end: int
    near: list[str]


class MisfitView(Shape):
    """Counts that are written beside steps and are not those that the steps take, in words; their place in the text."""

    told: str
    start: int
    end: int


class StepsSaid(Shape):
    """A line of step names; `weight` is where it is before them."""

    text: Line
    weight: Foot | None = None
    style: Style | None = None
    own: list[StepForm] = Field([], max_length=MOST_WRITTEN)


class StepsRead(Shape):
    """The row that the steps fill (none where nothing is said), and what was not understood."""

    phrase: PhraseForm | None
    cells: list[CellView]
    unknown: list[UnknownStep]
    misfits: list[MisfitView]


class StepView(Shape):
    """A step's name, what it is, its counts as a line (empty where none are fixed) and what else it is called."""

    name: str
    what: str
    line: str
    aliases: list[str]
    style: Style | None


class LineReading(Shape):
    """What a typed line says, or what is wrong with it and the line that would mend it."""

    cells: list[CellView]
    problem: Problem | None
    mended: str | None


class PostView(Shape):
    """An anchor of the grid: a count (from 0), what it is called, and where it is."""

    at: float
    count: int
    label: str
    seconds: float


class GridView(Shape):
    """`said`: the tempo in words."""

    posts: list[PostView]
    bpm: float
    said: str
    counts_s: list[float]
    """Where each whole count of the sheet lies, one more for its end."""


class GridChange(Shape):
    """Where count 1 is, and either the tempo or where a later count is (`count` is numbered from 1)."""

    first_s: ClipSecond
    bpm: float | None = Field(None, gt=0)
    count: int | None = Field(None, ge=2, le=MOST_COUNTS)
    count_s: ClipSecond | None = None


class AnchorSaid(Shape):
    """A count (from 0, in counts of the routine) is at this moment."""

    at: float = Field(ge=-MOST_COUNTS, le=2 * MOST_COUNTS)
    seconds: ClipSecond


class Taps(Shape):
    """Moments that were tapped, one on each count from `first` (0 is the routine's first 1) on."""

    seconds: list[ClipSecond] = Field(max_length=MOST_TAPS)
    first: int = Field(0, ge=-MOST_COUNTS, le=MOST_COUNTS)


class OneView(Shape):
    """A candidate for the first 1."""

    seconds: float
    certainty: float
    said: str


class BeatsView(Shape):
    """Beats of the clip's sound at one of three paces (the beat itself, half, double); or why there are none."""

    bpm: float
    said: str
    seconds: list[float]
    ones: list[OneView]


class BeatsFound(Shape):
    """`paces`: the beat as it was found first, then counted half as fast and twice as fast."""

    paces: list[BeatsView]
    waiting: str | None


class BeatsChosen(Shape):
    """By which pace (place in `paces`) and which first 1 the counts are to be placed."""

    pace: int = Field(0, ge=0, le=2)
    first_s: ClipSecond


class Pace(float, Enum):
    HALF = 0.5
    TWICE = 2.0


class Renumber(Shape):
    """What is this whole count (from 0) becomes a 1; or all is counted half (0.5) or twice (2) as fast."""

    at: int | None = Field(None, ge=1, le=MOST_COUNTS)
    pace: Pace | None = None


class Pasted(Shape):
    """A whole sheet as text, a line for each row."""

    text: Text
