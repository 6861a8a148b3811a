"""The application: routes, what an error says, and the built front end for everything else."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm.exc import StaleDataError
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware

from juxtakine.core.comparing.refused import CompareError
from juxtakine.core.counting.grids import GridError
from juxtakine.core.counting.lines import LineError
from juxtakine.core.counting.sheets import SheetError
from juxtakine.jobs.mending import Lost
from juxtakine.jobs.places import media
from juxtakine.jobs.room import disk_is_full, is_full
from juxtakine.media.clips import ClipError
from juxtakine.pipeline.forms import FormError
from juxtakine.settings import settings
from juxtakine.store.database import is_away, is_deadlock
from juxtakine.store.routines import Missing
from juxtakine.web import clips, door, health, progress, routines, sheets, views
from juxtakine.web.refused import Refused, say
from juxtakine.web.schemas import Problem

AGAIN = "This page goes on by itself as soon as it does."


@asynccontextmanager
async def _life(_: FastAPI) -> AsyncIterator[None]:
    media().clear_incoming()
    yield


# pages that describe the routes would come from elsewhere
app = FastAPI(title="Juxtakine", lifespan=_life, docs_url=None, redoc_url=None)
app.add_middleware(GZipMiddleware, minimum_size=2000)
app.add_middleware(door.Door)
for module in (health, routines, sheets, clips, progress):
    app.include_router(module.router, prefix="/api")


@app.exception_handler(Missing)
async def _missing(_: Request, error: Missing) -> JSONResponse:
    return say(404, Problem(sentence=str(error.args[0])))


@app.exception_handler(Refused)
async def _refused(_: Request, error: Refused) -> JSONResponse:
    return say(error.status, Problem(sentence=str(error)))


@app.exception_handler(SheetError)
async def _sheet(_: Request, error: SheetError) -> JSONResponse:
    return say(422, views.problem(error.problems[0]))


@app.exception_handler(FormError)
@app.exception_handler(GridError)
@app.exception_handler(LineError)
@app.exception_handler(ClipError)
@app.exception_handler(CompareError)
async def _said(_: Request, error: Exception) -> JSONResponse:
    said = str(error)
    return say(422, Problem(sentence=said[:1].upper() + said[1:] + ("" if said.endswith(".") else ".")))


@app.exception_handler(RequestValidationError)
async def _invalid(_: Request, error: RequestValidationError) -> JSONResponse:
    first = error.errors()[0]
    place = ".".join(str(k) for k in first["loc"][1:])
    return say(422, Problem(sentence=f"{place}: {first['msg']}"))


@app.exception_handler(HTTPException)
async def _http(_: Request, error: HTTPException) -> JSONResponse:
    return door.say(error)


@app.exception_handler(Lost)
async def _lost(_: Request, error: Lost) -> JSONResponse:
    """The next look at the routine has it made again: it is gone from the shelf."""
    return say(409, Problem(sentence=str(error)))


@app.exception_handler(DBAPIError)
@app.exception_handler(OSError)
async def _failing(request: Request, error: Exception) -> JSONResponse:
    """What the machine can't give just now. Raises everything else."""
    if is_full(error, settings().var):
        return say(507, Problem(sentence=disk_is_full(settings().var)))
    if is_away(error):
        return say(503, Problem(sentence=f"The database does not answer. Nothing that was kept is lost. {AGAIN}"))
    if isinstance(error, DBAPIError) and is_deadlock(error):
        return await _at_once(request, error)
    raise error


@app.exception_handler(StaleDataError)
async def _at_once(_: Request, error: Exception) -> JSONResponse:
    return say(503, Problem(sentence="Two changes came at once. This one was not kept: try it again."))


@app.get("/{path:path}", include_in_schema=False)
async def front_end(path: str) -> FileResponse:
    """A built file, or the page, whose own router knows the rest."""
    root = settings().frontend.resolve()
    if path.startswith("api/"):
        raise Missing("There is no such address.")
    file = _inside(root, path)
    if file is None and not (root / "index.html").exists():
        raise Refused("The interface is not built: run make setup.", 503)
    return FileResponse(file or root / "index.html", headers={} if file else {"Cache-Control": "no-store"})


def _inside(root: Path, path: str) -> Path | None:
    """The file of that path, where there is one in the folder."""
    try:
        wanted = (root / path).resolve()
        return wanted if wanted.is_file() and wanted.is_relative_to(root) else None
    except (OSError, ValueError):  # a path that no file can have
        return None
