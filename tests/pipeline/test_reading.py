"""What is read off the shipped reference before any take."""

from dataclasses import replace

import pytest

from juxtakine.demo.lantern_quay import SHEET, reference_grid
from juxtakine.demo.load import TRACKS
from juxtakine.media.track_file import load_track
from juxtakine.pipeline.reading import read


@pytest.mark.parametrize("flipped", [False, True])
def test_of_a_flipped_picture_the_sides_are_the_other_ones(flipped: bool) -> None:
    """The shipped one is neither flipped nor danced mirrored: were its picture flipped, it would be danced mirrored."""
    told = read(load_track(TRACKS / "reference.npz"), SHEET, reference_grid(), flipped)
    assert told.sides.mirrored is flipped
    assert told.to_write == []
    assert len(told.rows) == len(SHEET.phrases)


def test_what_is_hardly_ever_in_the_picture_is_said() -> None:
    whole = load_track(TRACKS / "reference.npz")
    visibility = whole.visibility.copy()
    visibility[:, 25:] = 0.0  # knees and below
    told = read(replace(whole, visibility=visibility), SHEET, reference_grid())
    assert told.unseen is not None
    assert "The legs and lower legs are hardly ever in the picture" in told.unseen
    assert read(whole, SHEET, reference_grid()).unseen is None
