"""The copy of a clip that every browser plays and seeks exactly: H.264 + AAC, at most 720p, fast start.

Its times are the clip's own less `start_s`, so that it starts at 0 whatever the camera wrote.
"""

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from juxtakine.core.limits import LONGEST_CLIP_S
from juxtakine.media.clips import APART_S, ClipError, ClipFacts, Seconds
from juxtakine.media.frames import fitted, frames, upright
from juxtakine.media.sound import heard

LONGEST = 1280
SHORTEST_SIDE = 720
KEY_EVERY_S = 0.5
SOUND_RATE = 44_100
_BASE = Fraction(1, 90_000)


def make_play_copy(clip: Path, facts: ClipFacts, to: Path, on_frame: Callable[[int], None]) -> Seconds:
    """Write the copy to `to`; returns the times of the pictures that are in it, in the clip's own seconds. `on_frame`
    is told how many frames are done and may raise to stop. Raises ClipError where no picture can be decoded."""
    width, height = _size(facts)
    copied: list[float] = []
    with av.open(str(to), "w", format="mp4", options={"movflags": "faststart"}) as out:
        video = out.add_stream("libx264", rate=max(1, round(facts.fps)), options={"crf": "22", "preset": "superfast"})
        video.width, video.height, video.pix_fmt = width, height, "yuv420p"
        video.time_base = video.codec_context.time_base = _BASE
        audio = out.add_stream("aac", rate=SOUND_RATE, layout="mono") if facts.has_sound else None
        next_key = -np.inf
        for seconds, frame in frames(clip, end_s=facts.start_s + facts.duration_s + APART_S):
            picture = _upright_frame(frame, width, height)
            picture.pts, picture.time_base = round((seconds - facts.start_s) / _BASE), _BASE
            is_key = seconds >= next_key
            picture.pict_type = av.video.frame.PictureType.I if is_key else av.video.frame.PictureType.NONE
            # one frame early rather than late: the promise is "at most half a second apart"
            next_key = seconds + KEY_EVERY_S - 1.5 / facts.fps if is_key else next_key
            out.mux(video.encode(picture))
            copied.append(seconds)
            on_frame(len(copied))
        if len(copied) < 2:
            raise ClipError("No picture in this file can be decoded. Choose the clip as your camera saved it.")
        out.mux(video.encode())
        if audio is not None:
            _copy_sound(clip, facts.start_s, out, audio)
    return np.array(copied)


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
    place = 0
    for stamp, part in heard(clip, SOUND_RATE):
        due = place if stamp is None else round((stamp - start_s) * SOUND_RATE)
        # damaged stamps run back or far ahead
        place = due if place <= due < LONGEST_CLIP_S * SOUND_RATE else place
        part.pts, part.time_base = place, Fraction(1, SOUND_RATE)
        place += part.samples
        out.mux(audio.encode(part))
    out.mux(audio.encode(None))


def is_whole(copy: Path) -> bool:
    """Whether it is there and as long as its own parts say: what a full disk or a lost power cuts off is told."""
    try:
        with copy.open("rb") as file:
            end, at, kinds = copy.stat().st_size, 0, []
            while at < end:
                file.seek(at)
                head = file.read(16)
                size, kind = int.from_bytes(head[:4]), head[4:8]
                size = int.from_bytes(head[8:16]) if size == 1 else size
                if size < 8:
                    return False
                kinds.append(kind)
                at += size
        return at == end and {b"ftyp", b"moov", b"mdat"} <= set(kinds)
    except OSError:
        return False
