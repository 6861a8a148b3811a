"""View and timing on movements made of smooth random limbs, of which turn, lag and size are exactly known."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator
from scipy.spatial.transform import Rotation

from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.aligning.counts_off import excused
from juxtakine.core.comparing.aligning.sides import mirror_images, unlikeness_by_count
from juxtakine.core.comparing.aligning.view import View, build
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.explaining.evidence import STRETCHES
from juxtakine.core.comparing.explaining.transit import PARTS, passing
from juxtakine.core.comparing.refused import AnotherDance
from juxtakine.core.comparing.results import Comparison, FindingKind, Method, TimingVerdict, Unit, Untold
from juxtakine.core.comparing.timing.activity import windows
from juxtakine.core.comparing.timing.lags import lags
from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.sheets import Mark, Phrase, Score, Sheet
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.cleaning import RATE
from juxtakine.core.movement.features import LIMBS, Features
from juxtakine.core.movement.tracks import Floats
from support.limbs import ARMS, COUNTS, GRID, danced, later, noisy, turned

STILL = np.zeros(len(COUNTS), bool)
ON_TIME = np.zeros(len(COUNTS))
COUNT_S = float(GRID.count_length(0.0))
SLOW = settings(max_examples=8, deadline=None)
LEGS = [i for i, part in enumerate(LIMBS) if part.endswith(("thigh", "shin"))]
THREE_ROWS = Sheet("three rows", 3 * (Phrase("", 8, "1 2 3 4 5 6 7 8"),))


def viewed(take: Features, grid: Grid = GRID) -> View:
    return build(danced(), take, GRID, grid, COUNTS)


@SLOW
@given(st.floats(-150, 150))
def test_the_turn_between_the_cameras_is_found(degrees: float) -> None:
    view = viewed(noisy(turned(danced(), degrees)))
    expected = Rotation.from_euler("y", degrees, degrees=True)
    assert np.degrees((view.turn * expected.inv()).magnitude()) < 3
    assert view.unlikeness < 0.05


def test_of_two_different_dances_much_is_left() -> None:
    assert viewed(danced(9)).unlikeness > 0.5


@SLOW
@given(st.floats(-0.3, 0.3), st.floats(-60, 60))
def test_a_lag_is_told_with_its_size_and_sign_from_any_side(lag_s: float, degrees: float) -> None:
    told = lags(viewed(noisy(later(turned(danced(), degrees), lag_s))), COUNTS, STILL, STILL)
    own = told.own[np.isfinite(told.own)]
    # the view was fitted with the two apart, so that its noise is large: a faint move or two are then not told
    assert len(own) >= 0.8 * len(COUNTS)
    assert np.abs(own - lag_s).mean() < 0.012
    assert abs(np.median(own) - lag_s) < 0.006


@pytest.mark.parametrize("at", [9, 11, 13])
@pytest.mark.parametrize(("aside", "told"), [(0.0, True), (0.5, False)])
def test_a_lag_at_which_somebody_is_elsewhere_is_another_movements(at: int, aside: float, told: bool) -> None:
    """All limbs are half their length aside, and move as the reference does 0.2 s later: that alone would fit."""
    early = later(danced(), -0.2).vectors + np.array([aside, 0, 0])
    inside = np.clip(20 * (0.85 - np.abs(GRID.count(danced().seconds) - at + 0.4)), 0, 1)[:, None, None]
    take = noisy(replace(danced(), vectors=(1 - inside) * danced().vectors + inside * early))
    counts = compare(danced(), take, THREE_ROWS, GRID, CommonTime(GRID, Method.SOUND, 1.0)).counts
    assert (counts[at].timing.verdict is TimingVerdict.AHEAD) == told
    assert (FindingKind.EARLY in {f.kind for f in counts[at].findings}) == told


@pytest.mark.parametrize("at", [8, 11, 14])
def test_what_the_take_does_where_the_reference_rests_draws_no_lag(at: int) -> None:
    """The reference's legs stand; the student's swing out around the count, and all else is on time."""
    vectors = danced().vectors.copy()
    vectors[:, LEGS] = vectors[:, LEGS].mean(0)
    resting, swung = replace(danced(), vectors=vectors), vectors.copy()
    swung[:, LEGS, 0] += 0.5 * np.exp(-(((GRID.count(danced().seconds) - at - 0.3) / 0.3) ** 2))[:, None]
    take = noisy(replace(resting, vectors=swung))
    told = lags(build(resting, take, GRID, GRID, COUNTS), COUNTS, STILL, STILL)
    assert abs(float(told.own[at == COUNTS].item())) < 0.006


@pytest.mark.parametrize("swings", [0.0, 1.0])
def test_an_arm_alone_tells_its_lag_whatever_legs_do_that_should_rest(swings: float) -> None:
    """Around count 12 only an arm moves; the student's is 0.2 s early, and their legs swing where that would lay the
    reference's, which rest."""
    from_s = (danced().seconds - GRID.seconds(12.0)) / 0.07
    vectors = danced().vectors.copy()
    quiet = np.abs(GRID.count(danced().seconds) - 12.0) < 2.5
    vectors[quiet] = vectors[quiet][0]
    resting, student = replace(danced(), vectors=vectors), vectors.copy()
    resting.vectors[:, ARMS[0], 0] += 0.5 * np.exp(-((from_s + 2) ** 2))
    student[:, ARMS[0], 0] += 0.5 * np.exp(-((from_s + 2 + 0.2 / 0.07) ** 2))
    student[:, LEGS, 0] += swings * np.exp(-((from_s + 8.3) ** 2))[:, None]
    own = lags(build(resting, noisy(replace(danced(), vectors=student)), GRID, GRID, COUNTS), COUNTS, STILL, STILL).own
    assert own[COUNTS == 12].item() == pytest.approx(-0.2, abs=0.03)


