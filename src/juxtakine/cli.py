"""The command line: the same use cases without a browser. Exit status: 0 done; 2 wrong usage; 3 input refused; 4 nobody
found in a clip; one sentence on standard error."""

import argparse
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from juxtakine.settings import settings

if TYPE_CHECKING:
    from juxtakine.core.movement.people import Click

REFUSED, NOBODY = 3, 4


def _click(said: str) -> "Click":
    """X,Y@SECONDS: the middle of a trunk, as shares of the picture's width and height."""
    from juxtakine.core.movement.people import Click

    try:
        place, seconds = said.split("@")
        x, y = (float(v) for v in place.split(","))
        return Click(x, y, float(seconds))
    except ValueError as error:
        raise argparse.ArgumentTypeError(f"{said!r} is not X,Y@SECONDS, as in 0.4,0.5@12.5") from error


FOLLOW: dict[str, Any] = {
    "type": _click,
    "action": "append",
    "default": [],
    "metavar": "X,Y@SECONDS",
    "help": "who is followed: the middle of the trunk, as shares of the picture, at a moment; may be said again",
}


class Refused(Exception):
    """A sentence, and the status to leave with."""

    def __init__(self, sentence: str, status: int = REFUSED) -> None:
        super().__init__(sentence)
        self.status = status


def main(argv: list[str] | None = None) -> int:
    arguments = _parser().parse_args(argv)
    run: Callable[[argparse.Namespace], int] = arguments.run
    try:
        return run(arguments)
    except Refused as refusal:
        print(f"juxtakine: {refusal}", file=sys.stderr)
        return refusal.status


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="juxtakine", description=__doc__)
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    def command(name: str, run: Callable[[argparse.Namespace], int], text: str) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=text, description=text, allow_abbrev=False)
        made.set_defaults(run=run)
        return made

    track = command("track", _track, "landmarks of one body over a clip")
    track.add_argument("clip", type=Path)
    track.add_argument("-o", dest="out", type=Path, required=True, help="the TRACK file to write (.npz)")
    track.add_argument("--from", dest="start_s", type=float, help="seconds")
    track.add_argument("--to", dest="end_s", type=float, help="seconds")
    track.add_argument("--follow", **FOLLOW)
    track.add_argument("--model", choices=("full", "heavy"), default=settings().model)

    stretches = command(
        "stretches", _stretches, "talk, slow practice, counted passages and run-throughs of a long clip"
    )
    stretches.add_argument("clip", type=Path)
    stretches.add_argument("--json", action="store_true", help="as JSON, in the form of docs/formats.md")

    beats = command("beats", _beats, "beat times, tempo and candidates for the first 1 of a clip or a sound")
    beats.add_argument("clip", type=Path)
    beats.add_argument("--json", action="store_true", help="as JSON, in the form of docs/formats.md")

    sheet = commands.add_parser("sheet", help="about a sheet", description="about a sheet", allow_abbrev=False)
    about = sheet.add_subparsers(required=True, metavar="WHAT")
    checks = about.add_parser("check", help="what disagrees in it; exit status 1 where anything does")
    checks.add_argument("sheet", type=Path)
    checks.add_argument("--grid", type=Path, help="where its counts lie: for what depends on the tempo")
    checks.set_defaults(run=_sheet_check)
    expanded = about.add_parser("expand", help="the one continuous count line, with facing and weight")
    expanded.add_argument("sheet", type=Path)
    expanded.add_argument("--json", action="store_true", help="as JSON, in the form of docs/formats.md")
    expanded.set_defaults(run=_sheet_expand)

    compare = command("compare", _compare, "a take beside the reference, count by count")
    for name in ("reference", "take"):
        compare.add_argument(f"--{name}", type=Path, required=True, help="a clip, or its TRACK file (.npz)")
    compare.add_argument("--sheet", type=Path, required=True)
    compare.add_argument("--grid", type=Path, required=True, help="where the counts lie in the reference")
    compare.add_argument("-o", dest="out", type=Path, required=True, help="the RESULT file to write (.json)")
    compare.add_argument("--take-grid", type=Path, help="where the counts lie in the take")
    compare.add_argument("--align", choices=("auto", "sound", "movement"), default="auto")
    compare.add_argument("--mirror", choices=("auto", "no", "take", "reference", "both"), default="auto")
    for whose in ("reference", "take"):
        compare.add_argument(f"--follow-{whose}", **FOLLOW)
    compare.add_argument("--model", choices=("full", "heavy"), help="of the pose estimator; else that of a TRACK given")

    serve = command("serve", _serve, "the web server alone")
    serve.add_argument("--port", type=int, default=settings().web_port)
    command("worker", _worker, "one worker alone")
    command("demo", _demo, "load the demo data")
    command("doctor", _doctor, "what is missing or wrong")
    return parser


