"""A comparison in words: the one sentence that says what to do, and what stands at a row's end."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from juxtakine.core.comparing.evidence import STRETCHES
from juxtakine.core.comparing.findings import name_of, part_text
from juxtakine.core.comparing.phrases import badness
from juxtakine.core.comparing.results import (
    Comparison,
    CountResult,
    Finding,
    FindingKind,
    PartResult,
    PhraseKind,
    PhraseResult,
    PositionVerdict,
    TimingVerdict,
    Unit,
)
from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.movement.body import ARMS, Part

TALLIES = 5
FAIRLY = 0.7
FRAME_S = 1 / 30
"""Of a film: what is nearer looks the same."""


@dataclass(frozen=True)
class RowWords:
    """`tallies` 0 to 5; `kind` short enough to stand beside the row; `lines` for the row that is open."""

    tallies: int
    kind: str
    lines: tuple[str, ...]


@dataclass(frozen=True)
class Sentence:
    """`strong` is set heavier than `rest`."""

    strong: str
    rest: str


def tallies(need: float) -> int:
    """Need as pencil tallies: the next whole one."""
    return ceil(round(need * TALLIES, 6))


def sentence(comparison: Comparison, sheet: Sheet) -> Sentence:
    """What to do now."""
    if comparison.redrill:
        first, *more = comparison.redrill
        row = comparison.phrases[first - 1]
        rest = f"from {_first_label(comparison, row)}"
        if more:
            rest += f", then {_name(sheet, more[0])}"
        return Sentence(f"Redrill {_name(sheet, first)}", f"{rest}.")
    unclear = [p.phrase for p in comparison.phrases if p.kind is PhraseKind.UNCLEAR]
    if unclear:
        return Sentence("Film again, the whole body in shot:", f"{_rows(unclear)} could not be measured.")
    return Sentence("Nothing to redrill:", "every row is clean in this take.")


def row_words(comparison: Comparison, phrase: int) -> RowWords:
    row = comparison.phrases[phrase - 1]
    counts = [c for c in comparison.counts if c.count.phrase == phrase]
    free = sum(c.count.free for c in counts)
    if row.kind is PhraseKind.CLEAN:
        return RowWords(0, f"clean, {free} {'is' if free == 1 else 'are'} yours" if free else "clean", ())
    if row.kind is PhraseKind.UNCLEAR:
        return RowWords(0, "unclear: film again", (f"{row.measured} of {row.scored} could be measured",))
    worst = sorted(row.findings, key=badness, reverse=True)
    lines = tuple(_line(counts, f) for f in worst[:3])
    if len(worst) > len(lines):
        lines += (f"and {len(worst) - len(lines)} more",)
    return RowWords(tallies(row.need), _kind(row, counts), lines)


def _line(counts: Sequence[CountResult], finding: Finding) -> str:
    """A finding for a stretch names its counts itself."""
    text = finding.text.partition(" (")[0]
    return text if finding.end > finding.start else f"{_label(counts, finding)}: {text}"


def _kind(row: PhraseResult, counts: Sequence[CountResult]) -> str:
    own = [f for f in row.findings if f.kind in _KINDS.get(row.kind, ())]
    if own:
        worst = max(own, key=badness)
        if worst.start < counts[0].count.at:
            return f"the {worst.kind.value} goes on"
        return f"{_CALLED[worst.kind]} {_stretch(counts, worst)}"
    timed = [f for f in row.findings if f.unit is Unit.MILLISECONDS]
    if row.kind is PhraseKind.TIMING:
        late = sum(f.size > 0 for f in timed)
        word = "late" if late == len(timed) else "early" if not late else "late and early"
        return f"{word} on {_labels(counts, timed)}"
    posed = [f for f in row.findings if f.unit is not Unit.MILLISECONDS]
    if all(f.kind is FindingKind.RANGE for f in posed):
        return "arms too small throughout"
    parts = {f.part for f in posed if f.part}
    what = _SHORT.get(parts.pop(), "position") if len(parts) == 1 else "position"
    return f"{what} on {_labels(counts, posed)}"


_KINDS = {
    PhraseKind.SLIP: (FindingKind.SLIP,),
    PhraseKind.DRIFT: (FindingKind.DRIFT,),
    PhraseKind.TURN: (FindingKind.TURN,),
    PhraseKind.WRONG_SIDE: (FindingKind.WRONG_SIDE,),
    PhraseKind.MEMORY: (FindingKind.MISSING, FindingKind.EXTRA),
}
_CALLED = {
    FindingKind.SLIP: "slips on",
    FindingKind.DRIFT: "drifts from",
    FindingKind.TURN: "turn,",
    FindingKind.WRONG_SIDE: "other side,",
    FindingKind.MISSING: "move missing on",
    FindingKind.EXTRA: "moves in the hold on",
}


def _stretch(counts: Sequence[CountResult], finding: Finding) -> str:
    """ "3 to 6"; of a slip, where it begins; within this phrase."""
    inside = [c.count.label for c in counts if finding.start <= c.count.at <= finding.end]
    whole = finding.kind is not FindingKind.SLIP and len(inside) > 1
    return f"{inside[0]} to {inside[-1]}" if whole else inside[0]


_SHORT = {
    **{p: p.words.split()[0] + " arm" for p in Part if p.endswith("arm")},
    **{p: p.words.split()[0] + " leg" for p in Part if p.endswith(("thigh", "shin"))},
    Part.LEVEL: "level",
    Part.SPREAD: "step",
    Part.TORSO: "torso",
    Part.HEAD: "head",
    Part.FACING: "facing",
}


def _labels(counts: Sequence[CountResult], of: Sequence[Finding]) -> str:
    labels = list(dict.fromkeys(_label(counts, f) for f in sorted(of, key=lambda f: f.start)))
    return ", ".join(labels) if len(labels) < 4 else f"{labels[0]} to {labels[-1]}"


def _label(counts: Sequence[CountResult], finding: Finding) -> str:
    """Of where it begins among these counts."""
    return next(c.count.label for c in counts if c.count.at >= finding.start)


def _first_label(comparison: Comparison, row: PhraseResult) -> str:
    first = min(f.start for f in row.findings)
    return next(c.count.label for c in comparison.counts if c.count.at == first)


def _name(sheet: Sheet, phrase: int) -> str:
    return sheet.phrases[phrase - 1].name or f"row {phrase}"


def _rows(numbers: Sequence[int]) -> str:
    if len(numbers) == 1:
        return f"row {numbers[0]}"
    return f"rows {', '.join(map(str, numbers[:-1]))} and {numbers[-1]}"


@dataclass(frozen=True)
class Moment:
    """So many seconds after the count's common time, and in words; none of less than a frame."""

    after_s: float
    words: str


