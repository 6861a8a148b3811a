"""Position against exact truth: each kind of fault is told in its own words, and a clean take stays clean."""

import pytest

from juxtakine.core.comparing.results import Comparison, CountResult, FindingKind
from juxtakine.core.movement.body import Part
from support.dancer import compared, danced, routine


def at(result: Comparison, count: float) -> CountResult:
    return next(c for c in result.counts if float(c.count.at) == count)


@pytest.mark.parametrize(
    ("count", "fault", "kind", "part", "words"),
    [
        (30, {"drop": -0.18}, FindingKind.LEVEL, Part.LEVEL, "too high"),
        (9, {"drop": 0.18}, FindingKind.LEVEL, Part.LEVEL, "too low"),
        (30, {"l_fx": -0.30}, FindingKind.SPREAD, Part.SPREAD, "too narrow"),
        (0, {"l_fx": 0.35}, FindingKind.SPREAD, Part.SPREAD, "too wide"),
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
    found = at(compared(danced(routine().adjust(count, **fault).inexact(21))), count).findings
    told = [f for f in found if f.sure and f.part is part]
    assert [(f.kind, words in f.text) for f in told] == [(kind, True)], [f.text for f in found]


@pytest.mark.parametrize("body", ["f", "m"])
@pytest.mark.parametrize("orbit", [-20, -10, 0, 10, 20])
def test_another_body_or_angle_is_no_fault(body: str, orbit: float) -> None:
    result = compared(danced(routine().inexact(5), body=body, orbit_deg=orbit, seed=7))
    false = [(c.count.label, f.text) for c in result.counts for f in c.findings if f.sure]
    assert len(false) <= 0.02 * len(result.counts), false


def test_a_larger_fault_holds_less_and_needs_more() -> None:
    results = [compared(danced(routine().adjust(13, l_elev=-d, r_elev=-d))) for d in (0, 30, 60)]
    held = [at(r, 13).position.held for r in results]
    assert held == sorted(held, reverse=True)
    needs = [r.phrases[1].need for r in results]
    assert needs == sorted(needs)
    assert needs[0] == 0 < needs[2]
