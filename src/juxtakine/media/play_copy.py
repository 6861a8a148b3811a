"""The copy of a clip that every browser plays and seeks exactly: H.264 + AAC, at most 720p, fast start.

Its times are the clip's own less `start_s`, so that it starts at 0 whatever the camera wrote.
"""

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from juxtakine.media.clips import ClipFacts, opened
from juxtakine.media.frames import fitted, frames, upright

LONGEST = 1280
SHORTEST_SIDE = 720
KEY_EVERY_S = 0.5
SOUND_RATE = 44_100
_BASE = Fraction(1, 90_000)


def make_play_copy(clip: Path, facts: ClipFacts, to: Path, on_frame: Callable[[int], None]) -> None:
    """Write the copy to `to`; `on_frame` is told how many frames are done and may raise to stop."""
    width, height = _size(facts)
    with av.open(str(to), "w", format="mp4", options={"movflags": "faststart"}) as out:
        video = out.add_stream("libx264", rate=max(1, round(facts.fps)), options={"crf": "22", "preset": "superfast"})
        video.width, video.height, video.pix_fmt = width, height, "yuv420p"
        video.time_base = video.codec_context.time_base = _BASE
        audio = out.add_stream("aac", rate=SOUND_RATE, layout="mono") if facts.has_sound else None
        next_key = -np.inf
        for done, (seconds, frame) in enumerate(frames(clip), 1):
            picture = _upright_frame(frame, width, height)
            picture.pts, picture.time_base = round((seconds - facts.start_s) / _BASE), _BASE
            is_key = seconds >= next_key
            picture.pict_type = av.video.frame.PictureType.I if is_key else av.video.frame.PictureType.NONE
            # one frame early rather than late: the promise is "at most half a second apart"
            next_key = seconds + KEY_EVERY_S - 1.5 / facts.fps if is_key else next_key
            out.mux(video.encode(picture))
            on_frame(done)
        out.mux(video.encode())
        if audio is not None:
            _copy_sound(clip, facts.start_s, out, audio)


def _size(facts: ClipFacts) -> tuple[int, int]:
    """The upright size, neither side beyond 720p's."""
    scale = min(1.0, LONGEST / max(facts.width, facts.height), SHORTEST_SIDE / min(facts.width, facts.height))
    return fitted(facts.width, facts.height, round(max(facts.width, facts.height) * scale))


def _upright_frame(frame: av.VideoFrame, width: int, height: int) -> av.VideoFrame:
    if round(frame.rotation / 90) % 4 == 0:
        return frame.reformat(width, height, "yuv420p")
    turned = av.VideoFrame.from_ndarray(upright(frame, max(width, height)), "rgb24")
    return turned.reformat(width, height, "yuv420p")


def _copy_sound(clip: Path, start_s: float, out: av.container.OutputContainer, audio: av.AudioStream) -> None:
    resampler = av.AudioResampler("fltp", "mono", SOUND_RATE)
    with opened(clip) as file:
        for frame in file.decode(file.streams.audio[0]):
            stamp = None if frame.pts is None else float(frame.pts * frame.time_base) - start_s
            for part in resampler.resample(frame):
                if stamp is not None:
                    part.pts, part.time_base = round(stamp * SOUND_RATE), Fraction(1, SOUND_RATE)
                    stamp += part.samples / SOUND_RATE
                out.mux(audio.encode(part))
    for part in resampler.resample(None):
        out.mux(audio.encode(part))
    out.mux(audio.encode(None))
