"""From what is stored to what is shown."""

import json
from functools import lru_cache

import numpy as np

from juxtakine.core.comparing.results import PhraseKind
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.positions import from_decimal
from juxtakine.core.counting.sheets import Sheet, SheetProblem, check, expand
from juxtakine.core.counting.structure import by_timing, eights, problems, section_names
from juxtakine.core.movement.tracks import Network
from juxtakine.jobs import assembly, flow, inputs, mending
from juxtakine.jobs.places import media
from juxtakine.media.clips import GONE
from juxtakine.media.play_copy import is_whole
from juxtakine.pipeline.comparison_form import ComparisonForm
from juxtakine.pipeline.forms import MOST_TOLD
from juxtakine.pipeline.outcome import Outcome
from juxtakine.pipeline.placing import PlacedForm, how_sure, words
from juxtakine.pipeline.result import as_written, unpacked
from juxtakine.pipeline.sheet_forms import SheetForm
from juxtakine.settings import settings
from juxtakine.store import clips, routines
from juxtakine.store.models import Clip, ComparisonRow, Job, JobState, JobStep, PieceRow, Role, Routine, now
from juxtakine.web import counting, watching
from juxtakine.web import schemas as s

TELLING = 0.08
"""Share of a job that has to be done before it tells how long the rest takes."""
LEAD_COUNTS = 8
"""Counts before the first and after the last for which the clips stay locked."""


def problem(found: SheetProblem) -> s.Problem:
    return s.Problem(sentence=str(found), phrase=found.phrase, start=found.start, end=found.end)


def routine(found: Routine) -> s.RoutineView:
    edit = routines.current(found)
    form = SheetForm.model_validate(edit.sheet)
    written, sheet = form.written(), form.value()
    reference = routines.reference(found)
    grid = inputs.grid_of(edit.grid) if edit.grid else None
    start = reference.start_s if reference else 0.0
    wrong = problems(written)
    counts = () if wrong or not sheet.phrases else expand(sheet)
    numbers = [e.number for e in found.edits]
    return s.RoutineView(
        id=found.id, title=sheet.title, sheet=form, rows=counting.rows(written, counts, grid, start),
        total=sheet.total, problem=problem(wrong[0]) if wrong else None,
        findings=[] if wrong else counting.findings(form, grid, routines.references(found)),
        sections=list(section_names(written)), eights=[float(e) for e in eights(written)],
        order_said=counting.order_said(written),
        remark=_remark(sheet, grid, reference) if grid and reference else None,
        grid=counting.grid(grid, counts, sheet.total, start) if grid else None,
        reference=clip(reference) if reference else None,
        coming=clip(to_come) if (to_come := routines.coming(found)) else None,
        former=[clip(c) for c in routines.former(found)],
        others=[_other(c, sheet) for c in routines.others(found)],
        pieces=[_piece(n, p, found, sheet) for n, p in assembly.pieces(found, sheet).items()],
        missing=assembly.missing(found, sheet),
        music=heard.id if (heard := inputs.music_of(found)) else None,
        takes=[clip(c) for c in routines.takes(found)],
        network=Network(found.clips[0].model if found.clips else settings().model),
        can_undo=found.edit > min(numbers), can_redo=found.edit < max(numbers),
    )  # fmt: skip


def _piece(row: int, piece: PieceRow, found: Routine, sheet: Sheet) -> s.PieceView:
    start = clips.of(found, piece.clip_id).start_s
    first, after = piece.first_s - start, piece.next_s - start
    bpm = 60 * sheet.phrases[row - 1].counts / (after - first)
    ends = " to ".join(f"{int(t // 60)}:{t % 60:04.1f}" for t in (first, after))
    turned = ", turned over" if piece.flipped else ""
    return s.PieceView(
        row=row, clip=piece.clip_id, first_s=first, next_s=after, flipped=piece.flipped,
        said=f"{ends}, at {bpm:.0f}{turned}",
    )  # fmt: skip


