"""Watching over the real server: the run of a clip, what is read off it, its pictures; and what is refused in words."""

from pathlib import Path
from typing import Any

import pytest

from support.clips import REFERENCE, TAKES, another, together
from support.sheets import GRID, SHEET
from support.stack import Client, until


def test_only_the_run_is_measured_and_each_count_in_it_has_a_figure(client: Client, tmp_path: Path) -> None:
    routine = client.begin(another(tmp_path, REFERENCE), SHEET, GRID)
    clip = client.routine(routine)["reference"]["id"]
    chosen = client.send("PUT", f"/clips/{clip}/run", {"from_s": 1.0, "to_s": 12.0})
    assert chosen.status_code == 200, chosen.text
    assert (chosen.json()["measured"], chosen.json()["run"]) == (False, {"from_s": 1.0, "to_s": 12.0})
    until(lambda: client.routine(routine)["reference"]["measured"], 120)
    told = client.get(f"/routines/{routine}/reading")["reading"]
    assert len(told["figures"]) == sum(len(p["line"].split()) for p in SHEET["phrases"])
    assert all(bool(f["lines"]) == (f["seconds"] < 12) for f in told["figures"])
    assert told["figures"][0]["seconds"] == pytest.approx(GRID["first_s"], abs=1e-3)
    # two rows of eight, at 108 counts a minute, end before the run does; of the last two nothing is seen
    assert {r["kind"] for r in told["rows"]} == {"new"}
    assert [r["hardest"] is not None for r in told["rows"]] == [True, True, False, False, False, False]
    assert told["rows"][5]["lines"] == ["too little of it is seen"]


def test_what_is_missing_for_reading_is_said(client: Client, tmp_path: Path, short: Path) -> None:
    made = client.begin(another(tmp_path, short), SHEET)
    assert "where count 1 is" in client.get(f"/routines/{made}/reading")["waiting"]


def test_a_run_that_can_not_be_is_refused_and_the_one_before_it_kept(
    client: Client, tmp_path: Path, short: Path
) -> None:
    made = client.begin(another(tmp_path, short))
    clip = client.routine(made)["reference"]["id"]
    for run in ({"from_s": 1.0, "to_s": 1.2}, {"from_s": 2.0, "to_s": 1.0}, {"from_s": 50.0, "to_s": 60.0}):
        refused = client.send("PUT", f"/clips/{clip}/run", run)
        assert refused.status_code == 422
        assert "shorter than one count" in refused.json()["sentence"]
    assert client.routine(made)["reference"]["run"] is None
    take = client.add_take(made, another(tmp_path, TAKES[0], "take.mp4"))
    assert "not in a take" in client.send("PUT", f"/clips/{take}/run", {"from_s": 0, "to_s": 2}).json()["sentence"]


def test_a_picture_of_a_moment_is_a_small_jpeg(client: Client, tmp_path: Path, short: Path) -> None:
    made = client.begin(another(tmp_path, short))
    clip = client.routine(made)["reference"]["id"]
    until(lambda: client.routine(made)["reference"]["playable"])
    shown = client.http.get(f"/api/clips/{clip}/picture", params={"at": 1.0, "tall": 90})
    assert shown.headers["content-type"] == "image/jpeg"
    assert shown.content[:3] == b"\xff\xd8\xff"
    beyond = client.http.get(f"/api/clips/{clip}/picture", params={"at": 99.0})
    assert (beyond.status_code, beyond.json()["sentence"]) == (422, "The clip has no picture there.")


def test_what_is_said_of_sides_is_kept_and_only_an_instructor_mirrors_on_purpose(
    client: Client, tmp_path: Path, short: Path
) -> None:
    made = client.begin(another(tmp_path, short))
    clip = client.routine(made)["reference"]["id"]
    said = {"flipped": False, "mirrored": True}
    assert client.send("PUT", f"/clips/{clip}/sides", said).status_code == 200
    shown = client.routine(made)["reference"]
    assert (shown["flipped"], shown["mirrored"]) == (False, True)
    take = client.add_take(made, another(tmp_path, TAKES[0], "take.mp4"))
    refused = client.send("PUT", f"/clips/{take}/sides", said)
    assert (refused.status_code, "not danced mirrored" in refused.json()["sentence"]) == (422, True)


def test_a_click_on_nobody_is_said_and_what_was_followed_before_stays(client: Client, tmp_path: Path) -> None:
    made = client.begin(together(tmp_path / "two.mp4", [REFERENCE, TAKES[0]], seconds=2))
    clip = client.routine(made)["reference"]["id"]
    assert client.send("POST", f"/clips/{clip}/follow", {"x": 0.75, "y": 0.45, "at_s": 1.0}).status_code == 200
    followed = until(lambda: _followed(client, made), 120)
    assert (followed["clicks"], followed["share"] > 0.9) == (1, True)
    feet = client.get(f"/clips/{clip}/feet")
    under = [[line for line in there if line["followed"]] for there in feet["people"]]
    assert len(feet["seconds"]) == len(under) >= 9
    assert all(len(lines) == 1 and lines[0]["x1"] > 0.5 for lines in under[1:-1])
    assert all(len(there) == 2 for there in feet["people"][1:-1])
    assert client.send("POST", f"/clips/{clip}/follow", {"x": 0.5, "y": 0.05, "at_s": 1.0}).status_code == 200
    assert "Nobody stands alone where you clicked" in client.failure(made, clip)
    assert client.routine(made)["reference"]["followed"]["clicks"] == 1
    assert client.send("POST", f"/clips/{clip}/measure").status_code == 200
    assert until(lambda: _followed(client, made), 120) == followed
    assert client.send("DELETE", f"/clips/{clip}/follow").json()["followed"] is None
    most_prominent = until(lambda: _followed(client, made), 120)
    assert (most_prominent["clicks"], most_prominent["share"] > 0.9) == (0, True)


def _followed(client: Client, routine: int) -> Any:
    reference = client.routine(routine)["reference"]
    return reference["followed"] if reference["measured"] else None
