"""Commands on sheets: what disagrees in one, and what it is as it is danced."""

import argparse

from juxtakine.commands.said import CommandRefused, existing


def check(arguments: argparse.Namespace) -> int:
    from juxtakine.core.counting.checks import MusicEights, checked
    from juxtakine.core.counting.grids import GridError
    from juxtakine.core.counting.structure import problems
    from juxtakine.pipeline.forms import FormError, read_form
    from juxtakine.pipeline.sheet_forms import GridForm, SheetForm

    try:
        written = read_form(SheetForm, existing(arguments.sheet)).written()
        grid = arguments.grid and read_form(GridForm, existing(arguments.grid)).value()
    except (FormError, GridError) as error:
        raise CommandRefused(str(error)) from error
    wrong = [str(p) for p in problems(written)]
    music = MusicEights(60 / float(grid.count_length(0))) if grid else MusicEights()
    for finding in () if wrong else checked(written, music):
        place = f"phrase {finding.row}{f', {finding.label}' if finding.label else ''}: " if finding.row else ""
        wrong.append(place + finding.text)
    for sentence in wrong:
        print(sentence)
    return 1 if wrong else 0


def expand(arguments: argparse.Namespace) -> int:
    from juxtakine.core.counting.lines import LineError
    from juxtakine.core.counting.sheets import SheetError
    from juxtakine.pipeline.forms import FormError, read_form
    from juxtakine.pipeline.sheet_forms import ExpandedForm, SheetForm

    try:
        told = ExpandedForm.of(read_form(SheetForm, existing(arguments.sheet)).value())
    except (FormError, LineError, SheetError) as error:
        raise CommandRefused(str(error)) from error
    if arguments.json:
        print(told.model_dump_json(indent=1))
        return 0
    for c in told.counts:
        print(f"{c.at:8.3f}  {c.phrase:2} {c.label:6} to {c.facing:g} o'clock  {c.weight or '':5}  {c.cue}".rstrip())
    return 0
