"""Tracking with the real estimator: it finds again what was shipped, goes on where it was broken off, finds nobody."""

from dataclasses import fields
from pathlib import Path

import numpy as np
import pytest
from numpy.typing import NDArray

from juxtakine.core.movement.people import Guide
from juxtakine.core.movement.tracks import Track
from juxtakine.demo.load import TRACKS
from juxtakine.media.clips import ClipError
from juxtakine.media.track_file import TrackFileError, load_track, save_track
from juxtakine.media.tracking import CHUNK_S, picked_frames, track, track_begun
from juxtakine.pipeline.tracks import Shelf
from juxtakine.settings import settings
from support.clips import REFERENCE, Kind, far_away, picture_of_a_wall, written

MIDDLE = np.array([320, 180])
"""Of the shipped picture."""


def tracked(clip: Path, workspace: Path, on_progress=lambda done, total: None):  # type: ignore[no-untyped-def]
    return track(clip, settings().task_file("full"), workspace, on_progress)


def test_the_shipped_track_is_found_again(tmp_path: Path) -> None:
    """Tracked anew, past any cache: 99 % of the landmarks that are seen, within a pixel."""
    shipped = load_track(TRACKS / "reference.npz")
    made = track(REFERENCE, settings().task_file(shipped.model), tmp_path / "parts")
    assert np.array_equal(made.seconds, shipped.seconds)
    seen = shipped.visibility > 0.5
    away = np.linalg.norm(made.image - shipped.image, axis=2)[seen]
    assert seen.mean() > 0.8
    assert (away <= 1).mean() >= 0.99


def test_broken_off_work_is_gone_on_with_and_ends_the_same(tmp_path: Path) -> None:
    clip = written(tmp_path, last_s=8.0)

    class Enough(Exception):
        pass

    def stop_half_way(done: int, total: int) -> None:
        if done > total * 0.6:
            raise Enough

    whole = tracked(clip, tmp_path / "whole")
    with pytest.raises(Enough):
        tracked(clip, tmp_path / "parts", stop_half_way)
    told: list[tuple[int, int]] = []
    again = tracked(clip, tmp_path / "parts", lambda done, total: told.append((done, total)))
    assert np.array_equal(again.image, whole.image, equal_nan=True)
    assert told[-1][0] == told[-1][1]


def test_a_clip_that_grows_while_it_is_tracked_gives_the_track_of_the_whole_file(tmp_path: Path) -> None:
    """As a browser records it: a file that begins with what was there first, and has no index."""
    whole = written(tmp_path, Kind(".webm", "libvpx", "libopus", 48_000), last_s=17)
    size, task = whole.stat().st_size, settings().task_file("full")
    grows, reached = tmp_path / "grows.webm", []
    for share in (0.2, 0.6, 0.96):
        grows.write_bytes(whole.read_bytes()[: round(share * size)])
        reached.append(track_begun(grows, task, tmp_path / "parts"))
    before = {f: f.stat().st_mtime_ns for f in (tmp_path / "parts").glob("*.npz")}
    grows.write_bytes(whole.read_bytes())
    made, plain = tracked(grows, tmp_path / "parts"), tracked(whole, tmp_path / "whole")
    assert reached == pytest.approx([0, CHUNK_S, 2 * CHUNK_S], abs=0.05)
    assert before.items() <= {f: f.stat().st_mtime_ns for f in (tmp_path / "parts").glob("*.npz")}.items()
    for field in fields(Track):
        assert np.array_equal(
            getattr(made, field.name), getattr(plain, field.name), equal_nan=field.name != "estimator"
        )


def test_a_turned_phone_clip_gives_the_upright_body(tmp_path: Path) -> None:
    plain, turned = (tracked(written(tmp_path, Kind(rotated=r), last_s=4.5), tmp_path / f"parts-{r}") for r in (0, 90))
    assert (turned.width, turned.height) == (640, 360)
    away = np.linalg.norm(plain.image - turned.image, axis=2)
    assert np.nanmedian(away) < 3


def test_nobody_in_shot_is_nobody(tmp_path: Path) -> None:
    empty = tmp_path / "empty.mp4"
    picture_of_a_wall(empty)
    assert not tracked(empty, tmp_path / "parts").found.any()


