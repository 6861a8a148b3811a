"""Arrivals: on which counts and parts of counts the instructor's movement arrives, where it holds and where it goes on.

The movement is cut into moves. A move leads from the pose at its beginning to that at its arrival, rests first for a
while, and takes the rest of its time with a smooth rise and fall of speed (minimum jerk; Flash and Hogan 1985, "The
coordination of arm movements"). How badly each stretch between two places on the count line is told by one such move
gives, summed over all ways to cut the whole (a semi-Markov chain, forward and backward), the chance that a move
arrives on a place.

Conventions: places in counts from the routine's first 1 (which is 0); certainties from 0 to 1.
"""

from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from scipy.ndimage import maximum_filter1d, minimum_filter1d
from scipy.special import expit

from juxtakine.core.counting.grids import Grid
from juxtakine.core.movement.features import LIMBS, Features
from juxtakine.core.movement.tracks import Bools, Floats, Ints
from juxtakine.core.proposing.footwork import FootPaths

SEGMENTS = len(LIMBS)
STEPS = 12
"""Looks at the movement a count: halves, thirds and quarters fall on one."""
LONGEST = 4
"""Counts that one move takes, with its rest, at most."""
RESTS = (0.0, 0.25, 0.45, 0.6, 0.75, 0.88)
"""Shares of a move's time for which it may rest first."""
STRAIGHT, SWUNG, WHOLE_COUNTS = (0, 3, 6, 9), (0, 4, 8), (0,)
"""Where a move may arrive within a count, in steps."""
WHOLE, HALF, QUARTER = 1.0, 6.0, 10.0
"""What an arrival costs on a count, on its & (or a third), and on e or a, in natural logarithms."""
FLOOR, OF_THE_WAY = 0.04, 0.08
"""What is left counts in units of this and of this share of the way that the channel makes around there, so that
nobody need move as smoothly as the model; in segment lengths."""
QUICK = 0.25
"""Counts within which a channel may slip by as much as it may be off: so much its speed counts beside its place."""
FREEDOM = 3.0
"""Student's t, so that another way there, as of one foot before the other, weighs little."""
INDEPENDENT = 0.1
"""How much of a look at one channel stands for itself: neighbours share their errors, and limbs move together."""
MOVED, SURELY, TELLING = 0.14, 0.025, 5
"""Way between two arrivals from which on somebody moves, in segment lengths (root of the mean square over so many
channels, those that move most), and how softly that turns."""
CLEARLY = 15.0
"""By how much more swung places have to tell of the movement than straight ones, in natural logarithms."""
SHORT = 0.35
"""A segment that looks shorter than this share of its length points at the camera, and goes straight in the picture;
else it turns about its joint."""
FACING, ANKLES = 0.5, 0.7
"""Segment lengths that a radian of facing, and a leg length of an ankle's way, count as."""
TURNED = 0.7
"""Radians of facing beyond which it is the body that turns, and carries the segments past each other."""
MOST_LOOKS = 12
"""Looks at a move that are taken: of a longer one some are left out."""
LEAST_SEEN = 0.5
OFFSETS = (-2, -1, 0, 1, 2)
UNLIKELY = 25.0
"""Steps by which the instructor may be early or late throughout, and what one costs, squared, in natural logarithms."""


@dataclass(frozen=True)
class Arrivals:
    """(p,) places on the count line and how surely a move arrives there; of each whole count from the first (k,) how
    surely nothing arrives as the dancer rests, and how surely a move goes on through it; which counts are seen."""

    at: tuple[Fraction, ...]
    arrives: Floats
    holds: Floats
    goes_on: Floats
    seen: Bools
    swung: bool
    offset: float
    """Counts by which the movement arrives after the grid's counts throughout."""

    def of(self, at: Fraction) -> float:
        """How surely a move arrives at a place; 0 where none may."""
        return float(self.arrives[self.at.index(at)]) if at in self.at else 0.0


def arrivals(danced: Features, feet: FootPaths, grid: Grid, counts: int) -> Arrivals:
    """Of so many counts from the first on."""
    offset = max(
        OFFSETS, key=lambda o: _cut(_looks(danced, feet, grid, counts, o), WHOLE_COUNTS).evidence - UNLIKELY * o * o
    )
    looks = _looks(danced, feet, grid, counts, offset)
    straight, swung = (_cut(looks, places) for places in (STRAIGHT, SWUNG))
    best = swung if swung.evidence > straight.evidence + CLEARLY else straight
    at = tuple(Fraction(int(step), STEPS) - 1 for step in best.steps)
    inside = [i for i, place in enumerate(at) if place >= 0]
    whole = np.arange(counts)
    return Arrivals(
        tuple(at[i] for i in inside), best.arrives[inside], best.holds[whole + 1], best.goes_on[whole + 1],
        _seen(looks.channels, counts), best is swung, offset / STEPS,
    )  # fmt: skip


