"""The whole of it as it runs: MariaDB, Redis, web server and worker on loopback, over a data folder of its own."""

import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, TypeVar

import httpx

from juxtakine.core.movement.tracks import Track
from juxtakine.pipeline.tracks import Shelf, content_of
from juxtakine.servers import family
from juxtakine.servers.backing import Backing, running
from juxtakine.servers.ports import free_port, listens
from juxtakine.servers.up import WEB
from juxtakine.settings import settings
from juxtakine.store.media_folder import MediaFolder
from support.clips import another, shipped

PATIENCE_S = 240
BYTES = {"Content-Type": "application/octet-stream"}
T = TypeVar("T")


def until(look: Callable[[], T | None], patience_s: float = PATIENCE_S) -> T:
    """What `look` sees once it sees something."""
    end = time.monotonic() + patience_s
    while time.monotonic() < end:
        seen = look()
        if seen:
            return seen
        time.sleep(0.1)
    raise AssertionError("it did not come")


def named(var: Path, *words: str) -> list[int]:
    """The processes over this data folder in whose command line one of the words stands."""

    def is_one(pid: int) -> bool:
        try:
            line = Path(f"/proc/{pid}/cmdline").read_text(errors="replace").replace("\0", " ")
        except OSError:
            return False
        return any(word in line for word in words)

    return [pid for pid in family.members(var) if is_one(pid)]


@dataclass
class Stack:
    backing: Backing
    address: str
    processes: dict[str, subprocess.Popen[bytes]] = field(default_factory=dict)

    def start(self, name: str, *arguments: str, called: str | None = None) -> None:
        log = (self.backing.var / "log" / f"{name}.log").open("ab")
        self.processes[called or name] = subprocess.Popen(
            [sys.executable, "-m", "juxtakine.cli", name, *arguments],
            env=os.environ | self.backing.environment | family.mark(self.backing.var), stdout=log, stderr=log,
        )  # fmt: skip

    def run(self, name: str) -> None:
        """A command of the command line, to its end."""
        command = [sys.executable, "-m", "juxtakine.cli", name]
        subprocess.run(command, env=os.environ | self.backing.environment, check=True)

    @property
    def shelf(self) -> Shelf:
        return Shelf(self.backing.var / "tracks", settings().models)

    def measured(self, clip: Path, shown: Track) -> Path:
        """The clip, with its track on the shelf as if it had been measured before: for tests of what comes after."""
        self.shelf.keep(self.shelf.key(content_of(clip), settings().model), shown)
        return clip

    def kept_of(self, clip: Path) -> list[Path]:
        """What the application keeps of a clip: its folder and what was measured on it."""
        content, shelf = content_of(clip), self.shelf
        track = shelf.path(shelf.key(content, settings().model))
        files = (MediaFolder(self.backing.var / "media").of(content), track, shelf.glance(content),
                 shelf.people(content, (None, None)))  # fmt: skip
        return [f for f in files if f.exists()]

    def known(self, folder: Path, source: Path, name: str = "clip.mp4") -> Path:
        """A copy of a shipped clip that is new to the application but for its track."""
        return self.measured(another(folder, source, name), shipped(source))

    def kill_worker(self) -> None:
        """With its children, as a power cut would: no clean-up, no message."""
        worker = self.processes.pop("worker")
        children = subprocess.run(["pgrep", "-P", str(worker.pid)], capture_output=True, text=True).stdout.split()
        for pid in (worker.pid, *map(int, children)):
            os.kill(pid, signal.SIGKILL)
        worker.wait()

    @contextmanager
    def without_database(self) -> Iterator[None]:
        """MariaDB is stopped for as long as the block lasts."""
        os.kill(int((self.backing.var / "mariadb.pid").read_text()), signal.SIGTERM)
        until(lambda: not listens(self.backing.database_port), 30)
        yield
        with (self.backing.var / "log" / "database.log").open("ab") as log:
            self.processes["database"] = subprocess.Popen(
                self.backing.database_command, env=os.environ | self.backing.environment, stdout=log, stderr=log
            )
        until(lambda: healthy(self.address), 60)

    def stop(self) -> None:
        for process in self.processes.values():
            process.kill()
        family.stop(self.backing.var)


