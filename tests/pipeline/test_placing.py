"""A clip of the same routine laid beside the first: where its counts are, its tempo, its side, its angle."""

from dataclasses import replace

import numpy as np
import pytest

from juxtakine.core.comparing.refused import CompareError
from juxtakine.core.comparing.results import Method
from juxtakine.core.counting.grids import Grid
from juxtakine.core.movement.tracks import Track
from juxtakine.demo import lantern_quay
from juxtakine.demo.load import TRACKS
from juxtakine.media.sound import read_sound
from juxtakine.media.track_file import load_track
from juxtakine.pipeline.comparison import Recording, Said, Sound
from juxtakine.pipeline.placing import PlacedForm, placed, words
from support.clips import REFERENCE, TAKES
from support.dancer import mirrored as mirrored_of

FIRST = lantern_quay.reference_grid()
COUNTS = np.arange(lantern_quay.SHEET.total)


def track(name: str) -> Track:
    return load_track(TRACKS / f"{name}.npz")


def beside(other: Recording, grid: Grid | None = None) -> PlacedForm:
    samples = read_sound(REFERENCE, 0.0)
    assert samples is not None
    first = Recording(track("reference"), Sound(samples, 0.0))
    return placed(first, other, lantern_quay.SHEET, FIRST, Said(grid), "made from these")


def furthest_s(made: PlacedForm, truth: Grid) -> float:
    return float(np.abs(made.grid.value().seconds(COUNTS) - truth.seconds(COUNTS)).max())


@pytest.mark.parametrize("mirrored", [False, True])
def test_a_slow_one_from_the_back_without_music_is_placed_by_its_movement(mirrored: bool) -> None:
    shown = mirrored_of(track("back")) if mirrored else track("back")
    made = beside(Recording(shown))
    assert (made.method, made.mirrored) == (Method.MOVEMENT, mirrored)
    assert furthest_s(made, lantern_quay.back_grid()) < 0.06
    assert made.tempo_ratio == pytest.approx(lantern_quay.BACK_TEMPO, abs=0.005)
    assert words(made).startswith("75% of the tempo, from the other side")
    assert words(made).endswith("mirrored against it") is mirrored


def test_one_with_the_music_is_placed_by_it() -> None:
    samples = read_sound(TAKES[2], 0.0)
    assert samples is not None
    made = beside(Recording(track("take-3"), Sound(samples, 0.0)))
    assert made.method is Method.SOUND
    assert furthest_s(made, lantern_quay.take_grid(lantern_quay.TAKES[2])) < 0.005
    assert words(made) == "at the tempo"


def test_a_clip_that_shows_another_dance_is_refused_in_words() -> None:
    """As the same dance is another one when it is counted eleven counts away."""
    elsewhere = lantern_quay.take_grid(lantern_quay.TAKES[2]).shifted(11 * 60 / lantern_quay.BPM)
    with pytest.raises(CompareError, match="another dance than the first"):
        beside(Recording(track("take-3")), elsewhere)


def test_a_clip_in_which_the_routine_is_nowhere_is_refused_in_words() -> None:
    shown = track("take-3")
    still = replace(
        shown,
        image=np.repeat(shown.image[:1], len(shown.image), 0),
        world=np.repeat(shown.world[:1], len(shown.world), 0),
    )
    with pytest.raises(CompareError, match="Neither the music nor the movement tells"):
        beside(Recording(still))
