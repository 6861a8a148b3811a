"""No clip that was accepted is lost: replaced, deleted beside its coming, damaged, or gone from the disk."""

import errno
import hashlib
import shutil
import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import pymysql
import pytest
from sqlalchemy.exc import OperationalError

from juxtakine.jobs import intake, mending
from juxtakine.jobs.mending import Lost
from juxtakine.jobs.places import media, shelf, track_of
from juxtakine.jobs.tasks import why
from juxtakine.media.clips import read_clip
from juxtakine.store import clips, routines
from juxtakine.store.database import session
from juxtakine.store.models import Role
from support.clips import another
from support.sheets import sheet
from support.stack import Client, Stack, until

pytestmark = pytest.mark.usefixtures("store_of_the_run")


def contents(media: Path) -> set[str]:
    return {folder.name for folder in media.glob("??/*")}


def content_of(clip: Path) -> str:
    return hashlib.sha256(clip.read_bytes()).hexdigest()


def first(client: Client, routine: int, ready: Callable[[Any], object] = lambda clip: clip["measured"]) -> Any:
    """The first reference, once it is ready."""

    def look() -> Any:
        clip = client.routine(routine)["reference"]
        return clip if ready(clip) else None

    return until(look)


def test_a_clip_that_comes_while_it_goes_is_kept_whole(
    client: Client, tmp_path: Path, short: Path, media_root: Path
) -> None:
    take = another(tmp_path, short, "take.mp4")
    kept = media_root / content_of(take)[:2] / content_of(take) / "clip"
    routines = [client.begin(another(tmp_path, short, f"{n}.mp4")) for n in range(2)]
    with ThreadPoolExecutor(4) as pool:
        for _ in range(6):
            here = client.add_take(routines[0], take)
            goes = pool.submit(client.send, "DELETE", f"/clips/{here}")
            coming = [pool.submit(client.drop, f"/routines/{r}/takes", take) for r in (routines[1], routines[0])]
            answers = [c.result() for c in coming]
            assert goes.result().status_code == 204
            assert {a.status_code for a in answers} <= {200, 409}
            assert kept.read_bytes() == take.read_bytes()
            for made in (a.json()["clip"] for a in answers if a.status_code == 200):
                assert client.send("DELETE", f"/clips/{made}").status_code == 204
            assert not kept.exists()


def test_clearing_waits_for_what_is_just_coming_in(
    client: Client, tmp_path: Path, short: Path, media_root: Path
) -> None:
    """Between the file's place and its row's commit nobody may look, see no row, and take the file away."""
    clip, arrived = another(tmp_path, short, "take.mp4"), media().incoming()
    routine, content = client.begin(another(tmp_path, short)), content_of(clip)
    facts = read_clip(clip).facts
    shutil.copyfile(clip, arrived)
    clearing = threading.Thread(target=intake.clear, args=(content, "no track", (None, None)))
    with intake.taken_in(arrived, content) as db:
        clearing.start()
        clearing.join(0.5)
        assert clearing.is_alive()
        intake.add(db, routines.get(db, routine, lock=True), Role.TAKE, "take.mp4", content, facts)
    clearing.join(10)
    assert not clearing.is_alive()
    assert media().clip(content).read_bytes() == clip.read_bytes()


def test_what_is_not_kept_in_the_end_leaves_no_file(client: Client, tmp_path: Path, short: Path) -> None:
    clip, arrived = another(tmp_path, short), media().incoming()
    shutil.copyfile(clip, arrived)
    with pytest.raises(ZeroDivisionError), intake.taken_in(arrived, content_of(clip)):
        raise ZeroDivisionError
    assert not media().of(content_of(clip)).exists()


def test_what_no_routine_takes_leaves_nothing(client: Client, tmp_path: Path, short: Path, media_root: Path) -> None:
    clip = another(tmp_path, short)
    for path in ("takes", "references", "reference"):
        assert client.drop(f"/routines/999999/{path}", clip).status_code == 404
    assert content_of(clip) not in contents(media_root)


