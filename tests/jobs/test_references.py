"""Several clips of the instructor through the real worker: placed beside the first, chosen, put together, deleted."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest

from juxtakine.demo import lantern_quay
from support.clips import BACK, REFERENCE, TAKES, another, stretched
from support.sheets import GRID, SHEET
from support.stack import Client, Stack, until


@pytest.fixture(scope="module")
def taught(stack: Stack, tmp_path_factory: pytest.TempPathFactory) -> tuple[int, int]:
    """A routine with a second clip of the instructor, from the back, and a take."""
    client, folder = Client(stack.address), tmp_path_factory.mktemp("taught")
    routine = client.begin(stack.known(folder, REFERENCE), SHEET, GRID)
    added = client.drop(f"/routines/{routine}/references", stack.known(folder, BACK, "back.mp4"))
    assert (added.status_code, added.json()["screen"]) == (200, "watch")
    take = client.add_take(routine, stack.known(folder, TAKES[2], "take.mp4"))
    client.result(take)
    until(lambda: other(client, routine)["said"])
    return routine, take


def whose(client: Client, routine: int) -> list[str]:
    """From which clip each row's piece is, where it is the other one from the back."""
    back = other(client, routine)["clip"]["id"]
    return ["back" if piece["clip"] == back else "front" for piece in client.routine(routine)["pieces"]]


def other(client: Client, routine: int) -> Any:
    return client.routine(routine)["others"][0]


def test_a_second_clip_is_placed_by_its_movement_and_read(client: Client, taught: tuple[int, int]) -> None:
    routine, _ = taught
    placed = other(client, routine)
    assert (placed["said"], placed["usable"]) == ("75% of the tempo, from the other side", True)
    truth = lantern_quay.back_grid().seconds(np.arange(len(placed["counts_s"])))
    assert np.abs(np.array(placed["counts_s"]) - truth).max() < 0.08
    told = client.get(f"/routines/{routine}/reading?clip={placed['clip']['id']}")["reading"]
    assert told["sides"]["mirrored"] is False
    assert "seen from the back" in told["sides"]["why"]
    first = client.get(f"/routines/{routine}/reading")["reading"]["sides"]
    assert "in another of their clips, seen from the back, the same side moves" in first["why"]


def test_a_take_is_beside_the_nearest_unless_another_is_chosen(client: Client, taught: tuple[int, int]) -> None:
    routine, take = taught
    by_itself = client.result(take)
    assert (by_itself["against"], by_itself["reference"]["name"]) == (None, "clip.mp4")
    back = other(client, routine)["clip"]["id"]
    client.send("PUT", f"/clips/{take}/against", {"reference": back})
    chosen = client.result(take)
    assert (chosen["against"], chosen["reference"]["name"]) == (back, "back.mp4")
    assert chosen["outcome"]["comparison"]["alignment"]["method"] == "sound"  # of the clip with the music
    at_five = next(c for c in chosen["clock"] if c["at"] == 5)
    assert at_five["reference_s"] == pytest.approx(float(lantern_quay.back_grid().seconds(5)), abs=0.08)
    assert client.send("PUT", f"/clips/{take}/against", {"reference": take + 999}).status_code == 404
    client.send("PUT", f"/clips/{take}/against", {"reference": None})
    assert client.result(take)["reference"]["name"] == "clip.mp4"