@pytest.mark.parametrize("seed", [9, 10, 11])
def test_who_dances_something_else_on_a_count_leaves_no_move_out(seed: int) -> None:
    """They move as far as the instructor; it is only not that, so that no lag fits."""
    for at in (7, 10, 13):
        here = np.clip(20 * (0.6 - np.abs(GRID.count(danced().seconds) - at - 0.1)), 0, 1)[:, None, None]
        take = noisy(replace(danced(), vectors=(1 - here) * danced().vectors + here * danced(seed).vectors))
        told = compare(danced(), take, THREE_ROWS, GRID, CommonTime(GRID, Method.SOUND, 1.0)).counts[at]
        assert told.findings
        assert FindingKind.MISSING not in {f.kind for f in told.findings}


@pytest.mark.parametrize("seed", [9, 10, 11, 12])
def test_of_who_dances_something_else_throughout_nothing_is_told_and_of_who_stops_midway_all_up_to_there(
    seed: int,
) -> None:
    def compared(take: Features) -> Comparison:
        return compare(danced(), take, THREE_ROWS, GRID, CommonTime(GRID, Method.SOUND, 1.0))

    with pytest.raises(AnotherDance, match=r"say where count 1 is .* delete it"):
        compared(noisy(danced(seed)))
    dance = danced()
    stops = int(GRID.seconds(12.3) * RATE)
    vectors = dance.vectors.copy()
    vectors[stops:] = vectors[stops]
    told = compared(noisy(replace(dance, vectors=vectors), seed)).counts
    assert [r.timing.verdict for r in told[1:12]] == [TimingVerdict.ON] * 11
    assert not any(r.findings for r in told[1:12])
    assert any(r.findings for r in told[13:])


@pytest.mark.parametrize("lag_s", [0.3, -0.3])
def test_who_is_late_is_on_the_way_to_the_count_and_who_is_early_on_from_it(lag_s: float) -> None:
    """By more than half of a move: few arms lie on the other way as well, and of another dance few on either."""
    for take, found in ((later(danced(), lag_s), 0.95), (danced(9), 0.0)):
        to, on = arms_on_the_way(take, lag_s, np.nan)
        way, other = (to, on) if lag_s > 0 else (on, to)
        assert found <= way <= found + 0.2
        assert other < 0.3


