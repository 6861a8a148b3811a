"""The command line from the shell, with no server running: files in, files out, a status and one sentence."""

import json
import os
import re
import subprocess
import sys
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy.io import wavfile

from juxtakine.demo import lantern_quay
from juxtakine.demo.load import TRACKS
from juxtakine.demo.music import RATE as MUSIC_RATE
from juxtakine.demo.music import harbour_tune
from juxtakine.pipeline.comparison_form import ComparisonForm
from juxtakine.pipeline.sheet_forms import GridForm
from support.clips import LONG, LONG_RUN, REFERENCE, TAKES, Kind, picture_of_a_wall, together, tutorial, written
from support.sheets import SHEET


def run(*arguments: object, var: Path) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "juxtakine.cli", *map(str, arguments)], capture_output=True, text=True,
        env=os.environ | {"JUXTAKINE_VAR": str(var), "JUXTAKINE_DATABASE_URL": "", "JUXTAKINE_BROKER_URL": ""},
    )  # fmt: skip


@pytest.fixture
def files(tmp_path: Path) -> dict[str, Path]:
    """A sheet and grids as files."""
    made = {name: tmp_path / f"{name}.json" for name in ("sheet", "grid", "take_grid", "result")}
    made["sheet"].write_text(json.dumps(SHEET))
    made["grid"].write_text(GridForm.of(lantern_quay.reference_grid()).model_dump_json())
    made["take_grid"].write_text(GridForm.of(lantern_quay.take_grid(lantern_quay.TAKES[0])).model_dump_json())
    return made


def by_tracks(files: dict[str, Path], *more: object) -> list[object]:
    return [
        "compare", "--reference", TRACKS / "reference.npz", "--take", TRACKS / "take-1.npz",
        "--sheet", files["sheet"], "--grid", files["grid"], "-o", files["result"], *more,
    ]  # fmt: skip


def test_two_tracks_and_a_grid_by_hand_give_the_whole_form(files: dict[str, Path], tmp_path: Path) -> None:
    done = run(*by_tracks(files, "--take-grid", files["take_grid"], "--mirror", "no"), var=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    result = json.loads(files["result"].read_text())
    assert result["schema"] == "juxtakine/comparison-1"
    assert result["alignment"]["method"] == "manual"
    assert result["mirror"]["used"] is False
    assert result["redrill"][0] == 3
    check_whole(result)


def check_whole(result: dict[str, Any]) -> None:
    """Every count, subdivision and hold has its entry, with all parts; ComparisonForm reads it back."""
    ComparisonForm.model_validate(result)
    assert [(c["phrase"], c["label"]) for c in result["counts"]] == [
        (n, "3 &" if t == "&" and n < 4 else "7 &" if t == "&" else str(sum(x != "&" for x in tokens[: i + 1])))
        for n, tokens in enumerate((p["line"].split() for p in SHEET["phrases"]), 1)
        for i, t in enumerate(tokens)
    ]
    parts = {
        "head", "torso", *(f"{s}-{p}" for s in ("left", "right") for p in ("upper-arm", "forearm", "thigh", "shin")),
        "facing", "level", "spread",
    }  # fmt: skip
    for count in result["counts"]:
        free = count["position"]["verdict"] == "free"
        assert free or set(count["position"]["parts"]) == parts
        measured = count["timing"]["verdict"] in ("ahead", "on", "behind")
        assert (count["timing"]["error_ms"] is not None) == measured
    assert sum(c["hold"] for c in result["counts"]) == 3


def test_clips_are_tracked_once_and_laid_by_their_sound(files: dict[str, Path], tmp_path: Path) -> None:
    clips = [
        written(tmp_path, Kind(".mkv"), c, 0, 30).rename(tmp_path / f"{c.stem}.mkv") for c in (REFERENCE, TAKES[2])
    ]
    arguments = [
        "compare",
        "--reference",
        clips[0],
        "--take",
        clips[1],
        "--sheet",
        files["sheet"],
        "--grid",
        files["grid"],
        "-o",
        files["result"],
    ]
    assert run(*arguments, var=tmp_path / "var").returncode == 0
    first = files["result"].read_text()
    assert json.loads(first)["alignment"]["method"] == "sound"
    assert json.loads(first)["redrill"] == [5]
    assert len(list((tmp_path / "var" / "tracks").glob("*.npz"))) == 2
    assert run(*arguments, var=tmp_path / "var").returncode == 0
    assert files["result"].read_text() == first


def test_track_writes_what_compare_reads(tmp_path: Path) -> None:
    clip = written(tmp_path)
    done = run("track", clip, "-o", tmp_path / "t.npz", "--from", "1", "--to", "2", var=tmp_path)
    assert done.returncode == 0
    with np.load(tmp_path / "t.npz") as track:
        n = len(track["seconds"])
        assert track["seconds"][0] >= 1
        assert track["seconds"][-1] <= 2
        assert track["image"].shape == (n, 33, 2)
        assert track["world"].shape == (n, 33, 3)
        assert {"visibility", "followed", "estimated", "width", "height", "estimator"} <= set(track.files)


def test_without_common_time_the_input_is_refused(files: dict[str, Path], tmp_path: Path) -> None:
    done = run(*by_tracks(files, "--align", "sound"), var=tmp_path)
    assert done.returncode == 3
    assert "Say where count 1 is in the take" in done.stderr
    assert not files["result"].exists()


def test_tracks_alone_are_laid_by_their_movement(files: dict[str, Path], tmp_path: Path) -> None:
    assert run(*by_tracks(files, "--mirror", "no"), var=tmp_path).returncode == 0
    result = json.loads(files["result"].read_text())
    assert result["alignment"]["method"] == "movement"
    assert result["alignment"]["constant_lag_ms"] is None
    assert result["mirror"] == {"used": False, "whose": None, "certainty": 1.0}


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        (
            {
                "sheet": json.dumps(
                    SHEET | {"phrases": [SHEET["phrases"][0] | {"line": "1 2 3 4 5 4 7 8", "marks": []}]}
                )
            },
            "4 comes after 5",
        ),
        (
            {"grid": '{"schema": "juxtakine/grid-1", "anchors": [{"at": 0, "seconds": 9}, {"at": 8, "seconds": 2}]}'},
            "backwards",
        ),
        ({"grid": '{"anchors": 3}'}, "grid.json"),
        ({"sheet": "no json"}, "sheet.json"),
    ],
    ids=["line", "backwards", "no grid", "no json"],
)
def test_files_that_are_wrong_are_refused_with_one_sentence(
    files: dict[str, Path], tmp_path: Path, change: dict[str, str], sentence: str
) -> None:
    for name, text in change.items():
        files[name].write_text(text)
    done = run(*by_tracks(files, "--take-grid", files["take_grid"]), var=tmp_path)
    assert done.returncode == 3
    assert sentence in done.stderr
    assert done.stderr.count("\n") == 1


