"""The comparison against a made-up dancer's exact truth: right, or said to be unknown."""

from dataclasses import replace
from fractions import Fraction as F

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.aligning.sides import KnownSides
from juxtakine.core.comparing.compare import compare, measure
from juxtakine.core.comparing.explaining.measured import nearest
from juxtakine.core.comparing.refused import CompareError
from juxtakine.core.comparing.results import (
    FindingKind,
    Method,
    PhraseKind,
    PositionVerdict,
    TimingVerdict,
    Untold,
    Whose,
)
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Mark, Phrase, Score, Sheet
from juxtakine.core.drilling.loops import RunIn, drills, loop
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.features import LIMBS
from juxtakine.core.telling.rows import row_words, sentence, tallies
from juxtakine.demo.lantern_quay import BPM, Fault
from juxtakine.demo.motion import Motion
from support.dancer import FIRST_S, GRID, SHEET, compared, danced, reference, routine
from support.measured import lines
from support.planted import told

FAULTS = (
    Fault(6, late_ms=-130),
    Fault(14, channels=(("l_elev", -40),), part="left-upper-arm", lower=True),
    Fault(18.5, late_ms=170),
    Fault(30, channels=(("drop", -0.16),), part="level"),
    Fault(39, channels=(("r_elev", -45),), part="right-upper-arm", lower=True),
)

TIMES = {FindingKind.LATE, FindingKind.EARLY}


def with_faults(*faults: Fault, seed: int = 11):  # type: ignore[no-untyped-def]  # a Comparison
    motion = routine()
    for fault in faults:
        motion = fault.plant(motion)
    return compared(danced(motion.inexact(seed)))


@pytest.fixture(scope="module")
def faulty():  # type: ignore[no-untyped-def]
    return with_faults(*FAULTS)


@pytest.fixture(scope="module")
def clean_take():  # type: ignore[no-untyped-def]
    return with_faults(seed=17)


def test_planted_faults_are_told_and_no_others(faulty) -> None:  # type: ignore[no-untyped-def]
    found = told(faulty, FAULTS)
    assert found.missed == []
    assert len(found.unplanted) <= 0.02 * len(faulty.counts)
    assert found.timed_share >= 0.9


def test_a_take_as_people_dance_has_nothing_to_redrill(clean_take) -> None:  # type: ignore[no-untyped-def]
    assert clean_take.redrill == ()
    assert all(p.kind is PhraseKind.CLEAN for p in clean_take.phrases)
    assert sentence(clean_take, SHEET).strong.startswith("Nothing to redrill")


def test_timing_is_right_within_its_own_error(clean_take) -> None:  # type: ignore[no-untyped-def]
    """Movement that is 10 ms inexact is measured within 25 ms, nearly always within two errors of its own."""
    measured = [c.timing for c in clean_take.counts if c.timing.verdict.measured]
    assert max(abs(t.error_ms) for t in measured) < 60
    assert all(t.se_ms > 0 for t in measured)


@settings(max_examples=6, suppress_health_check=[HealthCheck.too_slow])
@given(st.sampled_from([2.0, 13.0, 22.0, 31.0, 41.0]), st.integers(-180, 180))
def test_a_late_count_is_told_by_how_much(at: float, ms: int) -> None:
    """On whole counts; beside a subdivision up to a third of the lag is taken for its neighbour's."""
    result = compared(danced(routine().delay(at, ms)))
    count = next(c for c in result.counts if float(c.count.at) == at)
    assert count.timing.error_ms == pytest.approx(ms, abs=30)
    if abs(ms) > 90:
        assert count.timing.verdict is (TimingVerdict.BEHIND if ms > 0 else TimingVerdict.AHEAD)


def subdivided(seed: int) -> Motion:
    """Two rows, arms and level anywhere on every count, and the left arm on the & of the 6th too."""
    random, motion = np.random.default_rng(seed), Motion(90, FIRST_S)
    for at in range(16):
        left, right = (float(v) for v in random.choice([20, 60, 100, 150], 2))
        motion = motion.key(at, l_elev=left, r_elev=right, drop=float(random.choice([0, 0.06, 0.12])))
        if at == 5:
            motion = motion.key(5.5, 0.5, l_elev=float(random.choice([30, 90, 140])))
    return motion


def told_by_count(motion: Motion, take: Motion, line: str = "1 2 3 4 5 6 & 7 8") -> dict[float, set[FindingKind]]:
    sheet = Sheet("", (Phrase("", 8, line), Phrase("", 8, "1 2 3 4 5 6 7 8")))
    shown, grid = danced(motion, body="f", orbit_deg=0, seed=5), Grid.from_tempo(FIRST_S, motion.bpm)
    counts = compare(shown, danced(take), sheet, grid, CommonTime(grid, Method.SOUND, 1.0)).counts
    return {float(c.count.at): {f.kind for f in c.findings} for c in counts if c.findings}


