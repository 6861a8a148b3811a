"""Routines over the real server and database: sheet, grid, undo, clips at the door."""

import socket
from pathlib import Path
from urllib.parse import urlparse

import httpx
import pytest

from support.clips import REFERENCE, another
from support.sheets import EIGHT, GRID, SHEET, sheet
from support.stack import Client, Stack, until


def test_a_routine_begins_with_the_instructors_clip(client: Client, tmp_path: Path, short: Path) -> None:
    routine = client.begin(another(tmp_path, short), SHEET, GRID)
    shown = client.routine(routine)
    assert shown["title"] == "Lantern Quay"
    assert [r["line"] for r in shown["rows"]] == [p["line"] for p in SHEET["phrases"]]
    assert shown["total"] == 44
    assert shown["grid"]["counts_s"][0] == pytest.approx(GRID["first_s"], abs=1e-3)
    assert shown["grid"]["counts_s"][44] - shown["grid"]["counts_s"][0] == pytest.approx(44 * 60 / 108, abs=1e-3)
    assert shown["rows"][1]["begins_s"] == pytest.approx(GRID["first_s"] + 8 * 60 / 108, abs=1e-3)
    card = next(r for r in client.get("/home")["routines"] if r["id"] == routine)
    assert card["act"] == "Drop the first take in"
    assert client.send("DELETE", f"/routines/{routine}").status_code == 204
    assert client.send("GET", f"/routines/{routine}").status_code == 404


@pytest.mark.parametrize(
    ("name", "title", "kept"),
    [
        ("../../etc/low-bench.mp4", "low bench", "low-bench.mp4"),
        ("C:\\clips\\low bench.mov", "low bench", "low bench.mov"),
        ("täg\u0000 eins.mp4", "täg eins", "täg eins.mp4"),
        ("", "clip", "clip"),
    ],
)
def test_a_name_is_a_name_and_no_path(
    client: Client, tmp_path: Path, short: Path, media_root: Path, name: str, title: str, kept: str
) -> None:
    made = client.drop("/routines", another(tmp_path, short), name or " ").json()
    shown = client.routine(made["routine"])
    assert (shown["title"], shown["reference"]["name"]) == (title, kept)
    assert not list(media_root.rglob("*low*"))


@pytest.mark.parametrize(
    ("content", "sentence"),
    [
        (b"not a video " * 99, "can't be read as a video"),
        (b"", "This file is empty"),
        (REFERENCE.read_bytes()[:200_000], "breaks off|can't be read"),
    ],
    ids=["text", "empty", "cut off"],
)  # fmt: skip
def test_what_is_no_clip_is_refused_and_leaves_nothing(
    client: Client, media_root: Path, tmp_path: Path, content: bytes, sentence: str
) -> None:
    before = files(media_root), len(client.get("/home")["routines"])
    (tmp_path / "x.mp4").write_bytes(content)
    answer = client.drop("/routines", tmp_path / "x.mp4")
    assert answer.status_code == 422
    assert any(part in answer.json()["sentence"] for part in sentence.split("|"))
    assert (files(media_root), len(client.get("/home")["routines"])) == before


def files(root: Path) -> set[Path]:
    return {f for f in root.rglob("*") if f.is_file()}


def test_an_upload_that_breaks_off_is_cleaned_away(stack: Stack, client: Client, media_root: Path) -> None:
    before = files(media_root)
    where = urlparse(stack.address)
    with socket.create_connection((where.hostname, where.port)) as line:
        head = "POST /api/routines?name=a.mp4 HTTP/1.1\r\nHost: localhost\r\nContent-Length: 900000\r\n"
        line.sendall(f"{head}Content-Type: application/octet-stream\r\n\r\n".encode() + b"x" * 50_000)
        until(lambda: files(media_root) - before)
    until(lambda: files(media_root) == before)
    assert all(r["title"] != "a" for r in client.get("/home")["routines"])


