"""Clips of every kind, made from a shipped one: containers, codecs, rotation, uneven times, no sound, broken files."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

from juxtakine.core.movement.tracks import Track
from juxtakine.demo.load import TRACKS
from juxtakine.demo.shoot import CLIPS
from juxtakine.media.track_file import load_track

REFERENCE = CLIPS / "reference.mp4"
BACK = CLIPS / "back.mp4"
TAKES = [CLIPS / f"take-{n}.mp4" for n in (1, 2, 3)]
TICK = Fraction(1, 90_000)


def shipped(clip: Path) -> Track:
    """What the estimator saw in a shipped clip."""
    return load_track(TRACKS / f"{clip.stem}.npz")


@dataclass(frozen=True)
class Kind:
    """How a clip is written. `rotated` degrees are left to the player; `uneven` frames come early and late by turns."""

    suffix: str = ".mp4"
    video: str = "libx264"
    audio: str | None = "aac"
    rate: int = 44_100
    stereo: bool = False
    start_s: float = 0.0
    uneven: bool = False
    rotated: int = 0


PLAIN = Kind()


def written(folder: Path, kind: Kind = PLAIN, source: Path = REFERENCE, first_s: float = 3, last_s: float = 6) -> Path:
    """A stretch of the source in another kind of file, with the same picture and sound at the same times."""
    to = folder / f"clip-{kind.video}-{kind.rotated}{kind.suffix}"
    with av.open(str(to), "w") as out:
        video = out.add_stream(kind.video, rate=30)
        video.width, video.height, video.pix_fmt = 640, 360, "yuv420p"
        video.codec_context.time_base = TICK if kind.video != "mpeg4" else Fraction(1, 30)
        if kind.video == "libsvtav1":
            video.options = {"preset": "12"}
        audio = kind.audio and out.add_stream(kind.audio, rate=kind.rate, layout="stereo" if kind.stereo else "mono")
        for i, (seconds, frame) in enumerate(stretch(source, first_s, last_s)):
            picture = turned(frame, kind.rotated)
            late = 0.012 * (i % 2) if kind.uneven else 0.0
            picture.pts, picture.time_base = round((seconds - first_s + kind.start_s + late) / TICK), TICK
            if i == 0:
                video.width, video.height = picture.width, picture.height
            out.mux(video.encode(picture))
        out.mux(video.encode())
        if audio:
            for packet in sound(source, first_s, last_s, audio, kind):
                out.mux(packet)
    return marked_as_turned(to, kind.rotated) if kind.rotated else to


def stretch(source: Path, first_s: float, last_s: float) -> Iterator[tuple[float, av.VideoFrame]]:
    with av.open(str(source)) as file:
        for frame in file.decode(video=0):
            if frame.time is not None and first_s <= frame.time < last_s:
                yield frame.time, frame


def turned(frame: av.VideoFrame, degrees: int) -> av.VideoFrame:
    """As a phone writes it that is held so that players have to turn the picture clockwise by these degrees."""
    if not degrees:
        return frame.reformat(format="yuv420p")
    rgb = np.ascontiguousarray(np.rot90(frame.to_ndarray(format="rgb24"), degrees // 90))
    return av.VideoFrame.from_ndarray(rgb, "rgb24").reformat(format="yuv420p")


def marked_as_turned(path: Path, degrees: int) -> Path:
    """The display matrix in the track's header, as phones write it: 16.16 fixed point, by hand as PyAV can't."""
    one = 1 << 16
    turns = {90: (0, one, -one, 0), 180: (-one, 0, 0, -one), 270: (0, -one, one, 0)}[degrees]
    data = bytearray(path.read_bytes())
    plain = b"".join(v.to_bytes(4, "big", signed=True) for v in (one, 0, 0, 0, one, 0, 0, 0, 1 << 30))
    a, b, c, d = turns
    matrix = b"".join(v.to_bytes(4, "big", signed=True) for v in (a, b, 0, c, d, 0, 0, 0, 1 << 30))
    header = data.index(plain, data.index(b"tkhd"))
    data[header : header + len(plain)] = matrix
    path.write_bytes(data)
    return path


def sound(source: Path, first_s: float, last_s: float, audio: av.AudioStream, kind: Kind) -> Iterator[av.Packet]:
    resampler = av.AudioResampler(audio.format.name, audio.layout.name, kind.rate)
    with av.open(str(source)) as file:
        heard = np.concatenate([f.to_ndarray()[0] for f in file.decode(audio=0)])
        rate = file.streams.audio[0].rate
    piece = np.ascontiguousarray(heard[int(first_s * rate) : int(last_s * rate)][None])
    frame = av.AudioFrame.from_ndarray(piece.astype(np.float32), "fltp", "mono")
    frame.sample_rate = rate
    frame.pts, frame.time_base = round(kind.start_s * rate), Fraction(1, rate)
    for part in (*resampler.resample(frame), *resampler.resample(None)):
        yield from audio.encode(part)
    yield from audio.encode(None)


def pictures(path: Path) -> list[tuple[float, NDArray[np.uint8]]]:
    """Every frame as shown, small, with its time."""
    with av.open(str(path)) as file:
        return [
            (float(f.time or 0), np.rot90(f.to_ndarray(format="rgb24", width=64, height=64), round(f.rotation / 90)))
            for f in file.decode(video=0)
        ]


def another(folder: Path, source: Path, name: str = "clip.mp4", heard_later_s: float = 0.0) -> Path:
    """The same picture and sound in a file with other bytes: nothing of it was ever measured. `heard_later_s`: by so
    much its sound comes later, so that whoever dances in it is ahead."""
    to = folder / name
    with av.open(str(source)) as file, av.open(str(to), "w") as out:
        out.metadata["comment"] = str(to)
        streams = {s.index: out.add_stream_from_template(s) for s in file.streams}
        for packet in file.demux():
            if packet.dts is not None:
                if packet.stream.type == "audio":
                    later = round(heard_later_s / packet.time_base)
                    packet.pts, packet.dts = packet.pts + later, packet.dts + later
                packet.stream = streams[packet.stream.index]
                out.mux(packet)
    return to


def picture_of_a_wall(to: Path) -> None:
    """A second with nobody in it."""
    with av.open(str(to), "w") as out:
        video = out.add_stream("libx264", rate=30)
        video.width, video.height, video.pix_fmt = 320, 180, "yuv420p"
        for _ in range(30):
            out.mux(video.encode(av.VideoFrame.from_ndarray(np.full((180, 320, 3), 90, np.uint8), "rgb24")))
        out.mux(video.encode())


def stretched(folder: Path, source: Path, times: float) -> Path:
    """The same pictures, each lasting so many times as long; no sound."""
    to = folder / "stretched.mp4"
    with av.open(str(to), "w") as out:
        video = out.add_stream("libx264", rate=30)
        video.width, video.height, video.pix_fmt = 640, 360, "yuv420p"
        video.codec_context.time_base = TICK
        for seconds, frame in stretch(source, 0, 99):
            picture = frame.reformat(format="yuv420p")
            picture.pts, picture.time_base = round(seconds * times / TICK), TICK
            out.mux(video.encode(picture))
        out.mux(video.encode())
    return to


@dataclass(frozen=True)
class Passage:
    """Of a tutorial: the source from one second to another, `times` as long; or one of its pictures, standing."""

    first_s: float
    last_s: float
    times: float = 1.0
    stands_s: float = 0.0

    @property
    def lasts_s(self) -> float:
        return self.stands_s or (self.last_s - self.first_s) * self.times


def tutorial(to: Path, passages: list[Passage], source: Path = REFERENCE, fps: int = 15) -> Path:
    """One clip of several passages; the source's sound where it is danced at its tempo, silence elsewhere."""
    rate = 44_100
    with av.open(str(source)) as file:
        heard = np.concatenate([f.to_ndarray()[0] for f in file.decode(audio=0)])
    frames = [(s, f.reformat(format="yuv420p")) for s, f in stretch(source, 0, 99)]
    times = np.array([s for s, _ in frames])
    sounds, start = [], 0.0
    with av.open(str(to), "w") as out:
        video = out.add_stream("libx264", rate=fps, options={"preset": "ultrafast"})
        video.width, video.height, video.pix_fmt = 640, 360, "yuv420p"
        video.codec_context.time_base = TICK
        audio = out.add_stream("aac", rate=rate, layout="mono")
        for p in passages:
            for k in range(round(p.lasts_s * fps)):
                at = p.first_s + (0 if p.stands_s else k / fps / p.times)
                picture = frames[min(len(frames) - 1, int(np.searchsorted(times, at)))][1]
                picture.pts, picture.time_base = round((start + k / fps) / TICK), TICK
                picture.pict_type = av.video.frame.PictureType.NONE
                out.mux(video.encode(picture))
            quiet = np.zeros(round(p.lasts_s * rate), np.float32)
            if not p.stands_s and p.times == 1:
                piece = heard[round(p.first_s * rate) :][: len(quiet)]
                quiet[: len(piece)] = piece
            sounds.append(quiet)
            start += round(p.lasts_s * fps) / fps
        out.mux(video.encode())
        frame = av.AudioFrame.from_ndarray(np.concatenate(sounds)[None], "fltp", "mono")
        frame.sample_rate = rate
        out.mux(audio.encode(frame))
        out.mux(audio.encode())
    return to


