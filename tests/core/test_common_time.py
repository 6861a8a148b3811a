"""Where a take's counts lie: by the same music in a room, by music that was slowed, and where a phrase repeats."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.signal import resample_poly

from juxtakine.core.comparing.aligning.common_sound import match_sounds
from juxtakine.core.comparing.aligning.common_tempo import FINE_RATE, PIECE_S, Onsets, Place
from juxtakine.core.comparing.aligning.common_time import CommonTime, settled
from juxtakine.core.comparing.results import Method
from juxtakine.core.counting.grids import Grid
from juxtakine.demo.music import RATE, harbour_tune, in_a_room, slowed
from juxtakine.demo.skeleton import Floats

BPM = 104.0


def recorded(sound: Floats) -> NDArray[np.float32]:
    return resample_poly(sound, 80, RATE // 100).astype(np.float32)


@settings(max_examples=8)
@given(st.floats(-3, 6), st.integers(0, 99))
def test_music_is_found_again_in_a_room(offset_s: float, seed: int) -> None:
    tune = harbour_tune(BPM, 40)
    heard = in_a_room(tune, seed)
    lead = round(offset_s * RATE)
    moved = np.concatenate([np.zeros(lead), heard]) if lead >= 0 else heard[-lead:]
    match = match_sounds(recorded(tune), recorded(moved), 8000, 60 / BPM)
    assert match.places[0].offset_s == pytest.approx(offset_s, abs=0.005)
    assert match.certainty > 0.9


@pytest.mark.parametrize("tempo", [0.4, 0.5, 0.75, 0.9])
def test_music_that_was_slowed_is_found_with_its_tempo(tempo: float) -> None:
    """12 ms is what is asked for at 75 %."""
    tune, lead_s = harbour_tune(BPM, 40), 2.2
    take = np.concatenate([np.zeros(round(lead_s * RATE)), in_a_room(slowed(tune, tempo), 5)])
    match = match_sounds(recorded(tune), recorded(take), 8000, 60 / BPM)
    middle_s = len(tune) / RATE / 2
    best = match.places[0]
    assert best.offset_s + middle_s / best.tempo == pytest.approx(lead_s + middle_s / tempo, abs=0.012)
    assert best.tempo == pytest.approx(tempo, rel=0.002)
    assert match.certainty > 0.5


def test_what_is_no_music_is_not_taken_for_it() -> None:
    noise = np.random.default_rng(4).normal(0, 0.2, 8000 * 20).astype(np.float32)
    assert match_sounds(recorded(harbour_tune(BPM, 30)), noise, 8000, 60 / BPM).certainty < 0.5


@pytest.mark.parametrize(("pieces", "same", "believed"), [(6, 6, True), (6, 4, False), (2, 2, False)])
def test_what_begins_when_is_believed_where_nearly_all_of_it_agrees(pieces: int, same: int, believed: bool) -> None:
    """Some pieces fit where somebody talks or counts; one or two by themselves tell nothing."""
    frames, alike = (round(n * PIECE_S * FINE_RATE) for n in (pieces, same))
    shown, other = np.random.default_rng(pieces).gamma(0.3, size=(2, frames, 14))
    heard = np.concatenate([shown[:alike], other[alike:]])
    room = np.zeros((FINE_RATE, 14))
    both = Onsets(shown, np.concatenate([room, heard, room]))
    assert both.is_music(Place(1.0, 1.0, 1.0), 60 / BPM) == believed


def beaten(sound: Floats, counts: int, tempo: float) -> Floats:
    """The sound on so many counts from a second on, then silence."""
    out = np.zeros(round((1 + 24 * 60 / BPM / tempo) * RATE))
    for k in range(counts):
        at = round((1 + k * 60 / BPM / tempo) * RATE)
        out[at : at + len(sound)] += sound
    return out


CLICK = np.sin(np.arange(1300) / 4) * np.exp(-np.arange(1300) / 260)


@pytest.mark.parametrize(("counts", "tempo"), [(4, 0.5), (8, 1.0), (24, 1.0)])
def test_clicks_are_not_taken_for_the_place_of_the_music(counts: int, tempo: float) -> None:
    """Clicks fit clicks at every count: a count-in and a metronome do not tell where the dance begins."""
    shown, tune = beaten(CLICK, 4, 1.0), harbour_tune(BPM, 20)
    shown[-len(tune) :] += tune
    take = in_a_room(beaten(CLICK, counts, tempo), 7)
    assert match_sounds(recorded(shown), recorded(take), 8000, 60 / BPM).places == ()


@pytest.mark.parametrize("tempo", [1.0, 0.5])
def test_a_count_in_alone_is_left_to_the_movement(tempo: float) -> None:
    match = match_sounds(recorded(beaten(CLICK, 4, 1.0)), recorded(beaten(CLICK, 4, tempo)), 8000, 60 / BPM)
    assert match.places == ()


def test_of_music_that_repeats_each_place_is_told_and_none_for_sure() -> None:
    """Eight counts again and again, of which the take heard the last two."""
    loop = harbour_tune(BPM, 8)[: round(8 * 60 / BPM * RATE)]
    match = match_sounds(recorded(np.tile(loop, 4)), recorded(in_a_room(np.tile(loop, 2), 3)), 8000, 60 / BPM)
    again_s = len(loop) / RATE
    places = [p.offset_s for p in match.places]
    for n in (0, 1, 2):
        assert any(abs(p + n * again_s) < 0.01 for p in places)
    assert match.certainty < 0.95


def common(first_s: float, method: Method, certainty: float) -> CommonTime:
    return CommonTime(Grid.from_tempo(first_s, BPM), method, certainty)


def test_the_place_that_the_movement_agrees_with_is_believed() -> None:
    sound = [common(9.0, Method.SOUND, 0.6), common(4.4, Method.SOUND, 0.4)]
    told = settled(sound, common(4.45, Method.MOVEMENT, 0.9), 16)
    assert told is not None
    assert (told.grid, told.method) == (sound[1].grid, Method.SOUND)
    assert told.certainty > 0.9


def test_where_sound_and_movement_contradict_neither_is_sure() -> None:
    sound = [common(9.0, Method.SOUND, 0.8)]
    assert settled(sound, common(4.4, Method.MOVEMENT, 0.8), 16) is None
    told = settled(sound, common(4.4, Method.MOVEMENT, 0.1), 16)
    assert told is not None
    assert (told.method, told.certainty) == (Method.SOUND, pytest.approx(0.72))


def test_a_movement_that_is_all_but_certain_is_believed_against_sound_that_is_not() -> None:
    """A metronome that both recorded, at two tempi, fits somewhere."""
    told = settled([common(9.0, Method.SOUND, 0.9)], common(4.4, Method.MOVEMENT, 1.0), 16)
    assert told is not None
    assert told.method is Method.MOVEMENT
    assert 0.95 <= told.certainty < 1


def test_with_no_movement_the_sound_alone_must_be_sure_enough() -> None:
    assert settled([common(9.0, Method.SOUND, 0.4)], None, 16) is None
    assert settled([common(9.0, Method.SOUND, 0.6)], None, 16) == common(9.0, Method.SOUND, 0.6)


@pytest.mark.parametrize(("counts_away", "certainty", "believed"), [(1, 1.0, True), (20, 0.9, True), (20, 0.99, False)])
def test_sure_sound_yields_to_no_student_off_the_music_but_to_a_dance_that_is_surely_elsewhere(
    counts_away: int, certainty: float, believed: bool
) -> None:
    sound = common(4.4, Method.SOUND, 0.98)
    told = settled([sound], common(4.4 + counts_away * 60 / BPM, Method.MOVEMENT, certainty), 16)
    assert told == (sound if believed else None)
