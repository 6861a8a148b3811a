"""What is read from movement alone, on smooth random limbs: where a dance lies, what repeats, what is dense, when it
begins."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from juxtakine.core.comparing.aligning.common_movement import match_movements
from juxtakine.core.comparing.aligning.common_time import CommonTime, settled
from juxtakine.core.comparing.results import Method
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.sheets import Phrase, Sheet
from juxtakine.core.movement.cleaning import RATE
from juxtakine.core.movement.features import Features
from juxtakine.core.movement.moving import moves_off
from juxtakine.core.watching.hardness import hardness
from juxtakine.core.watching.repeats import repeats
from support.limbs import COUNTS, GRID, danced, later, noisy, turned

EIGHT = "1 2 3 4 5 6 7 8"
SHEET = Sheet("", tuple(Phrase(name, 8, EIGHT) for name in ("a", "b", "c", "d")))
FEW = settings(max_examples=5)


def at_tempo(f: Features, share: float, waits_s: float) -> Features:
    """Danced at a share of the tempo, after standing for some seconds; evenly sampled again."""
    slow = replace(f, seconds=f.seconds / share + waits_s)
    steps = np.arange(0, slow.seconds[-1], 1 / RATE)
    return replace(slow.at(np.maximum(steps, slow.seconds[0])), seconds=steps)


@FEW
@given(st.floats(0.5, 1.1), st.floats(0, 6), st.booleans())
def test_a_dance_is_found_by_its_movement_at_any_tempo_on_either_side(
    share: float, waits_s: float, flipped: bool
) -> None:
    take = noisy(at_tempo(turned(danced(), 20), share, waits_s))
    found = match_movements(danced(), take.mirrored if flipped else take, GRID, COUNTS)
    assert found is not None
    assert found.certainty > 0.9
    middle = float(COUNTS.mean())
    assert float(found.grid.seconds(middle)) == pytest.approx(float(GRID.seconds(middle)) / share + waits_s, abs=0.05)


@FEW
@given(st.integers(0, 1000))
def test_of_a_few_counts_another_tempo_is_not_taken_from_the_dancers_own_lags(seed: int) -> None:
    """Six counts, each as late or early as people are, at the reference's tempo; and the same clearly slower."""
    lags_s = np.random.default_rng(seed).normal(0, 0.05, 60)
    counts, seconds = np.arange(6.0, 12.0), danced().seconds
    bent = GRID.seconds(np.arange(60)) + lags_s
    meant = np.interp(seconds, np.maximum.accumulate(bent), GRID.seconds(np.arange(60)))
    for tempo in (1.0, 0.75):
        take = danced().at(np.clip(np.interp(seconds * tempo, seconds, meant), 0, seconds[-1]))
        found = match_movements(danced(), noisy(replace(take, seconds=seconds)), GRID, counts)
        assert found is not None
        ratio = GRID.count_length(8.0) / found.grid.count_length(8.0)
        assert ratio == pytest.approx(tempo, abs=1e-6 if tempo == 1 else 0.08)


def test_of_another_dance_nothing_is_sure() -> None:
    found = match_movements(danced(), danced(23), GRID, COUNTS)
    assert found is None or found.certainty < 0.5


def place(first_s: float, certainty: float, method: Method = Method.SOUND) -> CommonTime:
    return CommonTime(Grid.from_tempo(first_s, 120), method, certainty)


CERTAIN = st.floats(0.0, 1.0)


@given(st.lists(st.tuples(st.integers(0, 40), CERTAIN), max_size=4), st.none() | st.tuples(st.integers(0, 40), CERTAIN))
def test_sound_and_movement_settle_on_one_of_what_they_say(
    heard: list[tuple[int, float]], moved: tuple[int, float] | None
) -> None:
    """Both at places a second apart: what agrees is believed more than either, what does not less."""
    sound = sorted((place(s, c) for s, c in heard), key=lambda c: -c.certainty)
    movement = moved and place(*moved, Method.MOVEMENT)
    made = settled(sound, movement, 16.0)
    if made is None:
        return
    assert made.certainty >= 0.5
    said = [*sound, *([movement] if movement else [])]
    assert made.grid in [c.grid for c in said]
    agree = [c for c in said if c.grid == made.grid]
    if movement and len({c.method for c in agree}) == 2:
        assert made.method is Method.SOUND
        assert made.certainty >= max(c.certainty for c in agree if c is movement) - 1e-9
    elif movement and sound:
        assert made.certainty <= max(c.certainty for c in said) + 1e-9


