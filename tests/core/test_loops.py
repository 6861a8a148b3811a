"""Loops: the stretch of a row that is drilled, and where the music comes in before it."""

from fractions import Fraction as F

from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.counting.sheets import Phrase, Sheet
from juxtakine.core.drilling.loops import SHORTEST, RunIn, loop

PHRASES = st.lists(st.integers(1, 16), min_size=1, max_size=6)


@given(PHRASES, st.data())
def test_a_loop_lies_in_its_row_and_its_run_in_before_it(lengths: list[int], data: st.DataObject) -> None:
    sheet = Sheet("", tuple(Phrase("", n, " ".join(map(str, range(1, n + 1)))) for n in lengths))
    row = data.draw(st.integers(1, len(lengths)))
    begin = sheet.starts()[row - 1]
    end = begin + lengths[row - 1]
    first = begin + data.draw(
        st.fractions(F(0), F(lengths[row - 1]), max_denominator=4).filter(lambda f: f < lengths[row - 1])
    )
    loops = {run_in: loop(sheet, row, first, run_in) for run_in in RunIn}
    for made in loops.values():
        assert made.end == end
        assert begin <= made.start <= max(first, begin)
        assert made.end - made.start >= min(SHORTEST, lengths[row - 1])
        assert made.run_in <= made.start
        assert made.start.denominator == made.run_in.denominator == 1
    assert loops[RunIn.TWO].run_in == loops[RunIn.TWO].start - 2
    assert loops[RunIn.TOP].run_in == 0 or loops[RunIn.TOP].start < 0
    before = lengths[row - 2] if row > 1 else 8
    assert loops[RunIn.EIGHT].run_in == begin - before
