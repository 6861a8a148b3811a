"""Stretches: a long clip cut into talk, slow practice, counted passages and run-throughs; the likeliest run among them.

First who is there and dances (a hidden Markov path over nobody, standing, dancing), then, within the dancing, whether
music sounds; what is left is named by its tempo against that of the run. Certainties come from how far apart the
evidence lies, not from a fit.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeVar

import numpy as np
from scipy.special import expit, log_expit

from juxtakine.core.comparing.aligning.common_tempo import FINE_RATE
from juxtakine.core.movement.tracks import Bools
from juxtakine.core.paths import least_path
from juxtakine.core.watching.hearing import Hearing
from juxtakine.core.watching.looks import STEP_S, Looks, calm
from juxtakine.core.watching.tempo import Beat, beat, ratio

T = TypeVar("T")

DANCE, DANCE_SOFT = 0.5, 0.12
"""Torso lengths a second, over some seconds: as likely dance as talk there, and how softly that turns."""
MOST_ODDS = 4.0
"""Log odds that one kind of evidence has at most."""
TALKED, TALKED_SOFT = 0.75, 0.08
"""Share of the time in which somebody speaks who explains; who counts leaves gaps."""
CALM_S = 3.0
CHANGE = 6.0
"""What a change between nobody, standing and dancing costs: some seconds of clear evidence."""
MUSIC, MUSIC_SOFT = 0.5, 0.12
MUSIC_CHANGE = 10.0
SHORTEST_S = 3.0
VOICE = 0.2
SLOW = 0.9
"""Below so much of the run's tempo it is slow practice."""
LIKE_ENOUGH = 0.5
SLOW_WAYS = 0.75
"""Where the sound has no tempo: below so much of the run's movement a second."""
BEGUN = 0.35
"""Torso lengths a second from which on somebody has begun, or has not ended."""
LIVELY = 0.35
"""Or this share of what is usual in that stretch."""
REACH_S = 2.0
"""How far beyond the surely danced its ends are looked for."""


class Kind(StrEnum):
    TALK = "talk"
    SLOW = "slow"
    COUNTED = "counted"
    RUN = "run"
    OTHER = "other"
    EMPTY = "empty"


@dataclass(frozen=True)
class Stretch:
    """From `start_s` to `end_s`, in seconds from the clip's beginning; `tempo_bpm` where one could be told."""

    start_s: float
    end_s: float
    kind: Kind
    certainty: float
    tempo_bpm: float | None = None

    @property
    def lasts_s(self) -> float:
        return self.end_s - self.start_s


@dataclass(frozen=True)
class Run:
    """The stretch that is likeliest the whole routine at tempo."""

    start_s: float
    end_s: float
    certainty: float


class _State(StrEnum):
    EMPTY = "empty"
    STANDS = "stands"
    DANCES = "dances"


@dataclass(frozen=True)
class _Span:
    """Steps from `first` to before `end` in which the same is going on."""

    state: _State
    music: bool
    first: int
    end: int

    @property
    def steps(self) -> slice:
        return slice(self.first, self.end)


def stretches(looks: Looks, heard: Hearing, lasts_s: float) -> tuple[list[Stretch], Run | None]:
    """All stretches in order, without gaps, and the run; none where nobody dances at tempo."""
    spans = list(_spans(looks, heard))
    guide = _guide(spans, looks, heard)
    found = [_named(s, guide, looks, heard, lasts_s) for s in spans]
    return found, _run(spans, found, looks, heard)


def _spans(looks: Looks, heard: Hearing) -> Iterator[_Span]:
    """What goes on, step by step, made into spans; what is danced is cut where the music begins or ends."""
    moved = np.clip((calm(looks.ways, CALM_S) - DANCE) / DANCE_SOFT, -MOST_ODDS, MOST_ODDS)
    talked = np.clip((heard.voice - TALKED) / TALKED_SOFT, 0, MOST_ODDS)
    dances = moved - talked + np.clip((heard.music - MUSIC) / MUSIC_SOFT, 0, MOST_ODDS / 2)
    there = np.clip(calm(looks.there.astype(float), 1.5), 0.02, 0.98)
    unlikely = -np.array([np.log(1 - there), np.log(there) + log_expit(-dances), np.log(there) + log_expit(dances)])
    states = [list(_State)[i] for i in least_path(CHANGE * (1 - np.eye(3)), unlikely)]
    edges = list(_alike(states))
    danced = [_danced_ends(looks, heard, a, b) if state is _State.DANCES else None for state, a, b in edges]
    for k, (state, first, end) in enumerate(edges):
        own = danced[k]
        if own is None:
            before, after = danced[k - 1] if k else None, danced[k + 1] if k + 1 < len(edges) else None
            first, end = before[1] if before else first, after[0] if after else end
            if end > first:
                yield _Span(state, bool(heard.music[first:end].mean() > MUSIC), first, end)
            continue
        first, end = own
        odds = np.clip((heard.music[first:end] - MUSIC) / MUSIC_SOFT, -MOST_ODDS, MOST_ODDS)
        path = least_path(MUSIC_CHANGE * (1 - np.eye(2)), np.array([odds, -odds]) / 2)
        yield from (_Span(state, bool(music), first + a, first + b) for music, a, b in _alike(path))


def _danced_ends(looks: Looks, heard: Hearing, first: int, end: int) -> tuple[int, int]:
    """Where what is surely danced truly begins and ends: as long as somebody moves and nobody explains."""
    usual = float(np.median(looks.ways[first:end]))
    going_on = (looks.ways > max(BEGUN, LIVELY * usual)) & (heard.voice < TALKED)
    return _reached(going_on, first, -1), _reached(going_on, end, 1)


