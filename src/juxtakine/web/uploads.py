"""A clip on its way in: streamed to disk, looked at in a process of its own, and put in its place or cleaned away."""

import shutil
import unicodedata
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path, PurePosixPath, PureWindowsPath
from typing import Annotated

from fastapi import Depends, Request
from sqlalchemy.orm import Session
from starlette.concurrency import run_in_threadpool
from starlette.requests import ClientDisconnect

from juxtakine.jobs import intake
from juxtakine.jobs.places import media
from juxtakine.jobs.room import SPARE_BYTES, disk_is_full, is_full
from juxtakine.media import apart
from juxtakine.media.clips import ClipFacts
from juxtakine.pipeline.tracks import content_of
from juxtakine.settings import settings
from juxtakine.web.refused import Refused
from juxtakine.web.schemas import Uploaded

LONGEST_NAME = 120
BYTES = {"requestBody": {"required": True, "content": {"application/octet-stream": {}}}}


@dataclass(frozen=True)
class Arrived:
    """What came in: its name, its content's name in the media folder, what it is, and whether a clip that is here has
    got its missing file back by it."""

    name: str
    content: str
    facts: ClipFacts
    restored: bool


async def take_in(request: Request, name: str, make: Callable[[Session, Arrived], Uploaded]) -> Uploaded:
    """The request's body becomes a clip: `make` makes its row in a transaction that holds together with the file.

    Raises ClipError and Refused; leaves nothing then.
    """
    check_bytes(request)
    declared = int(request.headers.get("content-length") or 0)
    arriving = media().incoming()
    _check_room(declared, arriving.parent)
    try:
        await _stream(request, arriving, declared)
        return await run_in_threadpool(_placed, arriving, plain_name(name), make)
    except OSError as error:
        if is_full(error, settings().var):
            raise Refused(f"{disk_is_full(settings().var)} Nothing of the clip was kept.", 507) from error
        raise
    finally:
        arriving.unlink(missing_ok=True)


def check_bytes(request: Request) -> None:
    """What another page could send without asking first is none of it. Raises Refused."""
    kind = request.headers.get("content-type", "").partition(";")[0].strip().lower()
    if kind != "application/octet-stream":
        raise Refused("A file is sent as bytes (application/octet-stream). Nothing was kept.", 415)


async def _bytes(request: Request) -> bytes:
    check_bytes(request)
    return await request.body()


Bytes = Annotated[bytes, Depends(_bytes)]
"""A small file, whole."""


def _placed(arrived: Path, name: str, make: Callable[[Session, Arrived], Uploaded]) -> Uploaded:
    facts, content = apart.read(arrived).facts, content_of(arrived)
    restored = media().of(content).exists() and not media().clip(content).exists()
    with intake.taken_in(arrived, content) as db:
        return make(db, Arrived(name, content, facts, restored))


async def _stream(request: Request, to: Path, declared: int) -> None:
    try:
        with to.open("wb") as file:
            async for piece in request.stream():
                file.write(piece)
    except ClientDisconnect as gone:
        raise _broken_off() from gone
    if declared and to.stat().st_size < declared:
        raise _broken_off()


def _broken_off() -> Refused:
    return Refused("The upload broke off. Nothing of it was kept; choose the clip again.", 400)


def _check_room(wanted: int, folder: Path) -> None:
    free = shutil.disk_usage(folder).free
    if free < wanted + SPARE_BYTES:
        raise Refused(
            f"The clip needs {wanted / 1e6:.0f} MB beside the {SPARE_BYTES / 1e6:.0f} that are kept free, and "
            f"{free / 1e6:.0f} MB are free. Nothing was kept: make room.",
            507,
        )


def plain_name(name: str) -> str:
    """A file's own name: no folders, no control characters, not too long."""
    last = PurePosixPath(PureWindowsPath(name).name).name
    printable = "".join(c for c in unicodedata.normalize("NFC", last) if c.isprintable()).strip(" .")
    return printable[:LONGEST_NAME] or "clip"
