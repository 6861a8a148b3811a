"""Watching: stretches of a long clip, what repeats, what will be hard; on small made-up looks, sounds and dances."""

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import spearmanr

from juxtakine.core.comparing.aligning.common_tempo import FINE_RATE
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Mark, Phrase, Score, Sheet, check
from juxtakine.core.movement.features import Features
from juxtakine.core.watching.hardness import Hardness, hardness
from juxtakine.core.watching.hearing import Hearing
from juxtakine.core.watching.looks import STEP_S, Looks
from juxtakine.core.watching.mirrored import Beside, sides
from juxtakine.core.watching.repeats import Repeat, repeats, written
from juxtakine.core.watching.stretches import Kind, stretches
from juxtakine.core.watching.tempo import beat, ratio
from juxtakine.core.watching.words import phrase_words, ranked
from juxtakine.demo.motion import Key, Motion
from support.dancer import FIRST_S, GRID, SHEET, danced, reference, routine

EIGHT = Phrase("", 8, "1 2 3 4 5 6 7 8")


def beats(bpm: float, lasts_s: float) -> np.ndarray:
    """What begins, when something sounds on every beat and more softly between."""
    rises = np.zeros(round(lasts_s * FINE_RATE))
    for k, at in enumerate(np.arange(0, lasts_s - 0.1, 30 / bpm)):
        rises[round(at * FINE_RATE)] = 0.4 if k % 2 else 1.0
    return rises


def long_clip(*parts: tuple[float, bool, float, float, float, float]) -> tuple[Looks, Hearing, float]:
    """Of parts: seconds, whether somebody is there, ways, voice, music, beats a minute (0: none)."""
    steps = [round(p[0] / STEP_S) for p in parts]
    column = [np.repeat([p[k] for p in parts], steps) for k in range(1, 5)]
    rises = np.concatenate([beats(p[5], n * STEP_S) if p[5] else np.zeros(round(n * STEP_S * FINE_RATE))
                            for p, n in zip(parts, steps, strict=True)])  # fmt: skip
    ways = column[1] * (1 + 0.2 * np.sin(np.arange(sum(steps))))
    return Looks(column[0].astype(bool), ways), Hearing(column[2], column[3], rises), sum(steps) * STEP_S


NOBODY, TALK = (6.0, False, 0.0, 0.0, 0.0, 0.0), (30.0, True, 0.2, 0.9, 0.1, 0.0)
RUN, COUNTED = (40.0, True, 1.6, 0.0, 1.0, 110.0), (20.0, True, 1.6, 0.6, 0.0, 110.0)
SLOW = (30.0, True, 1.2, 0.5, 0.0, 82.0)
PREVIEW = (10.0, *RUN[1:])


def test_a_tutorial_is_cut_into_what_happens_in_it() -> None:
    parts = [NOBODY, TALK, PREVIEW, TALK, SLOW, TALK, COUNTED, TALK, RUN, TALK]
    found, run = stretches(*long_clip(*parts))
    kinds = ["empty", "talk", "run", "talk", "slow", "talk", "counted", "talk", "run", "talk"]
    assert [s.kind.value for s in found] == kinds
    edges = np.cumsum([0.0, *(p[0] for p in parts)])
    assert [s.start_s for s in found] == pytest.approx(edges[:-1], abs=1.5)
    assert run is not None
    assert (run.start_s, run.end_s) == pytest.approx((edges[8], edges[9]), abs=1.0)
    assert run.certainty > 0.7


def test_of_two_runs_that_are_alike_neither_is_sure() -> None:
    _, one = stretches(*long_clip(TALK, RUN, TALK))
    _, two = stretches(*long_clip(TALK, RUN, TALK, RUN, TALK))
    assert one is not None
    assert two is not None
    assert two.certainty < 0.6 < one.certainty


@pytest.mark.parametrize("parts", [[TALK], [NOBODY], [NOBODY, TALK]], ids=["talk only", "nobody", "nobody dances"])
def test_where_nobody_dances_there_is_no_run(parts: list[tuple[float, bool, float, float, float, float]]) -> None:
    found, run = stretches(*long_clip(*parts))
    assert run is None
    assert {s.kind for s in found} <= {Kind.TALK, Kind.EMPTY}


