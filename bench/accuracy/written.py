"""What the bench found, row by row, as it is printed and as it stands in the document."""

import subprocess
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path

import numpy as np
from scipy.stats import binomtest

from accuracy import crowded, eased, paces, pairs, unusual
from accuracy.score import Scores
from juxtakine.jobs.inputs import COMPARING_VERSION

BEGIN, END = "<!-- make accuracy: begin -->", "<!-- make accuracy: end -->"
CERTAINTIES = (0.5, 0.7, 0.8, 0.9, 0.97, 1.01)
SEEDS = {"pairs": pairs.TABLE[1], "unusual": unusual.TABLE, "crowded": crowded.TABLE, "eased": eased.TABLE,
         "paces": paces.TABLE}  # fmt: skip
TARGETS = {
    "timing error, full tempo": "7 / 22", "timing error, hard": "12 / 40",
    "late or early by 80 ms and more, direction right": "97 %", "false ahead or behind on clean counts": "0.5 %",
    "timing within two standard errors": "95 %", "measured at all: timing": "97 %",
    "measured at all: positions": "95 %", "mirror images or not": "98 %", "faulty eights first in the order": "98 %",
    "nothing to redrill in clean takes": "95 %", "limb 30° off, camera on the same side": "95 %",
    "limb 30° off, camera round": "85 %", "limb 20° off, camera on the same side": "80 %",
    "false position finding on clean counts, camera up to 20° round": "1 %",
    "false position finding on clean counts, camera up to 40° round": "3 %",
    **dict.fromkeys(("torso", "head", "level", "facing", "spread", "range"), "90 %"),
    **dict.fromkeys(("slip", "missing", "wrong-side", "drift", "extra", "turn", "left-hold-early"), "95 %"),
    "eased, same side, full tempo: lag of the arrival": "7 / 20",
    "eased, 20 to 40° round, 40 to 110 % tempo: lag of the arrival": "11 / 32",
    "retimed made-up film: lag of the arrival": "4 / 11", "retimed real films: lag of the arrival": "8 / 25",
    "a stretch at another pace: told as one cause, where it is": "90 %",
    "two counts put in or left out: told as one cause, where it is": "90 %",
}  # fmt: skip


@dataclass(frozen=True)
class Row:
    name: str
    n: int
    figure: str
    interval: str


def rows(scores: Scores) -> Iterator[Row]:
    """Errors with their mean and 95th percentile, then shares with a 95 % interval, then how true what is said is."""
    for name, values in sorted((name, v) for name, v in scores.values.items() if v):
        size, bias = np.abs(values), float(np.mean(values))
        figure = f"{size.mean():.1f} / {np.percentile(size, 95):.1f}"
        yield Row(name, len(values), figure, f"median {np.median(size):.1f}, bias {bias:+.1f}")
    for name, hits in sorted((name, h) for name, h in scores.hits.items() if h):
        low, high = binomtest(sum(hits), len(hits)).proportion_ci(method="wilson")
        yield Row(name, len(hits), f"{np.mean(hits):.1%}", f"{low:.1%} to {high:.1%}")
    for name, lags in sorted(scores.pairs.items()):
        own, before, told = np.array(lags).T
        (share, left, _), *_ = np.linalg.lstsq(np.column_stack([own, before, np.ones(len(own))]), told, rcond=None)
        yield Row(f"{name}: weight of its own lag / of the one before", len(lags), f"{share:.2f} / {left:.2f}", "")
    for low, high in pairwise(CERTAINTIES):
        inside = [(c, t) for c, t in scores.certainties if low <= c < high]
        if inside:
            said, true = np.mean(inside, axis=0)
            yield Row(f"said to be {low:.0%} to {min(high, 1):.0%} sure: true", len(inside), f"{true:.1%}",
                      f"said {said:.1%}")  # fmt: skip


def write(document: Path, scores: Scores, sets: str) -> None:
    """The table between the marks of the document, with the seeds and the version of the code."""
    commit = subprocess.run(["git", "rev-parse", "--short", "HEAD"], capture_output=True, text=True).stdout.strip()
    seeds = ", ".join(f"{name} {first}" for name, first in SEEDS.items())
    lines = [
        f"{sets}. Seeds from: {seeds}. Comparing version {COMPARING_VERSION}, commit {commit or 'unknown'}.", "",
        "| row | n | figure | interval, or the rest of it | target |", "|---|---|---|---|---|",
        *(f"| {r.name} | {r.n} | {r.figure} | {r.interval} | {TARGETS.get(r.name, '')} |" for r in rows(scores)),
    ]  # fmt: skip
    text = document.read_text()
    before, after = text.split(BEGIN)[0], text.split(END)[1]
    document.write_text("\n".join([before + BEGIN, *lines, END]) + after)
