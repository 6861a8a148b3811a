"""Room on the disk: how much is kept free, how a full one shows, and what is said then."""

import errno
import shutil
from pathlib import Path

from sqlalchemy.exc import DBAPIError

from juxtakine.store import database

SPARE_BYTES = 500_000_000
"""Kept free of clips: what is measured and written of them needs room as well."""
NOTHING_LEFT_BYTES = 20_000_000
"""Below this, work that ends without a reason of its own has most likely ended for want of room."""


def is_full(failure: Exception, folder: Path) -> bool:
    """Whether it failed as there is no room to write in the folder; MariaDB or a process of ours may have ended of it
    unheard."""
    if getattr(failure, "errno", None) == errno.ENOSPC or (
        isinstance(failure, DBAPIError) and database.is_full(failure)
    ):
        return True
    unheard = isinstance(failure, ChildProcessError) or database.is_away(failure)
    return unheard and shutil.disk_usage(folder).free < NOTHING_LEFT_BYTES


def disk_is_full(folder: Path) -> str:
    free = shutil.disk_usage(folder).free
    return (
        f"The disk is full: {free / 1e6:.0f} MB are free where Juxtakine keeps its data, and it needs "
        f"{SPARE_BYTES / 1e6:.0f}. All that was kept before is there. Make room, then go on."
    )
