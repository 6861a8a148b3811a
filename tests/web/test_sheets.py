"""Sheet and grid over the real server: anchors, taps, the beat, orders, what disagrees, files out and in."""

import io
from pathlib import Path
from typing import Any

import mido
import pytest

from juxtakine.demo import lantern_quay
from support.clips import REFERENCE, another
from support.sheets import GRID, SHEET, sheet
from support.stack import Client, until

BEAT_S = 60 / lantern_quay.BPM


@pytest.fixture
def routine(client: Client, tmp_path: Path, short: Path) -> int:
    """Two rows of four, counted at 120 from 0.5 s on."""
    lines = sheet("1 2 3 & 4", "1 2 - 4", counts=4)
    return client.begin(another(tmp_path, short), lines, {"first_s": 0.5, "bpm": 120})


def put(client: Client, routine: int, change: dict[str, Any]) -> Any:
    before = client.routine(routine)["sheet"]
    return client.send("PUT", f"/routines/{routine}/sheet", before | change)


def test_anchors_are_put_anywhere_and_loosened(client: Client, routine: int) -> None:
    path = f"/routines/{routine}/grid/anchors"
    moved = client.send("PUT", path, {"at": 2.5, "seconds": 1.9}).json()["grid"]
    assert [(p["label"], p["seconds"]) for p in moved["posts"]] == [
        ("1 of row 1", 0.5), ("2 of row 1", 1.0), ("3 & of row 1", 1.9),
    ]  # fmt: skip
    assert moved["counts_s"][2] == pytest.approx(1.6)
    assert moved["said"] == "100.0 to 120.0 a minute"
    assert client.send("DELETE", f"{path}?at=1").json()["grid"]["counts_s"][1] == pytest.approx(0.5 + 1.4 / 2.5)
    backwards = client.send("PUT", path, {"at": 3, "seconds": 0.2})
    assert (backwards.status_code, "runs backwards" in backwards.json()["sentence"]) == (422, True)
    assert client.send("DELETE", f"{path}?at=0").status_code == 422
    assert len(client.send("POST", f"/routines/{routine}/undo").json()["grid"]["posts"]) == 3


def test_taps_place_the_counts_and_tell_their_scatter(client: Client, routine: int) -> None:
    taps = [0.62, 1.1, 1.62, 2.1, 2.61]
    told = client.send("POST", f"/routines/{routine}/grid/taps", {"seconds": taps}).json()
    assert told["routine"]["grid"]["counts_s"][0] == pytest.approx(0.61, abs=0.02)
    assert "5 taps: 120." in told["said"]
    refused = client.send("POST", f"/routines/{routine}/grid/taps", {"seconds": taps[:2]})
    assert (refused.status_code, "at least 4" in refused.json()["sentence"]) == (422, True)


def test_the_beat_of_the_clip_places_the_counts(client: Client, tmp_path: Path) -> None:
    made = client.begin(another(tmp_path, REFERENCE), SHEET)
    until(lambda: client.routine(made)["reference"]["playable"])
    found = client.get(f"/routines/{made}/beats")["paces"]
    assert [p["bpm"] for p in found] == pytest.approx([108, 54, 216], rel=0.002)
    truth = float(lantern_quay.reference_grid().seconds(0.0))
    nearest = min(found[0]["seconds"], key=lambda t: abs(t - truth))
    shown = client.send("POST", f"/routines/{made}/grid/beats", {"pace": 0, "first_s": nearest}).json()["grid"]
    for count in (0, 20, 44):
        assert shown["counts_s"][count] == pytest.approx(truth + count * BEAT_S, abs=0.015)


def test_a_clip_without_a_beat_says_so(client: Client, tmp_path: Path, short: Path) -> None:
    """Three seconds are too short to know one."""
    made = client.begin(another(tmp_path, short), SHEET)
    until(lambda: client.routine(made)["reference"]["playable"])
    told = client.get(f"/routines/{made}/beats")
    assert (told["paces"], "at least" in told["waiting"]) == ([], True)
    assert client.send("POST", f"/routines/{made}/grid/beats", {"first_s": 1}).status_code == 409