@pytest.mark.parametrize(
    "more",
    [
        ("--align", "clap"),
        ("--mirror", "left"),
        ("--model", "tiny"),
        ("--follow-take", "0.5;0.5"),
        ("--grids", "x"),
    ],
)
def test_what_is_not_built_is_refused_as_wrong_usage(
    files: dict[str, Path], tmp_path: Path, more: tuple[str, str]
) -> None:
    done = run(*by_tracks(files, *more), var=tmp_path)
    assert done.returncode == 2
    assert more[0] in done.stderr or more[1] in done.stderr


def test_nobody_in_a_clip_has_a_status_of_its_own(files: dict[str, Path], tmp_path: Path) -> None:
    picture_of_a_wall(tmp_path / "wall.mp4")
    done = run("track", tmp_path / "wall.mp4", "-o", tmp_path / "t.npz", var=tmp_path)
    assert done.returncode == 4
    assert "Nobody was found" in done.stderr


def test_who_is_clicked_is_followed_and_a_click_on_nobody_is_refused(tmp_path: Path) -> None:
    clip = together(tmp_path / "two.mp4", [REFERENCE, TAKES[0]], seconds=2)
    to = tmp_path / "t.npz"
    for x in (0.25, 0.75):
        done = run("track", clip, "-o", to, "--model", "full", "--follow", f"{x},0.5@1", var=tmp_path)
        assert (done.returncode, done.stderr) == (0, "")
        with np.load(to) as track:
            hips = track["image"][track["followed"]][:, [23, 24], 0].mean(1) / track["width"]
            assert track["followed"].mean() > 0.9
        assert (np.abs(hips - x) < 0.15).all()
    most_prominent = run("track", clip, "-o", to, "--model", "full", var=tmp_path)
    assert most_prominent.returncode == 0
    (as_with,) = re.findall(r"Several are in shot: as with --follow (\S+),", most_prominent.stderr)
    run("track", clip, "-o", tmp_path / "same.npz", "--model", "full", "--follow", as_with, var=tmp_path)
    with np.load(to) as track, np.load(tmp_path / "same.npz") as same:
        assert track["followed"].mean() > 0.9
        assert np.array_equal(track["image"], same["image"], equal_nan=True)
    nobody = run("track", clip, "-o", to, "--model", "full", "--follow", "0.5,0.1@1", var=tmp_path)
    assert (nobody.returncode, "Nobody stands alone where you clicked" in nobody.stderr) == (3, True)
    assert run("track", clip, "-o", to, "--follow", "here", var=tmp_path).returncode == 2


def test_the_stretches_of_a_long_clip_and_its_run_are_told(tmp_path: Path) -> None:
    done = run("stretches", tutorial(tmp_path / "long.mp4", LONG), "--json", var=tmp_path)
    told = json.loads(done.stdout)
    assert told["schema"] == "juxtakine/stretches-1"
    assert [s["kind"] for s in told["stretches"]] == ["other", "slow", "other", "run", "other"]
    assert (told["run"]["from"], told["run"]["to"]) == pytest.approx(LONG_RUN, abs=1.5)
    assert all(a["to"] == b["from"] for a, b in pairwise(told["stretches"]))


