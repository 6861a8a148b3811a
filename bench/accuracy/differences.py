"""Fits how far parts may seem to differ (core/comparing/position/noise.py) on counts without faults of tuning pairs.

PYTHONPATH=bench python -m accuracy.differences --model heavy --pairs 20 --tracks 60
"""

import argparse
from concurrent.futures import ProcessPoolExecutor
from functools import partial

import numpy as np

from accuracy.errors import quantile
from accuracy.pairs import TUNING, pair
from accuracy.score import near_fault
from accuracy.tracks import of_pair
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.aligning.view import build
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.position import noise
from juxtakine.core.comparing.position.parts import measured_of
from juxtakine.core.comparing.position.poses import poses_of
from juxtakine.core.comparing.results import Method, Whose
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.tracks import Floats
from juxtakine.pipeline.comparison import Recording


def main() -> None:
    parser = argparse.ArgumentParser(prog="accuracy.differences")
    parser.add_argument("--model", choices=["full", "heavy"], default="heavy")
    parser.add_argument("--pairs", type=int, default=20)
    parser.add_argument("--tracks", type=int, default=60)
    asked = parser.parse_args()
    films, tracks = TUNING
    rows: dict[str, list[tuple[int, Floats, Floats]]] = {}
    with ProcessPoolExecutor(2) as pool:
        for library, count, first in ((None, asked.pairs, films), (asked.pairs, asked.tracks, tracks)):
            of_one = partial(clean_rows, model=asked.model, library_pairs=library)
            for n, parts in enumerate(pool.map(of_one, range(first, first + 2 * count, 2))):
                for kind, seen, error in parts:
                    rows.setdefault(kind, []).append((n, seen, error))
    for kind, parts in rows.items():
        cues, errors = (np.concatenate([p[k] for p in parts]) for k in (1, 2))
        half = np.concatenate([np.full(len(p[2]), p[0] % 2 == 0) for p in parts])
        inside = (errors[~half] <= cues[~half] @ quantile(cues[half], errors[half])).mean()
        beyond = np.percentile(errors / np.maximum(cues @ quantile(cues, errors) / 2, 1e-9), [50, 95, 99, 99.7])
        weights = ", ".join(f"{w:.3f}" for w in quantile(cues, errors) / 2)
        print(f'    "{kind}": Weights({weights}),  # n {len(errors)}, of the other half within two {inside:.1%};'
              f" 50 to 99.7 % within {np.round(beyond, 2)}")  # fmt: skip


def clean_rows(seed: int, model: str, library_pairs: int | None) -> list[tuple[str, Floats, Floats]]:
    """Of each part on the counts without faults: its kind, the cues (k, 7) and the sizes of what it seems to differ."""
    one = pair(seed)
    reference, take = (Recording(t).features for t in of_pair(one, model, library_pairs))
    common = CommonTime(one.take_grid, Method.SOUND, 1.0)
    told = compare(reference, take, one.routine.sheet, one.reference_grid, common, one.sides)
    shown = reference.mirrored if told.mirror.whose is Whose.REFERENCE else reference
    own = take.mirrored if told.mirror.whose is Whose.TAKE else take
    constant = (told.alignment.constant_lag_ms or 0.0) / 1000
    at = np.array([float(c.count.at) for c in told.counts])
    lags = np.array([constant if c.matched_s is None else c.matched_s - c.take_s for c in told.counts])
    view = build(shown, own, one.reference_grid, one.take_grid, at, constant)
    poses = poses_of(view, at, lags)
    clean = np.array([not near_fault(one, a, 1.01, 1.51) for a in at])
    rows = []
    for part in Part:
        seen, error = noise.telling(part, poses), np.abs(measured_of(part, poses).error)
        seen = seen * noise.elsewhere(part, poses)[:, None]
        good = clean & np.isfinite(error) & np.isfinite(seen).all(1)
        if part is Part.HEAD:
            good &= seen[:, 4] == 0
        rows.append((noise.kind_of(part), seen[good], error[good]))
    return rows


if __name__ == "__main__":
    main()
