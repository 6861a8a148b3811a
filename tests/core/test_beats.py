"""The beat of music whose beats are known, and counts that are tapped along."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.counting.grids import GridError
from juxtakine.core.counting.music.beats import beats, retimed
from juxtakine.core.counting.music.onsets import NoBeat
from juxtakine.core.counting.music.taps import tapped
from juxtakine.demo.music import RATE as MADE_AT
from juxtakine.demo.music import harbour_tune, in_a_room

RATE = MADE_AT // 2
LEAD_S = 0.7


def heard(bpm: float, counts: int = 64, room: bool = False) -> np.ndarray:
    tune = harbour_tune(bpm, counts)
    made = np.concatenate([np.zeros(round(LEAD_S * MADE_AT)), in_a_room(tune, 3) if room else tune])
    return made[: len(made) // 2 * 2].reshape(-1, 2).mean(1)


@pytest.mark.parametrize(("bpm", "room"), [(84.0, False), (108.0, True), (131.5, False)])
def test_beats_and_tempo_are_those_of_the_music(bpm: float, room: bool) -> None:
    found = beats(heard(bpm, room=room), RATE)
    true = LEAD_S + np.arange(64) * 60 / bpm
    errors = found.seconds[:, None] - true
    nearest = errors[np.arange(len(errors)), np.abs(errors).argmin(1)]
    assert found.bpm == pytest.approx(bpm, rel=0.002)
    assert np.abs(nearest).mean() < 0.015
    assert abs(nearest.mean()) < 0.005
    assert abs(found.drift) < 0.002
    assert found.jumps == ()


def test_half_and_double_are_the_same_beats_counted_otherwise() -> None:
    found = beats(heard(108.0), RATE)
    half, double = retimed(found, 0.5), retimed(found, 2)
    assert (half.bpm, double.bpm) == pytest.approx((found.bpm / 2, found.bpm * 2))
    assert set(half.seconds) <= set(found.seconds)
    assert double.seconds[::2] == pytest.approx(found.seconds)
    assert half.ones[0].seconds == found.ones[0].seconds


def test_music_that_gets_faster_is_followed() -> None:
    """By 4 % over a minute: each beat is where it was played."""
    steady = heard(108.0)
    counts = np.arange(len(steady)) / RATE
    warped = counts - 0.02 * counts**2 / counts[-1]  # time runs from 1 to 0.96 of itself
    found = beats(np.interp(np.arange(0, warped[-1], 1 / RATE), warped, steady), RATE)
    assert found.drift == pytest.approx(0.04, abs=0.012)
    played = np.interp(LEAD_S + np.arange(64) * 60 / 108, counts, warped)
    inside = played[(played > found.seconds[0] - 0.1) & (played < found.seconds[-1] + 0.1)]
    errors = [float(np.abs(found.seconds - t).min()) for t in inside]
    assert np.mean(errors) < 0.015


def test_a_tempo_that_jumps_is_told() -> None:
    found = beats(np.concatenate([heard(100.0, 48), heard(125.0, 48)]), RATE)
    assert len(found.jumps) == 1
    assert found.jumps[0] == pytest.approx(LEAD_S + 48 * 0.6, abs=6)


@pytest.mark.parametrize("kind", ["silence", "noise", "short"])
def test_without_a_beat_there_is_none(kind: str) -> None:
    random = np.random.default_rng(1)
    samples = {
        "silence": np.zeros(30 * RATE),
        "noise": random.normal(0, 0.1, 30 * RATE),
        "short": heard(108.0)[: 3 * RATE],
    }
    with pytest.raises(NoBeat):
        beats(samples[kind], RATE)


def test_where_the_dancer_moves_off_says_where_the_routine_begins() -> None:
    begins = LEAD_S + 16 * 60 / 108
    found = beats(heard(108.0), RATE, begins - 0.4)
    assert found.ones[0].seconds == pytest.approx(begins, abs=0.03)
    assert "the dancer moves off here" in found.ones[0].why


@given(
    st.floats(50, 200), st.floats(0, 5), st.integers(8, 40), st.integers(0, 2**32 - 1), st.sampled_from([None, 3]),
)  # fmt: skip
def test_taps_give_the_tempo_within_their_scatter(
    bpm: float, first_s: float, n: int, seed: int, passed: int | None
) -> None:
    """People scatter by 15 ms; a count may be passed over and one tap may slip."""
    random = np.random.default_rng(seed)
    taps = first_s + np.arange(n) * 60 / bpm + random.normal(0, 0.015, n)
    if passed is not None:
        taps = np.delete(taps, passed)
    made = tapped(taps.tolist())
    last = n - 1
    assert float(made.grid.seconds(0)) == pytest.approx(first_s, abs=5 * made.error_s + 0.02)
    assert float(made.grid.seconds(last)) == pytest.approx(first_s + last * 60 / bpm, abs=5 * made.error_s + 0.02)


def test_a_slipped_tap_is_left_out() -> None:
    taps = [2 + k * 0.5 for k in range(12)]
    taps[5] += 0.16
    made = tapped(taps)
    assert made.left_out == 1
    assert float(made.grid.seconds(11)) == pytest.approx(7.5, abs=1e-6)


@pytest.mark.parametrize("taps", [[1.0, 1.5], [1.0] * 5, [0.0, 0.1, 2.0, 2.05, 9.0, 9.2]])
def test_taps_that_tell_no_tempo_are_refused(taps: list[float]) -> None:
    with pytest.raises(GridError):
        tapped(taps)