def test_a_file_that_is_not_there_is_said(files: dict[str, Path], tmp_path: Path) -> None:
    done = run("track", tmp_path / "none.mp4", "-o", tmp_path / "t.npz", var=tmp_path)
    assert (done.returncode, done.stderr.count("\n")) == (3, 1)


def test_the_beat_is_told_of_a_clip_and_of_a_sound(tmp_path: Path) -> None:
    tune = harbour_tune(96.0, 40)
    sound = tmp_path / "tune.wav"
    wavfile.write(sound, MUSIC_RATE, (tune * 30_000).astype(np.int16))
    told = json.loads(run("beats", sound, "--json", var=tmp_path).stdout)
    assert (told["schema"], told["tempo_bpm"]) == ("juxtakine/beats-1", pytest.approx(96, rel=0.002))
    assert told["beats"][8] - told["beats"][0] == pytest.approx(5, abs=0.01)
    assert [o["certainty"] for o in told["ones"]] == sorted((o["certainty"] for o in told["ones"]), reverse=True)
    silent = run("beats", written(tmp_path, Kind(audio=None)), var=tmp_path)
    assert (silent.returncode, "no sound" in silent.stderr) == (3, True)


def test_a_sheet_is_checked_and_expanded(files: dict[str, Path], tmp_path: Path) -> None:
    assert run("sheet", "check", files["sheet"], "--grid", files["grid"], var=tmp_path).returncode == 0
    told = json.loads(run("sheet", "expand", files["sheet"], "--json", var=tmp_path).stdout)
    assert (told["schema"], told["total"], len(told["counts"])) == ("juxtakine/expanded-1", 44, 47)
    eighth = next(c for c in told["counts"] if (c["phrase"], c["label"]) == (6, "2"))
    assert eighth == {"at": 37, "phrase": 6, "label": "2", "facing": 1.5, "weight": "left", "cue": "eighth R"}
    ordered = SHEET | {"order": "A, B, A other side", "walls": 4}
    files["sheet"].write_text(json.dumps(ordered))
    wrong = run("sheet", "check", files["sheet"], var=tmp_path)
    assert wrong.returncode == 1
    assert "4 walls are written" in wrong.stdout
    assert "phrase 6: Begins on the right foot, and the row before ends on the left" in wrong.stdout
    assert json.loads(run("sheet", "expand", files["sheet"], "--json", var=tmp_path).stdout)["total"] == 64
    files["sheet"].write_text(json.dumps(SHEET | {"order": "A, Z"}))
    refused = run("sheet", "expand", files["sheet"], var=tmp_path)
    assert (refused.returncode, "no section Z" in refused.stderr) == (3, True)


def test_a_sheet_is_read_off_a_track_and_agrees_with_it(files: dict[str, Path], tmp_path: Path) -> None:
    to, shown = tmp_path / "proposed.json", TRACKS / "reference.npz"
    done = run("sheet", "propose", shown, "--grid", files["grid"], "-o", to, var=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    rows = json.loads(to.read_text())["phrases"]
    assert [r["line"] for r in rows[:3]] == [p["line"] for p in SHEET["phrases"][:3]]
    assert sum(r["counts"] for r in rows) == 44
    checked = run("sheet", "check", to, "--clip", shown, "--grid", files["grid"], "--json", var=tmp_path)
    told = json.loads(checked.stdout)
    assert told["schema"] == "juxtakine/check-1"
    assert [f for f in told["findings"] if f["source"] == "clip"] == []


def test_a_sheet_with_a_row_left_out_is_told_beside_the_clip(files: dict[str, Path], tmp_path: Path) -> None:
    form = json.loads(files["sheet"].read_text())
    del form["phrases"][3]
    files["sheet"].write_text(json.dumps(form))
    shown = TRACKS / "reference.npz"
    done = run("sheet", "check", files["sheet"], "--clip", shown, "--grid", files["grid"], "--json", var=tmp_path)
    assert done.returncode == 1
    (found,) = [f for f in json.loads(done.stdout)["findings"] if f["kind"] == "shifted"]
    assert (found["phrase"], found["from"]) == (4, 24.0)
    assert "4 counts later than written" in found["text"]
    alone = run("sheet", "check", files["sheet"], "--clip", shown, var=tmp_path)
    assert (alone.returncode, alone.stderr) == (
        3,
        "juxtakine: Say where the counts lie in the clip: --grid GRID.json.\n",
    )


def test_a_grid_that_begins_after_the_clip_has_nothing_to_propose(files: dict[str, Path], tmp_path: Path) -> None:
    late = {"schema": "juxtakine/grid-1", "anchors": [{"at": 0, "seconds": 90}, {"at": 8, "seconds": 94}]}
    files["grid"].write_text(json.dumps(late))
    to = tmp_path / "proposed.json"
    done = run("sheet", "propose", TRACKS / "reference.npz", "--grid", files["grid"], "-o", to, var=tmp_path)
    assert (done.returncode, done.stderr) == (3, "juxtakine: The clip ends before count 1.\n")
    assert not to.exists()
