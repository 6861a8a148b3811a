"""The run that is up over a data folder: its address and ports, for whoever comes later."""

import fcntl
import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from pathlib import Path

FILE = "run.json"


@dataclass(frozen=True)
class LiveRun:
    address: str
    database_port: int
    broker_port: int

    def keep(self, var: Path) -> None:
        (var / FILE).write_text(json.dumps(asdict(self)))

    @staticmethod
    def forget(var: Path) -> None:
        (var / FILE).unlink(missing_ok=True)


def run_of(var: Path) -> LiveRun | None:
    """As it was left; whether it still answers is for who asks to find out."""
    try:
        return LiveRun(**json.loads((var / FILE).read_text()))
    except (OSError, ValueError, TypeError):
        return None


@contextmanager
def held(var: Path) -> Iterator[bool]:
    """The folder is ours until the block ends, or this process, however it does; false where another run has it."""
    with (var / "lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            yield False
            return
        yield True
