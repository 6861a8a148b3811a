"""Whether a rebuilt comparison still tells the same: what one version told, held against what another one tells.

    PYTHONPATH=bench:tests python bench/same.py keep FILE     # before
    PYTHONPATH=bench:tests python bench/same.py check FILE    # after

The three demo takes, pairs of tracks and films are compared. Every figure is the same to 1e-6, every finding and the
order are; what the new version tells besides is left alone.
"""

import argparse
import json
import sys
from collections.abc import Iterator, Mapping
from concurrent.futures import ProcessPoolExecutor
from dataclasses import fields, is_dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np

from accuracy.pairs import TUNING, pair
from accuracy.tracks import of_pair
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.refused import CompareError
from juxtakine.core.comparing.results import Comparison, Method
from juxtakine.demo import lantern_quay
from juxtakine.media.sound import read_sound
from juxtakine.pipeline.comparison import Recording, Sound, compared
from juxtakine.pipeline.comparison_form import ComparisonForm
from support.clips import REFERENCE, TAKES, shipped

TO = 1e-6
PAIRS, FILMS = 60, 6
MODEL = "heavy"
WORDS = ("words", "text")
"""What is compared as it is told, not as it is held."""


def made(case: str) -> Any:
    """What is told of `demo 1`, `tracks 1002` or `film 2`: as it is held, with all decimals, and as it goes out."""
    kind, number = case.split()
    try:
        found = _demo(int(number)) if kind == "demo" else _pair(int(number), kind == "film")
    except CompareError as refused:
        return str(refused)
    return {"held": _plain(found), "told": _form(found).model_dump(mode="json", by_alias=True)}


def _form(found: Comparison) -> ComparisonForm:
    return ComparisonForm.of(found)


def _demo(take: int) -> Comparison:
    recordings = [
        Recording(shipped(clip), Sound(samples, 0.0) if (samples := read_sound(clip, 0.0)) is not None else None)
        for clip in (REFERENCE, TAKES[take])
    ]
    return compared(*recordings, lantern_quay.SHEET, lantern_quay.reference_grid())


def _pair(seed: int, is_film: bool) -> Comparison:
    one = pair(seed)
    tracks = of_pair(one, MODEL, None if is_film else 0)
    reference, take = (Recording(t).features for t in tracks)
    given = CommonTime(one.take_grid, Method.SOUND, 1.0)
    return compare(reference, take, one.routine.sheet, one.reference_grid, given, one.sides)


def _plain(value: Any) -> Any:
    if is_dataclass(value):
        return {f.name: _plain(getattr(value, f.name)) for f in fields(value) if f.name not in WORDS}
    if isinstance(value, Mapping):
        return {str(k): _plain(v) for k, v in value.items()}
    if isinstance(value, set | frozenset):
        return sorted(map(_plain, value))
    if isinstance(value, tuple | list):
        return [_plain(v) for v in value]
    return float(value) if isinstance(value, Fraction | np.floating) else value


def differences(before: Any, after: Any, place: str = "") -> Iterator[str]:
    if isinstance(before, dict) and isinstance(after, dict):
        for key, value in before.items():
            yield from differences(value, after.get(key), f"{place}.{key}")
    elif isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        for n, pair_ in enumerate(zip(before, after, strict=True)):
            yield from differences(*pair_, f"{place}[{n}]")
    elif isinstance(before, float) and isinstance(after, float) and abs(before - after) <= TO:
        return
    elif before != after:
        yield f"{place}: {before!r} is now {after!r}"


def main() -> int:
    parser = argparse.ArgumentParser(prog="same")
    parser.add_argument("act", choices=["keep", "check"])
    parser.add_argument("file", type=Path)
    parser.add_argument("--films", type=int, default=FILMS)
    asked = parser.parse_args()
    first, tracks = TUNING
    cases = [f"demo {n}" for n in range(3)]
    cases += [f"tracks {tracks + 2 * n}" for n in range(PAIRS)] + [f"film {first + 2 * n}" for n in range(asked.films)]
    with ProcessPoolExecutor(2) as pool:
        told = dict(zip(cases, pool.map(made, cases), strict=True))
    if asked.act == "keep":
        asked.file.write_text(json.dumps(told))
        return 0
    kept = json.loads(asked.file.read_text())
    # through JSON, as what was kept went
    found = [d for case in cases for d in differences(kept[case], json.loads(json.dumps(told[case])), case)]
    print("\n".join(found[:40]) or f"the same: {len(cases)} comparisons")
    print(f"{len(found)} differences" if found else "")
    return bool(found)


if __name__ == "__main__":
    sys.exit(main())
