"""Moves: each has a lag at its start and one at its arrival, and changes between the two.

People start late and hurry, or start on time and drag. A window laid over the take as one rigid piece tells the lag of
the way, where limbs are fastest, and so a third of the count before. Here both lags of all moves are found together:
how well each pair of them fits (Student's t, so that another way there weighs little), how far the lag may change
within a move, and how far it may jump while the dancer rests. Sums over all starts and arrivals, forward and backward
(Rabiner 1989, "A tutorial on hidden Markov models"), give for each of them a distribution: its mean is the lag,
its spread the standard error.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.ndimage import gaussian_filter1d
from scipy.sparse import csr_array

from juxtakine.core.comparing.aligning.view import Singles, View, between
from juxtakine.core.movement.cleaning import RATE
from juxtakine.core.movement.tracks import Floats, Ints

WIDEST_LAG_S, LAG_STEP_S = 0.5, 0.0125
LAGS_S = np.arange(-WIDEST_LAG_S, WIDEST_LAG_S + LAG_STEP_S / 2, LAG_STEP_S)
STEPS_PER_COUNT = 12
SLOW_COUNTS = 2.0
"""What changes more slowly is a pose that is off, or another body, and tells no time."""
QUICK_COUNTS = 0.22
"""How much a channel's speed counts beside its place, so that both tell about as much."""
RESTING, AROUND_COUNTS = 1.0, 0.4
"""A channel that moves around a moment by no more than this, in squared noise, counts half and less: where the
reference rests, what the take does instead would draw the lag to where it does less."""
FREEDOM = 3.0
"""Degrees of freedom of what is left between the two: its tails are long."""
LEAST_SCALE = 0.3
"""What is left is no less than this share of the take's usual noise."""
INDEPENDENT_S = 0.18
"""Estimates closer than this share their noise."""
MOST_INDEPENDENT = 2.5
"""Of a move: the estimator's errors hang on the pose, and in a slow way they last longer."""
WITHIN = ((0.5, 0.02), (0.5, 0.1))
BETWEEN = ((0.6, 0.03), (0.4, 0.15))
"""How far the lag changes within a move, and from an arrival to the next start: two kinds, each with its share and its
standard deviation in seconds."""
FIRST_S = 0.25
AFTER = 0.12
"""Of the gap after an arrival, in which it still tells."""
LEAST_KNOWN = 0.4
"""Share of the channels that must be known for a moment to tell."""
MEDIAN_OF_SQUARES = 0.455
"""Of a normal distribution of unit variance."""
TOGETHER = 64
"""Moments that are laid over the take at a time."""
BOWED = 0.5
"""By how much the lag changes sooner and later than straight: what pulls it to that of the start is so made up for."""
ROUGHLY = 2
"""One in so many moments tells how wide what is left is."""


@dataclass(frozen=True)
class Moves:
    """(m, L) how likely each lag of LAGS_S is at each move's start and at its arrival."""

    start: Floats
    arrival: Floats


def moves(view: View, begins: Floats, arrives: Floats, rests: Floats) -> Moves:
    """The lags of moves that begin after the counts `begins` (m,) and arrive on `arrives` (m,), rising, and after which
    it is `rests` (m,) counts to the next one."""
    ends = arrives + AFTER * np.minimum(rests, 1.0)
    ways = [_steps(b, e) for b, e in zip(begins, ends, strict=True)]
    shares = [_bowed(np.clip((w - b) / (a - b), 0, 1)) for w, b, a in zip(ways, begins, arrives, strict=True)]
    most = np.concatenate([np.full(len(way), MOST_INDEPENDENT / len(way)) for way in ways])
    laid = _Laid.of(view, np.concatenate(ways), most)
    scale = np.ones(laid.reference.shape[1], np.float32)
    ends_at = np.cumsum([len(way) for way in ways])
    rough = [np.arange(end - len(way), end, ROUGHLY) for end, way in zip(ends_at, ways, strict=True)]
    costs = ROUGHLY * laid.costs(scale, np.concatenate(rough))
    found = _lags(np.split(costs, np.cumsum([len(r) for r in rough])[:-1]), [s[::ROUGHLY] for s in shares])
    scale = laid.left(np.concatenate(list(_path(found, shares))))
    return _lags(np.split(laid.costs(scale, np.arange(ends_at[-1])), ends_at[:-1]), shares)