@pytest.mark.parametrize("ms", [-180, -160, 220])
@pytest.mark.parametrize("seed", [0, 2, 4])
def test_a_late_or_early_count_is_not_told_of_the_subdivision_before_it_as_well(seed: int, ms: int) -> None:
    """The way to a 7 is under way on the & of 6; of who hurries to it, or comes late, that & alone tells nothing."""
    told = told_by_count(subdivided(seed), subdivided(seed).delay(6, ms))
    times = {at: kinds & TIMES for at, kinds in told.items() if kinds & TIMES}
    assert times == {6: {FindingKind.LATE if ms > 0 else FindingKind.EARLY}}


def quarters(seed: int) -> Motion:
    """Two slow rows, arms anywhere on every count and on the e and & of the 6th."""
    random, motion = np.random.default_rng(seed), Motion(60, FIRST_S)
    for at in (*range(6), 5.25, 5.5, *range(6, 16)):
        left, right = (float(v) for v in random.choice([20, 60, 100, 150], 2))
        motion = motion.key(at, *(() if at % 1 == 0 else (0.22,)), l_elev=left, r_elev=right)
    return motion


@pytest.mark.parametrize("ms", [-140, 140])
@pytest.mark.parametrize("seed", [0, 5])
def test_two_subdivisions_that_are_off_alike_are_told_as_no_count_beside_them_is_why(seed: int, ms: int) -> None:
    told = told_by_count(quarters(seed), quarters(seed).delay(5.25, ms).delay(5.5, ms), "1 2 3 4 5 6 e & 7 8")
    kind = FindingKind.LATE if ms > 0 else FindingKind.EARLY
    assert {at: kinds & TIMES for at, kinds in told.items() if kinds & TIMES} == {5.25: {kind}, 5.5: {kind}}


@pytest.mark.parametrize("seed", [1, 7, 10])
def test_who_waits_on_a_subdivision_for_a_late_count_has_no_arm_off_there(seed: int) -> None:
    assert told_by_count(subdivided(seed), subdivided(seed).delay(6, 220)) == {6: {FindingKind.LATE}}


@pytest.mark.parametrize("seed", [2, 4])
def test_an_arm_that_comes_from_elsewhere_is_not_at_another_time(seed: int) -> None:
    for degrees in (-50, 35, 50):
        told = told_by_count(subdivided(seed), subdivided(seed).adjust(5, l_elev=degrees))
        assert FindingKind.LIMB in told[5]
        assert not any(kinds & TIMES for kinds in told.values())


@settings(max_examples=6, suppress_health_check=[HealthCheck.too_slow])
@given(st.sampled_from(["l_elev", "r_elev"]), st.sampled_from([-50, -35, 35]), st.sampled_from([0, 12, -12]))
def test_a_limb_is_told_with_its_side_and_way(channel: str, degrees: int, orbit: int) -> None:
    result = compared(danced(routine().adjust(13, **{channel: degrees}), orbit_deg=orbit))
    part = Part.LEFT_UPPER_ARM if channel[0] == "l" else Part.RIGHT_UPPER_ARM
    count = next(c for c in result.counts if c.count.at == 13)
    told_part = count.position.parts[part]
    assert told_part.verdict is PositionVerdict.OFF
    assert told_part.error == pytest.approx(degrees, abs=12)
    other = Part.RIGHT_UPPER_ARM if part is Part.LEFT_UPPER_ARM else Part.LEFT_UPPER_ARM
    assert count.position.parts[other].verdict is PositionVerdict.HELD


def test_a_constant_lag_is_told_once_and_on_no_count() -> None:
    late = replace(routine(), first_s=FIRST_S + 0.09)
    result = compared(danced(late))
    assert result.alignment.constant_lag_ms == pytest.approx(90, abs=12)
    assert result.redrill == ()


def test_a_slower_take_is_compared_in_its_own_tempo() -> None:
    slow = Grid.from_tempo(FIRST_S, BPM * 0.8)
    result = compared(danced(replace(routine(), bpm=BPM * 0.8)), slow)
    assert result.alignment.tempo_ratio == pytest.approx(0.8, abs=1e-6)
    assert result.redrill == ()


def test_a_short_take_is_not_seen_at_its_end_and_not_refused() -> None:
    whole = danced(routine())
    n = int(len(whole.seconds) * 0.75)
    cut = replace(
        whole, seconds=whole.seconds[:n], vectors=whole.vectors[:n], doubt=whole.doubt[:n], feet=whole.feet[:n],
        level=whole.level[:n], facing=whole.facing[:n], head=whole.head[:n],
    )  # fmt: skip
    result = compared(cut)
    end = float(GRID.count(cut.seconds[-1]))
    after = [c for c in result.counts if c.count.at > end + 0.1]
    assert after
    assert {c.timing.verdict for c in after} == {TimingVerdict.NOT_SEEN}
    assert all(c.position.verdict is PositionVerdict.NOT_SEEN for c in after)
    assert result.phrases[-1].kind is PhraseKind.UNCLEAR
    assert 6 not in result.redrill