@dataclass(frozen=True)
class _Looks:
    """(n, D) the body's channels at STEPS a count, from a count before the first to a count after the last, in segment
    lengths, NaN where not seen; the same without gaps; how large what is left of each may be."""

    channels: Floats
    filled: Floats
    scale: Floats


def _looks(danced: Features, feet: FootPaths, grid: Grid, counts: int, offset: int) -> _Looks:
    at = np.arange(-STEPS, (counts + 1) * STEPS + 1) / STEPS
    body = danced.at(grid.seconds(at + offset / STEPS))
    facing = np.radians(body.facing)[:, None]
    flat = body.vectors[..., :2].reshape(len(at), -1)
    ankles = np.column_stack([np.interp(body.seconds, feet.seconds, row) for row in feet.ankles.reshape(-1, 4).T])
    channels = np.concatenate([flat, ANKLES * ankles, body.level[:, None], FACING * facing], axis=1)
    known = np.isfinite(channels)
    filled = np.zeros_like(channels)
    for k in np.flatnonzero(known.any(0)):
        filled[:, k] = np.interp(at, at[known[:, k]], channels[known[:, k], k])
    around = maximum_filter1d(filled, 2 * STEPS + 1, axis=0, mode="nearest")
    around -= minimum_filter1d(filled, 2 * STEPS + 1, axis=0, mode="nearest")
    return _Looks(channels, filled, np.hypot(FLOOR, OF_THE_WAY * around))


