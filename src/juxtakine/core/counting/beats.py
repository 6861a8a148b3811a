"""Beats in music, its tempo, and where a routine's first 1 may be.

What begins anew in the sound (spectral flux, in three bands), how evenly it does (autocorrelation), the most even
sequence through it (dynamic programming after Ellis, "Beat tracking by dynamic programming", 2007), and a line through
each beat's neighbours, as players keep time better than single onsets can be seen. Seconds are those of the samples.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d, maximum_filter1d, uniform_filter1d
from scipy.signal import ShortTimeFFT
from scipy.signal.windows import hann

Floats = NDArray[np.float64]

FRAMES_PER_S = 200
WINDOW_S = 0.032
BANDS_HZ = ((30.0, 180.0), (180.0, 1200.0), (1200.0, 3900.0))
BAND_WEIGHTS = (1.0, 1.0, 0.6)
LOUDNESS = 1000.0
"""Before the logarithm: from how soft on a sound counts."""
LATE_S = 0.004
"""By how much the flux peaks before an onset; measured on clicks and drum beats (bench)."""
SLOWEST, FASTEST = 55.0, 200.0
USUAL_BPM, OCTAVES = 128.0, 0.75
"""Tempi that people dance to, and how widely they spread."""
TIGHT = 120.0
HEARD = 0.3
"""Of the usual strength, for the first and the last beat."""
LEAST_EVEN = 0.12
NEIGHBOURS = 12
"""Beats to each side that say where one lies."""
STEADY_S = 0.012
"""Beats that lie about one line so closely are of one tempo."""
LOOK_S, LOOK_EVERY_S, AGREEING = 8.0, 2.0, 3
"""Windows in which the tempo is looked at by itself, and how many have to agree."""
JUMPS, SAME_TEMPO = 0.06, 0.015
"""Logarithms: two tempi that are not one, and windows that are of one."""
EIGHT = 8
FIRST_BEATS = 72
"""Within so many beats the routine begins."""
CANDIDATES = 4
MOST = 2.5
"""Spreads beyond which a jump of loudness says no more."""
MOVES_BEFORE = 0.7
"""Of a beat: a body sets off before the count on which it arrives."""
TELLS = 1.0
"""Evidence of this much is worth a word."""


class NoBeat(ValueError):
    """Nothing comes evenly; the message says so."""


@dataclass(frozen=True)
class One:
    """Where the routine's first 1 may be: which beat, its seconds, how likely, and why."""

    beat: int
    seconds: float
    certainty: float
    why: tuple[str, ...]


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


@dataclass(frozen=True)
class _Heard:
    """(3, n) flux of the bands and (n, F) log spectra, `rate` a second (FRAMES_PER_S, or next to it)."""

    flux: Floats
    spectra: Floats
    rate: float

    @property
    def rises(self) -> Floats:
        return np.asarray(np.array(BAND_WEIGHTS) @ self.flux)


