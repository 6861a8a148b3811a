"""Odd commands: each ends with a status of its own and one sentence, and never with what a programmer reads."""

import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest

from juxtakine.demo.load import TRACKS
from juxtakine.servers.ports import listens
from support.clips import REFERENCE
from support.sheets import SHEET
from support.stack import Stack, until

GRID = {"schema": "juxtakine/grid-1", "anchors": [{"at": 0, "seconds": 2.0}, {"at": 32, "seconds": 20.0}]}


def run(*arguments: object, var: Path, **settings: str) -> subprocess.CompletedProcess[str]:
    told = {"JUXTAKINE_VAR": str(var), "JUXTAKINE_DATABASE_URL": "", "JUXTAKINE_BROKER_URL": ""} | settings
    return subprocess.run(
        [sys.executable, "-m", "juxtakine.cli", *map(str, arguments)], capture_output=True, text=True, timeout=100,
        env=os.environ | told,
    )  # fmt: skip


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


def check(done: subprocess.CompletedProcess[str]) -> None:
    said = done.stderr + done.stdout
    assert "Traceback" not in said, said
    assert done.returncode in (1, 2, 3, 4), (done.returncode, said)
    assert said.strip()


@pytest.mark.parametrize("command", COMMANDS)
def test_a_command(here: Path, tmp_path: Path, command: str) -> None:
    check(run(*command.format(here=here, clip=REFERENCE).split(), var=tmp_path))


@pytest.mark.parametrize("odd", COMPARED, ids=lambda odd: "-".join(odd.values()).replace("{here}/", ""))
def test_a_comparison(here: Path, tmp_path: Path, odd: dict[str, str]) -> None:
    good = {
        "take": f"{TRACKS}/take-1.npz",
        "sheet": "{here}/sheet.json",
        "grid": "{here}/grid.json",
        "out": "{here}/r.json",
    }
    said = {k: v.format(here=here) for k, v in (good | odd).items()}
    check(run(*COMPARE.format(tracks=TRACKS, **said).split(), var=tmp_path))


@pytest.mark.parametrize(
    ("setting", "value"),
    [("WEB_PORT", "soon"), ("WEB_PORT", "99999"), ("MODEL", "huge"), ("VAR", ""), ("DATABASE_PORT", "0")],
)
def test_settings_that_can_not_be_are_named(tmp_path: Path, setting: str, value: str) -> None:
    name = f"JUXTAKINE_{setting}"
    for command in ("doctor", "worker"):
        done = run(command, var=tmp_path, **{name: value})
        check(done)
        assert name in done.stderr


def test_doctor_says_what_is_missing(tmp_path: Path) -> None:
    well = run("doctor", var=tmp_path)
    assert (well.returncode, well.stdout) == (0, "Nothing is missing.\nIt is not running.\n")
    for name in ("pose_full.task", "pose_heavy.task"):
        (tmp_path / name).touch()
    file = tmp_path / "file"
    file.touch()
    ill = run("doctor", var=file, JUXTAKINE_MODELS=str(tmp_path), PATH=str(tmp_path))
    assert ill.returncode == 1
    said_of = "The pose model full is not in", "is damaged", "Nothing can be written to", "redis-server is missing"
    for said in said_of:
        assert said in ill.stdout


def test_doctor_repairs_with_no_run_up(tmp_path: Path) -> None:
    var = tmp_path / "var"
    first = run("doctor", "--repair", var=var)
    assert (first.returncode, "nothing had to be mended" in first.stdout) == (0, True), first.stdout + first.stderr
    unknown = var / "media" / "cd" / ("cd" + "0" * 62)
    unknown.mkdir(parents=True)
    (unknown / "clip").write_bytes(b"of nobody")
    assert "1 clip that no routine has went" in run("doctor", "--repair", var=var).stdout
    assert not unknown.exists()


def test_a_folder_that_another_run_holds_is_not_repaired(stack: Stack, tmp_path: Path) -> None:
    """As long as nobody says that it is up, somebody may be just starting."""
    var = tmp_path / "var"
    var.mkdir()
    holder = subprocess.Popen(["flock", str(var / "lock"), "sleep", "60"])
    try:
        until(lambda: (var / "lock").exists(), 10)
        time.sleep(0.3)
        assert "just starting" in run("doctor", "--repair", var=var).stdout
    finally:
        holder.send_signal(signal.SIGKILL)
    assert listens(stack.backing.database_port)
