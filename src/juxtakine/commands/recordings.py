"""Commands on recordings: tracks, stretches, beats, and a take beside a reference."""

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from juxtakine.commands.said import NOBODY, CommandRefused, existing, writable
from juxtakine.settings import settings

if TYPE_CHECKING:
    from juxtakine.core.movement.people import Click

MIRRORS = {
    "auto": (None, None),
    "no": (False, False),
    "take": (False, True),
    "reference": (True, False),
    "both": (True, True),
}
"""Whether the reference's sides are the student's other ones, and whether the take's picture is flipped."""


def track(arguments: argparse.Namespace) -> int:
    from juxtakine.core.movement.following import NobodyThere
    from juxtakine.media.clips import ClipError
    from juxtakine.media.track_file import save_track

    out = writable(arguments.out)
    try:
        stretch = arguments.start_s, arguments.end_s
        made = _tracked(existing(arguments.clip), arguments.model, arguments.follow, stretch)
    except (ClipError, NobodyThere) as error:
        raise CommandRefused(str(error)) from error
    if not made.found.any():
        raise CommandRefused(f"Nobody was found in {arguments.clip.name}.", NOBODY)
    save_track(made, out)
    return 0


def stretches(arguments: argparse.Namespace) -> int:
    from tempfile import TemporaryDirectory

    from juxtakine.media.clips import ClipError
    from juxtakine.pipeline.stretches import FAST, Glance

    try:
        with TemporaryDirectory(prefix="juxtakine-") as workspace:
            glance = Glance(_task_file(FAST), Path(workspace))
            told = glance.stretches(existing(arguments.clip), _say_progress)
    except ClipError as error:
        raise CommandRefused(f"{arguments.clip.name}: {error}") from error
    if arguments.json:
        print(told.model_dump_json(indent=1))
        return 0
    for s in told.stretches:
        print(f"{s.start:8.1f} {s.end:8.1f}  {s.kind:8} {s.certainty:.0%} sure")
    run = told.run
    print(f"the run: {run.start:.1f} to {run.end:.1f}, {run.certainty:.0%} sure" if run else "no run-through was found")
    return 0


def beats(arguments: argparse.Namespace) -> int:
    from juxtakine.core.counting.music.onsets import NoBeat
    from juxtakine.media.clips import ClipError, start_of
    from juxtakine.media.sound import read_sound
    from juxtakine.pipeline.beats import beats_form
    from juxtakine.pipeline.comparison import Sound

    clip = existing(arguments.clip)
    try:
        start = start_of(clip)
        samples = read_sound(clip, start)
        if samples is None:
            raise CommandRefused(f"{clip.name}: there is no sound in it.")
        told = beats_form(Sound(samples, start))
    except (ClipError, NoBeat) as error:
        raise CommandRefused(f"{clip.name}: {error}") from error
    if arguments.json:
        print(told.model_dump_json(indent=1))
        return 0
    print(f"{told.tempo_bpm:.1f} a minute, {len(told.beats)} beats from {told.beats[0]:.2f} s on")
    for one in told.ones:
        print(f"the first 1 at {one.seconds:8.2f} s, {one.certainty:.0%} sure")
    return 0


def compare(arguments: argparse.Namespace) -> int:
    from juxtakine.core.comparing.aligning.sides import KnownSides
    from juxtakine.core.comparing.refused import CompareError
    from juxtakine.core.counting.grids import GridError
    from juxtakine.core.counting.lines import LineError
    from juxtakine.core.counting.sheets import SheetError
    from juxtakine.pipeline.comparison import Align, Said, compared
    from juxtakine.pipeline.comparison_form import ComparisonForm
    from juxtakine.pipeline.forms import FormError, read_form
    from juxtakine.pipeline.sheet_forms import GridForm, SheetForm

    out = writable(arguments.out)
    try:
        form = read_form(SheetForm, existing(arguments.sheet))
        sheet = form.value()
        grid = read_form(GridForm, existing(arguments.grid)).value()
        take_grid = arguments.take_grid and read_form(GridForm, existing(arguments.take_grid)).value()
        clips = arguments.reference, arguments.take
        model = arguments.model or next(filter(None, map(_model_of, clips)), settings().model)
        followed = arguments.follow_reference, arguments.follow_take
        reference, take = (recording(p, model, f) for p, f in zip(clips, followed, strict=True))
        said = Said(take_grid, Align(arguments.align), KnownSides(*MIRRORS[arguments.mirror]), enters=form.enters)
        result = compared(reference, take, sheet, grid, said)
    except (CompareError, FormError, GridError, LineError, SheetError) as error:
        raise CommandRefused(str(error)) from error
    told = ComparisonForm.of(result).model_dump_json(indent=1)
    out.write_text(told + "\n")
    return 0


