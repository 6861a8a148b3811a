"""How fast one stretch is against another, from how evenly its sound begins anew.

The autocorrelation of the onsets on a logarithmic axis of distances: another tempo is a shift along it. Where the
pattern within a bar is the same (slowed music) the shift is unique; of bare counts and clicks a half and a whole look
alike, and how much more or less the body moves decides.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter1d

from juxtakine.core.movement.tracks import Floats

NEAREST_S, FURTHEST_S = 0.22, 4.4
PER_OCTAVE = 48
SLOWEST, FASTEST = 0.4, 2.1
BLUR_S = 0.015
LEAST_S = 6.5
BEAT_S = (0.33, 1.0)
WAYS_BY_TEMPO = 0.7
"""A body that dances at another tempo moves by so much of the ratio's logarithm more: at two looks a second, short ways
are cut off."""
WAYS_WITHIN, WAYS_WEIGH = 0.25, 0.2
SAME_PATTERN = 0.96
"""So like are only two tempi of the same music: then the body says little."""
LEAST_LIKENESS = 0.2
SAME_MUSIC = 0.05
"""Octaves of tempo by which two stretches may differ and still be danced to the same music."""
_LAGS = np.geomspace(NEAREST_S, FURTHEST_S, round(np.log2(FURTHEST_S / NEAREST_S) * PER_OCTAVE) + 1)


@dataclass(frozen=True)
class Beat:
    """(k,) normalised autocorrelation of the onsets at the distances of a logarithmic axis."""

    likeness: Floats

    @property
    def bpm(self) -> float | None:
        """Beats a minute, within the usual; None where nothing comes at even distances."""
        inside = (BEAT_S[0] <= _LAGS) & (BEAT_S[1] >= _LAGS)
        doubled = np.interp(2 * _LAGS, _LAGS, self.likeness)
        told = np.where(inside, self.likeness + doubled, -1)
        best = int(told.argmax())
        return float(60 / _LAGS[best]) if self.likeness[best] >= LEAST_LIKENESS else None


def beat(rises: Floats, rate: int) -> Beat | None:
    """Of (n,) how much begins at each moment; None where it is too short or nothing begins."""
    if len(rises) < LEAST_S * rate:
        return None
    x = gaussian_filter1d(rises - rises.mean(), BLUR_S * rate)
    size = 1 << (2 * len(x)).bit_length()
    power = np.abs(np.fft.rfft(x, size)) ** 2
    full = np.fft.irfft(power)[: round(FURTHEST_S * rate) + 2]
    if full[0] <= 0:
        return None
    even = full / full[0] * len(x) / (len(x) - np.arange(len(full)))
    return Beat(np.interp(_LAGS * rate, np.arange(len(even)), even))


def ratio(one: Beat, other: Beat, ways: float) -> tuple[float, float]:
    """The tempo of `one` against that of `other`, and how like they are then, -1 to 1; `ways` is how much more the body
    moves in `one`."""
    best, at, told = -np.inf, 1.0, 0.0
    for shift in range(round(np.log2(SLOWEST) * PER_OCTAVE), round(np.log2(FASTEST) * PER_OCTAVE) + 1):
        tempo = 2 ** (shift / PER_OCTAVE)
        # at a slower tempo the same pattern lies further out
        a, b = _overlap(one.likeness, other.likeness, -shift)
        like = float(np.corrcoef(a, b)[0, 1])
        moved = (np.log(max(ways, 0.05)) - WAYS_BY_TEMPO * np.log(tempo)) / WAYS_WITHIN
        merit = like - WAYS_WEIGH * moved**2 * (1.0 if like < SAME_PATTERN else 0.2)
        if merit > best:
            best, at, told = merit, tempo, like
    return at, told


def kinds_of_music(bpm: Sequence[float]) -> int:
    """How many tempi there are that are neither the same nor a half or a double of each other."""
    found: list[float] = []
    for one in bpm:
        octaves = np.log2([one / other for other in found])
        if all(np.abs(octaves - np.rint(octaves)) > SAME_MUSIC):
            found.append(one)
    return len(found)


def _overlap(one: Floats, other: Floats, later: int) -> tuple[Floats, Floats]:
    n = len(one) - abs(later)
    return (one[later:][:n], other[:n]) if later >= 0 else (one[:n], other[-later:][:n])
