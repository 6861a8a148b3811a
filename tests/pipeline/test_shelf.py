"""The shelf when several want the same thing, or want it no more."""

import threading
import time
from pathlib import Path

import numpy as np
import pytest

from juxtakine.core.movement.people import Click, Sightings
from juxtakine.core.movement.tracks import Network
from juxtakine.media.clips import probe
from juxtakine.media.sightings import save_sightings
from juxtakine.pipeline import tracks
from juxtakine.pipeline.tracks import Shelf, content_of
from juxtakine.settings import settings
from support.clips import written

LEFT_WRIST = 9
"""Among the key points of who is sighted."""


class Unwanted(Exception):
    pass


@pytest.fixture
def shelf(tmp_path: Path) -> Shelf:
    return Shelf(tmp_path / "shelf", settings().models)


def test_a_name_tells_all_that_makes_a_track_what_it_is(shelf: Shelf) -> None:
    keys = {
        shelf.key("a", "full"),
        shelf.key("b", "full"),
        shelf.key("a", "heavy"),
        shelf.key("a", "full", (1.0, None)),
        shelf.key("a", "full", (None, 1.0)),
    }
    assert len(keys) == 5
    assert shelf.key("a", "full") in keys


def test_a_name_changes_with_the_version_of_the_tracking(shelf: Shelf, monkeypatch: pytest.MonkeyPatch) -> None:
    assert shelf.key("a", Network.FULL) == shelf.key("a", "full")
    before = shelf.key("a", "full")
    monkeypatch.setattr(tracks, "TRACKING_VERSION", tracks.TRACKING_VERSION + 1)
    assert shelf.key("a", "full") != before


def test_two_who_want_the_same_clip_wait_for_one_another(shelf: Shelf, tmp_path: Path) -> None:
    clip = written(tmp_path, last_s=5.0)
    worked: list[str] = []
    made = {}

    def want(name: str) -> None:
        made[name] = shelf.track(clip, "full", lambda done, total: worked.append(name) if total > 1 else None)

    threads = [threading.Thread(target=want, args=(n,)) for n in ("one", "other")]
    for t in threads:
        t.start()
    for t in threads:
        t.join(60)
    assert len(set(worked)) == 1, "both did the work"
    assert np.array_equal(made["one"].image, made["other"].image, equal_nan=True)


def test_who_waits_can_leave(shelf: Shelf, tmp_path: Path) -> None:
    clip = written(tmp_path, last_s=6.0)
    first = threading.Thread(target=lambda: shelf.track(clip, "full"))
    first.start()
    workspace = shelf.folder / f"{shelf.key(content_of(clip), 'full')}.parts"
    while not workspace.exists():
        time.sleep(0.01)

    def leave(done: int, total: int) -> None:
        raise Unwanted

    with pytest.raises(Unwanted):
        shelf.track(clip, "full", leave)
    first.join(60)
    assert shelf.fetch(shelf.key(content_of(clip), "full")) is not None


def test_what_is_forgotten_is_gone_with_its_parts(shelf: Shelf, tmp_path: Path) -> None:
    clip = written(tmp_path, last_s=4.0)
    key = shelf.key(content_of(clip), "full")
    shelf.track(clip, "full")
    (shelf.folder / f"{key}.parts").mkdir()
    shelf.forget(key)
    assert list(shelf.folder.iterdir()) == []
    shelf.forget(key)


def test_a_track_file_that_is_broken_is_made_anew(shelf: Shelf, tmp_path: Path) -> None:
    clip = written(tmp_path, last_s=4.0)
    first = shelf.track(clip, "full")
    shelf.path(shelf.key(content_of(clip), "full")).write_bytes(b"half a file")
    assert np.array_equal(shelf.track(clip, "full").image, first.image, equal_nan=True)


def test_a_wrist_that_lies_where_somebody_else_has_theirs_is_not_believed(shelf: Shelf, tmp_path: Path) -> None:
    """Beside whoever is seen in the clip stands one who looks alike, two trunks away, and holds their left wrist."""
    clip = written(tmp_path, last_s=6.0)
    content = content_of(clip)
    seen = shelf.sightings(clip, content, (None, None), lambda done, total: None)
    points, looks = seen.points.copy(), seen.looks.copy()
    points[:, 1], looks[:, 1] = points[:, 0], looks[:, 0]
    points[:, 1, :, 0] += 2 * seen.sizes[:, :1]
    points[:, 1, LEFT_WRIST] = points[:, 0, LEFT_WRIST]
    save_sightings(Sightings(seen.seconds, points, looks), shelf.people(content, (None, None)))
    facts, (x, y) = probe(clip), seen.places[0, 0]
    click = Click(x * facts.height / facts.width, y, float(seen.seconds[0]))
    left, right = (shelf.track(clip, "full", clicks=[click]).visibility[:, [15, 16]] > 0).mean(0)
    assert left == 0
    assert right > 0.9
