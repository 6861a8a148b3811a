"""How fast music is, and from where to where it keeps one tempo."""

import numpy as np
from scipy.ndimage import gaussian_filter1d, maximum_filter1d

from juxtakine.core.counting.music.onsets import BLUR_S, FRAMES_PER_S, Floats, Flux, NoBeat, autocorrelation

SLOWEST, FASTEST = 55.0, 200.0
USUAL_BPM, OCTAVES = 173.0, 0.75
"""Of two paces the quicker one is the beat, unless it is too quick to be danced or counted (or the bass is against it);
how widely tempi spread."""
EVENNESS, BASS = 3.0, 4.0
"""How heavily it weighs how even a pace is, and that the bass needs four beats of it to come back."""
LEAST_EVEN = 0.12
LOOK_S, LOOK_EVERY_S, AGREEING = 8.0, 2.0, 3
"""Windows in which the tempo is looked at by itself, and how many have to agree."""
JUMPS, SAME_TEMPO = 0.06, 0.015
"""Logarithms: two tempi that are not one, and windows that are of one."""


def period(heard: Flux) -> float:
    """Frames a beat. What comes back after one beat also comes after two and four; on every beat something begins, on
    the weak ones about as strongly as on the strong; and bass and kick come back after one or two beats: where they
    need four, it is counted twice too fast. Weights were fitted on made-up music (bench). Raises NoBeat."""
    smooth = heard.smooth
    longest = round(4.2 * 60 / SLOWEST * FRAMES_PER_S)
    if len(smooth) < longest:
        raise NoBeat("this is too short to know its beat: at least five seconds are needed")
    like = autocorrelation(smooth)
    bpms = np.geomspace(SLOWEST, FASTEST, 800)
    lags = 60 / bpms * FRAMES_PER_S
    at = np.arange(len(like))
    told = np.average([np.interp(k * lags, at, like) for k in (1, 2, 4)], axis=0, weights=[1.0, 0.8, 0.7])
    if told.max() < LEAST_EVEN:
        raise NoBeat("no even beat is heard here: place the counts by hand, or tap them along")
    usual = np.exp(-0.5 * (np.log2(bpms / USUAL_BPM) / OCTAVES) ** 2)
    peaks = np.flatnonzero((told == maximum_filter1d(told, 25)) & (told > 0.35 * told.max()))
    bass = autocorrelation(gaussian_filter1d(heard.flux[0], BLUR_S * FRAMES_PER_S))
    late = [np.interp(4 * lags[i], at, bass) - np.interp(2 * lags[i], at, bass) for i in peaks]
    merit = [
        told[i] ** EVENNESS * usual[i] * _filled(heard.rises, lags[i]) * np.exp(-BASS * max(0.0, after))
        for i, after in zip(peaks, late, strict=True)
    ]
    return float(lags[peaks[int(np.argmax(merit))]])


def pieces(heard: Flux) -> list[tuple[int, int]]:
    """Frames from and to which one tempo holds: where windows before and after a place agree among themselves on two
    tempi that are not the same."""
    n = len(heard.rises)
    window, hop = round(LOOK_S * heard.rate), round(LOOK_EVERY_S * heard.rate)
    starts = np.arange(0, n - window, hop)
    whole = period(heard)
    if len(starts) < 2 * AGREEING:
        return [(0, n)]
    near = np.arange(round(0.7 * whole), round(1.45 * whole))
    smooth = heard.smooth
    looks = (autocorrelation(smooth[a : a + window]) for a in starts)
    periods = np.log([near[int((like[near] + 0.8 * like[2 * near]).argmax())] for like in looks])
    places = range(AGREEING, len(starts) - AGREEING + 1)
    split = min(places, key=lambda k: sum(float(_off(part).sum()) for part in (periods[:k], periods[k:])))
    parts = periods[:split], periods[split:]
    apart = abs(float(np.median(parts[1]) - np.median(parts[0])))
    if apart < JUMPS or max(float(np.median(_off(part))) for part in parts) > SAME_TEMPO:
        return [(0, n)]
    at = int(starts[split] + window // 2)
    return [(a + moved, b + moved) for moved, end in ((0, at), (at, n)) for a, b in pieces(heard.between(moved, end))]


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


def _off(values: Floats) -> Floats:
    return np.asarray(np.abs(values - np.median(values)))
