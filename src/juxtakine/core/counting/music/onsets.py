"""What begins anew in a sound: spectral flux in three bands, and how a sound resembles itself some time later."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d, uniform_filter1d
from scipy.signal import ShortTimeFFT
from scipy.signal.windows import hann

Floats = NDArray[np.float64]

FRAMES_PER_S = 200
WINDOW_S = 0.032
BANDS_HZ = ((30.0, 180.0), (180.0, 1200.0), (1200.0, 3900.0))
BAND_WEIGHTS = (1.0, 1.0, 0.6)
LOUDNESS = 1000.0
"""Before the logarithm: from how soft on a sound counts."""
BLUR_S = 0.012


class NoBeat(ValueError):
    """Nothing comes evenly; the message says so."""


@dataclass(frozen=True)
class Flux:
    """(3, n) flux of the bands and (n, F) log spectra, `rate` a second (FRAMES_PER_S, or next to it)."""

    flux: Floats
    spectra: Floats
    rate: float

    @property
    def rises(self) -> Floats:
        return np.asarray(np.array(BAND_WEIGHTS) @ self.flux)

    @property
    def smooth(self) -> Floats:
        """The rises, blurred by as much as players differ."""
        return np.asarray(gaussian_filter1d(self.rises, BLUR_S * FRAMES_PER_S))

    def between(self, first: int, after: int) -> "Flux":
        """What is heard from one frame to another."""
        return replace(self, flux=self.flux[:, first:after], spectra=self.spectra[first:after])


def hear(samples: Floats, rate: int) -> Flux:
    """Of (n,) mono samples."""
    size = round(WINDOW_S * rate)
    hop = round(rate / FRAMES_PER_S)
    transform = ShortTimeFFT(hann(size), hop, rate, fft_mode="onesided", mfft=4 * size)
    power = np.abs(transform.stft(samples, p0=0, p1=len(samples) // hop))
    level = np.percentile(power.sum(0), 90) or 1.0
    spectra = np.log1p(LOUDNESS * power / level)
    hz = transform.f
    rise = np.maximum(0, np.diff(spectra, axis=1, prepend=spectra[:, :1]))
    bands = np.array([rise[(hz >= low) & (hz < high)].mean(0) for low, high in BANDS_HZ])
    return Flux(np.array([_levelled(b) for b in bands]), spectra.T, rate / hop)


def _levelled(flux: Floats) -> Floats:
    """Above its neighbourhood, in its own spread: a soft passage speaks as a loud one does."""
    above = np.maximum(0, flux - uniform_filter1d(flux, FRAMES_PER_S // 2))
    spread = np.sqrt(uniform_filter1d(above**2, 8 * FRAMES_PER_S)) + 0.15 * float(above.std()) + 1e-9
    return np.asarray(np.minimum(above / spread, 6.0))


def autocorrelation(x: Floats) -> Floats:
    """(n,) normalised, of (n,) values, at each distance; even where less overlaps."""
    size = 1 << (2 * len(x)).bit_length()
    full = np.fft.irfft(np.abs(np.fft.rfft(x - x.mean(), size)) ** 2)[: len(x)]
    n = len(x) - np.arange(len(x))
    return np.asarray(full / max(full[0], 1e-12) * len(x) / np.maximum(n, 1))
