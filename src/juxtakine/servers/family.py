"""The processes of one run: found by a mark in their environment, however they were orphaned."""

import os
import signal
import time
from pathlib import Path

MARK = "JUXTAKINE_RUN"
PATIENCE_S = 15


def mark(var: Path) -> dict[str, str]:
    """What everything that the supervisor starts has in its environment."""
    return {MARK: str(var)}


def members(var: Path) -> list[int]:
    """Process numbers of everything alive that carries this folder's mark, this process aside."""
    wanted = f"{MARK}={var}".encode()
    found = []
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit() or int(entry.name) == os.getpid():
            continue
        try:
            if wanted in (entry / "environ").read_bytes().split(b"\0") and not _is_zombie(entry):
                found.append(int(entry.name))
        except OSError:
            continue  # gone meanwhile, or somebody else's
    return found


def stop(var: Path) -> int:
    """End all members, gently first; returns how many there were."""
    first = members(var)
    for how, patience in ((signal.SIGTERM, PATIENCE_S), (signal.SIGKILL, 5)):
        for pid in members(var):
            _signal(pid, how)
        end = time.monotonic() + patience
        while members(var) and time.monotonic() < end:
            time.sleep(0.1)
    return len(first)


def _signal(pid: int, how: signal.Signals) -> None:
    try:
        os.kill(pid, how)
    except ProcessLookupError:
        return


def _is_zombie(entry: Path) -> bool:
    return (entry / "stat").read_text().rpartition(")")[2].split()[0] == "Z"
