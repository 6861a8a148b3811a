"""A finding in words."""

from collections.abc import Sequence

from juxtakine.core.comparing.results import CountResult, Finding, FindingKind, PartResult, Unit, Way
from juxtakine.core.movement.body import Part

WHOLE = 0.2
"""So near to whole counts a slip is said to be so many."""
RATHER = 0.95
"""Below such a chance that it is the one of two, the other one is told as well."""
_NAMES = {Part.LEVEL: "hips", Part.SPREAD: "feet", Part.FACING: "body"}
_OR_ELSE = {Part.FACING: ", or the head alone", Part.HEAD: ", or the body with it"}
_WAYS = {
    Way.LOW: "too low", Way.HIGH: "too high", Way.OUT: "too far out", Way.IN: "too far in", Way.BENT: "too bent",
    Way.STRAIGHT: "not bent enough", Way.NARROW: "too narrow", Way.WIDE: "too wide", Way.LEFT: "too far left",
    Way.RIGHT: "too far right", Way.UP: "too far up", Way.DOWN: "too far down",
}  # fmt: skip
_TURNED = {
    Way.LITTLE: "turned too little", Way.FAR: "turned too far", Way.LEFT: "turned to the left",
    Way.RIGHT: "turned to the right",
}  # fmt: skip


def said(finding: Finding, counts: Sequence[CountResult]) -> str:
    """ "84 ms behind (0.15 of a count)", "left upper arm 31° too low", "drifts behind from 1 to 8, by 140 ms".

    `counts` are all of the comparison in which it stands.
    """
    covered = [c for c in counts if finding.start <= c.count.at <= finding.end]
    if finding.part is not None:
        return part_said(finding.part, covered[0].position.parts[finding.part])
    match finding.kind:
        case FindingKind.EARLY | FindingKind.LATE:
            return f"{timing_said(finding)} ({abs(finding.counts or 0):.2f} of a count)"
        case FindingKind.HURRIED:
            return f"starts {finding.size:.0f} ms late for its arrival, and hurries"
        case FindingKind.DRAGGED:
            return f"starts {-finding.size:.0f} ms early for its arrival, and drags"
        case _:
            return _of_stretch(finding, [c.count.label for c in covered])


def timing_said(finding: Finding) -> str:
    """ "84 ms behind"."""
    return f"{abs(finding.size):.0f} ms {'behind' if finding.size > 0 else 'ahead'}"


def _of_stretch(finding: Finding, labels: Sequence[str]) -> str:
    size, span = finding.size, f"{labels[0]} to {labels[-1]}"
    match finding.kind:
        case FindingKind.SLIP:
            return f"slips {'' if size > 0 else 'ahead '}by {_in_counts(finding)}, from {labels[0]} on"
        case FindingKind.DRIFT:
            return f"drifts {'behind' if size > 0 else 'ahead'} from {span}, by {abs(size):.0f} ms"
        case FindingKind.LEFT_HOLD_EARLY:
            return f"the hold is left {-size:.0f} ms early"
        case FindingKind.TURN:
            return f"turned too {'little' if size < 0 else 'far'} by {abs(size):.0f}° from {span}"
        case FindingKind.WRONG_SIDE:
            return f"danced to the other side {f'from {span}' if len(labels) > 1 else f'on {labels[0]}'}"
        case FindingKind.MISSING:
            return "this move is missing"
        case FindingKind.EXTRA:
            return "a move in the hold"
        case FindingKind.PACE:
            how = "slower" if size < 1 else "quicker"
            return f"danced {how} than the counts, from {labels[0]} on: {size:.0%} of the pace"
        case FindingKind.RANGE:
            return f"the arms go {size:.0%} of their way"
        case other:
            raise ValueError(f"{other} is no finding of a stretch")


def _in_counts(finding: Finding) -> str:
    """ "190 ms", or "a count, 545 ms" where it is whole ones."""
    size, counts = f"{abs(finding.size):.0f} ms", abs(finding.counts or 0.0)
    whole = round(counts)
    if not whole or abs(counts - whole) > WHOLE:
        return size
    return f"{'a count' if whole == 1 else f'{whole} counts'}, {size}"


def name_of(part: Part) -> str:
    """As it is spoken of: hips, feet and body for level, spread and facing."""
    return _NAMES.get(part, part.words)


def part_said(part: Part, result: PartResult) -> str:
    """ "left upper arm 31° too low"; empty where the part was not seen."""
    if result.error is None or result.way is None:
        return ""
    size = f"{abs(result.error):.0f}°" if result.unit is Unit.DEGREES else f"{abs(result.error):.2f} leg lengths"
    if part is Part.TORSO:
        return f"torso leans {result.way.value} by {size}"
    other = _OR_ELSE.get(part, "") if result.rather < RATHER else ""
    if part is Part.FACING:
        return f"{_TURNED[result.way]} by {size}{other}"
    return f"{name_of(part)} {size} {_WAYS[result.way]}{other}"
