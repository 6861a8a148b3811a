"""A clip's frames as upright pictures with their own time stamps."""

from collections.abc import Iterator, Sequence
from enum import StrEnum
from pathlib import Path
from typing import Literal

import av
import numpy as np
from numpy.typing import NDArray

from juxtakine.core.limits import MOST_PIXELS
from juxtakine.media.clips import APART_S, decoded, opened

Picture = NDArray[np.uint8]
SAME_S = 1e-4


class Decode(StrEnum):
    """Which frames are decoded: all, those that another one needs, or those that need no other one; the fewer the
    quicker."""

    ALL = "all"
    NEEDED = "needed"
    KEY = "key"


LEFT_OUT: dict[Decode, Literal["DEFAULT", "NONREF", "NONKEY"]] = {
    Decode.ALL: "DEFAULT",
    Decode.NEEDED: "NONREF",
    Decode.KEY: "NONKEY",
}
"""The decoder's own names."""


def frames(
    path: Path, start_s: float | None = None, end_s: float | None = None, decode: Decode = Decode.ALL
) -> Iterator[tuple[float, av.VideoFrame]]:
    """(seconds, frame as decoded), rising, from `start_s` or the beginning to `end_s` or the end; what can't be decoded
    is left out, and what claims to be from another time."""
    with opened(path) as file:
        video = file.streams.video[0]
        video.thread_type = "AUTO"
        video.codec_context.skip_frame = LEFT_OUT[Decode(decode)]
        base = float(video.time_base or 0)
        if start_s is not None:
            file.seek(int((start_s - 0.001) / base), stream=video)
        before, last = (-np.inf if start_s is None else start_s - 2e-6), np.inf if end_s is None else end_s
        for frame in decoded(file, video):
            seconds = -np.inf if frame.pts is None else frame.pts * base
            if last < seconds < last + APART_S:
                return
            # damaged files have stamps that run back or far ahead, and pictures of another size
            if before < seconds <= last and frame.width * frame.height <= MOST_PIXELS:
                before = seconds
                yield seconds, frame


def wanted_frames(
    path: Path, times: Sequence[float], slack_s: float = 0.0, decode: Decode = Decode.ALL
) -> Iterator[tuple[int, float, av.VideoFrame]]:
    """(which of the rising times, seconds, frame): the frame shown then, or up to `slack_s` later. A time whose frame
    is not decoded is left out."""
    i = 0
    for seconds, frame in frames(path, times[0], times[-1] + slack_s + SAME_S, decode):
        while i < len(times) and times[i] < seconds - slack_s - SAME_S:
            i += 1
        if i == len(times):
            return
        if times[i] <= seconds + SAME_S:
            yield i, seconds, frame
            i += 1


def upright(frame: av.VideoFrame, longest: int) -> Picture:
    """(height, width, 3) bytes, turned as the rotation flag says, its longer side at most `longest` pixels."""
    width, height = fitted(frame.width, frame.height, longest)
    rgb = frame.reformat(width, height, "rgb24").to_ndarray()
    return np.ascontiguousarray(np.rot90(rgb, round(frame.rotation / 90)))


def fitted(width: int, height: int, longest: int) -> tuple[int, int]:
    """The size scaled down (never up) to a longer side of `longest`, both even."""
    scale = min(1.0, longest / max(width, height))
    return max(2, round(width * scale / 2) * 2), max(2, round(height * scale / 2) * 2)
