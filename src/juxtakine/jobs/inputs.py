"""What a comparison is made from, and its fingerprint: a result with another one is out of date."""

import hashlib
import json
from dataclasses import asdict, dataclass
from typing import Any

from juxtakine.core.comparing.aligning.sides import UNSAID, KnownSides
from juxtakine.core.comparing.refused import CompareError
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Score, Sheet, SheetError, check
from juxtakine.core.counting.structure import by_timing
from juxtakine.core.movement.features import Span
from juxtakine.jobs.assembly import cameras_of
from juxtakine.jobs.places import stretch_of, track_of
from juxtakine.pipeline.placing import PlacedForm
from juxtakine.pipeline.sheet_forms import GridForm, SheetForm
from juxtakine.pipeline.tracks import FromTo
from juxtakine.store import clips, routines
from juxtakine.store.models import Clip, JobStep, Role, Routine

AT_TEMPO = 0.1
"""A reference whose tempo differs by a larger share from the first one's is used where somebody chooses it."""
COMPARING_VERSION = 29
"""Raised when the same recordings would be told differently."""


class NotReady(CompareError):
    """Something that a comparison needs is still missing; the message says what to do."""


@dataclass(frozen=True)
class Source:
    """A clip's file and track, where the file begins, the stretch that is used, and from where its parts were filmed,
    if it was put together from several: then its sound tells no common time."""

    content: str
    track: str
    start_s: float
    stretch: FromTo
    cameras: tuple[Span, ...] = ()


@dataclass(frozen=True)
class Shown:
    """A reference as a take is laid beside it: its recording, where the counts lie in it, and what is known of the two
    clips' sides."""

    clip_id: int
    source: Source
    grid: Grid
    sides: KnownSides = UNSAID


@dataclass(frozen=True)
class Inputs:
    """`references` from which the nearest is taken, `styles` in which some counts may be danced as well; the student
    comes in `enters` counts after them; `music` where the routine is danced to it, as content, where it begins and the
    grid."""

    references: tuple[Shown, ...]
    styles: tuple[Shown, ...]
    own: Source
    sheet: Sheet
    enters: int
    own_grid: Grid | None
    music: Shown | None
    fingerprint: str


@dataclass(frozen=True)
class Read:
    """What can be read of a reference before any take: its track, sheet and grid as JSON of their forms, where the clip
    begins, whether its picture is said to be flipped, and from where its parts were filmed."""

    track: str
    sheet: str
    grid: str
    start_s: float
    flipped: bool
    cameras: tuple[Span, ...]


def counted(clip: Clip) -> dict[str, Any] | None:
    """Where the counts lie in a reference, as a form, where that is known."""
    if clip.is_first:
        return routines.current(clip.routine).grid
    return clip.grid or (clip.placed and clip.placed["grid"])


@dataclass(frozen=True)
class DancedClip:
    """A reference as a sheet is read off it: its track, where the counts lie in it, as JSON of the form, where the clip
    begins, whether it shows left for right of what the student dances, and from where its parts were filmed."""

    track: str
    grid: str
    start_s: float
    mirrored: bool
    cameras: tuple[Span, ...]


def danced_of(clip: Clip) -> DancedClip:
    """Raises NotReady."""
    grid = counted(clip)
    if grid is None:
        raise NotReady("Place count 1 first: the beat, then where the 1 is.")
    if not clips.has_done(clip, JobStep.TRACK):
        raise NotReady("The instructor's clip is still being measured.")
    mirrored = bool(clip.flipped) != bool(clip.mirrored)
    return DancedClip(track_of(clip), json.dumps(grid), clip.start_s, mirrored, cameras_of(clip))


def ready(clip: Clip) -> dict[str, Any]:
    """The grid of a reference of which everything is known that comparing with it takes. Raises NotReady."""
    sheet = routines.current(clip.routine).sheet
    if check(SheetForm.model_validate(sheet).value()):
        raise NotReady("The sheet is not written yet: type its rows in Count.")
    grid = counted(clip)
    if grid is None and clip.is_first:
        raise NotReady("Nobody has said yet where count 1 is in the instructor's clip: do that in Count.")
    if not clips.has_done(clip, JobStep.TRACK):
        raise NotReady("The instructor's clip is not measured yet.")
    if grid is None:
        raise NotReady("It is not known yet where the counts lie in this clip.")
    return grid


def read_of(clip: Clip) -> Read:
    """What is known of the dance in a reference. Raises NotReady."""
    grid = ready(clip)
    sheet = routines.current(clip.routine).sheet
    return Read(track_of(clip), json.dumps(sheet), json.dumps(grid), clip.start_s, bool(clip.flipped), cameras_of(clip))


def first_of(routine: Routine) -> Clip:
    """Raises NotReady."""
    first = routines.reference(routine)
    if first is None:
        raise NotReady("There is no instructor's clip yet: add it in Count.")
    return first


