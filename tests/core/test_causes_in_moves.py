"""Causes in moves: what is told once, and takes the place of what it explains."""

from fractions import Fraction as F

import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.comparing.explaining.causes import explained
from juxtakine.core.comparing.results import (
    FindingKind,
    PartResult,
    PositionVerdict,
    TimingVerdict,
    Unit,
    Way,
)
from juxtakine.core.telling.findings import said
from support.measured import COUNTS, FAR, HOLD, ON_TIME, QUIET, measured, off, seen, stands, told


@given(st.integers(1, 7))
def test_who_stands_where_the_reference_moves_has_a_move_missing(at: int) -> None:
    evidence = seen(ways={at: 0.05}, plain_deg={at: 40.0})
    results = off(stands(at), range(at, at + 1), left_upper_arm=FAR, right_upper_arm=FAR)
    assert told(results, evidence) == [(FindingKind.MISSING, F(at), F(at))]
    there_already = seen(ways={at: 0.05}, plain_deg={at: 6.0})
    assert told(measured(ON_TIME), there_already) == []
    assert told(stands(at), seen(ways={at: 0.4}, plain_deg={at: 40.0})) == []  # goes elsewhere
    in_few_limbs = off(stands(at), range(at, at + 1), left_upper_arm=FAR, right_upper_arm=FAR, torso=FAR)
    assert told(in_few_limbs, there_already) == [(FindingKind.MISSING, F(at), F(at))]


@given(st.integers(1, 7), st.floats(120, 250))
def test_a_move_that_comes_late_is_not_missing(at: int, ms: float) -> None:
    """Though on the count itself the student still stood; one that comes with the next is."""
    evidence = seen(ways={at: 0.05}, plain_deg={at: 40.0})
    late = measured([ms if i == at else 0.0 for i in range(len(COUNTS))])
    assert told(late, evidence) == [(FindingKind.LATE, F(at), F(at))]
    with_the_next = measured([490.0 if i == at else 0.0 for i in range(len(COUNTS))])
    assert told(with_the_next, evidence) == [(FindingKind.MISSING, F(at), F(at))]


def test_a_move_in_a_hold_is_one_too_many_and_a_hold_left_early_is_not() -> None:
    stirs = seen(motion={HOLD: 20.0}, own_least={HOLD: 400.0})
    at = COUNTS[HOLD].at
    assert told(measured(ON_TIME), stirs) == [(FindingKind.EXTRA, at, at)]
    early = [-160.0 if i == HOLD + 1 else 0.0 for i in range(len(COUNTS))]
    left = explained(measured(early), stirs)
    assert [(f.kind, f.start, f.end) for r in left for f in r.findings if f.sure] == [
        (FindingKind.LEFT_HOLD_EARLY, at, COUNTS[HOLD + 1].at)
    ]
    assert left[HOLD].timing.verdict is TimingVerdict.AHEAD


@given(st.integers(0, 5), st.integers(2, 3))
def test_the_other_side_is_told_once_for_its_stretch(first: int, n: int) -> None:
    """And explains every limb that is off because of it."""
    on = range(first, min(first + n, 8))
    evidence = seen(plain_deg=dict.fromkeys(on, 50.0), mirrored_deg=dict.fromkeys(on, 5.0))
    results = off(measured(ON_TIME), on, left_upper_arm=FAR, right_forearm=FAR)
    assert told(results, evidence) == [(FindingKind.WRONG_SIDE, F(on[0]), F(on[-1]))]


@given(st.integers(0, 5), st.sampled_from([-90.0, -50.0, 60.0, 180.0]))
def test_a_turn_lasts_until_the_facing_is_right_again(first: int, degrees: float) -> None:
    turned = PartResult(degrees, Unit.DEGREES, 1.0, PositionVerdict.OFF, 8, 17)
    results = off(measured(ON_TIME), range(first, first + 3), facing=turned, left_shin=FAR)
    assert told(results, QUIET) == [(FindingKind.TURN, F(first), F(first + 2))]
    counts = explained(results, QUIET)
    made = counts[first].findings[0]
    assert made.size == degrees
    assert said(made, counts).startswith("turned too little" if degrees < 0 else "turned too far")


