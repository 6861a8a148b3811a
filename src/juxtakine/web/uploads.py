"""A clip on its way in: streamed to disk, probed at the door, and put in its place or cleaned away."""

import errno
import shutil
import unicodedata
from pathlib import Path, PurePosixPath, PureWindowsPath

from fastapi import Request
from starlette.concurrency import run_in_threadpool
from starlette.requests import ClientDisconnect

from juxtakine.jobs.places import media
from juxtakine.media.clips import ClipFacts, probe

SPARE_BYTES = 500_000_000
LONGEST_NAME = 120


class Refused(Exception):
    """A sentence and an HTTP status."""

    def __init__(self, sentence: str, status: int = 409) -> None:
        super().__init__(sentence)
        self.status = status


async def receive(request: Request) -> tuple[str, ClipFacts]:
    """The content's name in the media folder, and what the clip is. Raises ClipError, Refused; leaves nothing then."""
    declared = int(request.headers.get("content-length") or 0)
    arriving = media().incoming()
    _check_room(declared, arriving.parent)
    try:
        await _stream(request, arriving, declared)
        facts = await run_in_threadpool(probe, arriving)
        return await run_in_threadpool(media().take_in, arriving), facts
    except OSError as error:
        if error.errno != errno.ENOSPC:
            raise
        raise Refused("The disk is full. Nothing of the clip was kept; make room and choose it again.", 507) from error
    finally:
        arriving.unlink(missing_ok=True)


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
            f"The clip needs {wanted / 1e6:.0f} MB and {free / 1e6:.0f} MB are free. Nothing was kept: make room.",
            507,
        )


def plain_name(name: str) -> str:
    """A file's own name: no folders, no control characters, not too long."""
    last = PurePosixPath(PureWindowsPath(name).name).name
    printable = "".join(c for c in unicodedata.normalize("NFC", last) if c.isprintable()).strip(" .")
    return printable[:LONGEST_NAME] or "clip"