LONG = [Passage(1, 1, stands_s=50), Passage(3, 9, times=2), Passage(1, 1, stands_s=14), Passage(2, 18),
        Passage(26, 26, stands_s=14)]  # fmt: skip
"""A long clip: somebody stands, dances at half the tempo, stands, dances to the music, stands."""
LONG_RUN = (76.0, 92.0)
"""Where it is danced to the music, in seconds."""


def together(to: Path, sources: list[Path], seconds: float = 4.0) -> Path:
    """Several dancers side by side in one picture, each from a clip of their own; no sound."""
    wide = 640 // len(sources) // 2 * 2
    lefts = [_left_of(s, wide, seconds) for s in sources]
    with av.open(str(to), "w") as out:
        video = out.add_stream("libx264", rate=30)
        video.width, video.height, video.pix_fmt = wide * len(sources), 360, "yuv420p"
        video.codec_context.time_base = TICK
        for frames in zip(*(stretch(s, 3, 3 + seconds) for s in sources), strict=False):
            row = [f.to_ndarray(format="rgb24")[:, x : x + wide] for x, (_, f) in zip(lefts, frames, strict=True)]
            picture = av.VideoFrame.from_ndarray(np.ascontiguousarray(np.concatenate(row, axis=1)), "rgb24")
            picture.pts, picture.time_base = round((frames[0][0] - 3) / TICK), TICK
            out.mux(video.encode(picture))
        out.mux(video.encode())
    return to


