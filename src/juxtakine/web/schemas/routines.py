"""What comes in and goes out of routines: the whole of one, the home screen, what an upload leads to."""

from enum import StrEnum

from juxtakine.core.movement.tracks import Network
from juxtakine.pipeline.reading import Reading
from juxtakine.pipeline.sheet_forms import SheetForm
from juxtakine.web.schemas.clips import ClipView, OtherView, PieceView
from juxtakine.web.schemas.shape import Shape
from juxtakine.web.schemas.sheets import GridView, Problem, RowView, SheetFindingView


class Health(Shape):
    healthy: bool
    database: bool
    broker: bool
    worker: bool


class RoutineView(Shape):
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
    coming: ClipView | None
    """What takes the reference's place as soon as it is whole."""
    former: list[ClipView]
    """What had the reference's place, and is kept for undo."""
    others: list[OtherView]
    pieces: list[PieceView]
    missing: list[int]
    """Rows without a piece, where a reference is to be put together from pieces."""
    music: int | None
    """The clip in which the routine's music is heard."""
    takes: list[ClipView]
    network: Network
    """By which all its clips are measured."""
    can_undo: bool
    can_redo: bool


class MeasuredBy(Shape):
    """By which network all clips of a routine are measured."""

    network: Network


class Screen(StrEnum):
    WATCH = "watch"
    COUNT = "count"
    COMPARE = "compare"
    REDRILL = "redrill"


class RowCard(Shape):
    number: int
    name: str
    counts: int
    tallies: int
    kind: str


class RoutineCard(Shape):
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


class Home(Shape):
    routines: list[RoutineCard]
    stored: str


class TapsTold(Shape):
    routine: "RoutineView"
    said: str


class Imported(Shape):
    """What came of a file: the routine as it is now, and a sentence on what was taken from it."""

    routine: "RoutineView"
    said: str


class ReadingView(Shape):
    """What was read off the instructor's clip, seconds of its play copy; or what is missing for it."""

    reading: Reading | None
    waiting: str | None


class Uploaded(Shape):
    """`screen` is where to go on."""

    routine: int
    clip: int
    screen: Screen