@settings(max_examples=40)
@given(st.lists(st.sampled_from([NOBODY, TALK, RUN, COUNTED, SLOW]), min_size=1, max_size=7))
def test_stretches_leave_no_gap_and_no_doubt_without_a_figure(parts: list[tuple[float, ...]]) -> None:
    looks, heard, lasts_s = long_clip(*parts)  # type: ignore[arg-type]
    found, run = stretches(looks, heard, lasts_s)
    assert found[0].start_s == 0
    assert found[-1].end_s == pytest.approx(lasts_s)
    assert all(a.end_s == b.start_s for a, b in pairwise(found))
    assert all(0.5 <= s.certainty < 1 for s in found)
    assert run is None or any(s.start_s <= run.start_s < run.end_s <= s.end_s for s in found)


@pytest.mark.parametrize("tempo", [0.5, 0.6, 0.75, 1.0])
def test_slowed_music_tells_its_tempo_against_the_run(tempo: float) -> None:
    run, slowed = beat(beats(112, 30), FINE_RATE), beat(beats(112 * tempo, 30), FINE_RATE)
    assert run is not None
    assert slowed is not None
    assert ratio(slowed, run, tempo**0.7)[0] == pytest.approx(tempo, rel=0.02)
    assert run.bpm == pytest.approx(112, rel=0.02)


MIRRORED = {"x", "yaw", "tilt", "side", "twist", "hside", "turn", "fx", "fyaw"}


def moved(keys: list[Key], by: float, other_side: bool = False) -> list[Key]:
    def channel(name: str) -> str:
        side, _, rest = name.partition("_")
        return f"{'r' if side == 'l' else 'l'}_{rest}" if other_side and rest else name

    def value(name: str, v: float) -> float:
        return -v if other_side and name.removeprefix("l_").removeprefix("r_") in MIRRORED else v

    def channels(k: Key) -> dict[str, float]:
        return {channel(n): value(n, v) for n, v in k.channels.items()}

    return [replace(k, at=k.at + by, count=k.count + by, channels=channels(k)) for k in keys]


def test_repeats_are_found_with_their_side_their_ending_and_where_they_are_cut() -> None:
    own = [k for k in routine().keys if k.count < 16]
    first, second = ([k for k in own if a <= k.count < a + 8] for a in (0, 8))
    second = moved(second, -8)
    ends_otherwise = [k for k in first if k.count < 5] + [k for k in second if k.count >= 5]
    rows = [first, second, moved(first, 0, other_side=True), second, ends_otherwise, [k for k in second if k.count < 4]]
    keys = [k for n, row in enumerate(rows) for k in moved(row, 8.0 * n)]
    sheet = Sheet("", (*[EIGHT] * 5, Phrase("", 4, "1 2 3 4")))
    dance = danced(replace(routine(), keys=tuple(keys)).inexact(4, 10, 2, 0.005))
    told = phrase_words(sheet, repeats(dance, GRID, sheet), [])
    assert [w.kind for w in told] == ["new", "new", "like 1, other side", "like 2", "like 1, other from 6",
                                      "like 2, cut after 4"]  # fmt: skip


def test_a_routine_that_never_repeats_has_none() -> None:
    assert repeats(reference(), GRID, SHEET) == []


def hard(motion: Motion, phrases: int) -> list[Hardness]:
    return hardness(danced(motion), Grid.from_tempo(FIRST_S, motion.bpm), Sheet("", (EIGHT,) * phrases))


def swings(at: float, over: float = 0.5, **more: float) -> Motion:
    """One phrase of arms up and down on every count, from count `at` on."""
    motion = Motion(100, FIRST_S)
    for k in range(8):
        motion = motion.key(at + k, over, l_elev=150.0 if k % 2 else 20.0, r_elev=20.0 if k % 2 else 150.0, **more)
    return motion


def together(rows: list[Motion]) -> Motion:
    return Motion(100, FIRST_S, tuple(k for row in rows for k in row.keys))


def speeds(n: int) -> Motion:
    return swings(8.0 * n, 0.9 - 0.1 * n)


def turns(n: int) -> Motion:
    return swings(8.0 * n).key(8.0 * n + 4, 2.0, yaw=60.0 * n if n % 2 else -60.0 * n).key(8.0 * n + 7, 2.0, yaw=0.0)


def levels(n: int) -> Motion:
    return swings(8.0 * n).key(8.0 * n + 3, 1.0, drop=0.05 * n).key(8.0 * n + 6, 1.0, drop=0.0)


def gaps(n: int) -> Motion:
    """A pause in its middle that grows: who is late catches up there."""
    still = {3.0, 4.0, 2.0, 5.0, 6.0}
    left_out = set(list(still)[:0]) if n == 0 else set(sorted(still, key=lambda c: abs(c - 4))[:n])
    row = swings(8.0 * n)
    return replace(row, keys=tuple(k for k in row.keys if k.count - 8.0 * n not in left_out))


