"""What a result depends on: whatever is compared makes it out of date, and nothing else does."""

from collections.abc import Callable, Iterator
from copy import deepcopy
from typing import Any

import pytest
from sqlalchemy.orm import Session

from juxtakine.core.counting.grids import Grid
from juxtakine.demo import load
from juxtakine.jobs import inputs
from juxtakine.pipeline.sheet_forms import GridForm
from juxtakine.store import clips, routines
from juxtakine.store.database import session
from juxtakine.store.models import Clip, Job, JobState, JobStep, Role, Routine
from support.sheets import sheet

FACTS = {"start_s": 0.0, "duration_s": 30.0, "width": 640, "height": 360, "fps": 30.0, "frames": 900, "has_sound": True}
GRID = GridForm.of(Grid.from_tempo(1.0, 120)).model_dump(mode="json")
LATER = GridForm.of(Grid.from_tempo(1.5, 120)).model_dump(mode="json")
SHEET = sheet("1 2 3 4 5 6 7 8", "1 2 3 & 4 - 6 7 8")


@pytest.fixture
def take_id(store: None) -> Iterator[int]:
    """A take of a routine with two references at the tempo, all of them measured."""
    with session() as db:
        routine = routines.create(db, deepcopy(SHEET), GRID)
        for n, (role, number) in enumerate([(Role.REFERENCE, 0), (Role.REFERENCE, 1), (Role.TAKE, 1)]):
            clip = Clip(role=role, number=number, name=f"{n}.mp4", content=f"{n}" * 64, model="full", **FACTS)
            clip.jobs.append(Job(step=JobStep.TRACK, state=JobState.DONE))
            routine.clips.append(clip)
        db.flush()
        other, take = routine.clips[1], routine.clips[2]
        other.placed = {
            "inputs": "", "grid": GRID, "method": "sound", "certainty": 1.0, "tempo_ratio": 1.0, "mirrored": False,
            "sides_certainty": 1.0, "turned_deg": 3.0,
        }  # fmt: skip
        made, routine_id = take.id, routine.id
    yield made
    with session() as db:
        db.delete(routines.get(db, routine_id))


def after(take_id: int, change: Callable[[Session, Routine], None]) -> tuple[str | None, str | None]:
    """The fingerprint before and after a change."""
    with session() as db:
        before = inputs.fingerprint(clips.get(db, take_id))
        change(db, clips.get(db, take_id).routine)
    with session() as db:
        return before, inputs.fingerprint(clips.get(db, take_id))


def written(**change: Any) -> Callable[[Session, Routine], None]:
    def edit(db: Session, routine: Routine) -> None:
        routines.change(db, routine, deepcopy(SHEET) | change, GRID)

    return edit


def marked(**mark: Any) -> Callable[[Session, Routine], None]:
    phrases = deepcopy(SHEET["phrases"])
    phrases[0]["marks"] = [{"label": "3", **mark}]
    return written(phrases=phrases)


def row(**change: Any) -> Callable[[Session, Routine], None]:
    first, second = deepcopy(SHEET["phrases"])
    return written(phrases=[first | change, second])


def clip(number: int, **change: Any) -> Callable[[Session, Routine], None]:
    """0 and 1 are the references, 2 is the take."""

    def say(_: Session, routine: Routine) -> None:
        for name, value in change.items():
            setattr(routine.clips[number], name, value)

    return say


def chosen(_: Session, routine: Routine) -> None:
    routine.clips[2].against_id = routine.clips[1].id


def regridded(db: Session, routine: Routine) -> None:
    routines.change(db, routine, deepcopy(SHEET), GridForm.of(Grid.from_tempo(1.02, 120)).model_dump(mode="json"))


COMPARED: dict[str, Callable[[Session, Routine], None]] = {
    "how a count is scored": marked(score="timing"),
    "layers that are scored otherwise": marked(score="free", parts=["arms"]),
    "either of two styles": marked(either=True),
    "a line": row(line="1 2 3 4 5 - 7 8"),
    "a swing": row(line="1 & 2 3 4 5 6 7 8", swing=0.6),
    "an order": written(order="A, A"),
    "who comes in later": written(enters=8),
    "the grid": regridded,
    "the take's picture flipped": clip(2, flipped=True),
    "the instructor's sides": clip(0, mirrored=True),
    "a take marked small": clip(2, small=True),
    "count 1 by hand": clip(2, grid=GRID),
    "another stretch of the reference": clip(0, run=[2.0, 20.0]),
    "somebody else in the take": clip(2, clicks=[[0.5, 0.5, 1.0]]),
    "a reference that was chosen": chosen,
    "where another reference has its counts": clip(1, grid=LATER),
}
SAID: dict[str, Callable[[Session, Routine], None]] = {
    "a cue": marked(cue="lift"),
    "sounds, lyrics, layers": marked(sounds="ka", lyrics="lan-", layers={"arms": {"cue": "up", "quality": "sharp"}}),
    "foot, weight and turn": marked(foot="left", weight="left", turn=2),
    "the title": written(title="High Bench"),
    "walls": written(walls=4),
    "a 1 of the music": written(ones=[4.0]),
    "a step of one's own": written(steps=[{"name": "dip", "pattern": "1s!"}]),
    "a clip's name": clip(2, name="other.mp4"),
}


@pytest.mark.parametrize("change", COMPARED.values(), ids=COMPARED.keys())
def test_what_is_compared_makes_a_result_out_of_date(take_id: int, change: Callable[[Session, Routine], None]) -> None:
    before, now = after(take_id, change)
    assert before
    assert now
    assert before != now


@pytest.mark.parametrize("change", SAID.values(), ids=SAID.keys())
def test_what_is_only_said_leaves_it(take_id: int, change: Callable[[Session, Routine], None]) -> None:
    before, now = after(take_id, change)
    assert before
    assert before == now


def test_undoing_makes_an_old_result_good_again(take_id: int) -> None:
    with session() as db:
        take = clips.get(db, take_id)
        before = inputs.fingerprint(take)
        marked(score="timing")(db, take.routine)
        assert inputs.fingerprint(take) != before
        routines.step(take.routine, -1)
        assert inputs.fingerprint(take) == before


def test_a_slow_reference_is_taken_only_where_it_is_chosen_or_its_style_is_right(take_id: int) -> None:
    def references(db: Session) -> tuple[list[int], list[int]]:
        routine = clips.get(db, take_id).routine
        number = {c.id: c.number for c in routine.clips}
        made = inputs.of(clips.get(db, take_id))
        return [number[r.clip_id] for r in made.references], [number[r.clip_id] for r in made.styles]

    with session() as db:
        assert references(db) == ([0, 1], [])
        routine = clips.get(db, take_id).routine
        routine.clips[1].placed = (routine.clips[1].placed or {}) | {"tempo_ratio": 0.75}
        assert references(db) == ([0], [])
        marked(either=True)(db, routine)
        assert references(db) == ([0], [0, 1])
        chosen(db, routine)
        assert references(db) == ([1], [0, 1])


def test_loading_the_demo_leaves_a_take_alone_that_can_not_be_compared_any_more(take_id: int) -> None:
    with session() as db:
        take = clips.get(db, take_id)
        routines.change(db, take.routine, deepcopy(SHEET), None)
        db.expunge(take)
    load.done(take, JobStep.COMPARE)
    with session() as db:
        assert not clips.has_done(clips.get(db, take_id), JobStep.COMPARE)