def joined(parts: list[Features], each: int) -> Features:
    """One after the other, each for so many counts from count 0 on, after two seconds of the first."""
    begin, n = round(2.0 * RATE), len(parts[0].seconds)
    whole = replace(parts[0], vectors=parts[0].vectors.copy())
    for k, part in enumerate(parts):
        first, after = (round(float(GRID.seconds(c - 0.5)) * RATE) for c in (each * k, each * (k + 1)))
        lasts = min(after, n) - first
        start = begin - round(0.5 * float(GRID.count_length(0)) * RATE)
        whole.vectors[first : first + lasts] = part.vectors[start : start + lasts]
    return whole


def test_rows_that_repeat_are_told_with_their_side() -> None:
    one, other = danced(1), danced(2)
    found = repeats(noisy(joined([one, other, one, one.mirrored], 8)), GRID, SHEET)
    assert [(r.phrase, r.like, r.mirrored, r.counts, r.other_ending) for r in found] == [
        (3, 1, False, 8, False), (4, 1, True, 8, False),
    ]  # fmt: skip
    assert all(r.certainty > 0.8 for r in found)


def test_rows_that_are_all_different_repeat_nothing() -> None:
    assert repeats(noisy(joined([danced(s) for s in (1, 2, 3, 4)], 8)), GRID, SHEET) == []


def standing(f: Features, first: float, after: float) -> Features:
    """Still between two counts."""
    a, b = (round(float(GRID.seconds(c)) * RATE) for c in (first, after))
    vectors = f.vectors.copy()
    vectors[a:b] = vectors[a]
    return replace(f, vectors=vectors)


def test_a_place_to_catch_up_is_where_somebody_stands() -> None:
    busy = hardness(danced(), GRID, SHEET)
    rests = hardness(standing(danced(), 11.3, 13.7), GRID, SHEET)
    assert len(busy[1].pauses) < len(rests[1].pauses) or busy[1].gap > rests[1].gap
    assert any(begin < 4.5 and end > 5.2 for begin, end in rests[1].pauses)  # counts 5 and 6 of the second row
    assert rests[0].pauses == busy[0].pauses
    assert rests[1].moves < busy[1].moves


def test_what_is_danced_faster_is_denser_and_faster() -> None:
    """The same movement laid under a tempo that is half as quick: twice as much in each count."""
    plain = hardness(danced(), GRID, Sheet("", SHEET.phrases[:2]))
    quick = replace(danced(), seconds=danced().seconds / 2)
    steps = np.arange(0, quick.seconds[-1], 1 / RATE)
    grid = Grid((Anchor(Fraction(0), 1.0), Anchor(Fraction(22), 7.0)))
    twice = hardness(quick.at(steps), grid, Sheet("", SHEET.phrases[:2]))
    for slow, fast in zip(plain, twice, strict=True):
        assert fast.speed > 1.5 * slow.speed
        assert fast.moves > 1.4 * slow.moves


@FEW
@given(st.floats(3.0, 8.0))
def test_who_stands_first_moves_off_when_the_dance_begins(waits_s: float) -> None:
    dancing = danced()
    begins = round(waits_s * RATE)
    vectors = dancing.vectors.copy()
    vectors[:begins] = vectors[begins]
    found = moves_off(noisy(replace(dancing, vectors=vectors), size=0.002))
    assert found == pytest.approx(waits_s, abs=0.7)  # within the first count and its blur


def test_who_dances_from_the_first_frame_on_moves_off_nowhere() -> None:
    whole = danced()
    begun = whole.at(whole.seconds[whole.seconds > 3.0])
    assert moves_off(noisy(begun, size=0.002)) is None


def test_a_lag_does_not_move_what_is_read_of_the_dance_itself() -> None:
    plain, moved = (hardness(f, g, SHEET) for f, g in ((danced(), GRID), (later(danced(), 0.2), GRID.shifted(0.2))))
    for one, other in zip(plain, moved, strict=True):
        assert one.moves == pytest.approx(other.moves, rel=0.1)
        assert one.speed == pytest.approx(other.speed, rel=0.1)
