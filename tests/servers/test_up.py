"""The start command: one run over a data folder, found again when alive, cleared up after when it was killed."""

import contextlib
import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx
import pytest

from juxtakine.servers import family
from juxtakine.servers.ports import free_port, listens
from support.clips import another
from support.runs import Run
from support.sheets import sheet
from support.stack import Client, named, until

STARTING_S = 3
"""Of an interpreter, on a loaded machine."""


@contextmanager
def disk(at: Path, megabytes: int) -> Iterator[Path]:
    """A disk of its own; skips where this machine mounts none."""
    at.mkdir()
    mounted = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={megabytes}m", "tmpfs", str(at)], capture_output=True
    )
    if mounted.returncode:
        pytest.skip("this machine mounts no disk for a test")
    try:
        yield at
    finally:
        subprocess.run(["umount", "-l", str(at)], check=True)


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    with disk(tmp_path / "small", 100) as made:
        yield made


@pytest.fixture
def large_disk(tmp_path: Path) -> Iterator[Path]:
    with disk(tmp_path / "large", 1200) as made:
        yield made


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
    return set(named(var.resolve(), "juxtakine worker"))


def test_what_dies_is_started_again(var: Path) -> None:
    address = Run(var).address()
    before = until(lambda: workers(var))
    for pid in before:
        os.kill(pid, signal.SIGKILL)
    until(lambda: workers(var) - before)
    until(lambda: httpx.get(f"{address}/api/health").json()["healthy"])


def test_a_dead_supervisor_ends_the_run_with_a_sentence(var: Path) -> None:
    run = Run(var)
    run.address()
    run.kill("supervisord")
    assert run.process.wait(60) == 1
    assert "The supervisor ended by itself" in run.said.read_text()
    assert family.members(var.resolve()) == []


def test_a_full_disk_is_named_before_anything_is_started(small_disk: Path) -> None:
    began = time.monotonic()
    run = Run(small_disk / "var")
    assert run.process.wait(30) == 1
    assert time.monotonic() - began < 5 + STARTING_S
    assert "The disk is full: " in run.said.read_text()
    assert not (small_disk / "var" / "mariadb").exists()


def test_a_folder_that_can_not_be_used_is_named(tmp_path: Path) -> None:
    (tmp_path / "file").touch()
    run = Run(tmp_path / "file")
    assert run.process.wait(30) == 1
    assert "Nothing can be written to" in run.said.read_text()


def test_a_disk_that_fills_up_is_named_and_what_was_kept_stays(large_disk: Path, short: Path) -> None:
    """Clips and edits are refused in words, and taken again as soon as there is room."""
    run = Run(large_disk / "var", JUXTAKINE_MODEL="full")
    client = Client(run.address())
    try:
        first = another(large_disk, short, "first.mp4")
        routine = client.begin(first, sheet("1 2 3 4", counts=4))
        until(lambda: client.routine(routine)["reference"]["measured"])
        filler = large_disk / "filler"
        with filler.open("wb") as file, contextlib.suppress(OSError):
            while True:
                file.write(b"\0" * 1_000_000)
        refused = client.drop(f"/routines/{routine}/takes", first.with_name("first.mp4"))
        assert (refused.status_code, "MB are free" in refused.json()["sentence"]) == (507, True)
        for n in range(300):
            lines = sheet(*["1 2 3 4 5 6 7 8" if (n + k) % 2 else "1 - 3 4 5 6 7 8" for k in range(60)])
            answer = client.send("PUT", f"/routines/{routine}/sheet", lines)
            assert answer.status_code in (200, 507), answer.text
            if answer.status_code == 507:
                assert "The disk is full" in answer.json()["sentence"]
                break
        filler.unlink()
        kept = until(
            lambda: client.send("PUT", f"/routines/{routine}/sheet", sheet("1 - 3 4", counts=4)).status_code == 200
        )
        assert kept
        assert client.routine(routine)["reference"]["measured"]
    finally:
        run.stop()


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
