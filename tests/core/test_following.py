"""Who is followed among several, on made-up sightings: their places, sizes and colours are exactly known."""

from collections.abc import Sequence

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from juxtakine.core.movement.body import LANDMARKS, Landmark
from juxtakine.core.movement.feet import of_people
from juxtakine.core.movement.following import NobodyThere, follow, follow_most_prominent
from juxtakine.core.movement.people import (
    KEY_POINTS,
    LOOKS,
    MOST_PEOPLE,
    Click,
    Followed,
    Sightings,
    guides,
    unclaimed,
)
from juxtakine.core.movement.tracks import Track

STEP_S, TRUNK, ASPECT = 0.2, 0.16, 16 / 9
FLOOR = np.array([0, 0.8, 0])
RED, GREEN, BLUE = (0.75, 0.1, 0.1), (0.15, 0.35, 0.2), (0.2, 0.25, 0.6)
Way = list[tuple[float, float]]
"""Seconds, and x in heights of the picture; None of both where the person is out of shot."""


class Person:
    """Somebody who goes from place to place; hidden while `hidden` seconds; so many times as large as others; whose
    arms and legs swing or hang."""

    def __init__(
        self,
        colour: tuple[float, float, float],
        *way: tuple[float, float],
        hidden: tuple[float, float] = (9, 9),
        large: float = 1.0,
        dances: bool = False,
    ):
        self.colour, self.way, self.hidden = np.array(colour), way, hidden
        self.large, self.dances = large, dances

    def x(self, seconds: float) -> float:
        times, places = zip(*self.way, strict=True)
        return float(np.interp(seconds, times, places))


def sighted(people: Sequence[Person], lasts_s: float = 8.0, order: int = 0) -> Sightings:
    """In an order that changes from look to look, as a network tells people."""
    seconds = np.arange(0, lasts_s, STEP_S)
    points = np.full((len(seconds), MOST_PEOPLE, KEY_POINTS, 3), np.nan)
    looks = np.full((len(seconds), MOST_PEOPLE, LOOKS, 3), np.nan)
    random = np.random.default_rng(order)
    for t, s in enumerate(seconds):
        there = [p for p in people if not p.hidden[0] <= s < p.hidden[1]]
        for k, i in enumerate(random.permutation(len(there))):
            body = np.zeros((KEY_POINTS, 3))
            body[:, 0] = random.normal(0, 0.003, KEY_POINTS)
            body[:, 1] = np.linspace(0.2, 0.8, KEY_POINTS)
            body[[5, 6], 1], body[[11, 12], 1] = 0.4, 0.4 + TRUNK
            if there[i].dances:
                body[[7, 8, 9, 10, 13, 14, 15, 16], 0] += TRUNK * np.sin(4 * s)
            points[t, k] = (body - FLOOR) * there[i].large + FLOOR + [there[i].x(s), 0, 0]
            looks[t, k] = there[i].colour * np.array([[1.0], [0.6], [0.9], [0.3]]) + random.normal(0, 0.01, (LOOKS, 3))
    return Sightings(seconds, points, looks)


def checked(seen: Sightings, one: Person, told: Followed) -> float:
    """The share of looks in which somebody is followed; whoever is must be the one."""
    for t in np.flatnonzero(told.who >= 0):
        assert abs(seen.places[t, told.who[t], 0] - one.x(seen.seconds[t])) < 0.05
    return float((told.who >= 0).mean())


def click(one: Person, seconds: float = 0.4) -> Click:
    return Click(one.x(seconds), 0.48, seconds)


LEFT, RIGHT = ((0, 0.5), (2, 0.5), (3.5, 1.2), (8, 1.2)), ((0, 1.2), (2, 1.2), (3.5, 0.5), (8, 0.5))


def test_two_in_other_clothes_who_change_places_are_kept_apart_without_a_question() -> None:
    one, other = Person(RED, *LEFT, hidden=(2.6, 3.0)), Person(GREEN, *RIGHT)
    seen = sighted([one, other])
    for who in (one, other):
        told = follow(seen, [click(who)])
        assert told.questions == ()
        assert checked(seen, who, told) > 0.85


def test_of_two_alike_who_meet_nobody_is_followed_until_one_click_settles_it() -> None:
    one, other = Person(RED, *LEFT), Person(RED, *RIGHT, hidden=(2.6, 3.0))
    seen = sighted([one, other])
    told = follow(seen, [click(one)])
    assert len(told.questions) == 1
    asked = told.questions[0]
    assert checked(seen, one, told) < 0.5
    assert not asked.before
    assert {round(c.x, 1) for c in asked.clicks} == {0.5, 1.2}
    mended = follow(seen, [click(one), click(one, asked.seconds)])
    assert mended.questions == ()
    assert checked(seen, one, mended) > 0.85