@pytest.mark.parametrize(("lag_s", "explains"), [(0.3, 0.6), (-0.3, -0.3)])
def test_no_more_of_the_way_is_asked_than_the_lag_explains(lag_s: float, explains: float) -> None:
    """Who is late is looked at as much later: arms that are 0.3 s behind even so are explained by a lag of 0.6 s."""
    for late_s, least, most in ((explains, 0.95, 1.0), (explains / 3, 0.0, 0.3)):
        to, on = arms_on_the_way(later(danced(), lag_s), lag_s, late_s / COUNT_S)
        assert least <= (to if lag_s > 0 else on) <= most


def arms_on_the_way(take: Features, lag_s: float, late: float) -> tuple[float, float]:
    """The share of the arms on all counts that lie on the way to them, and on from them, of who is so many counts
    `late`, where they are due; the view is fitted with the lag known."""
    view = build(danced(), take, GRID, GRID, COUNTS, lag_s)
    passes = np.full((len(COUNTS), len(PARTS)), 4.0)
    to, on = passing(view, COUNTS, ON_TIME, np.full(len(COUNTS), late), passes)
    return float(to[:, ARMS].mean()), float(on[:, ARMS].mean())


def test_one_late_count_stays_its_own() -> None:
    """From half a count before count 12 until half a count after it, the body is 140 ms behind: the lag jumps where
    people's would grow."""
    whole, late = danced(), later(danced(), 0.14)
    here = np.abs(GRID.count(whole.seconds) - 12.0) < 0.5
    told = lags(viewed(noisy(replace(whole, vectors=np.where(here[:, None, None], late.vectors, whole.vectors)))),
                COUNTS, STILL, STILL)  # fmt: skip
    at = int(np.flatnonzero(COUNTS == 12)[0])
    assert told.own[at] == pytest.approx(0.14, abs=0.04)
    others = np.delete(told.own, [at - 1, at, at + 1])
    assert np.nanmax(np.abs(others)) < 0.03


def bent(meant_counts: Floats, at_counts: Floats) -> Features:
    """What is meant for these counts, danced at those; between them evenly."""
    seconds = danced().seconds
    counts = np.interp(GRID.count(seconds), at_counts, meant_counts)
    moved = danced().at(np.clip(GRID.seconds(counts), seconds[0], seconds[-1]))
    return replace(moved, seconds=seconds)


@SLOW
@given(st.integers(0, 10_000))
def test_lags_that_change_from_count_to_count_are_those_of_the_arrivals(seed: int) -> None:
    """As people are late: independent lags, eased between counts. A window laid over the take as one piece would tell a
    third of the lag of the count before."""
    every = np.arange(-3.0, 40.0)
    late_s = np.random.default_rng(seed).normal(0, 0.05, len(every))
    finely = np.linspace(every[0], every[-1], 1000)
    eased = PchipInterpolator(every, late_s)(finely)
    told = lags(viewed(noisy(bent(finely, finely + eased / COUNT_S))), COUNTS, STILL, STILL)
    true, before = (np.interp(COUNTS - shift, every, late_s) for shift in (0, 1))
    known = np.isfinite(told.own)
    assert known.mean() > 0.9
    assert np.abs(told.own - true)[known].mean() < 0.012
    beside = np.column_stack([true, before, np.ones(len(true))])[known]
    assert abs(np.linalg.lstsq(beside, told.own[known], rcond=None)[0][1]) < 0.15
    assert (np.abs(told.own - true)[known] <= 2 * told.se[known]).mean() > 0.8


@pytest.mark.parametrize("share", [0.65, 1.4])
@pytest.mark.parametrize("begins", [6.0, 10.0])
def test_a_stretch_at_another_pace_is_told_as_that_and_no_position_in_it(share: float, begins: float) -> None:
    meant = np.array([-3.0, 0.0, begins, begins + 7, 40.0])
    take = bent(meant, meant + np.array([0, 0, 0, 7 / share - 7, 7 / share - 7]))
    common = CommonTime(GRID, Method.MANUAL, 1.0)
    told = compare(danced(), noisy(take), THREE_ROWS, GRID, common).counts
    found = [f for c in told for f in c.findings]
    # of the counts beside it a lag may be told
    assert not [f for f in found if f.unit is not Unit.MILLISECONDS and f.kind is not FindingKind.PACE]
    causes = [f for f in found if f.kind in STRETCHES]
    assert [f.kind for f in causes] == [FindingKind.PACE]
    assert abs(float(causes[0].start) - begins) <= 2
    assert causes[0].size == pytest.approx(share, abs=0.15)
    inside = next(c for c in told if c.count.at == begins + 3)
    assert (inside.timing.why, inside.position.parts) == (Untold.OTHER_PACE, {})


