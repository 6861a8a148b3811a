"""What the database promises, on the real one: a job is taken once, a lost one comes back, the tables fit."""

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor, wait
from datetime import timedelta

import hypothesis
import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule, run_state_machine_as_test
from sqlalchemy import update
from sqlalchemy.orm import Session

from juxtakine.settings import settings
from juxtakine.store import clips, jobs, routines
from juxtakine.store.database import engine, session
from juxtakine.store.models import Base, Clip, ComparisonRow, Job, JobState, JobStep, PieceRow, Role, Routine, now
from support.sheets import sheet

DEAD = timedelta(seconds=jobs.DEAD_AFTER_S + 1)
FACTS = {"start_s": 0.0, "duration_s": 3.0, "width": 640, "height": 360, "fps": 30.0, "frames": 90, "has_sound": True}


@pytest.fixture
def clip_id(store: None) -> Iterator[int]:
    with session() as db:
        routine = routines.create(db, sheet("1 2 3 4 5 6 7 8"))
        clip = Clip(role=Role.REFERENCE, number=0, name="a.mp4", content="0" * 64, model="full", **FACTS)
        routine.clips.append(clip)
        db.flush()
        made, routine_id = clip.id, routine.id
    yield made
    with session() as db:
        db.delete(routines.get(db, routine_id))


def running_job(db: Session, clip_id: int, worker: str) -> Job:
    job = Job(clip_id=clip_id, step=JobStep.TRACK, state=JobState.RUNNING, worker=worker, heartbeat_at=now())
    db.add(job)
    db.flush()
    return job


def test_the_migrations_make_the_tables_of_the_models(store: None) -> None:
    with engine(settings().database_url).connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


def test_of_many_who_want_a_job_one_gets_it(clip_id: int) -> None:
    with session() as db:
        job_id = running_job(db, clip_id, "before").id

    def want(worker: int) -> bool:
        with session() as db:
            return jobs.claim(db, job_id, f"w{worker}") is not None

    with session() as db:
        db.execute(update(Job).where(Job.id == job_id).values(state=JobState.QUEUED))
    with ThreadPoolExecutor(8) as pool:
        assert sum(pool.map(want, range(16))) == 1
    with session() as db:
        assert db.get_one(Job, job_id).state is JobState.RUNNING


def test_a_job_without_a_heartbeat_waits_again_and_its_old_worker_is_told(clip_id: int) -> None:
    with session() as db:
        job_id = running_job(db, clip_id, "gone").id
    with session() as db:
        assert jobs.beat(db, job_id, "gone", (3, 9))
        assert jobs.orphans(db) == []
        db.execute(update(Job).where(Job.id == job_id).values(heartbeat_at=now() - DEAD))
    with session() as db:
        assert jobs.orphans(db) == [job_id]
        assert not jobs.beat(db, job_id, "gone", None)
        assert not jobs.finish(db, job_id, "gone", JobState.DONE)
        jobs.cancel(db, clips.get(db, clip_id))


def test_a_cancelled_job_can_not_be_finished(clip_id: int) -> None:
    with session() as db:
        job_id = running_job(db, clip_id, "w").id
        jobs.cancel(db, clips.get(db, clip_id))
        assert not jobs.finish(db, job_id, "w", JobState.DONE)
        assert clips.last_job(clips.get(db, clip_id)).state is JobState.CANCELLED  # type: ignore[union-attr]


def test_who_is_at_work_can_not_finish_before_an_edit_is_there_to_be_seen(clip_id: int) -> None:
    """Else both would leave the edit to the other: the worker would not see it, and the edit saw the worker at work."""
    with session() as db:
        job_id = running_job(db, clip_id, "w").id

    def finish_and_look() -> object:
        with session() as db:
            assert jobs.finish(db, job_id, "w", JobState.DONE)
            return clips.get(db, clip_id).grid

    with ThreadPoolExecutor(1) as pool:
        with session() as db:
            clip = clips.get(db, clip_id)
            assert jobs.at_work(db, clip, JobStep.TRACK)
            assert not jobs.at_work(db, clip, JobStep.COMPARE)
            looking = pool.submit(finish_and_look)
            assert not wait([looking], timeout=0.5).done
            clip.grid = {"edited": True}
        assert looking.result(timeout=10) == {"edited": True}


