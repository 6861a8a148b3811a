"""The application: routes, what an error says, and the built front end for everything else."""

import shutil
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse
from starlette.middleware.gzip import GZipMiddleware

from juxtakine.core.comparing.refused import CompareError
from juxtakine.core.counting.grids import GridError
from juxtakine.core.counting.lines import LineError
from juxtakine.core.counting.sheets import SheetError
from juxtakine.jobs.places import media
from juxtakine.media.clips import ClipError
from juxtakine.pipeline.forms import FormError
from juxtakine.settings import settings
from juxtakine.store.routines import Missing
from juxtakine.web import clips, health, progress, routines, sheets, views
from juxtakine.web.schemas import Problem
from juxtakine.web.uploads import Refused


@asynccontextmanager
async def _life(_: FastAPI) -> AsyncIterator[None]:
    # what was on its way in when the last run ended will not come any more
    shutil.rmtree(media().root / "incoming", ignore_errors=True)
    yield


app = FastAPI(title="Juxtakine", lifespan=_life)
app.add_middleware(GZipMiddleware, minimum_size=2000)
for module in (health, routines, sheets, clips, progress):
    app.include_router(module.router, prefix="/api")


def _say(status: int, problem: Problem) -> JSONResponse:
    return JSONResponse(problem.model_dump(), status)


@app.exception_handler(Missing)
async def _missing(_: Request, error: Missing) -> JSONResponse:
    return _say(404, Problem(sentence=str(error.args[0])))


@app.exception_handler(Refused)
async def _refused(_: Request, error: Refused) -> JSONResponse:
    return _say(error.status, Problem(sentence=str(error)))


@app.exception_handler(SheetError)
async def _sheet(_: Request, error: SheetError) -> JSONResponse:
    return _say(422, views.problem(error.problems[0]))


@app.exception_handler(FormError)
@app.exception_handler(GridError)
@app.exception_handler(LineError)
@app.exception_handler(ClipError)
@app.exception_handler(CompareError)
async def _said(_: Request, error: Exception) -> JSONResponse:
    said = str(error)
    return _say(422, Problem(sentence=said[:1].upper() + said[1:] + ("" if said.endswith(".") else ".")))


@app.exception_handler(RequestValidationError)
async def _invalid(_: Request, error: RequestValidationError) -> JSONResponse:
    first = error.errors()[0]
    place = ".".join(str(k) for k in first["loc"][1:])
    return _say(422, Problem(sentence=f"{place}: {first['msg']}"))


@app.get("/{path:path}", include_in_schema=False)
async def front_end(path: str) -> FileResponse:
    """A built file, or the page, whose own router knows the rest."""
    root = settings().frontend.resolve()
    wanted = (root / path).resolve()
    inside = wanted.is_file() and wanted.is_relative_to(root)
    if path.startswith("api/"):
        raise Missing("There is no such address.")
    if not inside and not (root / "index.html").exists():
        raise Refused("The interface is not built: run make setup.", 503)
    headers = {} if inside else {"Cache-Control": "no-store"}
    return FileResponse(wanted if inside else root / "index.html", headers=headers)