def _track(arguments: argparse.Namespace) -> int:
    from juxtakine.core.movement.following import NobodyThere
    from juxtakine.media.clips import ClipError
    from juxtakine.media.track_file import save_track

    try:
        stretch = arguments.start_s, arguments.end_s
        made = _tracked(_existing(arguments.clip), arguments.model, arguments.follow, stretch)
    except (ClipError, NobodyThere) as error:
        raise Refused(str(error)) from error
    if not made.found.any():
        raise Refused(f"Nobody was found in {arguments.clip.name}.", NOBODY)
    save_track(made, _writable(arguments.out))
    return 0


def _stretches(arguments: argparse.Namespace) -> int:
    from tempfile import TemporaryDirectory

    from juxtakine.media.clips import ClipError
    from juxtakine.pipeline.stretches import FAST, Glance

    try:
        with TemporaryDirectory(prefix="juxtakine-") as workspace:
            glance = Glance(_task_file(FAST), Path(workspace))
            told = glance.stretches(_existing(arguments.clip), _say_progress)
    except ClipError as error:
        raise Refused(f"{arguments.clip.name}: {error}") from error
    if arguments.json:
        print(told.model_dump_json(indent=1))
        return 0
    for s in told.stretches:
        print(f"{s.start:8.1f} {s.end:8.1f}  {s.kind:8} {s.certainty:.0%} sure")
    run = told.run
    print(f"the run: {run.start:.1f} to {run.end:.1f}, {run.certainty:.0%} sure" if run else "no run-through was found")
    return 0


def _beats(arguments: argparse.Namespace) -> int:
    from juxtakine.core.counting.music.onsets import NoBeat
    from juxtakine.media.clips import ClipError, start_of
    from juxtakine.media.sound import read_sound
    from juxtakine.pipeline.beats import beats_form
    from juxtakine.pipeline.comparison import Heard

    clip = _existing(arguments.clip)
    try:
        start = start_of(clip)
        samples = read_sound(clip, start)
        if samples is None:
            raise Refused(f"{clip.name}: there is no sound in it.")
        told = beats_form(Heard(samples, start))
    except (ClipError, NoBeat) as error:
        raise Refused(f"{clip.name}: {error}") from error
    if arguments.json:
        print(told.model_dump_json(indent=1))
        return 0
    print(f"{told.tempo_bpm:.1f} a minute, {len(told.beats)} beats from {told.beats[0]:.2f} s on")
    for one in told.ones:
        print(f"the first 1 at {one.seconds:8.2f} s, {one.certainty:.0%} sure")
    return 0


def _sheet_check(arguments: argparse.Namespace) -> int:
    from juxtakine.core.counting.checks import Music, checked
    from juxtakine.core.counting.grids import GridError
    from juxtakine.core.counting.structure import problems
    from juxtakine.pipeline.forms import FormError, GridForm, SheetForm, read_form

    try:
        written = read_form(SheetForm, _existing(arguments.sheet)).written()
        grid = arguments.grid and read_form(GridForm, _existing(arguments.grid)).value()
    except (FormError, GridError) as error:
        raise Refused(str(error)) from error
    wrong = [str(p) for p in problems(written)]
    music = Music(60 / float(grid.count_length(0))) if grid else Music()
    for finding in () if wrong else checked(written, music):
        place = f"phrase {finding.row}{f', {finding.label}' if finding.label else ''}: " if finding.row else ""
        wrong.append(place + finding.text)
    for sentence in wrong:
        print(sentence)
    return 1 if wrong else 0


def _sheet_expand(arguments: argparse.Namespace) -> int:
    from juxtakine.core.counting.lines import LineError
    from juxtakine.core.counting.sheets import SheetError
    from juxtakine.pipeline.forms import ExpandedForm, FormError, SheetForm, read_form

    try:
        told = ExpandedForm.of(read_form(SheetForm, _existing(arguments.sheet)).value())
    except (FormError, LineError, SheetError) as error:
        raise Refused(str(error)) from error
    if arguments.json:
        print(told.model_dump_json(indent=1))
        return 0
    for c in told.counts:
        print(f"{c.at:8.3f}  {c.phrase:2} {c.label:6} to {c.facing:g} o'clock  {c.weight or '':5}  {c.cue}".rstrip())
    return 0


