"""Two styles that may both be right: where the sheet says so, a take is told by the reference that it is more like."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import groupby
from typing import Any

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.comparing.explaining.evidence import Evidence
from juxtakine.core.comparing.explaining.measured import Measured
from juxtakine.core.comparing.results import CountResult
from juxtakine.core.movement.tracks import Ints

MAIN = 0


def nearer_style(beside: Measured, others: Sequence[Measured]) -> Measured:
    """As it was measured `beside` one reference; each stretch of counts that may be danced in either style by that of
    all whose limbs it is nearest to, in the mean over the stretch. All are of the same sheet."""
    every = [beside, *others]
    style = np.zeros(len(beside.counts), int)
    away = np.array([m.evidence.plain_deg for m in every])
    for stretch in _stretches(beside.counts):
        told = [np.isfinite(a) for a in away[:, stretch]]
        means = [float(a[t].mean()) if t.any() else np.inf for a, t in zip(away[:, stretch], told, strict=True)]
        style[stretch] = int(np.argmin(means))
    counts = tuple(_by(every[s].counts[i], beside.counts[i], int(s)) for i, s in enumerate(style))
    return replace(beside, counts=counts, evidence=_evidence([m.evidence for m in every], style, beside.counts))


def _stretches(counts: Sequence[CountResult]) -> list[list[int]]:
    """The counts that follow each other and may be danced in either style."""
    runs = groupby(range(len(counts)), lambda i: counts[i].count.mark.either)
    return [list(run) for either, run in runs if either]


def _by(told: CountResult, beside: CountResult, style: int) -> CountResult:
    """Its moments stay those of the clips that are shown beside each other."""
    return replace(told, reference_s=beside.reference_s, take_s=beside.take_s, style=style)


def _evidence(every: Sequence[Evidence], style: Ints, counts: Sequence[CountResult]) -> Evidence:
    def chosen(name: str) -> NDArray[Any]:
        return np.array([getattr(e, name) for e in every])[style, np.arange(len(style))]

    phrase = np.array([c.count.phrase for c in counts])
    ranges = {n: every[_mostly(style[phrase == n])].ranges[n] for n in every[MAIN].ranges}
    rows = ("motion", "own_least", "ways", "plain_deg", "mirrored_deg", "coming", "going", "off", "pace")
    return Evidence(**{name: chosen(name) for name in rows}, ranges=ranges)


def _mostly(style: Ints) -> int:
    return int(np.bincount(style).argmax())