def test_an_order_is_danced_and_what_disagrees_is_told(client: Client, routine: int) -> None:
    phrases = client.routine(routine)["sheet"]["phrases"]
    phrases[0] |= {"section": "A", "name": "one", "weight": "left"}
    phrases[0]["marks"] = [{"label": "1", "cue": "side R", "foot": "right", "weight": "right", "turn": 2}]
    phrases[1] |= {"section": "B"}
    shown = put(client, routine, {"phrases": phrases, "order": "A, B, A other side, A cut 2", "walls": 2}).json()
    assert [(r["heading"], r["written"], r["again"], r["counts"]) for r in shown["rows"]] == [
        ("A: wall 1, facing 12", 1, None, 4), ("B", 2, None, 4),
        ("A, other side: wall 2, facing 3", 1, "row 1, other side", 4),
        ("A, cut after 2: wall 3, facing 12", 1, "row 1, cut after 2", 2),
    ]  # fmt: skip
    third = shown["rows"][2]["cells"][0]
    assert (third["mark"]["cue"], third["weight"], third["facing"], third["turned"]) == (
        "side L", "left", 12, "a quarter to the left",
    )  # fmt: skip
    assert shown["rows"][0]["checkpoint"] == "ends to 3, on the right foot"
    walls = next(f for f in shown["findings"] if f["about"] == "walls")
    mended = client.send("PUT", f"/routines/{routine}/sheet", walls["mend"]["sheet"]).json()
    assert "walls" not in {f["about"] for f in mended["findings"]}
    refused = put(client, routine, {"order": "A, C"})
    assert (refused.status_code, refused.json()["start"]) == (422, 3)
    assert "there is no section C" in refused.json()["sentence"]


def test_step_names_fill_a_row_and_the_one_moves(client: Client, routine: int) -> None:
    said = {"text": "walk R L, shuffle R, coastr L", "weight": None}
    read = client.send("POST", "/steps", said).json()
    assert (read["phrase"]["line"], read["unknown"][0]["near"][0]) == ("1 2 3 & 4 5", "coaster")
    assert client.send("POST", "/steps", {"text": "x", "own": [{"name": "x", "pattern": "?"}]}).status_code == 422
    assert {"coaster", "plié", "heel switches"} <= {s["name"] for s in client.get("/steps")}
    before = client.routine(routine)
    shown = client.send("POST", f"/routines/{routine}/renumber", {"at": 2}).json()
    assert [(r["counts"], r["line"]) for r in shown["rows"]] == [(2, "1 2"), (4, "1 & 2 3 4"), (2, "- 2")]
    assert shown["grid"]["counts_s"] == before["grid"]["counts_s"]
    client.send("POST", f"/routines/{routine}/undo")
    doubled = client.send("POST", f"/routines/{routine}/renumber", {"pace": 2}).json()
    assert [r["line"] for r in doubled["rows"]] == ["1 - 3 - 5 6 7 -", "1 - 3 - - - 7 -"]
    assert doubled["grid"]["counts_s"][::2] == before["grid"]["counts_s"]


def test_a_sheet_is_pasted_after_what_is_there(client: Client, routine: int) -> None:
    path = f"/routines/{routine}/paste"
    refused = client.send("POST", path, {"text": "a: 1 2 4\nb: 1 2 3\nc: 1 x"})
    assert refused.status_code == 422
    assert "Line 1: 3 is missing" in refused.json()["sentence"]
    assert "Line 3: x is not a count" in refused.json()["sentence"]
    shown = client.send("POST", path, {"text": "# B\nend: walk R L, shuffle R"}).json()["routine"]
    assert [(r["name"], r["line"]) for r in shown["rows"]][2:] == [("end", "1 2 3 & 4")]
    assert shown["sections"] == ["A", "B"]
    assert client.send("POST", f"/routines/{routine}/undo").json()["total"] == 8


@pytest.mark.parametrize("form", ["json", "csv", "md", "pdf", "letter.pdf", "vtt", "mid"])
def test_a_sheet_goes_out_and_comes_in_again(client: Client, routine: int, form: str) -> None:
    got = client.send("GET", f"/routines/{routine}/sheet/{form}")
    assert (got.status_code, "attachment" in got.headers["content-disposition"]) == (200, True)
    before = client.routine(routine)
    if form in ("json", "csv", "vtt", "mid"):
        put(client, routine, {"phrases": before["sheet"]["phrases"][:1]} if form in ("json", "csv") else {})
        back = client.drop_in(routine, f"mine.{form}", got.content).json()["routine"]
        came, went = (view["sheet"]["phrases"] for view in (back, before))
        assert came[0] == went[0]
        # a table holds no ids, and what was taken out meanwhile is another row then
        assert [{**row, "id": form == "csv" or row["id"]} for row in came] == [
            {**row, "id": form == "csv" or row["id"]} for row in went
        ]
        assert back["grid"]["counts_s"] == pytest.approx(before["grid"]["counts_s"], abs=0.005)


def test_a_wrong_file_changes_nothing(client: Client, routine: int) -> None:
    before = client.routine(routine)
    silent = io.BytesIO()
    mido.MidiFile(tracks=[mido.MidiTrack()]).save(file=silent)
    for name, data, sentence in (
        ("a.csv", "row;line\n1;für".encode("latin-1"), "not in UTF-8"),
        ("a.json", b"{}{", "Invalid JSON"),
        ("a.json", b'{"phrases": [{"line": "1 2 x", "counts": 3}]}', "x is not a count"),
        ("a.json", b'{"phrases": [{"counts": 0, "line": "1"}], "walls": 99, "ones": ["now"]}', "walls: "),
        ("a.json", b'{"phrases": [{"counts": 0, "line": "1"}], "walls": 99, "ones": ["now"]}', "phrases.0.counts: "),
        ("a.mid", silent.getvalue(), "names no tempo"),
        ("a.vtt", b"WEBVTT\n\n", "not of this sheet"),
        ("a.docx", b"", "is none of"),
    ):
        refused = client.drop_in(routine, name, data)
        assert refused.status_code in (415, 422), name
        assert sentence in refused.json()["sentence"], name
    assert client.routine(routine) == before


