"""Tracks one body through a clip on all cores: the clip is cut into chunks, each estimated in a process of its own.

Every second frame of a 30 fps clip is estimated and the rest filled in by cubic splines: as good, at half the cost.
Where the chunks end depends on the clip alone, so that a track taken up again ends the same.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import astuple
from itertools import pairwise
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.movement.filling import filled_in
from juxtakine.core.movement.people import Guide
from juxtakine.core.movement.tracks import Track
from juxtakine.media import apart, pose
from juxtakine.media.clips import stretch_of
from juxtakine.media.frames import Decode
from juxtakine.media.processes import PROCESSES, Progress, run_all

ESTIMATES_PER_S = 15
LONGEST_CHUNK_S = 30.0
LEAD = 12
"""Frames estimated before a chunk begins, so that it does not start cold."""


def track(
    clip: Path,
    model: Path,
    workspace: Path,
    on_progress: Progress = lambda done, total: None,
    start_s: float | None = None,
    end_s: float | None = None,
    guided: Callable[[NDArray[np.float64]], list[Guide | None]] | None = None,
) -> Track:
    """The track of the clip, or of the stretch from `start_s` to `end_s`; of whom `guided`
    tells the places of at given seconds, or else of whom the estimator takes.

    `workspace` keeps finished chunks, so that a broken-off tracking goes on where it stopped; `on_progress`
    is told estimated frames and their total, about twice a second, and may raise to cancel.
    Raises ClipError where the stretch holds no frame.
    """
    read = apart.read(clip)
    facts, times = read.facts, stretch_of(read.times, start_s, end_s)
    picked = picked_frames(times)
    workspace.mkdir(parents=True, exist_ok=True)
    shown = [list(astuple(g)) if g else None for g in guided(times[picked])] if guided else None
    chunks = [
        pose.Chunk(
            str(clip), str(model), [float(t) for t in times[picked[a:b]]], keep, str(workspace / f"{i}.npz"),
            guides=shown and shown[a:b],
        )
        for i, (a, b, keep) in enumerate(_cut(len(picked), float(times[-1] - times[0])))
    ]  # fmt: skip
    run_all("juxtakine.media.pose", chunks, workspace, on_progress)
    seconds, image, world, visibility = _gathered_parts(chunks)
    scaled = image * [facts.width, facts.height]
    carried = [filled_in(times, seconds, v) for v in (scaled, world, visibility)]
    estimated = np.isin(np.arange(len(times)), picked)
    found = np.isfinite(carried[0][:, 0, 0])
    return Track(
        times, carried[0], carried[1], np.clip(carried[2], 0, 1), found, estimated,
        facts.width, facts.height, f"{pose.ESTIMATOR} {model.stem}",
    )  # fmt: skip


def glanced(
    clip: Path, model: Path, workspace: Path, every_s: float, on_progress: Progress = lambda done, total: None
) -> Track:
    """A cheap look: one frame about every `every_s` seconds, with nothing filled in between."""
    read = apart.read(clip)
    facts, times = read.facts, read.times
    wanted = np.arange(times[0], times[-1], every_s)
    picked = times[np.unique(np.searchsorted(times, wanted))]
    workspace.mkdir(parents=True, exist_ok=True)
    halves = [h for h in np.array_split(picked, PROCESSES) if len(h)]
    chunks = [
        pose.Chunk(
            str(clip), str(model), [float(t) for t in half], 0, str(workspace / f"glance-{i}.npz"), every_s / 2,
            Decode.NEEDED,
        )
        for i, half in enumerate(halves)
    ]  # fmt: skip
    run_all("juxtakine.media.pose", chunks, workspace, on_progress)
    seconds, image, world, visibility = _gathered_parts(chunks)
    seen = np.isfinite(image[:, 0, 0])
    return Track(
        seconds, image * [facts.width, facts.height], world, np.clip(visibility, 0, 1), seen, np.ones(len(seen), bool),
        facts.width, facts.height, f"{pose.ESTIMATOR} {model.stem}",
    )  # fmt: skip


def _gathered_parts(chunks: Sequence[pose.Chunk]) -> Iterator[NDArray[np.float64]]:
    parts = [pose.load(Path(c.out)) for c in chunks]
    return (np.concatenate([getattr(p, k) for p in parts]) for k in ("seconds", "image", "world", "visibility"))


def picked_frames(times: NDArray[np.float64]) -> NDArray[np.int64]:
    """Which frames are estimated: every one, second, or fourth, so that there are about ESTIMATES_PER_S a second."""
    fps = 1 / float(np.median(np.diff(times)))
    step = max(1, int(fps / ESTIMATES_PER_S + 0.3))
    return np.unique(np.append(np.arange(0, len(times), step), len(times) - 1))


def _cut(frames: int, duration_s: float) -> list[tuple[int, int, int]]:
    """(first, end, how many at the start are lead) of each chunk, over the picked frames; all the same work."""
    chunks = PROCESSES * max(1, int(np.ceil(duration_s / (LONGEST_CHUNK_S * PROCESSES))))
    work = (frames + LEAD * (chunks - 1)) / chunks
    edges = [0, *(min(frames, round(work + n * (work - LEAD))) for n in range(chunks))]
    return [(max(0, int(a) - LEAD), int(b), min(LEAD, int(a))) for a, b in pairwise(edges) if b > a]
