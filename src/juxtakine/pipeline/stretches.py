"""From a long clip to its stretches and the likeliest run, by a cheap look and its sound."""

from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import numpy as np
from pydantic import Field

from juxtakine.core.watching.hearing import heard
from juxtakine.core.watching.looks import STEP_S, looks
from juxtakine.core.watching.stretches import Kind, Run, Stretch, stretches
from juxtakine.media import apart
from juxtakine.media.processes import Progress
from juxtakine.media.sound import RATE, Samples
from juxtakine.media.tracking import glanced
from juxtakine.media.voice import voice
from juxtakine.pipeline.forms import Form, MaybeTenths, Seconds, Share

FAST = "full"
"""The estimator's smaller network, for what is only glanced at."""


class StretchForm(Form):
    start: Seconds = Field(alias="from")
    end: Seconds = Field(alias="to")
    kind: Kind
    tempo_bpm: MaybeTenths
    certainty: Share


class RunForm(Form):
    start: Seconds = Field(alias="from")
    end: Seconds = Field(alias="to")
    certainty: Share


class StretchesForm(Form):
    """Seconds as the file tells them."""

    form: Literal["juxtakine/stretches-1"] = Field("juxtakine/stretches-1", alias="schema")
    stretches: list[StretchForm]
    run: RunForm | None


@dataclass(frozen=True)
class Glance:
    """`model` the estimator's smaller network; `workspace` for what is on its way."""

    model: Path
    workspace: Path

    def stretches(
        self, clip: Path, on_progress: Progress = lambda done, total: None, samples: Samples | None = None
    ) -> StretchesForm:
        """Of a clip, and its sound where that was read before. Raises ClipError."""
        facts = apart.read(clip).facts
        track = glanced(clip, self.model, self.workspace, STEP_S, on_progress)
        seen = looks(track, facts.start_s, facts.duration_s)
        samples = self._sound(clip, facts.start_s) if samples is None and facts.has_sound else samples
        spoken, chunk_s = voice(samples) if samples is not None else (None, 1.0)
        told = heard(samples, RATE, spoken, chunk_s, len(seen.there))
        found, run = stretches(seen, told, facts.duration_s)
        start = facts.start_s
        return StretchesForm(stretches=[_stretch(s, start) for s in found], run=run and _run(run, start))

    def _sound(self, clip: Path, start_s: float) -> Samples | None:
        file = self.workspace / "sound.npy"
        return np.load(file) if apart.sound_of(clip, start_s, file) else None


def _stretch(s: Stretch, start_s: float) -> StretchForm:
    return StretchForm(
        start=start_s + s.start_s, end=start_s + s.end_s, kind=s.kind, tempo_bpm=s.tempo_bpm, certainty=s.certainty
    )


def _run(r: Run, start_s: float) -> RunForm:
    return RunForm(start=start_s + r.start_s, end=start_s + r.end_s, certainty=r.certainty)
