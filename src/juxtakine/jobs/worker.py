"""One worker: Celery's, and a thread beside it that takes up what a dead one has left."""

import logging
import os
import socket
import threading
import time

import redis
from celery.signals import worker_process_init, worker_ready, worker_shutting_down

from juxtakine.jobs import flow
from juxtakine.jobs.app import app, send
from juxtakine.settings import settings
from juxtakine.store import jobs
from juxtakine.store.database import engine, session

SWEEP_S = 3
ALIVE_KEY = "juxtakine:worker"
ALIVE_S = 12
PROCESSES = 2
log = logging.getLogger(__name__)


def work() -> int:
    app.worker_main([
        "worker", "--loglevel=WARNING", f"--concurrency={PROCESSES}", "--without-gossip", "--without-mingle",
        f"--hostname=juxtakine-{os.getpid()}@%h",
    ])  # fmt: skip
    return 0


@worker_ready.connect
def _begin_sweeping(**_: object) -> None:
    stopping = threading.Event()
    worker_shutting_down.connect(lambda **__: stopping.set(), weak=False)
    threading.Thread(target=_sweep, args=(stopping,), daemon=True).start()


def _sweep(stopping: threading.Event) -> None:
    """Say that this worker lives; queue again what nobody works on. A job that is sent twice is taken once."""
    broker = redis.Redis.from_url(settings().broker_url)
    me = f"{socket.gethostname()}-{os.getpid()}"
    sent: dict[int, float] = {}
    first = True
    while not stopping.is_set():
        try:
            broker.set(f"{ALIVE_KEY}:{me}", 1, ex=ALIVE_S)
            with session() as db:
                if first:
                    flow.catch_up(db)
                waiting = jobs.orphans(db)
            first = False
            sent = {i: t for i, t in sent.items() if i in waiting}
            for job_id in waiting:
                if time.monotonic() - sent.get(job_id, -1e9) > 60:
                    sent[job_id] = time.monotonic()
                    send(job_id)
        except Exception:  # servers may restart under us
            log.exception("the sweep failed once")
        stopping.wait(SWEEP_S)
    broker.delete(f"{ALIVE_KEY}:{me}")


def alive(broker: "redis.Redis") -> bool:
    """Whether any worker has spoken lately."""
    return next(broker.scan_iter(f"{ALIVE_KEY}:*"), None) is not None


@worker_process_init.connect
def _own_connections(**_: object) -> None:
    """A forked process must not speak over its parent's connections."""
    engine.cache_clear()
