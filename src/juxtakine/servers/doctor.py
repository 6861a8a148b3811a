"""What is missing or wrong on this machine, in sentences."""

import os
import shutil
from collections.abc import Iterator

import av

from juxtakine.servers.backing import found
from juxtakine.settings import Settings

LEAST_FREE_BYTES = 2 * 10**9
PROGRAMS = {"mariadbd": "mariadb-server", "mariadb-install-db": "mariadb-server", "redis-server": "redis-server"}
CODECS = (
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
    return [*_programs(), *_models(where), *_codecs(), *_folders(where)]


def _programs() -> Iterator[str]:
    for program, package in PROGRAMS.items():
        if not found(program):
            yield f"The program {program} is missing: install the Debian package {package}, or run make setup."


def _models(where: Settings) -> Iterator[str]:
    for size in ("full", "heavy"):
        if not where.task_file(size).exists():
            yield f"The pose model {size} is not in {where.models}: run make setup."
    if not (where.frontend / "index.html").exists():
        yield f"The interface is not built in {where.frontend}: run make setup."


def _codecs() -> Iterator[str]:
    for name, mode in CODECS:
        try:
            av.Codec(name, mode)
        except ValueError:
            yield f"Clips in {name} can't be {'read' if mode == 'r' else 'written'}: PyAV was installed without it."


def _folders(where: Settings) -> Iterator[str]:
    folder = where.var
    while not folder.exists():
        folder = folder.parent
    if not os.access(folder, os.W_OK):
        yield f"Nothing can be written to {where.var}: give yourself the right to, or set JUXTAKINE_VAR."
    free = shutil.disk_usage(folder).free
    if free < LEAST_FREE_BYTES:
        yield f"Only {free / 1e9:.1f} GB are free in {folder}: clips and tracks need at least 2."
