from fractions import Fraction as F
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.counting.cells import cells, mended
from juxtakine.core.counting.lines import LineError, counts_of, plain, read_line


def places(line: str, counts: int = 8, swing: F = F(1, 2)) -> list[F]:
    return [s.at for s in read_line(line, counts, swing)]


def test_a_line_gives_exact_positions() -> None:
    assert places("1 2 3 & 4 - 6 7 8") == [0, 1, 2, F(5, 2), 3, 4, 5, 6, 7]
    assert places("1 e & a 2 3 4", 4) == [0, F(1, 4), F(1, 2), F(3, 4), 1, 2, 3]


def test_swing_moves_a_lone_and_but_not_four_even_parts() -> None:
    assert places("1 & 2", 2, F(2, 3)) == [0, F(2, 3), 1]
    assert places("1 & a 2", 2, F(2, 3)) == [0, F(1, 3), F(2, 3), 1]
    assert places("1 e & a 2", 2, F(2, 3)) == [0, F(1, 4), F(1, 2), F(3, 4), 1]


def test_a_pick_up_stands_before_the_1_and_a_line_may_begin_later() -> None:
    assert [(s.at, s.label) for s in read_line("& 1 2", 2)] == [(F(-1, 2), "& 1"), (0, "1"), (1, "2")]
    assert places("3 & 4", 4) == [2, F(5, 2), 3]


def test_holds_and_moves_that_go_on_keep_their_count() -> None:
    line = read_line("1 - ~ 4", 4)
    assert [(s.at, s.hold, s.goes_on) for s in line] == [
        (0, False, False), (1, True, False), (2, False, True), (3, False, False),
    ]  # fmt: skip
    assert [s.hold for s in read_line("1 -& 2", 2)] == [False, True, False]


@pytest.mark.parametrize(
    ("line", "reason", "place"),
    [
        ("1 2 3 5 4 6 7 8", "4 is missing", (6, 6)),
        ("1 2 3 4 5 4 7 8", "4 comes after 5", (10, 11)),
        ("1 2 2 4", "2 comes after 2", (4, 5)),
        ("1 2 x 4", "x is not a count", (4, 5)),
        ("1 2 3", "4 is missing", (5, 5)),
        ("1 & e 2 3 4", "wrong order", (4, 5)),
        ("& 2 3 4", "a pick-up leads into 1", (2, 3)),
        ("1 2 3 4 5", "one too many", (8, 9)),
        ("   ", "the line is empty", (0, 3)),
    ],
)
def test_a_wrong_line_is_refused_with_its_place(line: str, reason: str, place: tuple[int, int]) -> None:
    with pytest.raises(LineError, match=reason) as refused:
        read_line(line, 8 if len(line) > 12 else 4)
    assert (refused.value.start, refused.value.end) == place


@st.composite
def written(draw: st.DrawFn) -> tuple[str, int]:
    """Any right line: each count danced, held or going on, with any of its divisions in order."""
    counts = draw(st.integers(1, 16))
    first = draw(st.integers(1, counts))
    tokens = ["&"] if first == 1 and draw(st.booleans()) else []
    for number in range(first, counts + 1):
        tokens.append(draw(st.sampled_from([str(number), "-", "~"])) if number > first else str(number))
        tokens += [d for d in ("e", "&", "a") if draw(st.booleans())]
    return " ".join(tokens), counts


@given(written(), st.sampled_from([F(1, 2), F(3, 5), F(2, 3)]))
def test_right_lines_rise_exactly_and_fill_their_cells(given_line: tuple[str, int], swing: F) -> None:
    line, counts = given_line
    found = read_line(line, counts, swing)
    ats = [s.at for s in found]
    assert ats == sorted(set(ats))
    assert len(found) == len(line.split())
    laid = cells(line, counts, swing)
    assert all(0 < c.width <= 1 for c in laid)
    # cells meet: none covers the next, and the last one ends with the phrase
    assert all(a.sounding.at + a.width <= b.sounding.at for a, b in pairwise(laid))
    assert laid[-1].sounding.at + laid[-1].width == counts


@given(written(), st.data())
def test_a_lost_count_is_mended_by_a_hold(given_line: tuple[str, int], data: st.DataObject) -> None:
    line, counts = given_line
    tokens = line.split()
    numbers = [i for i, t in enumerate(tokens) if t.isdigit() and i > 0 and not _divided(tokens, i)]
    if not numbers:
        return
    lost = data.draw(st.sampled_from(numbers))
    if any(t in ("-", "~") for t in tokens[lost + 1 :]):
        return  # a sign that counts on by itself takes the lost one's place
    broken = " ".join(tokens[:lost] + tokens[lost + 1 :])
    right = mended(broken, counts)
    assert right is not None
    assert [s.at for s in read_line(right, counts)] == [s.at for s in read_line(line, counts)]


def _divided(tokens: list[str], i: int) -> bool:
    return i + 1 < len(tokens) and tokens[i + 1] in ("e", "&", "a")


@given(st.text(alphabet="12345678&ea-~ x", max_size=30), st.integers(1, 12))
def test_any_text_is_read_or_refused_within_itself(text: str, counts: int) -> None:
    error = refusal(text, counts)
    assert error is None or (error.reason and 0 <= error.start <= error.end <= len(text))


def refusal(text: str, counts: int) -> LineError | None:
    try:
        read_line(text, counts)
    except LineError as error:
        return error
    return None


@pytest.mark.parametrize(
    ("text", "line"),
    [
        ("1&2 3&4", "1 & 2 3 & 4"), ("1 2 3 and 4", "1 2 3 & 4"), ("&1 2", "& 1 2"), ("and 1 2", "& 1 2"),
        ("1-2", "1 2"), ("1-8", "1 2 3 4 5 6 7 8"), ("one two three and four", "1 2 3 & 4"),
        ("S S Q Q", "1 - 3 - 5 6"), ("slow quick quick", "1 - 3 4"), ("1, 2, 3, 4", "1 2 3 4"),
        ("1 2 3 hold", "1 2 3 -"), ("1 2 hold 3 4", "1 2 - 4"), ("1 2 (hold 3) 4", "1 2 - 4"), ("1e&a2", "1 e & a 2"),
        ("1 - 3 4", "1 - 3 4"), ("1 -& 2", "1 -& 2"), ("5 6 7 8", "5 6 7 8"), ("3 \N{EN DASH} 5", "3 - 5"),
        ("1 2 3 4 5 6 7 8 1 2", "1 2 3 4 5 6 7 8 9 10"),
    ],
)  # fmt: skip
def test_counts_are_read_as_people_write_them(text: str, line: str) -> None:
    assert plain(text) == line
    counts = counts_of(text)
    assert read_line(text, counts) == read_line(line, counts)
    # what is kept reads as itself
    assert plain(line) == line


@pytest.mark.parametrize(
    ("text", "place"), [("1 2 x 4", (4, 5)), ("1&3", (2, 2)), ("1 two two", (6, 9)), ("1 - 2 3", (4, 5))]
)
def test_what_is_no_count_is_told_where_it_stands_in_what_was_typed(text: str, place: tuple[int, int]) -> None:
    with pytest.raises(LineError) as told:
        read_line(text, 4)
    assert (told.value.start, told.value.end) == place
