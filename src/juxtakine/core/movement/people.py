"""People in shot: who was sighted when and where, who is to be followed, and where that one then is.

Conventions: places as x, y in heights of the picture, upright, from its top left; sizes in the same.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.movement.tracks import Floats, Track

MOST_PEOPLE, KEY_POINTS, LOOKS = 6, 17, 4
BESIDE = 0.65
"""The size, as a share of the largest body's, of who may be taken for the dancer; not who looks on from the back."""
TRUNK = [5, 6, 11, 12]
"""Shoulders and hips among the key points."""


@dataclass(frozen=True)
class Sightings:
    """(n,) seconds; (n, MOST_PEOPLE, 17, 3) x, y, score; (n, MOST_PEOPLE, LOOKS, 3) colours of trunk, thighs, forearms
    and head, 0 to 1. NaN where nobody is."""

    seconds: Floats
    points: Floats
    looks: Floats

    @cached_property
    def places(self) -> Floats:
        """(n, MOST_PEOPLE, 2) the middle of each trunk."""
        return np.asarray(self.points[..., TRUNK, :2].mean(2))

    @cached_property
    def sizes(self) -> Floats:
        """(n, MOST_PEOPLE) trunk lengths; of who leans towards the camera, a share of the height."""
        shoulders, hips = self.points[..., TRUNK[:2], :2].mean(2), self.points[..., TRUNK[2:], :2].mean(2)
        tall = np.ptp(self.points[..., 1], axis=2)
        return np.asarray(np.maximum(np.linalg.norm(shoulders - hips, axis=2), 0.22 * tall))

    @property
    def several(self) -> bool:
        """Whether somebody else who may be taken for the dancer is in shot in half of the looks."""
        with np.errstate(invalid="ignore"):
            large = self.sizes > BESIDE * np.nanmax(np.where(np.isnan(self.sizes), 0, self.sizes), axis=1)[:, None]
        return bool((large.sum(1) > 1).mean() >= 0.5)


@dataclass(frozen=True)
class Click:
    """Somebody at a moment: a place on their trunk."""

    x: float
    y: float
    seconds: float

    def scaled(self, aspect: float) -> "Click":
        """From shares of the picture's width and height to heights alone."""
        return Click(self.x * aspect, self.y, self.seconds)


@dataclass(frozen=True)
class Question:
    """At a meeting that nothing settles: the moment, and a click on each of those who may be the one.

    They come out of the meeting or, `before` it, go into it.
    """

    seconds: float
    before: bool
    clicks: tuple[Click, ...]


@dataclass(frozen=True)
class Followed:
    """(n,) which of the sighted people is followed at each look, -1 where nobody is; what has to be asked."""

    who: NDArray[np.int64]
    questions: tuple[Question, ...]

    def lost(self, seconds: Floats) -> list[tuple[float, float]]:
        """From when to when nobody is followed, of the looks' seconds (n,)."""
        edges = np.flatnonzero(np.diff(np.concatenate([[0], (self.who < 0).astype(int), [0]])))
        last = len(seconds) - 1
        return [(float(seconds[a]), float(seconds[min(b, last)])) for a, b in zip(edges[::2], edges[1::2], strict=True)]


JOINTS = (((13, 14), (7, 8)), ((15, 16), (9, 10)), ((25, 26), (13, 14)), ((27, 28), (15, 16)))
"""Elbows, wrists, knees and ankles of both sides: among the landmarks, and among the key points."""
CLAIMED = 0.2
"""Trunk lengths from somebody else's joint within which it may be theirs that was taken for the dancer's."""
MARGIN = 0.2
"""How much larger than the key points' box the window round a body is, in its larger side."""


@dataclass(frozen=True)
class Guide:
    """Where the one who is followed is: a box that holds the body, the middle of the trunk and its length."""

    left: float
    top: float
    right: float
    bottom: float
    x: float
    y: float
    size: float


def guides(seen: Sightings, followed: Followed, seconds: Floats) -> list[Guide | None]:
    """At each of the moments (k,), between two looks at which the one was seen; None elsewhere."""
    looks = np.flatnonzero(followed.who >= 0)
    if not len(looks):
        return [None] * len(seconds)
    who = followed.who[looks]
    points, times = seen.points[looks, who, :, :2], seen.seconds[looks]
    rows = [*points.min(1).T, *points.max(1).T, *seen.places[looks, who].T, seen.sizes[looks, who]]
    step = float(np.median(np.diff(seen.seconds))) if len(seen.seconds) > 1 else 1.0
    near = np.abs(seconds[:, None] - times).min(1) <= step * 0.75
    values = np.array([np.interp(seconds, times, row) for row in rows]).T
    return [_guide(v) if ok else None for v, ok in zip(values, near, strict=True)]


def unclaimed(track: Track, seen: Sightings, followed: Followed) -> Track:
    """The track of the one who is followed, without joints that lie where somebody else has one of the same kind, at
    the look before a frame or the one after it: of two who reach for one point one is mistaken. They are not visible.
    """
    looks = np.arange(len(seen.seconds))
    others, someone = seen.points[..., :2].copy(), followed.who >= 0
    others[looks[someone], followed.who[someone]] = np.nan
    reach = CLAIMED * np.where(someone, seen.sizes[looks, followed.who], np.nan)[:, None]
    shown = track.image[np.clip(np.searchsorted(track.seconds, seen.seconds), 0, len(track.seconds) - 1)]
    claimed = np.zeros(shown.shape[:2], bool)
    for marks, points in JOINTS:
        theirs = others[:, :, list(points)].reshape(len(looks), -1, 2)
        for mark in marks:
            away = np.linalg.norm(theirs - shown[:, None, mark] / track.height, axis=2)
            claimed[:, mark] = (away < reach).any(1)
    after = np.clip(np.searchsorted(seen.seconds, track.seconds), 0, len(looks) - 1)
    doubted = claimed[np.maximum(after - 1, 0)] | claimed[after]
    return replace(track, visibility=np.where(doubted, 0.0, track.visibility))


def _guide(v: Floats) -> Guide:
    low, high = v[:2], v[2:4]
    more = MARGIN * float((high - low).max())
    return Guide(*map(float, (*(low - more), *(high + more), *v[4:])))
