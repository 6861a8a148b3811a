"""Who is in shot, by the real network; and what is a voice and what is not."""

from pathlib import Path

import numpy as np

from juxtakine.media.sightings import load_sightings, save_sightings, several_in_shot, sighted
from juxtakine.media.sound import read_sound
from juxtakine.media.voice import voice
from support.clips import REFERENCE, TAKES, together


def test_each_of_two_is_sighted_in_every_look_in_their_own_colours(tmp_path: Path) -> None:
    clip = together(tmp_path / "two.mp4", [REFERENCE, TAKES[0]], seconds=2)
    told: list[tuple[int, int]] = []
    seen = sighted(clip, tmp_path / "parts", lambda done, total: told.append((done, total)))
    assert told[-1] == (10, 10)
    assert np.abs(np.diff(seen.seconds) - 0.2).max() < 0.04
    there = np.isfinite(seen.places[..., 0])
    assert (there.sum(1) == 2).all()
    order = np.where(there, seen.places[..., 0], np.inf).argsort(1)[:, :2]
    shirts = np.array([seen.looks[t, order[t], 0] for t in range(len(order))])
    left, right = shirts[:, 0].mean(0), shirts[:, 1].mean(0)
    assert left.min() > right.max() - 0.1  # hers is pale, the student's blue
    assert right[2] > right[0] + 0.15
    save_sightings(seen, tmp_path / "people.npz")
    assert np.array_equal(load_sightings(tmp_path / "people.npz").points, seen.points, equal_nan=True)


def test_several_in_shot_are_told_from_few_frames(tmp_path: Path) -> None:
    two = together(tmp_path / "two.mp4", [REFERENCE, TAKES[0]], seconds=2)
    assert several_in_shot(two, tmp_path / "two", lambda: None)
    assert not several_in_shot(REFERENCE, tmp_path / "one", lambda: None)


def test_music_is_no_voice() -> None:
    samples = read_sound(REFERENCE, 0.0)
    assert samples is not None
    chances, chunk_s = voice(samples)
    assert len(chances) * chunk_s * 8_000 <= len(samples)
    assert (chances > 0.5).mean() < 0.02