def _steps(begin: float, end: float) -> Floats:
    return np.asarray(begin + np.arange(1, max(1, int(STEPS_PER_COUNT * (end - begin) + 1e-6)) + 1) / STEPS_PER_COUNT)


def _bowed(share: Floats) -> Floats:
    """Of the way from the lag at the start to that at the arrival."""
    return share + BOWED * (share - share * share * (3 - 2 * share))


def _path(found: Moves, shares: Sequence[Floats]) -> Iterator[Floats]:
    for start, end, share in zip(found.start @ LAGS_S, found.arrival @ LAGS_S, shares, strict=True):
        yield start + (end - start) * share


@dataclass(frozen=True)
class _Laid:
    """The reference's channels (u, D) at moments, how much each of them tells there (u, D), the take's channels (n, D)
    on its own steps, when the take's moments without a lag are, in seconds from its first step (u,), and how much of a
    moment stands for itself (u,)."""

    reference: Singles
    telling: Singles
    take: Singles
    places: Floats
    shares: Floats

    @classmethod
    def of(cls, view: View, at: Floats, most: Floats) -> "_Laid":
        reference, take = view.in_noise
        danced, shown = view.take_grid, view.reference_grid
        count_s = float(shown.count_length(at.mean()))
        of_reference = _moving(reference, count_s)
        moved = gaussian_filter1d(np.nan_to_num(of_reference) ** 2, AROUND_COUNTS * count_s * RATE, axis=0)
        of_take = _moving(take, float(danced.count_length(at.mean())))
        tells = np.minimum(np.isfinite(of_reference).mean(0), np.isfinite(of_take).mean(0)) > LEAST_KNOWN
        seconds = shown.seconds(at) - view.reference.seconds[0]
        lasts = danced.count_length(at) / STEPS_PER_COUNT
        return cls(
            between(of_reference[:, tells], seconds), between((moved / (moved + RESTING))[:, tells], seconds),
            of_take[:, tells],
            danced.seconds(at) - view.take.seconds[0],
            np.minimum(np.minimum(1.0, lasts / INDEPENDENT_S), most),
        )  # fmt: skip

    def costs(self, scale: Singles, rows: Ints) -> Floats:
        """(r, L) how badly each lag fits at these moments, in natural logarithms; the worst of its moment where too
        little is known."""
        every = range(0, len(rows), TOGETHER)
        return np.concatenate([self._costs(rows[first : first + TOGETHER], scale) for first in every])

    def _costs(self, some: Ints, scale: Singles) -> Floats:
        away = between(self.take, self.places[some, None] + LAGS_S)
        away -= self.reference[some, None]
        away *= away
        away *= 1 / (FREEDOM * scale)
        np.log1p(away, out=away)
        telling = self.telling[some, :, None]
        cost, share = np.matmul(away, telling)[..., 0].astype(float), np.ones(())
        if not np.isfinite(cost).all():
            known = np.isfinite(away)
            share = known.mean(2)
            cost = np.matmul(np.where(known, away, 0), telling)[..., 0].astype(float)
        tells = share > LEAST_KNOWN
        cost = np.where(tells, (FREEDOM + 1) / 2 * cost / np.maximum(share, LEAST_KNOWN), -np.inf)
        worst = cost.max(1, keepdims=True)
        return np.where(tells, cost, np.where(np.isfinite(worst), worst, 0.0)) * self.shares[some, None]

    def left(self, path: Floats) -> Singles:
        """(D,) each channel's own scale, squared, of what is left along a path of lags (u,)."""
        squared = (between(self.take, self.places + path) - self.reference) ** 2
        out = np.ones(squared.shape[1], np.float32)
        for k in range(len(out)):
            known = squared[np.isfinite(squared[:, k]), k]
            if len(known):
                out[k] = max(LEAST_SCALE, float(np.median(known)) / MEDIAN_OF_SQUARES)
        return out


