"""Which part of the picture a dancer takes up: what of it has to be shown so that nothing of the dance is cut off."""

from dataclasses import dataclass

import numpy as np

from juxtakine.core.movement.tracks import Floats, Track

CLEAR = 0.5
"""Visibility from which on a landmark counts."""
SHARE = 2.0
"""Per cent of the frames that may reach out at each side: spikes of the estimator's do."""
ABOVE, AROUND = 0.08, 0.03
"""The crown is so far above the eyes, and fingers and shoes reach so far beyond their landmarks, as shares of how high
the part with the landmarks is."""


@dataclass(frozen=True)
class Frame:
    """Edges as shares of the upright picture: x from its left, y from its top, 0 to 1."""

    left: float
    top: float
    right: float
    bottom: float


WHOLE = Frame(0.0, 0.0, 1.0, 1.0)


def frame_of(track: Track, from_s: float, to_s: float) -> Frame:
    """Around the dancer wherever they are between two of the file's seconds; the whole picture where they are not seen
    in them."""
    clear = (track.visibility >= CLEAR) & track.found[:, None]
    inside = (track.seconds >= from_s) & (track.seconds <= to_s) & clear.any(1)
    if not inside.any():
        return WHOLE
    seen = np.where(clear[..., None], track.image, np.nan)[inside]
    x, y = (_ends(seen[..., axis]) for axis in (0, 1))
    high = y[1] - y[0]
    edges = np.array([x[0] - AROUND * high, y[0] - ABOVE * high]), np.array([x[1], y[1]]) + AROUND * high
    (left, top), (right, bottom) = (np.clip(edge / [track.width, track.height], 0, 1).tolist() for edge in edges)
    return Frame(left, top, right, bottom)


def _ends(of: Floats) -> tuple[float, float]:
    """Between which (n, 33) coordinates nearly always are."""
    return float(np.percentile(np.nanmin(of, 1), SHARE)), float(np.percentile(np.nanmax(of, 1), 100 - SHARE))
