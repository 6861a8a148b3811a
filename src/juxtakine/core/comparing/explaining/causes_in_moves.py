"""Causes in what was danced: the other side, a move that is missing or one too many, a turn not made or one too many,
ways cut off throughout a phrase."""

from collections.abc import Sequence
from itertools import groupby

import numpy as np

from juxtakine.core.comparing.explaining.causes_in_time import LEFT_EARLY_MS
from juxtakine.core.comparing.explaining.evidence import (
    LOST,
    Causes,
    Evidence,
    Explains,
    chance,
    everything,
    is_told,
    of_stretch,
    of_time,
    runs,
)
from juxtakine.core.comparing.results import CountResult, FindingKind, PartResult, Unit
from juxtakine.core.movement.body import ARMS, Part

STANDS, STIRS, WENT = 0.3, 5.0, 0.25
"""Share of the reference's way below which a move is missing; times its movement above which one is too many; share of
its way from which on the student went somewhere. Of 53 missing moves of 1100 tuning pairs that are told all go 0.17 of
their way at most; from 0.3 to 0.5 an arm that is elsewhere had been taken for one, or a count that comes late."""
LEAST_MOTION = 30.0
"""What counts as movement, in units of noise: on 1280 tuning pairs no clean hold has so much, and more than twice the
reference's."""
COMES_MS, IN_TIME = 30.0, 0.6
"""A move that arrives before so much of the way to the next count, at a time known as well as this, is not missing. Of
134 missing moves of tuning pairs none seems to, and three late ones that were taken for missing do."""
ELSEWHERE_DEG, ELSEWHERE_PARTS = 15.0, 3
"""Mean over the limbs from which on somebody is not where the reference arrives, or parts that surely are not."""
TURNED_DEG = 40.0
ASIDE_DEG, MOST_ASIDE, SPEAKS = 5.0, 4.0, 0.2
"""A count on which the limbs are so much nearer to the mirror image, in the mean, speaks once for the other side (or
against it), one on which they are much nearer so many times at most; from so many times on it says anything."""
NEARER = 0.7
"""So much nearer to the mirror image a stretch on the other side is as a whole."""
CUT_OFF, OTHERWISE = 0.9, 0.1
"""The share of the arms' ways below which they are cut off (a tenth less nobody corrects), and the standard error of it
from which on they are other ways, and not the same ones smaller."""
EVEN_SMALLER, SMALLER_STEEPNESS = 2.5, 3.0
"""So many standard errors smaller, ways are as likely as not cut off, and how quickly likelier: by maximum likelihood
on 64 such phrases of 837 tuning pairs, 56 of them planted (2.1 and 2.7; nobody should be told so in vain)."""
LONGEST_WAY_DEG = 180.0
"""Of an arm: whose ways are smaller is off by so much of it at most as is left out, and a standard error more. (So are
the 224 arms that planted smaller ways made off in 1100 tuning pairs.)"""
LEAST_USUAL = 0.95
"""Arms seem to go so much of their way by the view or the body alone: at least, and where no other phrases tell."""


def other_side(results: Sequence[CountResult], e: Evidence) -> Causes:
    """The stretch of a phrase that speaks most for the other side, on some of whose counts both sides may be alike, and
    into one of which the student went: who stands may have been there before."""
    posed = np.array([r.count.posed for r in results])
    speaks = np.clip((e.plain_deg - e.mirrored_deg) / ASIDE_DEG, -MOST_ASIDE, MOST_ASIDE)
    speaks = np.where(posed, np.nan_to_num(speaks), 0.0)
    for _, group in groupby(range(len(results)), key=lambda i: results[i].count.phrase):
        rows = list(group)
        stretch = _most([float(s) for s in speaks[rows]])
        rows = [i for i in rows[stretch] if abs(speaks[i]) > SPEAKS]
        if not any(e.ways[i] > WENT for i in rows):
            continue
        run = results[rows[0] : rows[-1] + 1]
        if e.mirrored_deg[rows].sum() < NEARER * e.plain_deg[rows].sum():
            sure = chance(float(speaks[rows].sum()), 2.5, 3.0)
            yield of_stretch(FindingKind.WRONG_SIDE, run, 0.0, None, sure), everything