def test_a_turn_goes_on_where_the_facing_is_not_known_and_where_the_instructor_turns_the_other_way() -> None:
    results = measured(ON_TIME)
    for at, error in ((2, 80.0), (3, None), (4, -85.0)):
        verdict = PositionVerdict.OFF if error else PositionVerdict.NOT_SEEN
        facing = PartResult(error, Unit.DEGREES, 1.0, verdict, 8, 17)
        results = off(results, [at], facing=facing)
    counts = explained(results, QUIET)
    (made,) = [f for r in counts for f in r.findings if f.sure]
    assert (made.kind, made.start, made.end) == (FindingKind.TURN, F(2), F(4))
    assert said(made, counts) == "turned too far by 82° from 3 to 5"


@given(st.floats(0.4, 0.75), st.floats(0.02, 0.06))
def test_arms_that_are_small_throughout_are_told_once_for_their_row(share: float, error: float) -> None:
    """But an arm that is further off than its longest way, a half circle, lacks by that is told beside them."""
    inside, beyond = (
        PartResult(180 * (1 - share + times * error), Unit.DEGREES, 1.0, PositionVerdict.OFF, 3, 12)
        for times in (0.9, 1.1)
    )
    results = off(off(measured(ON_TIME), range(2, 5), left_upper_arm=inside), range(6, 7), left_upper_arm=beyond)
    assert told(results, seen(ranges={1: (share, error), 2: (1.0, 0.03), 3: (1.0, 0.03)})) == [
        (FindingKind.RANGE, F(0), F(7)),
        (FindingKind.LIMB, F(6), F(6)),
    ]


def test_what_the_arms_lack_in_all_rows_is_the_view_and_what_one_lacks_beside_others_is_not() -> None:
    assert told(measured(ON_TIME), seen(ranges=dict.fromkeys((1, 2, 3), (0.91, 0.02)))) == []
    one_less = {1: (0.82, 0.02), 2: (0.91, 0.02), 3: (0.95, 0.02)}
    assert told(measured(ON_TIME), seen(ranges=one_less)) == [(FindingKind.RANGE, F(0), F(7))]


@given(st.integers(1, 7))
def test_who_danced_something_else_in_a_row_is_not_told_that_its_ways_are_small(at: int) -> None:
    evidence = seen(ways={at: 0.05}, plain_deg={at: 40.0}, ranges={1: (0.7, 0.03), 2: (0.98, 0.03)})
    assert told(stands(at), evidence) == [(FindingKind.MISSING, F(at), F(at))]


def test_a_stretch_on_the_other_side_may_hold_counts_that_are_alike_on_both() -> None:
    evidence = seen(plain_deg={1: 30.0, 2: 5.0, 3: 14.0}, mirrored_deg={1: 4.0, 2: 5.0, 3: 5.0})
    assert told(measured(ON_TIME), evidence) == [(FindingKind.WRONG_SIDE, F(1), F(3))]


@pytest.mark.parametrize(("goes", "kind"), [(0.9, FindingKind.WRONG_SIDE), (0.1, FindingKind.MISSING)])
def test_one_count_on_the_other_side_is_that_only_where_the_student_went_there(goes: float, kind: FindingKind) -> None:
    evidence = seen(plain_deg={2: 40.0}, mirrored_deg={2: 5.0}, ways={2: goes})
    assert told(stands(2), evidence) == [(kind, F(2), F(2))]


def test_who_stands_through_counts_is_not_on_the_other_side() -> None:
    """Though where they stand is the mirror image of what is danced on both."""
    evidence = seen(plain_deg={2: 40.0, 3: 30.0}, mirrored_deg={2: 5.0, 3: 5.0}, ways={2: 0.05, 3: 0.05})
    assert told(stands(2, 3), evidence) == [(FindingKind.MISSING, F(2), F(2)), (FindingKind.MISSING, F(3), F(3))]


def test_who_stands_where_a_turn_should_be_has_not_turned() -> None:
    """Also where the arms hardly move on it: one that is missing is right again on the next count."""
    away = PartResult(-80.0, Unit.DEGREES, 1.0, PositionVerdict.OFF, 5, 17, Way.LITTLE)
    evidence = seen(ways={2: 0.1}, plain_deg={2: 40.0})
    assert told(off(measured(ON_TIME), range(2, 5), facing=away), evidence) == [(FindingKind.TURN, F(2), F(4))]
    assert told(stands(2), evidence) == [(FindingKind.MISSING, F(2), F(2))]


def test_what_is_only_perhaps_the_cause_takes_nothing_away() -> None:
    results = off(measured(ON_TIME), range(2, 5), left_upper_arm=FAR)
    kinds = {k for k, _, _ in told(results, seen(ranges={1: (0.8, 0.2)}))}
    assert kinds == {FindingKind.LIMB}
