"""Where the counts lie in another clip of the same routine, and how it shows the dance beside the first one."""

from juxtakine.core.comparing.refused import ANOTHER_DANCE, AnotherDance, CompareError
from juxtakine.core.comparing.results import Method
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.sheets import Sheet
from juxtakine.pipeline.comparison import NoCommonTime, Recording, Said, compared
from juxtakine.pipeline.forms import Form, MaybeTenths, Seconds, Share
from juxtakine.pipeline.sheet_forms import GridForm

BEHIND_DEG, ROUND_DEG = 120.0, 15.0
SAME_TEMPO = 0.03
ELSEWHERE = (
    "Neither the music nor the movement tells where the routine is danced in this clip. If it is of this routine, "
    "say where count 1 is in it; if it is of another one, delete it."
)
OTHERWISE = (
    "Where its counts seem to lie, this clip shows another dance than the first. If it is of this routine, say where "
    "count 1 is in it; if it is of another one, delete it."
)


class PlacedForm(Form):
    """`inputs`: the fingerprint of what it was made from. `mirrored`: whether its movement is the mirror image of the
    first one's; null where it can't be told."""

    inputs: str
    grid: GridForm
    method: Method
    certainty: Share
    tempo_ratio: Seconds
    mirrored: bool | None
    sides_certainty: Share
    turned_deg: MaybeTenths


def placed(first: Recording, other: Recording, sheet: Sheet, grid: Grid, said: Said, inputs: str) -> PlacedForm:
    """Raises CompareError, SheetError."""
    try:
        made = compared(first, other, sheet, grid, said)
    except NoCommonTime as nowhere:
        raise NoCommonTime(ELSEWHERE) from nowhere
    except AnotherDance as other:
        raise CompareError(OTHERWISE) from other
    if made.unlikeness > ANOTHER_DANCE:
        raise CompareError(OTHERWISE)
    whole = [c for c in made.counts if c.count.at.denominator == 1]
    anchors = tuple(Anchor(c.count.at, c.take_s) for c in whole)
    return PlacedForm(
        inputs=inputs,
        grid=GridForm.of(Grid(anchors)),
        method=made.alignment.method,
        certainty=made.alignment.certainty,
        tempo_ratio=made.alignment.tempo_ratio,
        mirrored=made.mirror.used,
        sides_certainty=made.mirror.certainty,
        turned_deg=made.turned_deg,
    )


def words(placed: PlacedForm) -> str:
    """How the clip shows the dance beside the first one."""
    tempo = placed.tempo_ratio
    turned = placed.turned_deg or 0.0
    told = ["at the tempo" if abs(tempo - 1) < SAME_TEMPO else f"{tempo:.0%} of the tempo"]
    told += ["from the other side"] if turned > BEHIND_DEG else [f"{turned:.0f}° round"] if turned > ROUND_DEG else []
    told += ["mirrored against it"] if placed.mirrored else []
    return ", ".join(told)


def how_sure(placed: PlacedForm) -> str:
    """By what its counts are known, and how surely."""
    if placed.method is Method.MANUAL:
        return "count 1 put by hand"
    what = "music" if placed.method is Method.SOUND else "movement"
    return f"its counts by the {what}, {min(placed.certainty, 0.99):.0%} sure"