def test_of_two_alike_who_were_clicked_after_they_met_it_is_asked_who_it_was_before() -> None:
    one, other = Person(RED, *LEFT), Person(RED, *RIGHT, hidden=(2.6, 3.0))
    seen = sighted([one, other])
    told = follow(seen, [click(one, 7.0)])
    (asked,) = told.questions
    assert asked.before
    assert checked(seen, one, told) < 0.7
    for right in asked.clicks:
        if abs(right.x - one.x(right.seconds)) < 0.05:
            mended = follow(seen, [click(one, 7.0), right])
            assert mended.questions == ()
            assert checked(seen, one, mended) > 0.85
            break
    else:
        pytest.fail("the one is not among those asked about")


def test_among_three_alike_who_dance_close_together_each_is_followed_once_both_ends_are_known() -> None:
    """Nearer than a trunk and a third all the while, but nobody's way leads to another one's end."""
    ways = []
    for far, near in ((-0.5, -0.14), (0.0, 0.0), (0.5, 0.14)):
        close = ((3.5, 0.9 + near), (4.5, 0.82 + near), (5.5, 0.9 + near))
        ways.append(((0, 0.9 + far), (2, 0.9 + far), *close, (7, 0.9 + far), (9, 0.9 + far)))
    people = [Person(RED, *way) for way in ways]
    seen = sighted(people, lasts_s=9.0)
    for one in people:
        told = follow(seen, [click(one), click(one, 8.4)])
        assert checked(seen, one, told) == 1.0


def test_who_passes_far_behind_is_not_taken_for_the_one_in_front() -> None:
    one, other = Person(RED, (0, 0.9), dances=True), Person(RED, (0, 0.4), (2, 0.4), (6, 1.4), (8, 1.4), large=0.5)
    seen = sighted([one, other])
    for told in (follow(seen, [click(one)]), follow(seen, [click(one, 4.0)])):
        assert (checked(seen, one, told), told.questions) == (1.0, ())


def test_who_leaves_for_two_seconds_is_taken_up_again() -> None:
    one, other = Person(RED, (0, 0.4), (9, 0.4), hidden=(3.0, 5.0)), Person(BLUE, (0, 1.3), (9, 1.3))
    seen = sighted([one, other])
    told = follow(seen, [click(one)])
    assert checked(seen, one, told) > 0.7
    assert (told.who[seen.seconds < 2.9] >= 0).all()
    assert (told.who[seen.seconds > 5.1] >= 0).all()
    (lost,) = told.lost(seen.seconds)
    assert lost == pytest.approx((3.0, 5.0), abs=0.21)


def test_a_stranger_in_the_place_of_who_left_is_nobody_that_was_clicked() -> None:
    one = Person(RED, (0, 0.5), (9, 0.5), hidden=(3.0, 9.0))
    stranger = Person(GREEN, (0, 0.5), (9, 0.5), hidden=(0.0, 5.0))
    seen = sighted([one, stranger])
    told = follow(seen, [click(one)])
    assert (told.who[seen.seconds > 5.1] == -1).all()


@settings(max_examples=40)
@given(st.integers(0, 30), st.floats(0.3, 7.5))
def test_from_wherever_it_is_clicked_it_is_the_same_one_forwards_and_backwards(order: int, seconds: float) -> None:
    one, other = Person(BLUE, (0, 0.4), (8, 0.9)), Person(RED, (0, 1.5), (8, 1.5))
    seen = sighted([one, other], order=order)
    assert checked(seen, one, follow(seen, [click(one, seconds)])) == 1.0


def test_a_later_click_on_somebody_else_mends_the_earlier_one() -> None:
    one, other = Person(RED, (0, 0.4), (8, 0.4)), Person(GREEN, (0, 1.4), (8, 1.4))
    seen = sighted([one, other])
    assert checked(seen, other, follow(seen, [click(one), click(other, 5.0)])) == 1.0


def test_a_click_on_nobody_or_between_two_is_refused_with_what_to_do() -> None:
    one, other = Person(RED, (0, 0.5), (8, 0.5)), Person(GREEN, (0, 0.6), (8, 0.6))
    seen = sighted([one, other])
    with pytest.raises(NobodyThere, match="nobody else is near"):
        follow(seen, [click(one)])
    with pytest.raises(NobodyThere):
        follow(sighted([one]), [Click(1.4, 0.5, 1.0)])


