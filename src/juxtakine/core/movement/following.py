"""Whose body: who of several people in shot is followed, through meetings and returns, and where nobody can say.

People are seen some times a second with a few key points and colours. Sightings that nobody else is near are joined to
stretches of one body; where two meet, or one is lost, the stretches end, and what begins afterwards is given to whom it
looks like. What the looks do not settle stays open: nobody is followed from there to the next click.
Places and sizes as in people.py.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import permutations

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment

from juxtakine.core.movement.bodies import NEAR, STRANGE, Alone, Colours, look, prominence
from juxtakine.core.movement.passing import fill_in
from juxtakine.core.movement.people import BESIDE, MOST_PEOPLE, Click, Followed, Question, Sightings
from juxtakine.core.movement.tracks import Bools, Floats

STEP_REACH, STEP_LOOKS = 1.1, 3.0
"""Trunk lengths that a body may get off its course from one look to the next, and what a change of looks weighs."""
OTHER_CLOTHES = 0.12
"""Nobody's trunk and thighs change their colour by so much from one look to the next."""
GHOST_S = 1.2
"""How long somebody who is lost counts as still being near the place where they were going."""
SETTLED = 1.2
"""By how much likelier one reading of a meeting has to be than the next, in units of the looks' own spread."""
TOGETHER = 7
"""Looks within which those who come out of one meeting are seen again."""
FEWEST = 2
"""Looks that a stretch has at least."""
FORGOTTEN_S = 60.0
MOSTLY = 0.5
"""Of the looks at which somebody is seen, those at which the one has to be followed whom nobody clicked."""


class NobodyThere(ValueError):
    """A click that hits nobody, or two; the message is a sentence for the student."""


def follow(seen: Sightings, clicks: Sequence[Click]) -> Followed:
    """Who was clicked, as far as it is sure. Raises NobodyThere."""
    stretches = _stretches(seen)
    pinned = [_clicked(seen, stretches, c) for c in clicks]
    links, meetings = _links(seen, stretches)
    mine = _joined(pinned, links, stretches)
    return _followed(seen, stretches, mine, meetings, set(pinned))


def follow_most_prominent(seen: Sightings, aspect: float) -> Followed | None:
    """Of several in shot the one whom the clip seems to be made of, in a picture `aspect` times as wide as high; None
    where there is one body alone, or that one is followed too seldom."""
    stretches = _stretches(seen)
    if not seen.several or not stretches:
        return None
    links, meetings = _links(seen, stretches)
    large = [prominence(seen, s, aspect) for s in stretches]
    bodies = (_joined([k], links, stretches) for k in range(len(stretches)))
    mine = max(bodies, key=lambda body: sum(large[k] for k in body))
    found = _followed(seen, stretches, mine, meetings, set())
    somebody = np.isfinite(seen.places[..., 0]).any(1)
    return found if (found.who[somebody] >= 0).mean() > MOSTLY else None


def _followed(
    seen: Sightings, stretches: list[Alone], mine: set[int], meetings: "list[_Meeting]", pinned: set[int]
) -> Followed:
    """The one of these stretches, wherever they are seen, and after and before which meetings that stays open."""
    who = np.full(len(seen.seconds), -1)
    for k in mine:
        who[stretches[k].at] = stretches[k].who
    fill_in(seen, stretches, sorted(mine, key=lambda k: stretches[k].first), who)
    # answered also by a click that a later one took back
    settled = mine | pinned
    after = (_question(seen, stretches, m.begun, False) for m in meetings if m.ended & mine and not m.begun & settled)
    before = (_question(seen, stretches, m.ended, True) for m in meetings if m.begun & mine and not m.ended & settled)
    return Followed(who, tuple(sorted((*after, *before), key=lambda q: q.seconds)))


