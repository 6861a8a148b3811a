"""What is carried along: whole arms, elbows that are mistaken, arms on a torso that leans."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.comparing.position.chains import against, along_with_trunk, as_one, degrees, lean_of_arms
from juxtakine.core.comparing.position.chances import is_told, passes
from juxtakine.core.comparing.position.parts import CARRIES, led, unit_of
from juxtakine.core.comparing.position.poses import rotated
from juxtakine.core.comparing.results import PartResult, PositionVerdict
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.tracks import Floats
from juxtakine.core.telling.findings import said
from support.dancer import compared, danced, routine

AWAY = st.floats(-60, 60).filter(lambda a: abs(a) > 15)
WAYS = st.floats(-180, 180)
FEW_DEG, MANY_DEG = np.array([3.0]), np.array([9.0])
STILL = np.zeros((1, 2))


def off(degrees_off: float, way: float) -> Floats:
    """(1, 2) a difference of so many degrees, which way in the picture."""
    chord = 2 * np.sin(np.radians(degrees_off) / 2)
    return np.array([[chord * np.cos(np.radians(way)), chord * np.sin(np.radians(way))]])


@given(AWAY, WAYS, st.floats(1, 10), st.floats(1, 10))
def test_an_arm_that_is_off_as_a_whole_is_known_better_than_either_segment(
    size: float, way: float, upper_se: float, lower_se: float
) -> None:
    both = off(size, way)
    one = as_one(both, both, np.array([upper_se]), np.array([lower_se]))
    assert one.told.all()
    assert one.carried.all()
    assert degrees(one.difference) == pytest.approx(abs(size))
    assert one.standard_error[0] < min(upper_se, lower_se)


@given(AWAY, WAYS)
def test_a_segment_that_is_off_by_itself_is_told_by_itself(size: float, way: float) -> None:
    for upper, lower in ((off(size, way), STILL), (STILL, off(size, way)), (off(size, way), off(size, way + 180))):
        one = as_one(upper, lower, FEW_DEG, FEW_DEG)
        assert not one.told.any()
        assert not (one.carried & lower.any(1)).any()


def test_what_is_not_seen_tells_nothing_of_the_other_segment() -> None:
    hidden = np.full((1, 2), np.nan)
    for upper, lower in ((off(30, 0), hidden), (hidden, off(30, 0))):
        one = as_one(upper, lower, FEW_DEG, FEW_DEG)
        assert not (one.told | one.carried).any()
        assert against(upper, lower)[0] == 0


@given(AWAY, WAYS, st.floats(0, 2))
def test_a_mistaken_elbow_puts_its_segments_off_against_each_other(size: float, way: float, longer: float) -> None:
    one = off(size, way)
    assert against(one, -longer * one)[0] == pytest.approx(min(1.0, longer))
    assert against(one, longer * one)[0] == 0
    assert against(one, rotated(one, np.array([90.0])))[0] == pytest.approx(0, abs=1e-9)


def arms(lean: float, carried: bool) -> tuple[Floats, Floats]:
    """(1, 4, 2) of all four segments as they are meant to be, and as they are."""
    meant = np.array([[[0.9, 0.1], [0.5, -0.7], [-0.9, 0.1], [-0.5, -0.7]]])
    shown = rotated(meant[0], np.full(4, lean))[None] if carried else meant
    return meant, shown


@given(AWAY, st.sampled_from([FEW_DEG, MANY_DEG]))
def test_arms_that_lean_along_tell_by_how_much_and_others_that_they_do_not(lean: float, known: Floats) -> None:
    errors = np.tile(known, (1, 4))
    (along, error), (stay, _) = (lean_of_arms(*arms(lean, carried), errors) for carried in (True, False))
    assert along[0] == pytest.approx(lean, rel=0.2)
    assert error[0] < known[0]
    assert stay[0] == 0
    mirror = [a * np.array([-1.0, 1.0]) for a in arms(lean, True)]
    assert lean_of_arms(*mirror, errors)[0] == pytest.approx(-along)


def test_arms_that_are_not_seen_tell_nothing_of_the_torso() -> None:
    meant, shown = arms(20.0, True)
    errors = np.tile(MANY_DEG, (1, 4))
    assert np.isnan(lean_of_arms(meant, np.full_like(meant, np.nan), errors)).all()
    shown[0, 2:] = np.nan
    assert lean_of_arms(meant, shown, errors)[0] == pytest.approx(20, rel=0.2)


@pytest.mark.parametrize("side", ["left", "right"])
def test_an_arm_that_is_off_at_its_shoulder_is_told_once(side: str) -> None:
    fault = {f"{side[0]}_elev": -25.0}
    result = compared(danced(routine().adjust(13, **fault).inexact(3)))
    (count,) = [c for c in result.counts if c.count.at == 13]
    assert [f.part for f in count.findings if f.part and f.part.startswith(side)] == [Part(f"{side}-upper-arm")]
    assert count.position.parts[Part(f"{side}-upper-arm")].as_one
    assert count.position.parts[Part(f"{side}-forearm")].follows == Part(f"{side}-upper-arm")


@pytest.mark.parametrize("stays", [False, True])
def test_a_head_that_is_turned_along_with_the_body_tells_of_it_and_follows(stays: bool) -> None:
    turned = routine().key(28, 0.8, yaw=40, turn=-40 * stays).key(29, 0.8, yaw=0, turn=0)
    (count,) = [c for c in compared(danced(turned.inexact(3))).counts if c.count.at == 28]
    assert [f.part for f in count.findings] == [Part.FACING]
    assert count.position.parts[Part.FACING].as_one is not stays
    assert count.position.parts[Part.HEAD].follows == (None if stays else Part.FACING)


@given(st.floats(30, 60), st.floats(0.6, 0.9), st.floats(3, 5), st.sampled_from([-1, 1]))
def test_a_head_is_turned_along_with_a_trunk_of_whose_turn_little_is_seen(
    by: float, share: float, error: float, to: int
) -> None:
    """And alone where the trunk shows next to nothing, or the other way; of one that shows more it is not asked."""
    trunk, head = np.array([share, 0.05, -share, 1.2]) * by * to, np.full(4, by * to)
    along, *alone, more = along_with_trunk(trunk, head, np.full(4, error)).tolist()
    assert along > 0.9
    assert max(alone) < 0.1
    assert np.isnan(more)


@pytest.mark.parametrize("head", [-38.0, 38.0])
def test_which_of_head_and_body_is_turned_is_left_open_where_the_trunk_shows_a_little(head: float) -> None:
    straight = danced(routine().inexact(3))
    turned = danced(routine().key(28, 0.8, turn=head).key(29, 0.8, turn=0).inexact(3))
    shown = replace(turned, facing=turned.facing + 0.2 * (turned.head - straight.head))
    for take, of in ((turned, "head"), (shown, "or the")):
        counts = compared(take).counts
        (found,) = next(c for c in counts if c.count.at == 28).findings
        assert of in said(found, counts)
        assert ("or the" in said(found, counts)) == (take is shown)
        assert (found.certainty < 0.95) == (take is shown)


@pytest.mark.parametrize("yaw", [-45.0, 45.0])
def test_a_trunk_of_whose_turn_little_is_seen_is_told_by_its_head(yaw: float) -> None:
    straight = danced(routine().inexact(3))
    turned = danced(routine().key(28, 0.8, yaw=yaw).key(29, 0.8, yaw=0).inexact(3))
    flatter = replace(turned, facing=straight.facing + 0.5 * (turned.facing - straight.facing))
    (count,) = [c for c in compared(flatter).counts if c.count.at == 28]
    assert [f.part for f in count.findings] == [Part.FACING]
    assert count.findings[0].size == pytest.approx(yaw, abs=8)
    assert count.position.parts[Part.HEAD].follows is Part.FACING


def part_off(of: Part, by: float) -> PartResult:
    return PartResult(by * passes(of), unit_of(of), 1.0, PositionVerdict.OFF, passes(of) / 6, passes(of))


@given(st.sampled_from(list(CARRIES)), st.floats(0, 5))
def test_nothing_follows_what_is_not_told_itself(part: Part, by: float) -> None:
    """Or else neither would be."""
    parts = {part: part_off(part, 3), CARRIES[part]: part_off(CARRIES[part], by)}
    likely = is_told(parts[CARRIES[part]], CARRIES[part])
    for carried in (True, False):
        follows = led(parts, set(), {part} if carried else set())[part].follows
        assert follows == (CARRIES[part] if carried and likely else None)


@pytest.mark.parametrize(("leg", "step", "turned", "lead"), [
    (3, 0, False, Part.LEVEL), (-3, 0, False, None), (0, 0, False, None), (3, 3, False, Part.SPREAD),
    (3, 0, True, None),
])  # fmt: skip
def test_hips_that_are_hardly_seen_too_low_are_where_a_leg_is_bent_for_it(
    leg: float, step: float, turned: bool, lead: Part | None
) -> None:
    """And not where it is stretched or right, or where a step or the body's turn tells why it is so."""
    off = {Part.LEVEL: part_off(Part.LEVEL, -1.05)}
    off |= {p: part_off(p, by) for p, by in ((Part.SPREAD, step), (Part.RIGHT_THIGH, leg)) if by}
    assert not is_told(off[Part.LEVEL], Part.LEVEL)
    told = led(off, {Part.RIGHT_THIGH} if turned else set(), set())
    assert is_told(told[Part.LEVEL], Part.LEVEL) == (lead is Part.LEVEL)
    assert not leg or told[Part.RIGHT_THIGH].follows == lead


def test_who_is_turned_has_no_fault_of_what_is_turned_along() -> None:
    """Nor does what stays off lose its finding, as what it would follow has none itself."""
    off = {p: part_off(p, 3) for p in (Part.FACING, Part.SPREAD, Part.LEFT_THIGH, Part.LEFT_SHIN, Part.RIGHT_THIGH)}
    turned = led(off, {Part.SPREAD, Part.LEFT_THIGH}, {Part.LEFT_SHIN})
    assert {p: r.follows for p, r in turned.items() if r.follows} == dict.fromkeys(
        [Part.SPREAD, Part.LEFT_THIGH], Part.FACING
    )


@pytest.mark.parametrize("yaw", [-38.0, 40.0])
def test_the_limbs_of_a_body_that_is_turned_too_far_follow_it(yaw: float) -> None:
    turned = routine().key(37, 0.8, yaw=yaw - 35).key(38, 0.8, yaw=0)
    (count,) = [c for c in compared(danced(turned.inexact(3))).counts if c.count.at == 37]
    assert [f.part for f in count.findings] == [Part.FACING]
    assert Part.FACING in {r.follows for p, r in count.position.parts.items() if p.endswith("arm")}
