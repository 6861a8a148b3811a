"""How far the jobs of a routine are; the work goes on whether anybody asks or not.

Asked again and again by the window that is looked at, rather than told over a connection that stays open: a browser has
only six of them for all its windows.
"""

from fastapi import APIRouter

from juxtakine.store import clips
from juxtakine.web import views
from juxtakine.web.context import RoutineShown
from juxtakine.web.schemas import ClipProgress, Progress

router = APIRouter()


@router.get("/routines/{routine_id}/progress")
def progress(routine: RoutineShown) -> Progress:
    newest = ((c.id, clips.last_job(c)) for c in routine.clips)
    return Progress(clips=[ClipProgress(clip=i, job=views.job(j)) for i, j in newest if j])