def _model_of(path: Path) -> str | None:
    """By which model a TRACK was made: the clip that it is compared with is tracked by the same."""
    from juxtakine.media.track_file import TrackFileError, load_track

    if path.suffix != ".npz" or not path.exists():
        return None
    try:
        made = load_track(path).model
    except TrackFileError:
        return None  # is refused where it is read
    return made if settings().task_file(made).exists() else None


def recording(path: Path, model: str, follow: "list[Click]"):  # type: ignore[no-untyped-def]  # its module loads too much for `--help`
    from juxtakine.core.movement.following import NobodyThere
    from juxtakine.media.clips import ClipError, probe
    from juxtakine.media.sound import read_sound
    from juxtakine.media.track_file import TrackFileError, load_track
    from juxtakine.pipeline.comparison import Recording, Sound

    try:
        if existing(path).suffix == ".npz":
            made = Recording(load_track(path))
        else:
            start = probe(path).start_s
            samples = read_sound(path, start)
            heard = None if samples is None else Sound(samples, start)
            made = Recording(_tracked(path, model, follow), heard)
    except (ClipError, NobodyThere, TrackFileError) as error:
        raise CommandRefused(f"{path.name}: {error}") from error
    if not made.track.found.any():
        raise CommandRefused(f"Nobody was found in {path.name}.", NOBODY)
    return made


def _tracked(clip: Path, model: str, follow: "list[Click]", stretch: tuple[float | None, float | None] = (None, None)):  # type: ignore[no-untyped-def]  # as above
    """The clip's track; who is followed of several, and where that stays open, is said on standard error."""
    from juxtakine.media.clips import probe
    from juxtakine.pipeline.tracks import content_of

    shelf, content = _shelf(model), content_of(clip)
    made = shelf.track(clip, model, _say_progress, stretch, content, follow)
    facts = probe(clip)
    aspect = facts.width / facts.height
    if one := shelf.followed(content, stretch, follow, aspect):
        seconds, followed = one
        first = int((followed.who >= 0).argmax())
        if not follow:
            x, y = shelf.seen(content, stretch).places[first, followed.who[first]]
            where = f"{x / aspect:.2f},{y:.2f}@{seconds[first]:.1f}"
            print(f"Several are in shot: as with --follow {where}, the most prominent is followed.", file=sys.stderr)
        for question in followed.questions:
            ones = " or ".join(f"{c.x / aspect:.2f},{c.y:.2f}@{c.seconds:.1f}" for c in question.clicks)
            when = f"before {question.seconds:.1f} s" if question.before else f"from {question.seconds:.1f} s on"
            print(f"Nobody is followed {when}: which one is it, --follow {ones}?", file=sys.stderr)
    return made


def _shelf(model: str):  # type: ignore[no-untyped-def]  # as above
    from juxtakine.pipeline.tracks import Shelf

    _task_file(model)
    return Shelf(settings().tracks, settings().models)


def _task_file(model: str) -> Path:
    if not settings().task_file(model).exists():
        raise CommandRefused(f"The pose model {model} is not there. Run make setup.")
    return settings().task_file(model)


def _say_progress(done: int, total: int) -> None:
    if sys.stderr.isatty():
        print(f"\r{done} of {total} frames", end="\n" if done == total else "", file=sys.stderr, flush=True)


def of_instructor(path: Path):  # type: ignore[no-untyped-def]  # as above
    """A clip, or its TRACK, without anybody said to be followed."""
    return recording(path, _model_of(path) or settings().model, [])