def test_a_moment_in_which_nobody_was_found_takes_hardly_a_figure_away() -> None:
    """A fifth of a second on the way into a count: that count may go, its neighbours stay."""
    whole = danced(routine().delay(14, 160))
    vectors, level = whole.vectors.copy(), whole.level.copy()
    begin = float(GRID.seconds(12.5))
    gap = slice(*np.searchsorted(whole.seconds, [begin, begin + 0.2]))
    vectors[gap], level[gap] = np.nan, np.nan
    result = compared(replace(whole, vectors=vectors, level=level))
    near = {float(c.count.at): c.timing for c in result.counts if 11 <= c.count.at <= 15}
    assert sum(t.verdict is TimingVerdict.NOT_SEEN for t in near.values()) <= 1
    assert near[14].error_ms == pytest.approx(160, abs=30)


def test_arms_tell_the_time_by_themselves_where_the_legs_are_out_of_the_picture() -> None:
    whole = danced(routine().delay(14, 160).inexact(11))
    vectors = whole.vectors.copy()
    vectors[:, [i for i, part in enumerate(LIMBS) if part.endswith(("thigh", "shin"))]] = np.nan
    nowhere = np.full(len(whole.seconds), np.nan)
    result = compared(replace(whole, vectors=vectors, level=nowhere, feet=np.full_like(whole.feet, np.nan)))
    assert {float(f.start): f.kind for p in result.phrases for f in p.findings if f.sure} == {14.0: FindingKind.LATE}
    timed = [c for c in result.counts if c.count.timed and c.moves]
    assert np.mean([c.timing.verdict.measured for c in timed]) > 0.9


def test_somebody_seen_in_less_than_half_is_refused() -> None:
    whole = danced(routine())
    vectors = whole.vectors.copy()
    vectors[: int(len(vectors) * 0.7)] = np.nan
    with pytest.raises(CompareError, match="can be seen in only"):
        compared(replace(whole, vectors=vectors))


def test_free_counts_are_not_scored_whatever_is_danced() -> None:
    result = with_faults(Fault(24, channels=(("l_elev", 60),)))
    first = next(c for c in result.counts if c.count.at == 24)
    assert (first.timing.verdict, first.position.verdict) == (TimingVerdict.FREE, PositionVerdict.FREE)
    assert first.findings == ()


def test_timing_only_counts_have_no_position() -> None:
    phrases = list(SHEET.phrases)
    marks = (*(m for m in phrases[1].marks if m.label != "6"), Mark("6", score=Score.TIMING))
    phrases[1] = replace(phrases[1], marks=marks)
    result = compared(danced(routine().adjust(13, l_elev=-45)), sheet=Sheet("", tuple(phrases)))
    count = next(c for c in result.counts if c.count.at == 13)
    assert count.position.verdict is PositionVerdict.FREE
    assert all(f.kind in (FindingKind.LATE, FindingKind.EARLY) for f in count.findings)


def test_nothing_that_moves_means_no_timing() -> None:
    """Eight more counts after the end, where everybody stands."""
    still = Sheet("", (*SHEET.phrases, replace(SHEET.phrases[0], marks=())))
    longer = replace(routine(), keys=(*routine().keys, *routine().key(52, 0.01, l_elev=15).keys[-1:]))
    result = compared(danced(longer), sheet=still)
    after = [c.timing for c in result.counts if 47 <= c.count.at < 51]
    assert {t.verdict for t in after} <= {TimingVerdict.UNMEASURABLE, TimingVerdict.NOT_SEEN}
    assert {t.why for t in after} <= {Untold.STILL, Untold.BEYOND_CLIP}


def test_where_there_is_no_figure_it_is_told_why(faulty) -> None:  # type: ignore[no-untyped-def]
    turned_away = compared(danced(routine().inexact(4), orbit_deg=35))
    for c in (*faulty.counts, *turned_away.counts):
        assert (c.timing.why is None) == (c.timing.error_ms is not None)
    assert {c.timing.why for c in faulty.counts if c.count.hold} == {Untold.HOLD}
    assert {c.timing.why for c in faulty.counts if c.count.free} <= {Untold.FREE}


