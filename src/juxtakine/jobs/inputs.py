"""What a comparison is made from, and its fingerprint: a result with another one is out of date."""

import hashlib
import json
from dataclasses import dataclass
from typing import Any

from juxtakine.core.comparing.compare import CompareError
from juxtakine.core.comparing.sides import Said
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet, SheetError, check
from juxtakine.jobs.places import track_of
from juxtakine.pipeline.forms import GridForm, SheetForm
from juxtakine.store import clips, routines
from juxtakine.store.models import Clip, Routine, Step

COMPARING_VERSION = 3
"""Raised when the same recordings would be told differently."""


class NotReady(CompareError):
    """Something that a comparison needs is still missing; the message says what to do."""


@dataclass(frozen=True)
class Source:
    content: str
    track: str
    start_s: float


@dataclass(frozen=True)
class Inputs:
    reference: Source
    take: Source
    sheet: Sheet
    grid: Grid
    take_grid: Grid | None
    mirror: Said
    other_side: bool
    fingerprint: str


@dataclass(frozen=True)
class ReferenceSource:
    """The instructor's track, its sheet and grid as forms, where the clip begins, and whether its picture is said to be
    flipped."""

    track: str
    sheet: dict[str, Any]
    grid: dict[str, Any]
    start_s: float
    flipped: bool


def reference_of(routine: Routine) -> ReferenceSource:
    """What is known of the instructor's dance. Raises NotReady."""
    reference, edit = routines.reference(routine), routines.current(routine)
    if reference is None:
        raise NotReady("There is no instructor's clip yet: add it in Count.")
    if check(SheetForm.model_validate(edit.sheet).value()):
        raise NotReady("The sheet is not written yet: type its rows in Count.")
    if edit.grid is None:
        raise NotReady("Nobody has said yet where count 1 is in the instructor's clip: do that in Count.")
    if not clips.has_done(reference, Step.TRACK):
        raise NotReady("The instructor's clip is not measured yet.")
    return ReferenceSource(track_of(reference), edit.sheet, edit.grid, reference.start_s, bool(reference.flipped))


def of(take: Clip) -> Inputs:
    """Raises NotReady, SheetError."""
    routine = take.routine
    shown, reference = reference_of(routine), routines.reference(routine)
    if reference is None or not clips.has_done(take, Step.TRACK):
        raise NotReady("This take is not measured yet.")
    sources = _source(reference), _source(take)
    sides = mirror_of(reference, take)
    told = [shown.sheet, shown.grid, take.grid, *map(vars, sources), *sides, COMPARING_VERSION]
    fingerprint = hashlib.sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()
    sheet = SheetForm.model_validate(shown.sheet).value()
    own_grid = take.grid and grid_of(take.grid)
    return Inputs(*sources, sheet, grid_of(shown.grid), own_grid, *sides, fingerprint)


def mirror_of(reference: Clip, take: Clip) -> tuple[Said, bool]:
    """What was said of both clips' sides; what was not is left to the movement. And whether the reference's are the
    student's other ones."""
    known = reference.mirrored is not None or reference.flipped is not None
    other = bool(reference.mirrored) != bool(reference.flipped)
    if known and take.flipped is not None:
        return {
            (False, False): Said.NO, (False, True): Said.TAKE, (True, False): Said.REFERENCE, (True, True): Said.BOTH,
        }[other, take.flipped], other  # fmt: skip
    return Said.AUTO, other


def grid_of(form: dict[str, object]) -> Grid:
    return GridForm.model_validate(form).value()


def _source(clip: Clip) -> Source:
    return Source(clip.content, track_of(clip), clip.start_s)


def fingerprint(take: Clip) -> str | None:
    """None where a comparison can't be made yet."""
    try:
        return of(take).fingerprint
    except (NotReady, SheetError):
        return None


def why_not(take: Clip) -> str | None:
    """What is missing, as a sentence."""
    try:
        of(take)
    except (NotReady, SheetError) as reason:
        return str(reason)
    return None
