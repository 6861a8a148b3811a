"""From what was measured to causes in time, rows and their order: properties that hold for whatever it was."""

from dataclasses import replace
from fractions import Fraction as F

import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.comparing.explaining import phrases
from juxtakine.core.comparing.explaining.causes import explained
from juxtakine.core.comparing.explaining.transit import PARTS
from juxtakine.core.comparing.position.chances import certainty
from juxtakine.core.comparing.results import (
    SURE,
    CountResult,
    Finding,
    FindingKind,
    PartResult,
    PhraseKind,
    PhraseResult,
    PositionVerdict,
    TimingVerdict,
    Unit,
)
from juxtakine.core.movement.body import Part
from support.measured import COUNTS, FAR, ON_TIME, QUIET, SHEET, lines, measured, off, seen, told


def rows(results: tuple[CountResult, ...]) -> list[PhraseResult]:
    return [
        phrases.of_phrase(n, start, [r for r in results if r.count.phrase == n])
        for n, start in enumerate(SHEET.starts(), 1)
    ]


LATE = st.one_of(st.just(0.0), st.floats(-400, 400))
LAGS = st.lists(LATE, min_size=len(COUNTS), max_size=len(COUNTS))


@given(LAGS)
def test_no_lag_is_told_twice_and_none_that_is_sure_is_lost(late_ms: list[float]) -> None:
    """What a slip, a drift or a hold left early explains has no finding of its own; all else that is off has one."""
    told = explained(measured(late_ms), QUIET)
    for r in told:
        own = [f for f in r.findings if f.kind in (FindingKind.LATE, FindingKind.EARLY)]
        causes = [f for f in (*r.findings, *r.within) if f.unit is Unit.MILLISECONDS and f not in own]
        assert len(own) <= 1
        assert not (own and causes)
        if r.timing.verdict in (TimingVerdict.AHEAD, TimingVerdict.BEHIND):
            assert own or causes


@pytest.mark.parametrize(
    ("late_ms", "kind"),
    [
        ([0.0, None, 80.0, None, 160.0, None, 240.0, None], FindingKind.DRIFT),
        ([14.0, 32.0, None, 181.0, 0.0, 0.0, 0.0, 0.0], FindingKind.LATE),
    ],
)
def test_three_counts_of_a_slow_row_can_drift_and_one_late_count_can_not(
    late_ms: list[float | None], kind: FindingKind
) -> None:
    told = explained(measured([*late_ms, *[0.0] * (len(COUNTS) - len(late_ms))]), QUIET)
    assert [f.kind for r in told for f in r.findings] == [kind]


@given(LAGS)
def test_findings_lie_where_they_say(late_ms: list[float]) -> None:
    told = explained(measured(late_ms), QUIET)
    for r in told:
        assert all(f.start == r.count.at for f in r.findings)
        assert all(f.start < r.count.at <= f.end for f in r.within)
    begun = {(f.kind, f.start) for r in told for f in r.findings}
    assert {(f.kind, f.start) for r in told for f in r.within} <= begun


@given(LAGS)
def test_a_take_on_time_needs_nothing_and_a_later_one_never_less(late_ms: list[float]) -> None:
    clean = rows(explained(measured([0.0] * len(COUNTS)), QUIET))
    assert [p.need for p in clean] == [0, 0, 0]
    assert phrases.redrill(clean) == ()
    for row in rows(explained(measured(late_ms), QUIET)):
        assert 0 <= row.need <= 1
        # what only goes on from an earlier row is drilled there, where it began
        assert (row.need == 0) == (not row.begins_here)
        assert row.need == 0 or row.kind not in (PhraseKind.CLEAN, PhraseKind.UNCLEAR)


@given(LAGS)
def test_the_order_is_by_need_and_holds_each_needy_row_once(late_ms: list[float]) -> None:
    made = rows(explained(measured(late_ms), QUIET))
    order = phrases.redrill(made)
    needs = [made[n - 1].need for n in order]
    assert needs == sorted(needs, reverse=True)
    assert len(set(order)) == len(order)
    for row in made:
        begun = any(f.sure for f in row.findings if f.start >= SHEET.starts()[row.phrase - 1])
        assert (row.phrase in order) == begun


@given(st.floats(0.8, 1.0), st.floats(0.0, 200.0), st.floats(1.0, 3.0))
def test_a_larger_fault_that_is_as_sure_is_no_less_bad(certainty: float, ms: float, times: float) -> None:
    small = Finding(FindingKind.LATE, None, F(0), F(0), ms, Unit.MILLISECONDS, certainty)
    assert 0 <= phrases.badness(small) <= phrases.badness(replace(small, size=ms * times)) <= 1
    early = replace(small, kind=FindingKind.EARLY, size=-ms)
    assert phrases.badness(early) == phrases.badness(small)


