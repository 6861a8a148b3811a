"""Odd commands: each ends with a status of its own and one sentence, and never with what a programmer reads."""

import json
import os
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import NamedTuple

import numpy as np
import pytest

from juxtakine.cli import main
from juxtakine.demo.load import TRACKS
from juxtakine.servers.runs import held
from juxtakine.settings import settings
from support.clips import REFERENCE
from support.sheets import SHEET

GRID = {"schema": "juxtakine/grid-1", "anchors": [{"at": 0, "seconds": 2.0}, {"at": 32, "seconds": 20.0}]}


class Done(NamedTuple):
    status: int
    out: str
    err: str


Command = Callable[..., Done]


@pytest.fixture
def run(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> Iterator[Command]:
    """A command in this process, as its own would run it: what it would raise there is raised here."""

    def run(*arguments: object, **told: str) -> Done:
        here = {"VAR": str(tmp_path / "var"), "DATABASE_URL": "", "BROKER_URL": ""} | told
        for name, value in here.items():
            monkeypatch.setenv(f"JUXTAKINE_{name}", value)
        settings.cache_clear()
        try:
            status = main([*map(str, arguments)])
        except SystemExit as usage:
            status = int(str(usage.code))
        return Done(status, *capsys.readouterr())

    yield run
    settings.cache_clear()


@pytest.fixture(scope="module")
def here(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder of good and bad files."""
    folder = tmp_path_factory.mktemp("odd")
    data = (TRACKS / "take-1.npz").read_bytes()
    (folder / "cut.npz").write_bytes(data[: len(data) // 2])
    (folder / "noise.npz").write_bytes(data[:5000] + os.urandom(5000) + data[10_000:])
    (folder / "empty").touch()
    (folder / "text.mp4").write_text("no film " * 400)
    (folder / "nul.json").write_bytes(b'{"title": "\\u0000"}')
    (folder / "deep.json").write_text("[" * 100_000)
    (folder / "binary.json").write_bytes(os.urandom(3000))
    (folder / "sheet.json").write_text(json.dumps(SHEET))
    (folder / "grid.json").write_text(json.dumps(GRID))
    (folder / "nan.json").write_text(
        json.dumps(GRID | {"anchors": [{"at": float("nan"), "seconds": float("inf")}] * 2})
    )
    (folder / "far.json").write_text('{"anchors": [{"at": 0, "seconds": 0}, {"at": 1e308, "seconds": 1e308}]}')
    (folder / "ones.json").write_text('{"ones": [1e308]}')
    with np.load(TRACKS / "take-1.npz") as whole:
        arrays = dict(whole)
    for name, key, value in (("nan", "seconds", np.nan), ("inf", "image", np.inf), ("backwards", "seconds", -1.0)):
        broken = arrays[key].astype(float).copy()
        broken[5] = value
        np.savez(folder / f"{name}.npz", **arrays | {key: broken})
    np.savez(folder / "flat.npz", **arrays | {"width": 0})
    np.savez(folder / "none.npz")
    return folder


COMPARE = "compare --reference {tracks}/reference.npz --take {take} --sheet {sheet} --grid {grid} -o {out}"
COMMANDS = [
    *(f"track {{here}}/{name} -o {{here}}/out.npz" for name in ("empty", "text.mp4", "nothing", "cut.npz", "")),
    "track {clip} -o {here}", "track {clip} -o {here}/none/out.npz", "track {clip} -o {here}/out.npz --from nan",
    "track {clip} -o {here}/out.npz --to inf", "track {clip} -o {here}/out.npz --from 900 --to 901",
    "track {clip} -o {here}/out.npz --from 5 --to 4", "track {clip} -o {here}/out.npz --follow nan,0.5@1",
    "track {clip} -o {here}/out.npz --follow 0.5,0.5@inf", "track {clip} -o {here}/out.npz --follow x",
    *(f"beats {{here}}/{name}" for name in ("empty", "text.mp4", "sheet.json", "nothing", "")),
    *(f"stretches {{here}}/{name}" for name in ("empty", "text.mp4", "sheet.json", "")),
    *(f"sheet check {{here}}/{name}" for name in ("empty", "nul.json", "deep.json", "binary.json", "ones.json", "")),
    *(f"sheet expand {{here}}/{name}" for name in ("empty", "nul.json", "deep.json", "grid.json", "text.mp4")),
    *(f"sheet check {{here}}/sheet.json --grid {{here}}/{name}" for name in ("nan.json", "far.json", "deep.json")),
    "serve --port 99999", "serve --port -1", "serve --port soon", "serve --port 0", "nothing", "", "sheet", "compare",
    "demo",
]  # fmt: skip
COMPARED = [
    *({"take": f"{{here}}/{name}.npz"} for name in ("cut", "noise", "nan", "inf", "backwards", "flat", "none")),
    *({"grid": f"{{here}}/{name}.json"} for name in ("nan", "far", "deep", "sheet")),
    *({"sheet": f"{{here}}/{name}.json"} for name in ("ones", "binary", "grid")),
    {"out": "{here}"}, {"out": "/proc/out.json"}, {"take": "{here}"}, {"sheet": "{here}"},
]  # fmt: skip


def check(done: Done) -> None:
    assert done.status in (1, 2, 3, 4), done
    assert (done.err + done.out).strip()
    assert "Traceback" not in done.err + done.out


@pytest.mark.parametrize("command", COMMANDS)
def test_a_command(here: Path, run: Command, command: str) -> None:
    check(run(*command.format(here=here, clip=REFERENCE).split()))


@pytest.mark.parametrize("odd", COMPARED, ids=lambda odd: "-".join(odd.values()).replace("{here}/", ""))
def test_a_comparison(here: Path, run: Command, odd: dict[str, str]) -> None:
    good = {name: f"{{here}}/{name}.json" for name in ("sheet", "grid", "out")} | {"take": f"{TRACKS}/take-1.npz"}
    said = {k: v.format(here=here) for k, v in (good | odd).items()}
    check(run(*COMPARE.format(tracks=TRACKS, **said).split()))


@pytest.mark.parametrize(
    ("name", "value"),
    [("WEB_PORT", "soon"), ("WEB_PORT", "99999"), ("MODEL", "huge"), ("VAR", ""), ("DATABASE_PORT", "0")],
)
def test_settings_that_can_not_be_are_named(run: Command, name: str, value: str) -> None:
    for command in ("doctor", "worker"):
        done = run(command, **{name: value})
        check(done)
        assert f"JUXTAKINE_{name}" in done.err


def test_doctor_says_what_is_missing(run: Command, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    well = run("doctor")
    assert (well.status, well.out) == (0, "Nothing is missing.\nIt is not running.\n")
    for name in ("pose_full.task", "pose_heavy.task", "file"):
        (tmp_path / name).touch()
    monkeypatch.setenv("PATH", str(tmp_path))
    ill = run("doctor", VAR=str(tmp_path / "file"), MODELS=str(tmp_path))
    assert ill.status == 1
    for said in ("The pose model full is not in", "is damaged", "Nothing can be written to", "redis-server is missing"):
        assert said in ill.out


def shell(*arguments: str, var: Path) -> str:
    """What a command says that starts servers, in a process of its own."""
    done = subprocess.run(
        [sys.executable, "-m", "juxtakine.cli", *arguments], capture_output=True, text=True, timeout=100,
        env=os.environ | {"JUXTAKINE_VAR": str(var)},
    )  # fmt: skip
    assert "Traceback" not in done.stderr, done.stderr
    return done.stdout


def test_doctor_repairs_with_no_run_up(tmp_path: Path) -> None:
    var = tmp_path / "var"
    assert "nothing had to be mended" in shell("doctor", "--repair", var=var)
    unknown = var / "media" / "cd" / ("cd" + "0" * 62)
    unknown.mkdir(parents=True)
    (unknown / "clip").write_bytes(b"of nobody")
    assert "1 clip that no routine has went" in shell("doctor", "--repair", var=var)
    assert not unknown.exists()


def test_a_folder_that_another_run_holds_is_not_repaired(tmp_path: Path) -> None:
    """As long as nobody says that it is up, somebody may be just starting."""
    with held(tmp_path) as ours:
        assert ours
        assert "just starting" in shell("doctor", "--repair", var=tmp_path)
    assert not (tmp_path / "mariadb").exists()