def test_a_new_reference_that_can_not_be_prepared_leaves_the_old_one(
    stack: Stack, client: Client, tmp_path: Path, short: Path, media_root: Path
) -> None:
    routine = client.begin(another(tmp_path, short), sheet("1 2 3 4", counts=4), {"first_s": 0.1, "bpm": 108})
    before = first(client, routine)
    new = another(tmp_path, short, "new.mp4")
    # whole at the door, and gone from the disk before anybody has prepared it
    kept = media_root / content_of(new)[:2] / content_of(new) / "clip"
    stack.kill_worker()
    made = client.drop(f"/routines/{routine}/reference", new)
    assert made.status_code == 200
    kept.unlink()
    stack.start("worker")
    failed = until(lambda: (c := client.routine(routine)["coming"]) and c["job"]["state"] == "failed" and c)
    assert "not there any more" in failed["job"]["error"]
    shown = client.routine(routine)
    assert (shown["reference"]["id"], shown["grid"]["bpm"]) == (before["id"], 108)
    assert client.send("DELETE", f"/clips/{failed['id']}").status_code == 204
    assert client.routine(routine)["coming"] is None


def test_undo_brings_a_replaced_reference_back_with_its_counts(
    client: Client, tmp_path: Path, short: Path, media_root: Path
) -> None:
    old, new = another(tmp_path, short, "old.mp4"), another(tmp_path, short, "new.mp4")
    routine = client.begin(old, sheet("1 2 3 4", counts=4), {"first_s": 0.1, "bpm": 108})
    first(client, routine)
    assert client.drop(f"/routines/{routine}/reference", new).status_code == 200
    assert client.routine(routine)["reference"]["name"] == "old.mp4"
    first(client, routine, lambda clip: clip["name"] == "new.mp4")
    shown = client.routine(routine)
    assert (shown["grid"], [c["name"] for c in shown["former"]]) == (None, ["old.mp4"])

    back = client.send("POST", f"/routines/{routine}/undo").json()
    assert (back["reference"]["name"], back["reference"]["measured"], back["grid"]["bpm"]) == ("old.mp4", True, 108)
    again = client.send("POST", f"/routines/{routine}/redo").json()
    assert (again["reference"]["name"], again["grid"]) == ("new.mp4", None)

    # what only undone states had goes with them
    client.send("POST", f"/routines/{routine}/undo")
    shown = client.send("PUT", f"/routines/{routine}/sheet", sheet("1 2 - 4", counts=4)).json()
    assert (shown["former"], shown["can_redo"]) == ([], False)
    until(lambda: content_of(new) not in contents(media_root))
    assert content_of(old) in contents(media_root)


def test_a_replaced_reference_can_go_for_good(client: Client, tmp_path: Path, short: Path, media_root: Path) -> None:
    old = another(tmp_path, short, "old.mp4")
    routine = client.begin(old, sheet("1 2 3 4", counts=4), {"first_s": 0.1, "bpm": 108})
    client.drop(f"/routines/{routine}/reference", another(tmp_path, short, "new.mp4"))
    first(client, routine, lambda clip: clip["name"] == "new.mp4")
    former = client.routine(routine)["former"][0]["id"]
    assert client.send("DELETE", f"/clips/{former}").status_code == 204
    assert content_of(old) not in contents(media_root)
    undone = client.send("POST", f"/routines/{routine}/undo").json()
    assert (undone["reference"]["name"], undone["grid"]) == ("new.mp4", None)