@given(st.integers(1, 6), st.sampled_from([-200.0, 0.0, 200.0]), st.sampled_from(["left-forearm", "torso", "spread"]))
def test_a_part_on_its_way_is_the_timings_doing(at: int, ms: float, name: str) -> None:
    """It is late with its own count, or already on its way to the next, which comes early; else it is off."""
    part = Part(name)
    coming = seen(coming={at: [p is part for p in PARTS]})
    going = seen(going={at: [p is part for p in PARTS]})
    own, following = (
        off(measured([ms if i == n else 0.0 for i in range(len(COUNTS))]), range(at, at + 1), **{name: FAR})
        for n in (at, at + 1)
    )
    assert ((FindingKind.LATE, F(at), F(at)) in told(own, coming)) == (ms > 0)
    cases = (own, coming, ms > 0), (own, going, ms > 0), (following, going, ms < 0), (following, coming, False)
    for results, evidence, excused in cases:
        made = explained(results, evidence)
        assert (part in {f.part for r in made for f in r.findings}) == (not excused)
        said = [r.text for r in lines(made[at]) if r.text.startswith("on the way")]
        assert said == (
            [f"on the way, as {'this count comes late' if ms > 0 else 'the next comes early'}: {part.words}"]
            if excused
            else []
        )


@given(st.integers(1, 6))
def test_a_part_on_its_way_to_a_count_that_is_not_timed_is_not_told(at: int) -> None:
    lags = [None if i == at else 0.0 for i in range(len(COUNTS))]
    results = off(measured(lags), range(at, at + 1), torso=FAR)
    on_its_way, elsewhere = (
        explained(results, seen(coming={at: [p is part for p in PARTS]})) for part in (Part.TORSO, Part.LEVEL)
    )
    assert not on_its_way[at].findings
    assert "on the way, as this count may come late: torso" in [r.text for r in lines(on_its_way[at])]
    assert [f.part for f in elsewhere[at].findings] == [Part.TORSO]


@given(st.sampled_from(["left_forearm", "right_upper_arm", "head", "torso"]), st.floats(4.0, 9.0))
def test_a_part_that_alone_is_off_is_less_sure_than_beside_others(part: str, se: float) -> None:
    """But a torso is hardly ever mistaken."""

    def told_as(late_ms: list[float]) -> float:
        one = PartResult(30.0, Unit.DEGREES, 1.0, PositionVerdict.OFF, se, 12)
        results = off(measured(late_ms), range(2, 3), **{part: one})
        return next((f.certainty for r in explained(results, QUIET) for f in r.findings if f.part), 0.0)

    alone = told_as(ON_TIME)
    beside = told_as([200.0 if i in (14, 15) else 0.0 for i in range(len(COUNTS))])
    near = told_as([200.0 if i == 3 else 0.0 for i in range(len(COUNTS))])
    assert alone == near
    assert (alone < beside) == (part != "torso" and beside > 0)


@given(st.sampled_from([Part.LEFT_FOREARM, Part.RIGHT_THIGH, Part.FACING, Part.TORSO]), st.floats(3.0, 25.0))
def test_a_part_that_is_hardly_off_is_told_as_less_likely_still_or_not_at_all(part: Part, se: float) -> None:
    """What is clear stays sure, beside other faults, though less so than its own error lets think."""
    one = PartResult(30.0, Unit.DEGREES, 1.0, PositionVerdict.OFF, se, 12)
    late = measured([200.0 if i in (14, 15) else 0.0 for i in range(len(COUNTS))])
    found = explained(off(late, range(2, 3), **{part.replace("-", "_"): one}), QUIET)[2].findings
    alone, told_as = certainty(one, part), found[0].certainty if found else 0.0
    assert told_as <= alone
    assert told_as >= SURE or (told_as == 0.0 and alone < 0.95)


AND = next(i for i, c in enumerate(COUNTS) if c.at % 1)


@pytest.mark.parametrize(("at", "excused"), [(AND, True), (AND - 1, False)])
def test_who_is_late_is_waited_for_between_two_counts_and_not_on_a_count(at: int, excused: bool) -> None:
    late = measured([200.0 if i == at + 1 else 0.0 for i in range(len(COUNTS))])
    coming = seen(coming={at: [p is Part.TORSO for p in PARTS]})
    made = explained(off(late, range(at, at + 1), torso=FAR), coming)[at]
    assert [f.part for f in made.findings] == ([] if excused else [Part.TORSO])