def _most(values: Sequence[float]) -> slice:
    """Where neighbouring values have the largest sum."""
    sums = np.concatenate([[0.0], np.cumsum(values)])
    gains = np.triu(sums[1:] - sums[:-1, None])
    first, last = np.unravel_index(int(gains.argmax()), gains.shape)
    return slice(int(first), int(last) + 1)


def missing(results: Sequence[CountResult], e: Evidence) -> Causes:
    """The reference moves and the student stands, elsewhere: who stands where it arrives was only there before."""
    for i, r in enumerate(results):
        if r.count.hold or r.count.goes_on or not (r.count.timed or r.count.posed) or is_told(r):
            continue
        if i + 1 < len(results) and _comes(r, float(results[i + 1].count.at - r.count.at)):
            continue
        share = float(e.ways[i])
        elsewhere = e.plain_deg[i] > ELSEWHERE_DEG or sum(f.part is not None for f in r.findings) >= ELSEWHERE_PARTS
        if share < STANDS and elsewhere:
            sure = chance(STANDS - share, 0.0, 30.0)
            yield of_stretch(FindingKind.MISSING, [r], 0.0, None, sure), everything


def _comes(r: CountResult, to_next: float) -> bool:
    """Whether it is seen to arrive before the next one is due, `to_next` counts later, be it late."""
    counts, se = r.timing.error_counts, r.timing.se_ms
    return counts is not None and se is not None and se <= COMES_MS and abs(counts) <= IN_TIME * to_next


def extra(results: Sequence[CountResult], e: Evidence) -> Causes:
    """The student moves in a hold of the reference, and is back for the next count."""
    for i, r in enumerate(results):
        following = results[i + 1].timing.error_ms if i + 1 < len(results) else None
        left = following is not None and following < -LEFT_EARLY_MS
        if not r.count.hold or left or e.own_least[i] < LEAST_MOTION or is_told(r):
            continue
        times = float(e.own_least[i] / max(e.motion[i], 1.0))
        if times > STIRS:
            sure = chance(times, STIRS + 1, 0.8)
            yield of_stretch(FindingKind.EXTRA, [r], 0.0, None, sure), everything


def turns(results: Sequence[CountResult], e: Evidence) -> Causes:
    """From where the facing goes wrong until it is right again: two counts or more on which it is known. By its sign on
    the first one: where the instructor goes on turning, too far to one side may be too little to the other."""
    faced = [r for r in results if Part.FACING in r.position.parts and _facing(r).error is not None]
    for run in runs(faced, [abs(_facing(r).error or 0.0) > TURNED_DEG for r in faced]):
        if len(run) < 2 or any(is_told(r) for r in run):
            continue
        size = float(np.median([abs(_facing(r).error or 0.0) for r in run]))
        se = float(np.median([_facing(r).se for r in run])) / len(run) ** 0.5
        sign = np.sign(_facing(run[0]).error or 0.0)
        sure = chance((size - TURNED_DEG / 2) / se, 2.0, 1.5)
        yield of_stretch(FindingKind.TURN, run, float(sign * size), Unit.DEGREES, sure), lambda f: not of_time(f)


def _facing(r: CountResult) -> PartResult:
    return r.position.parts[Part.FACING]


def cut_off(results: Sequence[CountResult], e: Evidence) -> Causes:
    """Arms whose ways are smaller throughout a phrase than in the others; not of who danced something else in it."""
    for phrase, (size, se) in e.ranges.items():
        rows = [r for r in results if r.count.phrase == phrase and r.count.posed]
        share = size / _usual_way([other for n, (other, _) in e.ranges.items() if n != phrase])
        if rows and share < CUT_OFF and se < OTHERWISE and not any(f.kind in LOST for r in rows for f in r.findings):
            sure = chance((1 - share) / se, EVEN_SMALLER, SMALLER_STEEPNESS)
            made = of_stretch(FindingKind.RANGE, rows, share, Unit.RATIO, sure)
            yield made, _of_arms_by((1 - share + se) * LONGEST_WAY_DEG)


def _of_arms_by(most: float) -> Explains:
    return lambda f: f.part in ARMS and abs(f.size) <= most


def _usual_way(others: Sequence[float]) -> float:
    """What share of their ways the arms seem to go in the other phrases: of a little the view or the body is why."""
    return float(np.clip(np.median(others), LEAST_USUAL, 1.0)) if len(others) > 1 else LEAST_USUAL
