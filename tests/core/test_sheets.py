from dataclasses import replace
from fractions import Fraction as F

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.counting.carried import carried
from juxtakine.core.counting.grids import Anchor, Grid, GridError
from juxtakine.core.counting.positions import from_decimal, to_decimal
from juxtakine.core.counting.sheets import Layer, Mark, Phrase, Score, Sheet, SheetError, check, expand
from juxtakine.demo.lantern_quay import SHEET


def test_phrases_of_any_length_become_one_count_line() -> None:
    sheet = Sheet(
        "", (Phrase("a", 4, "1 2 - 4"), Phrase("b", 12, "1 2 3 4 5 6 7 8 9 10 11 12 &"), Phrase("c", 2, "& 1 2"))
    )
    with pytest.raises(SheetError, match="phrase 3: its & 1 falls on or before the 12 & of phrase 2"):
        expand(sheet)
    counts = expand(replace(sheet, phrases=(*sheet.phrases[:2], Phrase("c", 2, "a 1 2"))))
    assert [(c.phrase, c.label, c.at) for c in counts[:4]] == [(1, "1", 0), (1, "2", 1), (1, "3", 2), (1, "4", 3)]
    assert [(c.phrase, c.label, c.at) for c in counts[-3:]] == [(3, "a 1", F(63, 4)), (3, "1", 16), (3, "2", 17)]


def test_a_wrong_line_is_told_with_its_phrase() -> None:
    wrong = Sheet("", (SHEET.phrases[0], Phrase("Ropes", 8, "1 2 3 4 5 4 7 8")))
    assert [str(p) for p in check(wrong)] == ["phrase 2: 4 comes after 5"]


def test_a_mark_on_a_count_that_is_not_there_is_told() -> None:
    wrong = Sheet("", (Phrase("a", 4, "1 2 3 4", marks=(Mark("3 &"),)),))
    assert "3 &" in str(check(wrong)[0])


def test_an_empty_sheet_is_refused() -> None:
    with pytest.raises(SheetError, match="no phrase"):
        expand(Sheet("", ()))


def test_marks_say_what_is_scored_in_which_layer() -> None:
    marks = (Mark("1", score=Score.FREE), Mark("2", score=Score.TIMING, parts=frozenset({Layer.ARMS})))
    first, second, *_ = expand(Sheet("", (Phrase("a", 4, "1 2 3 4", marks=marks),)))
    assert first.free
    assert second.scores[Layer.ARMS] is Score.TIMING
    assert second.scores[Layer.FEET] is Score.BOTH


def test_the_demo_routine_is_as_large_as_it_should_be() -> None:
    counts = expand(SHEET)
    assert len(SHEET.phrases) >= 6
    assert SHEET.total >= 44
    assert sum(c.free for c in counts) == 2
    assert any(c.hold for c in counts)
    assert any(c.at.denominator > 1 for c in counts)
    assert 4 in [p.counts for p in SHEET.phrases]


@given(st.fractions(-16, 300, max_denominator=48))
def test_positions_come_back_exactly_from_six_decimals(at: F) -> None:
    assert from_decimal(to_decimal(at)) == at


@st.composite
def grids(draw: st.DrawFn) -> Grid:
    steps = draw(
        st.lists(st.tuples(st.fractions(F(1, 4), 16, max_denominator=8), st.floats(0.05, 9)), min_size=1, max_size=6)
    )
    at, seconds = F(draw(st.integers(-8, 8))), draw(st.floats(-3, 30))
    anchors = [Anchor(at, seconds)]
    for more, lasts in steps:
        at, seconds = at + more, seconds + float(more) * lasts
        anchors.append(Anchor(at, seconds))
    return Grid(tuple(anchors))


@given(grids(), st.lists(st.floats(-20, 120), min_size=1, max_size=8))
def test_counts_and_seconds_are_inverse_along_any_grid(grid: Grid, counts: list[float]) -> None:
    at = np.array(counts)
    assert np.allclose(grid.count(grid.seconds(at)), at, atol=1e-6)
    assert np.allclose(grid.seconds([float(a.at) for a in grid.anchors]), [a.seconds for a in grid.anchors])


def test_a_tempo_is_two_anchors() -> None:
    grid = Grid.from_tempo(2.0, 120)
    assert grid.seconds(8) == pytest.approx(6.0)
    assert grid.count_length(100.0) == pytest.approx(0.5)


@pytest.mark.parametrize(
    "anchors",
    [
        ((0, 2.0),),
        ((0, 2.0), (8, 1.0)),
        ((8, 2.0), (0, 3.0)),
        ((0, 2.0), (0, 3.0)),
        ((0, 2.0), (8, float("nan"))),
    ],
)
def test_anchors_that_make_no_grid_are_refused(anchors: tuple[tuple[int, float], ...]) -> None:
    with pytest.raises(GridError):
        Grid(tuple(Anchor(F(at), s) for at, s in anchors))


@pytest.mark.parametrize("bpm", [0, 19, 401, float("nan")])
def test_a_tempo_that_nobody_dances_is_refused(bpm: float) -> None:
    with pytest.raises(GridError):
        Grid.from_tempo(1.0, bpm)


ROWS = tuple(Phrase(name, 8, "1 2 3 4 5 6 7 8") for name in "abcdef")


@given(st.permutations(ROWS), st.integers(0, 6), st.integers(0, 6))
def test_rows_are_found_again_wherever_they_are_moved(rows: list[Phrase], taken: int, put: int) -> None:
    """Some are taken out, some come in, the others stand in any order."""
    others = [Phrase(f"new {n}", 8, "1 - 3 -") for n in range(put)]
    after = [*others[:2], *rows[taken:], *others[2:]]
    to = carried(ROWS, after)
    stay = {n: after.index(row) for n, row in enumerate(ROWS) if row in after}
    assert {n: to[n] for n in stay} == stay
    assert len(set(to.values())) == len(to)


def test_a_row_that_is_changed_in_its_place_stays_the_same_row() -> None:
    longer = replace(ROWS[2], name="C", counts=12, line="1 2 3 4 5 6 7 8 9 10 11 12")
    assert carried(ROWS, (*ROWS[:2], longer, *ROWS[3:])) == {n: n for n in range(6)}
