"""How rightly one of several is followed, with the questions answered by who truly stands there."""

import tempfile
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import binary_closing

from accuracy.films import CACHE
from juxtakine.core.movement.following import follow
from juxtakine.core.movement.people import Click, Sightings
from juxtakine.core.movement.tracks import Floats
from juxtakine.media.sightings import EVERY_S, load_sightings, save_sightings, sighted
from watching.several import FPS, LASTS_S, SIZE, company, film

Numbers = NDArray[np.int64]
TRUNK = [11, 12, 23, 24]
BESIDE = 0.5
"""Trunk lengths from a body within which a sighting is of it."""
MOST_QUESTIONS = 8
MEETS, PARTED, AT_ONCE_S = 1.5, 5, 1.0
"""Trunk lengths within which two meet, looks for which they have to be apart before they meet again, and seconds within
which two others come at once."""


@dataclass(frozen=True)
class Right:
    """Of one person of one clip, clicked early or late in it.

    Looks rightly followed, falsely, and in which the person can be seen; the longest that somebody else was vouched
    for; questions that were asked, and how many at most after one meeting.
    """

    kind: str
    right: int
    wrong: int
    seen: int
    longest_wrong_s: float
    questions: int
    a_meeting: float


def followed(seed: int) -> list[Right]:
    made = company(seed)
    folder = CACHE / "several"
    folder.mkdir(parents=True, exist_ok=True)
    clip, kept = folder / f"{seed}.mp4", folder / f"{seed}.people.npz"
    joints = film(made, clip, np.arange(round(LASTS_S * FPS)) / FPS)
    if not kept.exists():
        with tempfile.TemporaryDirectory() as workspace:
            save_sightings(sighted(clip, Path(workspace), lambda done, total: None), kept)
    seen = load_sightings(kept)
    rows = np.minimum(np.rint(seen.seconds * made.camera.fps).astype(int), joints.shape[1] - 1)
    true = joints[:, rows][:, :, TRUNK].mean(2) / SIZE[1]
    return [_of_one(made.kind, seen, true, k, late) for k in range(len(true)) for late in (False, True)]


def _of_one(kind: str, seen: Sightings, true: Floats, one: int, late: bool) -> Right:
    """`true` (people, n, 2) trunks in heights of the picture."""
    away = np.linalg.norm(seen.places[None] - true[:, :, None], axis=3) / seen.sizes  # (people, n, sightings)
    of = np.where(np.isfinite(away), away, np.inf)
    nearest = of.argmin(0)
    visible = ((nearest == one) & (of[one] < BESIDE)).any(1)
    start = int(np.flatnonzero(visible)[-3 if late else 2])
    clicks = [Click(*map(float, true[one, start]), float(seen.seconds[start]))]
    denied: list[tuple[float, bool]] = []
    asked_at: list[float] = []
    while True:
        told = follow(seen, clicks)
        asked = [q for q in told.questions if (q.seconds, q.before) not in denied]
        if not asked:
            break
        asked_at.append(asked[0].seconds)
        apart = [_away(c, true[one, int(np.abs(seen.seconds - c.seconds).argmin())]) for c in asked[0].clicks]
        if min(apart) > 0.12 or len(asked_at) > MOST_QUESTIONS:
            denied.append((asked[0].seconds, asked[0].before))  # the one is none of those
        else:
            clicks.append(asked[0].clicks[int(np.argmin(apart))])
    at = np.flatnonzero(told.who >= 0)
    fits = np.array([nearest[t, told.who[t]] == one or of[one, t, told.who[t]] < BESIDE for t in at], bool)
    longest = run = 0
    for ok in fits:
        run = 0 if ok else run + 1
        longest = max(longest, run)
    right = int((fits & visible[at]).sum())
    times = seen.seconds[_meetings(true, one, float(np.nanmedian(seen.sizes)))]
    a_meeting = _most_a_meeting(times, np.array(asked_at))
    return Right(
        kind, right, int((~fits).sum()), int(visible.sum()), longest * EVERY_S, len(asked_at), a_meeting
    )  # fmt: skip


def _away(click: Click, trunk: Floats) -> float:
    return float(np.linalg.norm([click.x - trunk[0], click.y - trunk[1]]))


def _meetings(true: Floats, one: int, size: float) -> Numbers:
    """The looks at which somebody comes near to the one who is followed, after having been away from them."""
    begins: list[int] = []
    for other in (k for k in range(len(true)) if k != one):
        near = np.linalg.norm(true[other] - true[one], axis=1) < MEETS * size
        near = binary_closing(np.pad(near, PARTED), np.ones(PARTED))[PARTED:-PARTED]
        begins += np.flatnonzero(np.diff(near, prepend=False)[: len(near)] & near).tolist()
    return np.sort(np.array(begins, int))


def _most_a_meeting(meetings: Floats, asked: Floats) -> float:
    """Questions to a meeting, where there were most; two who come at once are two meetings."""
    groups = np.split(meetings, np.flatnonzero(np.diff(meetings) > AT_ONCE_S) + 1)
    ends = [*(g[0] for g in groups[1:]), np.inf]
    counts = [(((asked >= g[0]) & (asked < end)).sum(), len(g)) for g, end in zip(groups, ends, strict=True) if len(g)]
    return max((n / met for n, met in counts), default=float(len(asked)))
