"""Damaged clips of every kind of container and codec, broken in many ways: each is taken in, or refused in words."""

import os
import time
from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from random import Random

import av

from juxtakine.media import apart
from juxtakine.media.clips import ClipError
from juxtakine.media.play_copy import is_whole
from support.clips import REFERENCE, stretch

LAST_S = 1.5
WIDE, HIGH = 192, 108
LONGEST_S = 60.0
"""That one clip may take, from the door to its play copy."""
KINDS = (
    (".mp4", "libx264", "aac"), (".mov", "libx264", "aac"), (".mkv", "libx264", "libopus"),
    (".webm", "libvpx", "libopus"), (".webm", "libvpx-vp9", "libopus"), (".avi", "mpeg4", "libmp3lame"),
    (".ts", "libx264", "aac"),    (".mp4", "libx265", "aac"), (".mkv", "libsvtav1", None), (".mp4", "mpeg4", "aac"),
)  # fmt: skip
"""Seven containers, seven codecs."""


def bases(folder: Path) -> list[Path]:
    """One small whole clip of each kind."""
    os.environ["SVT_LOG"] = "-1"
    return [_written(folder / f"{n}{suffix}", video, audio) for n, (suffix, video, audio) in enumerate(KINDS)]


def _written(to: Path, video: str, audio: str | None) -> Path:
    with av.open(str(to), "w") as out:
        stream = out.add_stream(video, rate=30)
        stream.width, stream.height, stream.pix_fmt = WIDE, HIGH, "yuv420p"
        stream.codec_context.time_base = Fraction(1, 30)
        stream.codec_context.gop_size = 10
        stream.options = {"x265-params": "log-level=none"} if video == "libx265" else {}
        sound = audio and out.add_stream(audio, rate=48_000, layout="mono")
        for i, (_, frame) in enumerate(stretch(REFERENCE, 3, 3 + LAST_S)):
            small = frame.reformat(WIDE, HIGH, "yuv420p")
            small.pts, small.time_base = i, Fraction(1, 30)
            out.mux(stream.encode(small))
        out.mux(stream.encode(None))
        if sound:
            out.mux(p for p in _hum(sound))
    return to


def _hum(sound: av.AudioStream) -> Iterator[av.Packet]:
    silence = av.AudioFrame(format=sound.format.name, layout="mono", samples=round(48_000 * LAST_S))
    for plane in silence.planes:
        plane.update(bytes(plane.buffer_size))
    silence.sample_rate, silence.pts, silence.time_base = 48_000, 0, Fraction(1, 48_000)
    resampler = av.AudioResampler(sound.format.name, "mono", 48_000, sound.codec_context.frame_size or 960)
    for part in resampler.resample(silence):
        yield from sound.encode(part)
    yield from sound.encode(None)


def _flip(data: bytearray, random: Random) -> None:
    for _ in range(random.choice([1, 4, 30, 300])):
        data[random.randrange(len(data))] ^= 1 << random.randrange(8)


def _flip_head(data: bytearray, random: Random) -> None:
    """Where containers say what is in them."""
    for _ in range(random.choice([1, 3, 10])):
        data[random.randrange(min(len(data), 1500))] = random.randrange(256)


def _flip_tail(data: bytearray, random: Random) -> None:
    for _ in range(random.choice([1, 3, 10])):
        data[-1 - random.randrange(min(len(data), 3000))] = random.randrange(256)


def _cut(data: bytearray, random: Random) -> None:
    del data[random.randrange(1, len(data)) :]


def _blank(data: bytearray, random: Random) -> None:
    at, size = random.randrange(len(data)), random.randrange(1, len(data) // 3)
    data[at : at + size] = bytes(len(data[at : at + size]))


def _without(data: bytearray, random: Random) -> None:
    at = random.randrange(len(data))
    del data[at : at + random.randrange(1, 5000)]


def _twice(data: bytearray, random: Random) -> None:
    at = random.randrange(len(data))
    data[at:at] = data[at : at + random.randrange(1, 5000)]


def _noise(data: bytearray, random: Random) -> None:
    at = random.randrange(len(data))
    data[at : at + 200] = random.randbytes(len(data[at : at + 200]))


def _large(data: bytearray, random: Random) -> None:
    """Four bytes that say a very large number."""
    at = random.randrange(len(data) - 4)
    data[at : at + 4] = random.choice([b"\xff\xff\xff\xff", b"\x7f\xff\xff\xff", b"\x00\x0f\xff\xff"])


WAYS: tuple[Callable[[bytearray, Random], None], ...] = (
    _flip, _flip_head, _flip_tail, _cut, _blank, _without, _twice, _noise, _large,
)  # fmt: skip


@dataclass(frozen=True)
class Came:
    """What came of one damaged clip: a word, the sentence where it was refused, and how long it took."""

    name: str
    word: str
    said: str
    seconds: float


def damaged(folder: Path, n: int, seed: int) -> Iterator[Path]:
    """`n` clips, each kind in turn, each broken in one or two ways."""
    whole = bases(folder)
    random = Random(seed)
    for i in range(n):
        base = whole[i % len(whole)]
        data = bytearray(base.read_bytes())
        ways = random.sample(WAYS, random.choice([1, 1, 2]))
        for way in ways:
            if len(data) > 10:
                way(data, random)
        file = folder / f"{i:04d}{''.join(way.__name__ for way in ways)}{base.suffix}"
        file.write_bytes(data)
        yield file


def taken(clip: Path) -> Came:
    """Through the door and made ready to play, as the application does it. Raises what must never be raised."""
    began = time.monotonic()
    copy, sound = clip.with_suffix(".play"), clip.with_suffix(".npy")
    word, said = "at the door", ""
    try:
        facts = apart.read(clip).facts
        word = "when it was made ready"
        if facts.has_sound:
            apart.sound_of(clip, facts.start_s, sound)
        missing = apart.play_copy(clip, copy, lambda done: None)
        assert is_whole(copy)
        word = "taken in, with stretches missing" if missing else "taken in"
    except ClipError as refused:
        said = str(refused)
    finally:
        for file in (copy, sound, clip):
            file.unlink(missing_ok=True)
    return Came(clip.name, word if not said else f"refused {word}", said, time.monotonic() - began)


def all_taken(folder: Path, n: int, seed: int) -> list[Came]:
    with ThreadPoolExecutor(2) as pool:
        return list(pool.map(taken, damaged(folder, n, seed)))


def summary(came: list[Came]) -> str:
    words = Counter(c.word for c in came)
    told = ", ".join(f"{words[word]} {word}" for word in sorted(words))
    return f"{len(came)} damaged clips: {told}; the longest took {max(c.seconds for c in came):.1f} s"


def wrong(came: list[Came]) -> list[str]:
    """What must not be: too long, or no sentence that says what to do."""
    return [
        f"{c.name}: {c.word} in {c.seconds:.1f} s: {c.said}"
        for c in came
        if c.seconds > LONGEST_S or (c.said and not c.said.endswith("."))
    ]
