"""A pattern laid over a longer recording at every offset, and how alike the two are there."""

import numpy as np
from numpy.typing import NDArray
from scipy import fft

from juxtakine.core.movement.tracks import Floats

LEAST_ENERGY = 0.2
"""Where the recording has less than this share of the pattern's energy, nothing is found."""


def likeness_by_offset(pattern: Floats, recording: Floats, least_share: float) -> tuple[NDArray[np.int64], Floats]:
    """(k,) offsets in steps, and the normalised cross-correlation (template matching) of (m, D) with (n, D) at each;
    (..., k) of as many patterns (..., m, D).

    At least `least_share` of the pattern's energy-bearing length lies inside the recording; what lies outside counts
    against the place.
    """
    m, n = pattern.shape[-2], len(recording)
    size = fft.next_fast_len(n + m, real=True)
    seen, sought = (fft.rfft(v.astype(np.float32), size, axis=-2) for v in (recording, pattern))
    across = fft.irfft((seen * np.conj(sought)).sum(-1), size)
    offsets = np.arange(-int((1 - least_share) * m), n - int(least_share * m))
    theirs, own = (_up_to(v) for v in (recording, pattern))
    inside = theirs[np.clip(offsets + m, 0, n)] - theirs[np.clip(offsets, 0, n)]
    overlap = own[..., np.clip(n - offsets, 0, m)] - own[..., np.clip(-offsets, 0, m)]
    share = overlap / np.maximum(own[..., -1:], 1e-9)
    likeness = across[..., offsets] / np.sqrt(np.maximum(inside * overlap, 1e-9)) * np.sqrt(share)
    return offsets, np.asarray(np.where(inside < LEAST_ENERGY * overlap, 0.0, likeness))


def _up_to(values: Floats) -> Floats:
    """(..., n + 1) the energy of (..., n, D) up to each step."""
    energy = np.asarray((values**2).sum(-1), float)
    return np.concatenate([np.zeros((*energy.shape[:-1], 1)), energy.cumsum(-1)], axis=-1)