def _stretches(seen: Sightings) -> list[Alone]:
    """Looks joined while nobody else is near."""
    places, sizes = seen.places, seen.sizes
    alone = np.isfinite(places[..., 0]) & ~_crowded(places, sizes)
    done: list[Alone] = []
    live: list[Alone] = []
    for t, seconds in enumerate(seen.seconds):
        lost = [s for s in done if seconds - seen.seconds[s.last] <= GHOST_S]
        _hidden_by(seen, lost, t, alone)
        matched = _matched(seen, live, t, np.flatnonzero(alone[t]))
        # who is lost just now may stand behind whoever is seen there: then nobody can say who that is
        _hidden_by(seen, [s for k, s in enumerate(live) if k not in matched], t, alone)
        matched = {k: w for k, w in matched.items() if alone[t, w]}
        done += [s for k, s in enumerate(live) if k not in matched]
        started = [Alone([t], [int(w)]) for w in np.flatnonzero(alone[t]) if w not in matched.values()]
        for k, w in matched.items():
            live[k].at.append(t)
            live[k].who.append(w)
        live = [live[k] for k in matched] + started
    return [s for s in (*done, *live) if len(s.at) >= FEWEST]


def _hidden_by(seen: Sightings, lost: list[Alone], t: int, alone: Bools) -> None:
    """Marks who is seen where somebody who was lost must be by now: it may be either of them."""
    for s in lost:
        away = np.linalg.norm(seen.places[t] - _course(seen, s, seen.seconds[t]), axis=1) / seen.sizes[t]
        alone[t] &= ~(away < NEAR)


def _crowded(places: Floats, sizes: Floats) -> Bools:
    """(n, MOST_PEOPLE) who has somebody else near who may be taken for them."""
    larger = np.maximum(sizes[:, :, None], sizes[:, None])
    apart = np.linalg.norm(places[:, :, None] - places[:, None], axis=3) / larger
    alike = np.minimum(sizes[:, :, None], sizes[:, None]) > BESIDE * larger
    alike[:, np.arange(MOST_PEOPLE), np.arange(MOST_PEOPLE)] = False
    return np.asarray(np.where(alike, apart, np.inf).min(axis=2) < NEAR)


def _course(seen: Sightings, s: Alone, seconds: float) -> Floats:
    """Where a body goes on to, its speed dying away."""
    place = seen.places[s.at, s.who]
    times = seen.seconds[s.at]
    if len(s.at) < 2:
        return np.asarray(place[-1])
    back = max(0, len(s.at) - 4)
    speed = (place[-1] - place[back]) / max(times[-1] - times[back], 1e-6)
    return np.asarray(place[-1] + speed * min(seconds - times[-1], 0.4))


def _matched(seen: Sightings, live: list[Alone], t: int, who: NDArray[np.int64]) -> dict[int, int]:
    """Of the live stretches, which goes on as whom."""
    if not live or not len(who):
        return {}
    cost = np.array([[_step_cost(seen, s, t, int(w)) for w in who] for s in live])
    rows, columns = linear_sum_assignment(cost)
    most = STEP_REACH + STEP_LOOKS * 0.2
    return {int(r): int(who[c]) for r, c in zip(rows, columns, strict=True) if cost[r, c] < most}


def _step_cost(seen: Sightings, s: Alone, t: int, who: int) -> float:
    if s.last != t - 1:
        return 99.0
    away = float(np.linalg.norm(seen.places[t, who] - _course(seen, s, seen.seconds[t])) / seen.sizes[t, who])
    changed = np.abs(seen.looks[t, who] - seen.looks[s.last, s.who[-1]])
    shift = float(np.nanmean(changed[:2])) if np.isfinite(changed[:2]).any() else 0.0
    return away + STEP_LOOKS * shift if shift < OTHER_CLOTHES else 99.0


Links = set[tuple[int, int]]
"""Pairs of stretches, the earlier first, that are one body."""


@dataclass(frozen=True)
class _Meeting:
    """One that stays open: the stretches that ended in it and that began after it."""

    ended: set[int]
    begun: set[int]


