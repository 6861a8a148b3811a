"""Timing: how far ahead or behind the student arrives at each count, with a standard error.

Around each count the movement that leads into it is laid over the reference's at every lag; the distance, in units of
the take's own noise, is a curve whose bottom is the lag and whose sharpness its error (least squares: the standard
error is sqrt(2 / second derivative) of the squared distance). One smooth path of lags over the whole routine is then
found by dynamic programming, so that still passages borrow from their neighbours, and each count's lag is read where
its own curve is lowest near the path. Where nothing moves there is no evidence, and none is made up.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from juxtakine.core.comparing.aligning.view import Singles, View
from juxtakine.core.comparing.results import Untold
from juxtakine.core.movement.features import Features
from juxtakine.core.movement.tracks import Bools, Floats
from juxtakine.core.paths import least_path

WIDEST_LAG_S = 0.5
LAG_STEP_S = 0.02
LAGS_S = np.arange(-WIDEST_LAG_S, WIDEST_LAG_S + LAG_STEP_S / 2, LAG_STEP_S)
PARABOLA = np.linalg.pinv(np.vander(LAG_STEP_S * np.arange(-2, 3), 3))
"""The parabola through five costs that lie together, by least squares: bend, slope in the middle, height."""
STEPS_PER_COUNT = 12
LONGEST = 2.0
"""Counts of a way that goes on which are looked at for its arrival."""
RESTING = 3.0
"""A channel that moves around a count by no more than this, in squared noise, counts half for its lag and less: where
the reference rests, what the take does instead would draw the lag to where it does less."""
SHORTEST_S = 0.4
"""A shorter stretch of movement, as before an &, does not tell when it arrives; it reaches back to the count before."""
INDEPENDENT_S = 0.25
"""Estimates closer than this share their noise."""
MOST_INDEPENDENT = 1.6
"""The estimator's errors hang on the pose: in a slow way they last longer, so that a longer window tells no more."""
SMOOTH_S = 0.15
"""How far neighbouring counts' lags usually differ."""
AWAY = 1e-3
"""How unlikely it is to be away from the common time: hardly, it must not draw a dancer who is late."""
MOVING = 9.0
"""Squared distance between the reference and its own standstill, in units of noise, from which on a count moves."""
SOFT = 4.0
"""Differences beyond so many of the take's own noise weigh less and less (Cauchy's loss): another way there, or a
limb that was mistaken, must not move the lag."""
TRUER, LASTING = 0.63, 0.9
"""Lags are surer by this than the curves say, which take all differences for noise; where a move goes on before the
count they are not. So 95 to 98 % of the tuning pairs' errors lie within two standard errors."""
FAINT = 10.0
"""Moved so far, in squared noise, a lag is known half as well as its curve says: what is hardly more than noise fits at
a wrong place as well."""
ELSEWHERE_S, NEARLY_AS_WELL = 0.12, 10.0
"""A lag is not known where a more usual one, so far from it, costs no more than this beyond it. Of nine false
findings on the clean counts of 480 tuning pairs these are two, 190 and 340 ms off; were rivals farther away from the
usual lag believed as well, it would be three, but dances that repeat themselves could not be timed."""
UNKNOWN = (float("nan"),) * 3
LARGEST_SE_S = 0.1
LEAST_SE_S = 0.005
SEEN = 0.6
ENOUGH = 0.6
"""Share of a window's steps, of its lags and of its channels that must be known: a short gap takes little away."""
LEAST_SHOWN = 0.5
"""Share of a count's window that must lie inside the reference."""
TOGETHER = 24
"""Windows that are laid over the take at a time: long arrays, but no larger than a processor's cache."""
NEARBY = 8
"""Steps of lag around the path within which the take may make up for a move."""


@dataclass(frozen=True)
class Window:
    """The stretch of movement that leads into a count: from `start` to `end`, in counts, around `at`."""

    at: float
    start: float
    end: float


@dataclass(frozen=True)
class Lags:
    """Per count, in seconds of the take: `own` lag and `se`, NaN where `why` says that there are none; `misfit`, what
    is left between the two at its own lag, 1 where that is all noise; how much the reference moves around it, and how
    much at least the take does near the path of all lags, in units of noise."""

    own: Floats
    se: Floats
    misfit: Floats
    why: tuple[Untold | None, ...]
    moves: Bools
    motion: Floats
    own_least: Floats


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


