"""A reference put together row by row from stretches of clips, each with its own tempo and place of the camera."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.results import Method
from juxtakine.core.counting.sheets import Phrase, Sheet
from juxtakine.core.movement.features import Features
from juxtakine.core.watching.assembled import BEFORE, LEAD, Piece, PieceError, assembled
from support.dancer import GRID, SHEET, danced, reference, routine

LINES = {4: "1 2 3 4", 8: "1 2 3 4 5 6 7 8"}
PIECES = st.lists(st.tuples(st.sampled_from([4, 8]), st.floats(3, 90), st.floats(0.3, 1.5)), min_size=1, max_size=6)


@given(PIECES)
def test_every_count_stands_where_it_is_danced_at_one_tempo(drawn: list[tuple[int, float, float]]) -> None:
    sheet = Sheet("", tuple(Phrase("", n, LINES[n]) for n, _, _ in drawn))
    pieces = [Piece(first, first + n * long, 0.0, 1000.0) for n, first, long in drawn]
    cuts, grid = assembled(sheet, pieces)
    ends = np.cumsum([0.0, *(c.lasts_s for c in cuts)])
    fastest = min(long for _, _, long in drawn)
    for k, (cut, start, (n, first, long)) in enumerate(zip(cuts, sheet.starts(), drawn, strict=True)):
        for count in range(n):
            in_the_clip = first + count * long
            shown = ends[k] + (in_the_clip - cut.from_s) / cut.speed
            assert grid.seconds(start + count) == pytest.approx(shown, abs=1e-6)
            assert cut.from_s <= in_the_clip < cut.to_s
        assert cut.speed == pytest.approx(long / fastest)
        assert first - cut.from_s == pytest.approx(min(first, (BEFORE if k == 0 else LEAD) * long))


@pytest.mark.parametrize(
    ("pieces", "why"),
    [
        ([(1.0, 5.0)], "Each row needs a stretch of its own"),
        ([(1.0, 5.0), (9.0, 9.0)], "end after it begins"),
        ([(1.0, 5.0), (18.0, 22.0)], "inside its clip"),
        ([(1.0, 5.0), (0.1, 4.1)], "less than half a count before row 2"),
    ],
)
def test_what_can_not_be_put_together_is_said(pieces: list[tuple[float, float]], why: str) -> None:
    sheet = Sheet("", (Phrase("", 8, LINES[8]), Phrase("", 8, LINES[8])))
    with pytest.raises(PieceError, match=why):
        assembled(sheet, [Piece(a, b, 0.0, 20.0) for a, b in pieces])


def test_rows_filmed_from_the_front_and_from_behind_are_compared_each_from_its_own_place() -> None:
    """As a take beside them shows: clean, where one turn for all would find faults everywhere."""
    front, behind = reference(), danced(routine(), body="f", orbit_deg=170, seed=5)
    camera = (GRID.count(front.seconds) >= 19.5).astype(np.int64)
    n = min(len(front.seconds), len(behind.seconds))

    def each(a: np.ndarray, b: np.ndarray) -> np.ndarray:
        return np.where(camera[:n].reshape(-1, *(1,) * (a.ndim - 1)) == 1, b[:n], a[:n])

    kinds = ("vectors", "doubt", "feet", "level", "facing", "head")
    both = (each(getattr(front, k), getattr(behind, k)) for k in kinds)
    mixed = Features(front.seconds[:n], *both, camera[:n])
    take, common = danced(routine().inexact(21)), CommonTime(GRID, Method.SOUND, 1.0)
    told = compare(mixed, take, SHEET, GRID, common)
    blind = compare(replace(mixed, camera=np.zeros(n, np.int64)), take, SHEET, GRID, common)
    assert told.unlikeness < 0.25 < blind.unlikeness
    assert told.redrill == ()
