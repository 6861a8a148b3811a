"""Position on movements made of smooth random limbs: what is turned by a known angle is told by it, and alone."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from juxtakine.core.comparing.aligning.view import build
from juxtakine.core.comparing.position.parts import positions
from juxtakine.core.comparing.results import Position, PositionVerdict, Way
from juxtakine.core.counting.sheets import Layer, Mark, Phrase, Score, Sheet, SheetCount, expand
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.features import LIMBS, Features
from support.limbs import GRID, danced, later, noisy, turned

SHEET = Sheet("", tuple(Phrase("", 8, "1 2 3 4 5 6 7 8") for _ in range(3)))
AT = 13
"""The count on which something is turned."""
LIMB = st.sampled_from([p for p in LIMBS if p.endswith(("arm", "thigh", "shin"))])
FEW = settings(max_examples=10)
EVEN_S = np.zeros(24)


def told(take: Features, sheet: Sheet = SHEET, lag_s: float = 0.0) -> tuple[tuple[SheetCount, ...], list[Position]]:
    counts = expand(sheet)
    at = np.array([float(c.at) for c in counts])
    return counts, positions(build(danced(), take, GRID, GRID, at), counts, np.full(len(counts), lag_s))


def bent(f: Features, part: Part, degrees: float, level: float = 0.0) -> Features:
    """The part turned in the picture, the hips higher, for half a second around the count."""
    around = np.abs(f.seconds - float(GRID.seconds(AT))) < 0.25
    a, i = np.radians(degrees), LIMBS.index(part)
    vectors = f.vectors.copy()
    x, y = vectors[around, i, 0].copy(), vectors[around, i, 1].copy()
    vectors[around, i, 0], vectors[around, i, 1] = np.cos(a) * x - np.sin(a) * y, np.sin(a) * x + np.cos(a) * y
    return replace(f, vectors=vectors, level=f.level + level * around)


def in_picture(f: Features, part: Part) -> float:
    """How long the part shows there, of its own length."""
    (row,) = f.at(np.array([float(GRID.seconds(AT))])).vectors[:, LIMBS.index(part), :2]
    return float(np.linalg.norm(row))


@FEW
@given(LIMB, st.sampled_from([-50.0, -35.0, 35.0, 50.0]))
def test_a_turned_limb_is_told_by_its_angle_and_alone(part: Part, degrees: float) -> None:
    """What is shortened in the picture shows so much less of it; a joint may be off by a fourth more than it shows."""
    _, made = told(noisy(bent(danced(), part, degrees)))
    shown = np.degrees(2 * np.arcsin(np.sin(np.radians(abs(degrees)) / 2) * in_picture(danced(), part)))
    assert shown - 3 <= abs(made[AT].parts[part].error or 0.0) <= 1.25 * shown + 6
    others = {p for p, r in made[AT].parts.items() if r.verdict is PositionVerdict.OFF} - {part}
    assert others == set()
    for i in (AT - 2, AT + 2):
        assert made[i].verdict is PositionVerdict.HELD


@FEW
@given(st.floats(-35, 35), st.floats(-0.2, 0.2))
def test_another_camera_and_a_known_lag_are_no_fault(degrees: float, lag_s: float) -> None:
    _, made = told(noisy(later(turned(danced(), degrees), lag_s)), lag_s=lag_s)
    assert sum(p.verdict is PositionVerdict.OFF for p in made) <= 1
    assert np.mean([p.held for p in made if p.held is not None]) > 0.97


@pytest.mark.parametrize(("level", "way"), [(0.2, Way.HIGH), (-0.2, Way.LOW)])
def test_the_hips_height_is_told(level: float, way: Way) -> None:
    _, made = told(noisy(bent(danced(), Part.TORSO, 0.0, level)))
    assert made[AT].parts[Part.LEVEL].way is way
    assert made[AT].parts[Part.LEVEL].error == pytest.approx(level, abs=0.02)


def test_what_is_not_scored_is_not_told() -> None:
    part = max((p for p in LIMBS if p.endswith("arm")), key=lambda p: in_picture(danced(), p))
    take = noisy(bent(danced(), part, 50.0))
    for mark, parts, verdict in (
        (Mark("6", score=Score.FREE), set(), PositionVerdict.FREE),
        (Mark("6", score=Score.TIMING), set(), PositionVerdict.FREE),
        (Mark("6", score=Score.FREE, parts=frozenset({Layer.ARMS})), set(Part) - {p for p in Part if p.endswith("arm")},
         PositionVerdict.HELD),
        (Mark("6", score=Score.POSITION), set(Part), PositionVerdict.OFF),
    ):  # fmt: skip
        rows = (SHEET.phrases[0], replace(SHEET.phrases[1], marks=(mark,)), SHEET.phrases[2])
        counts, made = told(take, replace(SHEET, phrases=rows))
        assert counts[AT].at == AT
        assert set(made[AT].parts) == parts
        assert made[AT].verdict is verdict


def test_what_is_not_seen_is_said_and_with_most_of_the_body_the_count_is_not_seen() -> None:
    whole = noisy(danced())
    around = np.abs(whole.seconds - float(GRID.seconds(AT))) < 0.3
    for hidden, verdict in ((2, PositionVerdict.HELD), (len(LIMBS), PositionVerdict.NOT_SEEN)):
        vectors = whole.vectors.copy()
        vectors[np.ix_(around, range(hidden))] = np.nan
        _, made = told(replace(whole, vectors=vectors))
        assert {made[AT].parts[p].verdict for p in LIMBS[:hidden]} == {PositionVerdict.NOT_SEEN}
        assert made[AT].verdict is verdict
