"""What a clip is, told without decoding all of it; a file that is no usable clip is refused with a sentence.

A damaged clip is used as far as it can be read: what can't be decoded is passed over, and a stretch whose time stamps
lie far from all others is left out.
"""

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from errno import ENOSPC
from pathlib import Path
from typing import Any

import av
import numpy as np
from av.container import InputContainer
from av.error import FFmpegError
from av.stream import Stream
from numpy.typing import NDArray

from juxtakine.core.limits import FARTHEST_S, LONGEST_CLIP_S, MOST_PIXELS

GONE = "The clip’s own file is not there any more. Choose it again: it takes its old place."
WHOLE = 0.9
SHORTEST_FRAME_S = 1e-3
APART_S = 60.0
"""Between the stamps of two frames: no camera pauses for so long within a file, damaged stamps do."""
MISSING_S = 0.4
"""A stretch without a picture that is told; a shorter one is seen by nobody."""
Seconds = NDArray[np.float64]


class ClipError(ValueError):
    """A clip that can't be used; the message is a sentence for the student."""


@dataclass(frozen=True)
class ClipFacts:
    """Seconds in the file's own time; `start_s` is its earliest stamp. Width and height are of the upright picture."""

    start_s: float
    duration_s: float
    width: int
    height: int
    fps: float
    frames: int
    has_sound: bool


@dataclass(frozen=True)
class ClipRead:
    """What a clip is, and (n,) rising presentation times of its frames, and of those that need no other one."""

    facts: ClipFacts
    times: Seconds
    keys: Seconds


@contextmanager
def opened(path: Path) -> Iterator[InputContainer]:
    """The clip's container. Raises ClipError when it can't be read as one."""
    try:
        with av.open(str(path), metadata_errors="ignore") as file:
            yield file
    except FileNotFoundError as error:
        raise ClipError(GONE) from error
    except (FFmpegError, OverflowError) as error:
        if getattr(error, "errno", None) == ENOSPC:
            raise
        raise ClipError("This file can't be read as a video. Choose the clip as your camera saved it.") from error


def decoded(file: InputContainer, stream: Stream) -> Iterator[Any]:
    """The stream's frames, as far as they can be decoded: what is damaged is passed over, and where the file can't be
    read on is its end."""
    packets = file.demux(stream)
    while True:
        try:
            packet = next(packets)
        except (StopIteration, FFmpegError):
            return
        try:
            found = packet.decode()
        except (FFmpegError, OverflowError):
            continue
        yield from found


def frame_times(path: Path, key_frames: bool = False) -> Seconds:
    """(n,) presentation times of the video's frames, or of its key frames alone, in seconds, rising; read from the
    packets, not decoded."""
    with opened(path) as file:
        times, keys = _stamps(file)
    return keys if key_frames else times


def _stamps(file: InputContainer) -> tuple[Seconds, Seconds]:
    """Of all frames and of the key frames, those far from most of them left out."""
    if not file.streams.video:
        return np.empty(0), np.empty(0)
    video = file.streams.video[0]
    stamps: list[tuple[int, bool]] = []
    with suppress(FFmpegError):  # what comes before the damage counts
        stamps += [(p.pts, p.is_keyframe) for p in file.demux(video) if p.pts is not None]
    seconds = np.array([pts for pts, _ in stamps], float) * float(video.time_base or 0)
    times = _together(np.unique(seconds))
    is_key = np.array([key for _, key in stamps], bool)
    keys = np.unique(seconds[is_key]) if len(stamps) else times
    return times, keys[np.isin(keys, times)]


def _together(times: Seconds) -> Seconds:
    """The longest row of rising times with no gap as no camera makes it."""
    rows = np.split(times, np.flatnonzero(np.diff(times) > APART_S) + 1)
    return max(rows, key=len)


def stretch_of(times: Seconds, start_s: float | None, end_s: float | None) -> Seconds:
    """The times inside the stretch. Raises ClipError where there are none."""
    inside = (times >= (-np.inf if start_s is None else start_s)) & (times <= (np.inf if end_s is None else end_s))
    if inside.sum() < 2:
        raise ClipError("There is no picture in the stretch that was asked for.")
    return times[inside]