def test_rows_from_two_clips_become_one_on_which_the_take_is_compared(client: Client, taught: tuple[int, int]) -> None:
    """Three rows from the front at the tempo, three from the back and slower; the music is in the clip from the
    front."""
    routine, take = taught
    refused = client.send("POST", f"/routines/{routine}/assemble")
    assert (refused.status_code, "Each row needs a stretch" in refused.json()["sentence"]) == (409, True)
    shown = client.routine(routine)
    clips = {"front": shown["reference"]["id"], "back": other(client, routine)["clip"]["id"]}
    grids = {"front": lantern_quay.reference_grid(), "back": lantern_quay.back_grid()}
    for row in shown["rows"]:
        which = "front" if row["number"] in (1, 2, 5) else "back"
        first, after = (float(s) for s in grids[which].seconds([row["start"], row["start"] + row["counts"]]))
        piece = {"clip": clips[which], "first_s": first, "next_s": after}
        kept = client.send("PUT", f"/routines/{routine}/pieces/{row['number']}", piece)
        assert kept.status_code == 200, kept.text
    assert (kept.json()["missing"], kept.json()["pieces"][2]["said"]) == ([], "0:13.9 to 0:19.8, at 81")
    assert whose(client, routine) == ["front", "front", "back", "back", "front", "back"]
    upwards = SHEET | {"phrases": [*SHEET["phrases"][1:], SHEET["phrases"][0]]}
    client.send("PUT", f"/routines/{routine}/sheet", upwards)
    assert whose(client, routine) == ["front", "back", "back", "front", "back", "front"]
    client.send("POST", f"/routines/{routine}/undo")
    assert whose(client, routine) == ["front", "front", "back", "back", "front", "back"]
    wrong = client.send("PUT", f"/routines/{routine}/pieces/1", {"clip": clips["front"], "first_s": 9, "next_s": 8})
    assert (wrong.status_code, "end after it begins" in wrong.json()["sentence"]) == (422, True)
    assert client.send("POST", f"/routines/{routine}/assemble").json()["screen"] == "watch"
    until(lambda: (r := client.routine(routine)["reference"])["assembled"] and r["measured"])
    until(lambda: all(o["said"] for o in client.routine(routine)["others"]))
    assert client.routine(routine)["grid"]["bpm"] == pytest.approx(108, abs=0.01)
    result = until(lambda: (r := client.result(take))["reference"]["assembled"] and r)
    told = result["outcome"]["comparison"]
    assert (told["alignment"]["method"], told["redrill"]) == ("sound", [5])


def test_a_stretch_of_the_same_clip_comes_and_goes_and_leaves_the_first_as_it_was(
    stack: Stack, client: Client, tmp_path: Path
) -> None:
    routine = client.begin(stack.known(tmp_path, REFERENCE), SHEET, GRID)
    until(lambda: client.routine(routine)["reference"]["measured"])
    tracks = set((stack.backing.var / "tracks").glob("*.npz"))  # the test before may still tidy up its parts
    clip = client.routine(routine)["reference"]["id"]
    made = client.send("POST", f"/clips/{clip}/stretch", {"from_s": 2.0, "to_s": 12.0})
    assert made.status_code == 200, made.text
    until(lambda: other(client, routine)["clip"]["measured"])
    assert set((stack.backing.var / "tracks").glob("*.npz")) > tracks
    assert client.send("DELETE", f"/clips/{clip}").status_code == 409  # the first can't go alone
    assert client.send("DELETE", f"/clips/{made.json()['clip']}").status_code == 204
    assert client.routine(routine)["others"] == []
    assert set((stack.backing.var / "tracks").glob("*.npz")) == tracks
    assert client.http.get(f"/api/clips/{clip}/play").status_code == 200


def test_where_nothing_tells_its_counts_they_can_be_placed_by_hand(client: Client, tmp_path: Path, short: Path) -> None:
    """Three seconds without sound are too little to find them by."""
    routine = client.begin(another(tmp_path, short), SHEET, GRID | {"first_s": 0.02})
    silent = stretched(tmp_path, short, 1.0)
    added = client.drop(f"/routines/{routine}/references", silent).json()["clip"]
    until(lambda: "Neither the music nor the movement tells" in (other(client, routine)["waiting"] or ""))
    client.send("PUT", f"/clips/{added}/first-count", {"first_s": 0.02, "percent": 100})
    placed = until(lambda: (o := other(client, routine))["said"] and o)
    assert (placed["sure"], placed["waiting"]) == ("count 1 put by hand", None)
    assert placed["counts_s"][0] == pytest.approx(0.02, abs=0.05)
