"""Prints how rightly long clips are cut, their run found, repeats told, and one of several followed:

PYTHONPATH=bench python -m watching --clips 20 --structures 40 --films 6
"""

import argparse
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial

import numpy as np

from juxtakine.core.watching.hearing import heard
from juxtakine.core.watching.looks import STEP_S, looks
from juxtakine.core.watching.stretches import stretches
from juxtakine.media.sound import RATE
from juxtakine.media.voice import voice
from watching.followed import followed
from watching.long_clips import long_clip
from watching.mirrors import told_of
from watching.structures import structure, told_rightly

TABLE_CLIPS, TABLE, TABLE_FILMS, TABLE_PAIRS = 201, 101, 197, 9001
"""Where the seeds begin that are looked at for the table alone, of long clips, of structures, of
films and of pairs. Even ones were for tuning, and so were long clips up to 139 and films up to 195: what those showed
was mended."""
ENDS_WITHIN = 2.0
"""Counts."""


@dataclass(frozen=True)
class Cut:
    """Share of a clip's time rightly named, what was taken for what (seconds), both ends' errors in counts."""

    right: float
    taken: dict[str, float]
    ends: tuple[float, float] | None
    certainty: float

    @property
    def found(self) -> bool:
        return self.ends is not None and max(map(abs, self.ends)) <= ENDS_WITHIN


def cut(seed: int) -> Cut:
    clip = long_clip(seed)
    lasts = clip.starts[-1]
    seen = looks(clip.track, 0.0, lasts)
    told, run = stretches(seen, heard(clip.samples, RATE, *voice(clip.samples), len(seen.there)), lasts)
    moments = seen.seconds[seen.seconds < lasts]
    true = [clip.parts[int(np.searchsorted(clip.starts, at, side="right")) - 1].kind for at in moments]
    said = [next(s.kind for s in told if s.start_s <= at < s.end_s + STEP_S) for at in moments]
    wrong = Counter(f"{t} for {s}" for t, s in zip(true, said, strict=True) if t is not s)
    ends = run and ((run.start_s - clip.run[0]) * clip.bpm / 60, (run.end_s - clip.run[1]) * clip.bpm / 60)
    right = 1 - wrong.total() / len(moments)
    return Cut(right, {k: n * STEP_S for k, n in wrong.items()}, ends, run.certainty if run else 0.0)


def repeated(seed: int) -> tuple[int, int, int, int, list[str]]:
    return told_rightly(structure(seed))


def main() -> None:
    parser = argparse.ArgumentParser(prog="watching")
    parser.add_argument("--clips", type=int, default=20)
    parser.add_argument("--structures", type=int, default=40)
    parser.add_argument("--films", type=int, default=0, help="of several dancers; each is drawn in a minute or two")
    parser.add_argument("--mirrors", type=int, default=0, help="pairs of which it is told who is mirrored")
    parser.add_argument("--part", choices=["tuning", "table"], default="table")
    asked = parser.parse_args()
    first, first_clip, first_film = (TABLE, TABLE_CLIPS, TABLE_FILMS) if asked.part == "table" else (0, 0, 0)
    clips = range(first_clip, first_clip + 2 * asked.clips, 2)
    with ProcessPoolExecutor(2) as pool:
        cuts = list(pool.map(cut, clips))
        told = list(pool.map(repeated, range(first, first + 2 * asked.structures, 2)))
        first_pair = TABLE_PAIRS if asked.part == "table" else 1000
        pairs = range(first_pair, first_pair + 2 * asked.mirrors, 2)
        mirrors = [t for rows in pool.map(partial(told_of, model="heavy"), pairs) for t in rows]
        films = [r for rows in pool.map(followed, range(first_film, first_film + 2 * asked.films, 2)) for r in rows]
    for seed, c in zip(clips, cuts, strict=True):
        ends = "no run" if c.ends is None else f"run {c.ends[0]:+.1f} {c.ends[1]:+.1f} counts, {c.certainty:.0%} sure"
        print(f"{seed:4}  right {c.right:.1%}  {ends}  {c.taken}")
    for seed, row in zip(range(first, first + 2 * asked.structures, 2), told, strict=True):
        for miss in row[4]:
            print(f"{seed:4}  {miss}")
    there, found, new, false = (sum(row[k] for row in told) for k in range(4))
    print(f"the run found, ends within {ENDS_WITHIN:g} counts: {sum(c.found for c in cuts)} of {len(cuts)}")
    print(f"time rightly named: {np.mean([c.right for c in cuts]):.1%}")
    for r in films:
        print(f"{r.kind:11} right in {r.right} of {r.seen} looks, somebody else in {r.wrong}; {r.questions} questions, "
              f"{r.a_meeting:.1f} a meeting")  # fmt: skip
    if films:
        right, seen = sum(r.right for r in films), sum(r.seen for r in films)
        longest, asked_ = max(r.longest_wrong_s for r in films), max(r.a_meeting for r in films)
        print(f"followed rightly in {right / seen:.1%} of {seen} looks; somebody else for {longest:.1f} s at most, "
              f"{asked_:.1f} questions a meeting at most")  # fmt: skip
    for evidence in sorted({t.evidence for t in mirrors}):
        said = [t for t in mirrors if t.evidence == evidence]
        proposed = [t for t in said if t.right is not None]
        right, wrong = sum(t.right is True for t in proposed), sum(t.sure and not t.right for t in proposed)
        print(f"mirrored or not, {evidence}: proposed in {len(proposed)} of {len(said)}, right in {right}, "
              f"sure and wrong in {wrong}")  # fmt: skip
    print(f"repeats found: {found} of {there}; false: {false} of {new} new phrases")


if __name__ == "__main__":
    main()
