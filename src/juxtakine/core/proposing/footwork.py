"""Footwork: which foot acts on each arrival, how, and whether it takes the weight, as far as the ankles tell.

Units: leg lengths in the picture. Sides are the dancer's own.
"""

from dataclasses import dataclass

import numpy as np
from scipy.special import expit

from juxtakine.core.counting.sheets import Foot
from juxtakine.core.movement.body import Landmark
from juxtakine.core.movement.cleaning import RATE, Movement
from juxtakine.core.movement.nearness import nearness
from juxtakine.core.movement.tracks import Floats

MOVED, SOFT = 0.11, 0.025
"""A foot acts that gets so far from where it was."""
MORE = 1.7
"""Of two that move, times as far as the other one that a foot has to move to be the one that acts."""
LIFTED = 0.2
"""A foot so much higher than the other one is in the air: a kick, or a knee."""
STRAIGHT = 0.55
"""Share of the leg's length that a kicking foot is away from its hip at least, of the side that is seen."""
WIDE, NARROW, CROSSED = 0.34, 0.2, -0.04
"""How far apart feet are that stand wide, beside each other, and crossed."""
NEARER = 0.07
"""A foot so much lower in the picture than the other is nearer to the camera."""
TO_THE_FRONT = 50.0
"""Degrees from the camera, or from its back, within which the picture tells side from front."""


@dataclass(frozen=True)
class FootPaths:
    """(n,) seconds; (n, 2, 2) ankles and (n, 2, 2) hips, left and right, NaN where not seen."""

    seconds: Floats
    ankles: Floats
    hips: Floats

    @property
    def mirrored(self) -> "FootPaths":
        """The same movement as a flipped picture shows it."""
        return FootPaths(self.seconds, self.ankles[:, ::-1] * [-1, 1], self.hips[:, ::-1] * [-1, 1])


@dataclass(frozen=True)
class Act:
    """What a foot does: a word of our list, whether it takes the weight (None: that can't be told), and how surely."""

    foot: Foot
    word: str
    weight: bool | None
    certainty: float

    @property
    def cue(self) -> str:
        return self.word if self.word == "close" else f"{self.word} {'R' if self.foot is Foot.RIGHT else 'L'}"


def feet_of(movement: Movement) -> FootPaths:
    near = nearness(movement.image, movement.world)[:, None, None]
    image = movement.image / near
    marks = [[Landmark[f"{s}_{j}"] for s in ("LEFT", "RIGHT")] for j in ("HIP", "KNEE", "ANKLE")]
    hips, knees, ankles = (image[:, m] for m in marks)
    legs = np.linalg.norm(knees - hips, axis=2) + np.linalg.norm(ankles - knees, axis=2)
    known = legs[np.isfinite(legs)]
    leg = float(np.percentile(known, 95)) if len(known) else np.nan
    # where somebody travels counts as it is seen, not as if the camera went along
    at, joints = movement.image / leg, (marks[2], marks[0])
    return FootPaths(movement.seconds, *(at[:, m] / float(np.nanmedian(near)) for m in joints))


def acts(feet: FootPaths, arrivals_s: Floats, facing_deg: Floats) -> list[Act | None]:
    """What the feet do on each arrival (m,), faced at these angles (m,) from the camera; None where that is nothing, or
    both, or can't be told."""
    begins = np.concatenate([arrivals_s[:1] - 1.0, arrivals_s[:-1]])
    told = [_act(feet, b, a, f) for b, a, f in zip(begins, arrivals_s, facing_deg, strict=True)]
    after = [next((t[0] for t in told[i + 1 :] if t), None) for i in range(len(told))]
    return [_whole(*t, nxt) if t else None for t, nxt in zip(told, after, strict=True)]


def _whole(foot: Foot, word: str, certainty: float, after: Foot | None) -> Act | None:
    """The foot that acts next was free: the weight was on the other one."""
    if foot is Foot.BOTH:
        return None
    in_the_air = word in ("kick", "knee")
    if after in (None, Foot.BOTH):
        return Act(foot, word, False if in_the_air else None, certainty)
    takes = after is not foot and not in_the_air
    return Act(foot, "touch" if not takes and word in ("step", "close") else word, takes, certainty)


def _act(feet: FootPaths, begin: float, end: float, facing: float) -> tuple[Foot, str, float] | None:
    """The foot that acts (both: which one can't be told), a word, and how surely; None where neither does."""
    rows = np.rint((np.linspace(begin, end, 8) - feet.seconds[0]) * RATE).astype(int)
    rows = rows[(rows >= 0) & (rows < len(feet.seconds))]
    if len(rows) < 4:
        return None
    way = feet.ankles[rows]
    far = np.nanmax(np.linalg.norm(way - way[0], axis=2), axis=0, initial=0.0)
    if not np.isfinite(way[[0, -1]]).all() or not np.isfinite(far).all() or far.max() < MOVED:
        return None
    acting = int(far.argmax())
    if far[acting] < MORE * far[1 - acting]:
        return Foot.BOTH, "", 0.0
    sure = float(expit((far[acting] - MOVED) / SOFT) * expit(4 * (far[acting] / max(far[1 - acting], 0.02) - MORE) + 1))
    foot = (Foot.LEFT, Foot.RIGHT)[acting]
    return foot, _word(way[0], way[-1], feet.hips[rows[-1]], acting, facing), sure


def _word(before: Floats, after: Floats, hips: Floats, acting: int, facing: float) -> str:
    """`before` and `after` (2, 2) ankles."""
    own, other = after[acting], after[1 - acting]
    if other[1] - own[1] > LIFTED:
        return "kick" if np.linalg.norm(own - hips[acting]) > STRAIGHT else "knee"
    away = abs((facing + 180) % 360 - 180) if np.isfinite(facing) else 90.0
    if min(away, 180 - away) > TO_THE_FRONT:
        return "step"
    front = 1 if away < 90 else -1
    apart, was = (front * float(a[0, 0] - a[1, 0]) for a in (after, before))
    if apart < CROSSED:
        return "cross"
    nearer = front * float(own[1] - other[1])
    if abs(nearer) > NEARER:
        return "fwd" if nearer > 0 else "back"
    if apart > WIDE and apart > was:
        return "side"
    return "close" if apart < NARROW and was > apart + 0.08 else "step"
