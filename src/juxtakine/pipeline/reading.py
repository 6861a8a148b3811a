"""What is read off a reference before any take: what repeats, what will be hard, and a figure for each count."""

from collections.abc import Sequence

from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.positions import to_decimal
from juxtakine.core.counting.sheets import Sheet, expand
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import LIMBS, Features, Span, features, seen
from juxtakine.core.movement.figures import Figure, figures
from juxtakine.core.movement.tracks import Track
from juxtakine.core.watching.hardness import hardness
from juxtakine.core.watching.mirrored import Beside, Sides, sides
from juxtakine.core.watching.repeats import repeats, written
from juxtakine.core.watching.words import phrase_words
from juxtakine.pipeline.forms import Form, MaybeShare, Seconds, Share
from juxtakine.pipeline.sheet_forms import SheetForm

LEAST_SEEN = 0.5
"""Share of the counts on which a part has to be seen, so that it is not said to be hardly ever there."""


class RowReading(Form):
    """`hardest`: its place among the routine's phrases, the hardest first."""

    phrase: int
    kind: str
    lines: list[str]
    hardest: int | None


class FigureLine(Form):
    x1: Share
    y1: Share
    x2: Share
    y2: Share


class FigurePoint(Form):
    x: Share
    y: Share


class FigureForm(Form):
    """The body on a count: x from the middle of the hips, y up from the floor, in the dancer's own height; where the
    hips stand in the picture, as a share of its width; seconds of the clip."""

    at: float
    seconds: Seconds
    middle: MaybeShare
    lines: list[FigureLine]
    head: FigurePoint | None


class SidesForm(Form):
    """Whether the instructor dances mirrored on purpose, as far as the clip tells (null: it does not), and why."""

    mirrored: bool | None
    certainty: Share
    why: str


class Reading(Form):
    """`to_write`: rows that a sheet written by what repeats would have otherwise; the sheet itself. `unseen`: a
    sentence on what is hardly ever in the picture."""

    to_write: list[int]
    written: SheetForm
    sides: SidesForm
    unseen: str | None
    rows: list[RowReading]
    figures: list[FigureForm]


def read(
    track: Track, sheet: Sheet, grid: Grid, flipped: bool = False, beside: Sequence[Beside] = (),
    cameras: Sequence[Span] = (),
) -> Reading:  # fmt: skip
    """Of a reference's track, whose picture was flipped or not, with what other clips of the dance tell of its sides,
    and from where its parts were filmed. Raises SheetError."""
    movement = clean(track)
    danced = features(movement, cameras)
    counts = expand(sheet)
    seconds = grid.seconds([float(c.at) for c in counts])
    found = repeats(danced, grid, sheet)
    told = phrase_words(sheet, found, hardness(danced, grid, sheet))
    meant = written(sheet, found)
    differs = [n for n, (a, b) in enumerate(zip(sheet.phrases, meant.phrases, strict=True), 1) if a != b]
    side = sides(danced.mirrored if flipped else danced, sheet, grid, beside)
    return Reading(
        to_write=differs,
        written=SheetForm.of(meant),
        sides=SidesForm(mirrored=side.mirrored, certainty=side.certainty, why=side.why),
        unseen=_unseen(danced.at(seconds)),
        rows=[RowReading(phrase=n, kind=w.kind, lines=list(w.lines), hardest=w.hardest) for n, w in enumerate(told, 1)],
        figures=[
            _figure(to_decimal(c.at), float(s), f)
            for c, s, f in zip(counts, seconds, figures(movement, seconds, track.width), strict=True)
        ],
    )


def _unseen(at_counts: Features) -> str | None:
    """What a comparison with this clip can't tell, as the camera did not see it."""
    there = seen(at_counts)
    hardly = [
        name
        for name, word in (("arms", "arm"), ("legs", "thigh"), ("lower legs", "shin"))
        if there[:, [word in part for part in LIMBS]].mean() < LEAST_SEEN
    ]
    if not hardly or not there.any():
        return None
    return (
        f"The {' and '.join(hardly)} are hardly ever in the picture: what they do will be told as not seen. "
        "Another clip, with the whole body in shot, can be laid beside this one."
    )


def by_view(track: Track, flipped: bool) -> Sides:
    """What the view alone tells of the sides in a clip: what another one may be told by."""
    danced = features(clean(track))
    return sides(danced.mirrored if flipped else danced)


def _figure(at: float, seconds: float, f: Figure) -> FigureForm:
    lines = [FigureLine(x1=a, y1=b, x2=c, y2=d) for a, b, c, d in f.lines]
    head = f.head and FigurePoint(x=f.head[0], y=f.head[1])
    return FigureForm(at=at, seconds=seconds, middle=f.middle, lines=lines, head=head)
