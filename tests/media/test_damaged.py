"""Damaged and odd clips, each read in a process of its own: used as far as they can be, and what is missing is told."""

import errno
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest

from juxtakine.media import apart, children
from juxtakine.media.clips import ClipError, frame_times, read_clip
from juxtakine.media.play_copy import is_whole
from juxtakine.media.pose import Chunk
from juxtakine.media.processes import run_all
from support.clips import Kind, written


def rewritten(clip: Path, to: Path, without: range = range(0), later: dict[int, float] | None = None) -> Path:
    """The same packets, those in `without` made unreadable, and some stamped later by seconds."""
    with av.open(str(clip)) as file, av.open(str(to), "w") as out:
        stream = out.add_stream_from_template(file.streams.video[0])
        for n, packet in enumerate(p for p in file.demux(video=0) if p.dts is not None):
            made = av.Packet(b"\xff" * packet.size if n in without else bytes(packet))
            more = round((later or {}).get(n, 0.0) / packet.time_base)
            made.pts, made.dts, made.time_base = packet.pts + more, packet.dts + more, packet.time_base
            made.is_keyframe, made.stream = packet.is_keyframe, stream
            out.mux(made)
    return to


def test_past_damage_it_goes_on_and_says_what_is_missing(tmp_path: Path) -> None:
    whole = written(tmp_path, Kind(".mkv", "mpeg4", audio=None))
    broken = rewritten(whole, tmp_path / "broken.mkv", without=range(36, 48))
    copy = tmp_path / "play.mp4"
    missing = apart.play_copy(broken, copy, lambda done: None)
    assert is_whole(copy)
    (first, last), *_ = missing
    assert 1.1 < first < 1.4
    assert last > first + 0.3
    assert len(frame_times(copy)) < len(frame_times(whole))
    assert frame_times(copy)[-1] == pytest.approx(frame_times(whole)[-1] - read_clip(whole).facts.start_s, abs=0.05)


@pytest.mark.parametrize("suffix", [".mkv", ".webm"])
def test_a_silent_clip_whose_stamps_start_late_is_whole(tmp_path: Path, suffix: str) -> None:
    video = "libvpx" if suffix == ".webm" else "libx264"
    facts = read_clip(written(tmp_path, Kind(suffix, video, audio=None, start_s=60.0))).facts
    assert facts.start_s == pytest.approx(60, abs=0.05)
    assert facts.duration_s == pytest.approx(3, abs=0.1)


def test_stamps_from_another_time_do_not_make_a_clip_of_hours(tmp_path: Path) -> None:
    whole = written(tmp_path, Kind(".mkv", "mpeg4", audio=None))
    far = rewritten(whole, tmp_path / "far.mkv", later=dict.fromkeys(range(85, 90), 9 * 3600.0))
    assert len(frame_times(far)) == 85
    with pytest.raises(ClipError, match="breaks off after 3 of 324"):
        apart.read(far)


def test_a_picture_beyond_all_size_is_refused_before_it_is_drawn(tmp_path: Path) -> None:
    large = tmp_path / "large.avi"
    with av.open(str(large), "w") as out:
        stream = out.add_stream("mjpeg", rate=30)
        stream.width, stream.height, stream.pix_fmt = 9000, 6000, "yuvj420p"
        for n in range(2):
            frame = av.VideoFrame(9000, 6000, "yuvj420p")
            frame.pts, frame.time_base = n, Fraction(1, 30)
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    with pytest.raises(ClipError, match="too large: 9000 by 6000"):
        apart.read(large)


def test_what_does_not_come_to_an_end_is_ended(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(children, "STALLED_S", 0.01)
    monkeypatch.setattr(apart, "WAIT_S", 0.01)
    with pytest.raises(ClipError, match="within what this machine can give"):
        apart.read(written(tmp_path))


def test_a_clip_that_needs_more_memory_than_there_is_ends_alone(tmp_path: Path) -> None:
    """Silence for as long as four months, as float samples."""
    with pytest.raises(ClipError, match="within what this machine can give"):
        apart.put_together([apart.ClipPart(written(tmp_path), 0.0, 1e7)], tmp_path / "out.mp4", lambda done: None)


def test_a_full_disk_is_told_from_a_damaged_file(tmp_path: Path) -> None:
    with pytest.raises(OSError) as full:  # noqa: PT011 -- its number is what is asked
        apart.play_copy(written(tmp_path), Path("/dev/full"), lambda done: None)
    assert full.value.errno == errno.ENOSPC


def test_an_estimator_that_is_killed_is_begun_again_once(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A module that dies at its first start, and works at its second."""
    (tmp_path / "dies_once.py").write_text(
        "import json, os, pathlib, signal, sys\n"
        "import numpy as np\n"
        "for job in json.loads(pathlib.Path(sys.argv[1]).read_text()):\n"
        "    mark = pathlib.Path(job['out'] + '.begun')\n"
        "    tries = int(mark.read_text()) if mark.exists() else 0\n"
        "    mark.write_text(str(tries + 1))\n"
        "    if tries < int(job['model']): os.kill(os.getpid(), signal.SIGKILL)\n"
        "    [print(f'frame {t}', flush=True) for t in job['times']]\n"
        "    np.savez(job['out'], a=np.zeros(3))\n"
    )
    monkeypatch.setenv("PYTHONPATH", str(tmp_path))
    told: list[tuple[int, int]] = []
    chunk = Chunk("", "1", [0.0, 0.1], 0, str(tmp_path / "0.npz"))
    run_all("dies_once", [chunk], tmp_path, lambda done, total: told.append((done, total)))
    assert told[-1] == (2, 2)
    with pytest.raises(ChildProcessError):
        run_all("dies_once", [Chunk("", "2", [0.0], 0, str(tmp_path / "1.npz"))], tmp_path, lambda done, total: None)


def test_samples_far_beyond_a_clip_are_left_out(tmp_path: Path) -> None:
    to = tmp_path / "sound.npy"
    assert apart.sound_of(written(tmp_path), -40_000.0, to) in (True, False)
    assert not to.exists() or np.load(to).nbytes < 10_000_000
