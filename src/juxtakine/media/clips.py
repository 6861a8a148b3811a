"""What a clip is, told without decoding all of it; a file that is no usable clip is refused with a sentence."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import av
import numpy as np
from av.container import InputContainer
from av.error import FFmpegError
from numpy.typing import NDArray

LONGEST_S = 30 * 60
WHOLE = 0.9


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


@contextmanager
def opened(path: Path) -> Iterator[InputContainer]:
    """The clip's container. Raises ClipError when it can't be read as one."""
    try:
        with av.open(str(path), metadata_errors="ignore") as file:
            yield file
    except FFmpegError as error:
        raise ClipError("This file can't be read as a video. Choose the clip as your camera saved it.") from error


def frame_times(path: Path, key_frames: bool = False) -> NDArray[np.float64]:
    """(n,) presentation times of the video's frames, or of its key frames alone, in seconds, rising; read from the
    packets, not decoded."""
    with opened(path) as file:
        if not file.streams.video:
            return np.empty(0)
        video = file.streams.video[0]
        stamps = [p.pts for p in file.demux(video) if p.pts is not None and (p.is_keyframe or not key_frames)]
        return np.unique(np.array(stamps, float)) * float(video.time_base or 0)


def stretch_times(clip: Path, start_s: float | None, end_s: float | None) -> NDArray[np.float64]:
    """The frames' times inside the stretch. Raises ClipError where there are none."""
    times = frame_times(clip)
    inside = (times >= (start_s if start_s is not None else -np.inf)) & (times <= (end_s or np.inf))
    if inside.sum() < 2:
        raise ClipError("There is no picture in the stretch that was asked for.")
    return times[inside]


def start_of(path: Path) -> float:
    """The earliest time stamp of a clip or of a sound, in seconds. Raises ClipError."""
    times = frame_times(path)
    with opened(path) as file:
        if not file.streams.video and not file.streams.audio:
            raise ClipError("There is neither picture nor sound in this file.")
        first = float(times[0]) if len(times) else np.inf
        return min(first, _sound_start(file, first if len(times) else 0.0))


def probe(path: Path) -> ClipFacts:
    """What the clip is. Raises ClipError for what is not a whole, moving video of at most half an hour."""
    if path.stat().st_size == 0:
        raise ClipError("This file is empty. Copy it from the camera again.")
    times = frame_times(path)
    with opened(path) as file:
        if not file.streams.video:
            kind = "only sound" if file.streams.audio else "no picture"
            raise ClipError(f"This file has {kind} in it. Choose a video that shows the whole body.")
        if len(times) < 2:
            raise ClipError("This is a still picture. Choose a video that shows the whole routine.")
        duration = float(times[-1] - times[0] + np.median(np.diff(times)))
        declared = _declared(file)
        if declared and duration < WHOLE * declared:
            raise ClipError(
                f"This file breaks off after {duration:.0f} of {declared:.0f} seconds. Copy it from the camera again."
            )
        if duration > LONGEST_S:
            raise ClipError(f"This clip is {duration / 60:.0f} minutes long; at most 30 can be taken. Cut it first.")
        width, height = _upright_size(file)
        start = min(float(times[0]), _sound_start(file, float(times[0])))
        return ClipFacts(
            start, duration, width, height, 1 / float(np.median(np.diff(times))), len(times), bool(file.streams.audio)
        )


def _declared(file: InputContainer) -> float | None:
    """Seconds that the file says its picture lasts, where it says so."""
    video = file.streams.video[0]
    if video.duration is not None and video.time_base is not None:
        return float(video.duration * video.time_base)
    return None if file.duration is None or file.streams.audio else file.duration / av.time_base


def _upright_size(file: InputContainer) -> tuple[int, int]:
    frame = next(file.decode(video=0), None)
    if frame is None:
        raise ClipError("No picture in this file can be decoded. Choose the clip as your camera saved it.")
    return (frame.height, frame.width) if round(frame.rotation / 90) % 2 else (frame.width, frame.height)


def _sound_start(file: InputContainer, otherwise: float) -> float:
    if not file.streams.audio:
        return otherwise
    audio = file.streams.audio[0]
    if audio.start_time is None or audio.time_base is None:
        return otherwise
    return float(audio.start_time * audio.time_base)
