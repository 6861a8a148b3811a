"""Everybody in shot over a stretch of a clip, some times a second, and the file that keeps it."""

from collections.abc import Callable
from pathlib import Path

import numpy as np

from juxtakine.core.movement.people import Sightings
from juxtakine.core.movement.tracks import Floats
from juxtakine.media import apart
from juxtakine.media.clips import stretch_of
from juxtakine.media.frames import Decode
from juxtakine.media.pose import Chunk
from juxtakine.media.processes import PROCESSES, Progress, run_all

EVERY_S = 0.2
FEW, MANY = 3, 7
"""Looks that tell whether several are in shot."""


def sighted(
    clip: Path, workspace: Path, on_progress: Progress, start_s: float | None = None, end_s: float | None = None
) -> Sightings:
    """Raises ClipError where the stretch holds no frame."""
    times = stretch_of(apart.read(clip).times, start_s, end_s)
    wanted = np.arange(times[0], times[-1], EVERY_S)
    picked = times[np.unique(np.searchsorted(times, wanted - 1e-3))]
    return _seen(clip, picked, workspace, on_progress)


def several_in_shot(
    clip: Path, workspace: Path, waiting: Callable[[], None], start_s: float | None = None, end_s: float | None = None
) -> bool:
    """Told from a few frames, of those that need no other one if there are enough; `waiting` is called meanwhile, and
    may raise to cancel. Raises ClipError."""
    read = apart.read(clip)
    times, keys = stretch_of(read.times, start_s, end_s), read.keys
    keys = keys[(keys >= times[0]) & (keys <= times[-1])]
    shown, decode = (keys, Decode.KEY) if len(keys) >= FEW else (times, Decode.NEEDED)
    picked = shown[np.unique(np.linspace(0, len(shown) - 1, MANY).round().astype(int))]
    slack_s = float(picked[-1] - picked[0]) / MANY
    return _seen(clip, picked, workspace, lambda done, total: waiting(), slack_s, decode).several


def _seen(
    clip: Path, picked: Floats, workspace: Path, on_progress: Progress, slack_s: float = 0.0,
    decode: Decode = Decode.ALL,
) -> Sightings:  # fmt: skip
    """Who is there at the picked seconds; each process looks at its part of them."""
    workspace.mkdir(parents=True, exist_ok=True)
    chunks = [
        Chunk(str(clip), "", [float(t) for t in some], 0, str(workspace / f"people-{i}.npz"), slack_s, decode)
        for i, some in enumerate(np.array_split(picked, PROCESSES))
        if len(some)
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
