"""The start command: one run over a data folder, found again when alive, cleared up after when it was killed."""

import os
import re
import signal
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest

from juxtakine.servers import family
from juxtakine.servers.ports import free_port, listens
from support.stack import Client, until


class Run:
    """One `up` process and what it has said."""

    def __init__(self, var: Path, *arguments: str) -> None:
        self.said = var.parent / f"said-{os.urandom(4).hex()}"
        port = str(free_port(31_000))
        self.process = subprocess.Popen(
            [sys.executable, "-m", "juxtakine.servers.up", *arguments],
            env=os.environ | {"JUXTAKINE_VAR": str(var), "JUXTAKINE_WEB_PORT": port},
            stdout=self.said.open("w"), stderr=subprocess.STDOUT,
        )  # fmt: skip

    def address(self) -> str:
        def look() -> str | None:
            assert self.process.poll() is None, self.said.read_text()
            found = re.search(r"ready: (\S+)", self.said.read_text())
            return found and found[1]

        return until(look, 180)


@pytest.fixture
def var(tmp_path: Path) -> Iterator[Path]:
    folder = tmp_path / "var"
    yield folder
    family.stop(folder.resolve())


def test_a_run_is_found_again_survives_its_killing_and_ends_clean(var: Path) -> None:
    first = Run(var, "--demo")
    client = Client(first.address())
    demo = client.get("/home")["routines"][0]
    assert (demo["title"], demo["takes"], demo["danced"]) == ("Lantern Quay", 3, True)
    client.send("PUT", f"/routines/{demo['id']}/grid", {"first_s": 3.1, "bpm": 108})

    second = Run(var)
    assert second.process.wait(30) == 0
    assert f"already running: {client.http.base_url}".rstrip("/") in second.said.read_text()

    first.process.send_signal(signal.SIGKILL)
    supervisor = int((var / "supervisord.pid").read_text())
    os.kill(supervisor, signal.SIGKILL)
    first.process.wait()
    until(lambda: family.members(var.resolve()))

    third = Run(var, "--demo")
    again = Client(third.address())
    assert "left behind" in third.said.read_text()
    assert again.routine(demo["id"])["grid"]["counts_s"][0] == pytest.approx(3.1)
    assert len(again.get("/home")["routines"]) == 1

    third.process.send_signal(signal.SIGINT)
    assert third.process.wait(120) == 0
    assert family.members(var.resolve()) == []
    with pytest.raises(httpx.ConnectError):
        httpx.get(str(again.http.base_url))


def workers(var: Path) -> set[int]:
    found = subprocess.run(["pgrep", "-f", "juxtakine worker"], capture_output=True, text=True).stdout.split()
    return {int(p) for p in found} & set(family.members(var.resolve()))


def test_what_dies_is_started_again(var: Path) -> None:
    address = Run(var).address()
    before = until(lambda: workers(var))
    for pid in before:
        os.kill(pid, signal.SIGKILL)
    until(lambda: workers(var) - before)
    until(lambda: httpx.get(f"{address}/api/health").json()["healthy"])


def test_a_taken_port_is_passed_over() -> None:
    taken = free_port(33_000)
    server = subprocess.Popen(
        [sys.executable, "-m", "http.server", str(taken), "--bind", "127.0.0.1"], stderr=subprocess.DEVNULL
    )
    try:
        until(lambda: listens(taken), 20)
        assert free_port(taken) > taken
    finally:
        server.kill()
