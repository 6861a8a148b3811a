"""The connection to MariaDB."""

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path

from sqlalchemy import Engine, create_engine, event, text
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError
from sqlalchemy.orm import Session

from juxtakine.settings import settings

DEADLOCK = 1213
AWAY = (1053, 1927, 2002, 2003, 2006, 2013, 2014)
"""MariaDB's own numbers for a server that stops, a connection that is refused, closed or lost."""
TABLE_FULL = (1021, 1114)
NO_SPACE = ("No space left", "error 28", "Errcode: 28")
"""How MariaDB tells a full disk: by two numbers of its own, or by the system's."""
log = logging.getLogger(__name__)


@cache
def engine(url: str) -> Engine:
    return create_engine(url, pool_pre_ping=True, pool_recycle=3600)


@contextmanager
def session() -> Iterator[Session]:
    """One transaction: committed at the end, rolled back where the block raises."""
    with Session(engine(settings().database_url), expire_on_commit=False) as opened, opened.begin():
        yield opened


def after_commit(db: Session, act: Callable[[], object]) -> None:
    """Do it once the transaction holds, and not at all where it does not. What goes wrong then is logged: the
    transaction holds all the same, and whoever sweeps does it later."""

    def acted(_: Session) -> None:
        try:
            act()
        except Exception:
            log.exception("what follows a change failed; the next sweep does it")

    event.listen(db, "after_commit", acted, once=True)


def lies_in(db: Session, var: Path) -> bool:
    """Whether this is the database that belongs to the data folder: another one knows nothing of its files."""
    return Path(str(db.scalar(text("SELECT @@datadir")))).resolve() == (var / "mariadb").resolve()


def is_deadlock(error: DBAPIError) -> bool:
    """Whether MariaDB rolled this transaction back because another one waited for it: it may be tried again."""
    return _number(error) == DEADLOCK


def is_away(error: Exception) -> bool:
    """Whether MariaDB could not be reached, or went away in the middle: nothing of the transaction holds."""
    return isinstance(error, InterfaceError) or (isinstance(error, OperationalError) and _number(error) in AWAY)


def is_full(error: DBAPIError) -> bool:
    """Whether there is no room for what was to be written."""
    return _number(error) in TABLE_FULL or any(told in str(error.orig) for told in NO_SPACE)


def _number(error: DBAPIError) -> object:
    return next(iter(getattr(error.orig, "args", ())), None)