def test_who_is_small_is_found_where_they_are_followed(tmp_path: Path) -> None:
    """All else is painted over, and in a picture of mostly paint the estimator finds nobody who is small."""
    shipped, times = load_track(TRACKS / "reference.npz"), 3.0
    image = (shipped.image - MIDDLE) / times + MIDDLE

    def guided(seconds: NDArray[np.float64]) -> list[Guide | None]:
        return [_guide(image[k] / 360) for k in np.searchsorted(shipped.seconds, seconds + 3 - 1e-3)]

    clip = far_away(tmp_path / "far.mp4", REFERENCE, times)
    made = track(clip, settings().task_file("full"), tmp_path / "parts", guided=guided)
    assert made.found.mean() > 0.95
    away = np.linalg.norm(made.image - image[np.searchsorted(shipped.seconds, made.seconds + 3 - 1e-3)], axis=2)
    assert np.nanmedian(away) < 3


def _guide(body: NDArray[np.float64]) -> Guide:
    """Round the landmarks, in heights of the picture."""
    (left, top), (right, bottom) = body.min(0) - 0.04, body.max(0) + 0.04
    x, y = body[[11, 12, 23, 24]].mean(0)
    size = float(np.linalg.norm(body[[11, 12]].mean(0) - body[[23, 24]].mean(0)))
    return Guide(*map(float, (left, top, right, bottom, x, y, size)))


def test_only_what_is_asked_for_is_tracked(tmp_path: Path) -> None:
    made = track(REFERENCE, settings().task_file("full"), tmp_path / "parts", start_s=4.0, end_s=5.0)
    assert made.seconds[0] == pytest.approx(4.0, abs=0.05)
    assert made.seconds[-1] == pytest.approx(5.0, abs=0.05)


@pytest.mark.parametrize(("fps", "share"), [(25, 1.0), (30, 0.5), (60, 0.25), (15, 1.0)])
def test_fifteen_frames_a_second_or_more_are_estimated(fps: int, share: float) -> None:
    times = np.arange(fps * 4) / fps
    picked = picked_frames(times)
    assert picked[0] == 0
    assert picked[-1] == len(times) - 1
    assert len(picked) / len(times) == pytest.approx(share, abs=0.03)


@pytest.mark.parametrize("times", [[0.0], [0.0, 8.0], [0.0, 8.0, 8.03, 8.07, 8.1], [0.0, 0.03, 9.0]])
def test_where_hardly_a_frame_is_left_the_first_and_the_last_are_estimated(times: list[float]) -> None:
    picked = picked_frames(np.array(times))
    assert (picked[0], picked[-1]) == (0, len(times) - 1)


def test_the_shelf_tracks_the_same_clip_once(tmp_path: Path) -> None:
    clip = written(tmp_path, last_s=4.0)
    renamed = clip.rename(tmp_path / "other-name.mp4")
    shelf = Shelf(tmp_path / "shelf", settings().models)
    first = shelf.track(renamed, "full")

    def no_work(done: int, total: int) -> None:
        raise AssertionError("tracked again")

    assert np.array_equal(shelf.track(renamed, "full", no_work).image, first.image, equal_nan=True)
    assert not list((tmp_path / "shelf").glob("*.parts"))


def test_a_track_file_keeps_every_number(tmp_path: Path) -> None:
    shipped = load_track(TRACKS / "take-1.npz")
    save_track(shipped, tmp_path / "t.npz")
    again = load_track(tmp_path / "t.npz")
    for field in fields(Track):
        want, got = getattr(shipped, field.name), getattr(again, field.name)
        assert np.array_equal(got, want, equal_nan=True) if isinstance(want, np.ndarray) else got == want


def test_what_is_no_track_file_is_refused(tmp_path: Path) -> None:
    (tmp_path / "t.npz").write_text("no")
    with pytest.raises(TrackFileError):
        load_track(tmp_path / "t.npz")
    with pytest.raises(TrackFileError):
        load_track(tmp_path / "missing.npz")


def test_a_clip_that_can_not_be_decoded_is_refused(tmp_path: Path) -> None:
    (tmp_path / "x.mp4").write_text("no")
    with pytest.raises(ClipError):
        tracked(tmp_path / "x.mp4", tmp_path / "parts")