def _seen(channels: Floats, counts: int) -> Bools:
    """(counts,) whether most of the body is seen around a count."""
    known = np.isfinite(channels).mean(1)
    return np.array(
        [known[(k + 1) * STEPS - STEPS // 2 : (k + 1) * STEPS + 3].mean() > LEAST_SEEN for k in range(counts)]
    )


@dataclass(frozen=True)
class _Cut:
    """The steps at which a move may arrive, from a count before the first on; see Arrivals; how well all is told."""

    steps: Ints
    arrives: Floats
    holds: Floats
    goes_on: Floats
    evidence: float


def _cut(looks: _Looks, places: tuple[int, ...]) -> _Cut:
    """With arrivals on these places of a count alone."""
    steps = np.array([s for s in range(len(looks.channels)) if s % STEPS in places])
    lengths = np.unique(np.subtract.outer(steps, steps))
    lengths = lengths[(lengths > 0) & (lengths <= LONGEST * STEPS)]
    begins = steps[:, None] - lengths
    place = np.full(len(looks.channels), -1)
    place[steps] = np.arange(len(steps))
    begun = np.where(begins >= 0, place[begins], -1)
    costs = np.full((*begins.shape, len(RESTS)), np.inf)
    ways = np.zeros(begins.shape)
    for k, length in enumerate(lengths):
        ends = np.flatnonzero(begun[:, k] >= 0)
        costs[ends, k], ways[ends, k] = _moves(looks, begins[ends, k], int(length))
    costs += np.array([_price(s % STEPS) for s in steps])[:, None, None]
    likely, evidence = _likely(begun, costs)
    moved = expit((ways - MOVED) / SURELY)
    whole = likely.sum(2)
    holds, goes_on = _between(steps, begins, likely, whole * moved)
    on_counts = steps % STEPS == 0
    holds[steps[on_counts] // STEPS] += (whole * (1 - moved)).sum(1)[on_counts]
    return _Cut(steps, (whole * moved).sum(1), holds, goes_on, evidence)


def _price(part: int) -> float:
    return WHOLE if part == 0 else HALF if part in (4, 6, 8) else QUARTER


def _likely(begun: Ints, costs: Floats) -> tuple[Floats, float]:
    """(s, l, RESTS) how likely each move is, of those that end at places (s,) and began at places `begun` (s, l; -1:
    none); and the logarithm of how well all of it is told."""
    n = len(begun)
    forward, backward = np.full(n + 1, -np.inf), np.full(n, -np.inf)
    forward[0] = backward[n - 1] = 0.0
    for end in range(1, n):
        forward[end] = _log_sum(forward[begun[end], None] - costs[end])
    for end in range(n - 1, 0, -1):
        there = begun[end] >= 0
        after = backward[end] + _log_sums(-costs[end, there])
        backward[begun[end, there]] = np.logaddexp(backward[begun[end, there]], after)
    both = forward[begun][..., None] - costs + backward[:, None, None] - forward[n - 1]
    return np.exp(both), float(forward[n - 1])


def _log_sum(values: Floats) -> float:
    most = values.max()
    return float(most + np.log(np.exp(values - most).sum())) if np.isfinite(most) else -np.inf


def _log_sums(values: Floats) -> Floats:
    """(l,) of (l, r)."""
    most = values.max(1)
    return np.asarray(most + np.log(np.exp(values - most[:, None]).sum(1)))


def _between(steps: Ints, begins: Ints, likely: Floats, moving: Floats) -> tuple[Floats, Floats]:
    """Of each whole count how surely it lies in the rest before a move, or in one that does not move; and how surely a
    move goes on through it."""
    counts = steps[-1] // STEPS + 1
    holds, goes_on = np.zeros(counts), np.zeros(counts)
    whole = likely.sum(2)
    share_moving = np.divide(moving, whole, out=np.zeros_like(whole), where=whole > 0)
    rests_until = begins[..., None] + (steps[:, None] - begins)[..., None] * np.array(RESTS)
    for k in range(counts):
        over = (begins < k * STEPS) & (steps[:, None] > k * STEPS)
        still = np.where(over[..., None] & (rests_until >= k * STEPS), likely, 0.0).sum(2)
        going = np.where(over, whole - still, 0.0)
        holds[k] = (still + going * (1 - share_moving)).sum()
        goes_on[k] = (going * share_moving).sum()
    return holds, goes_on


def _moves(looks: _Looks, begins: Ints, length: int) -> tuple[Floats, Floats]:
    """Of the stretches (m,) that begin at these steps: (m, RESTS) how badly one move tells each, for each rest, and the
    way (m,) that it makes."""
    within = np.unique(np.linspace(1, length, min(length, MOST_LOOKS)).round().astype(int))
    rows = begins[:, None] + within
    shown, sizes = looks.channels[rows], looks.scale[rows]
    start, end = looks.filled[begins], looks.filled[begins + length]
    known = np.isfinite(shown)
    told = np.empty((len(begins), len(RESTS)))
    apart = np.diff(within, prepend=0)[None, :, None] / (STEPS * QUICK)
    for k, rest in enumerate(RESTS):
        u = np.clip((within / length - rest) / (1 - rest), 0, 1)
        left = (shown - _on_the_way(start, end, u**3 * (10 - 15 * u + 6 * u * u))) / sizes
        slip = np.diff(left, axis=1, prepend=0) / apart
        # of what is not seen, the usual is taken
        told[:, k] = (
            np.log1p(np.where(known, left * left, 1.0) / FREEDOM).sum((1, 2))
            + np.log1p(np.where(np.isfinite(slip), slip * slip, 1.0) / FREEDOM).sum((1, 2))
        ) / 2
    # of one foot that moves, as of the whole body
    largest = np.sort(np.abs(end - start), axis=1)[:, -TELLING:]
    weight = INDEPENDENT * (FREEDOM + 1) / 2 * length / len(within)
    return weight * told + np.log(len(RESTS)), np.sqrt((largest**2).mean(1))


def _on_the_way(start: Floats, end: Floats, shares: Floats) -> Floats:
    """(m, q, D) from start to end (m, D) at these shares (q,) of the way: segments turn about their joints."""
    straight = start[:, None] + (end - start)[:, None] * shares[None, :, None]
    begun, done = (v[:, : 2 * SEGMENTS].reshape(len(v), SEGMENTS, 2) for v in (start, end))
    angle, length = np.arctan2(begun[..., 1], begun[..., 0]), np.hypot(begun[..., 0], begun[..., 1])
    longer = np.hypot(done[..., 0], done[..., 1])
    turn = (np.arctan2(done[..., 1], done[..., 0]) - angle + np.pi) % (2 * np.pi) - np.pi
    at = angle[:, None] + turn[:, None] * shares[None, :, None]
    reach = length[:, None] + (longer - length)[:, None] * shares[None, :, None]
    turned = np.stack([reach * np.cos(at), reach * np.sin(at)], axis=-1)
    stays = np.abs(end[:, -1] - start[:, -1]) < TURNED * FACING
    long = ((np.minimum(length, longer) > SHORT) & stays[:, None])[:, None, :, None]
    plain = straight[..., : 2 * SEGMENTS].reshape(turned.shape)
    straight[..., : 2 * SEGMENTS] = np.where(long, turned, plain).reshape(len(start), len(shares), -1)
    return straight
