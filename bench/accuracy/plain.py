"""What an afternoon's script reaches on the same tracks: angles in space, public time warping, one threshold for all.

Each joint's angle from the estimator's 3D points, both clips resampled to 30 a second, dynamic time warping over the
whole (Sakoe and Chiba, 1978) from the given common time; a count's lag is the warping path's, less its median; a part
is off where its angle differs by more than 20 degrees at the warped moment. It knows nothing of views and errors.
"""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from accuracy.pairs import Pair
from accuracy.score import CLEAN_MS, TIMED, Scores, near_fault
from juxtakine.core.counting.sheets import expand
from juxtakine.core.movement.tracks import Floats, Track

RATE, BAND_S = 30, 0.6
THRESHOLD_DEG, LATE_MS = 20.0, 80.0
JOINTS = {
    "left-upper-arm": (13, 11, 23), "right-upper-arm": (14, 12, 24), "left-forearm": (11, 13, 15),
    "right-forearm": (12, 14, 16), "left-thigh": (11, 23, 25), "right-thigh": (12, 24, 26),
    "left-shin": (23, 25, 27), "right-shin": (24, 26, 28),
}  # fmt: skip


@dataclass(frozen=True)
class Told:
    """Per count: how late in milliseconds, and by how many degrees each joint differs."""

    late_ms: Floats
    off: dict[str, Floats]


def told(one: Pair, reference: Track, take: Track) -> Told:
    at = np.array([float(c.at) for c in expand(one.routine.sheet)])
    steps = np.arange(at[0] - 1, at[-1] + 1, 1 / 16)
    a = _angles(reference, one.reference_grid.seconds(steps))
    b = _angles(take, one.take_grid.seconds(steps))
    count_s = float(one.take_grid.count_length(0.0))
    match = np.array(_path(a, b, round(BAND_S / count_s * 16)))
    lag = np.array([match[match[:, 0] == i, 1].mean() - i for i in range(len(steps))]) / 16 * count_s
    rows = np.searchsorted(steps, at)
    late = lag[rows] - np.median(lag[rows])
    there = np.clip(np.round(rows + lag[rows] * 16 / count_s), 0, len(b) - 1).astype(int)
    off = {part: np.abs(a[rows, k] - b[there, k]) for k, part in enumerate(JOINTS)}
    return Told(1000 * late, off)


def scored(one: Pair, said: Told) -> Scores:
    scores = Scores()
    counts = [float(c.at) for c in expand(one.routine.sheet)]
    plain = [v for at, v in one.true_lag_ms.items() if not any(p.kind in TIMED and p.covers(at) for p in one.planted)]
    constant = float(np.median(plain)) if plain else 0.0
    for i, at in enumerate(counts):
        if at in one.true_lag_ms and not any(p.kind in ("wrong-side", "missing", "extra") for p in one.planted):
            hard = "hard" if one.conditions.hard else "full tempo"
            scores.values[f"plain script: timing error, {hard}"].append(
                said.late_ms[i] - one.true_lag_ms[at] + constant
            )
        if not near_fault(one, at) and abs(one.true_lag_ms.get(at, 0.0) - constant) < CLEAN_MS:
            scores.hits["plain script: false ahead or behind"].append(bool(abs(said.late_ms[i]) > LATE_MS))
        if not near_fault(one, at, 1.01, 1.51):
            far = "up to 40°" if one.conditions.orbit_deg > 20 else "up to 20°"
            wrong = any(v[i] > THRESHOLD_DEG for v in said.off.values())
            scores.hits[f"plain script: false position finding, camera {far} round"].append(wrong)
    for found, planted in _found(one, said, counts):
        scores.hits[f"plain script: {planted}"].append(found)
    return scores


def _found(one: Pair, said: Told, counts: list[float]) -> Iterator[tuple[bool, str]]:
    need: dict[int, float] = defaultdict(float)
    for i, at in enumerate(counts):
        need[int(at // 8)] += abs(said.late_ms[i]) / 200 + sum(v[i] > THRESHOLD_DEG for v in said.off.values()) / 8
    faulty = {int(p.start // 8) for p in one.planted}
    if faulty:
        first = sorted(need, key=lambda n: -need[n])[: len(faulty)]
        yield set(first) == faulty, "faulty eights first"
    for p in one.planted:
        if p.start not in counts:
            continue
        i = counts.index(p.start)
        if p.kind in ("early", "late") and abs(p.size) >= LATE_MS:
            yield said.late_ms[i] * np.sign(p.size) > LATE_MS / 2, "late or early, direction right"
        if p.kind == "limb" and p.part in said.off:
            yield bool(said.off[p.part][i] > THRESHOLD_DEG), f"limb {30 if abs(p.size) >= 30 else 20}° off"


def _angles(track: Track, seconds: Floats) -> Floats:
    """(n, 8) degrees at these times; the last known where nobody was found."""
    good = track.found
    out = []
    for a, b, c in JOINTS.values():
        u, v = track.world[good, a] - track.world[good, b], track.world[good, c] - track.world[good, b]
        cosine = (u * v).sum(1) / (np.linalg.norm(u, axis=1) * np.linalg.norm(v, axis=1))
        out.append(np.interp(seconds, track.seconds[good], np.degrees(np.arccos(np.clip(cosine, -1, 1)))))
    return np.array(out).T


def _path(a: Floats, b: Floats, band: int) -> list[tuple[int, int]]:
    """The warping path of least total distance, at most `band` steps off the diagonal."""
    n = len(a)
    total = np.full((n + 1, n + 1), np.inf)
    total[0, 0] = 0
    for i in range(1, n + 1):
        for j in range(max(1, i - band), min(n, i + band) + 1):
            here = float(np.linalg.norm(a[i - 1] - b[j - 1]))
            total[i, j] = here + min(total[i - 1, j - 1], total[i - 1, j], total[i, j - 1])
    path, (i, j) = [], (n, n)
    while i and j:
        path.append((i - 1, j - 1))
        i, j = min(((i - 1, j - 1), (i - 1, j), (i, j - 1)), key=lambda s: total[s])
    return path
