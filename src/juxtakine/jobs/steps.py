"""What each step does with a clip. All can be done again at any time and end the same; none leaves half a file."""

import shutil
from collections.abc import Callable
from pathlib import Path

from juxtakine.core.movement.following import NobodyThere
from juxtakine.jobs import inputs
from juxtakine.jobs.places import clicks_of, media, shelf, stretch_of
from juxtakine.media.clips import ClipError, probe
from juxtakine.media.play_copy import make_play_copy
from juxtakine.media.sound import read_sound, wave
from juxtakine.pipeline.comparison import Recording, Said, compared
from juxtakine.pipeline.outcome import Outcome
from juxtakine.pipeline.stretches import FAST, Glance
from juxtakine.settings import settings
from juxtakine.store import clips
from juxtakine.store.database import session
from juxtakine.store.models import Clip, ComparisonRow, Step

Progress = Callable[[int, int], None]
NEARLY_ALL = 0.85
"""Share of a clip that its run fills, from which on nobody is asked where the run is."""


def prepare(clip_id: int, tick: Progress) -> None:
    """The copy that browsers play, and the sound's wave."""
    content = _clip(clip_id).content
    file = media().clip(content)
    facts = probe(file)

    def copy(to: Path) -> None:
        make_play_copy(file, facts, to, lambda done: tick(done, facts.frames))

    media().make_play_copy(content, copy)
    samples = read_sound(file, facts.start_s)
    if samples is not None:
        media().keep_sound(content, samples, wave(samples))


def glance(clip_id: int, tick: Progress) -> None:
    """What a long clip holds; a clip that is one run nearly throughout is taken as that run."""
    clip = _clip(clip_id)
    workspace = shelf().glance(clip.content)
    look = Glance(settings().task_file(FAST), workspace)
    told = look.stretches(media().clip(clip.content), tick, media().sound(clip.content))
    shutil.rmtree(workspace, ignore_errors=True)
    with session() as db:
        clip = clips.get(db, clip_id)
        clip.stretches = told.model_dump(mode="json")
        if told.run and clip.run is None and told.run.end - told.run.start >= NEARLY_ALL * clip.duration_s:
            clip.run = [told.run.start, told.run.end]


def track(clip_id: int, tick: Progress) -> None:
    clip = _clip(clip_id)
    file, clicks = media().clip(clip.content), clicks_of(clip)
    try:
        made = shelf().track(file, clip.model, tick, stretch_of(clip), clip.content, clicks)
    except NobodyThere:
        with session() as db:  # the click goes, those before it stay
            clips.get(db, clip_id).clicks = (clip.clicks or [])[:-1] or None
        raise
    if not made.found.any():
        raise ClipError("Nobody was found in this clip. The whole body has to be in the picture, in enough light.")


def compare(clip_id: int, tick: Progress) -> None:
    with session() as db:
        wanted = inputs.of(clips.get(db, clip_id))
    tick(0, 1)
    recordings = _recording(wanted.reference), _recording(wanted.take)
    result = compared(
        *recordings,
        wanted.sheet,
        wanted.grid,
        Said(wanted.take_grid, mirror=wanted.mirror, other_side=wanted.other_side),
    )
    with session() as db:
        made = Outcome.of(result, wanted.sheet).model_dump_json()
        db.merge(ComparisonRow(clip_id=clip_id, inputs=wanted.fingerprint, result=made))
    tick(1, 1)


STEPS: dict[Step, Callable[[int, Progress], None]] = {
    Step.PREPARE: prepare,
    Step.GLANCE: glance,
    Step.TRACK: track,
    Step.COMPARE: compare,
}


def _clip(clip_id: int) -> Clip:
    with session() as db:
        return clips.get(db, clip_id)


def _recording(source: inputs.Source) -> Recording:
    made = shelf().fetch(source.track)
    if made is None:
        raise ClipError("This clip's track is not there any more. Measure it again.")
    return Recording(made, media().sound(source.content), source.start_s)