def _other(found: Clip, sheet: Sheet) -> s.OtherView:
    form = inputs.counted(found)
    whole = inputs.grid_of(form).seconds(np.arange(sheet.total + 1)) - found.start_s if form else None
    failed = clips.last_job(found, JobStep.PLACE)
    unplaced = failed.error if failed and failed.state is JobState.FAILED else None
    placed = PlacedForm.model_validate(found.placed) if found.placed else None
    usable = form is not None and clips.has_done(found, JobStep.TRACK)
    return s.OtherView(
        clip=clip(found),
        said=words(placed) if placed else None,
        sure=how_sure(placed) if placed else None,
        waiting=unplaced or (None if form else inputs.why_not(found)),
        counts_s=None if whole is None else [round(float(t), 4) for t in whole],
        usable=usable,
    )


def _remark(sheet: Sheet, grid: Grid, reference: Clip) -> str | None:
    ends = float(grid.count(reference.start_s + reference.duration_s))
    beyond = sheet.total - max(0, int(np.ceil(ends)))
    if beyond <= 0:
        return None
    return f"The sheet is longer than the clip: its last {_many(beyond, 'count')} can't be compared."


def clip(found: Clip) -> s.ClipView:
    last = clips.last_job(found)
    first = inputs.grid_of(found.grid).seconds(0.0) - found.start_s if found.grid else None
    return s.ClipView(
        id=found.id, number=found.number, name=found.name, duration_s=found.duration_s, width=found.width,
        height=found.height, fps=round(found.fps, 2), frames=found.frames, has_sound=found.has_sound,
        playable=is_whole(media().play_copy(found.content)), measured=clips.has_done(found, JobStep.TRACK),
        made_at=found.made_at, job=job(last) if last else None, first_s=None if first is None else float(first),
        flipped=found.flipped, mirrored=found.mirrored, small=found.small,
        run=found.run and s.Span(from_s=found.run[0] - found.start_s, to_s=found.run[1] - found.start_s),
        awaits_run=flow.awaits_run(found), long=watching.long_clip(found), followed=watching.followed(found),
        assembled=found.parts is not None, remark=_missing(found),
    )  # fmt: skip


def _missing(found: Clip) -> str | None:
    if mending.is_gone(found):
        return f"{found.name}: {GONE[:1].lower()}{GONE[1:]}"
    spans = [(a - found.start_s, b - found.start_s) for a, b in media().missing(found.content)]
    if not spans:
        return None
    told = ", ".join(f"{a:.1f} to {b:.1f} s" for a, b in spans[:MOST_TOLD])
    more = f" and {_many(len(spans) - MOST_TOLD, 'more stretch')}" if len(spans) > MOST_TOLD else ""
    return f"The file is damaged: there is no picture from {told}{more}. What is there is used."


def job(found: Job) -> s.JobView:
    left = None
    # what it took to begin would make the first frames look dear
    if found.state is JobState.RUNNING and found.started_at and found.done > TELLING * found.total:
        spent = (now() - found.started_at).total_seconds()
        left = round(spent / found.done * (found.total - found.done))
    return s.JobView(
        step=found.step, state=found.state, done=found.done, total=found.total, seconds_left=left, error=found.error
    )


def home(found: list[Routine]) -> s.Home:
    everything = [c for r in found for c in r.clips]
    size = sum(f.stat().st_size for c in {c.content for c in everything} for f in media().of(c).glob("*"))
    takes = sum(c.role is Role.TAKE for c in everything)
    stored = (
        f"All of it stays on this machine: {_many(len(found), 'routine')}, {_many(takes, 'take')}, {size / 1e6:.0f} MB."
    )
    return s.Home(routines=[_card(r) for r in found], stored=stored)


def _many(n: int, thing: str) -> str:
    return f"{n} {thing}" if n == 1 else f"{n} {thing}s"


def _card(found: Routine) -> s.RoutineCard:
    edit = routines.current(found)
    sheet = SheetForm.model_validate(edit.sheet).value()
    grid = inputs.grid_of(edit.grid) if edit.grid else None
    takes = routines.takes(found)
    told_of = ((t, _outcome(t, made)) for t in reversed(takes) if (made := _compared(t)))
    last, outcome = next(((t, made) for t, made in told_of if made), (None, None))
    told = {w.phrase: w for w in outcome.rows} if outcome else {}
    rows = [
        s.RowCard(
            number=n, name=p.name, counts=p.counts, tallies=told[n].tallies if n in told else 0,
            kind=told[n].kind if n in told else "",
        )
        for n, p in enumerate(sheet.phrases, 1)
    ]  # fmt: skip
    said, act, screen = _next(sheet, grid is not None, takes, last, outcome)
    return s.RoutineCard(
        id=found.id, title=sheet.title, counts=sheet.total,
        bpm=None if grid is None else round(60 / float(grid.count_length(0.0)), 1), rows=rows,
        takes=len(takes), danced=outcome is not None, said=said, act=act, screen=screen,
    )  # fmt: skip