@pytest.mark.parametrize("share", [0.65, 1.0, 1.4])
def test_a_row_at_the_dancers_own_pace_is_judged_by_its_shape_and_what_follows_begins_where_it_ends(
    share: float,
) -> None:
    """One low arm in it is told, where it is danced."""
    own = tuple(Mark(f"{n}", "", Score.OWN_PACE) for n in range(1, 9))
    sheet = replace(THREE_ROWS, phrases=(THREE_ROWS.phrases[0], Phrase("", 8, "1 2 3 4 5 6 7 8", marks=own),
                                         THREE_ROWS.phrases[2]))  # fmt: skip
    low = danced()
    arm, near = LIMBS.index(Part.LEFT_UPPER_ARM), np.abs(GRID.count(low.seconds) - 11.8) < 0.6
    low.vectors[near, arm] = Rotation.from_euler("z", 60, degrees=True).apply(low.vectors[near, arm])
    meant = np.array([-3.0, 7.2, 15.0, 40.0])
    at = meant + np.array([0, 0, 7.8 / share - 7.8, 7.8 / share - 7.8])
    moved = low.at(np.clip(GRID.seconds(np.interp(GRID.count(low.seconds), at, meant)), 0, low.seconds[-1]))
    take = noisy(replace(moved, seconds=low.seconds))
    told = compare(danced(), take, sheet, GRID, CommonTime(GRID, Method.MANUAL, 1.0)).counts
    assert {c.timing.verdict for c in told[8:16]} == {TimingVerdict.FREE}
    assert [c.count.at for c in told if any(f.part for f in c.findings)] == [12]
    assert not [f for c in told for f in c.findings if f.kind in STRETCHES]
    danced_later = [c for c in told[17:] if c.timing.verdict is not TimingVerdict.NOT_SEEN]
    assert len(danced_later) >= 2
    assert {c.timing.verdict for c in danced_later} == {TimingVerdict.ON}


@pytest.mark.parametrize("share", [0.6, 0.8, 1.25])
def test_a_take_at_another_tempo_has_lags_in_its_own_time(share: float) -> None:
    slow = danced()
    slow = replace(slow, seconds=slow.seconds / share)
    steps = np.arange(0, slow.seconds[-1], 1 / RATE)
    grid = Grid((Anchor(Fraction(0), 2.0 / share), Anchor(Fraction(22), (2.0 + 12.0) / share)))
    told = lags(viewed(noisy(later(slow.at(steps), 0.1)), grid), COUNTS, STILL, STILL)
    assert np.nanmedian(told.own) == pytest.approx(0.1, abs=0.01)


def test_without_some_limbs_the_lag_is_the_same_and_less_sure() -> None:
    take = noisy(later(danced(), 0.08))
    armless = take.vectors.copy()
    armless[:, ARMS] = np.nan
    whole, part = (lags(viewed(t), COUNTS, STILL, STILL) for t in (take, replace(take, vectors=armless)))
    assert np.nanmedian(part.own) == pytest.approx(0.08, abs=0.01)
    assert np.nanmedian(part.se) > np.nanmedian(whole.se)


def test_where_nothing_moves_or_nothing_is_seen_no_lag_is_made_up() -> None:
    still = danced()
    first, last = (int(GRID.seconds(c) * RATE) for c in (9.0, 15.0))
    vectors = still.vectors.copy()
    vectors[first:last] = vectors[first]
    standing = replace(still, vectors=vectors)
    inside = (COUNTS > 10) & (COUNTS < 14)
    told = lags(build(standing, noisy(standing), GRID, GRID, COUNTS), COUNTS, STILL, STILL)
    assert not told.moves[inside].any()
    assert np.isnan(told.own[inside]).all()
    hidden = noisy(still).vectors
    hidden[first:last] = np.nan
    unseen = lags(viewed(replace(still, vectors=hidden)), COUNTS, STILL, STILL)
    assert np.isnan(unseen.own[inside]).all()


