"""From dropped clips to results by the real worker, and through everything that can get in its way."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from juxtakine.demo import lantern_quay
from juxtakine.media.track_file import load_track
from support.clips import REFERENCE, TAKES, Kind, another, picture_of_a_wall, shipped, stretched, written
from support.sheets import GRID, SHEET, sheet
from support.stack import Client, Stack, named, until


def tracks(stack: Stack) -> set[Path]:
    return set((stack.backing.var / "tracks").glob("*"))


@pytest.fixture(scope="module")
def danced(stack: Stack, tmp_path_factory: pytest.TempPathFactory) -> tuple[int, int]:
    """A routine with a take that went the whole way."""
    client, folder = Client(stack.address), tmp_path_factory.mktemp("danced")
    routine = client.begin(another(folder, REFERENCE), SHEET, GRID)
    take = client.add_take(routine, another(folder, TAKES[0], "take.mp4"))
    client.result(take)
    return routine, take


def test_a_take_goes_the_whole_way(client: Client, danced: tuple[int, int]) -> None:
    routine, take = danced
    result = client.result(take)
    assert result["outcome"]["strong"] == "Redrill Lanterns"
    assert result["outcome"]["comparison"]["redrill"][0] == 3
    assert len(result["outcome"]["counts"]) == 47
    card = next(r for r in client.get("/home")["routines"] if r["id"] == routine)
    assert (card["act"], card["danced"]) == ("Redrill", True)


def test_the_clock_holds_both_clips_at_the_same_count(client: Client, danced: tuple[int, int]) -> None:
    clock = client.result(danced[1])["clock"]
    ats = np.array([c["at"] for c in clock])
    reference, take = lantern_quay.reference_grid(), lantern_quay.take_grid(lantern_quay.TAKES[0])
    assert np.allclose([c["reference_s"] for c in clock], reference.seconds(ats), atol=0.002)
    assert np.allclose([c["take_s"] for c in clock], take.seconds(ats), atol=1 / 60)


def test_an_edit_compares_again_and_tracks_nothing(stack: Stack, client: Client, danced: tuple[int, int]) -> None:
    routine, take = danced
    before, first = {f: f.stat().st_mtime_ns for f in tracks(stack)}, client.result(take)
    freed = json.loads(json.dumps(SHEET))
    freed["phrases"][2]["marks"] = [m | {"score": "free"} for m in freed["phrases"][2]["marks"]]
    client.send("PUT", f"/routines/{routine}/sheet", freed)
    second = until(lambda: (r := client.get(f"/clips/{take}/result"))["outcome"] and r)
    assert 3 not in second["outcome"]["comparison"]["redrill"]
    client.send("POST", f"/routines/{routine}/undo")
    third = until(lambda: (r := client.get(f"/clips/{take}/result"))["outcome"] and r)
    assert third["outcome"] == first["outcome"]
    assert {f: f.stat().st_mtime_ns for f in tracks(stack)} == before


def test_the_same_clip_is_never_tracked_twice(
    stack: Stack, client: Client, danced: tuple[int, int], tmp_path: Path
) -> None:
    """The same file in another routine, under another name: its track is there."""
    before = tracks(stack)
    source = written(tmp_path)
    routines = [client.begin(source, SHEET, GRID) for _ in range(2)]
    until(lambda: all(client.routine(r)["reference"]["measured"] for r in routines))
    assert len(tracks(stack) - before) == 1
    client.send("DELETE", f"/routines/{routines[0]}")
    assert tracks(stack) > before, "the other routine's clip lost its track"
    assert client.http.get(f"/api/clips/{client.routine(routines[1])['reference']['id']}/play").status_code == 200


def test_progress_comes_as_it_happens(client: Client, tmp_path: Path) -> None:
    routine = client.begin(another(tmp_path, REFERENCE))
    seen: list[dict] = []  # type: ignore[type-arg]

    def look() -> bool:
        seen.extend(c["job"] for c in client.get(f"/routines/{routine}/progress")["clips"])
        return bool(seen) and seen[-1]["step"] == "track" and seen[-1]["state"] == "done"

    until(look)
    tracking = [j for j in seen if j["step"] == "track" and j["state"] == "running" and j["done"]]
    assert len(tracking) >= 3
    assert [j["done"] for j in tracking] == sorted(j["done"] for j in tracking)
    assert all(j["done"] <= j["total"] for j in tracking)
    assert tracking[-1]["seconds_left"] is not None


def test_cancel_stops_the_work_at_once_and_keeps_the_clip(stack: Stack, client: Client, tmp_path: Path) -> None:
    routine = client.begin(written(tmp_path, last_s=15))
    clip = client.routine(routine)["reference"]["id"]
    until(lambda: (j := client.job(routine, clip))["step"] == "track" and j["done"] > 0)
    client.send("POST", f"/clips/{clip}/cancel")
    until(lambda: not named(stack.backing.var, "juxtakine.media.pose"), 5)
    assert client.job(routine, clip)["state"] == "cancelled"
    client.send("POST", f"/clips/{clip}/measure")
    until(lambda: client.routine(routine)["reference"]["measured"])


def test_a_killed_workers_job_is_taken_up_and_ends_the_same(stack: Stack, client: Client, tmp_path: Path) -> None:
    before = tracks(stack)
    routine = client.begin(another(tmp_path, REFERENCE))
    client.send("PUT", f"/routines/{routine}/network", {"network": "heavy"})  # as the shipped track was made
    clip = client.routine(routine)["reference"]["id"]
    until(lambda: (j := client.job(routine, clip))["step"] == "track" and j["done"] > 30)
    stack.kill_worker()
    until(lambda: not named(stack.backing.var, "juxtakine.media.pose"), 10)
    assert client.job(routine, clip)["state"] == "running"
    stack.start("worker")
    until(lambda: client.routine(routine)["reference"]["measured"])
    made = [load_track(f) for f in tracks(stack) - before if f.suffix == ".npz"]
    before_that = shipped(REFERENCE)
    assert len(made) == 1
    away = np.linalg.norm(made[0].image - before_that.image, axis=2)[before_that.visibility > 0.5]
    assert (away <= 1).mean() >= 0.99


def test_all_clips_are_measured_anew_by_another_network(stack: Stack, client: Client, tmp_path: Path) -> None:
    before = tracks(stack)
    routine = client.begin(another(tmp_path, short := written(tmp_path)))
    client.add_take(routine, another(tmp_path, short, "take.mp4"))

    def both() -> bool:
        shown = client.routine(routine)
        return bool(shown["reference"]["measured"] and shown["takes"][0]["measured"])

    until(both)
    assert client.routine(routine)["network"] == "full"
    assert client.send("PUT", f"/routines/{routine}/network", {"network": "heavy"}).json()["network"] == "heavy"
    assert not both()
    until(both)
    made = [load_track(f) for f in tracks(stack) - before if f.suffix == ".npz"]
    assert [t.model for t in made] == ["heavy", "heavy"], "what the other one measured is gone"


def test_a_deleted_take_is_gone_for_good(stack: Stack, client: Client, danced: tuple[int, int], tmp_path: Path) -> None:
    clip = stack.known(tmp_path, TAKES[2], "gone.mp4")
    take = client.add_take(danced[0], clip)
    client.result(take)
    assert len(stack.kept_of(clip)) >= 2
    assert client.send("DELETE", f"/clips/{take}").status_code == 204
    assert client.send("GET", f"/clips/{take}/result").status_code == 404
    assert stack.kept_of(clip) == []


def test_a_clip_deleted_while_it_is_measured_leaves_nothing(
    stack: Stack, client: Client, danced: tuple[int, int], tmp_path: Path
) -> None:
    clip = another(tmp_path, TAKES[1], "gone.mp4")
    take = client.add_take(danced[0], clip)
    until(lambda: (j := client.job(danced[0], take)) and j["step"] == "track" and j["done"] > 0)
    assert stack.kept_of(clip)
    client.send("DELETE", f"/clips/{take}")
    until(lambda: not named(stack.backing.var, "juxtakine.media.pose"), 5)
    until(lambda: not stack.kept_of(clip), 10)


def test_the_instructors_clip_is_not_deleted_as_a_take(client: Client, danced: tuple[int, int]) -> None:
    reference = client.routine(danced[0])["reference"]["id"]
    assert client.send("DELETE", f"/clips/{reference}").status_code == 409


def test_a_silent_take_is_laid_by_its_movement(
    stack: Stack, client: Client, danced: tuple[int, int], tmp_path: Path
) -> None:
    silent = stack.measured(written(tmp_path, Kind(audio=None), TAKES[0], 0.0, 30.0), shipped(TAKES[0]))
    outcome = client.result(client.add_take(danced[0], silent, "silent.mp4"))["outcome"]
    assert outcome["comparison"]["alignment"]["method"] == "movement"
    assert outcome["comparison"]["redrill"][0] == 3
    assert outcome["common_time"].startswith("by the movement")


def test_a_take_that_nothing_lays_asks_for_count_1_and_takes_it_by_hand(
    client: Client, danced: tuple[int, int], tmp_path: Path
) -> None:
    """Silent, and over before a third of the dance is danced."""
    routine = danced[0]
    begun = written(tmp_path, Kind(audio=None), TAKES[0], 0.0, 9.0)
    take = client.add_take(routine, begun, "begun.mp4")
    assert client.failure(routine, take).endswith("Say where count 1 is in the take.")
    first = float(lantern_quay.take_grid(lantern_quay.TAKES[0]).seconds(0.0))
    client.send("PUT", f"/clips/{take}/first-count", {"first_s": first, "percent": 100})
    result = until(lambda: (r := client.get(f"/clips/{take}/result"))["outcome"] and r)
    assert result["outcome"]["common_time"] == "count 1 put by hand"
    assert result["take"]["first_s"] == pytest.approx(first, abs=0.01)


def test_a_short_take_is_not_refused(client: Client, danced: tuple[int, int], tmp_path: Path) -> None:
    short = written(tmp_path, source=TAKES[2], first_s=0.0, last_s=17.0)
    take = client.add_take(danced[0], short, "short.mp4")
    counts = client.result(take)["outcome"]["comparison"]["counts"]
    assert {c["timing"]["verdict"] for c in counts[-8:]} == {"not-seen"}
    assert counts[0]["timing"]["verdict"] in ("on", "ahead", "behind")


def test_a_sheet_longer_than_the_clip_is_compared_as_far_as_it_goes(
    stack: Stack, client: Client, tmp_path: Path
) -> None:
    clip = stack.known(tmp_path, REFERENCE)
    routine = client.begin(clip, sheet(*["1 2 3 4 5 6 7 8"] * 9), GRID)
    take = client.add_take(routine, stack.known(tmp_path, TAKES[2], "take.mp4"))
    counts = client.result(take)["outcome"]["comparison"]["counts"]
    assert counts[0]["timing"]["verdict"] != "not-seen"
    assert {c["timing"]["verdict"] for c in counts[-20:]} == {"not-seen"}
    assert client.routine(routine)["remark"].startswith("The sheet is longer than the clip")


def test_nobody_in_the_picture_is_said(client: Client, danced: tuple[int, int], tmp_path: Path) -> None:
    empty = tmp_path / "empty.mp4"
    picture_of_a_wall(empty)
    take = client.add_take(danced[0], empty)
    assert client.failure(danced[0], take).startswith("Nobody was found in this clip")


def test_a_slower_take_is_found_by_its_movement_and_locked_at_its_own_tempo(
    stack: Stack, client: Client, danced: tuple[int, int], tmp_path: Path
) -> None:
    """The same dancing at 80 %: every frame lasts a quarter longer, and there is no sound."""
    seen = shipped(TAKES[0])
    slow = stack.measured(stretched(tmp_path, TAKES[0], 1.25), replace(seen, seconds=seen.seconds * 1.25))
    take = client.add_take(danced[0], slow, "slow.mp4")
    result = client.result(take)
    assert result["outcome"]["comparison"]["alignment"]["tempo_ratio"] == pytest.approx(0.8, abs=0.004)
    assert result["outcome"]["comparison"]["redrill"][0] == 3
    counts = {c["at"]: c for c in result["clock"]}
    assert counts[40]["take_s"] - counts[0]["take_s"] == pytest.approx(1.25 * 40 * 60 / 108, abs=0.1)
    assert counts[40]["reference_s"] - counts[0]["reference_s"] == pytest.approx(40 * 60 / 108, abs=0.01)
    assert result["count_ms"] == pytest.approx(1250 * 60 / 108, abs=4)
