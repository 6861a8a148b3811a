"""The least path through states over time (Viterbi): what several rooms of the core look for."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def least_path(change: Floats, unlikely: Floats) -> list[int]:
    """The state at each of n steps, by costs (s, s, n - 1) or (s, s) from one to the next and (s, n) of being there."""
    # (n - 1, s, s) from step to step, to and from: the least of each row is then looked for in what lies together
    costs = np.ascontiguousarray(change.T) if change.ndim == 3 else change.T
    total, came = unlikely[:, 0], []
    for ways in costs + unlikely.T[1:, :, None]:
        ways += total
        came.append(ways.argmin(1))
        total = np.minimum.reduce(ways, 1)
    path = [int(total.argmin())]
    for back in reversed(came):
        path.append(int(back[path[-1]]))
    return path[::-1]
