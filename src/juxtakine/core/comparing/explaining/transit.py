"""Passing: parts that are where the instructor's are on their way to a count, or away from it.

Who is late is not there yet on the count, and who comes early with the next one is no longer there; who comes late to
the count after an & is still where the instructor has left. All lie on the instructor's own path, and are the timing's
doing.
"""

import numpy as np

from juxtakine.core.comparing.aligning.view import View
from juxtakine.core.comparing.position.parts import SHOWN
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.features import LIMBS
from juxtakine.core.movement.tracks import Bools, Floats

PARTS = (*LIMBS, Part.LEVEL, Part.SPREAD)
"""Those that have a place in the picture, in the order of a view's channels."""
LEFT_OVER = 0.5
"""Who is late is looked at as much later. So much of the lag at most a single part is behind the others then."""
STEPS = 24
"""Of the path between two counts: an arm that goes round by half a circle is looked at every eight degrees."""


def passing(view: View, counts: Floats, lags_s: Floats, late: Floats, tolerances: Floats) -> tuple[Bools, Bools]:
    """(k, 12) by count and PARTS, whether the take's part, so many seconds late (k,), is within `tolerances` (k, 12), 0
    of those that are not asked for, of where the reference's is on its way to the count, and on from it.

    Of who is `late` by so many counts (k,), early where negative, there and on the next, no more of the way is asked
    than that explains; where it is NaN, as it is not known, a whole count of it. Never the head: where it looks is not
    told by where its nose is in the picture."""
    unknown = np.isnan(late)
    following, apart = np.r_[late[1:], 0], np.minimum(np.diff(counts), 1.0)
    waits = np.where((counts % 1 != 0) & (np.r_[apart, 1.0] < 1), following, 0)
    back = np.where(unknown, 1.0, np.fmax(LEFT_OVER * np.maximum(late, 0), waits))
    ahead = np.where(unknown, 1.0, np.fmax(np.maximum(late, 0), -following))
    ways = -np.minimum(np.r_[1.0, apart], back), np.minimum(np.r_[apart, 1.0], ahead)
    asked = tolerances.any(1)
    at, shown = counts[asked, None], view.take_channels(view.take_grid.seconds(counts[asked]) + lags_s[asked])
    share = np.arange(1, STEPS + 1) / STEPS
    to, on = np.zeros(tolerances.shape, bool), np.zeros(tolerances.shape, bool)
    for told, way in zip((to, on), ways, strict=True):
        path = view.reference_channels(at + way[asked, None] * share)
        told[asked] = _nearest(path, shown) <= tolerances[asked]
    return to, on


def _nearest(path: Floats, shown: Floats) -> Floats:
    """(k, 12) how far what is shown (k, D) is from the nearest place of a path (k, s, D), in the parts' units."""
    n = len(LIMBS)
    apart = path - shown[:, None]
    chords = np.linalg.norm(apart[..., : 2 * n].reshape(*apart.shape[:2], n, 2), axis=3)
    chords[..., LIMBS.index(Part.HEAD)] = np.inf
    turned = np.degrees(2 * np.arcsin(np.minimum(chords / 2, 1))) / SHOWN
    away = np.concatenate([turned, np.abs(apart[..., 2 * n :])], axis=2)
    return np.asarray(np.where(np.isfinite(away), away, np.inf).min(1))
