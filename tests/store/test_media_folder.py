"""The files of clips by content: kept once, whole or not at all, and gone without a trace."""

import hashlib
import subprocess
from pathlib import Path

import numpy as np
import pytest

from juxtakine.store.media_folder import MediaFolder


@pytest.fixture
def folder(tmp_path: Path) -> MediaFolder:
    return MediaFolder(tmp_path / "media")


def arrived(folder: MediaFolder, data: bytes) -> str:
    file = folder.incoming()
    file.write_bytes(data)
    content = hashlib.sha256(data).hexdigest()
    folder.take_in(file, content)
    return content


def files(folder: MediaFolder) -> list[str]:
    return sorted(f.name for f in folder.root.rglob("*") if f.is_file())


def test_the_same_bytes_are_kept_once_and_other_ones_beside_them(folder: MediaFolder) -> None:
    first, again, other = (arrived(folder, data) for data in (b"a clip", b"a clip", b"another"))
    assert first == again != other
    assert files(folder) == ["clip", "clip"]
    assert folder.clip(first).read_bytes() == b"a clip"
    folder.forget(first)
    assert not folder.of(first).exists()
    assert folder.clip(other).read_bytes() == b"another"


def test_a_play_copy_is_whole_or_not_there(folder: MediaFolder) -> None:
    content = arrived(folder, b"a clip")

    def breaks_off(to: Path) -> None:
        to.write_bytes(b"half")
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        folder.make_play_copy(content, breaks_off)
    assert files(folder) == ["clip"]
    folder.make_play_copy(content, lambda to: to.write_bytes(b"whole") and None)
    with pytest.raises(KeyboardInterrupt):
        folder.make_play_copy(content, breaks_off)  # what is there stays until another one is whole
    assert folder.play_copy(content).read_bytes() == b"whole"


def test_sound_wave_and_beats_come_back_as_they_were_kept(folder: MediaFolder) -> None:
    content = arrived(folder, b"a clip")
    assert (folder.sound(content), folder.wave(content), folder.beats(content, "0-8")) == (None, None, None)
    samples, wave = np.array([0.1, -0.2, 0.3], np.float32), np.array([0.5, 1.0], np.float32)

    def save(to: Path) -> bool:
        with to.open("wb") as file:
            np.save(file, samples)
        return True

    assert np.array_equal(folder.make_sound(content, save), samples)
    assert folder.make_sound(arrived(folder, b"silent"), lambda to: False) is None
    folder.keep_wave(content, wave)
    folder.keep_beats(content, "0-8", {"paces": []})
    assert np.array_equal(folder.sound(content), samples)
    assert folder.wave(content) == [0.5, 1.0]
    assert (folder.beats(content, "0-8"), folder.beats(content, "0-9")) == ({"paces": []}, None)


def test_what_comes_in_to_a_process_that_lives_is_left_and_what_came_to_a_dead_one_goes(folder: MediaFolder) -> None:
    """Two web servers take clips in, and either may be started again beside the other."""
    ours = folder.incoming()
    ours.write_bytes(b"half a clip")
    dead = subprocess.Popen(["true"])
    dead.wait()
    ours.with_name(f"{dead.pid}.{ours.name}").write_bytes(b"half of another")
    folder.clear_incoming()
    assert files(folder) == [ours.name]
