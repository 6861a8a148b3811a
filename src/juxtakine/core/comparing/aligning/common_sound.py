"""Common time by sound: where the reference's music lies in a take.

At the same tempo by the generalised cross-correlation with phase transform (Knapp and Carter, 1976): every frequency
counts alike, so that echoes, loudness and a periodic beat do not move the peak. Its lag is exact to a sample or so; how
sure it is comes from how far the best peak stands above the next one elsewhere. Where none does, the music may have
been slowed, which `common_tempo` looks for, or it repeats.

A count-in, a metronome or somebody who counts is not the music, and fits its beats anywhere: a place is told only where
most of the reference agrees with it, piece by piece, and where a count more or less fits worse.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import fft
from scipy.special import expit

from juxtakine.core.comparing.aligning.common_tempo import (
    COUNTS_AWAY,
    LEAST_SHARE,
    PIECE_S,
    Onsets,
    Place,
    places_of,
)

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
AROUND_S, AGREES_S, LEAST_AGREEING = 0.25, 0.01, 0.6
"""A piece agrees with a place that it finds again by itself, so nearly, among all that are so near; so many of them
must."""
ABOVE_OTHER_COUNTS = 4.0
"""How many times as high as a count or two away the place must be."""


@dataclass(frozen=True)
class SoundMatch:
    """The likeliest places, best first, and how sure (0 to 1) the first of them is."""

    places: tuple[Place, ...]
    certainty: float


def match_sounds(reference: NDArray[np.float32], take: NDArray[np.float32], rate: int, count_s: float) -> SoundMatch:
    """Both (n,) mono samples at `rate`, each from its clip's own start; at any tempo, with the pitch kept. `count_s`:
    how long a count lasts in the reference."""
    curve = _correlated(reference, take, rate)
    lags = np.concatenate([np.arange(len(take)), np.arange(-len(reference) + 1, 0)])
    peaks = tuple(_highest(curve, lags, rate))
    ratio = peaks[0].likeness / max(peaks[1].likeness, 1e-12)

    def is_music(place: Place) -> bool:
        others = (_height(curve, place.offset_s + k * count_s, rate) for k in COUNTS_AWAY)
        return place.likeness >= ABOVE_OTHER_COUNTS * max(others) and _agreeing(reference, take, place, rate)

    same = _of_music(SoundMatch(peaks, float(expit(RATIO_STEEP * (ratio - EVEN_RATIO)))), is_music)
    if same.certainty >= EVEN:
        return same
    slowed = _at_any_tempo(reference, take, rate, count_s)
    repeats = bool(same.places) and peaks[0].likeness > STANDS_OUT * float(curve.std())
    return same if slowed.certainty < EVEN and repeats else slowed


def _of_music(match: SoundMatch, is_music: Callable[[Place], bool]) -> SoundMatch:
    """The match without those of its places that something else than the music makes."""
    left = tuple(p for p in match.places if is_music(p))
    return SoundMatch(left, match.certainty if left[:1] == match.places[:1] else 0.0)


def _at_any_tempo(reference: NDArray[np.float32], take: NDArray[np.float32], rate: int, count_s: float) -> SoundMatch:
    onsets = Onsets.of(reference, take, rate)
    places = places_of(onsets)
    if len(places) < 2 or places[0].likeness <= 0:
        return SoundMatch((), 0.0)
    lead = 1 - places[1].likeness / places[0].likeness
    sure = expit(LEAD_STEEP * (lead - EVEN_LEAD)) * expit((places[0].likeness - LIKE) / LIKE_SPREAD)
    return _of_music(SoundMatch(tuple(places), float(sure)), lambda place: onsets.is_music(place, count_s))


def _correlated(a: NDArray[np.float32], b: NDArray[np.float32], rate: int) -> NDArray[np.float64]:
    """(n,) how alike they are with b so many samples later than a; lags before nought stand at the end."""
    size = fft.next_fast_len(len(a) + len(b), real=True)
    of_a, of_b = (fft.rfft(np.asarray(sound, np.float32), size) for sound in (a, b))
    cross = of_b * np.conj(of_a)
    hertz = fft.rfftfreq(size, 1 / rate)
    floor = 1e-3 * float(np.abs(cross).mean()) + 1e-12
    whitened = np.where((hertz >= BAND_HZ[0]) & (hertz <= BAND_HZ[1]), cross / (np.abs(cross) + floor), 0)
    return np.asarray(fft.irfft(whitened, size), float)


def _height(curve: NDArray[np.float64], offset_s: float, rate: int) -> float:
    """How high the curve is about a lag."""
    reach = round(APART_S * rate)
    return float(curve[(round(offset_s * rate) + np.arange(-reach, reach + 1)) % len(curve)].max())


def _agreeing(reference: NDArray[np.float32], take: NDArray[np.float32], place: Place, rate: int) -> bool:
    """Whether enough pieces of the reference that lie in the take, each by itself, find the place again."""
    reach, lag = round(AROUND_S * rate), round(place.offset_s * rate)
    first, last = max(0, -lag), min(len(reference), len(take) - lag)
    if last - first < LEAST_SHARE * min(len(reference), len(take)):
        return False
    length, around = min(round(PIECE_S * rate), last - first), np.pad(take, reach)
    found = []
    for start in range(first, last - length + 1, length):
        heard = around[start + lag : start + lag + length + 2 * reach]
        curve = _correlated(reference[start : start + length], heard, rate)[: 2 * reach]
        found.append(abs(int(curve.argmax()) - reach) <= AGREES_S * rate)
    return float(np.mean(found)) >= LEAST_AGREEING


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