def _alike(values: Sequence[T]) -> Iterator[tuple[T, int, int]]:
    """Each stretch of the same value, with its first index and the one after its last."""
    first = 0
    for i in range(1, len(values) + 1):
        if i == len(values) or values[i] != values[first]:
            yield values[first], first, i
            first = i


@dataclass(frozen=True)
class _Guide:
    """What is at tempo: the quickest stretch danced to music, or of those danced at all; its movement and its beat."""

    ways: float
    beat: Beat | None


def _guide(spans: list[_Span], looks: Looks, heard: Hearing) -> _Guide:
    danced = [s for s in spans if s.state is _State.DANCES]
    to_music = [s for s in danced if s.music] or danced
    long = [s for s in to_music if (s.end - s.first) * STEP_S >= SHORTEST_S] or to_music
    if not long:
        return _Guide(0.0, None)
    guides = [_Guide(float(looks.ways[s.steps].mean()), _beat(s, heard)) for s in long]
    best = max(guides, key=lambda g: g.ways)
    for other in guides:  # livelier ways may have been slower: the beat decides where both have one
        if best.beat and other.beat:
            tempo, like = ratio(other.beat, best.beat, other.ways / best.ways)
            best = other if tempo > 1 / SLOW and like > LIKE_ENOUGH else best
    return best


def _beat(span: _Span, heard: Hearing) -> Beat | None:
    return beat(heard.between(span.first * STEP_S, span.end * STEP_S), FINE_RATE)


def _named(span: _Span, guide: _Guide, looks: Looks, heard: Hearing, lasts_s: float) -> Stretch:
    start, end = span.first * STEP_S, min(span.end * STEP_S, lasts_s)
    own = _beat(span, heard) if span.state is _State.DANCES else None
    kind, certainty = _kind(span, guide, own, looks, heard)
    return Stretch(start, end, kind, float(np.clip(certainty, 0.5, 0.99)), own.bpm if own else None)


def _kind(span: _Span, guide: _Guide, own: Beat | None, looks: Looks, heard: Hearing) -> tuple[Kind, float]:
    voice, music = (float(v[span.steps].mean()) for v in (heard.voice, heard.music))
    if span.state is _State.EMPTY:
        return Kind.EMPTY, 1 - float(looks.there[span.steps].mean())
    lively = float(looks.ways[span.steps].mean())
    if span.state is _State.STANDS:
        stands = float(expit((DANCE - lively) / DANCE_SOFT))
        talks = float(expit((voice - VOICE) / 0.05))
        return (Kind.TALK, stands * talks) if talks >= 0.5 else (Kind.OTHER, stands * (1 - talks))
    dances = float(expit((lively - DANCE) / DANCE_SOFT))
    at_tempo = _at_tempo(lively / max(guide.ways, 1e-6), own, guide.beat)
    sounding = float(expit((music - MUSIC) / MUSIC_SOFT))
    if at_tempo < 0.5:
        return Kind.SLOW, dances * (1 - at_tempo)
    if sounding >= 0.5:
        return Kind.RUN, dances * at_tempo * sounding
    return Kind.COUNTED, dances * at_tempo * (1 - sounding)


def _at_tempo(ways: float, own: Beat | None, guide: Beat | None) -> float:
    """The chance that it is danced as fast as the run."""
    by_ways = float(expit((ways - SLOW_WAYS) / 0.08))
    if own is None or guide is None:
        return by_ways
    tempo, like = ratio(own, guide, ways)
    sure = float(np.clip((like - 0.2) / 0.4, 0, 1))
    return sure * float(expit((tempo - SLOW) / 0.02)) + (1 - sure) * by_ways


def _run(spans: list[_Span], found: list[Stretch], looks: Looks, heard: Hearing) -> Run | None:
    """The longest stretch at tempo, to music before all others."""
    best = sorted(((_merit(f, s, heard), f) for s, f in zip(spans, found, strict=True) if f.kind in _RUNS),
                  key=lambda m: -m[0])  # fmt: skip
    if not best:
        return None
    merit, stretch = best[0]
    other = best[1][0] if len(best) > 1 else 0.0
    certainty = float(np.clip(stretch.certainty * (1 - 0.5 * (other / merit) ** 2), 0.05, 0.99))
    return Run(stretch.start_s, stretch.end_s, certainty)


_RUNS = (Kind.RUN, Kind.COUNTED)


def _merit(found: Stretch, span: _Span, heard: Hearing) -> float:
    """Seconds danced, of which those with a voice over them or without music count for less."""
    talked = float(heard.voice[span.steps].mean())
    return found.lasts_s * (1 - 0.5 * talked) * (1.0 if found.kind is Kind.RUN else 0.4)


def _reached(going_on: Bools, end: int, by: int) -> int:
    """From one end of what is surely danced, outwards (by 1 or -1) as long as it goes on, or back inwards to where it
    does."""
    inside, outside = (end - 1, end) if by > 0 else (end, end - 1)
    most = round(REACH_S / STEP_S)
    for k in range(most):
        step = outside + by * k
        if not (0 <= step < len(going_on) and going_on[step]):
            if k:
                return end + by * k
            break
    for k in range(most):
        step = inside - by * k
        if 0 <= step < len(going_on) and going_on[step]:
            return end - by * k
    return end
