"""Where a routine's first 1 may be in its music."""

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import maximum_filter1d

from juxtakine.core.counting.music.onsets import FRAMES_PER_S, Floats, Flux

EIGHT = 8
FIRST_BEATS = 72
"""Within so many beats the routine begins."""
CANDIDATES = 4
MOST = 2.5
"""Spreads beyond which a jump of loudness says no more."""
MOVES_BEFORE = 0.7
"""Of a beat: a body sets off before the count on which it arrives."""
TELLS = 1.0
"""Evidence of this much is worth a word."""


@dataclass(frozen=True)
class One:
    """Where the routine's first 1 may be: which beat, its seconds, how likely, and why."""

    beat: int
    seconds: float
    certainty: float
    why: tuple[str, ...]


def first_ones(heard: Flux, seconds: Floats, moves_s: float | None) -> tuple[One, ...]:
    """Candidates among the beats at (n,) `seconds`, likeliest first: where harmony and bass change, eights begin; where
    more is heard from then on, or the dancer moves off (`moves_s`), the routine does."""
    change, accents, jump = _news(heard, seconds)
    evidence = _standard(change) + 0.5 * _standard(accents)
    n = len(seconds)
    phase = np.array([evidence[r::EIGHT].mean() for r in range(EIGHT)])
    half = np.array([(phase[r] + phase[(r + 4) % EIGHT]) / 2 for r in range(EIGHT)])
    first = min(FIRST_BEATS, max(EIGHT, n // 2))
    at = np.arange(first)
    eights = 1.6 * phase[at % EIGHT] + 1.6 * half[at % EIGHT]
    # a clip's sound may begin with a jump that is none of the music's
    enters = 1.5 * np.minimum(_standard(jump)[:first], MOST)
    moves = np.zeros(first)
    if moves_s is not None:
        beat = float(np.median(np.diff(seconds)))
        moves = 5.0 * np.exp(-0.5 * ((seconds[:first] - moves_s - MOVES_BEFORE * beat) / (0.7 * beat)) ** 2)
    told = eights + enters + moves - 0.04 * at
    reasons = {"harmony and bass change here": eights, "more is heard from here on": enters,
               "the dancer moves off here": moves}  # fmt: skip
    chance = np.exp(told - told.max())
    chance = chance / chance.sum()
    best = np.argsort(-chance)[:CANDIDATES]
    return tuple(
        One(int(i), float(seconds[i]), float(chance[i]), tuple(why for why, by in reasons.items() if by[i] > TELLS))
        for i in best
    )


def _news(heard: Flux, seconds: Floats) -> tuple[Floats, Floats, Floats]:
    """(n,) of each beat: how much the sound of four beats differs from that of the four before, how strong the bass
    begins, and by how much more is heard in the eight from it on than in the eight before."""
    frames = np.clip(np.rint(seconds * heard.rate).astype(int), 0, len(heard.spectra) - 1)
    n = len(frames)
    ends = [*frames[1:], len(heard.spectra)]
    sound = np.array([heard.spectra[a : max(b, a + 1)].mean(0) for a, b in zip(frames, ends, strict=True)])
    accents = maximum_filter1d(heard.flux[0], round(0.06 * FRAMES_PER_S))[frames]
    change, jump = np.zeros(n), np.zeros(n)
    level = sound.mean(1)
    for i in range(n):
        before, after = sound[max(0, i - 4) : i], sound[i : i + 4]
        jump[i] = level[i : i + EIGHT].mean()
        if len(before):
            a, b = before.mean(0), after.mean(0)
            change[i] = 1 - float(a @ b) / max(float(np.linalg.norm(a) * np.linalg.norm(b)), 1e-9)
            jump[i] -= level[max(0, i - EIGHT) : i].mean()
    return change, np.asarray(accents), jump


def _standard(x: Floats) -> Floats:
    return np.asarray((x - x.mean()) / max(float(x.std()), 1e-9))
