"""Common time from music that was slowed or quickened with its pitch kept: what begins when is still the same.

Waves no longer match then, onsets do: how fast the energy of each of a number of bands rises (spectral flux, as in
beat tracking). The reference's are laid over the take's at every tempo and place, coarsely; from the best few of these
a straight line through the lags of short pieces (Theil and Sen) gives place and tempo to a few milliseconds.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy import fft
from scipy.ndimage import gaussian_filter1d
from scipy.stats import theilslopes

from juxtakine.core.comparing.aligning.overlay import likeness_by_offset
from juxtakine.core.movement.tracks import Floats

FINE_RATE, COARSE_RATE = 200, 25
WINDOW_S = 0.048
BANDS, BAND_HZ = 14, (90.0, 3800.0)
TEMPI = np.geomspace(0.38, 1.2, 320)
COARSE_BLUR_S, FINE_BLUR_S = 0.06, 0.02
LEAST_SHARE = 0.3
"""How much of the reference's sound has to lie inside the take."""
APART_S = 0.12
"""Places nearer than this are one."""
CANDIDATES = 5
PIECE_S, REACH_S = 4.0, (0.25, 0.1, 0.06)
"""Length of the pieces whose lags make the line, and how far they are looked for, in three rounds."""
AGREES_S, NEARLY_ALL = 0.02, 0.85
"""A piece agrees whose own lag is so small, and so many of them must: of slowed music all do (in 92 made-up takes, in
rooms), of a count-in with silence after it those with clicks, and of talk there may be one piece in which it fits."""
COUNTS_AWAY = (-2, -1, 1, 2)
OTHER_COUNTS = 0.86
"""Where so many counts away fits nearly as well, it is beats that are heard, and not the music."""
LEAST_PIECES = 3
"""From which on their lags make a line; fewer give the place alone, and do not tell that it is the music."""


@dataclass(frozen=True)
class Place:
    """Where the reference's sound lies in the take: take = `offset_s` + reference / `tempo`, both from their own start;
    `likeness` is the normalised correlation there, -1 to 1."""

    offset_s: float
    tempo: float
    likeness: float

    def apart(self, other: "Place", lasts_s: float) -> float:
        """Seconds between the middles of the sound (`lasts_s` long) in both places."""
        half = lasts_s / 2
        return abs(self.offset_s + half / self.tempo - other.offset_s - half / other.tempo)


@dataclass(frozen=True)
class Onsets:
    """What begins when in the reference and in the take, as `onsets` tells it."""

    shown: Floats
    heard: Floats

    @staticmethod
    def of(reference: NDArray[np.float32], take: NDArray[np.float32], rate: int) -> "Onsets":
        """Of (n,) mono samples at `rate`."""
        return Onsets(onsets(reference, rate), onsets(take, rate))

    def is_music(self, place: Place, count_s: float) -> bool:
        """Whether most of the reference agrees with a place, and a count of its own more or less does not."""
        lags = np.array([lag for _, lag in _lags(self.shown, self.heard, place, REACH_S[0])])
        agreeing = len(lags) >= LEAST_PIECES and float(np.mean(np.abs(lags) <= AGREES_S)) >= NEARLY_ALL
        away = (replace(place, offset_s=place.offset_s + k * count_s / place.tempo) for k in COUNTS_AWAY)
        others = max(_likeness(self.shown, self.heard, other) for other in away)
        return agreeing and others <= OTHER_COUNTS * place.likeness


def places_of(both: Onsets) -> list[Place]:
    """The few likeliest places, best first; none where one sound is shorter than a piece."""
    shown, heard = both.shown, both.heard
    if min(len(shown), len(heard)) < PIECE_S * FINE_RATE:
        return []
    lasts_s = len(shown) / FINE_RATE
    found: list[Place] = []
    for place in sorted(_coarse(shown, heard), key=lambda p: -p.likeness):
        if all(place.apart(p, lasts_s) > APART_S or abs(np.log(place.tempo / p.tempo)) > 0.02 for p in found):
            found.append(place)
        if len(found) == CANDIDATES:
            break
    finer = sorted((_finer(shown, heard, p) for p in found), key=lambda p: -p.likeness)
    return [p for i, p in enumerate(finer) if all(p.apart(q, lasts_s) > APART_S for q in finer[:i])]


