"""Common time: where a take's clock stands against the reference's, from the music that both recorded.

The method is the generalised cross-correlation with phase transform (Knapp and Carter, 1976): every frequency counts
alike, so that echoes, loudness and a periodic beat do not move the peak. Its lag is exact to a sample or so; how sure
it is comes from how far the best peak stands above the next one elsewhere.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import fft
from scipy.special import expit

BAND_HZ = (80.0, 3500.0)
APART_S = 0.03
"""A second peak nearer than this belongs to the first."""


@dataclass(frozen=True)
class SoundMatch:
    """`offset_s`: time in the take minus time in the reference of the same music; `certainty` 0 to 1."""

    offset_s: float
    certainty: float
    peak_ratio: float


def match_sounds(reference: NDArray[np.float32], take: NDArray[np.float32], rate: int) -> SoundMatch:
    """Both (n,) mono samples at `rate`, each from its clip's own start; same tempo."""
    size = fft.next_fast_len(len(reference) + len(take), real=True)
    a, b = (fft.rfft(np.asarray(sound, np.float32), size) for sound in (reference, take))
    cross = b * np.conj(a)
    hertz = fft.rfftfreq(size, 1 / rate)
    floor = 1e-3 * float(np.abs(cross).mean()) + 1e-12
    whitened = np.where((hertz >= BAND_HZ[0]) & (hertz <= BAND_HZ[1]), cross / (np.abs(cross) + floor), 0)
    curve = fft.irfft(whitened, size)
    lags = np.concatenate([np.arange(len(take)), np.arange(-len(reference) + 1, 0)])
    values = curve[lags]
    best = int(values.argmax())
    far = np.abs(lags - lags[best]) > APART_S * rate
    second = float(np.abs(values[far]).max(initial=1e-12))
    ratio = float(values[best]) / second
    return SoundMatch((lags[best] + _between(curve, int(lags[best]))) / rate, _certainty(ratio), ratio)


def _between(curve: NDArray[np.float64], at: int) -> float:
    """Where the top of the parabola through three samples lies, from the middle one."""
    a, b, c = (float(curve[(at + k) % len(curve)]) for k in (-1, 0, 1))
    bend = a - 2 * b + c
    return 0.0 if bend >= 0 else float(np.clip(0.5 * (a - c) / bend, -0.5, 0.5))


def _certainty(ratio: float) -> float:
    """From the peak ratio: even odds where nothing stands out (1), beyond doubt from about 2 on."""
    return float(expit(6 * (ratio - 1.3)))