def test_roles_and_order_of_clips(clip_id: int) -> None:
    with session() as db:
        routine = clips.get(db, clip_id).routine
        for role in (Role.TAKE, Role.REFERENCE, Role.TAKE):
            number = clips.next_number(db, routine, role)
            added = Clip(role=role, number=number, name="t", content=f"{number}" * 64, model="full", **FACTS)
            routine.clips.append(added)
            db.flush()
        db.expire(routine, ["clips"])
        numbered = [(Role.REFERENCE, 0), (Role.REFERENCE, 1), (Role.TAKE, 1), (Role.TAKE, 2)]
        assert [(c.role, c.number) for c in routine.clips] == numbered
        assert [c.is_first for c in routine.clips] == [True, False, False, False]
        assert [[c.number for c in some(routine)] for some in (routines.others, routines.takes)] == [[1], [1, 2]]


def test_a_new_edit_drops_what_was_undone(clip_id: int) -> None:
    with session() as db:
        routine: Routine = clips.get(db, clip_id).routine
        for line in ("1 2 3 4 5 6 7 -", "1 2 3 4 5 6 - 8"):
            routines.change(db, routine, sheet(line), None)
        assert routines.step(routine, -1)
        assert routines.step(routine, -1)
        assert not routines.step(routine, -1)
        routines.change(db, routine, sheet("1 - 3 4 5 6 7 8"), None)
        assert not routines.step(routine, 1)
        assert [e.number for e in routine.edits] == [0, 1]
        assert routines.current(routine).sheet["phrases"][0]["line"] == "1 - 3 4 5 6 7 8"


class Edits(RuleBasedStateMachine):
    """A routine's edits on the real database beside a plain list of them."""

    def __init__(self) -> None:
        super().__init__()
        self.states, self.now = [sheet("1 2 3 4")], 0
        with session() as db:
            self.routine = routines.create(db, self.states[0]).id

    @rule(line=st.sampled_from(["1 2 3", "1 - 3", "1 & 2"]), grid=st.sampled_from([None, {"form": "a grid"}]))
    def edit(self, line: str, grid: dict[str, str] | None) -> None:
        self.states = [*self.states[: self.now + 1], sheet(line)]
        self.now += 1
        with session() as db:
            routines.change(db, routines.get(db, self.routine, lock=True), self.states[-1], grid)

    @rule(by=st.sampled_from([-1, 1]))
    def step(self, by: int) -> None:
        there = 0 <= self.now + by < len(self.states)
        with session() as db:
            assert routines.step(routines.get(db, self.routine, lock=True), by) is there
        self.now += by if there else 0

    @invariant()
    def shows(self) -> None:
        with session() as db:
            routine = routines.get(db, self.routine)
            assert routines.current(routine).sheet == self.states[self.now]
            assert len(routine.edits) == len(self.states)

    def teardown(self) -> None:
        with session() as db:
            db.delete(routines.get(db, self.routine))


def test_edits_are_undone_and_redone_as_a_list_of_them_would_be(store: None) -> None:
    run_state_machine_as_test(Edits, settings=hypothesis.settings(max_examples=12, stateful_step_count=12))


def test_a_row_keeps_the_piece_that_was_said_last(clip_id: int) -> None:
    with session() as db:
        routine = clips.get(db, clip_id).routine
        for row_id, first_s in (("b", 1.0), ("a", 2.0), ("a", 3.0)):
            piece = PieceRow(
                routine_id=routine.id, row_id=row_id, clip_id=clip_id, first_s=first_s, next_s=9.0, flipped=False
            )
            routines.keep_piece(db, routine, piece)
        assert [(p.row_id, p.first_s) for p in routine.pieces] == [("a", 3.0), ("b", 1.0)]
        routines.drop_piece(db, routine, "a")
        assert [p.row_id for p in routine.pieces] == ["b"]


def test_older_comparisons_stay_and_the_same_inputs_have_one(clip_id: int) -> None:
    with session() as db:
        clip = clips.get(db, clip_id)
        for n in range(clips.MOST_KEPT + 3):
            made = {"edit": n, "version": 1, "inputs": f"{n}", "result": b"first"}
            clips.keep_comparison(db, clip, ComparisonRow(clip_id=clip_id, **made))
        clips.keep_comparison(db, clip, ComparisonRow(clip_id=clip_id, edit=9, version=1, inputs="9", result=b"again"))
        kept = [c.inputs for c in clip.comparisons]
        assert kept == [*map(str, range(4, 9)), *map(str, range(10, clips.MOST_KEPT + 3)), "9"]
        again = clips.compared(clip, "9")
        assert again is not None
        assert (again.result, clips.compared(clip, "0")) == (b"again", None)
