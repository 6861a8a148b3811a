"""Causes before symptoms, sides, and the common time by movement: planted in an exact dancer, told as what they are."""

from dataclasses import replace
from fractions import Fraction as F

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from juxtakine.core.comparing.aligning.common_movement import match_movements
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.aligning.sides import KnownSides
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.results import Comparison, Finding, FindingKind, Method, PhraseKind, TimingVerdict, Whose
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import expand
from juxtakine.core.movement.body import Part, mirrored_part
from juxtakine.core.telling.findings import said
from juxtakine.core.telling.rows import row_words
from juxtakine.demo.lantern_quay import BPM
from juxtakine.demo.motion import Motion
from support.dancer import FIRST_S, GRID, SHEET, compared, danced, reference, routine
from support.measured import lines

COUNTS = np.array([float(c.at) for c in expand(SHEET)])
SEED = 31


def told(motion: Motion, orbit_deg: float = 8) -> Comparison:
    return compared(danced(motion.inexact(SEED), orbit_deg=orbit_deg))


def sure(comparison: Comparison) -> list[Finding]:
    return [f for c in comparison.counts for f in c.findings if f.sure]


def late(motion: Motion, *counts: float, ms: float) -> Motion:
    for at in counts:
        motion = motion.delay(at, ms)
    return motion


def test_a_slip_is_told_at_its_origin_and_not_on_its_tail() -> None:
    result = told(late(routine(), 18.5, 19, 20, 21, 22, 23, ms=190))
    (slip,) = sure(result)
    assert (slip.kind, slip.start) == (FindingKind.SLIP, F(37, 2))
    assert slip.end >= 22
    assert slip.size == pytest.approx(190, abs=30)
    assert result.redrill == (3,)
    row = result.phrases[2]
    assert (row.kind, row.start_at) == (PhraseKind.SLIP, F(33, 2))
    assert row_words(result, 3).kind == "slips on 3 &"
    tail = next(c for c in result.counts if c.count.at == 21)
    assert any(r.text.startswith("slips by") and r.text.endswith("from 3 & on") for r in lines(tail, result.counts))


@pytest.mark.parametrize(
    ("first", "counts", "words"),
    [(20, 1, "slips by a count"), (20, 2, "slips by 2 counts"), (20, -1, "slips ahead by a count"),
     (0, 1, "slips by a count")],
    ids=["one step too many", "two too many", "one left out", "entered too late"],
)  # fmt: skip
def test_who_goes_on_whole_counts_off_is_told_that_alone(first: int, counts: int, words: str) -> None:
    """Each pose is then another than the reference's: none of them is a fault of its own."""
    motion = routine()
    by_s = counts * 60 / motion.bpm
    keys = (replace(k, late_s=k.late_s + by_s) if k.count >= first else k for k in motion.keys)
    result = told(replace(motion, keys=tuple(keys)).inexact(11))
    slips = [f for f in sure(result) if f.kind is FindingKind.SLIP]
    assert [said(f, result.counts)[: len(words)] for f in slips] == [words]
    assert 0 <= slips[0].start - first <= (2 if counts < 0 else 1)
    assert slips[0].size == pytest.approx(1000 * by_s, abs=30)
    # a step that is left out is missing or hurried, and so are those beside it
    others = [f for f in sure(result) if f.kind is not FindingKind.SLIP and not first - 2 <= f.start <= first + 2]
    assert not others
    begun, *tail = (p.phrase for p in result.phrases if slips[0] in p.findings)
    assert begun in result.redrill
    assert not set(tail) & set(result.redrill)
    assert {row_words(result, n).kind for n in tail} == {"the slip goes on"}


def test_of_who_slips_for_good_what_was_before_is_on_time() -> None:
    """More counts are late than not, and yet they are the late ones."""
    motion = routine()
    keys = (replace(k, late_s=k.late_s + 0.18) if k.count >= 16 else k for k in motion.keys)
    (slip,) = sure(told(replace(motion, keys=tuple(keys)).inexact(11)))
    assert (slip.kind, slip.start) == (FindingKind.SLIP, 16)


def test_what_follows_a_slip_into_the_next_phrase_is_drilled_where_it_began() -> None:
    result = told(late(routine(), 30, 31, 32, 34, 35, 36, 37, 38, ms=190))
    assert [(f.kind, f.start) for f in sure(result)] == [(FindingKind.SLIP, F(30))]
    assert result.redrill == (5,)
    assert result.phrases[5].kind is PhraseKind.SLIP


