"""What the commands share: refusing in a sentence, files that are there, a click."""

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from juxtakine.core.limits import FARTHEST_S, MOST_COUNTS

if TYPE_CHECKING:
    from juxtakine.core.movement.people import Click

REFUSED, NOBODY = 3, 4


class CommandRefused(Exception):
    """A sentence, and the status to leave with."""

    def __init__(self, sentence: str, status: int = REFUSED) -> None:
        super().__init__(sentence)
        self.status = status


def click(said: str) -> "Click":
    """X,Y@SECONDS: the middle of a trunk, as shares of the picture's width and height."""
    from juxtakine.core.movement.people import Click

    try:
        place, at = said.split("@")
        x, y = (seconds(v) for v in place.split(","))
        return Click(x, y, seconds(at))
    except (ValueError, argparse.ArgumentTypeError) as error:
        raise argparse.ArgumentTypeError(f"{said!r} is not X,Y@SECONDS, as in 0.4,0.5@12.5") from error


def seconds(said: str) -> float:
    """A number that is one: neither NaN nor without end."""
    try:
        value = float(said)
    except ValueError:
        value = float("nan")
    if not abs(value) <= FARTHEST_S:
        raise argparse.ArgumentTypeError(f"{said!r} is no number of seconds")
    return value


def counts(said: str) -> int:
    if not said.isdigit() or not 1 <= int(said) <= MOST_COUNTS:
        raise argparse.ArgumentTypeError(f"{said!r} is no number of counts: they go from 1 to {MOST_COUNTS}")
    return int(said)


def port(said: str) -> int:
    if not said.isdigit() or not 1 <= int(said) <= 65_535:
        raise argparse.ArgumentTypeError(f"{said!r} is no port: they go from 1 to 65535")
    return int(said)


FOLLOW: dict[str, Any] = {
    "type": click,
    "action": "append",
    "default": [],
    "metavar": "X,Y@SECONDS",
    "help": "who is followed: the middle of the trunk, as shares of the picture, at a moment; may be said again",
}


def existing(path: Path) -> Path:
    if not path.is_file():
        raise CommandRefused(f"There is no file {path}.")
    return path


def writable(path: Path) -> Path:
    if not path.parent.is_dir():
        raise CommandRefused(f"There is no folder {path.parent}.")
    if path.is_dir():
        raise CommandRefused(f"{path} is a folder: name the file that is to be written.")
    return path
