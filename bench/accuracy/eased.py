"""Late as people are late: a lag of its own on each count, eased from one to the next, at the start of a move and at
its arrival.

The bench's other dancers shift whole moves. Here the student's clock is bent: between a move's start and its arrival
the lag goes smoothly from one to the other, and stays while they rest.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from accuracy import people
from accuracy.pairs import pair
from accuracy.score import Scores
from accuracy.tracks import exact, exact_at, flipped, library, replayed
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.results import Comparison, FindingKind, Method
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet, expand
from juxtakine.core.movement.tracks import Floats, Track
from juxtakine.demo import lantern_quay
from juxtakine.demo.load import TRACKS
from juxtakine.media.track_file import load_track
from juxtakine.pipeline.comparison import Recording

TUNING, TABLE = 60_000, 60_001
RESTS = 0.25
"""Of the way between two counts, before a move starts: as the made-up dancers rest. Where the lag is eased from count
to count there is no rest."""
OFTEN_LATE, BY_MS = 0.25, (60.0, 150.0)
BIG_MS, CLEAN_MS, APART_MS = 80.0, 25.0, 100.0
Random = np.random.Generator


@dataclass(frozen=True)
class Lags:
    """(k,) seconds at each move's start and at its arrival; how much of the way between two counts is rest."""

    start: Floats
    arrival: Floats
    rests: float = RESTS


def eased(random: Random, at: Floats) -> Lags:
    """Independent from count to count, level at each."""
    arrival = random.normal(0, random.uniform(0.02, 0.06), len(at))
    return Lags(np.r_[0.0, arrival[:-1]], arrival, 0.0)


def late_start(random: Random, at: Floats) -> Lags:
    """Some moves start late, or early, and arrive on time."""
    return Lags(_some(random, len(at)), np.zeros(len(at)))


def late_arrival(random: Random, at: Floats) -> Lags:
    """Some start on time and arrive late, or early."""
    return Lags(np.zeros(len(at)), _some(random, len(at)))


def rubato(random: Random, at: Floats) -> Lags:
    """A slow wave."""
    lasts, turned = random.uniform(8, 16), random.uniform(0, 2 * np.pi)

    def wave(counts: Floats) -> Floats:
        return np.asarray(0.15 * np.sin(2 * np.pi * counts / lasts + turned))

    before = at - (1 - RESTS) * np.diff(at, prepend=at[0] - 1)
    return Lags(wave(before), wave(at))


def _some(random: Random, n: int) -> Floats:
    sizes = random.uniform(*BY_MS, n) / 1000 * random.choice([-1, 1, 1], n)
    return np.where(random.random(n) < OFTEN_LATE, sizes, 0.0)


KINDS: dict[str, Callable[[Random, Floats], Lags]] = {
    "eased": eased, "late start": late_start, "late arrival": late_arrival, "rubato": rubato,
}  # fmt: skip


def bent(meant_s: Floats, grid: Grid, at: Floats, lags: Lags) -> Floats:
    """When is danced what is meant for these seconds: `at` (k,) are the moves' counts, `lags` theirs."""
    before = np.r_[at[0] - 1, at[:-1]]
    knots = np.column_stack([grid.seconds(before + lags.rests * (at - before)), grid.seconds(at)]).ravel()
    by = np.column_stack([lags.start, lags.arrival]).ravel()
    place = np.clip(np.searchsorted(knots, meant_s, side="right") - 1, 0, len(knots) - 2)
    share = np.clip((meant_s - knots[place]) / (knots[place + 1] - knots[place]), 0, 1)
    smooth = share * share * (3 - 2 * share)
    # nobody goes back in time
    return np.maximum.accumulate(meant_s + by[place] + (by[place + 1] - by[place]) * smooth)


