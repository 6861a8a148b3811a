"""Activity: how much both dancers move around each count, in units of the take's own noise, and how much is seen."""

from dataclasses import dataclass

import numpy as np

from juxtakine.core.comparing.aligning.view import Singles, View
from juxtakine.core.movement.features import Features
from juxtakine.core.movement.tracks import Bools, Floats

NEARBY_S = np.arange(-8, 9) * 0.02
"""Around a lag, within which the take may make up for a move."""
STEPS_PER_COUNT = 12
LONGEST = 2.0
"""Counts of a way that goes on which are looked at for its arrival."""
SHORTEST_S = 0.4
"""A shorter stretch of movement, as before an &, does not tell whether anything moves: it reaches back to the count
before."""
INDEPENDENT_S = 0.25
"""Estimates closer than this share their noise."""
MOST_INDEPENDENT = 1.6
"""The estimator's errors hang on the pose: in a slow way they last longer, so that a longer window tells no more."""
ENOUGH = 0.6
"""Share of a window's steps, of its lags and of its channels that must be known: a short gap takes little away."""
LEAST_SHOWN = 0.5
"""Share of a count's window that must lie inside the reference."""
TOGETHER = 24
"""Windows that are laid over the take at a time: long arrays, but no larger than a processor's cache."""


@dataclass(frozen=True)
class Window:
    """The stretch of movement that leads into a count: from `start` to `end`, in counts, around `at`."""

    at: float
    start: float
    end: float


@dataclass(frozen=True)
class Activity:
    """Per count (k,): how much the reference moves, how much the take does at least near its lag, and the share of what
    both show now and then that is seen."""

    reference: Floats
    take: Floats
    seen: Floats


def windows(counts: Floats, goes_on: Bools, count_s: float) -> list[Window]:
    """Each count's window: from just after the arrival before it (at most LONGEST) to a quarter of the way to the next.

    A move that goes on (k,) through a count arrives later: its whole way belongs to its arrival's window. `count_s` is
    how long a count lasts.
    """
    arrivals = np.where(goes_on, -np.inf, counts)
    last = np.concatenate([[counts[0] - 1], np.maximum.accumulate(np.maximum(arrivals, counts[0] - 1))[:-1]])
    before = np.where(goes_on, 1.0, np.clip(counts - last, 0, np.where(np.r_[False, goes_on[:-1]], LONGEST, 1.0)))
    before = np.maximum(before, SHORTEST_S / count_s)
    after = np.diff(counts, append=counts[-1] + 1)
    return [Window(c, c - 0.9 * b, c + 0.25 * min(a, 1.0)) for c, b, a in zip(counts, before, after, strict=True)]


def activity(view: View, counts: Floats, goes_on: Bools, lags_s: Floats) -> Activity:
    """At the counts (k,), through some of which a move goes on (k,), the take looked at around these lags (k,)."""
    every = windows(counts, goes_on, float(view.take_grid.count_length(counts.mean())))
    steps = np.array([max(6, round((w.end - w.start) * STEPS_PER_COUNT)) for w in every])
    out = np.zeros((3, len(counts)))
    for k in np.unique(steps):
        same = np.flatnonzero(steps == k)
        for some in np.split(same, range(TOGETHER, len(same), TOGETHER)):
            out[:, some] = _laid(view, [every[i] for i in some], int(k), lags_s[some])
    return Activity(*out)


def _laid(view: View, windows: list[Window], steps: int, lags_s: Floats) -> Floats:
    """(3, w) of windows of as many steps. Axes: windows w, lags l, steps k, channels D."""
    start, end = (np.array([getattr(w, name) for w in windows]) for name in ("start", "end"))
    counts = np.linspace(start, end, steps, axis=1)
    shown = _inside(view.reference, view.reference_grid.seconds(counts))
    weight = _weights(counts, start[:, None], end[:, None]) * shown
    weight = (weight / np.maximum(weight.sum(1, keepdims=True), 1e-9)).astype(np.float32)
    lasts = view.take_grid.seconds(end) - view.take_grid.seconds(start)
    independent = np.clip(lasts / INDEPENDENT_S, 1.0, MOST_INDEPENDENT)
    at = view.take_grid.seconds(counts)[:, None] + (lags_s[:, None] + NEARBY_S)[..., None]
    inside = np.asarray((_inside(view.take, at) | ~shown[:, None]).all(2))
    reference, take = view.reference_in_noise(counts), view.take_in_noise(at)
    known = np.isfinite(take)
    shares = _mean(known.astype(np.float32), weight)
    enough = shares > ENOUGH
    often = (enough & inside[..., None]).sum(1) > ENOUGH * inside.sum(1, keepdims=True)
    clear = (np.isfinite(reference) | ~shown[..., None]).all(1) & often
    clear &= ((shown.mean(1) >= LEAST_SHOWN) & inside.any(1))[:, None]
    moved = _spread(np.nan_to_num(reference)[:, None], weight)[:, 0]
    own = np.where(enough & clear[:, None], _spread(np.where(known, take, 0.0), weight, shares), 0.0).sum(2)
    return np.stack([
        independent * np.where(clear, moved, 0.0).sum(1), independent * own.min(1),
        clear.sum(1) / max(1, view.shown.sum()),
    ])  # fmt: skip


def _inside(features: Features, seconds: Floats) -> Bools:
    """Which times lie in the recording."""
    return np.asarray((seconds >= features.seconds[0]) & (seconds <= features.seconds[-1]))


def _weights(counts: Floats, start: Floats, end: Floats) -> Floats:
    """(w, k): flat in the middle, falling softly at both ends."""
    edge = 0.2 * (end - start)
    return np.asarray(np.clip((counts - start) / edge, 0.05, 1) * np.clip((end - counts) / edge, 0.05, 1))


def _mean(values: Singles, weight: Singles, shares: Singles | float = 1.0) -> Singles:
    """(w, l, D) weighted mean over the steps of (w, l, k, D), with 0 where it is not known; `weight` (w, k) sums to 1,
    and `shares` (w, l, D) of it are of what is known."""
    return np.asarray(np.matmul(weight[:, None, None], values)[:, :, 0] / np.maximum(shares, 1e-9))


def _spread(values: Singles, weight: Singles, shares: Singles | float = 1.0) -> Singles:
    """(w, l, D) mean square over the steps of (w, l, k, D), about their mean."""
    return np.asarray(_mean(values**2, weight, shares) - _mean(values, weight, shares) ** 2)
