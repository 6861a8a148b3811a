"""Sound out of files of any rate: the same tone at the same time, silence where there is none."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.media.sound import PEAKS_PER_S, RATE, read_sound, wave

TONE_HZ = 440.0
PIECES = ((0.5, 1.0), (2.0, 2.6))
"""From and to, in seconds, where the tone sounds."""


def tone(rate: int, seconds: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
    sounds = sum((seconds >= a) & (seconds < b) for a, b in PIECES)
    return (0.5 * np.sin(2 * np.pi * TONE_HZ * seconds) * sounds).astype(np.float32)


def recorded(to: Path, rate: int, layout: str, gap: tuple[float, float] | None = None) -> Path:
    """Three seconds as a file; within the gap it has no packets at all."""
    with av.open(str(to), "w") as out:
        stream = out.add_stream("pcm_s16le" if to.suffix == ".mkv" else "aac", rate=rate, layout=layout)
        size = 1024
        for first in range(0, 3 * rate, size):
            if gap and gap[0] <= first / rate < gap[1]:
                continue
            samples = tone(rate, (first + np.arange(size)) / rate)
            planes = np.stack([samples] * (2 if layout == "stereo" else 1))
            frame = av.AudioFrame.from_ndarray(planes, "fltp", layout)
            frame.sample_rate, frame.pts, frame.time_base = rate, first, Fraction(1, rate)
            if to.suffix == ".mkv":
                (frame,) = av.AudioResampler("s16", layout, rate).resample(frame)
                frame.pts = first
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    return to


def heard_between(samples: np.ndarray, first_s: float, after_s: float) -> np.ndarray:  # type: ignore[type-arg]
    return samples[round(first_s * RATE) : round(after_s * RATE)]


@pytest.mark.parametrize("layout", ["mono", "stereo"])
@pytest.mark.parametrize("rate", [22_050, 44_100, 48_000])
def test_a_tone_sounds_when_and_as_it_did(tmp_path: Path, rate: int, layout: str) -> None:
    samples = read_sound(recorded(tmp_path / "tone.mp4", rate, layout), 0.0)
    assert samples is not None
    for first, after in PIECES:
        inside = heard_between(samples, first + 0.05, after - 0.05)
        spectrum = np.abs(np.fft.rfft(inside * np.hanning(len(inside))))
        assert np.fft.rfftfreq(len(inside), 1 / RATE)[spectrum.argmax()] == pytest.approx(TONE_HZ, abs=4)
        edge = np.flatnonzero(np.abs(heard_between(samples, first - 0.2, first + 0.2)) > 0.1)[0] / RATE - 0.2
        assert edge == pytest.approx(0.0, abs=0.01)
    assert np.abs(heard_between(samples, 1.2, 1.8)).max() < 0.02


def test_a_gap_is_silence_and_what_follows_keeps_its_time(tmp_path: Path) -> None:
    samples = read_sound(recorded(tmp_path / "gap.mkv", 44_100, "mono", gap=(1.1, 1.9)), 0.0)
    assert samples is not None
    assert np.abs(heard_between(samples, 1.2, 1.8)).max() == 0
    edge = np.flatnonzero(np.abs(heard_between(samples, 1.9, 2.3)) > 0.1)[0] / RATE + 1.9
    assert edge == pytest.approx(2.0, abs=0.01)


def test_what_starts_before_the_clip_is_left_out(tmp_path: Path) -> None:
    whole, later = (read_sound(recorded(tmp_path / "tone.mp4", 44_100, "mono"), s) for s in (0.0, 0.7))
    assert whole is not None
    assert later is not None
    n = len(later) - RATE // 10
    assert np.abs(later[:n] - whole[round(0.7 * RATE) :][:n]).max() < 0.02


@given(st.lists(st.floats(-1, 1, width=32), max_size=2000))
def test_a_wave_has_the_loudest_of_each_stretch(values: list[float]) -> None:
    samples = np.array(values, np.float32)
    peaks = wave(samples)
    step = RATE // PEAKS_PER_S
    assert len(peaks) == -(-len(samples) // step)
    assert ((peaks >= 0) & (peaks <= 1)).all()
    loudest = max((abs(v) for v in values), default=0.0)
    if loudest > 1e-3:
        assert peaks.max() == pytest.approx(1.0)
        assert int(peaks.argmax()) == int(np.abs(samples).argmax()) // step
