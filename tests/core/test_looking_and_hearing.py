"""The cheap look and the sound of a clip, on small made-up tracks and sounds with known truth."""

import numpy as np
import pytest

from juxtakine.core.movement.tracks import Track
from juxtakine.core.watching.hearing import heard
from juxtakine.core.watching.looks import STEP_S, looks
from juxtakine.core.watching.tempo import kinds_of_music

RATE = 8_000
TORSO = 60.0


def standing(n: int, arms: float = 0.0, found: slice | None = None) -> Track:
    """Somebody seen twice a second whose wrists and elbows go `arms` torso lengths up and down from look to look."""
    image = np.zeros((n, 33, 2))
    image[:, :, 0], image[:, :, 1] = 300.0, 200.0
    image[:, [11, 12], 1] = 200.0 - TORSO
    image[1::2, 13:17, 1] += arms * TORSO
    seen = np.zeros(n, bool)
    seen[found or slice(None)] = True
    image[~seen] = np.nan
    world = np.zeros((n, 33, 3))
    visibility = np.where(seen[:, None], 1.0, 0.0) * np.ones((n, 33))
    return Track(
        np.arange(n) * STEP_S + 7.0, image, world, visibility, seen, np.ones(n, bool), 640, 360, "made up full"
    )


def test_ways_are_those_of_the_part_that_moves_most_in_torso_lengths_a_second() -> None:
    for arms in (0.0, 0.5, 1.5):
        told = looks(standing(20, arms), 7.0, 10.0)
        assert told.ways[1:-1] == pytest.approx(np.full(18, arms / STEP_S), abs=0.02)
        assert told.there.all()


def test_where_nobody_is_nothing_moves_and_a_jump_to_somebody_else_is_no_way() -> None:
    told = looks(standing(20, 1.0, found=slice(6, 14)), 7.0, 10.0)
    assert told.there.tolist() == [False] * 6 + [True] * 8 + [False] * 6
    assert (told.ways[~told.there] == 0).all()
    leaping = standing(20)
    leaping.image[10:] += [400.0, 0.0]
    assert looks(leaping, 7.0, 10.0).ways.max() < 0.01


def sound(*parts: tuple[str, float]) -> tuple[np.ndarray, np.ndarray, float]:
    """Samples of parts that are a voice, music or neither, over a quiet room; the chance of a voice in each 32 ms."""
    random = np.random.default_rng(1)
    pieces, spoken = [], []
    for kind, lasts in parts:
        t = np.arange(round(lasts * RATE)) / RATE
        room = random.normal(0, 0.002, len(t))
        syllables = (np.sin(2 * np.pi * 2.0 * t) > 0) * np.sin(2 * np.pi * 220 * t)
        beats = np.exp(-((t * 2) % 1) * 3) * np.sin(2 * np.pi * 330 * t) + 0.25 * np.sin(2 * np.pi * 110 * t)
        pieces.append(room + 0.3 * {"voice": syllables, "music": beats}.get(kind, np.zeros(len(t))))
        spoken.append(np.full(round(lasts / 0.032), 0.95 if kind == "voice" else 0.02))
    return np.concatenate(pieces).astype(np.float32), np.concatenate(spoken), 0.032


def test_music_is_told_from_a_voice_and_from_a_quiet_room() -> None:
    samples, spoken, chunk_s = sound(("none", 15), ("voice", 15), ("music", 15), ("none", 15))
    told = heard(samples, RATE, spoken, chunk_s, 120)
    middles = {name: slice(30 * k + 8, 30 * k + 22) for k, name in enumerate(("quiet", "voice", "music", "after"))}
    assert told.music[middles["music"]].mean() > 0.7
    assert all(told.music[middles[k]].mean() < 0.35 for k in ("quiet", "voice", "after"))
    assert told.voice[middles["voice"]].mean() > 0.9
    assert all(told.voice[middles[k]].mean() < 0.1 for k in ("quiet", "music", "after"))


def test_of_a_silent_clip_nothing_is_heard() -> None:
    for samples in (None, np.zeros(RATE * 5, np.float32)):
        told = heard(samples, RATE, np.zeros(150), 0.032, 10)
        assert (told.voice.tolist(), told.music.tolist()) == ([0.0] * 10, [0.0] * 10)


@pytest.mark.parametrize(
    ("bpm", "kinds"),
    [([], 0), ([96.0, 97.0], 1), ([96.0, 48.2, 191.0], 1), ([96.0, 120.0, 60.0], 2), ([80.0, 100.0, 130.0], 3)],
)
def test_another_tempo_is_another_music_unless_it_is_a_half_or_a_double(bpm: list[float], kinds: int) -> None:
    assert kinds_of_music(bpm) == kinds
