"""Whether all servers answer."""

import redis
from fastapi import APIRouter
from sqlalchemy import text
from sqlalchemy.exc import SQLAlchemyError

from juxtakine.jobs.worker import alive
from juxtakine.settings import settings
from juxtakine.store.database import session
from juxtakine.web.schemas import Health

router = APIRouter()


@router.get("/health")
def health() -> Health:
    database, (broker, worker) = _database(), _broker_and_worker()
    return Health(healthy=database and broker and worker, database=database, broker=broker, worker=worker)


def _database() -> bool:
    try:
        with session() as db:
            db.execute(text("SELECT 1 FROM routine LIMIT 1"))
    except SQLAlchemyError:
        return False
    return True


def _broker_and_worker() -> tuple[bool, bool]:
    try:
        with redis.Redis.from_url(settings().broker_url, socket_timeout=2) as broker:
            return True, alive(broker)
    except redis.RedisError:
        return False, False
