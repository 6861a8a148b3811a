"""Clips: playing, the wave, a take's result, count 1 by hand, cancel, measure again, delete."""

from collections.abc import Iterator
from contextlib import contextmanager
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
from juxtakine.store.database import session
from juxtakine.store.models import Clip, Role
from juxtakine.web import schemas as s
from juxtakine.web import views, watching
from juxtakine.web.uploads import Refused

router = APIRouter(prefix="/clips/{clip_id}")
LEAST_RUN_S = 0.6
"""As long as no tempo is known: a count of a quick dance."""


@router.get("/play", response_class=FileResponse)
def play(clip_id: int) -> FileResponse:
    return FileResponse(_play_copy(clip_id), media_type="video/mp4")


def _play_copy(clip_id: int) -> Path:
    """Raises Refused where it is not whole; it is made again then."""
    with session() as db:
        clip = clips.get(db, clip_id)
        file = media().play_copy(clip.content)
        if is_whole(file):
            return file
        mending.mend(db, routines.get(db, clip.routine_id, lock=True))
    raise Refused("This clip is still being made ready to play.", 404)


@router.get("/wave")
def wave(clip_id: int) -> s.Wave:
    with session() as db:
        return s.Wave(peaks=media().wave(clips.get(db, clip_id).content) or [], per_second=PEAKS_PER_S)


@router.get("/picture", response_class=Response)
def picture(
    clip_id: int, at: Annotated[float, Query(ge=0, le=LONGEST_CLIP_S)], tall: Annotated[int, Query(ge=16, le=720)] = 196
) -> Response:
    """The frame shown at a moment of the play copy."""
    made = pictures.picture(_play_copy(clip_id), at, tall)
    return Response(made, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})


@router.get("/feet")
def feet(clip_id: int) -> s.FeetView:
    """Where everybody's feet are in the picture."""
    with session() as db:
        return watching.feet(clips.get(db, clip_id))


@router.get("/result")
def result(clip_id: int) -> s.TakeResult:
    with session() as db:
        return views.take_result(clips.get(db, clip_id))


@contextmanager
def changing(clip_id: int) -> Iterator[tuple[Session, Clip]]:
    """A transaction in which nobody else changes anything of the clip's routine."""
    with session() as db:
        routine_id = clips.get(db, clip_id).routine_id
    with session() as db:
        routines.hold(db, routine_id)
        yield db, clips.get(db, clip_id)


@router.put("/run")
def choose_run(clip_id: int, chosen: s.Span) -> s.ClipView:
    """The stretch of the instructor's clip that is the run; only that is measured."""
    with changing(clip_id) as (db, clip):
        if clip.role is not Role.REFERENCE:
            raise Refused("A run is chosen in the instructor's clip, not in a take.")
        start, end = _stretch(clip, chosen)
        if clip.run != [start, end]:
            intake.use(db, clip, start, end)
        return _begun(db, clip)


@router.post("/stretch")
def add_stretch(clip_id: int, chosen: s.Span) -> s.Uploaded:
    """A stretch of the instructor's clip as another reference, beside what the clip is used for already."""
    with changing(clip_id) as (db, clip):
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
def follow(clip_id: int, click: s.FollowClick) -> s.ClipView:
    """Follow who stands there; a further click mends it from there on, and backwards."""
    with changing(clip_id) as (db, clip):
        at = min(max(0.0, click.at_s), clip.duration_s)
        intake.follow(db, clip, [*(clip.clicks or []), [click.x, click.y, clip.start_s + at]])
        return _begun(db, clip)


@router.delete("/follow")
def unfollow(clip_id: int) -> s.ClipView:
    """The last click goes; without any, whoever the estimator takes is followed."""
    with changing(clip_id) as (db, clip):
        intake.follow(db, clip, (clip.clicks or [])[:-1] or None)
        return _begun(db, clip)


def _begun(db: Session, clip: Clip) -> s.ClipView:
    flow.begin(db, clip)
    db.flush()
    return views.clip(clip)


@router.put("/sides")
def say_sides(clip_id: int, said: s.SidesSaid) -> s.ClipView:
    """What a person says of the clip's picture and its dancer's sides; the takes that it touches are compared anew."""
    with changing(clip_id) as (db, clip):
        if said.mirrored is not None and clip.role is Role.TAKE:
            raise Refused("A take is not danced mirrored on purpose; its picture may be flipped.", 422)
        clip.flipped, clip.mirrored = said.flipped, said.mirrored
        flow.compare_all(db, clip.routine)
        return views.clip(clip)


@router.put("/against")
def choose_reference(clip_id: int, chosen: s.Against) -> s.TakeResult:
    """The reference that a take is compared with."""
    with changing(clip_id) as (db, take):
        if take.role is not Role.TAKE:
            raise Refused("Only a take is compared.")
        if chosen.reference is not None:
            clips.of(take.routine, chosen.reference)
        take.against_id = chosen.reference
        flow.begin(db, take)
        return views.take_result(take)


@router.put("/small")
def mark_small(clip_id: int, said: s.Small) -> s.TakeResult:
    """A take that is marked on purpose is judged by its timing alone."""
    with changing(clip_id) as (db, take):
        if take.role is not Role.TAKE:
            raise Refused("Only a take is compared.")
        take.small = said.small
        flow.begin(db, take)
        return views.take_result(take)


@router.put("/first-count")
def place_first_count(clip_id: int, placed: s.FirstCount) -> s.ClipView:
    """Count 1 of a clip by hand, the other counts after it by the first reference's grid at a percentage of its
    tempo."""
    with changing(clip_id) as (db, clip):
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
def found_again(clip_id: int) -> s.ClipView:
    """Where count 1 is, is left to sound and movement again."""
    with changing(clip_id) as (db, clip):
        _beside_the_first(clip)
        clip.grid = None
        return _begun(db, clip)


@router.post("/cancel")
def cancel(clip_id: int) -> s.ClipView:
    """Stop the work; the clip stays and can be measured later."""
    with changing(clip_id) as (db, clip):
        jobs.cancel(db, clip)
        return views.clip(clip)


@router.post("/measure")
def measure(clip_id: int) -> s.ClipView:
    """Go on with the first step that is not done."""
    with changing(clip_id) as (db, clip):
        flow.begin(db, clip)
        db.flush()
        return views.clip(clip)


@router.delete("", status_code=204)
def delete(clip_id: int) -> None:
    """A take, or a reference beside the first, for good."""
    with changing(clip_id) as (db, clip):
        _beside_the_first(clip)
        routine = clip.routine
        intake.forget(db, clip)
        flow.compare_all(db, routine)


def _beside_the_first(clip: Clip) -> None:
    """Raises Refused."""
    if clip.is_first:
        raise Refused("This is the instructor's clip on which the sheet is counted.")
