"""The least path through states over time (Viterbi): what several rooms of the core look for."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def least_path(change: Floats, unlikely: Floats) -> list[int]:
    """The state at each of n steps, by costs (s, s, n - 1) or (s, s) from one to the next and (s, n) of being there."""
    steps = unlikely.shape[1]
    changes = np.moveaxis(change, 2, 0) if change.ndim == 3 else [change] * (steps - 1)
    total, came = unlikely[:, 0], []
    for costs, more in zip(changes, unlikely.T[1:], strict=True):
        ways = total[:, None] + costs
        came.append(ways.argmin(0))
        total = ways.min(0) + more
    path = [int(total.argmin())]
    for back in reversed(came):
        path.append(int(back[path[-1]]))
    return path[::-1]
