"""One worker: Celery's, and a thread beside it that takes up what a dead one has left."""

import logging
import os
import socket
import threading
import time
from contextlib import suppress

import redis
from celery.signals import worker_process_init, worker_ready, worker_shutting_down

from juxtakine.jobs import flow, mending
from juxtakine.jobs.app import app, send
from juxtakine.settings import settings
from juxtakine.store import jobs
from juxtakine.store.database import engine, session

SWEEP_S = 3
CLEAR_S = 20.0
TIDY_S = 3600.0
RESEND_S = 15.0
"""A broker that was killed has forgotten what was sent; what is sent twice is taken once."""
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
    tidied_at = cleared_at = -TIDY_S
    while not stopping.is_set():
        try:
            broker.set(f"{ALIVE_KEY}:{me}", 1, ex=ALIVE_S)
            if time.monotonic() - tidied_at >= TIDY_S:
                _look_at_all()
                tidied_at = cleared_at = time.monotonic()
            if time.monotonic() - cleared_at >= CLEAR_S:
                mending.clear_unknown()
                cleared_at = time.monotonic()
            with session() as db:
                waiting = jobs.orphans(db)
            sent = {i: t for i, t in sent.items() if i in waiting}
            for job_id in waiting:
                if time.monotonic() - sent.get(job_id, -RESEND_S) >= RESEND_S:
                    sent[job_id] = time.monotonic()
                    send(job_id)
        except Exception:  # servers may restart under us
            log.exception("the sweep failed once")
        stopping.wait(SWEEP_S)
    with suppress(redis.RedisError):
        broker.delete(f"{ALIVE_KEY}:{me}")


def _look_at_all() -> None:
    with session() as db:
        flow.catch_up(db)
    for sentence in mending.tidy():
        log.warning("%s", sentence)


def alive(broker: "redis.Redis") -> bool:
    """Whether any worker has spoken lately."""
    return next(broker.scan_iter(f"{ALIVE_KEY}:*"), None) is not None


@worker_process_init.connect
def _own_connections(**_: object) -> None:
    """A forked process must not speak over its parent's connections."""
    engine.cache_clear()