@pytest.mark.parametrize(
    ("one", "other"),
    [
        (Person(RED, (0, 0.9)), Person(GREEN, (0, 1.5))),  # in the middle
        (Person(RED, (0, 0.5)), Person(GREEN, (0, 1.2), large=0.75)),  # in front
        (Person(RED, (0, 0.4), dances=True), Person(GREEN, (0, 0.9))),
        (Person(RED, (0, 0.9), (2, 0.9), (4, 1.5), (5, 0.9), dances=True),
         Person(GREEN, (0, 1.5), (2, 1.5), (4, 0.9), (5, 1.5), large=1.1)),  # through two meetings
    ],
)  # fmt: skip
def test_where_nobody_was_clicked_the_most_prominent_of_several_is_followed(one: Person, other: Person) -> None:
    seen = sighted([other, one])
    told = follow_most_prominent(seen, ASPECT)
    assert told is not None
    assert checked(seen, one, told) > 0.7


def test_one_body_alone_or_before_somebody_at_the_back_is_left_to_the_estimator() -> None:
    one = Person(RED, (0, 0.5), dances=True)
    assert follow_most_prominent(sighted([one]), ASPECT) is None
    assert follow_most_prominent(sighted([one, Person(GREEN, (0, 0.9), large=0.5)]), ASPECT) is None
    assert follow_most_prominent(sighted([one, Person(GREEN, (0, 1.4), hidden=(3, 9))]), ASPECT) is None


def test_guides_hold_the_body_between_two_looks_and_none_where_nobody_is_followed() -> None:
    one = Person(RED, (0, 0.4), (8, 1.2), hidden=(4.0, 5.0))
    seen = sighted([one])
    told = follow(seen, [click(one)])
    found = guides(seen, told, np.array([1.1, 4.5, 6.05]))
    assert found[1] is None
    for guide, seconds in zip(found[::2], (1.1, 6.05), strict=True):
        assert guide is not None
        assert guide.left < one.x(seconds) < guide.right
        assert guide.x == pytest.approx(one.x(seconds), abs=0.02)
        assert guide.size == pytest.approx(TRUNK, abs=0.02)


def test_a_wrist_that_is_taken_for_somebody_elses_is_not_believed_while_it_is() -> None:
    """The estimator takes the hand of who stands behind for the dancer's own."""
    one, other = Person(RED, (0, 0.5), (8, 0.5)), Person(GREEN, (0, 0.8), (8, 0.8))
    seen = sighted([one, other])
    seconds, wrist = np.arange(0, 7.8, 1 / 30), Landmark.LEFT_WRIST
    n, mistaken = len(seconds), (seconds >= 3) & (seconds < 5)
    image = np.tile([0.5, 0.1], (n, LANDMARKS, 1))
    at_the_others = [0.8, np.linspace(0.2, 0.8, KEY_POINTS)[9]]
    image[mistaken, wrist] = at_the_others
    made = Track(seconds, 100 * image, np.zeros((n, LANDMARKS, 3)), np.ones((n, LANDMARKS)), np.ones(n, bool),
                 np.ones(n, bool), 178, 100, "estimator full")  # fmt: skip
    told = unclaimed(made, seen, follow(seen, [click(one)])).visibility
    assert not told[(seconds > 3) & (seconds < 4.8), wrist].any()
    assert told[(seconds < 2.8) | (seconds > 5.2), wrist].all()
    assert np.delete(told, wrist, axis=1).all()
    # whom it is told of counts: of the other one it is their own
    theirs = unclaimed(made, seen, follow(seen, [click(other)])).visibility
    assert theirs.all()


def test_a_line_stands_under_everybodys_feet_and_tells_who_is_followed() -> None:
    one, other = Person(RED, (0, 0.4), (8, 1.2)), Person(GREEN, (0, 1.5), (8, 1.5))
    seen = sighted([one, other])
    for seconds, lines in zip(seen.seconds, of_people(seen, follow(seen, [click(one)]), ASPECT), strict=True):
        assert [line.followed for line in sorted(lines, key=lambda f: f.x1)] == [True, False]
        for line, who in zip(sorted(lines, key=lambda f: f.x1), (one, other), strict=True):
            assert line.x1 * ASPECT < who.x(seconds) < line.x2 * ASPECT
            assert 0.7 < line.y < 0.9
