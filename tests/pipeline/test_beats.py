"""From beats that were heard to words and to grids."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.signal import resample_poly

from juxtakine.demo.lantern_quay import BPM
from juxtakine.demo.music import RATE as TUNE_RATE
from juxtakine.demo.music import harbour_tune
from juxtakine.media.sound import RATE
from juxtakine.pipeline.beats import BeatsForm, PaceForm, beats_form, heard_beats
from juxtakine.pipeline.comparison import Sound

STARTS_S = 1.7


def pace(seconds: list[float], drift: float = 0.0, jumps: tuple[float, ...] = (), error: float = 0.02) -> PaceForm:
    bpm = 60 * (len(seconds) - 1) / (seconds[-1] - seconds[0])
    return PaceForm(bpm=bpm, bpm_error=error, drift=drift, jumps=list(jumps), seconds=seconds, ones=[])


def beats(lengths: list[float]) -> list[float]:
    return [2.0 + float(t) for t in np.cumsum([0.0, *lengths])]


@given(st.lists(st.floats(0.3, 1.0), min_size=9, max_size=60), st.data())
def test_of_a_tempo_that_moves_the_grid_follows_the_beats(lengths: list[float], data: st.DataObject) -> None:
    """Count 1 on the chosen beat, every eighth from it on its own beat, and those between within their eight."""
    seconds = beats(lengths)
    first = data.draw(st.integers(0, len(seconds) - 1))
    grid = pace(seconds, drift=0.04).grid(seconds[first])
    assert float(grid.seconds(0)) == pytest.approx(seconds[first])
    for i in range(first % 8, len(seconds), 8):
        assert float(grid.seconds(i - first)) == pytest.approx(seconds[i])
    along = [float(grid.seconds(i - first)) for i in range(len(seconds))]
    assert all(a < b for a, b in pairwise(along))


@given(st.floats(0.3, 1.0), st.integers(9, 60), st.data())
def test_of_a_tempo_that_holds_two_anchors_are_enough(length: float, n: int, data: st.DataObject) -> None:
    seconds = beats([length] * n)
    first = data.draw(st.integers(0, n))
    grid = pace(seconds).grid(seconds[first] + 0.3 * length)
    assert len(grid.anchors) <= 3
    assert [float(grid.seconds(i - first)) for i in (0, n)] == pytest.approx([seconds[0], seconds[-1]])


@pytest.mark.parametrize(
    ("made", "said"),
    [
        (pace(beats([0.5] * 16)), "120.0 counts a minute, ±0.1"),
        (pace(beats([0.5] * 16), error=0.44), "120.0 counts a minute, ±0.4"),
        (pace(beats([0.5] * 16), drift=0.031), "120.0 counts a minute, ±0.1; it gets faster by 3.1 %"),
        (pace(beats([0.5] * 16), drift=-0.02), "120.0 counts a minute, ±0.1; it gets slower by 2.0 %"),
        (pace(beats([0.5] * 16), jumps=(6.5, 71.25)), "±0.1; the tempo changes at 0:06.5, 1:11.2"),
    ],
)
def test_the_pace_is_said_with_what_it_does(made: PaceForm, said: str) -> None:
    assert made.said.endswith(said)


@pytest.fixture(scope="module")
def tune() -> Sound:
    """The demo's music, beginning at 1.7 s of its clip."""
    samples = resample_poly(harbour_tune(BPM, 40), RATE // 100, TUNE_RATE // 100)
    return Sound(samples.astype(np.float32), STARTS_S)


def test_half_and_double_are_one_choice_away_and_all_in_the_clips_own_time(tune: Sound) -> None:
    found = heard_beats(tune)
    plain, half, double = found.paces
    assert [p.bpm / plain.bpm for p in (half, double)] == pytest.approx([0.5, 2.0])
    assert plain.bpm == pytest.approx(BPM, rel=0.002)
    assert set(half.seconds) <= set(plain.seconds) <= set(double.seconds)
    for p in found.paces:
        assert all(min(abs(o.seconds - s) for s in p.seconds) < 0.001 for o in p.ones)
    counts = (np.array(plain.seconds) - STARTS_S) * BPM / 60
    assert np.abs(counts - np.rint(counts)).max() < 0.05


def test_the_command_lines_form_tells_the_same(tune: Sound) -> None:
    form, found = beats_form(tune), heard_beats(tune).paces[0]
    assert form.beats == pytest.approx(found.seconds, abs=1e-4)
    assert [o.seconds for o in form.ones] == pytest.approx([o.seconds for o in found.ones], abs=1e-4)
    written = form.model_dump_json()
    assert BeatsForm.model_validate_json(written).model_dump_json() == written


def test_where_there_is_no_beat_it_is_said_why() -> None:
    noise = np.random.default_rng(4).normal(0, 0.1, 8 * RATE).astype(np.float32)
    assert heard_beats(Sound(noise, 0.0)).paces == []
    assert "no even beat is heard here" in str(heard_beats(Sound(noise, 0.0)).why_not)
    assert "too short" in str(heard_beats(Sound(noise[:RATE], 0.0)).why_not)
