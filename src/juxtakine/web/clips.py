"""Clips: playing, the wave, a take's result, count 1 by hand, cancel, measure again, delete."""

from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import FileResponse, Response
from sqlalchemy.orm import Session

from juxtakine.core.counting.grids import Anchor, Grid, check_within
from juxtakine.core.limits import LONGEST_CLIP_S
from juxtakine.jobs import flow, inputs, intake, mending
from juxtakine.jobs.places import media
from juxtakine.media import pictures
from juxtakine.media.play_copy import is_whole
from juxtakine.media.sound import PEAKS_PER_S
from juxtakine.pipeline.sheet_forms import GridForm
from juxtakine.store import clips, jobs, routines
from juxtakine.store.models import Clip, Role
from juxtakine.web import schemas as s
from juxtakine.web import views, watching
from juxtakine.web.context import ClipHeld, ClipShown, Db
from juxtakine.web.refused import Refused, say

router = APIRouter(prefix="/clips/{clip_id}")
LEAST_RUN_S = 0.6
"""As long as no tempo is known: a count of a quick dance."""
NOT_READY = say(404, s.Problem(sentence="This clip is still being made ready to play."))
"""An answer, not an error: what begins to mend it has to hold."""


@router.get("/play", response_class=FileResponse)
def play(db: Db, clip: ClipShown) -> Response:
    file = _play_copy(db, clip)
    return FileResponse(file, media_type="video/mp4") if file else NOT_READY


def _play_copy(db: Session, clip: Clip) -> Path | None:
    """None where it is not whole; it is made again then."""
    file = media().play_copy(clip.content)
    if is_whole(file):
        return file
    mending.mend(db, routines.get(db, clip.routine_id, lock=True))
    return None


@router.get("/wave")
def wave(clip: ClipShown) -> s.Wave:
    return s.Wave(peaks=media().wave(clip.content) or [], per_second=PEAKS_PER_S)


@router.get("/picture", response_class=Response)
def picture(
    db: Db, clip: ClipShown, at: Annotated[float, Query(ge=0, le=LONGEST_CLIP_S)],
    tall: Annotated[int, Query(ge=16, le=720)] = 196,
) -> Response:  # fmt: skip
    """The frame shown at a moment of the play copy."""
    file = _play_copy(db, clip)
    if file is None:
        return NOT_READY
    made = pictures.picture(file, at, tall)
    return Response(made, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})


@router.get("/feet")
def feet(clip: ClipShown) -> s.FeetView:
    """Where everybody's feet are in the picture."""
    return watching.feet(clip)


@router.get("/result")
def result(clip: ClipShown) -> s.TakeResult:
    return views.take_result(clip)


@router.put("/run")
def choose_run(db: Db, clip: ClipHeld, chosen: s.Span) -> s.ClipView:
    """The stretch of the instructor's clip that is the run; only that is measured."""
    if clip.role is not Role.REFERENCE:
        raise Refused("A run is chosen in the instructor's clip, not in a take.")
    start, end = _stretch(clip, chosen)
    if clip.run != [start, end]:
        intake.use(db, clip, start, end)
    return _begun(db, clip)


@router.post("/stretch")
def add_stretch(db: Db, clip: ClipHeld, chosen: s.Span) -> s.Uploaded:
    """A stretch of the instructor's clip as another reference, beside what the clip is used for already."""
    start, end = _stretch(clip, chosen)
    made = intake.add_stretch(db, clip, start, end)
    flow.begin(db, made)
    return s.Uploaded(routine=clip.routine_id, clip=made.id, screen=s.Screen.WATCH)


def _stretch(clip: Clip, chosen: s.Span) -> tuple[float, float]:
    """Seconds of the clip. Raises Refused for what holds no count."""
    start, end = (clip.start_s + min(max(0.0, at), clip.duration_s) for at in (chosen.from_s, chosen.to_s))
    edit = routines.current(clip.routine)
    least = float(inputs.grid_of(edit.grid).count_length(0.0)) if edit.grid else LEAST_RUN_S
    if end - start < least:
        raise Refused("This run is shorter than one count. Drag its ends apart; the run before it is kept.", 422)
    return start, end