@pytest.mark.parametrize("way", [1, -1])
def test_a_drift_is_one_finding(way: int) -> None:
    motion = routine()
    for i, at in enumerate((36, 37, 38, 39, 40, 41, 42, 42.5, 43)):
        motion = motion.delay(at, way * 26 * (i + 1))
    result = told(motion)
    assert {f.kind for f in sure(result)} == {FindingKind.DRIFT}
    (drift,) = sure(result)
    assert np.sign(drift.size) == way
    assert result.phrases[5].kind is PhraseKind.DRIFT


@pytest.mark.parametrize("at", [1, 13, 34])
def test_an_arm_that_is_elsewhere_is_no_other_time(at: int) -> None:
    """What fits best is then some moment at which the arm is nearer, and still fits badly."""
    result = told(routine().adjust(at, r_elev=90))
    (found,) = sure(result)
    assert (found.part, found.start) == (Part.RIGHT_UPPER_ARM, at)
    count = next(c for c in result.counts if c.count.at == at)
    assert count.timing.verdict in (TimingVerdict.UNMEASURABLE, TimingVerdict.ON)


@pytest.mark.parametrize(("at", "degrees"), [(5, 40), (14, -40), (28, 40), (37, -40)])
def test_an_arm_that_is_elsewhere_on_a_late_count_is_told_beside_it(at: int, degrees: float) -> None:
    """It is where it is on its way as well, but not so late."""
    result = told(late(routine().adjust(at, l_elev=degrees), at, ms=240))
    here = sure(result)
    assert [(f.kind, f.start) for f in here] == [(FindingKind.LATE, at), (FindingKind.LIMB, at)]
    assert here[1].part is Part.LEFT_UPPER_ARM
    assert np.sign(here[1].size) == np.sign(degrees)


def test_a_hold_that_is_left_early_is_told_on_the_hold() -> None:
    result = told(routine().delay(13, -230))
    (found,) = sure(result)
    assert (found.kind, found.start, found.end) == (FindingKind.LEFT_HOLD_EARLY, 12, 13)
    hold = next(c for c in result.counts if c.count.at == 12)
    assert hold.timing.verdict is TimingVerdict.AHEAD
    assert hold.timing.error_ms is None


