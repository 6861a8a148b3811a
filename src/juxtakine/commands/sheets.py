"""Commands on sheets: what disagrees in one, what it is as it is danced, and one read off a clip."""

import argparse

from juxtakine.commands.recordings import of_instructor
from juxtakine.commands.said import NOBODY, CommandRefused, existing, writable


def check(arguments: argparse.Namespace) -> int:
    from juxtakine.core.counting.checks import MusicEights, checked
    from juxtakine.core.counting.grids import GridError
    from juxtakine.core.counting.structure import as_instructed, problems, unfolded
    from juxtakine.pipeline.forms import FormError, read_form
    from juxtakine.pipeline.proposing import CheckFinding, CheckForm, held_against
    from juxtakine.pipeline.sheet_forms import GridForm, SheetForm

    try:
        written = read_form(SheetForm, existing(arguments.sheet)).written()
        grid = arguments.grid and read_form(GridForm, existing(arguments.grid)).value()
    except (FormError, GridError) as error:
        raise CommandRefused(str(error)) from error
    if arguments.clip and not grid:
        raise CommandRefused("Say where the counts lie in the clip: --grid GRID.json.")
    found = [CheckFinding.of_sheet("problem", p.phrase, p.reason) for p in problems(written)]
    if not found:
        music = MusicEights(60 / float(grid.count_length(0))) if grid else MusicEights()
        found = [CheckFinding.of_sheet(f.about, f.row, f.text, f.label) for f in checked(written, music)]
        if arguments.clip:
            found += held_against(of_instructor(arguments.clip), unfolded(as_instructed(written)), grid)
    if arguments.json:
        print(CheckForm(findings=found).model_dump_json(indent=1))
    else:
        for finding in found:
            print(finding)
    return 1 if found else 0


def propose(arguments: argparse.Namespace) -> int:
    from juxtakine.core.counting.grids import GridError
    from juxtakine.pipeline.forms import FormError, read_form
    from juxtakine.pipeline.proposing import lengths, proposed
    from juxtakine.pipeline.sheet_forms import GridForm, SheetForm

    out = writable(arguments.out)
    try:
        grid = read_form(GridForm, existing(arguments.grid)).value()
    except (FormError, GridError) as error:
        raise CommandRefused(str(error)) from error
    instructor = of_instructor(arguments.clip)
    rows = lengths(instructor, grid, (), arguments.counts)
    if not rows:
        raise CommandRefused("The clip ends before count 1.")
    found = proposed(instructor, grid, rows)
    shown = len(rows) if arguments.counts else found.danced
    if not shown:
        raise CommandRefused("Nobody is seen to move on the counts.", NOBODY)
    out.write_text(SheetForm.of(found.sheet(shown)).model_dump_json(indent=1) + "\n")
    return 0


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