def beats(samples: NDArray[np.floating[Any]], rate: int, moves_s: float | None = None) -> Beats:
    """Of (n,) mono samples; `moves_s` is where the dancer begins to move, if that is known. Raises NoBeat."""
    heard = _heard(np.asarray(samples, float), rate)
    pieces = [_evened(_raw(heard, first, after)) for first, after in _pieces(heard)]
    seconds = np.concatenate(pieces)
    jumps = tuple(float(piece[0]) for piece in pieces[1:])
    index = np.arange(len(seconds), dtype=float)
    (slope, _), spread = _line(index, seconds)
    error = spread / np.sqrt(max(1.0, float(((index - index.mean()) ** 2).sum())))
    lengths = np.diff(seconds)
    ends = max(1, len(lengths) // 8)
    drift = float(lengths[:ends].mean() / lengths[-ends:].mean() - 1)
    change, accents, jump = _news(heard, seconds)
    evidence = _standard(change) + 0.5 * _standard(accents)
    ones = _ones(evidence, jump, seconds, moves_s)
    return Beats(seconds, 60 / slope, 60 / slope**2 * error, drift, jumps, ones)


def _raw(heard: _Heard, first: int, after: int) -> Floats:
    """(n,) seconds of the beats from one frame to another, as they were seen."""
    part = replace(heard, flux=heard.flux[:, first:after], spectra=heard.spectra[first:after])
    path = _path(part.rises, _period(part))
    if len(path) < EIGHT:
        raise NoBeat("there is too little music to know its beat: at least eight counts are needed")
    return _placed(part, path) + first / heard.rate


def _pieces(heard: _Heard) -> list[tuple[int, int]]:
    """Frames from and to which one tempo holds: where windows before and after a place agree among themselves on two
    tempi that are not the same."""
    n = len(heard.rises)
    window, hop = round(LOOK_S * heard.rate), round(LOOK_EVERY_S * heard.rate)
    starts = np.arange(0, n - window, hop)
    whole = _period(heard)
    if len(starts) < 2 * AGREEING:
        return [(0, n)]
    near = np.arange(round(0.7 * whole), round(1.45 * whole))
    smooth = gaussian_filter1d(heard.rises, 0.012 * FRAMES_PER_S)
    looks = (_autocorrelation(smooth[a : a + window]) for a in starts)
    periods = np.log([near[int((like[near] + 0.8 * like[2 * near]).argmax())] for like in looks])
    places = range(AGREEING, len(starts) - AGREEING + 1)
    split = min(places, key=lambda k: sum(float(_off(part).sum()) for part in (periods[:k], periods[k:])))
    parts = periods[:split], periods[split:]
    apart = abs(float(np.median(parts[1]) - np.median(parts[0])))
    if apart < JUMPS or max(float(np.median(_off(part))) for part in parts) > SAME_TEMPO:
        return [(0, n)]
    at = int(starts[split] + window // 2)
    halves = (replace(heard, flux=heard.flux[:, a:b], spectra=heard.spectra[a:b]) for a, b in ((0, at), (at, n)))
    return [(a + moved, b + moved) for half, moved in zip(halves, (0, at), strict=True) for a, b in _pieces(half)]


def _off(values: Floats) -> Floats:
    return np.asarray(np.abs(values - np.median(values)))


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


def _heard(samples: Floats, rate: int) -> _Heard:
    size = round(WINDOW_S * rate)
    hop = round(rate / FRAMES_PER_S)
    transform = ShortTimeFFT(hann(size), hop, rate, fft_mode="onesided", mfft=4 * size)
    power = np.abs(transform.stft(samples, p0=0, p1=len(samples) // hop))
    level = np.percentile(power.sum(0), 90) or 1.0
    spectra = np.log1p(LOUDNESS * power / level)
    hz = transform.f
    rise = np.maximum(0, np.diff(spectra, axis=1, prepend=spectra[:, :1]))
    bands = np.array([rise[(hz >= low) & (hz < high)].mean(0) for low, high in BANDS_HZ])
    return _Heard(np.array([_levelled(b) for b in bands]), spectra.T, rate / hop)


def _levelled(flux: Floats) -> Floats:
    """Above its neighbourhood, in its own spread: a soft passage speaks as a loud one does."""
    above = np.maximum(0, flux - uniform_filter1d(flux, FRAMES_PER_S // 2))
    spread = np.sqrt(uniform_filter1d(above**2, 8 * FRAMES_PER_S)) + 0.15 * float(above.std()) + 1e-9
    return np.asarray(np.minimum(above / spread, 6.0))


def _autocorrelation(x: Floats) -> Floats:
    size = 1 << (2 * len(x)).bit_length()
    full = np.fft.irfft(np.abs(np.fft.rfft(x - x.mean(), size)) ** 2)[: len(x)]
    n = len(x) - np.arange(len(x))
    return np.asarray(full / max(full[0], 1e-12) * len(x) / np.maximum(n, 1))


def _period(heard: _Heard) -> float:
    """Frames a beat. What comes back after one beat also comes after two and four; and on every beat something begins,
    in the low bands about as strongly on the weak ones as on the strong."""
    smooth = gaussian_filter1d(heard.rises, 0.012 * FRAMES_PER_S)
    longest = round(4.2 * 60 / SLOWEST * FRAMES_PER_S)
    if len(smooth) < longest:
        raise NoBeat("this is too short to know its beat: at least six seconds are needed")
    like = _autocorrelation(smooth)
    bpms = np.geomspace(SLOWEST, FASTEST, 800)
    lags = 60 / bpms * FRAMES_PER_S
    at = np.arange(len(like))
    told = np.average([np.interp(k * lags, at, like) for k in (1, 2, 4)], axis=0, weights=[1.0, 0.8, 0.7])
    if told.max() < LEAST_EVEN:
        raise NoBeat("no even beat is heard here: place the counts by hand, or tap them along")
    usual = np.exp(-0.5 * (np.log2(bpms / USUAL_BPM) / OCTAVES) ** 2)
    peaks = np.flatnonzero((told == maximum_filter1d(told, 25)) & (told > 0.35 * told.max()))
    merit = [told[i] * usual[i] * _filled(heard.rises, lags[i]) for i in peaks]
    return float(lags[peaks[int(np.argmax(merit))]])


def _filled(rises: Floats, lag: float) -> float:
    """0 to 1: how strong the weaker half of every second beat is against the stronger, where this is the beat: a tempo
    that is twice too fast finds next to nothing on every second one. And half-way between the beats less begins."""
    phases = np.arange(0, lag, 2.0)
    n = int((len(rises) - 1) / lag) - 1
    best, share = -1.0, 0.0
    blurred = maximum_filter1d(rises, round(0.05 * FRAMES_PER_S))
    for phase in phases:
        on = blurred[np.rint(phase + lag * np.arange(n)).astype(int)]
        if on.mean() > best:
            between = blurred[np.rint(phase + lag * (np.arange(n) + 0.5)).astype(int)].mean()
            halves = sorted((on[::2].mean(), on[1::2].mean()))
            best = float(on.mean())
            share = float(halves[0] / max(halves[1], 1e-9)) ** 0.7 * float(1.15 - 0.5 * between / max(best, 1e-9))
    return max(share, 0.05)


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


def _placed(heard: _Heard, path: NDArray[np.intp]) -> Floats:
    """(n,) seconds: where next to each frame the rise is strongest, to fractions of a frame; NaN where nothing is."""
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


def _news(heard: _Heard, seconds: Floats) -> tuple[Floats, Floats, Floats]:
    """(n,) of each beat: how much the sound of four beats differs from that of the four before, how strong the bass
    begins, and by how much more is heard in the eight from it on than in the eight before."""
    frames = np.clip(np.rint(seconds * heard.rate).astype(int), 0, len(heard.spectra) - 1)
    n = len(frames)
    ends = [*frames[1:], len(heard.spectra)]
    sound = np.array([heard.spectra[a : max(b, a + 1)].mean(0) for a, b in zip(frames, ends, strict=True)])
    accents = maximum_filter1d(heard.flux[0], round(0.06 * FRAMES_PER_S))[frames]
    change, jump = np.zeros(n), np.zeros(n)
    level = sound.mean(1)
    for i in range(n):
        before, after = sound[max(0, i - 4) : i], sound[i : i + 4]
        jump[i] = level[i : i + EIGHT].mean()
        if len(before):
            a, b = before.mean(0), after.mean(0)
            change[i] = 1 - float(a @ b) / max(float(np.linalg.norm(a) * np.linalg.norm(b)), 1e-9)
            jump[i] -= level[max(0, i - EIGHT) : i].mean()
    return change, np.asarray(accents), jump


def _ones(evidence: Floats, jump: Floats, seconds: Floats, moves_s: float | None) -> tuple[One, ...]:
    """Where harmony and bass change, eights begin; where more is heard from then on, or the dancer moves off, the
    routine does."""
    n = len(seconds)
    phase = np.array([evidence[r::EIGHT].mean() for r in range(EIGHT)])
    half = np.array([(phase[r] + phase[(r + 4) % EIGHT]) / 2 for r in range(EIGHT)])
    first = min(FIRST_BEATS, max(EIGHT, n // 2))
    at = np.arange(first)
    eights = 1.6 * phase[at % EIGHT] + 1.6 * half[at % EIGHT]
    # a clip's sound may begin with a jump that is none of the music's
    enters = 1.5 * np.minimum(_standard(jump)[:first], MOST)
    moves = np.zeros(first)
    if moves_s is not None:
        beat = float(np.median(np.diff(seconds)))
        moves = 5.0 * np.exp(-0.5 * ((seconds[:first] - moves_s - MOVES_BEFORE * beat) / (0.7 * beat)) ** 2)
    told = eights + enters + moves - 0.04 * at
    reasons = {"harmony and bass change here": eights, "more is heard from here on": enters,
               "the dancer moves off here": moves}  # fmt: skip
    chance = np.exp(told - told.max())
    chance = chance / chance.sum()
    best = np.argsort(-chance)[:CANDIDATES]
    return tuple(
        One(int(i), float(seconds[i]), float(chance[i]), tuple(why for why, by in reasons.items() if by[i] > TELLS))
        for i in best
    )


def _standard(x: Floats) -> Floats:
    return np.asarray((x - x.mean()) / max(float(x.std()), 1e-9))
