"""The way of one body through a meeting whose ends are known. Places and sizes as in people.py."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.movement.bodies import NEAR, STRANGE, Alone, Colours, look
from juxtakine.core.movement.people import LOOKS, Sightings
from juxtakine.core.movement.tracks import Floats

ASIDE = 0.35
"""Trunk lengths by which somebody has to be nearer to the one's course than to the other's."""
LOOKS_COST, HIDDEN, STEP_COST, CLEARLY_MORE = 0.04, 0.4, 0.1, 0.4
"""On a way through a meeting: what looks weigh that are rather somebody else's, what a look costs at which the one is
hidden, what the length of the steps weighs beside their change, and by how much more another way has to cost, so that
this one is believed. In squares of trunk lengths."""
SEEN_RATHER = 0.1
"""And by how much more a way has to cost on which the one is hidden there."""
LONGEST_MEETING_S = 10.0


def fill_in(seen: Sightings, stretches: list[Alone], mine: list[int], who: NDArray[np.int64]) -> None:
    """Within a meeting with known ends, whoever is seen there and looks like the one, or goes their way alone, or whom
    no other way from end to end leads past."""
    for a, b in pairwise(mine):
        before, after = stretches[a], stretches[b]
        if seen.seconds[after.first] - seen.seconds[before.last] > LONGEST_MEETING_S:
            continue
        others = [s for k, s in enumerate(stretches) if k not in mine and _near_in_time(s, before, after)]
        courses = [_straight(seen, s, o, before, after) for s in others for o in others if s.last < o.first]
        own, rivals = look(seen, before), [look(seen, s) for s in others]
        way = _straight(seen, before, after, before, after)
        for t in range(before.last + 1, after.first):
            step = t - before.last
            who[t] = _likest(seen, t, own, rivals, way[step], [c[step] for c in courses])
        for t, costs in _through(seen, before, after, own, rivals, way):
            who[t] = _settled(costs, int(who[t]))


@dataclass(frozen=True)
class _Step:
    """Of a way through a meeting: who is sighted at a look (-1: hidden), where, and what it costs to take them for the
    one."""

    who: NDArray[np.int64]
    places: Floats
    costs: Floats


def _through(
    seen: Sightings, before: Alone, after: Alone, own: Colours, rivals: list[Colours], way: Floats
) -> Iterator[tuple[int, dict[int, float]]]:
    """For each look, what the cheapest way from one end to the other costs that leads through each of those sighted,
    or, as -1, past all of them.

    A way costs what its steps change, as bodies have mass: who jumps to another body and goes on as that one changes
    twice. The least cost through each sighting is that from the beginning to it and from it to the end (min-sum along
    a chain of pairs, as in belief propagation).
    """
    size = float(np.nanmedian(seen.sizes[before.at, before.who]))
    inside = range(before.last + 1, after.first)
    through = (_step(seen, t, own, rivals, way[t - before.last]) for t in inside)
    steps = [_end(seen, before, -2), _end(seen, before, -1), *through, _end(seen, after, 0), _end(seen, after, 1)]
    there, back = _least(steps, size), _least(steps[::-1], size)
    for k, t in enumerate(inside, 2):
        a, b = steps[k - 1], steps[k]
        twice = _steps(a, b, size) + a.costs[:, None] + b.costs
        least = (there[k - 1] + back[-k].T - twice).min(0)
        yield t, {int(w): float(least[b.who == w].min()) for w in np.unique(b.who)}


def _settled(costs: dict[int, float], looks_like: int) -> int:
    """Whom each way that leads past somebody else costs clearly more; else who was told by looks, unless the ways speak
    clearly against it; -1: nobody."""
    best = min(costs, key=lambda w: costs[w])
    if best >= 0 and all(
        cost - costs[best] > (SEEN_RATHER if w < 0 else CLEARLY_MORE) for w, cost in costs.items() if w != best
    ):
        return best
    return looks_like if costs[looks_like] - costs[best] <= CLEARLY_MORE else -1


def _end(seen: Sightings, s: Alone, k: int) -> _Step:
    return _Step(np.array([s.who[k]]), seen.places[[s.at[k]], [s.who[k]]], np.zeros(1))


def _step(seen: Sightings, t: int, own: Colours, rivals: list[Colours], straight: Floats) -> _Step:
    """Hidden is one on the straight way, or where somebody is seen a look before or after."""
    sighted = np.flatnonzero(np.isfinite(seen.places[t, :, 0]))
    shown = [Colours(seen.looks[t, w], np.zeros((LOOKS, 3))) for w in sighted]
    strange = [own.unlike(s) - min([r.unlike(s) for r in rivals], default=np.inf) for s in shown]
    costs = [LOOKS_COST * float(np.clip(s, 0, 3)) for s in strange]
    around = np.concatenate([seen.places[t - 1], seen.places[t + 1]])
    hidden = np.vstack([straight, around[np.isfinite(around[:, 0])]])
    return _Step(
        np.concatenate([sighted, np.full(len(hidden), -1)]),
        np.vstack([seen.places[t, sighted], hidden]),
        np.array([*costs, *[HIDDEN] * len(hidden)]),
    )


def _least(steps: list[_Step], size: float) -> list[Floats]:
    """For each step and the next, the least cost from the first one to each pair of those sighted there."""
    least = [_steps(steps[0], steps[1], size) + steps[0].costs[:, None] + steps[1].costs]
    for a, b, c in zip(steps, steps[1:], steps[2:], strict=False):
        change = a.places[:, None, None] - 2 * b.places[None, :, None] + c.places[None, None]
        turned = (np.linalg.norm(change, axis=3) / size) ** 2
        least.append((least[-1][:, :, None] + turned).min(0) + _steps(b, c, size) + c.costs)
    return least


def _steps(a: _Step, b: _Step, size: float) -> Floats:
    return np.asarray(STEP_COST * (np.linalg.norm(a.places[:, None] - b.places, axis=2) / size) ** 2)


def _straight(seen: Sightings, one: Alone, other: Alone, before: Alone, after: Alone) -> Floats:
    """(k, 2) the way from the end of one stretch to the beginning of another, at the looks between two others."""
    ends = np.array([seen.places[one.last, one.who[-1]], seen.places[other.first, other.who[0]]])
    looked = np.arange(before.last, after.first + 1)
    share = np.clip((looked - one.last) / max(other.first - one.last, 1), 0, 1)[:, None]
    return np.asarray(ends[0] * (1 - share) + ends[1] * share)


def _near_in_time(s: Alone, before: Alone, after: Alone) -> bool:
    return s.first <= after.first + 5 and s.last >= before.last - 5


def _likest(seen: Sightings, t: int, own: Colours, rivals: list[Colours], way: Floats, others: list[Floats]) -> int:
    """Who of those seen is clearly the one, by looks, or, where looks are alike, by whose way it is; -1: nobody is."""
    best, merit = -1, 0.0
    for w in np.flatnonzero(np.isfinite(seen.places[t, :, 0])):
        away = float(np.linalg.norm(seen.places[t, w] - way) / seen.sizes[t, w])
        aside = min((float(np.linalg.norm(seen.places[t, w] - o) / seen.sizes[t, w]) for o in others), default=0.0)
        shown = Colours(seen.looks[t, w], np.zeros((LOOKS, 3)))
        alike = own.unlike(shown)
        clearer = min((r.unlike(shown) for r in rivals), default=STRANGE + 1) - alike
        sure = clearer if clearer > 1 else (aside - away if aside - away > ASIDE and clearer > -0.5 else 0.0)
        if away < 2 * NEAR and alike < STRANGE and sure > merit:
            best, merit = int(w), sure
    return best
