"""Any clip that cameras and phones write is read as it is; what is no clip is refused with a sentence."""

from pathlib import Path

import av
import numpy as np
import pytest

from juxtakine.media.clips import ClipError, frame_times, probe
from juxtakine.media.play_copy import make_play_copy
from juxtakine.media.sound import RATE, read_sound
from support.clips import REFERENCE, Kind, pictures, written

KINDS = [
    Kind(),
    Kind(".mov", rate=48_000, stereo=True),
    Kind(".mkv", "libx265", "libopus", 48_000),
    Kind(".webm", "libvpx", "libopus", 48_000),
    Kind(".webm", "libvpx-vp9", "libopus", 48_000, stereo=True),
    Kind(".webm", "libsvtav1", None),
    Kind(".avi", "mpeg4", "libmp3lame", 22_050),
    Kind(start_s=2.5),
    Kind(".mkv", uneven=True),
    Kind(rotated=90),
    Kind(rotated=180),
    Kind(audio=None, rotated=270),
]


def name(kind: Kind) -> str:
    more = [f"turned{kind.rotated}"] * bool(kind.rotated) + ["uneven"] * kind.uneven + ["late"] * bool(kind.start_s)
    return "-".join([kind.suffix[1:], kind.video, str(kind.audio), *more])


@pytest.mark.parametrize("kind", KINDS, ids=name)
def test_a_clip_is_read_and_its_play_copy_shows_the_same(tmp_path: Path, kind: Kind) -> None:
    clip = written(tmp_path, kind)
    facts = probe(clip)
    assert (facts.width, facts.height) == (640, 360)
    assert facts.frames == pytest.approx(90, abs=2)
    assert facts.duration_s == pytest.approx(3.0, abs=0.1)
    assert facts.has_sound == (kind.audio is not None)
    if kind.suffix != ".avi":
        assert facts.start_s == pytest.approx(kind.start_s, abs=0.05)
    copy = tmp_path / "play.mp4"
    make_play_copy(clip, facts, copy, lambda done: None)
    check_play_copy(clip, copy, facts.start_s)


def check_play_copy(clip: Path, copy: Path, start_s: float) -> None:
    shown, played = pictures(clip), pictures(copy)
    assert len(played) == len(shown)
    times = np.array([t for t, _ in played])
    assert np.allclose(times, [t - start_s for t, _ in shown], atol=0.002)
    assert times[0] >= 0
    for (_, want), (_, got) in list(zip(shown, played, strict=True))[::30]:
        assert np.abs(want.astype(int) - got.astype(int)).mean() < 6
    with av.open(str(copy)) as file:
        video = file.streams.video[0]
        assert video.codec_context.name == "h264"
        keys = [float(p.pts * p.time_base) for p in file.demux(video) if p.pts is not None and p.is_keyframe]
    assert np.diff([*keys, times[-1]]).max() <= 0.5 + 1e-6
    data = copy.read_bytes()
    assert data.index(b"moov") < data.index(b"mdat")


SOUNDS = [Kind(), Kind(".mkv", audio="libopus", rate=48_000, stereo=True), Kind(start_s=2.5)]


@pytest.mark.parametrize("kind", SOUNDS, ids=name)
def test_sound_is_where_it_was(tmp_path: Path, kind: Kind) -> None:
    """Whatever carries it: the music of the source, at the same place within what a codec adds."""
    clip = written(tmp_path, kind)
    heard = read_sound(clip, probe(clip).start_s)
    source = read_sound(REFERENCE, 0.0)
    assert heard is not None
    assert source is not None
    want = source[3 * RATE : 6 * RATE]
    n = min(len(heard), len(want)) - RATE // 10
    curve = np.correlate(want[:n], heard[: n - RATE // 4], "valid")
    assert np.argmax(curve) == pytest.approx(0, abs=0.03 * RATE)
    assert len(heard) == pytest.approx(3 * RATE, rel=0.05)


def test_time_stamps_are_those_of_the_file(tmp_path: Path) -> None:
    times = frame_times(written(tmp_path, Kind(".mkv", uneven=True)))
    short, long = np.diff(times)[1::2], np.diff(times)[::2]
    assert np.allclose(short, 1 / 30 - 0.012, atol=0.0015)
    assert np.allclose(long, 1 / 30 + 0.012, atol=0.0015)


def test_a_clip_larger_than_720p_is_copied_smaller(tmp_path: Path) -> None:
    big = tmp_path / "big.mp4"
    with av.open(str(big), "w") as out:
        video = out.add_stream("libx264", rate=30, options={"preset": "ultrafast"})
        video.width, video.height, video.pix_fmt = 1080, 1920, "yuv420p"
        for _ in range(10):
            out.mux(video.encode(av.VideoFrame(1080, 1920, "yuv420p")))
        out.mux(video.encode())
    copy = tmp_path / "copy.mp4"
    make_play_copy(big, probe(big), copy, lambda done: None)
    with av.open(str(copy)) as file:
        assert (file.streams.video[0].width, file.streams.video[0].height) == (720, 1280)


# what is no clip


def text_file(to: Path) -> None:
    to.write_text("not a video at all\n" * 50)


def empty(to: Path) -> None:
    to.touch()


def cut_off(to: Path) -> None:
    data = REFERENCE.read_bytes()
    to.write_bytes(data[: len(data) // 2])


def sound_alone(to: Path) -> None:
    with av.open(str(to), "w") as out:
        audio = out.add_stream("aac", rate=44_100, layout="mono")
        frame = av.AudioFrame.from_ndarray(np.zeros((1, 44_100), np.float32), "fltp", "mono")
        frame.sample_rate = 44_100
        out.mux(audio.encode(frame))
        out.mux(audio.encode(None))


def still_picture(to: Path) -> None:
    with av.open(str(to), "w", format="image2", options={"update": "1"}) as out:
        image = out.add_stream("mjpeg", rate=1)
        image.width, image.height, image.pix_fmt = 64, 64, "yuvj420p"
        out.mux(image.encode(av.VideoFrame.from_ndarray(np.zeros((64, 64, 3), np.uint8), "rgb24")))
        out.mux(image.encode())


def too_long(to: Path) -> None:
    with av.open(str(to), "w") as out:
        video = out.add_stream("libx264", rate=1, options={"preset": "ultrafast"})
        video.width, video.height, video.pix_fmt = 32, 32, "yuv420p"
        for i in range(31 * 60):
            frame = av.VideoFrame(32, 32, "yuv420p")
            frame.pts = i
            out.mux(video.encode(frame))
        out.mux(video.encode())


@pytest.mark.parametrize(
    ("make", "suffix", "sentence"),
    [
        (text_file, ".mp4", "can't be read as a video"),
        (empty, ".mp4", "This file is empty"),
        (cut_off, ".mp4", "breaks off after|can't be read as a video"),
        (sound_alone, ".mp4", "only sound"),
        (still_picture, ".jpg", "a still picture"),
        (too_long, ".mp4", "31 minutes long; at most 30"),
    ],
)
def test_what_is_no_clip_is_refused_with_a_sentence(tmp_path: Path, make, suffix: str, sentence: str) -> None:  # type: ignore[no-untyped-def]
    file = tmp_path / f"file{suffix}"
    make(file)
    with pytest.raises(ClipError, match=sentence):
        probe(file)
