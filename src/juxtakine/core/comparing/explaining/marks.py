"""Evidence to look at: where a part that is off is in the student's picture, and where the instructor's would be."""

from dataclasses import dataclass

import numpy as np

from juxtakine.core.comparing.results import CountResult, Mirror, Whose
from juxtakine.core.movement.body import Part, ends, mirrored_part
from juxtakine.core.movement.cleaning import RATE, Movement
from juxtakine.core.movement.features import LIMBS, lengths
from juxtakine.core.movement.tracks import Floats


@dataclass(frozen=True)
class Picture:
    """A cleaned movement in a picture of so many pixels."""

    movement: Movement
    width: int
    height: int


@dataclass(frozen=True)
class Line:
    """From one point to another, as shares of the picture: x from its left, y from its top."""

    x1: float
    y1: float
    x2: float
    y2: float


@dataclass(frozen=True)
class Marks:
    """Lines over the instructor's picture, and over the student's: the student's own parts, and where they are meant
    to be."""

    reference: tuple[Line, ...] = ()
    own: tuple[Line, ...] = ()
    meant: tuple[Line, ...] = ()


def marks(result: CountResult, mirror: Mirror, reference: Picture, take: Picture) -> Marks:
    """Of all segments that a count has findings of: in the reference's picture at the count, in the take's at the
    moment at which they were judged. None where it was judged by another reference than this one."""
    parts = [f.part for f in result.findings if f.part in LIMBS] if not result.style else []
    shown = [_shown(reference, p, Whose.REFERENCE in mirror.turned, result.reference_s) for p in parts]
    pairs = [_meant(result, p, take, Whose.TAKE in mirror.turned) for p in parts]
    seen = [pair for pair in pairs if pair]
    return Marks(tuple(line for line in shown if line), tuple(own for own, _ in seen), tuple(m for _, m in seen))


def _shown(picture: Picture, part: Part, turned: bool, seconds: float) -> Line | None:
    """The segment as it is; `turned`: of a picture in which left is right."""
    points = _points(picture, mirrored_part(part) if turned else part, seconds)
    return points and _line(picture, *points[:2])


def _meant(result: CountResult, part: Part, take: Picture, turned: bool) -> tuple[Line, Line] | None:
    """The student's segment, and the instructor's put to where it begins."""
    points = _points(take, mirrored_part(part) if turned else part, result.judged_s)
    meant = result.position.parts[part].meant
    if points is None or meant is None:
        return None
    start, end, length = points
    there = start + length * np.array(meant) * [-1 if turned else 1, 1]
    return _line(take, start, end), _line(take, start, there)


def _points(picture: Picture, part: Part, seconds: float) -> tuple[Floats, Floats, float] | None:
    """Where a segment begins and ends at this moment, and its near-longest length, in pixels; None if not seen."""
    movement = picture.movement
    row = round((seconds - movement.seconds[0]) * RATE) if len(movement.seconds) else -1
    if not 0 <= row < len(movement.seconds):
        return None
    start, end = (of[row] for of in ends(movement.image, part))
    length = float(lengths(movement, part)[row])
    return (start, end, length) if np.isfinite([*start, *end, length]).all() else None


def _line(picture: Picture, start: Floats, end: Floats) -> Line:
    size = picture.width, picture.height
    return Line(*(start / size).tolist(), *(end / size).tolist())
