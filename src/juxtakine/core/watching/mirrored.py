"""Whether the instructor dances mirrored on purpose, as far as one clip and its sheet tell.

Who is seen from the back turns the same way as the student: their left is the student's. Where a cue says left or
right, the side that moves on that count agrees with it or does not. And another clip of the same dance, whose sides are
known, is danced alike or as its mirror image. Without any of these there is no evidence, and none is made up.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import expit, logit

from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet, SheetCount, expand
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.features import LIMBS, Features

BACK_DEG, BACK_SHARE, BACK_ODDS = 120.0, 0.7, 3.0
"""Turned away so far, for so much of what is seen, is from the back; log odds that it is then not mirrored."""
CUE_ODDS = 1.3
"""Log odds of one cue whose side alone moves."""
ENOUGH = 1.5
"""Log odds below which nothing is proposed."""
LEFT, RIGHT = re.compile(r"\b(left|l)\b", re.I), re.compile(r"\b(right|r)\b", re.I)
ARMS = re.compile(r"arm|hand|elbow|reach|wave|point", re.I)
LEGS = re.compile(r"step|side|fwd|forward|back|cross|close|rock|foot|kick|heel|toe|walk|tap|leg|knee", re.I)
TURNS = re.compile(r"turn|spin|pivot|eighth|quarter|half|full", re.I)
"""Where these stand, the side is that to which one turns."""
CLEAR = 0.2
"""From which share on that one side moves more it is a vote."""
STEPS, BEFORE = 8, 0.8
"""Samples of the way that leads to a count, and how many counts it takes."""
ARM_PARTS = (Part.LEFT_UPPER_ARM, Part.LEFT_FOREARM), (Part.RIGHT_UPPER_ARM, Part.RIGHT_FOREARM)
LEG_PARTS = (Part.LEFT_THIGH, Part.LEFT_SHIN), (Part.RIGHT_THIGH, Part.RIGHT_SHIN)


@dataclass(frozen=True)
class Sides:
    """`mirrored` is None where nothing tells; `why` is a sentence."""

    mirrored: bool | None
    certainty: float
    why: str


@dataclass(frozen=True)
class Beside:
    """Another clip of the same dance, its picture not flipped: how likely its dancer is mirrored, and why; and how
    likely the two movements are mirror images of each other."""

    mirrored: float
    why: str
    images: float

    @property
    def chance(self) -> float:
        """That the clip beside it is danced mirrored: one of the two is, if either is."""
        return self.mirrored * (1 - self.images) + (1 - self.mirrored) * self.images


def sides(
    reference: Features, sheet: Sheet | None = None, grid: Grid | None = None, beside: Sequence[Beside] = ()
) -> Sides:
    """Of a clip whose picture is not flipped, with the counts' cues where they are written and placed."""
    seen = np.abs((reference.facing[np.isfinite(reference.facing)] + 180) % 360 - 180)
    back = bool(len(seen)) and float((seen > BACK_DEG).mean()) >= BACK_SHARE
    agreeing = _agreeing(reference, sheet, grid) if sheet and grid else []
    odds = BACK_ODDS * back + CUE_ODDS * float(sum(agreeing)) - float(sum(logit(b.chance) for b in beside))
    if abs(odds) < ENOUGH:
        return Sides(None, 0.5, "Nothing in the clip tells whether the instructor's left is yours.")
    mirrored = odds < 0
    reasons = ["seen from the back"] if back and not mirrored else []
    votes = [a < 0 for a in agreeing if abs(a) > CLEAR]
    if mirrored in votes:
        side = "the other side" if mirrored else "that side"
        reasons.append(f"where a cue names a side, {side} moves ({votes.count(mirrored)} of {len(votes)})")
    for other in beside:
        if (other.chance > 0.5) is mirrored:
            side = "the other side" if other.images > 0.5 else "the same side"
            reasons.append(f"in another of their clips, {other.why}, {side} moves")
    return Sides(mirrored, float(min(0.99, expit(abs(odds)))), ", and ".join(reasons))


def _agreeing(reference: Features, sheet: Sheet, grid: Grid) -> list[float]:
    """Of each count whose cue names one side: 1 where that side alone moves, -1 where the other one does."""
    return [_agrees(reference, c, grid) for c in expand(sheet) if _names_one_side(c.cue)]


def _names_one_side(cue: str) -> bool:
    return bool(LEFT.search(cue)) != bool(RIGHT.search(cue)) and not TURNS.search(cue)


def _agrees(reference: Features, count: SheetCount, grid: Grid) -> float:
    parts = LEG_PARTS if LEGS.search(count.cue) else ARM_PARTS if ARMS.search(count.cue) else _both()
    moments = grid.seconds(float(count.at) - BEFORE * np.linspace(1, 0, STEPS))
    vectors = reference.at(moments).vectors[..., :2]
    left, right = (_way(vectors[:, [LIMBS.index(p) for p in side]]) for side in parts)
    if not np.isfinite(left + right) or left + right < 0.1:
        return 0.0
    return float((left - right) / (left + right)) * (1 if LEFT.search(count.cue) else -1)


def _both() -> tuple[tuple[Part, ...], tuple[Part, ...]]:
    return ARM_PARTS[0] + LEG_PARTS[0], ARM_PARTS[1] + LEG_PARTS[1]


def _way(vectors: np.ndarray) -> float:
    """How far these segments go, in their own lengths."""
    return float(np.linalg.norm(np.diff(vectors, axis=0), axis=2).sum(0).mean())
