"""What rooms of the core share, against slow and plain ways of finding the same."""

from itertools import pairwise, product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from juxtakine.core.comparing.aligning.common_sound import match_sounds
from juxtakine.core.comparing.aligning.overlay import likeness_by_offset
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.pasted import PastedError, read_pasted
from juxtakine.core.paths import least_path

COSTS = st.floats(0, 10, width=32)


def cost_of(path: tuple[int, ...], change: np.ndarray, unlikely: np.ndarray) -> float:  # type: ignore[type-arg]
    """Of being in each state and of going from one to the next."""
    there = sum(unlikely[s, i] for i, s in enumerate(path))
    costs = change if change.ndim == 3 else np.repeat(change[..., None], len(path) - 1, 2)
    return float(there + sum(costs[a, b, i] for i, (a, b) in enumerate(pairwise(path))))


@given(st.integers(1, 3), st.integers(1, 5), st.booleans(), st.data())
def test_the_least_path_is_the_least_of_all_paths(states: int, steps: int, changing: bool, data: st.DataObject) -> None:
    shape = (states, states, steps - 1) if changing else (states, states)
    change = data.draw(arrays(np.float64, shape, elements=COSTS))
    unlikely = data.draw(arrays(np.float64, (states, steps), elements=COSTS))
    found = tuple(least_path(change, unlikely))
    least = min(cost_of(p, change, unlikely) for p in product(range(states), repeat=steps))
    assert cost_of(found, change, unlikely) == pytest.approx(least)


@given(st.integers(5, 20), st.integers(8, 40), st.floats(0.3, 1.0), st.integers(0, 2**32 - 1))
def test_likeness_is_the_correlation_of_what_overlaps(m: int, n: int, share: float, seed: int) -> None:
    random = np.random.default_rng(seed)
    pattern, recording = random.normal(size=(m, 3)), random.normal(size=(n, 3))
    offsets, likeness = likeness_by_offset(pattern, recording, share)
    for offset, told in zip(offsets, likeness, strict=True):
        first, after = max(0, -offset), min(m, n - offset)
        inside, over = pattern[first:after], recording[offset + first : offset + after]
        plain = (inside * over).sum() / np.sqrt((pattern**2).sum() * (over**2).sum())
        assert told == pytest.approx(plain, abs=1e-6) or told == 0.0
        assert after - first >= min(int(share * m) - 1, n)
    several = likeness_by_offset(np.stack([pattern[::-1], pattern]), recording, share)[1]
    assert several[1] == pytest.approx(likeness, abs=1e-6)


@given(st.integers(0, 30), st.integers(0, 2**32 - 1))
def test_a_pattern_is_found_where_it_was_put(place: int, seed: int) -> None:
    random = np.random.default_rng(seed)
    pattern, recording = random.normal(size=(40, 4)), random.normal(size=(80, 4))
    recording[place : place + 40] = pattern
    offsets, likeness = likeness_by_offset(pattern, recording, 0.8)
    assert offsets[likeness.argmax()] == place
    assert likeness.max() == pytest.approx(1.0)


@given(st.floats(-2.0, 3.0), st.floats(0.2, 3.0), st.integers(0, 2**32 - 1))
def test_the_same_sound_is_found_to_a_sample_however_loud(offset_s: float, loud: float, seed: int) -> None:
    """Noise with its own course, cut and laid elsewhere, with other noise over it."""
    rate, random = 4000, np.random.default_rng(seed)
    offset = round(offset_s * rate)
    music = random.normal(size=12 * rate).astype(np.float32)
    heard = music[3 * rate - offset :][: 7 * rate]
    take = loud * (heard + 0.3 * random.normal(size=len(heard)).astype(np.float32))
    found = match_sounds(music[3 * rate : 9 * rate], take, rate, 0.5)
    assert found.certainty > 0.95
    assert found.places[0].offset_s == pytest.approx(offset / rate, abs=1.5 / rate)


ANCHORED = st.lists(st.floats(0.3, 1.2), min_size=2, max_size=6)


@given(ANCHORED, st.fractions(0, 40, max_denominator=4), st.floats(-0.1, 0.1))
def test_an_anchor_holds_where_it_is_put_and_moves_no_other(lengths: list[float], at: object, by: float) -> None:
    """And taken away again it leaves the grid as it was, where it was none before."""
    grid = Grid.from_tempo(2.0, 60 / lengths[0])
    for k, length in enumerate(lengths[1:], 1):
        grid = grid.anchored(8 * k, float(grid.seconds(8 * (k - 1))) + 8 * length)  # type: ignore[arg-type]
    seconds = float(grid.seconds(at)) + by * min(lengths)  # type: ignore[arg-type]
    moved = grid.anchored(at, seconds)  # type: ignore[arg-type]
    assert float(moved.seconds(at)) == pytest.approx(seconds)  # type: ignore[arg-type]
    for anchor in grid.anchors:
        if anchor.at != at:
            assert float(moved.seconds(anchor.at)) == pytest.approx(anchor.seconds)
    if at not in [a.at for a in grid.anchors]:
        assert moved.loosened(at) == grid  # type: ignore[arg-type]


ROWS = ("Ropes: 1 2 3 & 4 - 6 7 8", "1 2 3 4", "walk R L, shuffle R", "floop R")
WRONG = ("1 2 nine", "1 3 2")


@given(st.lists(st.sampled_from([*ROWS, *WRONG, "# B", ""]), max_size=8))
def test_of_a_pasted_text_every_line_is_a_row_or_is_told(lines: list[str]) -> None:
    wrong = [i for i, line in enumerate(lines, 1) if line in WRONG]
    rows = sum(line in ROWS for line in lines)
    if wrong or not rows:
        with pytest.raises(PastedError) as refused:
            read_pasted("\n".join(lines))
        assert [p.line for p in refused.value.problems] == (wrong or [1])
    else:
        assert len(read_pasted("\n".join(lines)).phrases) == rows