@pytest.mark.parametrize("at", [4, 20, 23, 35])
def test_a_move_that_is_left_out_is_missing_and_not_four_limbs_or_late(at: int) -> None:
    motion = routine()
    result = told(replace(motion, keys=tuple(k for k in motion.keys if k.count != at)))
    here = [f for f in sure(result) if f.start == at]
    assert [f.kind for f in here] == [FindingKind.MISSING]
    assert result.phrases[at // 8].kind is PhraseKind.MEMORY


def test_a_move_in_a_hold_is_one_too_many() -> None:
    stirring = routine().key(11.95, 0.4, count=-1, l_elev=90, r_elev=90)
    result = told(stirring.key(12.35, 0.35, count=-1, l_elev=25, r_elev=25))
    assert [(f.kind, f.start) for f in sure(result) if f.start == 12] == [(FindingKind.EXTRA, 12)]


def test_the_other_side_is_one_finding_and_not_twenty_limbs() -> None:
    def other(name: str) -> str:
        return {"l_elev": "r_elev", "r_elev": "l_elev"}.get(name, name)

    motion = routine()
    keys = (
        replace(k, channels={other(n): -v if n == "side" else v for n, v in k.channels.items()})
        if k.count in (13, 14) else k
        for k in motion.keys
    )  # fmt: skip
    result = told(replace(motion, keys=tuple(keys)))
    (found,) = sure(result)
    assert (found.kind, found.start, found.end) == (FindingKind.WRONG_SIDE, 13, 14)
    assert result.phrases[1].kind is PhraseKind.WRONG_SIDE


def test_a_wrong_wall_is_one_finding_until_the_facing_is_right_again() -> None:
    turned = routine().key(28, 0.8, yaw=75)  # until 30, where the routine says its facing again
    found = [f for f in sure(told(turned)) if f.kind is FindingKind.TURN]
    assert [(f.start, f.end) for f in found] == [(28, 29)]
    assert found[0].size == pytest.approx(75, abs=20)


def test_arms_that_go_half_their_way_are_told_once_for_the_phrase() -> None:
    def less(value: float) -> float:
        return 70 + 0.6 * (value - 70)

    motion = routine()
    keys = (
        replace(k, channels={n: less(v) if n.endswith("elev") else v for n, v in k.channels.items()})
        if 16 <= k.count < 24 else k
        for k in motion.keys
    )  # fmt: skip
    result = told(replace(motion, keys=tuple(keys)))
    found = [f for f in sure(result) if f.kind is FindingKind.RANGE]
    assert [(f.start, f.end) for f in found] == [(16, 23)]
    assert found[0].size == pytest.approx(0.6, abs=0.12)
    assert not [f for f in sure(result) if f.part and f.part.endswith("arm")]


def test_one_arm_that_stays_nearer_to_the_body_is_no_smaller_range() -> None:
    """Both arms' ways are cut off, or it is the one arm that is off."""
    motion = routine()
    keys = (
        replace(k, channels={n: 70 + 0.4 * (v - 70) if n == "l_elev" else v for n, v in k.channels.items()})
        if 16 <= k.count < 24 else k
        for k in motion.keys
    )  # fmt: skip
    found = sure(told(replace(motion, keys=tuple(keys))))
    assert FindingKind.RANGE not in {f.kind for f in found}
    assert Part.LEFT_UPPER_ARM in {f.part for f in found}


# sides


def test_a_flipped_take_is_known_and_turned_back() -> None:
    plain = danced(routine().adjust(13, l_elev=60).inexact(SEED))
    flipped = compared(plain.mirrored)
    assert (flipped.mirror.used, flipped.mirror.whose) == (True, Whose.TAKE)
    assert flipped.mirror.certainty > 0.9
    assert [(f.part, f.start, round(f.size, 6)) for f in sure(flipped)] == [
        (f.part, f.start, round(f.size, 6)) for f in sure(compared(plain))
    ]
    assert compared(plain).mirror.used is False


@settings(max_examples=4, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.sampled_from([13.0, 20.0, 39.0]), st.sampled_from(["l_elev", "r_elev"]))
def test_mirroring_both_changes_nothing_but_the_side(at: float, channel: str) -> None:
    take = danced(routine().adjust(at, **{channel: -45 if at > 14 else 45}).inexact(SEED))
    common = CommonTime(GRID, Method.SOUND, 1.0)
    plain = compare(reference(), take, SHEET, GRID, common, KnownSides(False, False))
    both = compare(reference(), take, SHEET, GRID, common, KnownSides(True, True))
    assert [(f.part and mirrored_part(f.part), f.start) for f in sure(plain)] == [(f.part, f.start) for f in sure(both)]
    assert both.mirror.used is False


def test_an_instructor_seen_from_behind_makes_no_faults() -> None:
    result = told(routine(), orbit_deg=180)
    assert len(sure(result)) <= 1
    assert result.mirror.used is not True


def test_a_head_that_is_turned_away_is_not_seen() -> None:
    result = told(routine(), orbit_deg=180)
    assert {c.position.parts[Part.HEAD].error for c in result.counts if Part.HEAD in c.position.parts} == {None}


# common time by movement


@settings(max_examples=6, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.floats(-1, 4), st.sampled_from([0.5, 0.75, 1.0]), st.booleans())
def test_the_dance_is_found_by_its_movement_at_any_tempo(later_s: float, tempo: float, flipped: bool) -> None:
    first = FIRST_S + later_s + 1
    take = danced(replace(routine(), bpm=BPM * tempo, first_s=first).inexact(SEED))
    match = match_movements(reference(), take.mirrored if flipped else take, GRID, COUNTS)
    assert match is not None
    assert match.certainty > 0.8
    true = Grid.from_tempo(first, BPM * tempo)
    assert np.abs(match.grid.seconds(COUNTS) - true.seconds(COUNTS)).max() < 0.25 * 60 / (BPM * tempo)
    result = compare(reference(), take, SHEET, GRID, CommonTime(match.grid, Method.MOVEMENT, match.certainty))
    assert result.alignment.constant_lag_ms is None
    assert result.alignment.tempo_ratio == pytest.approx(tempo, abs=0.004)
    assert result.alignment.offset_s == pytest.approx(first - FIRST_S, abs=0.025)
    assert result.redrill == ()


def test_somebody_who_stands_is_not_taken_for_the_dance() -> None:
    still = danced(Motion(BPM, FIRST_S).key(0, 0.5, l_elev=20).key(44, 0.5, l_elev=25))
    match = match_movements(reference(), still, GRID, COUNTS)
    assert match is None or match.certainty < 0.5
