"""What is read off the shipped reference before any take."""

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
