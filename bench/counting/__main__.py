"""Prints how rightly beats, tempo and the first 1 are found in made-up music, and a sheet is read off made-up dances:

PYTHONPATH=bench python -m counting --songs 64 --dances 40
"""

import argparse
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import numpy as np
from scipy.signal import resample_poly

from counting import proposals
from counting.music import song
from juxtakine.core.counting.music.beats import beats
from juxtakine.core.counting.music.onsets import NoBeat
from juxtakine.media.sound import RATE

TABLE = 3001
"""Where the seeds begin that are looked at for the table alone; even ones below were for tuning."""
TEMPO, WITHIN_S = 0.002, 0.07


@dataclass(frozen=True)
class Told:
    """`level` is 1 where the beat is the music's own, else what was taken for it; `errors` of the beats in seconds;
    `place` of the true first 1 among the candidates (None: not there)."""

    seed: int
    kind: str
    bpm: float
    found_bpm: float
    errors: tuple[float, ...]
    missed: float
    place: int | None

    @property
    def level(self) -> float:
        return self.found_bpm / self.bpm


def told(seed: int) -> Told:
    made = song(seed)
    kind = f"{made.pattern}, {made.hard}"
    try:
        found = beats(resample_poly(made.samples, 80, 441), RATE)
    except NoBeat:
        return Told(seed, kind, made.bpm, 0.0, (), 1.0, None)
    inside = found.seconds[(found.seconds > made.beats[made.first] - 0.1) & (found.seconds < made.beats[-1] + 0.1)]
    nearest = inside[np.abs(made.beats[made.first :, None] - inside).argmin(1)] - made.beats[made.first :]
    near = np.abs(nearest) < WITHIN_S
    firsts = [k for k, o in enumerate(found.ones) if abs(o.seconds - made.beats[made.first]) < WITHIN_S]
    true = 60 / np.polyfit(np.arange(len(made.beats)), made.beats, 1)[0]
    place = firsts[0] if firsts else None
    return Told(seed, kind, true, found.bpm, tuple(nearest[near]), 1 - near.mean(), place)


def main() -> None:
    parser = argparse.ArgumentParser(prog="counting")
    parser.add_argument("--songs", type=int, default=64)
    parser.add_argument("--dances", type=int, default=0, help="made-up dances whose sheet is read off the movement")
    parser.add_argument("--part", choices=["tuning", "table"], default="table")
    asked = parser.parse_args()
    first = TABLE if asked.part == "table" else 0
    first_dance = proposals.TABLE if asked.part == "table" else proposals.TUNING
    with ProcessPoolExecutor(2) as pool:
        rows = list(pool.map(told, range(first, first + asked.songs)))
        dances = range(first_dance, first_dance + 2 * asked.dances, 2)
        for line in proposals.table(dances, pool.map) if dances else ():
            print(line)
    if rows:
        _of_songs(rows)


def _of_songs(rows: list[Told]) -> None:
    for r in rows:
        off = abs(r.level - 1) > TEMPO
        if off or r.place not in (0, 1) or r.missed > 0.1:
            print(
                f"{r.seed:4} {r.kind:24} {r.bpm:6.1f} as {r.found_bpm:6.1f}  missed {r.missed:.0%}  first 1: {r.place}"
            )
    right = [r for r in rows if abs(r.level - 1) < TEMPO]
    errors = np.concatenate([r.errors for r in right]) if right else np.zeros(1)
    print(f"songs {len(rows)}; tempo within 0.2 %: {len(right)} ({len(right) / len(rows):.1%}); "
          f"half or double: {sum(min(abs(r.level - 2), abs(r.level - 0.5)) < 0.01 for r in rows)}")  # fmt: skip
    print(f"beats: mean error {1000 * np.abs(errors).mean():.1f} ms, bias {1000 * errors.mean():+.1f} ms, "
          f"missed {np.mean([r.missed for r in right]):.1%}")  # fmt: skip
    for k in (1, 2):
        hit = sum(r.place is not None and r.place < k for r in rows)
        print(f"the first 1 among the first {k}: {hit} ({hit / len(rows):.1%})")


if __name__ == "__main__":
    main()
