"""Whether a data folder can be used: it can be written to, and there is room."""

import os
import shutil
from pathlib import Path

LEAST_FREE_BYTES = 2 * 10**9
LEAST_TO_START_BYTES = 300_000_000
"""MariaDB's own files take about half of it."""


def unusable(folder: Path, least_bytes: int) -> str | None:
    """Why the folder, which need not be there yet, can't be used; None where it can."""
    try:
        there = next(f for f in (folder, *folder.parents) if f.exists())
        if not there.is_dir() or not os.access(there, os.W_OK | os.X_OK):
            return f"Nothing can be written to {folder}: give yourself the right to, or set JUXTAKINE_VAR."
        free = shutil.disk_usage(there).free
    except OSError as error:
        return f"{folder} can't be used: {error.strerror}. Set JUXTAKINE_VAR to another folder."
    if free < least_bytes:
        return (
            f"The disk is full: {free / 1e6:.0f} MB are free in {there}, and clips and tracks need "
            f"{least_bytes / 1e6:.0f}. Nothing was changed. Make room, or let JUXTAKINE_VAR name a folder elsewhere."
        )
    return None
