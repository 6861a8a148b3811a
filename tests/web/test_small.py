"""Rules of the routes that need no server."""

from collections import namedtuple
from pathlib import Path, PurePosixPath, PureWindowsPath

import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.web.refused import Refused
from juxtakine.web.uploads import LONGEST_NAME, _check_room, plain_name


@given(st.text(max_size=400))
def test_any_name_becomes_a_plain_one(name: str) -> None:
    made = plain_name(name)
    assert 0 < len(made) <= LONGEST_NAME
    assert made.isprintable()
    assert PurePosixPath(made).name == made
    assert PureWindowsPath(made).name == made
    assert made not in (".", "..")
    assert plain_name(made) == made


def test_an_ordinary_name_stays() -> None:
    assert plain_name("Lantern Quay (2).mp4") == "Lantern Quay (2).mp4"


def test_a_clip_that_the_disk_can_not_hold_is_refused_before_it_comes(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    room = namedtuple("room", "total used free")(10**12, 0, 10**9)
    monkeypatch.setattr("shutil.disk_usage", lambda folder: room)
    _check_room(400_000_000, tmp_path)
    with pytest.raises(Refused, match="needs 600 MB beside the 500 that are kept free, and 1000 MB are") as refused:
        _check_room(600_000_000, tmp_path)
    assert refused.value.status == 507
