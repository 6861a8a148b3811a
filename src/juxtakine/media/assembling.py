"""One clip put together from stretches of others, picture and sound."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import av.filter
import numpy as np
from numpy.typing import NDArray

from juxtakine.media.clips import decoded, opened, probe
from juxtakine.media.frames import Picture, fitted, frames, upright

SOUND_RATE = 44_100
LONGEST = 1280
_BASE = Fraction(1, 90_000)


@dataclass(frozen=True)
class ClipPart:
    """Of a clip, from one second to another of its own, at `speed` times its own speed; `flipped`: its picture is
    turned over, left for right."""

    clip: Path
    from_s: float
    to_s: float
    speed: float = 1.0
    flipped: bool = False

    @property
    def lasts_s(self) -> float:
        return (self.to_s - self.from_s) / self.speed


def assemble(parts: Sequence[ClipPart], to: Path, on_frame: Callable[[int], None] = lambda done: None) -> None:
    """Write the parts one after the other, in the first one's size; `on_frame` may raise to stop. Raises ClipError."""
    first = probe(parts[0].clip)
    width, height = fitted(first.width, first.height, LONGEST)
    heard = any(probe(p.clip).has_sound for p in parts)
    with av.open(str(to), "w", format="mp4") as out:
        video = out.add_stream("libx264", rate=max(1, round(first.fps)), options={"crf": "18", "preset": "superfast"})
        video.width, video.height, video.pix_fmt = width, height, "yuv420p"
        video.time_base = video.codec_context.time_base = _BASE
        audio = out.add_stream("aac", rate=SOUND_RATE, layout="mono") if heard else None
        at_s, done = 0.0, 0
        for part in parts:
            for seconds, frame in frames(part.clip, part.from_s, part.to_s):
                if seconds >= part.to_s:
                    break
                shown = _placed(upright(frame, LONGEST), width, height)
                picture = av.VideoFrame.from_ndarray(shown[:, ::-1] if part.flipped else shown, "rgb24")
                picture.pts, picture.time_base = round((at_s + (seconds - part.from_s) / part.speed) / _BASE), _BASE
                out.mux(video.encode(picture.reformat(format="yuv420p")))
                done += 1
                on_frame(done)
            at_s += part.lasts_s
        out.mux(video.encode())
        if audio is not None:
            whole = av.AudioFrame.from_ndarray(
                np.concatenate([_at_speed(_sound(p), p) for p in parts])[None], "fltp", "mono"
            )
            whole.sample_rate, whole.pts, whole.time_base = SOUND_RATE, 0, Fraction(1, SOUND_RATE)
            out.mux(audio.encode(whole))
            out.mux(audio.encode(None))


def _placed(picture: Picture, width: int, height: int) -> Picture:
    """The picture as large as it may be in the middle of another size."""
    scale = min(width / picture.shape[1], height / picture.shape[0])
    w, h = (max(2, round(n * scale / 2) * 2) for n in (picture.shape[1], picture.shape[0]))
    scaled = av.VideoFrame.from_ndarray(picture, "rgb24").reformat(w, h).to_ndarray().astype(np.uint8, copy=False)
    if (w, h) == (width, height):
        return scaled
    out = np.zeros((height, width, 3), np.uint8)
    y, x = (height - h) // 2, (width - w) // 2
    out[y : y + h, x : x + w] = scaled
    return out


def _sound(part: ClipPart) -> NDArray[np.float32]:
    """Exactly as long as the part; silent where nothing is heard."""
    out = np.zeros(round((part.to_s - part.from_s) * SOUND_RATE), np.float32)
    with opened(part.clip) as file:
        if not file.streams.audio:
            return out
        audio = file.streams.audio[0]
        resampler = av.AudioResampler("fltp", "mono", SOUND_RATE)
        file.seek(max(0, int((part.from_s - 0.5) / (audio.time_base or 1))), stream=audio)
        place: int | None = None
        for frame in decoded(file, audio):
            if place is None and frame.pts is not None:
                place = round((float(frame.pts * frame.time_base) - part.from_s) * SOUND_RATE)
            for piece in resampler.resample(frame):
                samples = piece.to_ndarray()[0]
                begin, end = np.clip([place or 0, (place or 0) + len(samples)], 0, len(out))
                out[begin:end] = samples[begin - (place or 0) : end - (place or 0)]
                place = (place or 0) + len(samples)
            if place is not None and place >= len(out):
                break
    return out


def _at_speed(samples: NDArray[np.float32], part: ClipPart) -> NDArray[np.float32]:
    """Faster or slower, the pitch kept, and exactly as long as the part lasts."""
    wanted = round(part.lasts_s * SOUND_RATE)
    if len(samples) != wanted:
        graph = av.filter.Graph()
        ends = graph.add_abuffer(format="fltp", sample_rate=SOUND_RATE, layout="mono"), graph.add("abuffersink")
        tempo = graph.add("atempo", f"{part.speed:.6f}")
        ends[0].link_to(tempo)
        tempo.link_to(ends[1])
        graph.configure()
        frame = av.AudioFrame.from_ndarray(samples[None], "fltp", "mono")
        frame.sample_rate, frame.pts, frame.time_base = SOUND_RATE, 0, Fraction(1, SOUND_RATE)
        graph.push(frame)
        graph.push(None)
        samples = np.concatenate([np.zeros(0, np.float32), *_pulled(graph)])
    return np.pad(samples[:wanted], (0, max(0, wanted - len(samples))))


def _pulled(graph: av.filter.Graph) -> Iterator[NDArray[np.float32]]:
    while True:
        try:
            yield graph.pull().to_ndarray()[0]
        except (av.error.BlockingIOError, av.error.EOFError):
            return
