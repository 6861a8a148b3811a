"""How deep a segment points: from its shortening in the picture and the 3D estimate, and how well that is known."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.movement.body import SEGMENTS, Part
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.depth import Known, depth_of
from juxtakine.core.movement.features import LIMBS, features
from juxtakine.core.movement.tracks import Floats
from juxtakine.demo import lantern_quay
from juxtakine.demo.load import TRACKS
from juxtakine.media.track_file import load_track

ARM = Known(0.2, 0.27)
lengths, depths = st.floats(0.05, 1.2), st.floats(-1, 1)


def depth(length: float, told: float) -> tuple[float, float]:
    where, error = depth_of(np.array([length]), np.array([told]), ARM)
    return float(where[0]), float(error[0])


@given(lengths, depths)
def test_what_points_away_is_as_deep_as_what_points_to_the_camera(length: float, told: float) -> None:
    (there, error), (here, other) = depth(length, told), depth(length, -told)
    assert there == pytest.approx(-here, abs=1e-9)
    assert error == pytest.approx(other)


@given(lengths, depths)
def test_it_lies_between_what_both_say(length: float, told: float) -> None:
    size = float(np.sqrt(max(0.0, 1 - length**2)))
    there, error = depth(length, told)
    assert min(-size, told) - 1e-9 <= there <= max(size, told) + 1e-9
    assert error > 0


def test_a_short_segment_whose_side_is_told_is_as_deep_as_its_shortening_says() -> None:
    there, error = depth(0.3, 0.8)
    assert there == pytest.approx(np.sqrt(1 - 0.3**2), abs=0.05)
    assert error < 0.1


def test_a_short_segment_whose_side_is_not_told_may_point_either_way() -> None:
    there, error = depth(0.3, 0.0)
    assert there == pytest.approx(0.0)
    assert error > 0.7


def test_across_the_picture_the_3d_estimate_tells_and_no_better_than_it_can() -> None:
    there, error = depth(1.0, 0.4)
    assert 0.2 < there < 0.4
    assert 0.5 * ARM.in_space < error <= ARM.in_space


@pytest.fixture(scope="module")
def of_demo() -> dict[Part, tuple[Floats, Floats, Floats]]:
    """Per part, of all shipped clips: how far the depths are off, the same without what is constant over a clip, and
    their standard errors."""
    scenes = {"reference": lantern_quay.reference_scene()}
    scenes |= {p.name: lantern_quay.take_scene(p) for p in lantern_quay.TAKES}
    rows: dict[Part, list[Floats]] = {part: [] for part in LIMBS}
    for name, scene in scenes.items():
        truth, told = scene.truth(), features(clean(load_track(TRACKS / f"{name}.npz")))
        at = told.at(truth.seconds)
        turns = [scene.camera.view(t, scene.seed).r for t in truth.seconds]
        for i, part in enumerate(LIMBS):
            start, end = (truth.world[:, list(marks)].mean(1) for marks in SEGMENTS[part])
            deep = np.array([(v @ r.T)[2] for v, r in zip(end - start, turns, strict=True)])
            true = deep / np.linalg.norm(end - start, axis=1)
            off = at.vectors[:, i, 2] - true
            rows[part].append(np.column_stack([off, off - np.nanmedian(off), at.doubt[:, i, 1]]))
    return {part: tuple(np.concatenate(r)[np.isfinite(np.concatenate(r)).all(1)].T) for part, r in rows.items()}  # type: ignore[misc]


@pytest.mark.parametrize("part", [p for p in LIMBS if p is not Part.HEAD])
def test_the_true_depth_is_within_two_standard_errors(part: Part, of_demo: dict[Part, tuple[Floats, ...]]) -> None:
    """These clips were four of the 22 on which that was fitted."""
    _, off, error = of_demo[part]
    assert float((np.abs(off) <= 2 * error).mean()) >= 0.88


@pytest.mark.parametrize("part", [Part.TORSO, Part.LEFT_SHIN, Part.RIGHT_SHIN])
def test_bodies_stand_upright(part: Part, of_demo: dict[Part, tuple[Floats, ...]]) -> None:
    """As the 3D estimate comes, they lean away by a sixth of their length."""
    assert abs(float(np.median(of_demo[part][0]))) < 0.1
