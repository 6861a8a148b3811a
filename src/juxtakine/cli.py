"""The command line: the same use cases without a browser. Exit status: 0 done; 2 wrong usage; 3 input refused; 4 nobody
found in a clip; one sentence on standard error."""

import argparse
import sys
from collections.abc import Callable
from pathlib import Path

from juxtakine.commands import recordings, servers, sheets
from juxtakine.commands.said import FOLLOW, REFUSED, CommandRefused, counts, port, seconds
from juxtakine.settings import SettingsError, settings

USAGE, INTERRUPTED = 2, 130


def main(argv: list[str] | None = None) -> int:
    try:
        arguments = _parser().parse_args(argv)
        run: Callable[[argparse.Namespace], int] = arguments.run
        return run(arguments)
    except CommandRefused as refusal:
        return _leave(str(refusal), refusal.status)
    except SettingsError as error:
        return _leave(str(error), USAGE)
    except OSError as error:
        return _leave(f"{error.filename or 'this'}: {error.strerror or error}", REFUSED)
    except MemoryError:
        return _leave("this is more than the memory of this machine holds", REFUSED)
    except KeyboardInterrupt:
        return _leave("stopped", INTERRUPTED)


def _leave(sentence: str, status: int) -> int:
    print(f"juxtakine: {sentence}", file=sys.stderr)
    return status


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="juxtakine", description=__doc__)
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    def command(name: str, run: Callable[[argparse.Namespace], int], text: str) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=text, description=text, allow_abbrev=False)
        made.set_defaults(run=run)
        return made

    track = command("track", recordings.track, "landmarks of one body over a clip")
    track.add_argument("clip", type=Path)
    track.add_argument("-o", dest="out", type=Path, required=True, help="the TRACK file to write (.npz)")
    track.add_argument("--from", dest="start_s", type=seconds, help="seconds")
    track.add_argument("--to", dest="end_s", type=seconds, help="seconds")
    track.add_argument("--follow", **FOLLOW)
    track.add_argument("--model", choices=("full", "heavy"), default=settings().model)

    stretches = command(
        "stretches", recordings.stretches, "talk, slow practice, counted passages and run-throughs of a long clip"
    )
    stretches.add_argument("clip", type=Path)
    stretches.add_argument("--json", action="store_true", help="as JSON, in the form of docs/formats.md")

    beats = command("beats", recordings.beats, "beat times, tempo and candidates for the first 1 of a clip or a sound")
    beats.add_argument("clip", type=Path)
    beats.add_argument("--json", action="store_true", help="as JSON, in the form of docs/formats.md")

    sheet = commands.add_parser("sheet", help="about a sheet", description="about a sheet", allow_abbrev=False)
    about = sheet.add_subparsers(required=True, metavar="WHAT")
    checks = about.add_parser("check", help="what disagrees in it; exit status 1 where anything does")
    checks.add_argument("sheet", type=Path)
    checks.add_argument("--grid", type=Path, help="where its counts lie: for what depends on the tempo")
    checks.add_argument("--clip", type=Path, help="the instructor's clip or its TRACK, to hold the sheet against")
    checks.add_argument("--json", action="store_true", help="as JSON, in the form of docs/formats.md")
    checks.set_defaults(run=sheets.check)
    propose = about.add_parser("propose", help="rows, holds, &s, turns and cues read off the instructor's movement")
    propose.add_argument("clip", type=Path, help="a clip, or its TRACK file (.npz)")
    propose.add_argument("--grid", type=Path, required=True, help="where the counts lie in it")
    propose.add_argument("--counts", type=counts, help="how many from the first on; else as far as the dance goes")
    propose.add_argument("-o", dest="out", type=Path, required=True, help="the SHEET file to write (.json)")
    propose.set_defaults(run=sheets.propose)
    expanded = about.add_parser("expand", help="the one continuous count line, with facing and weight")
    expanded.add_argument("sheet", type=Path)
    expanded.add_argument("--json", action="store_true", help="as JSON, in the form of docs/formats.md")
    expanded.set_defaults(run=sheets.expand)

    compare = command("compare", recordings.compare, "a take beside the reference, count by count")
    for name in ("reference", "take"):
        compare.add_argument(f"--{name}", type=Path, required=True, help="a clip, or its TRACK file (.npz)")
    compare.add_argument("--sheet", type=Path, required=True)
    compare.add_argument("--grid", type=Path, required=True, help="where the counts lie in the reference")
    compare.add_argument("-o", dest="out", type=Path, required=True, help="the RESULT file to write (.json)")
    compare.add_argument("--take-grid", type=Path, help="where the counts lie in the take")
    compare.add_argument("--align", choices=("auto", "sound", "movement"), default="auto")
    compare.add_argument("--mirror", choices=tuple(recordings.MIRRORS), default="auto")
    for whose in ("reference", "take"):
        compare.add_argument(f"--follow-{whose}", **FOLLOW)
    compare.add_argument("--model", choices=("full", "heavy"), help="of the pose estimator; else that of a TRACK given")

    serve = command("serve", servers.serve, "the web server alone")
    serve.add_argument("--port", type=port, default=settings().web_port)
    serve.add_argument("--share-port", action="store_true", help="several web servers may answer on the same port")
    command("worker", servers.work, "one worker alone")
    command("demo", servers.demo, "load the demo data")
    doctor = command("doctor", servers.doctor, "what is missing or wrong, and whether it is running")
    doctor.add_argument("--repair", action="store_true", help="make clips and database agree; says what was done")
    return parser


if __name__ == "__main__":
    sys.exit(main())
