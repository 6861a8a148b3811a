"""The connection to MariaDB."""

from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache

from sqlalchemy import Engine, create_engine
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from juxtakine.settings import settings

DEADLOCK = 1213


@cache
def engine(url: str) -> Engine:
    return create_engine(url, pool_pre_ping=True, pool_recycle=3600)


@contextmanager
def session() -> Iterator[Session]:
    """One transaction: committed at the end, rolled back where the block raises."""
    with Session(engine(settings().database_url), expire_on_commit=False) as opened, opened.begin():
        yield opened


def is_deadlock(error: OperationalError) -> bool:
    """Whether MariaDB rolled this transaction back because another one waited for it: it may be tried again."""
    return getattr(error.orig, "args", (0,))[0] == DEADLOCK
