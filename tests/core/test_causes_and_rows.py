"""From what was measured to causes, rows and their order: properties that hold for whatever it was."""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction as F

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.comparing import phrases
from juxtakine.core.comparing.causes import explained
from juxtakine.core.comparing.chances import certainty
from juxtakine.core.comparing.evidence import Evidence
from juxtakine.core.comparing.findings import of_count, timing_verdict
from juxtakine.core.comparing.passing import PARTS
from juxtakine.core.comparing.results import (
    SURE,
    CountResult,
    Finding,
    FindingKind,
    PartResult,
    PhraseKind,
    PhraseResult,
    Position,
    PositionVerdict,
    Timing,
    TimingVerdict,
    Unit,
)
from juxtakine.core.comparing.words import remarks
from juxtakine.core.counting.sheets import Phrase, Sheet, expand
from juxtakine.core.movement.body import Part

SHEET = Sheet("", (Phrase("a", 8, "1 2 3 4 5 6 7 8"), Phrase("b", 4, "1 2 3 4"), Phrase("c", 8, "1 2 3 & 4 - 6 7 8")))
COUNTS = expand(SHEET)
SE = 8.0
HELD = Position(
    PositionVerdict.HELD, 1.0, {p: PartResult(1.0, Unit.DEGREES, 1.0, PositionVerdict.HELD, 3, 12) for p in Part}
)
LATE = st.one_of(st.just(0.0), st.floats(-400, 400))
QUIET = Evidence(
    motion=np.full(len(COUNTS), 900.0), own_least=np.zeros(len(COUNTS)), ways=np.ones(len(COUNTS)),
    plain_deg=np.full(len(COUNTS), 4.0), mirrored_deg=np.full(len(COUNTS), 40.0),
    coming=np.zeros((len(COUNTS), len(PARTS)), bool), going=np.zeros((len(COUNTS), len(PARTS)), bool), ranges={},
)  # fmt: skip
"""The reference moves into each count, the student stands in holds, and does all else as it should be."""


def measured(late_ms: Sequence[float | None]) -> list[CountResult]:
    """Each count with its lag, and nothing else off; of a hold, and of None, no lag can be told."""
    out = []
    for count, ms in zip(COUNTS, late_ms, strict=True):
        timing = Timing(TimingVerdict.UNMEASURABLE)
        if ms is not None and not count.hold:
            timing = Timing(timing_verdict(ms, SE), ms, ms / 500, SE)
        out.append(CountResult(count, 0, 0, None, 0, timing, HELD, of_count(count, timing, HELD), not count.hold))
    return out


def rows(results: tuple[CountResult, ...]) -> list[PhraseResult]:
    return [
        phrases.of_phrase(n, start, [r for r in results if r.count.phrase == n])
        for n, start in enumerate(SHEET.starts(), 1)
    ]


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
        assert (row.need == 0) == (row.kind in (PhraseKind.CLEAN, PhraseKind.UNCLEAR))


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
    small = Finding(FindingKind.LATE, None, F(0), F(0), ms, Unit.MILLISECONDS, certainty, "")
    assert 0 <= phrases.badness(small) <= phrases.badness(replace(small, size=ms * times)) <= 1
    early = replace(small, kind=FindingKind.EARLY, size=-ms)
    assert phrases.badness(early) == phrases.badness(small)


def seen(**changes: object) -> Evidence:
    """What the bodies show, changed on the counts that are named by their place in the sheet."""
    arrays = {k: np.array(v) for k, v in vars(QUIET).items() if k != "ranges"}
    for name, on in changes.items():
        if name != "ranges":
            for i, value in on.items():  # type: ignore[attr-defined]
                arrays[name][i] = value
    return Evidence(**arrays, ranges=changes.get("ranges", {}))  # type: ignore[arg-type]


ON_TIME = [0.0] * len(COUNTS)


def stands(*on: int) -> list[CountResult]:
    """On time, but for some counts into which the student does not move."""
    return measured([None if i in on else 0.0 for i in range(len(COUNTS))])


HOLD = next(i for i, c in enumerate(COUNTS) if c.hold)
FAR = PartResult(30.0, Unit.DEGREES, 1.0, PositionVerdict.OFF, 3, 12, "too low")