def onsets(samples: NDArray[np.float32], rate: int) -> Floats:
    """(n, BANDS) at FINE_RATE: how fast each band's level rises, each in its own usual size."""
    step, width = rate // FINE_RATE, int(WINDOW_S * rate)
    padded = np.pad(np.asarray(samples, np.float32), (width // 2, width))
    frames = np.lib.stride_tricks.sliding_window_view(padded, width)[: len(samples) : step]
    power = np.abs(fft.rfft(frames * np.hanning(width).astype(np.float32), axis=1)) ** 2
    edges = np.geomspace(*BAND_HZ, BANDS + 1)
    hertz = fft.rfftfreq(width, 1 / rate)
    inside = (hertz[:, None] >= edges[:-1]) & (hertz[:, None] < edges[1:])
    energy = power @ inside.astype(np.float32)
    level = np.log(energy + 1e-3 * energy.mean(0) + 1e-12)
    rise = np.clip(np.gradient(gaussian_filter1d(level, FINE_BLUR_S * FINE_RATE / 2, axis=0), axis=0), 0, None)
    return np.asarray(rise / (rise.std(0) + 1e-9), float)


def _coarse(shown: Floats, heard: Floats) -> Iterator[Place]:
    """The best few places at each tempo."""
    every = FINE_RATE // COARSE_RATE
    blur = COARSE_BLUR_S * FINE_RATE
    slow = np.asarray(_level(gaussian_filter1d(heard, blur, axis=0))[::every], float)
    soft = _level(gaussian_filter1d(shown, blur, axis=0))
    for tempo in TEMPI:
        steps = int(len(shown) / FINE_RATE / tempo * COARSE_RATE)
        pattern = _between(soft, np.arange(steps) * (tempo * every))
        offsets, likeness = likeness_by_offset(pattern, slow, LEAST_SHARE)
        for _ in range(2):
            i = int(likeness.argmax())
            yield Place(float(offsets[i]) / COARSE_RATE, float(tempo), float(likeness[i]))
            likeness[max(0, i - 4) : i + 5] = -1


def _finer(shown: Floats, heard: Floats, place: Place) -> Place:
    """The same place after the line through its pieces' lags was taken out, thrice."""
    for reach in REACH_S:
        at, lag = np.array(list(_lags(shown, heard, place, reach))).reshape(-1, 2).T
        found = np.isfinite(lag)
        if not found.any():
            return replace(place, likeness=0.0)
        at, lag = at[found], lag[found]
        slope, height = 0.0, float(np.median(lag))
        if len(lag) >= LEAST_PIECES:
            slope, height, _, _ = (float(v) for v in theilslopes(lag, at))
        place = replace(place, offset_s=place.offset_s + height, tempo=1 / (1 / place.tempo + slope))
    return replace(place, likeness=_likeness(shown, heard, place))


def _lags(shown: Floats, heard: Floats, place: Place, reach: float) -> Iterator[tuple[float, float]]:
    """Of each piece of the reference that lies in the take: seconds of its middle, and by how much it comes later; NaN
    where it is not found so near."""
    length, widest = round(PIECE_S * FINE_RATE), round(reach * FINE_RATE)
    for start in range(0, len(shown) - length + 1, length):
        piece = _level(shown[start : start + length])
        rows = np.arange(start - widest, start + length + widest) / place.tempo + place.offset_s * FINE_RATE
        if rows[0] < 0 or rows[-1] > len(heard) - 1:
            continue
        around = np.lib.stride_tricks.sliding_window_view(_between(heard, rows), length, axis=0)
        curve = np.einsum("ldn,nd->l", around, piece)
        i = int(curve.argmax())
        inside = 0 < i < len(curve) - 1
        later = (i - widest + _top(curve, i)) / FINE_RATE / place.tempo if inside else float("nan")
        yield (start + length / 2) / FINE_RATE, later


def _top(curve: Floats, i: int) -> float:
    """Where the top of the parabola through three samples lies, from the middle one."""
    bend = curve[i - 1] - 2 * curve[i] + curve[i + 1]
    return 0.0 if bend >= 0 else float(0.5 * (curve[i - 1] - curve[i + 1]) / bend)


def _likeness(shown: Floats, heard: Floats, place: Place) -> float:
    rows = np.arange(len(shown)) / place.tempo + place.offset_s * FINE_RATE
    inside = (rows >= 0) & (rows <= len(heard) - 1)
    if inside.mean() < LEAST_SHARE:
        return 0.0
    a, b = _level(shown[inside]), _level(_between(heard, rows[inside]))
    alike = float((a * b).sum() / np.sqrt((a**2).sum() * (b**2).sum() + 1e-12))
    return alike * float(np.sqrt(inside.mean()))


def _level(values: Floats) -> Floats:
    return np.asarray(values - values.mean(0))


def _between(values: Floats, rows: Floats) -> Floats:
    """(k, D) rows of (n, D) at places between them."""
    low = np.clip(np.floor(rows), 0, len(values) - 2).astype(int)
    share = np.clip(rows - low, 0, 1)[:, None]
    return np.asarray(values[low] * (1 - share) + values[low + 1] * share)