@pytest.mark.parametrize(
    ("vary", "measure", "harder"),
    [(speeds, "speed", 1), (turns, "turn", 1), (levels, "level", 1), (gaps, "gap", -1)],
    ids=["speed", "turns", "levels", "gaps"],
)
def test_what_is_hard_is_ranked_as_it_was_made(vary: object, measure: str, harder: int) -> None:
    rows = [vary(n) for n in range(5)]  # type: ignore[operator]
    told = [getattr(h, measure) for h in hard(together(rows), 5)]
    assert harder * spearmanr(told, range(5)).statistic >= 0.9


def test_holds_are_where_one_catches_up_and_the_quickest_row_is_the_hardest() -> None:
    told = hardness(reference(), GRID, SHEET)
    held = {1: 3.0, 2: 4.0, 5: 5.0}  # by the sheet, from 0
    assert set(held) <= {h.phrase for h in told if h.pauses}
    assert all(any(a <= at <= b for a, b in told[n - 1].pauses) for n, at in held.items())
    words = phrase_words(SHEET, [], told)
    assert words[2].lines[0] == "no catching up from 1 to 8"
    assert [w.hardest for w in words].index(1) == ranked(told)[0].phrase - 1


def test_what_is_not_seen_is_not_called_easy() -> None:
    whole = reference()
    nobody: Features = replace(whole, vectors=np.full_like(whole.vectors, np.nan))
    assert hardness(nobody, GRID, SHEET) == []
    assert repeats(nobody, GRID, SHEET) == []


@pytest.mark.parametrize("mirrored", [False, True])
def test_cues_that_name_a_side_tell_whether_the_instructor_mirrors(mirrored: bool) -> None:
    told = sides(reference().mirrored if mirrored else reference(), SHEET, GRID)
    assert told.mirrored is mirrored
    assert told.certainty > 0.8
    assert "where a cue names a side" in told.why


def test_from_the_back_left_is_left_and_without_evidence_nothing_is_proposed() -> None:
    plain = replace(SHEET, phrases=tuple(replace(p, marks=()) for p in SHEET.phrases))
    behind = sides(danced(routine(), orbit_deg=180), plain, GRID)
    assert (behind.mirrored, behind.why) == (False, "seen from the back")
    assert sides(reference(), plain, GRID).mirrored is None
    assert sides(reference()).mirrored is None


@pytest.mark.parametrize("other", [False, True])
@pytest.mark.parametrize("images", [False, True])
def test_another_clip_whose_sides_are_known_tells_those_of_this_one(other: bool, images: bool) -> None:
    """One of two mirror images is danced mirrored; of two that are alike both are, or none."""
    beside = Beside(0.95 if other else 0.05, "seen from the back", 0.95 if images else 0.05)
    told = sides(reference(), beside=[beside])
    assert told.mirrored is (other != images)
    assert 0.85 < told.certainty < 0.95  # less sure than either
    assert "in another of their clips, seen from the back" in told.why
    assert sides(reference(), beside=[replace(beside, images=0.5)]).mirrored is None


def test_what_repeats_is_written_in_with_its_sides_and_what_somebody_wrote_stays() -> None:
    mine = (Mark("1", "my own"),)
    line, plain = "1 2 3 & 4 - 6 7 8", "1 2 3 4 5 6 7 8"
    first = Phrase("A", 8, line, marks=(Mark("1", "step L"), Mark("3 &", "Right arm"), Mark("7", "free", Score.FREE)))
    rows = (first, Phrase("B", 8, plain), Phrase("C", 8, plain, marks=mine), Phrase("D", 4, "1 2 3 4"))
    found = [
        Repeat(2, 1, True, 8, False, False, 0.9),
        Repeat(3, 1, False, 8, False, False, 0.9),
        Repeat(4, 1, False, 4, False, True, 0.9),
    ]
    told = written(Sheet("", rows), found)
    assert check(told) == ()
    a, b, c, d = told.phrases
    assert (a, c) == (rows[0], rows[2])
    assert (b.name, b.line) == ("B", line)
    assert [(m.label, m.cue, m.score) for m in b.marks] == [
        ("1", "step R", Score.BOTH), ("3 &", "Left arm", Score.BOTH), ("7", "free", Score.FREE),
    ]  # fmt: skip
    assert (d.line, [m.cue for m in d.marks]) == ("1 2 3 4", ["step L"])