def off(results: list[CountResult], at: range, **parts: PartResult) -> list[CountResult]:
    """The same, with these parts off on some counts."""
    out = list(results)
    for i in at:
        named = {Part(name.replace("_", "-")): result for name, result in parts.items()}
        position = Position(PositionVerdict.OFF, 0.5, HELD.parts | named)
        found = of_count(COUNTS[i], out[i].timing, position)
        out[i] = replace(out[i], position=position, findings=found)
    return out


def told(results: list[CountResult], evidence: Evidence) -> list[tuple[FindingKind, F, F]]:
    made = explained(results, evidence)
    return [(f.kind, f.start, f.end) for r in made for f in r.findings if f.sure]


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
        said = [r.text for r in remarks(made[at]) if r.text.startswith("on the way")]
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
    assert "on the way, as this count may come late: torso" in [r.text for r in remarks(on_its_way[at])]
    assert [f.part for f in elsewhere[at].findings] == [Part.TORSO]


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
    turned = PartResult(degrees, Unit.DEGREES, 1.0, PositionVerdict.OFF, 8, 17, "")
    results = off(measured(ON_TIME), range(first, first + 3), facing=turned, left_shin=FAR)
    assert told(results, QUIET) == [(FindingKind.TURN, F(first), F(first + 2))]
    made = explained(results, QUIET)[first].findings[0]
    assert made.size == degrees
    assert made.text.startswith("turned too little" if degrees < 0 else "turned too far")


def test_a_turn_goes_on_where_the_facing_is_not_known_and_where_the_instructor_turns_the_other_way() -> None:
    results = measured(ON_TIME)
    for at, error in ((2, 80.0), (3, None), (4, -85.0)):
        verdict = PositionVerdict.OFF if error else PositionVerdict.NOT_SEEN
        facing = PartResult(error, Unit.DEGREES, 1.0, verdict, 8, 17, "")
        results = off(results, [at], facing=facing)
    (made,) = [f for r in explained(results, QUIET) for f in r.findings if f.sure]
    assert (made.kind, made.start, made.end) == (FindingKind.TURN, F(2), F(4))
    assert made.text == "turned too far by 82° from 3 to 5"


@given(st.floats(0.4, 0.75))
def test_arms_that_are_small_throughout_are_told_once_for_their_row(share: float) -> None:
    """But an arm that is further off than smaller ways make it is told beside them."""
    low, high = (PartResult(e, Unit.DEGREES, 1.0, PositionVerdict.OFF, 3, 12, "") for e in (-20.0, 110.0))
    results = off(off(measured(ON_TIME), range(2, 5), left_upper_arm=low), [6], left_upper_arm=high)
    assert told(results, seen(ranges={1: (share, 0.03), 2: (0.98, 0.03)})) == [
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


@given(st.sampled_from(["left_forearm", "right_upper_arm", "head", "torso"]), st.floats(4.0, 9.0))
def test_a_part_that_alone_is_off_is_less_sure_than_beside_others(part: str, se: float) -> None:
    """But a torso is hardly ever mistaken."""

    def told_as(late_ms: list[float]) -> float:
        one = PartResult(30.0, Unit.DEGREES, 1.0, PositionVerdict.OFF, se, 12, "")
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
    one = PartResult(30.0, Unit.DEGREES, 1.0, PositionVerdict.OFF, se, 12, "")
    late = measured([200.0 if i in (14, 15) else 0.0 for i in range(len(COUNTS))])
    found = explained(off(late, range(2, 3), **{part.replace("-", "_"): one}), QUIET)[2].findings
    alone, told_as = certainty(one, part), found[0].certainty if found else 0.0
    assert told_as <= alone
    assert told_as >= SURE or (told_as == 0.0 and alone < 0.95)


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
    away = PartResult(-80.0, Unit.DEGREES, 1.0, PositionVerdict.OFF, 5, 17, "turned too little")
    evidence = seen(ways={2: 0.1}, plain_deg={2: 40.0})
    assert told(off(measured(ON_TIME), range(2, 5), facing=away), evidence) == [(FindingKind.TURN, F(2), F(4))]
    assert told(stands(2), evidence) == [(FindingKind.MISSING, F(2), F(2))]


def test_what_is_only_perhaps_the_cause_takes_nothing_away() -> None:
    results = off(measured(ON_TIME), range(2, 5), left_upper_arm=FAR)
    kinds = {k for k, _, _ in told(results, seen(ranges={1: (0.8, 0.2)}))}
    assert kinds == {FindingKind.LIMB}
