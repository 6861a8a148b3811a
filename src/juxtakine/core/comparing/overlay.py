"""A pattern laid over a longer recording at every offset, and how alike the two are there."""

import numpy as np
from numpy.typing import NDArray
from scipy import fft

from juxtakine.core.movement.tracks import Floats

LEAST_ENERGY = 0.2
"""Where the recording has less than this share of the pattern's energy, nothing is found."""


def likeness_by_offset(pattern: Floats, recording: Floats, least_share: float) -> tuple[NDArray[np.int64], Floats]:
    """(k,) offsets in steps, and the normalised cross-correlation (template matching) of (m, D) with (n, D) at each.

    At least `least_share` of the pattern's energy-bearing length lies inside the recording; what lies outside counts
    against the place.
    """
    m, n = len(pattern), len(recording)
    size = fft.next_fast_len(n + m, real=True)
    across = fft.irfft((fft.rfft(recording, size, axis=0) * np.conj(fft.rfft(pattern, size, axis=0))).sum(1), size)
    offsets = np.arange(-int((1 - least_share) * m), n - int(least_share * m))
    theirs, own = (np.concatenate([[0.0], np.cumsum((v**2).sum(1))]) for v in (recording, pattern))
    inside = theirs[np.clip(offsets + m, 0, n)] - theirs[np.clip(offsets, 0, n)]
    overlap = own[np.clip(n - offsets, 0, m)] - own[np.clip(-offsets, 0, m)]
    share = overlap / max(own[-1], 1e-9)
    likeness = across[offsets] / np.sqrt(np.maximum(inside * overlap, 1e-9)) * np.sqrt(share)
    return offsets, np.asarray(np.where(inside < LEAST_ENERGY * overlap, 0.0, likeness))
