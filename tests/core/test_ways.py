"""Ways on movements made of smooth random limbs: how far the arms go, and how well that is known."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.aligning.view import View, build
from juxtakine.core.comparing.compare import measure
from juxtakine.core.comparing.explaining.amplitude import shares_of_way, sizes_of_ways
from juxtakine.core.comparing.results import Method
from juxtakine.core.counting.sheets import Phrase, Sheet
from juxtakine.core.movement.cleaning import RATE
from juxtakine.core.movement.features import LIMBS, Features
from support.limbs import ARMS, COUNTS, GRID, danced, noisy, turned

ON_TIME = np.zeros(len(COUNTS))
EACH = [len(COUNTS)]
"""The arms arrive on each count."""
SLOW = settings(max_examples=8, deadline=None)


def viewed(take: Features) -> View:
    return build(danced(), take, GRID, GRID, COUNTS)


def smaller(share: float) -> Features:
    """The arms go this share of their way."""
    vectors = danced().vectors.copy()
    middle = vectors[:, ARMS].mean(0)
    vectors[:, ARMS] = middle + share * (vectors[:, ARMS] - middle)
    return replace(danced(), vectors=vectors)


@SLOW
@given(st.floats(0.5, 1.0))
def test_the_size_of_the_arms_ways_is_told(share: float) -> None:
    ((told, error),) = sizes_of_ways(viewed(noisy(smaller(share))), [COUNTS], [ON_TIME], EACH)
    assert told == pytest.approx(share, abs=max(0.05, 3 * error))


def test_of_who_marks_a_dance_smaller_ways_are_not_told() -> None:
    """Three quarters of ten degrees are two degrees and a half less."""
    view = build(noisy(smaller(0.2)), noisy(smaller(0.15)), GRID, GRID, COUNTS)
    assert sizes_of_ways(view, [COUNTS], [ON_TIME], EACH) == [(1.0, 1.0)]


def test_what_a_forearm_does_alone_does_not_make_the_arms_ways_smaller() -> None:
    bent = danced()
    vectors = bent.vectors.copy()
    forearms = [LIMBS.index(p) for p in LIMBS if p.endswith("forearm")]
    vectors[:, forearms] = vectors[:, forearms].mean(0)
    ((told, _),) = sizes_of_ways(viewed(noisy(replace(bent, vectors=vectors))), [COUNTS], [ON_TIME], EACH)
    assert told == pytest.approx(1.0, abs=0.05)


def test_an_arm_that_is_elsewhere_on_a_count_does_not_make_the_arms_ways_smaller() -> None:
    dance, other = danced(), danced(9)
    here = np.abs(GRID.count(dance.seconds) - 12.0) < 0.5
    vectors = dance.vectors.copy()
    vectors[np.ix_(here, ARMS)] = other.vectors[np.ix_(here, ARMS)]
    rows = [COUNTS[4:12], COUNTS[12:]]
    told = sizes_of_ways(viewed(noisy(replace(dance, vectors=vectors))), rows, [ON_TIME[4:12], ON_TIME[12:]], [8, 16])
    assert [share for share, _ in told] == pytest.approx([1.0, 1.0], abs=0.05)


def test_from_another_place_the_size_of_the_ways_is_known_less_well() -> None:
    errors = [sizes_of_ways(viewed(noisy(turned(danced(), d))), [COUNTS], [ON_TIME], EACH)[0][1] for d in (0, 20, 40)]
    assert errors[0] < errors[1] < errors[2]


@SLOW
@given(st.floats(0.1, 0.25), st.sampled_from([0.8, 1.0]))
def test_how_well_the_instructor_is_seen_does_not_make_the_arms_ways_smaller(noise: float, share: float) -> None:
    """The two are estimates alike: the reference's error is no way that the student left out."""
    view = build(noisy(danced(), 7, noise), noisy(smaller(share), 8, noise), GRID, GRID, COUNTS)
    ((told, _),) = sizes_of_ways(view, [COUNTS], [ON_TIME], EACH)
    assert told == pytest.approx(share, abs=0.04)


def test_of_a_slow_dance_the_size_of_the_ways_is_known_less_well() -> None:
    """On the way to an arrival an arm is off as it is there: half as many arrivals tell half as much."""
    take, common = noisy(danced(), size=0.1), CommonTime(GRID, Method.SOUND, 1.0)
    errors = []
    for line in ("1 2 3 4 5 6 7 8", "~ 2 ~ 4 ~ 6 ~ 8", "~ ~ ~ 4 ~ ~ ~ 8"):
        ranges = measure(danced(), take, Sheet("", 3 * (Phrase("", 8, line),)), GRID, common).evidence.ranges
        errors.append(np.mean([error for _, error in ranges.values()]))
    assert errors[0] < errors[1] < errors[2]
    assert errors[2] == pytest.approx(2 * errors[0], rel=0.25)


def test_who_stands_goes_no_way_and_who_dances_the_whole() -> None:
    still = danced()
    first, last = (int(GRID.seconds(c) * RATE) for c in (11.2, 14.8))
    vectors = still.vectors.copy()
    vectors[first:last] = vectors[first]
    shares = shares_of_way(viewed(replace(still, vectors=vectors)), COUNTS, np.zeros(len(COUNTS)))
    assert np.all(shares[(COUNTS > 12) & (COUNTS < 15)] < 0.2)
    assert np.nanmedian(shares[COUNTS > 16]) == pytest.approx(1.0, abs=0.1)
