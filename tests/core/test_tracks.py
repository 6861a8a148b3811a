"""Tracks and what is carried between estimated frames; what can't be a track is refused when it is made."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import LIMBS, features
from juxtakine.core.movement.filling import filled_in
from juxtakine.core.movement.framing import WHOLE, frame_of
from juxtakine.core.movement.tracks import Track
from support.limbs import danced, noisy

N = 12
STILL = Track(
    np.arange(N) / 30, np.full((N, 33, 2), 100.0), np.zeros((N, 33, 3)), np.ones((N, 33)), np.ones(N, bool),
    np.ones(N, bool), 640, 360, "made up pose_full",
)  # fmt: skip


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"image": np.zeros((N, 32, 2))}, "image has the shape"),
        ({"world": np.zeros((N, 33, 2))}, "world has the shape"),
        ({"followed": np.ones(N - 1, bool)}, "followed has the shape"),
        ({"seconds": np.zeros(N)}, "time stamps must rise"),
        ({"seconds": np.arange(N)[::-1] / 30}, "time stamps must rise"),
    ],
)
def test_what_can_not_be_a_track_is_refused(change: dict[str, np.ndarray], sentence: str) -> None:  # type: ignore[type-arg]
    with pytest.raises(ValueError, match=sentence):
        replace(STILL, **change)


def test_the_model_is_the_last_word_of_the_estimators_name() -> None:
    assert STILL.model == "full"
    assert replace(STILL, estimator="another 0.1 heavy").model == "heavy"


@given(st.integers(4, 30), st.sampled_from([1, 2, 4]), st.data())
def test_between_estimated_frames_all_is_filled_in_and_over_gaps_nothing(
    n: int, step: int, data: st.DataObject
) -> None:
    times = np.arange(n * step) / 30
    at = np.append(np.arange(0, len(times), step), len(times) - 1)
    estimated = times[np.unique(at)]
    values = np.column_stack([np.sin(3 * estimated), np.cos(2 * estimated)])
    lost = data.draw(st.sets(st.integers(0, len(estimated) - 1), max_size=4))
    values[list(lost)] = np.nan
    out = filled_in(times, estimated, values)
    known = {round(float(t), 6): v for t, v in zip(estimated, values, strict=True)}
    for t, got in zip(times, out, strict=True):
        own = known.get(round(float(t), 6))
        if own is not None:
            assert np.allclose(got, own, equal_nan=True)
            continue
        i = int(np.searchsorted(estimated, t))
        both = np.isfinite(values[i - 1]).all() and np.isfinite(values[i]).all()
        assert np.isfinite(got).all() == both
        if both:
            assert abs(got[0] - np.sin(3 * t)) < 0.02


def test_a_body_that_is_never_found_has_no_features_and_breaks_nothing() -> None:
    nobody = replace(STILL, image=np.full((N, 33, 2), np.nan), world=np.full((N, 33, 3), np.nan),
                     visibility=np.zeros((N, 33)))  # fmt: skip
    assert not nobody.found.any()
    made = features(clean(nobody))
    assert not np.isfinite(made.vectors).any()


@given(st.floats(0, 3), st.integers(4, 300))
@example(1.305223, 251)  # where steps of a thirtieth add up to a hair more than the last frame's time
def test_a_clip_may_begin_and_end_at_any_time(first: float, steps: int) -> None:
    seconds, n = first + np.arange(steps + 1) / 30, steps + 1
    places = np.random.default_rng(0).uniform(50, 300, (33, 3))
    image, world = (np.tile(a, (n, 1, 1)) for a in (places[:, :2], places / 300))
    made = clean(Track(seconds, image, world, np.ones((n, 33)), np.ones(n, bool), np.ones(n, bool), 640, 360, "full"))
    assert made.seconds[0] == first
    assert 0 <= seconds[-1] - made.seconds[-1] <= 1.001 / 30
    assert made.seen[:, 0].all()


@given(st.floats(-1, 26), st.floats(0.01, 3))
def test_features_at_other_times_lie_between_their_neighbours(first: float, lasts: float) -> None:
    """And beyond both ends nothing is seen."""
    whole = noisy(danced())
    seconds = np.linspace(first, first + lasts, 7)
    made = whole.at(seconds)
    inside = (seconds >= whole.seconds[0]) & (seconds <= whole.seconds[-1])
    assert np.array_equal(np.isfinite(made.vectors).all((1, 2)), inside)
    for t, vectors in zip(seconds[inside], made.vectors[inside], strict=True):
        i = min(int(np.searchsorted(whole.seconds, t, side="right")), len(whole.seconds) - 1)
        low, high = np.sort(whole.vectors[i - 1 : i + 1], axis=0)
        assert ((vectors >= low - 1e-9) & (vectors <= high + 1e-9)).all()


def test_the_mirror_of_the_mirror_is_the_movement_itself() -> None:
    whole = noisy(danced())
    twice = whole.mirrored.mirrored
    for name in ("vectors", "doubt", "feet", "level", "facing"):
        assert np.array_equal(getattr(twice, name), getattr(whole, name))
    left, right = LIMBS.index(LIMBS[2]), LIMBS.index(LIMBS[3])
    assert np.array_equal(whole.mirrored.vectors[:, left, 1], whole.vectors[:, right, 1])
    assert np.array_equal(whole.mirrored.vectors[:, left, 0], -whole.vectors[:, right, 0])


@given(st.floats(0.1, 0.9), st.floats(0.2, 0.8), st.floats(0.02, 0.2), st.floats(0.05, 0.3), st.sampled_from([0, 1, 2]))
def test_a_frame_holds_the_dancer_wherever_they_go_but_no_spike(
    x: float, y: float, wide: float, high: float, spikes: int
) -> None:
    """Sway and bend by two waves within a box, in shares of a picture of 640 by 360; one landmark leaps away."""
    n, turn = 300, np.linspace(0, 14, 300)
    image = np.empty((n, 33, 2))
    image[..., 0] = (x + wide * np.sin(turn))[:, None] * 640
    image[..., 1] = (y + high * np.linspace(-1, 1, 33) * np.cos(3 * turn)[:, None]) * 360
    image[50 : 50 + spikes, 20] = 5000.0
    made = replace(
        STILL, seconds=np.arange(n) / 30, image=image, world=np.zeros((n, 33, 3)), visibility=np.ones((n, 33)),
        followed=np.ones(n, bool), estimated=np.ones(n, bool),
    )  # fmt: skip
    frame = frame_of(made, 0.0, 10.0)
    around = 0.1 * 2 * high
    for near, far, middle, reach, ratio in (
        (frame.left, frame.right, x, wide, 360 / 640), (frame.top, frame.bottom, y, high, 1.0),
    ):  # fmt: skip
        assert max(0.0, middle - reach - around * ratio) - 1e-9 <= near <= max(0.0, middle - 0.98 * reach)
        assert min(1.0, middle + 0.98 * reach) <= far <= min(1.0, middle + reach + around * ratio) + 1e-9


def test_where_nobody_is_seen_the_whole_picture_is_shown() -> None:
    nobody = replace(STILL, image=np.full((N, 33, 2), np.nan))
    for track, to_s in ((nobody, 1.0), (STILL, -1.0), (replace(STILL, visibility=np.zeros((N, 33))), 1.0)):
        assert frame_of(track, -2.0, to_s) == WHOLE
