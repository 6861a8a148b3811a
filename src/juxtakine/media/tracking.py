"""Tracks one body through a clip on all cores: the clip is cut into chunks, each estimated in a process of its own.

Every second frame of a 30 fps clip is estimated and the rest filled in by cubic splines: as good, at half the cost.
Chunks end at fixed times after the clip's first frame, however long it is, how many processes work and when each of
them ran: a track that is taken up again ends the same, and so does one of a clip that still grows.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import astuple
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
CHUNK_S = 6.0
LEAD = 12
"""Frames estimated before a chunk begins, so that it does not start cold."""
SETTLED_S = 1.0
"""What is so long before the end of a clip that still grows is whole: its frames are written in another order than they
are shown in."""


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
    chunks = _chunks(clip, model, workspace, times[picked], shown)
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


def track_begun(clip: Path, model: Path, workspace: Path) -> float:
    """Of a clip that still grows, the chunks that are whole by now, into the workspace of `track`, which does the rest
    once the clip is. Returns up to which second of the clip they reach; what is there already is not done again.

    Raises ClipError where there is no frame yet.
    """
    times = apart.read(clip).times
    workspace.mkdir(parents=True, exist_ok=True)
    whole = times[0] + CHUNK_S * np.floor((times[-1] - SETTLED_S - times[0]) / CHUNK_S)
    if whole <= times[0]:
        return float(times[0])
    seconds = times[picked_frames(times)]
    chunks = _chunks(clip, model, workspace, seconds[seconds < whole], None)
    run_all("juxtakine.media.pose", chunks, workspace, lambda done, total: None)
    return float(whole)


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
    """Which frames are estimated: every one, second, or fourth, so that there are about ESTIMATES_PER_S a second by the
    first chunk; and the last one."""
    if len(times) == 1:
        return np.array([0])
    # of a damaged clip little may be there of it
    told = times[: max(2, int(np.searchsorted(times, times[0] + CHUNK_S)))]
    fps = 1 / float(np.median(np.diff(told)))
    step = max(1, int(fps / ESTIMATES_PER_S + 0.3))
    return np.unique(np.append(np.arange(0, len(times), step), len(times) - 1))


def _chunks(
    clip: Path, model: Path, workspace: Path, seconds: NDArray[np.float64], guides: pose.Guides | None
) -> list[pose.Chunk]:
    """Of the picked frames, whose times (k,) are `seconds`."""
    number = ((seconds - seconds[0]) // CHUNK_S).astype(int)
    made = []
    for n in np.unique(number):
        first, end = np.searchsorted(number, [n, n + 1])
        begin = max(0, first - LEAD)
        made.append(
            pose.Chunk(
                str(clip), str(model), [float(t) for t in seconds[begin:end]], int(first - begin),
                str(workspace / f"{n}.npz"), guides=guides and guides[begin:end],
            )
        )  # fmt: skip
    return made
