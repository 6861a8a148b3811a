"""What each step does with a clip. All can be done again at any time and end the same; none leaves half a file."""

import shutil
from collections.abc import Callable
from pathlib import Path

import numpy as np

from juxtakine.core.comparing.explaining.explained import explained
from juxtakine.core.comparing.explaining.measured import Measured, nearest
from juxtakine.core.comparing.explaining.styles import nearer_style
from juxtakine.core.comparing.refused import CompareError
from juxtakine.core.comparing.results import Comparison
from juxtakine.core.movement.following import NobodyThere
from juxtakine.jobs import inputs
from juxtakine.jobs.assembly import parts_of
from juxtakine.jobs.mending import Lost
from juxtakine.jobs.places import clicks_of, is_prepared, media, shelf, stretch_of
from juxtakine.media import apart
from juxtakine.media.clips import ClipError
from juxtakine.media.sound import wave
from juxtakine.pipeline.comparison import Align, Music, Recording, Said, Sound, measured
from juxtakine.pipeline.placing import placed
from juxtakine.pipeline.result import packed, result_of
from juxtakine.pipeline.stretches import FAST, Glance
from juxtakine.settings import settings
from juxtakine.store import clips
from juxtakine.store.database import session
from juxtakine.store.models import Clip, ComparisonRow, JobStep

Progress = Callable[[int, int], None]
NEARLY_ALL = 0.85
"""Share of a clip that its run fills, from which on nobody is asked where the run is."""


def assemble(clip_id: int, tick: Progress) -> None:
    """The clip's own file, from the stretches of others that it is put together from."""
    clip = _clip(clip_id)

    def make(to: Path) -> None:
        apart.put_together(parts_of(clip), to, lambda done: tick(min(done, clip.frames), clip.frames))

    media().make_clip(clip.content, make)
    facts = apart.read(media().clip(clip.content)).facts
    with session() as db:
        clip = clips.get(db, clip_id)
        for name, value in vars(facts).items():
            setattr(clip, name, value)


def prepare(clip_id: int, tick: Progress) -> None:
    """The copy that browsers play, and the sound's wave."""
    content = _clip(clip_id).content
    if is_prepared(content):  # for another clip with the same content
        return
    file = media().clip(content)
    facts = apart.read(file).facts

    def copy(to: Path) -> None:
        missing = apart.play_copy(file, to, lambda done: tick(min(done, facts.frames), facts.frames))
        media().keep_missing(content, missing)

    # the sound first: who sees that the clip can be played asks for its wave and its beat
    samples = media().make_sound(content, lambda to: facts.has_sound and apart.sound_of(file, facts.start_s, to))
    media().keep_wave(content, wave(samples if samples is not None else np.zeros(0, np.float32)))
    media().make_play_copy(content, copy)


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


def place(clip_id: int, tick: Progress) -> None:
    """Where the counts lie in a reference beside the first."""
    with session() as db:
        wanted = inputs.of(clips.get(db, clip_id))
    tick(0, 1)
    (first,) = wanted.references
    recordings = _recording(first.source), _recording(wanted.own)
    made = placed(*recordings, wanted.sheet, first.grid, Said(wanted.own_grid), wanted.fingerprint)
    with session() as db:
        clips.get(db, clip_id).placed = made.model_dump(mode="json")
    tick(1, 1)


def compare(clip_id: int, tick: Progress) -> None:
    with session() as db:
        wanted = inputs.of(clips.get(db, clip_id))
    tick(0, 1)
    own = _recording(wanted.own)
    recordings = {shown: _recording(shown.source) for shown in (*wanted.references, *wanted.styles)}
    beside, result, styles = _beside(wanted, own, recordings)
    made = result_of(result, recordings[beside], own, [style.clip_id for style in styles])
    with session() as db:
        clip = clips.get(db, clip_id)
        row = ComparisonRow(
            clip_id=clip_id, reference_id=beside.clip_id, edit=clip.routine.edit, version=inputs.COMPARING_VERSION,
            inputs=wanted.fingerprint, result=packed(made),
        )  # fmt: skip
        clips.keep_comparison(db, clip, row)
    tick(1, 1)


Recordings = dict[inputs.Shown, Recording]


def _beside(
    wanted: inputs.Inputs, own: Recording, recordings: Recordings
) -> tuple[inputs.Shown, Comparison, list[inputs.Shown]]:
    """Of the references that may be taken, the one seen from the nearest angle, and what is told beside it; with the
    others whose style may be right as well. Raises CompareError where the take can be compared with none."""
    made, refused = _measured(wanted, own, recordings)
    candidates = [shown for shown in made if shown in wanted.references]
    if not candidates and refused:
        raise refused
    beside = candidates[nearest([made[shown] for shown in candidates])]
    styles = [shown for shown in made if shown in wanted.styles and shown != beside]
    nearer = nearer_style(made[beside], [made[shown] for shown in styles])
    return beside, explained(nearer, wanted.sheet), styles


def _measured(
    wanted: inputs.Inputs, own: Recording, recordings: Recordings
) -> tuple[dict[inputs.Shown, Measured], CompareError | None]:
    """The take beside each reference with which it can be compared, and why it can't with another."""
    heard = wanted.music and _heard(wanted.music.source)
    music = Music(heard, wanted.music.grid) if wanted.music and heard else None
    made, refused = {}, None
    for beside, reference in recordings.items():
        said = Said(wanted.own_grid, Align.AUTO, beside.sides, music, wanted.enters)
        try:
            made[beside] = measured(reference, own, wanted.sheet, beside.grid, said)
        except CompareError as error:
            refused = error
    return made, refused


STEPS: dict[JobStep, Callable[[int, Progress], None]] = {
    JobStep.ASSEMBLE: assemble,
    JobStep.PREPARE: prepare,
    JobStep.GLANCE: glance,
    JobStep.TRACK: track,
    JobStep.PLACE: place,
    JobStep.COMPARE: compare,
}


def _clip(clip_id: int) -> Clip:
    with session() as db:
        return clips.get(db, clip_id)


def _recording(source: inputs.Source) -> Recording:
    made = shelf().fetch(source.track)
    if made is None:
        raise Lost
    return Recording(made, _heard(source), source.cameras)


def _heard(source: inputs.Source) -> Sound | None:
    """The sound of the stretch that is used: in a long clip the music may play more than once."""
    samples = media().sound(source.content) if not source.cameras else None
    return None if samples is None else Sound(samples, source.start_s).between(*source.stretch)
