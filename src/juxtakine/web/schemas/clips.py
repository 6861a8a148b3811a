"""What comes in and goes out of clips: work on them, who is followed, a take's result."""

from datetime import datetime

from pydantic import Field

from juxtakine.core.watching.stretches import Kind
from juxtakine.pipeline.outcome import Outcome
from juxtakine.store.models import JobState, JobStep
from juxtakine.web.schemas.shape import ClipSecond, Shape


class JobView(Shape):
    step: JobStep
    state: JobState
    done: int
    total: int
    seconds_left: int | None
    error: str | None


class Span(Shape):
    """From and to."""

    from_s: ClipSecond
    to_s: ClipSecond


class StretchView(Span):
    """A stretch of a long clip: what is going on there, in a word and as it is told."""

    kind: Kind
    said: str
    certainty: float


class LongClipView(Shape):
    """What a long clip was found to hold; `proposed` is the likeliest run, told with how sure it is."""

    stretches: list[StretchView]
    proposed: Span | None
    said: str


class PlaceView(Shape):
    """In the picture, as shares of its width and height."""

    x: float = Field(ge=-1, le=2)
    y: float = Field(ge=-1, le=2)


class SightedView(Shape):
    """Somebody at a moment, in the picture as shares of its width and height."""

    x: float
    y: float
    at_s: float


class QuestionView(Shape):
    """At a meeting: which of these goes on as the one who is followed, or, `before` it, was the one?"""

    at_s: float
    before: bool
    people: list[SightedView]


class FeetLine(Shape):
    """Under somebody's feet: from x1 to x2 at y, as shares of the picture."""

    x1: float
    x2: float
    y: float
    followed: bool


class FeetView(Shape):
    """Everybody's feet, as they were seen at some moments a second."""

    seconds: list[float]
    people: list[list[FeetLine]]


class FollowedView(Shape):
    """How much of the run the one who was clicked (or, with no clicks, is most prominent) is followed, where not, and
    what has to be asked."""

    clicks: int
    share: float
    lost: list[Span]
    questions: list[QuestionView]


class ClipView(Shape):
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
    remark: str | None
    """What is missing of it: its own file, or stretches that are damaged."""


class OtherView(Shape):
    """A reference beside the first: how it shows the dance, in words, and by what it is known and how surely, or why
    it is not; seconds of its play copy for each whole count of the sheet and for its end, where they are known."""

    clip: ClipView
    said: str | None
    sure: str | None
    waiting: str | None
    counts_s: list[float] | None
    usable: bool
    """Whether a take can be compared with it."""


class PieceSaid(Shape):
    """Where a row is danced in a clip: its 1, and the 1 after it. `flipped`: there the picture is turned over."""

    clip: int
    first_s: ClipSecond
    next_s: ClipSecond
    flipped: bool = False


class PieceView(PieceSaid):
    """`said`: its place and tempo, in words."""

    row: int
    said: str


class SidesSaid(Shape):
    """Two things, never one: the picture is flipped, and the dancer mirrors on purpose; null is not known."""

    flipped: bool | None
    mirrored: bool | None


class FollowClick(PlaceView):
    """A body in the picture at a moment."""

    at_s: ClipSecond


class FirstCount(Shape):
    """Where count 1 is in a take, danced at a percentage of the reference's tempo."""

    first_s: ClipSecond
    percent: float = Field(100, ge=25, le=150)


class Small(Shape):
    """Whether a take is marked, with small movements on purpose."""

    small: bool


class Against(Shape):
    """The reference that a take is to be compared with; null is the one seen from the nearest angle."""

    reference: int | None


class ClockAnchor(Shape):
    """The same count in both play copies."""

    at: float
    reference_s: float
    take_s: float


class TakeResult(Shape):
    """A take and what came of it; `waiting` says why there is no result, or why this one is out of date. `reference` is
    the clip that it was compared with, `against` the one that was chosen for it (null: the nearest angle)."""

    take: ClipView
    reference: ClipView | None
    against: int | None
    waiting: str | None
    outcome: Outcome | None
    clock: list[ClockAnchor]
    count_ms: int | None


class ClipProgress(Shape):
    clip: int
    job: JobView


class Progress(Shape):
    """All live and newest jobs of a routine's clips."""

    clips: list[ClipProgress]


class Wave(Shape):
    peaks: list[float]
    per_second: int
