"""Beats in music: where each count lies that the players keep.

The most even sequence through what begins anew (dynamic programming after Ellis, "Beat tracking by dynamic
programming", 2007), each beat then on the line of its neighbours, as players keep time better than single onsets can be
seen. Seconds are those of the samples.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d, maximum_filter1d

from juxtakine.core.counting.music.ones import EIGHT, One, first_ones
from juxtakine.core.counting.music.onsets import FRAMES_PER_S, Floats, Flux, NoBeat, hear
from juxtakine.core.counting.music.tempo import period, pieces

LATE_S = 0.004
"""By how much the flux peaks before an onset; measured on clicks and drum beats (bench)."""
TIGHT = 120.0
HEARD = 0.3
"""Of the usual strength, for the first and the last beat."""
NEIGHBOURS = 12
"""Beats to each side that say where one lies."""
STEADY_S = 0.012
"""Beats that lie about one line so closely are of one tempo."""


@dataclass(frozen=True)
class Beats:
    """(n,) seconds of the beats; `bpm` over all of them, `bpm_error` its standard error; `drift` how much the tempo
    rises over the music, as a share; `jumps` the seconds where it changes at once; `ones` likeliest first."""

    seconds: Floats
    bpm: float
    bpm_error: float
    drift: float
    jumps: tuple[float, ...]
    ones: tuple[One, ...]


def beats(samples: NDArray[np.floating[Any]], rate: int, moves_s: float | None = None) -> Beats:
    """Of (n,) mono samples; `moves_s` is where the dancer begins to move, if that is known. Raises NoBeat."""
    heard = hear(np.asarray(samples, float), rate)
    even = [_evened(_raw(heard, first, after)) for first, after in pieces(heard)]
    seconds = np.concatenate(even)
    jumps = tuple(float(piece[0]) for piece in even[1:])
    index = np.arange(len(seconds), dtype=float)
    (slope, _), spread = _line(index, seconds)
    error = spread / np.sqrt(max(1.0, float(((index - index.mean()) ** 2).sum())))
    lengths = np.diff(seconds)
    ends = max(1, len(lengths) // 8)
    drift = float(lengths[:ends].mean() / lengths[-ends:].mean() - 1)
    ones = first_ones(heard, seconds, moves_s)
    return Beats(seconds, 60 / slope, 60 / slope**2 * error, drift, jumps, ones)


def retimed(found: Beats, times: float) -> Beats:
    """The same beats counted twice as fast (2) or half as fast (0.5, from the likeliest first 1)."""
    n = len(found.seconds)
    if times == 2:
        seconds = np.interp(np.arange(2 * n - 1) / 2, np.arange(n), found.seconds)
        ones = tuple(replace(o, beat=2 * o.beat) for o in found.ones)
    else:
        kept = np.arange(found.ones[0].beat % 2, n, 2)
        seconds = found.seconds[kept]
        ones = tuple(replace(o, beat=int(o.beat - kept[0]) // 2) for o in found.ones if (o.beat - kept[0]) % 2 == 0)
    return Beats(seconds, found.bpm * times, found.bpm_error * times, found.drift, found.jumps, ones)


def _raw(heard: Flux, first: int, after: int) -> Floats:
    """(n,) seconds of the beats from one frame to another, as they were seen."""
    part = heard.between(first, after)
    path = _path(part.rises, period(part))
    if len(path) < EIGHT:
        raise NoBeat("there is too little music to know its beat: at least eight counts are needed")
    return _placed(part, path) + first / heard.rate


def _path(rises: Floats, period: float) -> NDArray[np.intp]:
    """The frames of the beats: as strong and as even as can be, together."""
    strength = gaussian_filter1d(rises, 0.01 * FRAMES_PER_S)
    strength = strength / max(float(strength.std()), 1e-9)
    steps = np.arange(round(period / 1.8), round(period * 1.8) + 1)
    cost = TIGHT * np.log(steps / period) ** 2
    score = strength.copy()
    before = np.full(len(score), -1)
    for t in range(len(score)):
        first = t - steps
        usable = first >= 0
        if usable.any():
            sums = score[first[usable]] - cost[usable]
            best = int(sums.argmax())
            if sums[best] > 0:
                score[t] += sums[best]
                before[t] = first[usable][best]
    last = len(score) - 1 - round(period) + int(score[-round(period) :].argmax())
    path = [last]
    while before[path[-1]] >= 0:
        path.append(int(before[path[-1]]))
    found = np.array(path[::-1])
    # before the music and after it nothing begins
    there = maximum_filter1d(strength, round(0.06 * FRAMES_PER_S))[found]
    sounding = np.flatnonzero(there > HEARD * np.median(there))
    return found[sounding[0] : sounding[-1] + 1] if len(sounding) else found[:0]


def _placed(heard: Flux, path: NDArray[np.intp]) -> Floats:
    """(n,) seconds: where next to each frame the rise is strongest, to fractions of one; itself where nothing is."""
    blurred = gaussian_filter1d(heard.rises, 1.0)
    reach = round(0.03 * FRAMES_PER_S)
    out = np.full(len(path), np.nan)
    floor = 0.25 * float(np.percentile(blurred[path], 75))
    for i, frame in enumerate(path):
        low, high = max(1, frame - reach), min(len(blurred) - 1, frame + reach + 1)
        if high <= low:
            continue
        peak = low + int(blurred[low:high].argmax())
        if blurred[peak] < floor or not 0 < peak < len(blurred) - 1:
            continue
        a, b, c = blurred[peak - 1 : peak + 2]
        bend = a - 2 * b + c
        out[i] = (peak + (0.5 * (a - c) / bend if bend < 0 else 0.0)) / heard.rate + LATE_S
    rough = path / heard.rate + LATE_S
    return np.where(np.isfinite(out), out, rough)


def _line(index: Floats, seconds: Floats) -> tuple[tuple[float, float], float]:
    """A line through most of the points: (slope, start), and their spread about it."""
    used = np.ones(len(index), bool)
    slope = start = spread = 0.0
    for _ in range(4):
        slope, start = (float(v) for v in np.polyfit(index[used], seconds[used], 1))
        off = seconds - start - slope * index
        spread = max(1.4826 * float(np.median(np.abs(off[used]))), 0.001)
        used = np.abs(off) <= 3 * spread
    return (slope, start), spread


def _evened(raw: Floats) -> Floats:
    """The beats as the players meant them: on one line where one fits, else each on its neighbours' line."""
    index = np.arange(len(raw), dtype=float)
    (slope, start), _ = _line(index, raw)
    local = np.array([_local(raw, i) for i in range(len(raw))])
    steady = np.abs(np.percentile(local - start - slope * index, (5, 95))).max() < STEADY_S
    return np.asarray(start + slope * index if steady else local)


def _local(raw: Floats, i: int) -> float:
    """Where beat i lies on the line of its neighbours."""
    low, high = max(0, i - NEIGHBOURS), min(len(raw), i + NEIGHBOURS + 1)
    if high - low < 2 * NEIGHBOURS + 1:  # at the ends the line reaches inwards
        low, high = max(0, min(low, high - 2 * NEIGHBOURS - 1)), min(len(raw), max(high, low + 2 * NEIGHBOURS + 1))
    index = np.arange(low, high, dtype=float) - i
    weights = np.exp(-0.5 * (index / (NEIGHBOURS / 2)) ** 2)
    used = np.ones(len(index), bool)
    slope = start = 0.0
    for _ in range(3):
        slope, start = (float(v) for v in np.polyfit(index[used], raw[low:high][used], 1, w=weights[used]))
        off = np.abs(raw[low:high] - start - slope * index)
        used = off <= max(3 * float(np.median(off)), 0.006)
    return start