def _next(
    sheet: Sheet, has_grid: bool, takes: list[Clip], last: Clip | None, outcome: Outcome | None
) -> tuple[str, str, s.Screen]:
    """What was last, the one thing to do next, and the screen where it is done."""
    if check(sheet):
        return "no sheet yet", "Write the sheet", s.Screen.COUNT
    if not has_grid:
        return "count 1 is not placed yet", "Place count 1", s.Screen.COUNT
    if not takes:
        return "no take yet", "Drop the first take in", s.Screen.COMPARE
    if last is None or outcome is None:
        return f"take {takes[-1].number}, no result yet", "Look at it", s.Screen.COMPARE
    clean = sum(w.state is PhraseKind.CLEAN for w in outcome.rows)
    said = f"take {last.number}, clean: {clean} of {_many(len(outcome.rows), 'row')}"
    return (said, "Redrill", s.Screen.REDRILL) if outcome.drills else (said, "Look at it", s.Screen.COMPARE)


def take_result(take: Clip) -> s.TakeResult:
    """The take's result, as long as it is that of the sheet and grid as they are now."""
    view, waiting, made = clip(take), inputs.why_not(take), _compared(take)
    outcome = _outcome(take, made) if made else None
    if waiting is None and outcome is None:
        failed = clips.last_job(take, JobStep.COMPARE)
        waiting = failed.error if failed and failed.state is JobState.FAILED else "Being compared."
    beside = made.reference_id if made and outcome else None
    reference = clips.of(take.routine, beside) if beside else routines.reference(take.routine)
    laid = clock(outcome.comparison, reference.start_s, take.start_s) if outcome and reference else []
    return s.TakeResult(
        take=view, reference=clip(reference) if reference else None, against=take.against_id,
        waiting=waiting, outcome=outcome, clock=laid,
        count_ms=round(1000 * (laid[-1].take_s - laid[0].take_s) / (len(laid) - 1)) if laid else None,
    )  # fmt: skip


def _compared(take: Clip) -> ComparisonRow | None:
    """What came of sheet, grid and recordings as they are now; what is out of date is not shown."""
    wanted = inputs.fingerprint(take)
    return clips.compared(take, wanted) if wanted else None


def _outcome(take: Clip, made: ComparisonRow) -> Outcome | None:
    names = tuple((c.id, c.name) for c in take.routine.clips)
    return _told(made.result, json.dumps(routines.current(take.routine).sheet), take.small, names)


@lru_cache(maxsize=64)
def _told(result: bytes, form: str, small: bool, names: tuple[tuple[int, str], ...]) -> Outcome | None:
    """It takes a moment, and every look at a screen asks for it."""
    kept = unpacked(result)
    if kept is None:
        return None
    sheet, called = SheetForm.model_validate_json(form).value(), dict(names)
    told = as_written(kept, by_timing(sheet) if small else sheet)
    return Outcome.of(told, sheet, [called.get(i, "a clip that is gone") for i in kept.styles])


def clock(result: ComparisonForm, reference_start: float, take_start: float) -> list[s.ClockAnchor]:
    """The whole counts, some before and after the sheet, in both play copies."""
    if len(result.counts) < 2:
        return []
    places = [from_decimal(c.at) for c in result.counts]
    grids = [
        Grid(tuple(map(Anchor, places, seconds)))
        for seconds in ([c.reference_s for c in result.counts], [c.take_s for c in result.counts])
    ]
    first, last = int(np.floor(result.counts[0].at)), int(np.ceil(result.counts[-1].at))
    at = np.arange(first - LEAD_COUNTS, last + LEAD_COUNTS + 1)
    both = [g.seconds(at) - start for g, start in zip(grids, (reference_start, take_start), strict=True)]
    return [
        s.ClockAnchor(at=float(c), reference_s=round(float(r), 4), take_s=round(float(t), 4))
        for c, r, t in zip(at, *both, strict=True)
    ]