def far_away(to: Path, source: Path, times: float, seconds: float = 2.0) -> Path:
    """The picture so many times smaller in the middle of a wall as large as it was, with the grain of a dim room."""
    random = np.random.default_rng(1)
    with av.open(str(to), "w") as out:
        video = out.add_stream("libx264", rate=30)
        video.width, video.height, video.pix_fmt = 640, 360, "yuv420p"
        wide, high = round(640 / times / 2) * 2, round(360 / times / 2) * 2
        left, top = (640 - wide) // 2, (360 - high) // 2
        for _, frame in stretch(source, 3, 3 + seconds):
            wall = np.full((360, 640, 3), 120.0)
            wall[top : top + high, left : left + wide] = frame.reformat(wide, high, "rgb24").to_ndarray()
            grainy = np.clip(wall + random.normal(0, 12, (360, 640, 1)), 0, 255).astype(np.uint8)
            out.mux(video.encode(av.VideoFrame.from_ndarray(grainy, "rgb24")))
        out.mux(video.encode())
    return to


def _left_of(source: Path, wide: int, seconds: float) -> int:
    """Where a strip of the shipped clip begins that has its dancer in the middle, by its shipped track."""
    with np.load(TRACKS / f"{source.stem}.npz") as track:
        inside = (track["seconds"] >= 3) & (track["seconds"] < 3 + seconds)
        middle = float(track["image"][inside][:, [23, 24], 0].mean())
    return int(np.clip(middle - wide / 2, 0, 640 - wide))
