"""Who may come in, with how much, and what a page may do that goes out: decided before anything is read.

All of it is for one person's browser on this machine. A page from elsewhere can't read or change anything: not under
another name that leads here (Host), not from its own address (Origin, Sec-Fetch-Site), not in a frame.
"""

import re

from starlette.datastructures import Headers, MutableHeaders
from starlette.exceptions import HTTPException
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from juxtakine.core.limits import LARGEST_CLIP, LARGEST_SAID, LARGEST_SHEET
from juxtakine.web.schemas import Problem

HOSTS = ("127.0.0.1", "localhost", "[::1]")
READS = ("GET", "HEAD", "OPTIONS")
OURS = (None, "same-origin", "none")
"""What a browser says of where a request comes from; nothing where it is no browser."""
CLIPS = re.compile(r"/api/routines(/[^/]+/(reference|references|takes))?")
SHEETS = re.compile(r"/api/routines/[^/]+/(sheet|paste|import)")
GOES_OUT = {
    "Content-Security-Policy": (
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; "
        "media-src 'self' blob:; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'none'; "
        "frame-ancestors 'none'"
    ),
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Referrer-Policy": "no-referrer",
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
}


class Door:
    """ASGI middleware."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        method, path, headers = scope["method"], scope["path"], Headers(scope=scope)

        async def told(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).update(GOES_OUT)
            await send(message)

        try:
            _known(method, path, headers)
            await self.app(scope, _counted(receive, headers, most_bytes(path)), told)
        except HTTPException as refused:
            await say(refused)(scope, receive, told)


def say(refused: HTTPException) -> JSONResponse:
    return JSONResponse(Problem(sentence=refused.detail).model_dump(), refused.status_code)


def most_bytes(path: str) -> int:
    """What may be sent there."""
    if CLIPS.fullmatch(path):
        return LARGEST_CLIP
    return LARGEST_SHEET if SHEETS.fullmatch(path) else LARGEST_SAID


def _known(method: str, path: str, headers: Headers) -> None:
    host = headers.get("host", "")
    if re.sub(r":\d*$", "", host) not in HOSTS:
        raise HTTPException(421, "Juxtakine answers on this machine alone, under the address that it printed.")
    if path.startswith("/api") and headers.get("sec-fetch-site") not in OURS:
        raise HTTPException(403, "Another page may not ask this of Juxtakine.")
    if method not in READS and headers.get("origin", f"http://{host}") != f"http://{host}":
        raise HTTPException(403, "Another page may not change anything in Juxtakine.")


def _counted(receive: Receive, headers: Headers, most: int) -> Receive:
    """Raises HTTPException where more comes than may, as soon as it is known."""
    declared = headers.get("content-length", "0")
    if not declared.isdigit() or int(declared) > most:
        raise _too_much(most)
    come = 0

    async def counted() -> Message:
        nonlocal come
        message = await receive()
        come += len(message.get("body", b""))
        if come > most:
            raise _too_much(most)
        return message

    return counted


def _too_much(most: int) -> HTTPException:
    size = f"{most / 1e9:.0f} GB" if most >= 1e9 else f"{most / 1e6:.0f} MB"
    return HTTPException(413, f"This is too much: at most {size} can be taken here. Nothing was changed.")
