"""A clip's sound as samples, and its wave as it is drawn."""

from collections.abc import Iterator
from pathlib import Path

import av
import numpy as np
from av.error import FFmpegError
from numpy.typing import NDArray

from juxtakine.core.limits import LONGEST_CLIP_S
from juxtakine.media.clips import decoded, opened

RATE = 8_000
PEAKS_PER_S = 50
Samples = NDArray[np.float32]


def heard(path: Path, rate: int) -> Iterator[tuple[float | None, av.AudioFrame]]:
    """(seconds, sound) of a clip piece by piece, as mono at `rate`; None where a piece goes on from the one before, and
    nothing where the clip has no sound. What can't be decoded is left out."""
    with opened(path) as file:
        if not file.streams.audio:
            return
        audio = file.streams.audio[0]
        resampler = av.AudioResampler("fltp", "mono", rate)
        for frame in decoded(file, audio):
            stamp = None if frame.pts is None else float(frame.pts * (frame.time_base or 0))
            try:
                parts = resampler.resample(frame)
            except (ValueError, FFmpegError):  # damaged: it claims to be of another kind
                continue
            for part in parts:
                yield stamp, part
                stamp = None
        for part in resampler.resample(None):
            yield None, part


def read_sound(path: Path, start_s: float) -> Samples | None:
    """(n,) mono samples at RATE from `start_s` (the clip's earliest stamp) on; None where there is no sound.

    Gaps and a late start are filled with silence, so that sample i is at `start_s + i / RATE`.
    """
    pieces: list[tuple[int, Samples]] = []
    place: int | None = None
    for stamp, part in heard(path, RATE):
        if stamp is not None:
            due = round((stamp - start_s) * RATE)
            # time stamps jitter by a few samples; only real gaps move the place
            place = due if place is None or abs(due - place) > RATE // 20 else place
        samples = part.to_ndarray()[0].astype(np.float32)
        if 0 <= (place or 0) + len(samples) <= LONGEST_CLIP_S * RATE:
            pieces.append((place or 0, samples))
        place = (place or 0) + len(samples)
    return _laid(pieces)


def _laid(pieces: list[tuple[int, Samples]]) -> Samples | None:
    if not pieces:
        return None
    out = np.zeros(max(at + len(s) for at, s in pieces), np.float32)
    for at, samples in pieces:
        skip = max(0, -at)
        out[max(0, at) : max(0, at + len(samples))] = samples[skip:]
    return out


def wave(samples: Samples) -> NDArray[np.float32]:
    """(n,) loudest value in each 1/PEAKS_PER_S of a second, 0 to 1 of the clip's own loudest."""
    step = RATE // PEAKS_PER_S
    padded = np.pad(np.abs(samples), (0, -len(samples) % step))
    peaks = padded.reshape(-1, step).max(1)
    return np.asarray(peaks / max(float(peaks.max(initial=0)), 1e-6), np.float32)