def start_of(path: Path) -> float:
    """The earliest time stamp of a clip or of a sound, in seconds. Raises ClipError."""
    times = frame_times(path)
    with opened(path) as file:
        if not file.streams.video and not file.streams.audio:
            raise ClipError("There is neither picture nor sound in this file.")
        if len(times):
            return _start(file, times)
        return _sound_start(file) or 0.0


def probe(path: Path) -> ClipFacts:
    """What the clip is. Raises ClipError for what is not a whole, moving video of at most half an hour."""
    return read_clip(path).facts


def read_clip(path: Path) -> ClipRead:
    """What the clip is, and where its frames are. Raises ClipError as `probe` does."""
    if not path.is_file():
        raise ClipError(GONE)
    if path.stat().st_size == 0:
        raise ClipError("This file is empty. Copy it from the camera again.")
    with opened(path) as file:
        times, keys = _stamps(file)
    with opened(path) as file:  # anew, from its beginning
        if not file.streams.video:
            kind = "only sound" if file.streams.audio else "no picture"
            raise ClipError(f"This file has {kind} in it. Choose a video that shows the whole body.")
        if len(times) < 2:
            raise ClipError("This is a still picture. Choose a video that shows the whole routine.")
        step = float(np.median(np.diff(times)))
        duration = float(times[-1] - times[0] + step)
        if step < SHORTEST_FRAME_S or abs(times[0]) > FARTHEST_S:
            raise ClipError("The times of this file's pictures are damaged. Copy it from the camera again.")
        declared = _declared(file)
        # some containers count from 0 on, however late the first picture comes
        if declared and max(duration, float(times[-1]) + step) < WHOLE * declared:
            raise ClipError(
                f"This file breaks off after {duration:.0f} of {declared:.0f} seconds. Copy it from the camera again."
            )
        if duration > LONGEST_CLIP_S:
            raise ClipError(f"This clip is {duration / 60:.0f} minutes long; at most 30 can be taken. Cut it first.")
        width, height = _upright_size(file)
        heard = bool(file.streams.audio)
        facts = ClipFacts(_start(file, times), duration, width, height, 1 / step, len(times), heard)
    return ClipRead(facts, times, keys)


def missing(times: Seconds, seen: Seconds) -> list[tuple[float, float]]:
    """(from, to) seconds of the stretches of a clip's `times` that hold no picture among those `seen`."""
    found: list[tuple[float, float]] = []
    there = np.isin(np.round(times, 4), np.round(seen, 4))
    step = float(np.median(np.diff(times)))
    for run in np.split(np.arange(len(times)), np.flatnonzero(np.diff(there)) + 1):
        begin, end = float(times[run[0]]), float(times[run[-1]]) + step
        if not there[run[0]] and end - begin >= MISSING_S:
            found.append((begin, end))
    gaps = np.flatnonzero(np.diff(times) > max(MISSING_S, 8 * step))
    found += [(float(times[i]) + step, float(times[i + 1])) for i in gaps]
    return sorted(found)


def _declared(file: InputContainer) -> float | None:
    """Seconds that the file says its picture lasts, where it says so."""
    video = file.streams.video[0]
    if video.duration is not None and video.time_base is not None:
        return float(video.duration * video.time_base)
    return None if file.duration is None or file.streams.audio else file.duration / av.time_base


def _upright_size(file: InputContainer) -> tuple[int, int]:
    video = file.streams.video[0]
    # a stream in an unknown codec has none
    size = getattr(video, "codec_context", None)
    if size is not None and size.width * size.height > MOST_PIXELS:
        raise ClipError(f"This clip's pictures are too large: {size.width} by {size.height}. Save it smaller first.")
    frame = next(decoded(file, video), None) if size is not None else None
    if frame is None:
        raise ClipError("No picture in this file can be decoded. Choose the clip as your camera saved it.")
    return (frame.height, frame.width) if round(frame.rotation / 90) % 2 else (frame.width, frame.height)


def _start(file: InputContainer, times: Seconds) -> float:
    first, heard = float(times[0]), _sound_start(file)
    return min(first, heard) if heard is not None and abs(heard - first) < APART_S else first


def _sound_start(file: InputContainer) -> float | None:
    if not file.streams.audio:
        return None
    audio = file.streams.audio[0]
    if audio.start_time is None or audio.time_base is None:
        return None
    return float(audio.start_time * audio.time_base)
