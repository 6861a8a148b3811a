"""What a request works in: one transaction, and in it the routine or the clip that its address names.

It is committed before the answer goes out, so that who is answered finds what they were told.
"""

from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends
from sqlalchemy.orm import Session

from juxtakine.store import clips, routines
from juxtakine.store.database import session
from juxtakine.store.models import Clip, Routine


def _transaction() -> Iterator[Session]:
    with session() as db:
        yield db


Db = Annotated[Session, Depends(_transaction, scope="function")]


def _shown(db: Db, routine_id: int) -> Routine:
    return routines.get(db, routine_id)


def _held(db: Db, routine_id: int) -> Routine:
    return routines.get(db, routine_id, lock=True)


def _clip_shown(db: Db, clip_id: int) -> Clip:
    return clips.of(routines.get(db, _routine_of(clip_id)), clip_id)


def _clip_held(db: Db, clip_id: int) -> Clip:
    return clips.of(routines.get(db, _routine_of(clip_id), lock=True), clip_id)


def _routine_of(clip_id: int) -> int:
    """In a transaction of its own: that which holds the routine has to begin with it, else it sees what was before."""
    with session() as db:
        return clips.get(db, clip_id).routine_id


RoutineShown = Annotated[Routine, Depends(_shown)]
RoutineHeld = Annotated[Routine, Depends(_held)]
"""Nobody else changes anything of the routine as long as the request lasts."""
ClipShown = Annotated[Clip, Depends(_clip_shown)]
ClipHeld = Annotated[Clip, Depends(_clip_held)]
"""Nobody else changes anything of the clip's routine as long as the request lasts."""