def of_seed(seed: int, model: str, library_pairs: int) -> Scores:
    """Another body, another camera, danced so; the estimator's errors replayed."""
    kind = list(KINDS)[seed // 2 % len(KINDS)]
    one = pair(seed, plant=lambda motion, danced, random: (motion, ()))
    at = np.array(one.routine.moves)
    lags = KINDS[kind](np.random.default_rng(seed), at)
    errors = library(model, library_pairs)
    shown = replayed(exact(one.reference, f"{seed}-reference"), errors, seed)
    times = one.take.times
    meant = np.linspace(times[0] - 1, times[-1] + 1, 20 * len(times))
    danced = np.interp(times, bent(meant, one.take_grid, at, lags), meant)
    done = replayed(exact_at(one.take, danced), errors, seed + 1)
    if one.conditions.mirrored:
        done = flipped(done)
    given = CommonTime(one.take_grid, Method.SOUND, 1.0)
    features = (Recording(t).features for t in (shown, done))
    told = compare(*features, one.routine.sheet, one.reference_grid, given, one.sides)
    truth = Lags(1000 * lags.start, 1000 * lags.arrival)
    inexact = np.array([one.true_lag_ms.get(float(a), np.nan) for a in at])
    where = "20 to 40° round, 40 to 110 % tempo" if one.conditions.hard else "same side, full tempo"
    return scored(told, at, replace(truth, arrival=truth.arrival + inexact, start=truth.start + inexact),
                  f"{kind}, {where}", f"{seed} {one.routine.kind}")  # fmt: skip


def retimed(seed: int, name: str, track: Track, sheet: Sheet, grid: Grid) -> Scores:
    """The same film at moved time stamps."""
    random = np.random.default_rng(seed)
    at = np.array([float(c.at) for c in expand(sheet) if not (c.hold or c.goes_on)])
    lags = KINDS["eased"](random, at)
    later = bent(track.seconds, grid, at, lags)
    kept = np.r_[True, np.diff(later) > 1e-4]
    take = Track(later[kept], track.image[kept], track.world[kept], track.visibility[kept], track.followed[kept],
                 track.estimated[kept], track.width, track.height, track.estimator)  # fmt: skip
    told = compare(Recording(track).features, Recording(take).features, sheet, grid,
                   CommonTime(grid, Method.SOUND, 1.0))  # fmt: skip
    return scored(told, at, Lags(1000 * lags.start, 1000 * lags.arrival), f"retimed {name}", f"{seed} {name}")


FILMS = ("reference", *people.CAMERAS, *people.CHANGES)
"""The demo's reference; the real person by four cameras, and by one with its picture changed."""


def of_films(seed: int, model: str, people_too: bool) -> Scores:
    """The demo's reference, and the real person's clips, each at time stamps of its own."""
    scores = retimed(seed, "made-up film", load_track(TRACKS / "reference.npz"), lantern_quay.SHEET,
                     lantern_quay.reference_grid())  # fmt: skip
    if people_too:
        real = {f"{c}": people.tracked(c, model) for c in people.CAMERAS}
        real |= {how: people.changed(people.CAMERAS[0], how, model) for how in people.CHANGES}
        for n, track in enumerate(real.values(), 1):
            scores.add(retimed(seed + 2 * n, "real films", track, people.SHEET, people.GRID))
    return scores


def scored(told: Comparison, at: Floats, truth: Lags, row: str, who: str) -> Scores:
    scores = Scores()
    by = {float(c.count.at): c.timing for c in told.counts}
    by_finding = {float(c.count.at): c.findings for c in told.counts}
    constant = told.alignment.constant_lag_ms or 0.0
    for i, count in enumerate(at.tolist()):
        timing, true = by[count], truth.arrival[i]
        big, clean = abs(true - constant) >= BIG_MS, abs(true - constant) < CLEAN_MS
        off = timing.verdict.value in ("ahead", "behind")
        scores.hits[f"{row}: measured"].append(timing.error_ms is not None)
        if big:
            right = off and (timing.error_ms or 0) * (true - constant) > 0
            scores.hits[f"{row}: 80 ms and more told"].append(right)
        if clean:
            scores.hits[f"{row}: false ahead or behind below 25 ms"].append(off)
        if timing.error_ms is None or timing.se_ms is None:
            continue
        error = timing.error_ms + constant - true
        scores.values[f"{row}: lag of the arrival"].append(error)
        scores.hits[f"{row}: within two standard errors"].append(abs(error) <= 2 * timing.se_ms)
        if i:
            scores.pairs[row].append((truth.arrival[i], truth.arrival[i - 1], timing.error_ms + constant))
        if timing.start_ms is not None:
            started = timing.start_ms + constant - truth.start[i]
            scores.values[f"{row}: lag of the start"].append(started)
            apart = truth.start[i] - true
            told_apart = [f for f in by_finding[count] if f.kind in (FindingKind.HURRIED, FindingKind.DRAGGED)]
            if not off and abs(apart) >= APART_MS:
                scores.hits[f"{row}: hurried or dragged by 100 ms told"].append(
                    any(f.size * apart > 0 for f in told_apart)
                )
            if abs(apart) < CLEAN_MS:
                scores.hits[f"{row}: falsely hurried or dragged"].append(bool(told_apart))
        if (clean and off) or abs(error) > 60:
            scores.misses.append(
                f"{who} at {count:g}: {timing.error_ms + constant:.0f}±{timing.se_ms:.0f} true {true:.0f}"
            )
    return scores
