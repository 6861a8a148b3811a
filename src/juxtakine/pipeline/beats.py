"""The beat of a clip's sound, told in words, and the grids that follow from it."""

from fractions import Fraction
from itertools import pairwise
from typing import Literal

from pydantic import Field

from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.music.beats import Beats, beats, retimed
from juxtakine.core.counting.music.ones import One
from juxtakine.core.counting.music.onsets import NoBeat
from juxtakine.media.sound import RATE
from juxtakine.pipeline.comparison import Sound
from juxtakine.pipeline.forms import Form, Seconds, Share

PACES = (1.0, 0.5, 2.0)
DRIFTS = 0.005
"""A tempo that changes by more over the music needs more than two anchors."""
ANCHOR_EVERY = 8


class BeatForm(Form):
    """A candidate for the routine's first 1."""

    seconds: Seconds
    certainty: Share


class BeatsForm(Form):
    form: Literal["juxtakine/beats-1"] = Field("juxtakine/beats-1", alias="schema")
    tempo_bpm: float
    beats: list[Seconds]
    ones: list[BeatForm]


class OneForm(Form):
    seconds: float
    certainty: float
    why: list[str]


class PaceForm(Form):
    """Beats at one pace, seconds in the clip's own time."""

    bpm: float
    bpm_error: float
    drift: float
    jumps: list[float]
    seconds: list[float]
    ones: list[OneForm]

    @property
    def said(self) -> str:
        tempo = f"{self.bpm:.1f} counts a minute, ±{max(self.bpm_error, 0.05):.1f}"
        if self.jumps:
            at = ", ".join(f"{int(s // 60)}:{s % 60:04.1f}" for s in self.jumps)
            return f"{tempo}; the tempo changes at {at}"
        if abs(self.drift) > DRIFTS:
            return f"{tempo}; it gets {'faster' if self.drift > 0 else 'slower'} by {abs(100 * self.drift):.1f} %"
        return tempo

    def grid(self, first_s: float) -> Grid:
        """Count 1 on the beat nearest to `first_s`. Straight where the tempo holds, else an anchor every eight."""
        index = min(range(len(self.seconds)), key=lambda i: abs(self.seconds[i] - first_s))
        last = len(self.seconds) - 1
        steady = abs(self.drift) <= DRIFTS and not self.jumps
        places = sorted({0, last} if steady else {*range(index % ANCHOR_EVERY, last + 1, ANCHOR_EVERY), last})
        if not any(b > a for a, b in pairwise(places)):
            places = [0, last]
        return Grid(tuple(Anchor(Fraction(i - index), self.seconds[i]) for i in places)).anchored(
            Fraction(0), self.seconds[index]
        )


class HeardBeats(Form):
    """The beat as it is found first, then half and double; or why there is none."""

    paces: list[PaceForm]
    why_not: str | None = None


def heard_beats(heard: Sound, moves_s: float | None = None) -> HeardBeats:
    """`moves_s`: where the dancer moves off, in the clip's own time."""
    try:
        found = beats(heard.samples, RATE, None if moves_s is None else moves_s - heard.start_s)
    except NoBeat as error:
        return HeardBeats(paces=[], why_not=str(error))
    return HeardBeats(paces=[_pace(p, heard.start_s) for p in (found, retimed(found, 0.5), retimed(found, 2))])


def beats_form(heard: Sound) -> BeatsForm:
    """As the command line tells it. Raises NoBeat."""
    found = beats(heard.samples, RATE)
    return BeatsForm(
        tempo_bpm=round(found.bpm, 2),
        beats=[heard.start_s + float(t) for t in found.seconds],
        ones=[BeatForm(seconds=heard.start_s + o.seconds, certainty=o.certainty) for o in found.ones],
    )


def _pace(found: Beats, start_s: float) -> PaceForm:
    return PaceForm(
        bpm=found.bpm, bpm_error=found.bpm_error, drift=found.drift, jumps=[start_s + j for j in found.jumps],
        seconds=[round(start_s + float(t), 4) for t in found.seconds],
        ones=[_one(o, start_s) for o in found.ones],
    )  # fmt: skip


def _one(found: One, start_s: float) -> OneForm:
    return OneForm(seconds=start_s + found.seconds, certainty=found.certainty, why=list(found.why))