def moment(result: CountResult) -> Moment:
    """When what is told of a count is seen in the take: a part that is off at the moment at which it was judged."""
    off = any(f.part in result.position.parts for f in result.findings)
    after_s = result.judged_s - result.take_s if off else 0.0
    if abs(after_s) < FRAME_S:
        return Moment(after_s, "")
    return Moment(after_s, f"{abs(after_s):.2f} s {'later' if after_s > 0 else 'earlier'}")


@dataclass(frozen=True)
class Remark:
    """One line about a count; `note` says how sure or how much it is in counts; `off` sets it heavier."""

    text: str
    note: str
    off: bool


def remarks(result: CountResult, styles: Sequence[str] = ()) -> tuple[Remark, ...]:
    """All that is told of one count: causes, timing, what was off or only followed, what held or was not seen.

    `styles` names the references whose style may be right too.
    """
    stretches = [f for f in result.findings if f.kind in STRETCHES]
    causes = [Remark(f.text, _how_sure(f.certainty), True) for f in stretches]
    causes += [Remark(f.text, _how_sure(f.certainty), True) for f in result.within]
    by = [Remark(f"danced more as in {styles[result.style - 1]}, and judged by it", "", False)] if result.style else []
    return (*causes, _timing(result), *_parts(result), *by)


def _timing(result: CountResult) -> Remark:
    timing = result.timing
    if timing.error_ms is None:
        standing = {
            "a hold: no arrival to time": result.count.hold,
            "goes on: judged where it arrives": result.count.goes_on,
            _UNTOLD_MOVE: result.moves and timing.verdict is TimingVerdict.UNMEASURABLE,
        }
        said = next((words for words, holds in standing.items() if holds), None)
        return Remark(said or _UNTIMED[timing.verdict], "", False)
    side = "behind" if timing.error_ms > 0 else "ahead"
    size = f"{abs(timing.error_ms):.0f} ±{timing.se_ms:.0f} ms {side}"
    off = timing.verdict is not TimingVerdict.ON
    return Remark(size if off else f"on it ({size})", f"{abs(timing.error_counts or 0):.2f} of a count", off)