def _moving(steps: Singles, count_s: float) -> Singles:
    """(n, 2 D) channels (n, D) less what changes slowly, and their speeds; NaN where they are not known."""
    known = np.isfinite(steps)
    over = SLOW_COUNTS * count_s * RATE
    slow = _slow(np.where(known, steps, 0), over)
    if not known.all():
        slow /= np.maximum(_slow(known.astype(np.float32), over), 1e-6)
    speed = np.gradient(steps, axis=0) * RATE * count_s * QUICK_COUNTS
    return np.concatenate([np.where(known, steps - slow, np.nan), speed], axis=1).astype(np.float32)


def _slow(steps: Singles, over: float) -> Singles:
    return np.asarray(gaussian_filter1d(steps, over, axis=0, mode="nearest", truncate=2.5))


def _lags(costs: Sequence[Floats], shares: Sequence[Floats]) -> Moves:
    """From each move's costs (q, L) at these shares (q,) of its way."""
    within, between = _kernel(WITHIN), _kernel(BETWEEN)
    ways = [fit * within for fit in _fits(costs, shares)]
    forward: list[Floats] = []
    before = np.exp(-0.5 * (LAGS_S / FIRST_S) ** 2)
    for way in ways:
        forward.append(_whole((forward[-1] @ between if forward else before) @ way))
    starts: list[Floats] = []
    arrivals: list[Floats] = []
    after = np.ones(len(LAGS_S))
    for i in range(len(ways) - 1, -1, -1):
        begun = before if i == 0 else forward[i - 1] @ between
        arrivals.append(_whole(forward[i] * after))
        back = ways[i] @ after
        starts.append(_whole(begun * back))
        after = _whole(between @ back)
    return Moves(np.array(starts[::-1]), np.array(arrivals[::-1]))


def _fits(costs: Sequence[Floats], shares: Sequence[Floats]) -> list[Floats]:
    """(L, L) of each move: how likely each start and arrival is. Those that take as long are summed up together."""
    kinds = [tuple(s.tolist()) for s in shares]
    made: dict[int, Floats] = {}
    for kind in set(kinds):
        alike = [i for i, k in enumerate(kinds) if k == kind]
        totals = _sums(kind) @ np.column_stack([costs[i].ravel() for i in alike])
        made |= {i: np.exp(t.min() - t).reshape(len(LAGS_S), -1) for i, t in zip(alike, totals.T, strict=True)}
    return [made[i] for i in range(len(kinds))]


@lru_cache(maxsize=64)
def _sums(shares: tuple[float, ...]) -> csr_array:
    """(L L, q L) sums the costs (q, L) at these shares of a way, for each start and arrival; between lags by straight
    lines."""
    lags, index = len(LAGS_S), np.arange(len(LAGS_S))
    pairs, columns, weights = [], [], []
    for q, share in enumerate(shares):
        place = (index[:, None] + (index - index[:, None]) * share).ravel()
        low = np.clip(np.floor(place + 1e-9), 0, lags - 2).astype(int)
        over = np.clip(place - low, 0, 1)
        for lag, weight in ((low, 1 - over), (low + 1, over)):
            pairs.append(np.arange(lags * lags))
            columns.append(q * lags + lag)
            weights.append(weight)
    entries = np.concatenate(weights), (np.concatenate(pairs), np.concatenate(columns))
    return csr_array(entries, shape=(lags * lags, len(shares) * lags))


def _kernel(kinds: tuple[tuple[float, float], ...]) -> Floats:
    """(L, L) how likely one lag follows another; each row is one in all."""
    apart = LAGS_S[:, None] - LAGS_S
    likely = np.sum([share * np.exp(-0.5 * (apart / spread) ** 2) / spread for share, spread in kinds], axis=0)
    return np.asarray(likely / likely.sum(1, keepdims=True))


def _whole(likely: Floats) -> Floats:
    return np.asarray(likely / likely.sum())