@pytest.mark.parametrize("harm", ["cut", "empty", "gone", "noise"])
def test_what_was_made_of_a_clip_is_made_again_by_itself(
    client: Client, tmp_path: Path, short: Path, media_root: Path, harm: str
) -> None:
    clip = another(tmp_path, short)
    routine = client.begin(clip, sheet("1 2 3 4", counts=4), {"first_s": 0.1, "bpm": 108})
    made = first(client, routine)
    folder = media_root / content_of(clip)[:2] / content_of(clip)
    with session() as db:
        track = shelf().path(track_of(clips.get(db, made["id"])))
    files = folder / "play.mp4", folder / "sound.npy", folder / "wave.json", track
    before = {file: file.read_bytes() for file in files}
    for file, data in before.items():
        match harm:
            case "cut":
                file.write_bytes(data[: len(data) // 2])
            case "empty":
                file.write_bytes(b"")
            case "gone":
                file.unlink()
            case "noise":
                file.write_bytes(bytes(reversed(data)))
    of_clip = [f"clips/{made['id']}/{what}" for what in ("play", "feet", "wave")]
    for path in (*of_clip, f"routines/{routine}/reading"):
        assert client.http.get(f"/api/{path}").status_code in (200, 404, 409)
    client.routine(routine)
    again = first(client, routine, lambda c: c["measured"] and c["playable"])
    assert again["id"] == made["id"]
    assert track.read_bytes()[:2] == b"PK"
    for name in ("sound.npy", "wave.json"):
        assert (folder / name).read_bytes() == before[folder / name]
    assert client.http.get(f"/api/clips/{made['id']}/play").status_code == 200


def test_a_missing_clip_is_said_and_comes_back_when_it_is_chosen_again(
    client: Client, tmp_path: Path, short: Path, media_root: Path
) -> None:
    clip = another(tmp_path, short)
    routine = client.begin(clip, sheet("1 2 3 4", counts=4))
    first(client, routine)
    kept = media_root / content_of(clip)[:2] / content_of(clip) / "clip"
    kept.unlink()
    assert "Choose it again" in client.routine(routine)["reference"]["remark"]
    assert any("files of these are missing" in said for said in mending.tidy())
    answer = client.drop(f"/routines/{routine}/takes", clip)
    assert (answer.status_code, "is back" in answer.json()["sentence"]) == (409, True)
    assert kept.read_bytes() == clip.read_bytes()
    assert client.routine(routine)["reference"]["remark"] is None


def test_files_and_rows_are_made_to_agree_both_ways(
    stack: Stack, client: Client, tmp_path: Path, short: Path, media_root: Path
) -> None:
    clip = another(tmp_path, short)
    routine = client.begin(clip, sheet("1 2 3 4", counts=4))
    made = first(client, routine)
    unknown = media_root / "ab" / ("ab" + "0" * 62)
    unknown.mkdir(parents=True)
    (unknown / "clip").write_bytes(b"of nobody")
    folder = media_root / content_of(clip)[:2] / content_of(clip)
    (folder / "play.0f.new").write_bytes(b"half")
    (folder / "play.mp4").unlink()
    left = stack.backing.var / "tracks" / f"{'9' * 40}.npz"
    left.write_bytes(b"of nobody")
    said = " ".join(mending.tidy(left_alone_s=0))
    assert "1 clip that no routine has went" in said
    assert "damaged or missing: it is made again" in said
    assert not unknown.exists()
    assert not left.exists()
    assert not list(folder.glob("*.new"))
    assert first(client, routine, lambda c: c["playable"])["id"] == made["id"]
    until(lambda: client.routine(routine)["reference"]["measured"])
    assert mending.tidy() == []


@pytest.mark.parametrize(
    ("failure", "said"),
    [
        (OSError(errno.ENOSPC, "No space left on device"), "The disk is full"),
        (OperationalError("", {}, pymysql.err.OperationalError(1114, "The table 'clip' is full")), "The disk is full"),
        (ChildProcessError("stopped with status -9"), "ended twice"),
        (Lost(), "being measured again"),
        (ZeroDivisionError(), "on our side (ZeroDivisionError)"),
    ],
)
def test_work_that_fails_through_no_fault_of_the_clip_says_why(failure: Exception, said: str) -> None:
    assert said in why(failure)