def _links(seen: Sightings, stretches: list[Alone]) -> tuple[Links, list[_Meeting]]:
    """Which stretch goes on as which; and the meetings that stay open."""
    looks = [look(seen, s) for s in stretches]
    links: Links = set()
    meetings: list[_Meeting] = []
    order = sorted(range(len(stretches)), key=lambda k: stretches[k].first)
    taken: set[int] = set()
    while order:
        begun = [k for k in order if stretches[k].first <= stretches[order[0]].first + TOGETHER]
        now = min(stretches[k].first for k in begun)
        ended = {k for k in range(len(stretches)) if stretches[k].last < now and k not in taken
                 and seen.seconds[now] - seen.seconds[stretches[k].last] < FORGOTTEN_S}  # fmt: skip
        order = [k for k in order if k not in begun]
        if not ended:
            continue
        best, margin = _assigned(looks, sorted(ended), begun)
        if margin >= SETTLED:
            links.update(best)
            taken.update(before for before, _ in best)
        else:
            meetings.append(_Meeting(ended, set(begun)))
    return links, meetings


def _question(seen: Sightings, stretches: list[Alone], which: set[int], before: bool) -> Question:
    """At the first moment at which all of them stand apart, or, before the meeting, at the last one."""
    bodies = [stretches[k] for k in sorted(which)]
    t = min(s.last for s in bodies) if before else max(s.first for s in bodies)
    return Question(float(seen.seconds[t]), before, tuple(_click(seen, s, t) for s in bodies))


def _click(seen: Sightings, s: Alone, t: int) -> Click:
    """On a body at a look, or at the nearest one at which it stands alone."""
    i = int(np.abs(np.array(s.at) - t).argmin())
    x, y = seen.places[s.at[i], s.who[i]]
    return Click(float(x), float(y), float(seen.seconds[s.at[i]]))


def _assigned(looks: list[Colours], before: list[int], after: list[int]) -> tuple[list[tuple[int, int]], float]:
    """The likeliest way in which those before go on as those after, and by how much it beats the next.

    Somebody after may also be new, and somebody before gone for good: as dear as looking strange.
    """
    slots = [*before, *[-1] * len(after)]
    readings: dict[tuple[int, ...], float] = {}
    for chosen in set(permutations(slots, len(after))) if len(slots) <= 7 else []:
        cost = sum(STRANGE if b < 0 else looks[b].unlike(looks[a]) for b, a in zip(chosen, after, strict=True))
        readings[chosen] = cost
    if not readings:
        return [], 0.0
    ranked = sorted(readings.items(), key=lambda r: r[1])
    best = [(b, a) for b, a in zip(ranked[0][0], after, strict=True) if b >= 0]
    return best, ranked[1][1] - ranked[0][1] if len(ranked) > 1 else SETTLED


def _joined(pinned: list[int], links: Links, stretches: list[Alone]) -> set[int]:
    """All stretches that hang together with a clicked one; a click cuts what would make two at the same time of it."""
    mine: set[int] = set()
    for k in reversed(pinned):  # of two clicks on different bodies at once the later one counts
        if not any(_overlap(stretches[k], stretches[m]) for m in mine - {k}):
            mine.add(k)
    growing = list(mine)
    while growing:
        here = growing.pop()
        for a, b in links:
            other = b if a == here else a if b == here else None
            if other is not None and not any(_overlap(stretches[other], stretches[m]) for m in mine):
                mine.add(other)
                growing.append(other)
    return mine


def _overlap(one: Alone, other: Alone) -> bool:
    return one.first <= other.last and other.first <= one.last


def _clicked(seen: Sightings, stretches: list[Alone], click: Click) -> int:
    """The stretch of who stands there."""
    t = int(np.abs(seen.seconds - click.seconds).argmin())
    near: list[tuple[float, int]] = []
    for k, s in enumerate(stretches):
        at = min(s.at, key=lambda i: abs(i - t))
        if abs(seen.seconds[at] - click.seconds) > 0.7:
            continue
        w = s.who[s.at.index(at)]
        away = float(np.linalg.norm(seen.places[at, w] - [click.x, click.y]) / seen.sizes[at, w])
        near.append((away, k))
    if not near or min(near)[0] > 0.9:
        raise NobodyThere(
            "Nobody stands alone where you clicked. Click the middle of a body at a moment when nobody else is near it."
        )
    return min(near)[1]
