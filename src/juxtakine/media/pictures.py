"""A single picture of a clip, small, as a JPEG."""

from fractions import Fraction
from pathlib import Path

import av

from juxtakine.media.clips import ClipError
from juxtakine.media.frames import fitted, frames

QUALITY = 4


def picture(clip: Path, seconds: float, tall: int) -> bytes:
    """The frame shown at `seconds` of the clip, at most `tall` pixels high. Raises ClipError beyond its end."""
    frame = next((f for _, f in frames(clip, max(0.0, seconds))), None)
    if frame is None:
        raise ClipError("The clip has no picture there.")
    width, height = fitted(frame.width, frame.height, round(tall * max(1.0, frame.width / frame.height)))
    encoder = av.CodecContext.create("mjpeg", "w")
    encoder.width, encoder.height, encoder.pix_fmt = width, height, "yuvj420p"
    encoder.time_base = frame.time_base or Fraction(1, 90_000)
    encoder.options = {"qscale": str(QUALITY)}
    packets = encoder.encode(frame.reformat(width, height, "yuvj420p")) + encoder.encode(None)
    return b"".join(bytes(p) for p in packets)
