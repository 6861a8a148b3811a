"""What is heard at each step of a clip: a voice, music, or neither.

A voice comes from a network of its own (media/voice.py). Music is what still sounds where nobody speaks, well above
the clip's own quiet, or with a beat of its own: the level between syllables (after Scheirer and Slaney, 1997, whose
"low energy" tells speech by its gaps) and the periodicity of the onsets.
Conventions: a row per step of STEP_S seconds from the clip's beginning on; levels in decibels.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import percentile_filter

from juxtakine.core.comparing.aligning.common_tempo import FINE_RATE, onsets
from juxtakine.core.movement.tracks import Floats
from juxtakine.core.watching.looks import STEP_S, calm

FRAME_S = 0.05
SPOKEN = 0.5
AROUND_S = 4.0
"""How much of the sound around a step is heard for it."""
QUIET_DB, CLEAR_DB = 6.0, 14.0
"""Above the clip's own quiet: below it is none, from there on it is clear that something sounds between the words."""
PULSE_S, PULSE_STEP_S = 6.0, 2.0
BEAT_S = (0.25, 1.2)
LEAST_PULSE, CLEAR_PULSE = 0.1, 0.3
SILENT = 1e-5


@dataclass(frozen=True)
class Hearing:
    """(n,) share of each step's surroundings in which a voice speaks, and how surely music sounds, both 0 to 1; (k,)
    how much begins at each moment, FINE_RATE a second."""

    voice: Floats
    music: Floats
    rises: Floats

    def between(self, start_s: float, end_s: float) -> Floats:
        """What begins from one second to another."""
        return self.rises[round(start_s * FINE_RATE) : round(end_s * FINE_RATE)]


def heard(samples: NDArray[np.float32] | None, rate: int, spoken: Floats | None, chunk_s: float, steps: int) -> Hearing:
    """Of mono samples at `rate` from the clip's beginning on (None: no sound), and the chance of a voice in each of its
    chunks of `chunk_s` seconds."""
    if samples is None or spoken is None or not len(samples) or float(np.abs(samples).max()) < SILENT:
        return Hearing(np.zeros(steps), np.zeros(steps), np.empty(0))
    level = _levels(samples, rate)
    at = np.minimum((np.arange(len(level)) * FRAME_S / chunk_s).astype(int), max(0, len(spoken) - 1))
    speaks = spoken[at] > SPOKEN if len(spoken) else np.zeros(len(level), bool)
    per_step = round(STEP_S / FRAME_S)
    between = _between(level, speaks, round(AROUND_S / FRAME_S))
    # the clip's own quiet is that of its quietest moments
    above = between - np.percentile(level, 3)
    sounding = np.clip((above - QUIET_DB) / (CLEAR_DB - QUIET_DB), 0, 1)
    rises = onsets(samples, rate).mean(1)
    beating = _beating(rises, steps)
    music = _stepped(sounding, per_step, steps) * (0.4 + 0.6 * beating)
    voice = calm(_stepped(speaks.astype(float), per_step, steps), AROUND_S / 2)
    return Hearing(voice, np.clip(calm(music, AROUND_S / 2), 0, 1), rises)


def _levels(samples: NDArray[np.float32], rate: int) -> Floats:
    """(k,) decibels of each frame."""
    size = round(FRAME_S * rate)
    whole = np.pad(samples, (0, -len(samples) % size)).reshape(-1, size).astype(float)
    return np.asarray(10 * np.log10((whole**2).mean(1) + SILENT**2))


def _between(level: Floats, speaks: NDArray[np.bool_], size: int) -> Floats:
    """(k,) the usual level around each frame while nobody speaks; where it is all speech, the level of its gaps."""
    silent = np.where(speaks, np.nan, level)
    filled = np.interp(np.arange(len(level)), np.flatnonzero(~speaks), silent[~speaks]) if (~speaks).any() else level
    gaps = percentile_filter(level, 15, size)
    often = percentile_filter(filled, 50, size)
    return np.asarray(np.where(speaks, np.minimum(gaps + 3, level), often))


def _stepped(values: Floats, per_step: int, steps: int) -> Floats:
    """(steps,) mean of the frames of each step; 0 beyond the sound's end."""
    out = np.zeros(steps * per_step)
    n = min(len(values), len(out))
    out[:n] = values[:n]
    return np.asarray(out.reshape(steps, per_step).mean(1))


def _beating(rises: Floats, steps: int) -> Floats:
    """(steps,) 0 to 1, how surely what begins comes at even distances."""
    size, hop = round(PULSE_S * FINE_RATE), round(PULSE_STEP_S * FINE_RATE)
    starts = range(0, max(1, len(rises) - size + 1), hop)
    told = [
        float(np.clip((_pulse(rises[s : s + size]) - LEAST_PULSE) / (CLEAR_PULSE - LEAST_PULSE), 0, 1)) for s in starts
    ]
    middles = (np.array(starts) + size / 2) / FINE_RATE
    return np.asarray(np.interp((np.arange(steps) + 0.5) * STEP_S, middles, told))


def _pulse(rises: Floats) -> float:
    """The highest normalised autocorrelation of what begins, at a beat's distance and at twice that."""
    x = rises - rises.mean()
    full = np.correlate(x, x, "full")[len(x) - 1 :]
    if full[0] <= 0:
        return 0.0
    norm = full / full[0] * len(x) / np.maximum(len(x) - np.arange(len(x)), 1)
    low, high = (round(s * FINE_RATE) for s in BEAT_S)
    lags = np.arange(low, min(high, len(x) // 3))
    if not len(lags):
        return 0.0
    return float(np.max(0.5 * (norm[lags] + norm[2 * lags])))