def test_rows_are_proposed_once_the_counts_are_placed_and_taken_into_the_sheet(client: Client, tmp_path: Path) -> None:
    routine = client.begin(another(tmp_path, REFERENCE))
    assert "count 1" in client.get(f"/routines/{routine}/proposal")["waiting"]
    client.send("PUT", f"/routines/{routine}/grid", GRID)
    until(lambda: client.routine(routine)["reference"]["measured"])
    proposed = client.get(f"/routines/{routine}/proposal")
    assert (proposed["waiting"], proposed["against"]) == (None, [])
    assert [r["row"]["line"] for r in proposed["rows"][:3]] == [p["line"] for p in SHEET["phrases"][:3]]
    assert all(r["new"] and r["takes"] for r in proposed["rows"])
    # up to the second; what is left is proposed on
    now = client.send("POST", f"/routines/{routine}/proposal", {"rows": [2]}).json()
    assert [r["line"] for r in now["rows"]] == [p["line"] for p in SHEET["phrases"][:2]]
    assert now["rows"][0]["cells"][0]["mark"]["cue"] == "side R"
    rest = client.get(f"/routines/{routine}/proposal")["rows"]
    assert [r["new"] for r in rest[:3]] == [False, False, True]
    # a hold that the clip does not have is told, with its mend, and undone it is gone
    wrong = now["sheet"] | {"phrases": [now["sheet"]["phrases"][0] | {"line": "1 2 3 4 5 6 7 8"}]}
    put(client, routine, wrong)
    (found,) = client.get(f"/routines/{routine}/proposal")["against"]
    assert (found["row"], found["label"], found["about"]) == (1, "4", "nothing-arrives")
    put(client, routine, found["mend"]["sheet"])
    assert client.get(f"/routines/{routine}/proposal")["against"] == []
    every = client.send("POST", f"/routines/{routine}/proposal", {"rows": []}).json()
    assert every["total"] == 44
    undone = client.send("POST", f"/routines/{routine}/undo").json()
    assert len(undone["rows"]) == 1


def test_a_structure_in_a_sentence_is_danced_and_can_be_undone(client: Client, routine: int) -> None:
    put(client, routine, sheet("1 2 3 4 5 6 7 8", "1 2 3 4 5 6 7 8"))
    said = "16 counts, 4 walls, 8 intro, restart on wall 2 after 8 facing 6, tag of 2 after wall 3"
    told = client.send("POST", f"/routines/{routine}/structure", {"text": said}).json()
    now = told["routine"]
    assert (now["sheet"]["order"], now["sheet"]["walls"]) == ("A, A cut 8, A, tag, A", 4)
    assert now["total"] == 16 + 8 + 16 + 2 + 16
    headings = [r["heading"] for r in now["rows"] if r["heading"]]
    assert headings[:2] == ["A: wall 1, facing 12", "A, cut after 8: wall 2, facing 12"]
    assert "You said that wall 2 ends facing 6, and with the turns as written it is 12." in told["said"]
    refused = client.send("POST", f"/routines/{routine}/structure", {"text": "4 walls, once more"})
    assert refused.status_code == 422
    assert "“once more” can't be read" in refused.json()["sentence"]
    assert client.routine(routine)["sheet"]["order"] == "A, A cut 8, A, tag, A"
    undone = client.send("POST", f"/routines/{routine}/undo").json()
    assert (undone["sheet"]["order"], len(undone["rows"])) == ("", 2)


def test_lines_are_kept_in_plain_signs_and_what_does_not_fit_is_told(client: Client, routine: int) -> None:
    put(client, routine, sheet("1&2 3 and 4 five hold 7 8"))
    assert client.routine(routine)["sheet"]["phrases"][0]["line"] == "1 & 2 3 & 4 5 - 7 8"
    told = client.send("POST", "/steps", {"text": "walk R L, 3&4: walk R L"}).json()
    assert told["phrase"]["line"] == "1 2 3 4"
    (misfit,) = told["misfits"]
    assert misfit["told"] == "3&4 is written there, and the steps take 3 4"
    pasted = client.send("POST", f"/routines/{routine}/paste", {"text": "walk R L, zibble\n1-8"}).json()
    assert pasted["said"].startswith("2 rows were added. Look at these: Line 1: zibble is not in the dictionary")