def test_the_worst_row_comes_first_and_its_drill_begins_where_it_starts(faulty) -> None:  # type: ignore[no-untyped-def]
    needs = [faulty.phrases[n - 1].need for n in faulty.redrill]
    assert needs == sorted(needs, reverse=True)
    assert set(faulty.redrill) == {1, 2, 3, 5, 6}
    made = drills(faulty, SHEET)
    assert [d.phrase for d in made] == list(faulty.redrill)
    lanterns = next(d for d in made if d.phrase == 3)
    assert lanterns.loops[RunIn.TWO].start == 18
    assert lanterns.loops[RunIn.TWO].run_in == 16


@given(st.integers(1, 6), st.fractions(0, 43, max_denominator=4), st.sampled_from(list(RunIn)))
def test_a_loop_is_led_into_and_stays_in_its_phrase(phrase: int, first: F, run_in: RunIn) -> None:
    begin = SHEET.starts()[phrase - 1]
    end = begin + SHEET.phrases[phrase - 1].counts
    made = loop(SHEET, phrase, min(max(first, F(begin)), F(end - 1)), run_in)
    assert made.run_in <= made.start < made.end == end
    assert made.start >= begin
    assert made.end - made.start >= 4
    if run_in is RunIn.TOP:
        assert made.run_in == 0
    if run_in is RunIn.TWO:
        assert made.start - made.run_in == 2


def test_words_say_how_much_which_way_and_how_sure(faulty) -> None:  # type: ignore[no-untyped-def]
    count = next(c for c in faulty.counts if c.count.at == 14)
    said = lines(count, faulty.counts)
    assert any("left upper arm" in r.text and r.text.endswith("too low") and r.off for r in said)
    late = next(c for c in faulty.counts if c.count.at == F(37, 2))
    assert "ms behind" in lines(late, faulty.counts)[0].text
    row = row_words(faulty, 3)
    assert "3 &" in row.kind
    assert 1 <= row.tallies <= 5


def test_need_becomes_the_next_whole_tally() -> None:
    assert [tallies(n) for n in (0, 0.01, 0.2, 0.21, 1)] == [0, 1, 1, 2, 5]


def test_the_same_recording_as_take_differs_in_nothing() -> None:
    result = compared(reference())
    assert all(abs(c.timing.error_ms) < 2 * c.timing.se_ms for c in result.counts if c.timing.verdict.measured)
    assert all(c.position.held == 1 for c in result.counts if c.position.held is not None)


@pytest.mark.parametrize("flipped", [False, True], ids=["take as it is", "take flipped"])
def test_of_an_instructor_known_to_mirror_the_sides_are_the_students_own(flipped: bool) -> None:
    """The reference's sides are the student's other ones; whether the take's picture is flipped, the movement tells."""
    take = danced(routine().adjust(6, l_elev=-35))
    told = compare(
        reference().mirrored, take.mirrored if flipped else take, SHEET, GRID, CommonTime(GRID, Method.SOUND, 1.0),
        KnownSides(reference=True),
    )  # fmt: skip
    assert (told.mirror.used, told.mirror.whose) == ((False, None) if flipped else (True, Whose.REFERENCE))
    limbs = {f.part for c in told.counts for f in c.findings if f.sure and f.part is not None}
    assert limbs == {Part.LEFT_UPPER_ARM}


@pytest.mark.parametrize("flipped", [False, True], ids=["picture as it is", "picture flipped"])
@pytest.mark.parametrize("danced_mirrored", [False, True], ids=["instructor faces", "instructor mirrors"])
def test_of_a_take_whose_picture_is_known_the_instructors_sides_follow(flipped: bool, danced_mirrored: bool) -> None:
    """It is the left arm that is too low, however the two were filmed."""
    take = danced(routine().adjust(6, l_elev=-35))
    shown = reference().mirrored if danced_mirrored else reference()
    common = CommonTime(GRID, Method.SOUND, 1.0)
    told = compare(shown, take.mirrored if flipped else take, SHEET, GRID, common, KnownSides(take=flipped))
    assert told.mirror.used is (flipped != danced_mirrored)
    assert {f.part for c in told.counts for f in c.findings if f.sure and f.part} == {Part.LEFT_UPPER_ARM}


def test_the_nearest_angle_is_taken_of_those_that_see_enough() -> None:
    """By how far the cameras stand apart; one that hardly sees the dancer is not near."""
    take, common = danced(routine().inexact(31), orbit_deg=25), CommonTime(GRID, Method.SOUND, 1.0)
    cameras = [danced(routine(), body="f", orbit_deg=orbit) for orbit in (-20, 5, 32)]
    made = [measure(reference, take, SHEET, GRID, common) for reference in cameras]
    for one, apart in zip(made, (45, 20, 7), strict=True):
        assert abs(one.turned_deg - apart) < 8
    assert nearest(made) == 2
    blind = replace(made[2], counts=made[2].counts[:20])
    assert nearest([*made[:2], blind]) == 1