@contextmanager
def whole_stack(var: Path) -> Iterator[Stack]:
    with running(var) as backing:
        environment = os.environ | backing.environment
        subprocess.run([sys.executable, "-m", "juxtakine.store.migrate"], env=environment, check=True)
        port = free_port(backing.broker_port + 1)
        stack = Stack(backing, f"http://127.0.0.1:{port}")
        try:
            for each in WEB:
                stack.start("serve", "--port", str(port), "--share-port", called=each)
            stack.start("worker")
            until(lambda: healthy(stack.address))
            yield stack
        finally:
            stack.stop()


def healthy(address: str) -> bool:
    try:
        return bool(httpx.get(f"{address}/api/health").json()["healthy"])
    except httpx.HTTPError:
        return False


class Client:
    """The interface's routes, as the front end calls them."""

    def __init__(self, address: str) -> None:
        # a connection that was kept while the machine stood still may be closed at the other end as it is used
        self.http = httpx.Client(base_url=address, timeout=60, limits=httpx.Limits(max_keepalive_connections=0))
        self.before = {r["id"] for r in self.get("/home")["routines"]}

    def forget_all(self) -> None:
        for routine in self.get("/home")["routines"]:
            if routine["id"] not in self.before:
                assert self.send("DELETE", f"/routines/{routine['id']}").status_code == 204

    def get(self, path: str) -> Any:
        answer = self.http.get(f"/api{path}")
        assert answer.status_code == 200, answer.text
        return answer.json()

    def send(self, method: str, path: str, body: object = None) -> httpx.Response:
        return self.http.request(method, f"/api{path}", json=body)

    def drop(self, path: str, clip: Path, name: str | None = None) -> httpx.Response:
        told = {"name": name or clip.name}
        return self.http.post(f"/api{path}", params=told, content=clip.read_bytes(), headers=BYTES)

    def drop_in(self, routine: int, name: str, data: bytes) -> httpx.Response:
        """A sheet or its times, as a file."""
        return self.http.post(f"/api/routines/{routine}/import", params={"name": name}, content=data, headers=BYTES)

    def begin(self, clip: Path, sheet: dict[str, Any] | None = None, grid: dict[str, Any] | None = None) -> int:
        """A routine from its reference, with its sheet and grid."""
        made = self.drop("/routines", clip)
        assert made.status_code == 200, made.text
        routine = int(made.json()["routine"])
        if sheet:
            assert self.send("PUT", f"/routines/{routine}/sheet", sheet).status_code == 200
        if grid:
            assert self.send("PUT", f"/routines/{routine}/grid", grid).status_code == 200
        return routine

    def add_take(self, routine: int, clip: Path, name: str | None = None) -> int:
        made = self.drop(f"/routines/{routine}/takes", clip, name)
        assert made.status_code == 200, made.text
        return int(made.json()["clip"])

    def routine(self, routine: int) -> Any:
        return self.get(f"/routines/{routine}")

    def job(self, routine: int, clip: int) -> Any:
        shown = self.routine(routine)
        return next(c for c in [shown["reference"], *shown["takes"]] if c and c["id"] == clip)["job"]

    def result(self, take: int, patience_s: float = PATIENCE_S) -> Any:
        """The take's result, once it is there."""

        def look() -> Any:
            found = self.get(f"/clips/{take}/result")
            job = found["take"]["job"]
            assert not job or job["state"] != "failed", job["error"]
            return found if found["outcome"] else None

        return until(look, patience_s)

    def failure(self, routine: int, clip: int) -> str:
        """What is said of a job that failed."""

        def look() -> str | None:
            job = self.job(routine, clip)
            return str(job["error"]) if job and job["state"] == "failed" else None

        return until(look)
