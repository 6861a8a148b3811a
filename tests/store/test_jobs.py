"""Jobs on the real database beside a plain record of what may be true of them, whatever workers, cancels and power cuts
do."""

from datetime import timedelta

import hypothesis
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule, run_state_machine_as_test
from sqlalchemy import update

from juxtakine.store import clips, jobs, routines
from juxtakine.store.database import session
from juxtakine.store.models import Clip, Job, JobState, JobStep, Role, now
from support.sheets import sheet

WORKERS = st.sampled_from(["one", "two"])
ENDS = st.sampled_from([JobState.DONE, JobState.FAILED])
STEPS = st.sampled_from([JobStep.TRACK, JobStep.COMPARE])
FACTS = {"start_s": 0.0, "duration_s": 3.0, "width": 640, "height": 360, "fps": 30.0, "frames": 90, "has_sound": True}
DEAD = timedelta(seconds=jobs.DEAD_AFTER_S + 1)


class Jobs(RuleBasedStateMachine):
    """`states` and `owners` by job, as they should be."""

    def __init__(self) -> None:
        super().__init__()
        self.states: dict[int, JobState] = {}
        self.owners: dict[int, str | None] = {}
        self.steps: dict[int, JobStep] = {}
        with session() as db:
            routine = routines.create(db, sheet("1 2 3 4"))
            clip = Clip(role=Role.REFERENCE, number=0, name="a.mp4", content="j" * 64, model="full", **FACTS)
            routine.clips.append(clip)
            db.flush()
            self.clip, self.routine = clip.id, routine.id

    def some(self, data: st.DataObject) -> int:
        return data.draw(st.sampled_from(sorted(self.states)))

    @rule(step=STEPS)
    def add(self, step: JobStep) -> None:
        """Who waits already is not added again."""
        waiting = [j for j, s in self.states.items() if s is JobState.QUEUED and self.steps[j] is step]
        with session() as db:
            job = jobs.add(db, clips.get(db, self.clip), step).id
        assert (job in waiting) if waiting else (job not in self.states)
        self.states[job], self.owners[job], self.steps[job] = JobState.QUEUED, None, step

    @precondition(lambda self: self.states)
    @rule(worker=WORKERS, data=st.data())
    def claim(self, worker: str, data: st.DataObject) -> None:
        job = self.some(data)
        with session() as db:
            taken = jobs.claim(db, job, worker) is not None
        assert taken is (self.states[job] is JobState.QUEUED)
        if taken:
            self.states[job], self.owners[job] = JobState.RUNNING, worker

    @precondition(lambda self: self.states)
    @rule(worker=WORKERS, end=ENDS, data=st.data())
    def finish(self, worker: str, end: JobState, data: st.DataObject) -> None:
        job = self.some(data)
        mine = self.states[job] is JobState.RUNNING and self.owners[job] == worker
        with session() as db:
            assert jobs.beat(db, job, worker, (1, 2)) is mine
            assert jobs.finish(db, job, worker, end) is mine
        if mine:
            self.states[job] = end

    @rule()
    def cancel(self) -> None:
        with session() as db:
            jobs.cancel(db, clips.get(db, self.clip))
        self.states = {j: JobState.CANCELLED if s.live else s for j, s in self.states.items()}

    @precondition(lambda self: self.states)
    @rule(data=st.data())
    def power_cut(self, data: st.DataObject) -> None:
        """A job's heart stops; whoever starts next puts it back."""
        job = self.some(data)
        with session() as db:
            db.execute(update(Job).where(Job.id == job).values(heartbeat_at=now() - DEAD))
        lost = self.states[job] is JobState.RUNNING
        with session() as db:
            waiting = jobs.orphans(db)
        if lost:
            self.states[job], self.owners[job] = JobState.QUEUED, None
        assert waiting == sorted(j for j, s in self.states.items() if s is JobState.QUEUED)

    @invariant()
    def is_as_it_should_be(self) -> None:
        with session() as db:
            found = {j.id: (j.state, j.step) for j in clips.get(db, self.clip).jobs}
        assert found == {j: (s, self.steps[j]) for j, s in self.states.items()}

    def teardown(self) -> None:
        with session() as db:
            db.delete(routines.get(db, self.routine))


def test_jobs_are_whose_they_are_through_everything(store: None) -> None:
    run_state_machine_as_test(Jobs, settings=hypothesis.settings(max_examples=15, stateful_step_count=20))
