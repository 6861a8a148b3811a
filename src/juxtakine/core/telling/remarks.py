"""All that is told of one count, line by line, and the moment at which the student is shown."""

from collections.abc import Sequence
from dataclasses import dataclass

from juxtakine.core.comparing.explaining.evidence import STRETCHES
from juxtakine.core.comparing.results import (
    CountResult,
    FindingKind,
    PartResult,
    PositionVerdict,
    TimingVerdict,
    Unit,
    Untold,
)
from juxtakine.core.movement.body import ARMS, Part
from juxtakine.core.telling.findings import name_of, part_said, said

FAIRLY = 0.7
FRAME_S = 1 / 30
"""Of a film: what is nearer looks the same."""


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


def remarks(result: CountResult, counts: Sequence[CountResult], styles: Sequence[str] = ()) -> tuple[Remark, ...]:
    """All that is told of one count: causes, timing, what was off or only followed, what held or was not seen.

    `counts` are all of the comparison; `styles` names the references whose style may be right too.
    """
    stretches = [f for f in result.findings if f.kind in STRETCHES]
    causes = [Remark(said(f, counts), _how_sure(f.certainty), True) for f in (*stretches, *result.within)]
    pace = [Remark(said(f, counts), _how_sure(f.certainty), True) for f in result.findings if f.kind in _PACE]
    by = [Remark(f"danced more as in {styles[result.style - 1]}, and judged by it", "", False)] if result.style else []
    return (*causes, _timing(result), *pace, *_parts(result), *by)


_PACE = (FindingKind.HURRIED, FindingKind.DRAGGED)


def _timing(result: CountResult) -> Remark:
    timing = result.timing
    if timing.error_ms is None:
        return Remark(_WHY[timing.why or Untold.STILL], "", False)
    side = "behind" if timing.error_ms > 0 else "ahead"
    size = f"{abs(timing.error_ms):.0f} ±{timing.se_ms:.0f} ms {side}"
    off = timing.verdict is not TimingVerdict.ON
    return Remark(size if off else f"on it ({size})", f"{abs(timing.error_counts or 0):.2f} of a count", off)


_WHY = {
    Untold.FREE: "yours: not scored",
    Untold.HOLD: "a hold: no arrival to time",
    Untold.GOES_ON: "goes on: judged where it arrives",
    Untold.BEYOND_CLIP: "outside the clip: not danced in it",
    Untold.NOT_SEEN: "timing not seen",
    Untold.STILL: "timing not measurable: too little moves here",
    Untold.FAINT: "timing not measurable: this move does not show when it arrives",
    Untold.TOO_FAR: "timing not measurable: this move does not arrive within half a second",
    Untold.ANOTHER_MOVE: "timing not measurable: you do something else here, which shows no time",
    Untold.OTHER_PACE: "timing not measurable: danced at another pace than the counts",
    Untold.BETWEEN: "timing not measurable: under way to or from the count beside it",
}


_UNTOLD = {PositionVerdict.NEAR: "near", PositionVerdict.OFF: "hard to see from here: not counted"}
"""What is said of a part beyond its tolerance that is no finding."""


def _parts(result: CountResult) -> tuple[Remark, ...]:
    parts = result.position.parts
    off = [
        Remark(part_said(f.part, parts[f.part]), f"{_how_sure(f.certainty)}; {_passes(parts[f.part])} passes", True)
        for f in result.findings
        if f.part in parts
    ]
    leaders = dict.fromkeys(r.follows for r in parts.values() if r.follows)
    led = [Remark(_following(parts, leader), "", False) for leader in leaders]
    told = {f.part for f in result.findings}
    untold = [(p, r) for p, r in parts.items() if r.beyond and not r.follows and p not in told]
    passing = ", ".join(p.words for p, r in untold if r.passing)
    led += [Remark(f"on the way, as {_why_passing(result)}: {passing}", "", False)] if passing else []
    near = [Remark(part_said(p, r), _UNTOLD[r.verdict], False) for p, r in untold if not r.passing]
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
