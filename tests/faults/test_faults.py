"""A tenth of `make faults`: enough that what it guards does not break unseen."""

from pathlib import Path

import pytest

from faults.asked import ask
from faults.corpus import all_taken, summary, wrong
from faults.kills import house, kills
from faults.races import races
from support.clips import another, written
from support.stack import Client, Stack, until


@pytest.fixture(scope="module")
def tiny(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    return written(tmp_path_factory.mktemp("tiny"), first_s=3, last_s=4).read_bytes()


def test_nothing_is_lost_or_stuck_when_processes_are_killed(tmp_path: Path, tiny: bytes) -> None:
    assert kills(tmp_path / "var", tiny, 7, seed=11).wrong == []


def test_nothing_is_lost_when_things_are_done_at_once(tmp_path: Path, tiny: bytes) -> None:
    with house(tmp_path / "var") as home:
        assert races(home, tiny, 12, seed=11).wrong == []


def test_damaged_clips_are_taken_in_or_refused_in_words(tmp_path: Path) -> None:
    came = all_taken(tmp_path, 50, seed=11)
    assert wrong(came) == [], summary(came)
    assert sum(c.word.startswith("taken in") for c in came) > 10


def test_odd_requests_are_no_fault_of_the_server(stack: Stack, client: Client, short: Path, tmp_path: Path) -> None:
    routine = client.begin(another(tmp_path, short))
    take = client.add_take(routine, another(tmp_path, short, "take.mp4"))
    reference = until(lambda: (c := client.routine(routine)["reference"])["measured"] and c["id"])
    made = ask(stack.address, {"routine_id": [routine], "clip_id": [reference, take]}, 2, first=11)
    assert made.wrong == []
    assert made.asked > 100
