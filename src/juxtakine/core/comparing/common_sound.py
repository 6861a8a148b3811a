"""Common time by sound: where the reference's music lies in a take.

At the same tempo by the generalised cross-correlation with phase transform (Knapp and Carter, 1976): every frequency
counts alike, so that echoes, loudness and a periodic beat do not move the peak. Its lag is exact to a sample or so; how
sure it is comes from how far the best peak stands above the next one elsewhere. Where none does, the music may have
been slowed, which `common_tempo` looks for, or it repeats.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import fft
from scipy.special import expit

from juxtakine.core.comparing.common_tempo import Place, places_of

BAND_HZ = (80.0, 3500.0)
APART_S = 0.03
"""A second peak nearer than this belongs to the first."""
PEAKS = 5
EVEN = 0.5
STANDS_OUT = 15.0
"""Height of peaks, in standard deviations of the whole curve, that are the music though none is sure: it repeats."""
EVEN_RATIO, RATIO_STEEP = 1.3, 6.0
"""From the ratio of the best peak to the next: even odds, and how steep; beyond doubt from about 2 on."""
EVEN_LEAD, LEAD_STEEP = 0.165, 45.0
"""The same for slowed music, from how far its likeness stands above the next place's."""
LIKE, LIKE_SPREAD = 0.11, 0.02
"""And from the likeness itself: below it is chance."""


@dataclass(frozen=True)
class SoundMatch:
    """The likeliest places, best first, and how sure (0 to 1) the first of them is."""

    places: tuple[Place, ...]
    certainty: float


def match_sounds(reference: NDArray[np.float32], take: NDArray[np.float32], rate: int) -> SoundMatch:
    """Both (n,) mono samples at `rate`, each from its clip's own start; at any tempo, with the pitch kept."""
    peaks, deviation = _peaks(reference, take, rate)
    ratio = peaks[0].likeness / max(peaks[1].likeness, 1e-12)
    same = SoundMatch(tuple(peaks), float(expit(RATIO_STEEP * (ratio - EVEN_RATIO))))
    if same.certainty >= EVEN:
        return same
    slowed = _at_any_tempo(reference, take, rate)
    return same if slowed.certainty < EVEN and peaks[0].likeness > STANDS_OUT * deviation else slowed


def _at_any_tempo(reference: NDArray[np.float32], take: NDArray[np.float32], rate: int) -> SoundMatch:
    places = places_of(reference, take, rate)
    if len(places) < 2 or places[0].likeness <= 0:
        return SoundMatch(tuple(places), 0.0)
    lead = 1 - places[1].likeness / places[0].likeness
    sure = expit(LEAD_STEEP * (lead - EVEN_LEAD)) * expit((places[0].likeness - LIKE) / LIKE_SPREAD)
    return SoundMatch(tuple(places), float(sure))


def _peaks(reference: NDArray[np.float32], take: NDArray[np.float32], rate: int) -> tuple[list[Place], float]:
    """The highest peaks of the curve over all lags, and its standard deviation."""
    size = fft.next_fast_len(len(reference) + len(take), real=True)
    a, b = (fft.rfft(np.asarray(sound, np.float32), size) for sound in (reference, take))
    cross = b * np.conj(a)
    hertz = fft.rfftfreq(size, 1 / rate)
    floor = 1e-3 * float(np.abs(cross).mean()) + 1e-12
    whitened = np.where((hertz >= BAND_HZ[0]) & (hertz <= BAND_HZ[1]), cross / (np.abs(cross) + floor), 0)
    curve = np.asarray(fft.irfft(whitened, size), float)
    lags = np.concatenate([np.arange(len(take)), np.arange(-len(reference) + 1, 0)])
    return list(_highest(curve, lags, rate)), float(curve.std())


def _highest(curve: NDArray[np.float64], lags: NDArray[np.int64], rate: int) -> Iterator[Place]:
    left = curve[lags]
    for _ in range(PEAKS):
        i = int(left.argmax())
        yield Place((lags[i] + _between(curve, int(lags[i]))) / rate, 1.0, float(left[i]))
        left[np.abs(lags - lags[i]) <= APART_S * rate] = -np.inf


def _between(curve: NDArray[np.float64], at: int) -> float:
    """Where the top of the parabola through three samples lies, from the middle one."""
    a, b, c = (float(curve[(at + k) % len(curve)]) for k in (-1, 0, 1))
    bend = a - 2 * b + c
    return 0.0 if bend >= 0 else float(np.clip(0.5 * (a - c) / bend, -0.5, 0.5))
