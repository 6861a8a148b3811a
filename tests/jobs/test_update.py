"""After an update that tracks or compares otherwise, all is made anew by itself, and until then no result is shown."""

from pathlib import Path

from sqlalchemy import update

from juxtakine.jobs.places import shelf, track_of
from juxtakine.store import clips
from juxtakine.store.database import session
from juxtakine.store.models import ComparisonRow
from support.clips import REFERENCE, TAKES, another
from support.sheets import GRID, SHEET
from support.stack import Client, Stack, until


def compared(stack: Stack, client: Client, folder: Path) -> tuple[int, int]:
    """A routine and its take, both measured."""
    routine = client.begin(stack.known(folder, REFERENCE), SHEET, GRID)
    return routine, client.add_take(routine, stack.known(folder, TAKES[2], "take.mp4"))


def test_results_of_an_older_version_are_made_anew(
    stack: Stack, client: Client, store_of_the_run: None, tmp_path: Path
) -> None:
    routine, take = compared(stack, client, tmp_path)
    first = client.result(take)
    stack.kill_worker()
    with session() as db:
        older = update(ComparisonRow).where(ComparisonRow.clip_id == take)
        db.execute(older.values(inputs="of an older version", result=b"of another shape"))
    shown = client.get(f"/clips/{take}/result")
    assert (shown["outcome"], shown["waiting"]) == (None, "Being compared.")
    card = next(r for r in client.get("/home")["routines"] if r["id"] == routine)
    assert card["said"] == "take 1, no result yet"
    stack.start("worker")
    assert client.result(take)["outcome"] == first["outcome"]


def test_clips_that_an_older_version_tracked_are_tracked_anew(
    stack: Stack, client: Client, store_of_the_run: None, tmp_path: Path
) -> None:
    _, take = compared(stack, client, tmp_path)
    first = client.result(take)
    stack.kill_worker()
    with session() as db:
        track = shelf().path(track_of(clips.get(db, take)))
    track.rename(track.with_stem("of-an-older-version"))
    stack.start("worker")
    until(lambda: track.exists(), 120)
    assert client.result(take)["outcome"] == first["outcome"]


def test_by_hand_and_by_sound_again(stack: Stack, client: Client, tmp_path: Path) -> None:
    """What was said by hand holds until it is taken back; both ways find the same faults here."""
    _, take = compared(stack, client, tmp_path)
    by_sound = client.result(take)["outcome"]
    first = client.get(f"/clips/{take}/result")["clock"][8]["take_s"]
    client.send("PUT", f"/clips/{take}/first-count", {"first_s": first, "percent": 100})
    by_hand = client.result(take)["outcome"]
    assert by_hand["comparison"]["alignment"]["method"] == "manual"
    assert by_hand["comparison"]["redrill"] == by_sound["comparison"]["redrill"]
    client.send("DELETE", f"/clips/{take}/first-count")
    assert client.result(take)["outcome"] == by_sound


def test_count_1_by_hand_is_refused_where_it_means_nothing(client: Client, short: Path, tmp_path: Path) -> None:
    routine = client.begin(another(tmp_path, short), SHEET)
    take = client.add_take(routine, another(tmp_path, short, "take.mp4"))
    reference = client.routine(routine)["reference"]["id"]
    at = {"first_s": 1.0, "percent": 100}
    assert "Place count 1 in the instructor's clip first" in client.send("PUT", f"/clips/{take}/first-count", at).text
    client.send("PUT", f"/routines/{routine}/grid", {"first_s": 0.5, "bpm": 108})
    assert "on which the sheet is counted" in client.send("PUT", f"/clips/{reference}/first-count", at).text
    for wrong in ({"first_s": 1.0, "percent": 5}, {"percent": 100}, {"first_s": "soon"}):
        refused = client.send("PUT", f"/clips/{take}/first-count", wrong)
        assert refused.status_code == 422
        assert refused.json()["sentence"]


def test_a_take_waits_in_words_for_what_it_needs(client: Client, short: Path, tmp_path: Path) -> None:
    routine = client.begin(another(tmp_path, short))
    take = client.add_take(routine, another(tmp_path, short, "take.mp4"))

    def waits_for(words: str) -> bool:
        return words in (client.get(f"/clips/{take}/result")["waiting"] or "")

    assert waits_for("The sheet is not written yet")
    client.send("PUT", f"/routines/{routine}/sheet", {"phrases": SHEET["phrases"][:1]})
    assert waits_for("Nobody has said yet where count 1 is")
    client.send("PUT", f"/routines/{routine}/grid", {"first_s": 0.02, "bpm": 170})
    until(lambda: not waits_for("is not measured yet"))
