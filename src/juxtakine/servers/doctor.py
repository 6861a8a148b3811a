"""What is missing or wrong on this machine, in sentences."""

import os
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Literal

import av

from juxtakine.servers.backing import Backing, ServerError, found, running
from juxtakine.servers.data_folder import LEAST_FREE_BYTES, unusable
from juxtakine.servers.ports import listens
from juxtakine.servers.runs import LiveRun, held, run_of
from juxtakine.settings import Settings, settings

PROGRAMS = {"mariadbd": "mariadb-server", "mariadb-install-db": "mariadb-server", "redis-server": "redis-server"}
CODECS: tuple[tuple[str, Literal["r", "w"]], ...] = (
    ("h264", "r"),
    ("hevc", "r"),
    ("vp9", "r"),
    ("av1", "r"),
    ("aac", "r"),
    ("opus", "r"),
    ("libx264", "w"),
    ("aac", "w"),
)


def complaints(where: Settings) -> list[str]:
    """Empty where all is well."""
    room = unusable(where.var, LEAST_FREE_BYTES)
    return [*_programs(), *_models(where), *_codecs(), *([room] if room else [])]


def run_up(where: Settings) -> LiveRun | None:
    """The run over this data folder, where one answers."""
    run = run_of(where.var.resolve())
    return run if run and listens(run.database_port) and listens(int(run.address.rpartition(":")[2])) else None


@contextmanager
def backed(where: Settings) -> Iterator[None]:
    """This process sees the store as the run does that is up; with none, the database is started for it. Raises
    ServerError."""
    run, var = run_up(where), where.var.resolve()
    if run:
        _told(Backing(var, run.database_port, run.broker_port))
        yield
        return
    var.mkdir(parents=True, exist_ok=True)
    with held(var) as ours:
        if not ours:
            raise ServerError("Juxtakine is just starting, or does not answer: try it again, or stop it first.")
        with running(var) as backing:
            _told(backing)
            yield


def _told(backing: Backing) -> None:
    os.environ.update(backing.environment)
    settings.cache_clear()


def _programs() -> Iterator[str]:
    for program, package in PROGRAMS.items():
        if not found(program):
            yield f"The program {program} is missing: install the Debian package {package}, or run make setup."


def _models(where: Settings) -> Iterator[str]:
    for size in ("full", "heavy"):
        if not _is_model(where.task_file(size)):
            yield f"The pose model {size} is not in {where.models}, or is damaged: run make setup."
    if not (where.frontend / "index.html").exists():
        yield f"The interface is not built in {where.frontend}: run make setup."


def _is_model(file: Path) -> bool:
    """A model file is an archive of networks."""
    try:
        with zipfile.ZipFile(file) as packed:
            return bool(packed.namelist()) and packed.testzip() is None
    except (OSError, zipfile.BadZipFile):
        return False


def _codecs() -> Iterator[str]:
    for name, mode in CODECS:
        try:
            av.Codec(name, mode)
        except ValueError:
            yield f"Clips in {name} can't be {'read' if mode == 'r' else 'written'}: PyAV was installed without it."
