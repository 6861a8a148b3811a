"""Evidence over the pictures, against the joints that the made-up dancer truly has: with the fault, and without it."""

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.explaining.marks import Line, Marks, Picture, marks
from juxtakine.core.comparing.results import Comparison, FindingKind, Method, Whose
from juxtakine.core.movement.body import Landmark
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import features
from juxtakine.core.movement.tracks import Floats, Track
from juxtakine.core.telling.remarks import moment
from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.look import Look
from juxtakine.demo.motion import Motion
from support.dancer import GRID, SHEET, mirrored, routine, track_of

CAMERA = Camera(position=(0.1, 1.1, 4.3), look_at=(-0.15, 0.92, 0), orbit_deg=8, fps=15)
AT = 14
"""The count on which the left arm hangs 40 degrees too low."""


def seen(motion: Motion, body: str) -> Track:
    return track_of(Scene(motion, Look(body=body), CAMERA, None, 3))


@cache
def clips() -> tuple[Track, Track]:
    """The instructor, and a student of another body with the low arm."""
    return seen(routine(), "f"), seen(routine().adjust(AT, l_elev=-40), "m")


def told(reference: Track, take: Track) -> tuple[Comparison, Marks]:
    """The comparison, and the marks of the count."""
    movements = [clean(t) for t in (reference, take)]
    result = compare(*map(features, movements), SHEET, GRID, CommonTime(GRID, Method.SOUND, 1.0))
    pictures = [Picture(m, t.width, t.height) for m, t in zip(movements, (reference, take), strict=True)]
    return result, marks(next(c for c in result.counts if c.count.at == AT), result.mirror, *pictures)


def arm(track: Track, later_s: float = 0.0) -> Floats:
    """(2, 2) the left shoulder and elbow on the count or so much later, as shares of the picture."""
    at_s = GRID.seconds(AT) + later_s
    joints = [[float(np.interp(at_s, track.seconds, track.image[:, joint, axis])) for axis in (0, 1)]
              for joint in (Landmark.LEFT_SHOULDER, Landmark.LEFT_ELBOW)]  # fmt: skip
    return np.array(joints) / [track.width, track.height]


def points(line: Line) -> Floats:
    return np.array([[line.x1, line.y1], [line.x2, line.y2]])


def test_a_low_arm_is_drawn_where_it_is_and_where_the_instructors_would_be() -> None:
    reference, take = clips()
    _, drawn = told(reference, take)
    assert [len(lines) for lines in vars(drawn).values()] == [1, 1, 1]
    assert points(drawn.own[0]) == pytest.approx(arm(take), abs=0.01)
    assert points(drawn.reference[0]) == pytest.approx(arm(reference), abs=0.01)
    right = arm(seen(routine(), "m"))
    assert points(drawn.meant[0])[0] == pytest.approx(arm(take)[0], abs=0.01)
    assert points(drawn.meant[0])[1] == pytest.approx(right[1], abs=0.03)
    assert abs(arm(take)[1, 1] - right[1, 1]) > 0.08


def test_on_a_late_count_it_is_drawn_where_it_arrives() -> None:
    reference, take = clips()[0], seen(routine().adjust(AT, l_elev=-40).delay(AT, 200), "m")
    result, drawn = told(reference, take)
    count = next(c for c in result.counts if c.count.at == AT)
    assert [f.kind for f in count.findings] == [FindingKind.LATE, FindingKind.LIMB]
    shown = moment(count)
    assert shown.after_s == pytest.approx(0.2, abs=0.03)
    assert shown.words == f"{shown.after_s:.2f} s later"
    assert points(drawn.own[0]) == pytest.approx(arm(take, later_s=0.2), abs=0.01)
    assert points(drawn.reference[0]) == pytest.approx(arm(reference), abs=0.01)


def flipped(lines: tuple[Line, ...]) -> list[Floats]:
    return [points(line) * [-1, 1] + [1, 0] for line in lines]


@pytest.mark.parametrize("whose", list(Whose))
def test_in_a_flipped_picture_the_same_is_drawn_flipped(whose: Whose) -> None:
    """The sides are turned back, and it is the same arm that is off."""
    reference, take = clips()
    _, plain = told(reference, take)
    of_take = whose is Whose.TAKE
    result, drawn = told(*((reference, mirrored(take)) if of_take else (mirrored(reference), take)))
    assert result.mirror.used
    for name, lines in vars(drawn).items():
        before = vars(plain)[name]
        turned = of_take == (name != "reference")
        expected = flipped(before) if turned else [points(line) for line in before]
        assert [points(line) for line in lines] == [pytest.approx(line, abs=0.02) for line in expected]


def test_of_what_held_nothing_is_drawn() -> None:
    reference, take = clips()
    result, _ = told(reference, take)
    picture = Picture(clean(take), take.width, take.height)
    held = next(c for c in result.counts if c.count.at == AT + 2)
    assert marks(held, result.mirror, picture, picture) == Marks()
    beyond = replace(next(c for c in result.counts if c.count.at == AT), judged_s=-1.0)
    assert marks(beyond, result.mirror, picture, picture).own == ()
