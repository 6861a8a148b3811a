"""A clip put together from stretches: picture and sound stand where they should, turned over and at another speed."""

from pathlib import Path

import numpy as np
import pytest
from scipy.signal import correlate

from juxtakine.media.assembling import ClipPart, assemble
from juxtakine.media.clips import probe
from juxtakine.media.sound import RATE, read_sound
from support.clips import BACK, REFERENCE, pictures

PARTS = [
    ClipPart(REFERENCE, 2.0, 4.0),
    ClipPart(REFERENCE, 5.0, 8.0, speed=1.5, flipped=True),
    ClipPart(BACK, 3.0, 4.0),
]


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> Path:
    to = tmp_path_factory.mktemp("assembled") / "clip.mp4"
    assemble(PARTS, to)
    return to


def shown(path: Path, at: float) -> np.ndarray:
    return min(pictures(path), key=lambda p: abs(p[0] - at))[1].astype(float)


def test_each_part_lasts_as_long_as_its_speed_says(made: Path) -> None:
    facts = probe(made)
    assert (facts.width, facts.height, facts.has_sound) == (640, 360, True)
    assert facts.duration_s == pytest.approx(5.0, abs=0.05)


@pytest.mark.parametrize(
    ("at", "source", "second", "flipped"),
    [(1.0, REFERENCE, 3.0, False), (3.0, REFERENCE, 6.5, True), (4.5, BACK, 3.5, False)],
)
def test_a_picture_stands_at_its_time(made: Path, at: float, source: Path, second: float, flipped: bool) -> None:
    true = shown(source, second)
    found = shown(made, at)
    away = np.abs(found - (true[:, ::-1] if flipped else true)).mean()
    turned = np.abs(found - (true if flipped else true[:, ::-1])).mean()
    assert away < 4 < turned


def test_the_sound_stays_with_its_picture_and_keeps_its_pitch(made: Path) -> None:
    whole, heard = (read_sound(p, 0.0) for p in (REFERENCE, made))
    assert whole is not None
    assert heard is not None
    piece, true = heard[round(0.5 * RATE) : round(1.5 * RATE)], whole[round(2.3 * RATE) : round(3.7 * RATE)]
    late = int(correlate(true, piece, "valid").argmax()) / RATE - 0.2
    assert abs(late) < 0.005
    assert np.abs(heard[round(4.1 * RATE) : round(4.9 * RATE)]).max() < 0.01  # a clip without sound is silent

    def spectrum(samples: np.ndarray) -> np.ndarray:
        power = np.abs(np.fft.rfft(samples * np.hanning(len(samples)), 4 * RATE))
        return np.asarray(power[: 4 * 1000].reshape(-1, 8).max(1))  # to 1 kHz, in steps of 2 Hz

    fast, slow = (
        spectrum(heard[round(2.1 * RATE) : round(3.9 * RATE)]),
        spectrum(whole[round(5.15 * RATE) : round(7.85 * RATE)]),
    )
    kept = float(np.corrcoef(fast, slow)[0, 1])
    risen = np.interp(np.arange(len(slow)) / 1.5, np.arange(len(slow)), slow)
    assert kept > 0.7 > float(np.corrcoef(fast, risen)[0, 1])