def lags(view: View, counts: Floats, goes_on: Bools) -> Lags:
    """The take's lag at each of the counts (k,)."""
    count_s = float(view.take_grid.count_length(counts.mean()))
    curves = _curves(view, windows(counts, goes_on, count_s))
    cost, motion = np.array([c.cost for c in curves]), np.array([c.motion for c in curves])
    moves, seen = motion >= MOVING, np.array([c.seen >= SEEN for c in curves])
    usable = moves & seen
    change = ((LAGS_S[:, None] - LAGS_S) / SMOOTH_S) ** 2
    # where nothing tells there is no lag
    path = LAGS_S[least_path(change, (np.where(usable[:, None], cost, 0.0) + AWAY * (LAGS_S / SMOOTH_S) ** 2).T)]
    own, se, misfit, why = _bottoms(curves, usable, path, float(np.median(path)), _lasts(goes_on))
    unseen = (Untold.NOT_SEEN if not s else Untold.STILL if not m else None for s, m in zip(seen, moves, strict=True))
    why = tuple(first or then for first, then in zip(unseen, why, strict=True))
    nearest = np.abs(LAGS_S - path[:, None]).argmin(1)
    around = np.clip(nearest[:, None] + np.arange(-NEARBY, NEARBY + 1), 0, len(LAGS_S) - 1)
    moved = np.array([c.own_motion[a] for c, a in zip(curves, around, strict=True)])
    return Lags(own, se, misfit, why, moves, motion, moved.min(1))


def lags_without(view: View, counts: Floats, goes_on: Bools, told: Lags, channels: Bools) -> tuple[Floats, Floats]:
    """(k,) lags and standard errors at the counts (k,) as all but some channels (k, D) tell them, in the neighbourhood
    of what was told; NaN where these tell none, or nothing is left out."""
    rows = np.flatnonzero(channels.any(1) & np.isfinite(told.own))
    own, se = np.full(len(counts), np.nan), np.full(len(counts), np.nan)
    if len(rows):
        every = windows(counts, goes_on, float(view.take_grid.count_length(counts.mean())))
        curves = _curves(view, [every[i] for i in rows], channels[rows])
        moves = np.array([c.motion >= MOVING for c in curves])
        usual = float(np.nanmedian(told.own))
        own[rows], se[rows], *_ = _bottoms(curves, moves, told.own[rows], usual, _lasts(goes_on)[rows])
    return own, se


def _lasts(goes_on: Bools) -> Bools:
    """(k,) to which counts a move leads that went on through the one before."""
    return np.asarray(np.r_[False, goes_on[:-1]])


@dataclass(frozen=True)
class _Curve:
    """Per lag the cost, whether it is known there, the take's own motion, and what is left between the two, 1 where
    that is all noise; the reference's motion, and how much is seen of what both show now and then."""

    cost: Floats
    known: Bools
    own_motion: Floats
    misfit: Floats
    motion: float
    seen: float


def _curves(view: View, windows: Sequence[Window], without: Bools | None = None) -> list[_Curve]:
    """Each window's curve, in the order of the windows; those of as many steps are laid over the take together, and
    some channels (w, D) left out."""
    steps = np.array([max(6, round((w.end - w.start) * STEPS_PER_COUNT)) for w in windows])
    made: dict[int, _Curve] = {}
    for k in np.unique(steps):
        same = np.flatnonzero(steps == k)
        for some in np.split(same, range(TOGETHER, len(same), TOGETHER)):
            left = None if without is None else without[some]
            made |= zip(some.tolist(), _laid(view, [windows[i] for i in some], int(k), left), strict=True)
    return [made[i] for i in range(len(windows))]


def _laid(view: View, windows: Sequence[Window], steps: int, without: Bools | None) -> list[_Curve]:
    """Squared distance at each lag, how much the reference moves, and how much of both is seen. Axes: windows w,
    lags l, steps k, channels D."""
    start, end = (np.array([getattr(w, name) for w in windows]) for name in ("start", "end"))
    counts = np.linspace(start, end, steps, axis=1)
    shown = _inside(view.reference, view.reference_grid.seconds(counts))
    weight = _weights(counts, start[:, None], end[:, None]) * shown
    weight = (weight / np.maximum(weight.sum(1, keepdims=True), 1e-9)).astype(np.float32)
    lasts = view.take_grid.seconds(end) - view.take_grid.seconds(start)
    independent = np.clip(lasts / INDEPENDENT_S, 1.0, MOST_INDEPENDENT)
    at = view.take_grid.seconds(counts)[:, None] + LAGS_S[:, None]
    inside = np.asarray((_inside(view.take, at) | ~shown[:, None]).all(2))
    reference, take = view.reference_in_noise(counts), view.take_in_noise(at)
    known = np.isfinite(take)
    there = known.astype(np.float32)
    shares = _mean(there, weight)
    enough = shares > ENOUGH
    often = (enough & inside[..., None]).sum(1) > ENOUGH * inside.sum(1, keepdims=True)
    clear = (np.isfinite(reference) | ~shown[..., None]).all(1) & often
    clear &= True if without is None else ~without
    enough &= clear[:, None]
    reference, take = np.nan_to_num(reference), np.where(known, take, 0.0)
    own = _spread(take, weight, shares)
    away = take  # and in place, as this is where a comparison spends its time
    away -= reference[:, None]
    away *= there
    away -= _mean(away, weight, shares)[:, :, None]  # a constant is no timing
    away *= there / SOFT
    away *= away
    far = SOFT**2 * _mean(np.log1p(away, out=away), weight, shares)
    moved = _spread(reference[:, None], weight)
    telling = moved / (moved + RESTING)
    cost, misfit, own = (np.where(enough, a, 0.0).sum(2) for a in (far * telling, far, own))
    told = enough.sum(2) / np.maximum(clear.sum(1, keepdims=True), 1)
    # a lag at which much of the take is unknown says nothing for itself
    sure = inside & (told > ENOUGH)
    squared = independent[:, None] * cost / np.maximum(told, ENOUGH)
    squared = np.where(sure, squared, np.where(sure, squared, 0.0).max(1, keepdims=True))
    motion = independent * np.where(clear, moved[:, 0], 0.0).sum(1)
    misfit = misfit / np.maximum(told, ENOUGH) / np.maximum(clear.sum(1, keepdims=True), 1)
    usable = (shown.mean(1) >= LEAST_SHOWN) & clear.any(1)
    seen = clear.sum(1) / max(1, view.shown.sum())
    return [
        _Curve(squared[i], sure[i], independent[i] * own[i], misfit[i], float(motion[i]), float(seen[i]))
        if usable[i]
        else _nothing()
        for i in range(len(windows))
    ]