def test_the_same_clip_again_is_said_and_not_added(client: Client, tmp_path: Path, short: Path) -> None:
    clip, take = another(tmp_path, short), another(tmp_path, short, "take.mp4")
    routine = client.begin(clip, SHEET, GRID)
    client.add_take(routine, take)
    for file, as_what in ((take, "as take 1"), (clip, "as the instructor's clip")):
        again = client.drop(f"/routines/{routine}/takes", file, "copy.mp4")
        assert again.status_code == 409
        assert as_what in again.json()["sentence"]
    assert len(client.routine(routine)["takes"]) == 1


def test_a_wrong_line_is_refused_with_its_place_and_the_sheet_kept(client: Client, tmp_path: Path, short: Path) -> None:
    routine = client.begin(another(tmp_path, short), sheet("1 2 3 4 5 6 7 8"))
    refused = client.send("PUT", f"/routines/{routine}/sheet", sheet("1 2 3 4 5 6 7 8", "1 2 3 4 5 4 7 8"))
    assert refused.status_code == 422
    assert refused.json() == {"sentence": "phrase 2: 4 comes after 5", "phrase": 2, "start": 10, "end": 11}
    assert len(client.routine(routine)["rows"]) == 1


def test_a_line_is_read_while_it_is_typed(client: Client) -> None:
    right = client.send("POST", "/line", EIGHT | {"line": "1 2 3 & 4 - 6 7 8"}).json()
    assert [(c["label"], c["offset"], c["width"], c["hold"]) for c in right["cells"][2:6]] == [
        ("3", 2, 0.5, False), ("3 &", 2.5, 0.5, False), ("4", 3, 1, False), ("5", 4, 1, True),
    ]  # fmt: skip
    wrong = client.send("POST", "/line", EIGHT | {"line": "1 2 4 5 6 7 8"}).json()
    assert wrong["problem"]["sentence"].startswith("3 is missing")
    assert wrong["mended"] == "1 2 - 4 5 6 7 8"


def test_edits_are_undone_and_redone_one_by_one(client: Client, tmp_path: Path, short: Path) -> None:
    routine = client.begin(another(tmp_path, short), sheet("1 2 3 4 5 6 7 8"), {"first_s": 3.0, "bpm": 108})
    path = f"/routines/{routine}"
    client.send("PUT", f"{path}/sheet", sheet("1 2 3 4 5 6 7 8", "1 - 3 4 5 6 7 8"))
    client.send("PUT", f"{path}/grid", {"first_s": 3.1, "bpm": 108})
    steps = [client.send("POST", f"{path}/undo").json() for _ in range(2)]
    assert [(len(s["rows"]), s["grid"]["counts_s"][0]) for s in steps] == [(2, 3.0), (1, 3.0)]
    again = client.send("POST", f"{path}/redo").json()
    assert (len(again["rows"]), again["can_redo"]) == (2, True)
    client.send("PUT", f"{path}/sheet", sheet("1 2 3 4", counts=4))
    shown = client.routine(routine)
    assert (shown["can_undo"], shown["can_redo"]) == (True, False)
    for _ in range(9):
        client.send("POST", f"{path}/undo")
    assert client.routine(routine)["rows"] == []


@pytest.mark.parametrize(
    ("grid", "sentence"),
    [
        ({"first_s": 9.0, "count": 9, "count_s": 4.0}, "The grid runs backwards"),
        ({"first_s": 3.0, "bpm": 4000}, "can't be danced"),
        ({"first_s": 3.0}, "Say the tempo"),
        ({"first_s": 3.0, "bpm": -5}, "greater than 0"),
    ],
)
def test_a_grid_that_can_not_be_is_refused_and_the_old_one_kept(
    client: Client, tmp_path: Path, short: Path, grid: dict[str, float], sentence: str
) -> None:
    routine = client.begin(another(tmp_path, short), SHEET, GRID)
    refused = client.send("PUT", f"/routines/{routine}/grid", grid)
    assert refused.status_code == 422
    assert sentence in refused.json()["sentence"]
    assert client.routine(routine)["grid"]["bpm"] == 108


