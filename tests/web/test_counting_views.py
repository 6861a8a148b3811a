"""What Count shows of a sheet and its grid, in words: rows as danced, cells, checkpoints, the tempo."""

from fractions import Fraction as F

import pytest

from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.sheets import Foot, Layer, Mark, Phrase, Score, expand
from juxtakine.core.counting.structure import Override, Written, unfolded
from juxtakine.web import counting
from juxtakine.web import schemas as s

EIGHT = "1 2 3 4 5 6 7 8"
STEPS = (Mark("1", "side R", weight=Foot.RIGHT), Mark("8", "turn", weight=Foot.LEFT, turn=2))
A, TAG = Phrase("one", 8, EIGHT, marks=STEPS, section="A"), Phrase("tag", 4, "1 2 3 4", section="tag")
GRID = Grid((Anchor(F(0), 3.0), Anchor(F(8), 7.0), Anchor(F(24), 14.0)))


def rows(written: Written, grid: Grid | None = GRID) -> list[s.RowView]:
    return counting.rows(written, expand(unfolded(written)), grid, 1.0)


def test_rows_as_danced_say_where_they_are_written_and_where_they_begin() -> None:
    made = rows(Written("", (A, TAG), "A, A other side, tag, A cut 6"))
    assert [(r.number, r.written, r.repetition, r.start) for r in made] == [
        (1, 1, 1, 0), (2, 1, 2, 8), (3, 2, 3, 16), (4, 1, 4, 20),
    ]  # fmt: skip
    assert [r.again for r in made] == [None, "row 1, other side", None, "row 1, cut after 6"]
    assert [r.heading for r in made] == ["A", "A, other side", "tag", "A, cut after 6"]
    assert [r.begins_s for r in made] == [2.0, 6.0, pytest.approx(9.5), pytest.approx(11.25)]
    assert [len(r.cells) for r in made] == [8, 8, 4, 6]


def test_a_plain_sheet_has_no_headings_and_without_a_grid_no_moments() -> None:
    made = rows(Written("", (A, Phrase("two", 8, EIGHT))), None)
    assert [(r.heading, r.begins_s, r.again) for r in made] == [(None, None, None)] * 2


def test_facing_and_weight_go_on_from_row_to_row() -> None:
    made = rows(Written("", (A, TAG), "A, A, A other side, tag"))
    assert [r.checkpoint for r in made] == [
        "ends to 3, on the left foot", "ends to 6, on the left foot", "ends to 3, on the right foot", None,
    ]  # fmt: skip
    assert [c.facing for c in made[1].cells] == [3.0] * 7 + [6.0]
    assert [c.weight for c in made[3].cells] == ["right"] * 4
    assert made[2].cells[-1].turned == "a quarter to the left"


def test_one_time_that_is_danced_otherwise_shows_it() -> None:
    made = rows(Written("", (A,), "A x2", overrides=(Override(2, 1, Mark("3", "clap")),)))
    assert [r.cells[2].mark.cue for r in made] == ["", "clap"]


@pytest.mark.parametrize(
    ("mark", "said", "free"),
    [
        (Mark("3"), "all", False),
        (Mark("3", score=Score.TIMING), "timing", False),
        (Mark("3", score=Score.POSITION), "position", False),
        (Mark("3", score=Score.FREE), "free", True),
        (Mark("3", score=Score.TIMING, parts=frozenset({Layer.ARMS, Layer.FEET})), "feet arms: timing", False),
        (Mark("3", score=Score.FREE, parts=frozenset({Layer.ARMS})), "feet body head", False),
        (Mark("3", score=Score.FREE, parts=frozenset(Layer)), "free", False),
        (Mark("3", either=True), "all, either", False),
        (Mark("3", score=Score.POSITION, parts=frozenset({Layer.HEAD}), either=True), "head: position, either", False),
    ],
)
def test_a_cell_says_what_of_it_is_scored(mark: Mark, said: str, free: bool) -> None:
    cell = counting.line_cells(Phrase("", 8, EIGHT, marks=(mark,)), 0)[2]
    assert (cell.scored, cell.free) == (said, free)


def test_cells_are_as_wide_as_their_time_and_of_an_unreadable_line_there_are_none() -> None:
    made = counting.line_cells(Phrase("", 4, "1 2 & 3 - "), 8)
    assert [(c.label, c.at, c.width, c.hold) for c in made] == [
        ("1", 8.0, 1.0, False), ("2", 9.0, 0.5, False), ("2 &", 9.5, 0.5, False), ("3", 10.0, 1.0, False),
        ("4", 11.0, 1.0, True),
    ]  # fmt: skip
    assert counting.line_cells(Phrase("", 4, "1 2 five"), 0) == []


@pytest.mark.parametrize(
    ("grid", "said"),
    [
        (Grid.from_tempo(2.0, 108), "108.0 a minute"),
        (GRID, "120.0 to 137.1 a minute"),
        (Grid((Anchor(F(0), 0.0), Anchor(F(16), 8.0), Anchor(F(32), 16.004))), "120.0 a minute"),
    ],
)
def test_the_tempo_is_said_as_one_where_it_holds(grid: Grid, said: str) -> None:
    assert counting.grid(grid, (), 32, 0.0).said == said


def test_anchors_are_named_by_the_count_that_the_sheet_has_there() -> None:
    written = Written("", (A, TAG))
    counts = expand(unfolded(written))
    placed = Grid((Anchor(F(0), 3.0), Anchor(F(9), 7.5), Anchor(F(21, 2), 8.25), Anchor(F(30), 18.0)))
    made = counting.grid(placed, counts, 12, 1.0)
    assert [p.label for p in made.posts] == ["1 of row 1", "2 of row 2", "count 11.5", "count 31"]
    assert [p.seconds for p in made.posts] == [2.0, 6.5, 7.25, 17.0]
    assert len(made.counts_s) == 13
    assert made.counts_s[9] == 6.5