def _compare(arguments: argparse.Namespace) -> int:
    from juxtakine.core.comparing.compare import CompareError
    from juxtakine.core.comparing.sides import Said as MirrorSaid
    from juxtakine.core.counting.grids import GridError
    from juxtakine.core.counting.lines import LineError
    from juxtakine.core.counting.sheets import SheetError
    from juxtakine.pipeline.comparison import Align, Said, compared
    from juxtakine.pipeline.forms import ComparisonForm, FormError, GridForm, SheetForm, read_form

    try:
        form = read_form(SheetForm, _existing(arguments.sheet))
        sheet = form.value()
        grid = read_form(GridForm, _existing(arguments.grid)).value()
        take_grid = arguments.take_grid and read_form(GridForm, _existing(arguments.take_grid)).value()
        clips = arguments.reference, arguments.take
        model = arguments.model or next(filter(None, map(_model_of, clips)), settings().model)
        followed = arguments.follow_reference, arguments.follow_take
        reference, take = (_recording(p, model, f) for p, f in zip(clips, followed, strict=True))
        said = Said(take_grid, Align(arguments.align), MirrorSaid(arguments.mirror), enters=form.enters)
        result = compared(reference, take, sheet, grid, said)
    except (CompareError, FormError, GridError, LineError, SheetError) as error:
        raise Refused(str(error)) from error
    form = ComparisonForm.of(result)
    _writable(arguments.out).write_text(form.model_dump_json(indent=1) + "\n")
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


def _recording(path: Path, model: str, follow: "list[Click]"):  # type: ignore[no-untyped-def]  # its module loads too much for `--help`
    from juxtakine.core.movement.following import NobodyThere
    from juxtakine.media.clips import ClipError, probe
    from juxtakine.media.sound import read_sound
    from juxtakine.media.track_file import TrackFileError, load_track
    from juxtakine.pipeline.comparison import Heard, Recording

    try:
        if _existing(path).suffix == ".npz":
            made = Recording(load_track(path))
        else:
            start = probe(path).start_s
            samples = read_sound(path, start)
            heard = None if samples is None else Heard(samples, start)
            made = Recording(_tracked(path, model, follow), heard)
    except (ClipError, NobodyThere, TrackFileError) as error:
        raise Refused(f"{path.name}: {error}") from error
    if not made.track.found.any():
        raise Refused(f"Nobody was found in {path.name}.", NOBODY)
    return made


def _tracked(clip: Path, model: str, follow: "list[Click]", stretch: tuple[float | None, float | None] = (None, None)):  # type: ignore[no-untyped-def]  # as above
    """The clip's track; where it stays open who was followed, that is said on standard error."""
    from juxtakine.media.clips import probe
    from juxtakine.pipeline.tracks import content_of

    shelf, content = _shelf(model), content_of(clip)
    made = shelf.track(clip, model, _say_progress, stretch, content, follow)
    if follow:
        facts = probe(clip)
        one = shelf.followed(content, stretch, follow, facts.width / facts.height)
        for question in one[1].questions if one else ():
            places = " or ".join(f"{x * facts.height / facts.width:.2f},{y:.2f}" for x, y in question.places)
            print(f"Nobody is followed from {question.seconds:.1f} s on: which one is it, {places}?", file=sys.stderr)
    return made


def _shelf(model: str):  # type: ignore[no-untyped-def]  # as above
    from juxtakine.pipeline.tracks import Shelf

    _task_file(model)
    return Shelf(settings().tracks, settings().models)


def _task_file(model: str) -> Path:
    if not settings().task_file(model).exists():
        raise Refused(f"The pose model {model} is not there. Run make setup.")
    return settings().task_file(model)


def _say_progress(done: int, total: int) -> None:
    if sys.stderr.isatty():
        print(f"\r{done} of {total} frames", end="\n" if done == total else "", file=sys.stderr, flush=True)


def _existing(path: Path) -> Path:
    if not path.is_file():
        raise Refused(f"There is no file {path}.")
    return path


def _writable(path: Path) -> Path:
    if not path.parent.is_dir():
        raise Refused(f"There is no folder {path.parent}.")
    return path


def _serve(arguments: argparse.Namespace) -> int:
    import uvicorn

    uvicorn.run("juxtakine.web.app:app", host="127.0.0.1", port=arguments.port, log_level="warning")
    return 0


def _worker(arguments: argparse.Namespace) -> int:
    from juxtakine.jobs.worker import work

    return work()


def _demo(arguments: argparse.Namespace) -> int:
    from juxtakine.demo.load import load

    return load()


def _doctor(arguments: argparse.Namespace) -> int:
    from juxtakine.servers.doctor import complaints

    found = complaints(settings())
    for sentence in found:
        print(sentence)
    if not found:
        print("Nothing is missing.")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
