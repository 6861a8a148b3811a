"""Sides: whether the two movements are mirror images of each other, and whose is turned back.

A flipped picture and an instructor who dances mirrored on purpose look alike to movement alone. Both ways are fitted,
each with its own rotation between the cameras, and the one that leaves less difference is believed as far as it is
better.
"""

from dataclasses import dataclass

import numpy as np
from scipy.special import expit

from juxtakine.core.comparing.aligning.view import View, build
from juxtakine.core.comparing.results import Mirror, Whose
from juxtakine.core.counting.grids import Grid
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.features import LIMBS, Features
from juxtakine.core.movement.tracks import Floats

MIRROR_STEEPNESS = 14.0
"""How fast certainty grows with the logarithm of the two unlikenesses' ratio."""
AROUND_S = np.arange(-3, 4) / 20
LIMB_ROWS = [i for i, part in enumerate(LIMBS) if part not in (Part.HEAD, Part.TORSO)]
IN_COMMON = 4
"""So many limbs have to be seen in both: of two who stand sideways, one of them in the mirror, it may be none."""
SAME_SIDES = 0.07
"""What is left between a dance and its own mirror image where both sides do the same: of made-up ones 0.03 to 0.06 from
the front, and 0.09 and more of those that are not."""
TOLD = 0.9
"""Certainty below which nothing is said: the movement is as good as the same on both sides."""


@dataclass(frozen=True)
class KnownSides:
    """What is known of the two clips; None is left to the movement. `reference`: its left is the student's right, as it
    is danced mirrored or its picture flipped. `take`: its picture is flipped."""

    reference: bool | None = None
    take: bool | None = None


UNSAID = KnownSides()
"""All is left to the movement."""


def turned_back(
    sides: KnownSides, reference: Features, take: Features, reference_grid: Grid, take_grid: Grid, counts: Floats
) -> tuple[View, Mirror]:
    """The view of both movements with the student's own sides, and what is told of the mirror."""
    images, certainty, views = None, 1.0, None
    asked = sides.reference is None or sides.take is None
    if asked:
        views = _both_ways(reference, take, reference_grid, take_grid, counts)
        images, certainty = _told(views, counts)
    other, flipped = _settled(sides, images)
    untold = asked and images is None and other == flipped
    turned = frozenset(w for w, is_turned in ((Whose.REFERENCE, other), (Whose.TAKE, flipped)) if is_turned)
    mirror = Mirror(None if untold else other != flipped, turned, certainty)
    if views and not other:
        return views[flipped], mirror
    own = reference.mirrored if other else reference, take.mirrored if flipped else take
    return build(*own, reference_grid, take_grid, counts), mirror


def _settled(sides: KnownSides, images: bool | None) -> tuple[bool, bool]:
    """Whether the reference, and whether the take, has to be turned: from what is known and from whether the two are
    mirror images. What nothing tells has the student's own sides, the reference before the take."""
    other, flipped = sides.reference, sides.take
    if other is not None and flipped is not None:
        return other, flipped
    if other is None and flipped is not None:
        return images is not None and images != flipped, flipped
    other = bool(other)
    return other, images is not None and images != other


def mirror_images(
    reference: Features, take: Features, reference_grid: Grid, take_grid: Grid, counts: Floats
) -> tuple[bool | None, float]:
    """Whether they are, and how surely (0.5 to 1); None where it can't be told."""
    return _told(_both_ways(reference, take, reference_grid, take_grid, counts), counts)


def _both_ways(
    reference: Features, take: Features, reference_grid: Grid, take_grid: Grid, counts: Floats
) -> tuple[View, View]:
    """The take as it is, and flipped."""
    return (
        build(reference, take, reference_grid, take_grid, counts),
        build(reference, take.mirrored, reference_grid, take_grid, counts),
    )


def _told(views: tuple[View, View], counts: Floats) -> tuple[bool | None, float]:
    """As `mirror_images`."""
    same, other = views
    chance = float(expit(MIRROR_STEEPNESS * np.log((same.unlikeness + 1e-6) / (other.unlikeness + 1e-6))))
    certainty = max(chance, 1 - chance)
    if certainty < TOLD:
        return None, certainty
    if chance > 0.5 and _same_on_both_sides(same.reference, same.reference_grid, counts):
        return None, 0.5
    return chance > 0.5, certainty


def _same_on_both_sides(danced: Features, grid: Grid, counts: Floats) -> bool:
    """From another place one of two that are hardly different may well fit better."""
    return build(danced, danced.mirrored, grid, grid, counts).unlikeness < SAME_SIDES


def unlikeness_by_count(view: View, counts: Floats, lag_s: float) -> tuple[Floats, Floats]:
    """(k,) mean degrees between the limbs of the take and of the reference, and of its mirror image; NaN where too few
    are seen in both.

    At the best of some moments around each count, as the other side is seldom danced at quite the same time.
    """
    seconds = view.take_grid.seconds(counts)[:, None] + lag_s + AROUND_S
    take = view.take.at(seconds.ravel()).vectors[:, LIMB_ROWS, :2].reshape(*seconds.shape, len(LIMB_ROWS), 2)
    reference = view.reference.at(view.reference_grid.seconds(counts))
    out = []
    for side in (reference, reference.mirrored):
        turned = view.turn.apply(side.vectors[:, LIMB_ROWS].reshape(-1, 3)).reshape(len(counts), -1, 3)[..., :2]
        away = np.linalg.norm(take - turned[:, None], axis=3)
        known = np.isfinite(away)
        mean = np.where(known, away, 0).sum(2) / np.maximum(known.sum(2), 1)
        out.append(np.degrees(np.fmin.reduce(np.where(known.sum(2) >= IN_COMMON, mean, np.nan), axis=1)))
    return out[0], out[1]