def _nothing() -> _Curve:
    still = np.zeros(len(LAGS_S))
    return _Curve(still, still > 0, still, still, 0.0, 0.0)


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


def _bottoms(
    curves: Sequence[_Curve], usable: Bools, near: Floats, usual: float, lasts: Bools
) -> tuple[Floats, Floats, Floats, tuple[Untold | None, ...]]:
    """(k,) lags, standard errors and misfits of those curves that are usable, downhill from `near` (k,); NaN where they
    don't tell, or not well enough, and why of those that are usable. `lasts` (k,): where the move comes from further
    than the count before."""
    read = [_bottom(c, at, usual) if ok else None for c, ok, at in zip(curves, usable, near, strict=True)]
    own, se, misfit = np.array([UNKNOWN if r is None or isinstance(r, Untold) else r for r in read]).T
    se *= [1 + FAINT / max(c.motion, 1.0) for c in curves]
    sure = se <= LARGEST_SE_S
    se = np.maximum(se * np.where(lasts, LASTING, TRUER), LEAST_SE_S)
    why = (Untold.FAINT if not isinstance(r, Untold) and r and not s else r for r, s in zip(read, sure, strict=True))
    told = tuple(w if isinstance(w, Untold) else None for w in why)
    return np.where(sure, own, np.nan), np.where(sure, se, np.nan), misfit, told


def _has_rival(curve: _Curve, i: int, usual: float) -> bool:
    """Whether the movement fits nearly as well where it usually is, or as far from it on the other side, as at the
    bottom `i`: then it is not known which. What repeats itself and fits where it usually is, is there."""
    inner, at = curve.cost[1:-1], LAGS_S[1:-1]
    bottoms = (inner <= curve.cost[:-2]) & (inner <= curve.cost[2:]) & curve.known[1:-1]
    elsewhere = np.abs(at - LAGS_S[i]) > ELSEWHERE_S
    as_near = np.abs(at - usual) <= abs(LAGS_S[i] - usual) + LAG_STEP_S
    return bool((bottoms & elsewhere & as_near & (inner < curve.cost[i] + NEARLY_AS_WELL)).any())


def _fits_rather(curve: _Curve, i: int, usual: float) -> bool:
    """Whether the two are more alike where they usually are than at the bottom `i`, what rests taken in."""
    there = int(np.abs(LAGS_S - usual).argmin())
    far = abs(LAGS_S[i] - usual) > ELSEWHERE_S
    return bool(far and curve.known[there] and curve.misfit[there] < curve.misfit[i])


def _bottom(curve: _Curve, near: float, usual: float) -> tuple[float, float, float] | Untold:
    """The lowest point of the count's own curve reachable downhill from the path, its standard error and its misfit, or
    why there is none; `usual` is the lag of most counts."""
    cost = curve.cost
    i = int(np.abs(LAGS_S - near).argmin())
    while 0 < i < len(LAGS_S) - 1:
        lower = i + 1 if cost[i + 1] < cost[i - 1] else i - 1
        if cost[lower] >= cost[i]:
            break
        i = lower
    if not 0 < i < len(LAGS_S) - 1 or not curve.known[i - 1 : i + 2].all():
        return Untold.TOO_FAR
    if _has_rival(curve, i, usual):
        return Untold.FITS_ELSEWHERE
    if _fits_rather(curve, i, usual):
        return Untold.ANOTHER_MOVE
    middle = min(max(i, 2), len(LAGS_S) - 3)
    bend, slope, _ = PARABOLA @ cost[middle - 2 : middle + 3]
    if bend <= 0:
        return Untold.FAINT
    lag = float(np.clip(LAGS_S[middle] - slope / (2 * bend), LAGS_S[i] - LAG_STEP_S, LAGS_S[i] + LAG_STEP_S))
    # paths that never fit well (another body, another way there) make the lag as unsure as they are unlike
    misfit = float(curve.misfit[i])
    return lag, float(np.sqrt(max(1.0, misfit) / bend)), misfit
