"""Position against exact truth: each kind of fault is told in its own words, and a clean take stays clean."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.comparing.position.noise import cues, elsewhere, standard_error, standard_errors, telling
from juxtakine.core.comparing.position.poses import Poses
from juxtakine.core.comparing.results import Comparison, CountResult, FindingKind
from juxtakine.core.movement.body import Part, mirrored_part
from juxtakine.core.movement.features import LIMBS
from juxtakine.core.telling.findings import said
from support.dancer import compared, danced, routine


def at(result: Comparison, count: float) -> CountResult:
    return next(c for c in result.counts if float(c.count.at) == count)


@pytest.mark.parametrize(
    ("count", "fault", "kind", "part", "words"),
    [
        (30, {"drop": -0.18}, FindingKind.LEVEL, Part.LEVEL, "too high"),
        (9, {"drop": 0.18}, FindingKind.LEVEL, Part.LEVEL, "too low"),
        (30, {"l_fx": -0.30}, FindingKind.SPREAD, Part.SPREAD, "too narrow"),
        (0, {"l_fx": 0.30}, FindingKind.SPREAD, Part.SPREAD, "too wide"),
        (31, {"side": 44}, FindingKind.TORSO, Part.TORSO, "left"),
        (31, {"side": -30}, FindingKind.TORSO, Part.TORSO, "right"),
        (37, {"yaw": 38}, FindingKind.FACING, Part.FACING, "turned too little"),
        (29, {"l_elbow": -75}, FindingKind.LIMB, Part.LEFT_FOREARM, "not bent enough"),
        (14, {"r_elbow": 80}, FindingKind.LIMB, Part.RIGHT_FOREARM, "too bent"),
    ],
)
def test_a_fault_is_told_as_what_it_is(
    count: float, fault: dict[str, float], kind: FindingKind, part: Part, words: str
) -> None:
    result = compared(danced(routine().adjust(count, **fault).inexact(21)))
    found = at(result, count).findings
    told = [f for f in found if f.sure and f.part is part]
    assert [(f.kind, words in said(f, result.counts)) for f in told] == [(kind, True)], found


@pytest.mark.parametrize("body", ["f", "m"])
@pytest.mark.parametrize("orbit", [-20, -10, 0, 10, 20])
def test_another_body_or_angle_is_no_fault(body: str, orbit: float) -> None:
    result = compared(danced(routine().inexact(5), body=body, orbit_deg=orbit, seed=7))
    false = [(c.count.label, f) for c in result.counts for f in c.findings if f.sure]
    assert len(false) <= 0.02 * len(result.counts), false


@pytest.mark.parametrize("part", [Part.LEFT_UPPER_ARM, Part.RIGHT_FOREARM])
def test_an_arm_that_does_not_reach_out_beside_the_body_is_known_less_well(part: Part) -> None:
    outwards = np.array([0.9, 0.3, 0.0, -0.6])
    front = np.zeros(len(outwards)), np.zeros(len(outwards))
    known = standard_error(part, cues(np.full(4, 3.0), np.full(4, 0.8), front, outwards))
    assert known[0] == known[1] < known[2] < known[3]


@given(st.sampled_from([p for p in Part if p.endswith("arm")]), st.floats(-0.9, 0.9), st.floats(-70, 70))
def test_from_behind_the_other_way_is_outwards(part: Part, across: float, turned: float) -> None:
    told = [telling(part, poses(part, x, facing)) for x, facing in ((across, turned), (-across, turned + 180))]
    assert told[0][0, -1] == pytest.approx(told[1][0, -1])
    other = telling(mirrored_part(part), poses(mirrored_part(part), -across, -turned))
    assert told[0][0, -1] == pytest.approx(other[0, -1])


def test_where_a_body_faces_is_known_less_well_once_it_has_turned_its_back() -> None:
    """Of who only stands with the back to the camera it is known better, and as well of who turned to the front."""
    to_back, at_back, to_front = ([0.0, 180.0], [180.0, 180.0], [180.0, 0.0])

    def known(yaws: list[float]) -> float:
        body = np.array(yaws), np.array(yaws)
        there = replace(poses(Part.TORSO, 0.3, 0.0), facing=body, yaws={Part.FACING: body})
        return float(standard_error(Part.FACING, telling(Part.FACING, there))[1])

    assert known(to_front) < known(at_back) < known(to_back)


@given(st.sampled_from([p for p in Part if p.endswith("arm")]), st.floats(0.1, 0.7), st.floats(0.1, 0.4))
def test_from_elsewhere_what_points_up_is_known_better_than_what_points_aside(
    part: Part, slant: float, apart: float
) -> None:
    def known(aside: float, up: float) -> float:
        there = poses(part, 0.3, 0.0)
        got = there.want + np.array([aside, up])
        return float(elsewhere(part, replace(there, got=got, depth_shown=np.array([slant, 0.0])))[0])

    assert 1 < known(0.0, apart) < known(apart, apart) < known(apart, 0.0)
    assert elsewhere(part, poses(part, 0.3, 0.0))[0] == 1


@given(st.floats(0, 0.7), st.floats(0.1, 1), st.floats(0.2, 1))
def test_how_wide_the_feet_stand_is_known_less_well_the_deeper_they_stand_and_where_both_disagree(
    slant: float, deep: float, disagree: float
) -> None:
    def known(slant: float, deep: float, disagree: float, in_the_air: float = 0.3) -> float:
        """On the first of two counts, where the foot is in the air on the second or is not."""
        each, feet = np.array([0.9, 0.9]), np.array([0.3, in_the_air])
        there = replace(
            poses(Part.TORSO, 0.3, 0.0),
            flat={Part.LEVEL: (each, each), Part.SPREAD: (feet, feet)},
            depth_shown=np.array([slant, 0]),
            feet_depth=np.array([[deep] * 2, [disagree] * 2]),
        )
        return float(standard_errors(Part.SPREAD, np.zeros(2), there)[0])

    assert known(slant, 0, 0) == known(0, deep, 0) == known(0, 0, 0)
    assert known(slant, deep, 0) == known(slant, -deep, 0) >= known(0, deep, 0)
    assert known(slant, 0, disagree) > known(slant, 0, 0)
    assert known(0.3, 0, 0, np.nan) > known(0.3, 0, 0) == known(0, 0, 0, np.nan)


def test_feet_that_are_too_near_are_told_from_elsewhere_too() -> None:
    moved = routine().adjust(30, l_fx=-0.07, r_fx=0.07).inexact(21)
    result = compared(danced(moved, orbit_deg=33))
    found = at(result, 30).findings
    assert [(f.kind, "too narrow" in said(f, result.counts)) for f in found if f.sure] == [(FindingKind.SPREAD, True)]


def poses(part: Part, across: float, facing: float) -> Poses:
    """One count on which the part reaches so far to the picture's right in both."""
    vectors = np.zeros((1, len(LIMBS), 2))
    vectors[0, LIMBS.index(part)] = across, 0.4
    both, still = (np.array([facing]), np.array([facing])), (np.zeros(1), np.zeros(1))
    return Poses(vectors, vectors, {}, {}, both, {}, np.zeros((1, len(LIMBS))), np.zeros(2), np.zeros((2, 1)), still)


def test_a_larger_fault_holds_less_and_needs_more() -> None:
    results = [compared(danced(routine().adjust(13, l_elev=-d, r_elev=-d))) for d in (0, 30, 60)]
    held = [at(r, 13).position.held for r in results]
    assert held == sorted(held, reverse=True)
    needs = [r.phrases[1].need for r in results]
    assert needs == sorted(needs)
    assert needs[0] == 0 < needs[2]