def test_two_posts_make_the_tempo(client: Client, tmp_path: Path, short: Path) -> None:
    routine = client.begin(another(tmp_path, short), SHEET)
    grid = client.send("PUT", f"/routines/{routine}/grid", {"first_s": 3.0, "count": 33, "count_s": 19.0}).json()[
        "grid"
    ]
    assert grid["bpm"] == pytest.approx(120)
    assert [p["count"] for p in grid["posts"]] == [1, 33]


def test_the_play_copy_is_served_in_pieces(client: Client, tmp_path: Path, short: Path) -> None:
    routine = client.begin(another(tmp_path, short))
    clip = until(lambda: (r := client.routine(routine)["reference"])["playable"] and r["id"])
    piece = client.http.get(f"/api/clips/{clip}/play", headers={"Range": "bytes=0-99"})
    assert (piece.status_code, len(piece.content), piece.headers["content-type"]) == (206, 100, "video/mp4")
    wave = until(lambda: client.get(f"/clips/{clip}/wave")["peaks"])
    assert max(wave) == pytest.approx(1)


def test_what_is_not_there_is_said(client: Client) -> None:
    for method, path in (("GET", "/clips/999999/result"), ("DELETE", "/clips/999999"), ("GET", "/nothing")):
        answer = client.send(method, path)
        assert answer.status_code == 404
        assert answer.json()["sentence"]


def test_the_page_is_served_at_any_address_and_no_file_outside_it(stack: Stack) -> None:
    for path in ("/", "/routines/1/compare"):
        page = httpx.get(stack.address + path)
        assert '<div id="root">' in page.text
    outside = httpx.get(stack.address + "/..%2f..%2fpyproject.toml")
    assert "juxtakine" not in outside.text.lower() or '<div id="root">' in outside.text


def test_home_says_the_one_thing_that_is_next(client: Client, tmp_path: Path, short: Path) -> None:
    routine = client.begin(another(tmp_path, short))

    def next_act() -> tuple[str, str]:
        card = next(r for r in client.get("/home")["routines"] if r["id"] == routine)
        return card["act"], card["screen"]

    assert next_act() == ("Write the sheet", "count")
    client.send("PUT", f"/routines/{routine}/sheet", sheet("1 2 3 4", counts=4))
    assert next_act() == ("Place count 1", "count")
    client.send("PUT", f"/routines/{routine}/grid", {"first_s": 0.1, "bpm": 108})
    assert next_act() == ("Drop the first take in", "compare")
    client.add_take(routine, another(tmp_path, short, "take.mp4"))
    assert next_act() == ("Look at it", "compare")


def test_a_sheet_longer_than_its_clip_is_remarked(client: Client, tmp_path: Path, short: Path) -> None:
    """Three seconds at 120 hold six counts."""
    lines = sheet("1 2 3 4 5 6 7 8", "1 2 3 4 5 6 7 8")
    routine = client.begin(another(tmp_path, short), lines, {"first_s": 0.01, "bpm": 120})
    assert "its last 10 counts" in client.routine(routine)["remark"]
    client.send("PUT", f"/routines/{routine}/sheet", sheet("1 2 3 4", counts=4))
    assert client.routine(routine)["remark"] is None


def test_cells_say_what_the_sheet_draws(client: Client, tmp_path: Path, short: Path) -> None:
    lines = sheet("& 1 - 3 ~", counts=4)
    lines["phrases"][0]["marks"] = [
        {"label": "1", "cue": "step", "score": "free", "parts": []},
        {"label": "3", "cue": "", "score": "free", "parts": ["arms"]},
    ]
    routine = client.begin(another(tmp_path, short), lines)
    cells = client.routine(routine)["rows"][0]["cells"]
    assert [(c["label"], c["sign"], c["offset"], c["hold"], c["goes_on"]) for c in cells] == [
        ("& 1", "&", -0.5, False, False), ("1", "1", 0, False, False), ("2", "2", 1, True, False),
        ("3", "3", 2, False, False), ("4", "4", 3, False, True),
    ]  # fmt: skip
    assert [(c["mark"]["cue"], c["free"]) for c in cells[1:4]] == [("step", True), ("", False), ("", False)]
