"""Ways: how far the limbs go from count to count, as a share of how far the instructor's go."""

from collections.abc import Sequence

import numpy as np

from juxtakine.core.comparing.aligning.view import View
from juxtakine.core.movement.features import LIMBS
from juxtakine.core.movement.tracks import Bools, Floats

STEP = 0.25
"""Counts between the moments at which the arms' ways are looked at."""
LEAST_STEPS, LEAST_WAY = 8, 0.25
"""Moments, and how far an arm is from its middle (root mean square, in its own lengths: 14 degrees), from which on a
share can be told. Of 30 tuning rows with smaller ways the arms are 20 degrees from it and more; of 16 takes in which a
dance is marked, 6 to 9, three had been told to go 70 to 83 % of their way, which is 2 degrees less."""
LEAST_LEFT, ROUNDS = 0.05, 5
"""Of the robust fit: what scatters so little, in their own lengths, is not less by chance; its steps."""
LEAST_SPREAD = 0.02
"""What is open of the size of ways at least: another body's shoulders, another place."""
ONE_ARM = 0.25
"""Of arms whose shares are so far apart one is elsewhere, and the ways are not cut off: of 66 tuning rows with smaller
ways they are 0.15 apart at most."""
A_WAY = 0.5
"""Of all limbs together, in their own lengths: less is no move."""


def shares_of_way(view: View, counts: Floats, lags_s: Floats) -> Floats:
    """(k,) how far the limbs go from the count before, as a share of the reference's way; NaN where there is none."""
    columns = slice(0, 2 * len(LIMBS))
    wanted = np.diff(view.reference_channels(counts)[:, columns], axis=0)
    shown = np.diff(view.take_channels(view.take_grid.seconds(counts) + lags_s)[:, columns], axis=0)
    known = np.isfinite(wanted) & np.isfinite(shown)
    sizes, own = (np.sqrt(np.where(known, ways**2, 0).sum(1)) for ways in (wanted, shown))
    return np.concatenate([[np.nan], np.where(sizes > A_WAY, own / np.maximum(sizes, A_WAY), np.nan)])


def sizes_of_ways(
    view: View, phrases: Sequence[Floats], lags_s: Sequence[Floats], arrivals: Sequence[int]
) -> list[tuple[float, float]]:
    """Of each phrase's counts (k,), the take so much later (k,): how large the upper arms' ways are from the first to
    the last, as a share of the reference's, and the standard error; `arrivals`: on how many counts they arrive.

    The upper arms', as what a forearm does is its elbow's as well. Where each arm is all along, about its own middle,
    is a share of where the reference's is: the line of Deming's regression, as both are only estimates and least
    squares would take the reference's own error for smaller ways; with Cauchy's weights, so that a count on which an
    arm is elsewhere does not make all of them small. An arm that goes further tells more. Between two arrivals an arm
    is off alike, so that these are one look.
    """
    steps = [np.arange(counts[0] - STEP, counts[-1] + 1.5 * STEP, STEP) for counts in phrases]
    most = max(map(len, steps))
    at = np.array([np.pad(s, (0, most - len(s)), mode="edge") for s in steps])
    late = np.array([np.interp(s, counts, lag) for s, counts, lag in zip(at, phrases, lags_s, strict=True)])
    inside = np.arange(most) < np.array([len(s) for s in steps])[:, None]
    wanted, shown = view.reference_channels(at), view.take_channels(view.take_grid.seconds(at) + late)
    arms = [i for i, part in enumerate(LIMBS) if part.endswith("upper-arm")]
    looks = np.maximum(np.array(arrivals), 1)
    gains = [_gains(wanted[..., 2 * i : 2 * i + 2], shown[..., 2 * i : 2 * i + 2], inside, looks) for i in arms]
    share, variance, size = (np.array(v) for v in zip(*gains, strict=True))
    tells = size > 0
    telling = tells.sum(0)
    of_all = (size * share).sum(0) / np.maximum(size.sum(0), 1e-9)
    error = np.hypot(np.sqrt(np.where(tells, variance, 0.0).sum(0)) / np.maximum(telling, 1), LEAST_SPREAD)
    apart = np.where(tells.all(0), np.ptp(share, axis=0), 0.0)
    told = (telling > 0) & (apart <= ONE_ARM)
    return [(float(s), float(e)) if t else (1.0, 1.0) for s, e, t in zip(of_all, error, told, strict=True)]


def _gains(wanted: Floats, shown: Floats, inside: Bools, looks: Floats) -> tuple[Floats, Floats, Floats]:
    """Of each way (p, n, 2), as far as it is `inside` (p, n): by which share it is the wanted one's, the variance of
    that from so many `looks` (p,), and how far it goes, in its own lengths squared: 0 where that is too little."""
    known = inside & np.isfinite(wanted).all(2) & np.isfinite(shown).all(2)
    want, got = np.where(known[..., None], wanted, 0.0), np.where(known[..., None], shown, 0.0)
    weight = known.astype(float)
    for _ in range(ROUNDS):
        total = np.maximum(weight.sum(1), 1e-9)
        about, own = (way - ((weight / total[:, None])[..., None] * way).sum(1, keepdims=True) for way in (want, got))
        size, shows, both = ((weight * (a * b).sum(2)).sum(1) for a, b in ((about, about), (own, own), (about, own)))
        more, alike = (shows - size) / 2, np.where(both == 0, 1e-9, both)
        share = (more + np.hypot(more, both)) / alike
        left = np.linalg.norm(own - share[:, None, None] * about, axis=2) / np.hypot(1, share)[:, None]
        usual = _medians(left, known)
        weight = known / (1 + (left / np.maximum(1.4826 * usual, LEAST_LEFT)[:, None]) ** 2)
    scatter = (weight * left**2).sum(1) / total
    variance = (1 + share**2) * scatter / looks / np.maximum(size / total, 1e-9)
    little = (known.sum(1) < LEAST_STEPS) | (size < LEAST_WAY**2 * total)
    return share, variance, np.where(little, 0.0, size)


def _medians(values: Floats, known: Bools) -> Floats:
    """(p,) of each row's (p, n) known values; 0 where there is none."""
    rising = np.sort(np.where(known, values, np.inf), axis=1)
    number = known.sum(1)
    middle = np.stack([np.maximum(number - 1, 0) // 2, number // 2], 1)
    return np.where(number > 0, np.take_along_axis(rising, middle, 1).mean(1), 0.0)
