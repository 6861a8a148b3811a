"""What follows when a step ends, whatever else ends at the same moment."""

import threading
import time
from collections.abc import Iterator

import pytest
from sqlalchemy.orm import Session

from juxtakine.core.counting.grids import Grid
from juxtakine.jobs import flow, tasks
from juxtakine.pipeline.sheet_forms import GridForm
from juxtakine.store import clips, jobs, routines
from juxtakine.store.database import session
from juxtakine.store.models import Clip, Job, JobState, JobStep, Role
from support.sheets import sheet

FACTS = {"start_s": 0.0, "duration_s": 30.0, "width": 640, "height": 360, "fps": 30.0, "frames": 900, "has_sound": True}
GRID = GridForm.of(Grid.from_tempo(1.0, 120)).model_dump(mode="json")


@pytest.fixture
def tracked(store: None) -> Iterator[tuple[Clip, Clip]]:
    """A reference and a take, both being tracked."""
    with session() as db:
        routine = routines.create(db, sheet("1 2 3 4 5 6 7 8"), GRID)
        for role in (Role.REFERENCE, Role.TAKE):
            clip = Clip(role=role, number=0, name="a.mp4", content=f"{role}"[0] * 64, model="full", **FACTS)
            clip.jobs += [
                Job(step=JobStep.PREPARE, state=JobState.DONE),
                Job(step=JobStep.TRACK, state=JobState.RUNNING, worker=f"{role}"),
            ]
            routine.clips.append(clip)
        db.flush()
        made = routine.clips[0], routine.clips[1]
    yield made
    with session() as db:
        db.delete(routines.get(db, made[0].routine_id))


def test_of_two_tracks_that_end_at_once_the_later_one_sees_both(
    tracked: tuple[Clip, Clip], monkeypatch: pytest.MonkeyPatch
) -> None:
    follow = flow.follow

    def slowly(db: Session, clip_id: int) -> None:
        follow(db, clip_id)
        time.sleep(0.5)  # so that each would decide before the other's end is there to be seen

    monkeypatch.setattr(flow, "follow", slowly)
    monkeypatch.setattr(flow, "queue", jobs.add)  # no worker needs to hear of it
    ends = [
        threading.Thread(target=tasks.end, args=(clip.jobs[-1].id, f"{clip.role}", clip, JobState.DONE))
        for clip in tracked
    ]
    for end in ends:
        end.start()
    for end in ends:
        end.join()
    with session() as db:
        take = clips.get(db, tracked[1].id)
        assert clips.last_job(take, JobStep.COMPARE)