def test_what_repeats_itself_is_on_time_or_it_is_not_known_which_way_it_is_off() -> None:
    """Arms that for seven counts go to and fro every 0.3 s: half of that too late looks as much like too early."""
    dance = danced()
    off = np.abs(GRID.count(dance.seconds) - 12.0)
    vectors = dance.vectors.copy()
    vectors[off < 3.5] = vectors[off < 3.5][0]
    swing = 0.4 * np.sin(2 * np.pi * dance.seconds / 0.3)
    vectors[:, ARMS, 0] += np.where(off < 3.5, swing, 0.0)[:, None]
    shaking = replace(dance, vectors=vectors)
    one_late = replace(shaking, vectors=np.where(off[:, None, None] < 1.4, later(shaking, 0.15).vectors, vectors))
    inside, at = (COUNTS >= 10) & (COUNTS <= 14), COUNTS == 12

    def told(take: Features) -> Floats:
        return lags(build(shaking, noisy(take), GRID, GRID, COUNTS), COUNTS, STILL, STILL).own

    assert np.abs(told(shaking)[inside]).max() < 0.02
    assert np.isnan(told(one_late)[at]).all()


@pytest.mark.parametrize(("uneven", "told"), [(0.04, None), (0.3, True)], ids=["both sides alike", "sides differ"])
def test_a_dance_that_is_the_same_on_both_sides_has_no_mirror_image(uneven: float, told: bool | None) -> None:
    """Of two that are hardly different, one fits better all the same."""
    one, other = danced(), danced(9)
    alike = (one.vectors + one.mirrored.vectors) / 2 + uneven * other.vectors
    dance = replace(one, vectors=alike / np.linalg.norm(alike, axis=2, keepdims=True))
    assert mirror_images(dance, noisy(dance).mirrored, GRID, GRID, COUNTS)[0] is told


def test_of_who_is_seen_from_one_side_only_no_limb_is_compared_with_the_other_sides() -> None:
    """Their left limbs are seen, and their mirror image's right ones."""
    left = [i for i, part in enumerate(LIMBS) if part.startswith("left")]
    vectors = np.full_like(danced().vectors, np.nan)
    vectors[:, left] = danced().vectors[:, left]
    half = replace(danced(), vectors=vectors)
    plain, mirrored = unlikeness_by_count(replace(viewed(danced()), reference=half, take=noisy(half)), COUNTS, 0.0)
    assert plain.max() < 5
    assert np.isnan(mirrored).all()


COUNT_LINES = st.lists(st.sampled_from([0.25, 0.5, 0.5, 1.0, 1.0, 2.0]), min_size=2, max_size=20)


@given(COUNT_LINES, st.data(), st.floats(0.3, 1.0))
def test_windows_lead_into_their_counts_and_wait_for_moves_that_go_on(
    steps: list[float], data: st.DataObject, count_s: float
) -> None:
    counts: Floats = np.cumsum([0.0, *steps])
    goes_on = np.array(data.draw(st.lists(st.booleans(), min_size=len(counts), max_size=len(counts))))
    made = windows(counts, goes_on, count_s)
    assert [w.at for w in made] == counts.tolist()
    for w, after in zip(made, [*counts[1:], counts[-1] + 1], strict=True):
        assert w.start < w.at < w.end <= w.at + 0.25 * min(1.0, after - w.at) + 1e-9
        assert w.at - w.start <= 0.9 * max(2.0, 0.4 / count_s) + 1e-9


def test_what_was_off_before_a_stretch_at_ones_own_pace_stays_a_fault() -> None:
    off = np.array([0.0, 2.0, 2.0, 2.5, 3.0, 3.0, 3.0, 0.0])
    own_pace = np.array([0, 0, 0, 1, 1, 0, 0, 0], bool)
    assert excused(off, own_pace).tolist() == [0, 0, 0, 0.5, 1, 1, 1, 1]
