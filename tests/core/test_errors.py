"""How far landmarks may be off, against the exact joints of the shipped clips, on which nothing was fitted."""

from dataclasses import replace

import numpy as np
import pytest

from juxtakine.core.movement import errors
from juxtakine.core.movement.tracks import Floats, Track
from juxtakine.demo import lantern_quay
from juxtakine.demo.load import TRACKS
from juxtakine.media.track_file import load_track, save_track

LOOKED_AT = [0, 7, 8, *range(11, 17), *range(23, 29)]
NAMES = ["reference", *(p.name for p in lantern_quay.TAKES)]


def shipped(name: str) -> Track:
    return load_track(TRACKS / f"{name}.npz")


def off_px(name: str, track: Track) -> Floats:
    """(n, 15) how far the landmarks that are compared truly are from the joints."""
    plans = {p.name: p for p in lantern_quay.TAKES}
    scene = lantern_quay.take_scene(plans[name]) if name in plans else lantern_quay.reference_scene()
    truth = scene.truth()
    assert np.allclose(truth.seconds, track.seconds, atol=1e-3)
    return np.linalg.norm(track.image - truth.image, axis=2)[:, LOOKED_AT]


def test_each_model_has_errors_of_its_own() -> None:
    track = shipped("take-1")
    assert track.model in errors.WEIGHTS
    other = replace(track, estimator=track.estimator.replace(track.model, "full"))
    assert not np.allclose(errors.of_track(other), errors.of_track(track), equal_nan=True)


@pytest.mark.parametrize("name", NAMES)
def test_the_true_error_is_within_two_standard_errors_as_often_as_it_should_be(name: str) -> None:
    track = shipped(name)
    off, told = off_px(name, track), errors.of_track(track)[:, LOOKED_AT]
    inside = float((off <= 2 * told)[track.estimated].mean())
    assert 0.90 <= inside <= 0.995


def test_where_more_is_told_more_is_off() -> None:
    """Of the same joints of arms and legs, the twentieth with the largest told errors against the rest."""
    tracks = {name: shipped(name) for name in NAMES}
    off = np.concatenate([off_px(n, t) for n, t in tracks.items()])
    told = np.concatenate([errors.of_track(t)[:, LOOKED_AT] for t in tracks.values()])
    ends = [LOOKED_AT.index(m) for m in (13, 14, 15, 16, 25, 26)]
    unsure = told[:, ends] >= np.percentile(told[:, ends], 95, axis=0)
    assert off[:, ends][unsure].mean() > 1.25 * off[:, ends][~unsure].mean()


def test_a_limb_that_points_at_the_camera_is_less_sure() -> None:
    track = shipped("reference")
    pointing = track.image.copy()
    pointing[100:110, 15] = track.image[100:110, 13] + [2.0, 2.0]
    plain, other = errors.of_track(track), errors.of_track(replace(track, image=pointing))
    assert (other[102:108, 15] > 1.2 * plain[102:108, 15]).all()


def test_twice_as_large_a_picture_has_errors_twice_as_large() -> None:
    track = shipped("take-1")
    larger = replace(track, image=2 * track.image)
    assert np.allclose(errors.of_track(larger), 2 * errors.of_track(track), equal_nan=True)


def test_nobody_there_has_no_error_and_a_track_file_keeps_them(tmp_path) -> None:  # type: ignore[no-untyped-def]
    track = shipped("take-1")
    lost = track.image.copy()
    lost[:5] = np.nan
    gone = replace(track, image=lost)
    save_track(gone, tmp_path / "t.npz")
    kept = np.load(tmp_path / "t.npz")["error_px"]
    assert np.isnan(kept[:5]).all()
    assert np.allclose(kept[5:], errors.of_track(gone)[5:], rtol=1e-5)


def test_an_arm_that_is_hardly_visible_is_less_sure_and_a_leg_as_sure() -> None:
    track = shipped("reference")
    hidden = track.visibility.copy()
    hidden[100:110, [13, 15, 25]] = 0.3
    plain, other = errors.of_track(track), errors.of_track(replace(track, visibility=hidden))
    times = (other / plain)[100:110]
    assert (times[:, [13, 15]] > 2).all()
    assert (times[:, 25] < 1.5).all()
