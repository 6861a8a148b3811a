"""How far the jobs of a routine are, as server-sent events; the work goes on whether anybody listens or not."""

import asyncio
from collections.abc import AsyncIterable

from fastapi import APIRouter
from fastapi.sse import EventSourceResponse
from starlette.concurrency import run_in_threadpool

from juxtakine.store import clips, routines
from juxtakine.store.database import session
from juxtakine.web import views
from juxtakine.web.schemas import ClipProgress, Progress

LOOK_S = 0.5
router = APIRouter()


@router.get("/routines/{routine_id}/progress", response_class=EventSourceResponse)
async def progress(routine_id: int) -> AsyncIterable[Progress]:
    before: Progress | None = None
    while True:
        now = await run_in_threadpool(_look, routine_id)
        if now is None:
            return
        if now != before:
            yield now
        before = now
        await asyncio.sleep(LOOK_S)


def _look(routine_id: int) -> Progress | None:
    with session() as db:
        try:
            routine = routines.get(db, routine_id)
        except routines.Missing:
            return None
        newest = ((c.id, clips.last_job(c)) for c in routine.clips)
        return Progress(clips=[ClipProgress(clip=i, job=views.job(j)) for i, j in newest if j])
