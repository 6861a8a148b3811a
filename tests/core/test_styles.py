"""Two styles that may both be right, against a made-up dancer's exact truth."""

from dataclasses import replace

import pytest

from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import measure
from juxtakine.core.comparing.explaining.explained import explained
from juxtakine.core.comparing.explaining.measured import Measured
from juxtakine.core.comparing.explaining.styles import nearer_style
from juxtakine.core.comparing.results import Comparison, Method
from juxtakine.core.counting.sheets import Mark, Sheet
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.features import Features
from juxtakine.demo.motion import Motion
from support.dancer import GRID, SHEET, danced, reference, routine
from support.measured import lines

STYLED = ("6", "7")
"""Counts of the second row, 13 and 14 of the routine, on which the other clip shows the arms lower."""


def other_style() -> Motion:
    return routine().adjust(13, r_elev=-60).adjust(14, l_elev=-60)


def either(sheet: Sheet) -> Sheet:
    first, second, *rest = sheet.phrases
    marks = [m for m in second.marks if m.label not in STYLED] + [Mark(label, either=True) for label in STYLED]
    return replace(sheet, phrases=(first, replace(second, marks=tuple(marks)), *rest))


def beside(shown: Features, take: Features, sheet: Sheet) -> Measured:
    return measure(shown, take, sheet, GRID, CommonTime(GRID, Method.SOUND, 1.0))


@pytest.fixture(scope="module")
def shown() -> tuple[Features, Features]:
    return reference(), danced(other_style(), body="f", orbit_deg=0, seed=5)


def compared(shown: tuple[Features, Features], take: Motion, sheet: Sheet) -> Comparison:
    one, other = (beside(clip, danced(take.inexact(11)), sheet) for clip in shown)
    return explained(nearer_style(one, [other]), sheet)


def told_on_styled(made: Comparison) -> set[Part | None]:
    return {f.part for c in made.counts if 13 <= c.count.at <= 14 for f in c.findings if f.sure}


def test_the_other_style_is_right_where_the_sheet_says_so(shown: tuple[Features, Features]) -> None:
    made = compared(shown, other_style(), either(SHEET))
    assert made.redrill == ()
    assert {c.count.at for c in made.counts if c.style} == {13, 14}
    words = [r.text for c in made.counts if c.style for r in lines(c, made.counts, ["high.mp4"])]
    assert words.count("danced more as in high.mp4, and judged by it") == 2


def test_elsewhere_it_is_a_fault(shown: tuple[Features, Features]) -> None:
    assert Part.RIGHT_UPPER_ARM in told_on_styled(compared(shown, other_style(), SHEET))


def test_the_first_style_stays_right_and_no_style_excuses_a_fault(shown: tuple[Features, Features]) -> None:
    assert told_on_styled(compared(shown, routine(), either(SHEET))) == set()
    wrong = routine().adjust(14, r_elev=50)
    assert Part.RIGHT_UPPER_ARM in told_on_styled(compared(shown, wrong, either(SHEET)))


def test_clips_that_lie_beside_each_other_keep_their_moments(shown: tuple[Features, Features]) -> None:
    take = danced(other_style().inexact(11))
    one, other = (beside(clip, take, either(SHEET)) for clip in shown)
    made = nearer_style(one, [other])
    assert [c.reference_s for c in made.counts] == [c.reference_s for c in one.counts]
