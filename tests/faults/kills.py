"""Processes are killed while people work; afterwards nothing that was accepted is lost, and nothing is stuck."""

import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from random import Random
from threading import Event

import httpx
from sqlalchemy import create_engine, text

from faults.people import Journal, Student, Wrong, left_over, lost
from juxtakine.servers.backing import Backing
from juxtakine.servers.runs import run_of
from support.runs import Run
from support.stack import healthy, until

TARGETS = {
    "web": ("juxtakine serve",),
    "worker": ("juxtakine worker",),
    "estimator": ("juxtakine.media.pose", "juxtakine.media.people", "juxtakine.media.apart"),
    "MariaDB": ("mariadbd",),
    "Redis": ("redis-server",),
    "supervisor": ("supervisord",),
    "all": ("",),
}
STUCK_S = 60.0
STUDENTS = 3
STUCK = "SELECT id, step, state, done, worker FROM job WHERE state IN ('queued', 'running')"
OUR_FAULT = "SELECT error FROM job WHERE error LIKE '%our side%'"
WITHOUT_SHEET = (
    "SELECT COUNT(*) FROM routine r LEFT JOIN edit e ON e.routine_id = r.id AND e.number = r.edit "
    "WHERE e.number IS NULL"
)


@dataclass
class Tally:
    tried: int = 0
    wrong: list[str] = field(default_factory=list)

    def said(self, what: str) -> str:
        survived = self.tried - len({w.partition(":")[0] for w in self.wrong})
        return f"{what}: {self.tried} tried, {survived} survived"


class House:
    """A run that is started again whenever its start command has ended."""

    def __init__(self, var: Path) -> None:
        self.var = var
        self.run = self._started()

    def _started(self) -> Run:
        run = Run(self.var, JUXTAKINE_MODEL="full")
        run.address()
        return run

    def up(self) -> str:
        """The address, once all answers again."""

        def look() -> str | None:
            if self.run.process.poll() is not None:
                self.run = self._started()
            run = run_of(self.run.var)
            return run.address if run and healthy(run.address) else None

        return until(look, 120)

    def url(self) -> str:
        run = run_of(self.run.var)
        assert run
        return Backing(self.run.var, run.database_port, run.broker_port).database_url


@contextmanager
def house(var: Path) -> Iterator[House]:
    made = House(var)
    try:
        yield made
    finally:
        if made.run.process.poll() is None:
            made.run.stop()


def people_at_work(address: str, seed: int, clip: bytes, journal: Journal, over: Event) -> str | None:
    """Some students act until it is over; what they saw that must not be."""

    def act(n: int) -> str | None:
        student = Student(address, seed * 100 + n, clip, journal)
        try:
            while not over.is_set():
                student.act()
        except Wrong as seen:
            return str(seen)
        finally:
            student.http.close()
        return None

    with ThreadPoolExecutor(STUDENTS) as pool:
        return next((seen for seen in pool.map(act, range(STUDENTS)) if seen), None)


def kills(var: Path, clip: bytes, tries: int, seed: int) -> Tally:
    """Each target in turn; the invariants are looked at after each kill."""
    random, tally, journal = Random(seed), Tally(), Journal()
    names = list(TARGETS)
    with house(var) as home, ThreadPoolExecutor(1) as pool:
        for n in range(tries):
            name, over = names[n % len(names)], Event()
            tally.tried += 1
            at_work = pool.submit(people_at_work, home.up(), seed * 1000 + n, clip, journal, over)
            time.sleep(random.uniform(0.2, 2.5))
            # an estimator is there for a moment only
            for _ in range(40 if name == "estimator" else 1):
                if home.run.kill(*TARGETS[name]):
                    break
                time.sleep(0.1)
            time.sleep(random.uniform(0.2, 1.5))
            over.set()
            seen = [s for s in (at_work.result(),) if s]
            home.up()
            found = [f"kill {n} of {name}: {what}" for what in (*seen, *after(home, journal))]
            tally.wrong += found
            print(f"  {n + 1} of {tries}: {name} {'; '.join(found)}", flush=True)
    return tally


def after(home: House, journal: Journal) -> list[str]:
    """What is amiss and stays so: jobs end, and what a kill has left behind is cleared away, within a minute."""
    address, end = home.up(), time.monotonic() + STUCK_S
    engine = create_engine(home.url())
    try:
        while True:
            with engine.connect() as db:
                wrong = [f"stuck: {tuple(row)}" for row in db.execute(text(STUCK))]
                wrong += [f"told as our fault: {error}" for error in set(db.scalars(text(OUR_FAULT)))]
                dangling = db.scalar(text(WITHOUT_SHEET))
            wrong += [f"{dangling} routines without a sheet"] if dangling else []
            wrong += amiss(home, journal, calm=True)
            if not wrong or time.monotonic() > end:
                return wrong + _not_shown(address)
            time.sleep(0.5)
    finally:
        engine.dispose()


def amiss(home: House, journal: Journal, calm: bool) -> list[str]:
    """Between files, rows and what was accepted; `calm`: nobody is at work any more."""
    engine, media = create_engine(home.url()), home.run.var / "media"
    with engine.connect() as db:
        contents = set(db.scalars(text("SELECT DISTINCT content FROM clip")))
    engine.dispose()
    found = lost(media, contents, {content for _, content in journal.clips})
    return [*found, *left_over(media, contents)] if calm else found


def _not_shown(address: str) -> list[str]:
    """Routines that can't be read."""
    with httpx.Client(base_url=address, timeout=30) as client:
        ids = [routine["id"] for routine in client.get("/api/home").json()["routines"]]
        answers = {n: client.get(f"/api/routines/{n}") for n in ids}
    return [f"routine {n} is not shown: {a.text[:200]}" for n, a in answers.items() if a.status_code != 200]
