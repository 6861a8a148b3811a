"""Everybody in shot over a stretch of a clip, some times a second, and the file that keeps it."""

from pathlib import Path

import numpy as np

from juxtakine.core.movement.people import Sightings
from juxtakine.media.pose import Chunk
from juxtakine.media.processes import PROCESSES, Progress, run_all
from juxtakine.media.tracking import stretch_times

EVERY_S = 0.2


def sighted(
    clip: Path, workspace: Path, on_progress: Progress, start_s: float | None = None, end_s: float | None = None
) -> Sightings:
    """Raises ClipError where the stretch holds no frame."""
    times = stretch_times(clip, start_s, end_s)
    wanted = np.arange(times[0], times[-1], EVERY_S)
    picked = times[np.unique(np.searchsorted(times, wanted - 1e-3))]
    workspace.mkdir(parents=True, exist_ok=True)
    halves = [h for h in np.array_split(picked, PROCESSES) if len(h)]
    chunks = [
        Chunk(str(clip), "", [float(t) for t in half], 0, str(workspace / f"people-{i}.npz"))
        for i, half in enumerate(halves)
    ]
    run_all("juxtakine.media.people", chunks, workspace, on_progress)
    parts = [load_sightings(Path(c.out)) for c in chunks]
    seconds, points, looks = (np.concatenate([getattr(p, k) for p in parts]) for k in ("seconds", "points", "looks"))
    return Sightings(seconds, points, looks)


def save_sightings(seen: Sightings, to: Path) -> None:
    """Written aside first, so that a file that is there is whole."""
    aside = to.with_suffix(".new.npz")
    np.savez_compressed(aside, seconds=seen.seconds, points=seen.points, looks=seen.looks)
    aside.rename(to)


def load_sightings(path: Path) -> Sightings:
    with np.load(path) as data:
        return Sightings(**{k: data[k] for k in data.files})