@router.post("/follow")
def follow(db: Db, clip: ClipHeld, click: s.FollowClick) -> s.ClipView:
    """Follow who stands there; a further click mends it from there on, and backwards."""
    at = min(max(0.0, click.at_s), clip.duration_s)
    intake.follow(db, clip, [*(clip.clicks or []), [click.x, click.y, clip.start_s + at]])
    return _begun(db, clip)


@router.delete("/follow")
def unfollow(db: Db, clip: ClipHeld) -> s.ClipView:
    """The last click goes; without any, whoever the estimator takes is followed."""
    intake.follow(db, clip, (clip.clicks or [])[:-1] or None)
    return _begun(db, clip)


def _begun(db: Session, clip: Clip) -> s.ClipView:
    flow.begin(db, clip)
    db.flush()
    return views.clip(clip)


@router.put("/sides")
def say_sides(db: Db, clip: ClipHeld, said: s.SidesSaid) -> s.ClipView:
    """What a person says of the clip's picture and its dancer's sides; the takes that it touches are compared anew."""
    if said.mirrored is not None and clip.role is Role.TAKE:
        raise Refused("A take is not danced mirrored on purpose; its picture may be flipped.", 422)
    clip.flipped, clip.mirrored = said.flipped, said.mirrored
    flow.compare_all(db, clip.routine)
    return views.clip(clip)


@router.put("/against")
def choose_reference(db: Db, take: ClipHeld, chosen: s.Against) -> s.TakeResult:
    """The reference that a take is compared with."""
    if take.role is not Role.TAKE:
        raise Refused("Only a take is compared.")
    if chosen.reference is not None:
        clips.of(take.routine, chosen.reference)
    take.against_id = chosen.reference
    flow.begin(db, take)
    return views.take_result(take)


@router.put("/small")
def mark_small(db: Db, take: ClipHeld, said: s.Small) -> s.TakeResult:
    """A take that is marked on purpose is judged by its timing alone."""
    if take.role is not Role.TAKE:
        raise Refused("Only a take is compared.")
    take.small = said.small
    flow.begin(db, take)
    return views.take_result(take)


@router.put("/first-count")
def place_first_count(db: Db, clip: ClipHeld, placed: s.FirstCount) -> s.ClipView:
    """Count 1 of a clip by hand, the other counts after it by the first reference's grid at a percentage of its
    tempo."""
    _beside_the_first(clip)
    edit = routines.current(clip.routine)
    if edit.grid is None:
        raise Refused("Place count 1 in the instructor's clip first.")
    check_within(placed.first_s, clip.duration_s)
    clip.grid = GridForm.of(_like(inputs.grid_of(edit.grid), placed, clip.start_s)).model_dump(mode="json")
    return _begun(db, clip)


def _like(grid: Grid, placed: s.FirstCount, start_s: float) -> Grid:
    """The same course of tempo from another first count on."""
    first = float(grid.seconds(0.0))
    ratio = 100 / placed.percent
    return Grid(tuple(Anchor(a.at, start_s + placed.first_s + (a.seconds - first) * ratio) for a in grid.anchors))


@router.delete("/first-count")
def found_again(db: Db, clip: ClipHeld) -> s.ClipView:
    """Where count 1 is, is left to sound and movement again."""
    _beside_the_first(clip)
    clip.grid = None
    return _begun(db, clip)


@router.post("/cancel")
def cancel(db: Db, clip: ClipHeld) -> s.ClipView:
    """Stop the work; the clip stays and can be measured later."""
    jobs.cancel(db, clip)
    return views.clip(clip)


@router.post("/measure")
def measure(db: Db, clip: ClipHeld) -> s.ClipView:
    """Go on with the first step that is not done."""
    flow.begin(db, clip)
    db.flush()
    return views.clip(clip)


@router.delete("", status_code=204)
def delete(db: Db, clip: ClipHeld) -> None:
    """A take, or a reference beside the first, for good."""
    _beside_the_first(clip)
    routine = clip.routine
    intake.forget(db, clip)
    flow.compare_all(db, routine)


def _beside_the_first(clip: Clip) -> None:
    """Raises Refused."""
    if clip.is_first:
        raise Refused("This is the instructor's clip on which the sheet is counted.")
