"""A sheet read off a clip, and a written one held against it."""

from collections.abc import Sequence
from typing import Literal

from pydantic import Field

from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.lines import EIGHT
from juxtakine.core.counting.positions import to_decimal
from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.limits import MOST_COUNTS
from juxtakine.core.proposing.against import Against, against
from juxtakine.core.proposing.footwork import feet_of
from juxtakine.core.proposing.proposal import Proposal, proposal
from juxtakine.core.telling.clip_beside_sheet import told
from juxtakine.pipeline.comparison import Recording
from juxtakine.pipeline.forms import Form, MaybeShare


def lengths(shown: Recording, grid: Grid, written: Sequence[int], counts: int | None = None) -> list[int]:
    """The rows that are written, then eights as far as the clip goes, or to so many counts in all."""
    until = min(counts or int(grid.count(float(shown.movement.seconds[-1]))), MOST_COUNTS)
    rows, left = list(written), until - sum(written)
    while left > 0:
        rows.append(min(EIGHT, left))
        left -= EIGHT
    return rows


def proposed(shown: Recording, grid: Grid, rows: Sequence[int], mirrored: bool = False) -> Proposal:
    """Rows of these lengths; `mirrored`: the clip shows left for right of what the student dances."""
    return proposal(shown.features, feet_of(shown.movement), grid, rows, mirrored)


class CheckFinding(Form):
    """`phrase` from 1 as danced (0: the sheet itself), `label` of the count there; of what the clip shows `from` in
    counts of the routine, and how sure it is."""

    kind: str
    source: Literal["sheet", "clip"]
    phrase: int
    label: str | None
    at: float | None = Field(None, alias="from")
    certainty: MaybeShare = None
    text: str

    @classmethod
    def of_sheet(cls, kind: str, row: int, text: str, label: str | None = None) -> "CheckFinding":
        return cls(kind=kind, source="sheet", phrase=row, label=label, text=text)

    @classmethod
    def of_clip(cls, f: Against) -> "CheckFinding":
        return cls(kind=f.kind, source="clip", phrase=f.row, label=f.label, at=to_decimal(f.at), certainty=f.certainty,
                   text=told(f))  # fmt: skip

    def __str__(self) -> str:
        place = f"phrase {self.phrase}{f', {self.label}' if self.label else ''}: " if self.phrase else ""
        return place + self.text


class CheckForm(Form):
    """All that a check finds."""

    form: Literal["juxtakine/check-1"] = Field("juxtakine/check-1", alias="schema")
    findings: list[CheckFinding]


def held_against(shown: Recording, sheet: Sheet, grid: Grid) -> list[CheckFinding]:
    """Where the instructor's movement and the sheet disagree. Raises SheetError."""
    read = proposed(shown, grid, [p.counts for p in sheet.phrases]).shown
    return [CheckFinding.of_clip(f) for f in against(sheet, read)]