_UNTOLD_MOVE = "timing not measurable: this move does not show when it arrives"
"""It is too soft, fits as well at another time, or is another one."""
_UNTIMED = {
    TimingVerdict.UNMEASURABLE: "timing not measurable: too little moves here",
    TimingVerdict.NOT_SEEN: "timing not seen",
    TimingVerdict.FREE: "yours: not scored",
}


_UNTOLD = {PositionVerdict.NEAR: "near", PositionVerdict.OFF: "hard to see from here: not counted"}
"""What is said of a part beyond its tolerance that is no finding."""


def _parts(result: CountResult) -> tuple[Remark, ...]:
    parts = result.position.parts
    off = [
        Remark(f.text, f"{_how_sure(f.certainty)}; {_passes(parts[f.part])} passes", True)
        for f in result.findings
        if f.part in parts
    ]
    leaders = dict.fromkeys(r.follows for r in parts.values() if r.follows)
    led = [Remark(_following(parts, leader), "", False) for leader in leaders]
    told = {f.part for f in result.findings}
    untold = [(p, r) for p, r in parts.items() if r.beyond and not r.follows and p not in told]
    passing = ", ".join(p.words for p, r in untold if r.passing)
    led += [Remark(f"on the way, as {_why_passing(result)}: {passing}", "", False)] if passing else []
    near = [Remark(part_text(p, r), _UNTOLD[r.verdict], False) for p, r in untold if not r.passing]
    last = [_listed(parts, verdict, word) for verdict, word in _LISTED]
    hidden = {p for p, r in parts.items() if r.verdict is PositionVerdict.NOT_SEEN}
    last += [_NEXT_TIME[hidden <= _TURNED_AWAY]] if hidden else []
    return (*off, *led, *near, *(Remark(text, "", False) for text in last if text))


def _following(parts: dict[Part, PartResult], leader: Part) -> str:
    followers = [p.words for p, r in parts.items() if r.follows is leader]
    return f"{', '.join(followers)} {'follows' if len(followers) == 1 else 'follow'} the {name_of(leader)}"


def _why_passing(result: CountResult) -> str:
    if any(f.kind is FindingKind.LATE for f in result.findings):
        return "this count comes late"
    return "this count may come late" if result.untimed else "the next comes early"


def _passes(part: PartResult) -> str:
    """The tolerance that was used."""
    return f"{part.tolerance:.0f}°" if part.unit is Unit.DEGREES else f"{part.tolerance:.2f}"


_TURNED_AWAY = {Part.HEAD, Part.FACING, *ARMS}
_NEXT_TIME = {True: "to see it next time: film from the front", False: "to see it next time: the whole body in shot"}
_LISTED = ((PositionVerdict.HELD, "held"), (PositionVerdict.NOT_SEEN, "not seen"))


def _listed(parts: dict[Part, PartResult], verdict: PositionVerdict, word: str) -> str:
    """ "left arm, legs, torso held": both halves or both sides of a limb as one word."""
    names = {p for p, r in parts.items() if r.verdict is verdict}
    if not names:
        return ""
    if names == set(parts):
        return f"everything {word}"
    said = []
    for whole, members in _GROUPS:
        if members <= names:
            said.append(whole)
            names -= members
    said += [p.words for p in Part if p in names]
    return f"{', '.join(said)} {word}"


_GROUPS: tuple[tuple[str, set[Part]], ...] = (
    ("arms", {p for p in Part if p.endswith("arm")}),
    ("left arm", {Part.LEFT_UPPER_ARM, Part.LEFT_FOREARM}),
    ("right arm", {Part.RIGHT_UPPER_ARM, Part.RIGHT_FOREARM}),
    ("legs", {p for p in Part if p.endswith(("thigh", "shin"))}),
    ("left leg", {Part.LEFT_THIGH, Part.LEFT_SHIN}),
    ("right leg", {Part.RIGHT_THIGH, Part.RIGHT_SHIN}),
)


def _how_sure(certainty: float) -> str:
    return "sure" if certainty >= 0.95 else "fairly sure" if certainty >= FAIRLY else "perhaps"
