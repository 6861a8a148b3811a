"""Small figures: upright, in the dancer's own height, and nothing drawn of what is not seen."""

from dataclasses import replace

import numpy as np
import pytest

from juxtakine.core.movement.body import Landmark
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.figures import LINES, figures
from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.look import Look
from support.dancer import FIRST_S, routine, track_of

WIDTH = 640


def movement(away_m: float = 4.3):  # type: ignore[no-untyped-def]  # a Movement
    camera = Camera(position=(0, 1.1, away_m), look_at=(0, 0.92, 0), fps=15)
    return clean(track_of(Scene(routine(), Look(), camera, None, 3)))


def test_a_figure_is_the_same_however_far_away_it_was_filmed() -> None:
    at = np.array([FIRST_S, FIRST_S + 2.0])
    near, far = (figures(movement(d), at, WIDTH) for d in (4.0, 6.0))
    for a, b in zip(near, far, strict=True):
        assert len(a.lines) == len(LINES)
        assert np.array(a.lines) == pytest.approx(np.array(b.lines), abs=0.06)
        assert a.head is not None
        assert 0.7 < a.head[1] < 1.1
        assert min(y for line in a.lines for y in (line[1], line[3])) == pytest.approx(0.0, abs=1e-6)


def test_what_is_not_seen_is_not_drawn() -> None:
    whole = movement()
    image = whole.image.copy()
    image[:, Landmark.LEFT_WRIST] = np.nan
    (one,) = figures(replace(whole, image=image), np.array([FIRST_S]), WIDTH)
    assert len(one.lines) == len(LINES) - 1
    (beyond,) = figures(whole, np.array([999.0]), WIDTH)
    assert (beyond.lines, beyond.head, beyond.middle) == ((), None, None)
