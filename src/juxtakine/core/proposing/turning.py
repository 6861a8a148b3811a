"""Turns: by how many eighths the instructor has turned at each arrival, on the floor and not in the waist.

The facings at the arrivals are whole eighths from one another, seen with an error, and mostly stay: the likeliest path
of eighths is found forward and backward over all arrivals (Rabiner 1989).
"""

import itertools
from dataclasses import dataclass

import numpy as np
from scipy.special import logsumexp

from juxtakine.core.movement.tracks import Floats, Ints

EIGHTH = 45.0
NOISE = 12.0
"""Degrees by which a facing is seen wrongly, as the trunk twists and the estimator errs."""
FAR = 4.5
"""A facing counts as no more wrong than by so many standard errors: it may be somebody's back."""
AWAY = np.arange(-2, 3)
"""Eighths around what is seen that are looked at."""
PRICES = {0: 0.0, 1: 2.5, 2: 2.5, 3: 5.0, 4: 2.5, 6: 4.0, 8: 4.0}
OTHER_PRICE = 6.0
"""What a turn costs, in natural logarithms: mostly nobody turns, and then by a quarter or a half."""


@dataclass(frozen=True)
class Turns:
    """(m,) eighths turned since the arrival before, positive over the right shoulder, and how surely."""

    eighths: Ints
    certainty: Floats


def turns(facing_deg: Floats) -> Turns:
    """Of facings (m,) at arrivals, positive to the dancer's left, on beyond 180; NaN where it is not seen."""
    known = np.isfinite(facing_deg)
    if not known.any():
        return Turns(np.zeros(len(facing_deg), np.int64), np.zeros(len(facing_deg)))
    seen = np.interp(np.arange(len(facing_deg)), np.flatnonzero(known), facing_deg[known])
    # the camera stands where it stands: the walls are those that are faced the most
    wall = np.angle(np.exp(8j * np.radians(seen)).mean(), deg=True) / 8
    eighths = (seen - wall) / EIGHTH
    states = np.rint(eighths).astype(int)[:, None] + AWAY
    off = np.minimum(np.abs(EIGHTH * (states - eighths[:, None])) / NOISE, FAR)
    fits = np.where(known[:, None], -0.5 * off**2, 0.0)
    forward, backward = [fits[0]], [np.zeros(len(AWAY))]
    steps = [_prices(a, b) for a, b in itertools.pairwise(states)]
    for step, fit in zip(steps, fits[1:], strict=True):
        forward.append(fit + logsumexp(forward[-1][:, None] - step, axis=0))
    for step, fit in zip(steps[::-1], fits[:0:-1], strict=True):
        backward.append(logsumexp(backward[-1] + fit - step, axis=1))
    backward.reverse()
    turned, sure = [0], [1.0]
    for i, step in enumerate(steps):
        both = forward[i][:, None] - step + fits[i + 1] + backward[i + 1]
        likely = np.exp(both - logsumexp(both))
        by = states[i + 1] - states[i][:, None]
        chances = {int(k): float(likely[by == k].sum()) for k in np.unique(by)}
        best = max(chances, key=lambda k: chances[k])
        turned.append(-best)
        sure.append(chances[best])
    return Turns(np.array(turned), np.array(sure))


def _prices(before: Ints, after: Ints) -> Floats:
    by = np.abs(after - before[:, None])
    return np.array([[PRICES.get(int(k), OTHER_PRICE) for k in row] for row in by])