def of_take(take: Clip) -> Inputs:
    """Raises NotReady, SheetError."""
    first = first_of(take.routine)
    ready(first)
    if not clips.has_done(take, JobStep.TRACK):
        raise NotReady("This take is not measured yet.")
    candidates = _counted_clips(take.routine)
    chosen = [c for c in candidates if c.id == take.against_id]
    own_tempo = [c for c in candidates if c.is_first or at_tempo(c)]
    references = tuple(_shown(c, both_sides(c, take)) for c in chosen or own_tempo)
    styles = tuple(_shown(c, both_sides(c, take)) for c in candidates)
    return _inputs(references, take, music_of(take.routine), styles)


def of_other(clip: Clip) -> Inputs:
    """Another reference is laid beside the first. Raises NotReady, SheetError."""
    first = first_of(clip.routine)
    ready(first)
    if not clips.has_done(clip, JobStep.TRACK):
        raise NotReady("This clip is not measured yet.")
    return _inputs((_shown(first),), clip, None)


def _inputs(references: tuple[Shown, ...], own: Clip, music: Clip | None, styles: tuple[Shown, ...] = ()) -> Inputs:
    form = SheetForm.model_validate(routines.current(own.routine).sheet)
    sheet = by_timing(form.value()) if own.small else form.value()
    styles = styles if any(m.either for p in sheet.phrases for m in p.marks) else ()
    heard = _shown(music) if music else None
    source = _source(own)
    beside = map(repr, (*references, *styles))
    told = [_compared(sheet), form.enters, own.grid, asdict(source), *beside, repr(heard)]
    fingerprint = hashlib.sha256(json.dumps([*told, COMPARING_VERSION], sort_keys=True).encode()).hexdigest()
    own_grid = grid_of(own.grid) if own.grid else None
    return Inputs(references, styles, source, sheet, form.enters, own_grid, heard, fingerprint)


def _compared(sheet: Sheet) -> list[object]:
    """What of a sheet a comparison depends on: a name or a cue that is written or mended needs no new one."""
    scored = [
        [
            (m.label, m.score, sorted(m.parts), *(["either"] if m.either else []))
            for m in p.marks
            if m.score is not Score.BOTH or m.either
        ]
        for p in sheet.phrases
    ]
    rows = [(p.counts, p.line, str(p.swing)) for p in sheet.phrases]
    return [rows, scored]


def _counted_clips(routine: Routine) -> list[Clip]:
    """The references of which everything is known, the first one first."""
    return [c for c in routines.references(routine) if _is_ready(c)]


def music_of(routine: Routine) -> Clip | None:
    """The reference in which the routine's music is heard: the first, or else one at its tempo."""
    return next((c for c in _counted_clips(routine) if _is_music(c)), None)


def _is_music(clip: Clip) -> bool:
    return clip.has_sound and clip.parts is None and (clip.is_first or at_tempo(clip))


def _is_ready(clip: Clip) -> bool:
    try:
        ready(clip)
    except NotReady:
        return False
    return True


def at_tempo(clip: Clip) -> bool:
    """Whether another reference is danced at about the first one's tempo."""
    return clip.placed is not None and abs(PlacedForm.model_validate(clip.placed).tempo_ratio - 1) <= AT_TEMPO


def _shown(clip: Clip, sides: KnownSides = UNSAID) -> Shown:
    return Shown(clip.id, _source(clip), grid_of(ready(clip)), sides)


def sides_of(clip: Clip) -> tuple[bool, bool]:
    """Whether it is known, and whether a reference's left is the student's right: as it was said of the clip, or else
    by the first one's sides."""
    if clip.mirrored is not None or clip.flipped is not None:
        return True, bool(clip.mirrored) != bool(clip.flipped)
    if clip.is_first or clip.placed is None:
        return False, False
    known, other = sides_of(first_of(clip.routine))
    images = PlacedForm.model_validate(clip.placed).mirrored
    return known and images is not None, other != bool(images)


def both_sides(reference: Clip, take: Clip) -> KnownSides:
    """What was said of both clips; a reference that is only known to mirror the first one has the other sides too."""
    known, other = sides_of(reference)
    return KnownSides(other if known or other else None, take.flipped)


def grid_of(form: dict[str, object]) -> Grid:
    return GridForm.model_validate(form).value()


def _source(clip: Clip) -> Source:
    return Source(clip.content, track_of(clip), clip.start_s, stretch_of(clip), cameras_of(clip))


def of(clip: Clip) -> Inputs:
    """What a take, or a reference beside the first, is to be compared with. Raises NotReady, SheetError."""
    return of_take(clip) if clip.role is Role.TAKE else of_other(clip)


def fingerprint(clip: Clip) -> str | None:
    """None where a comparison can't be made yet."""
    try:
        return of(clip).fingerprint
    except (NotReady, SheetError):
        return None


def why_not(clip: Clip) -> str | None:
    """What is missing, as a sentence."""
    try:
        of(clip)
    except (NotReady, SheetError) as reason:
        return str(reason)
    return None
