"""Rules of the routes that need no server."""

from pathlib import PurePosixPath, PureWindowsPath

from hypothesis import given
from hypothesis import strategies as st

from juxtakine.web.uploads import LONGEST_NAME, plain_name


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
