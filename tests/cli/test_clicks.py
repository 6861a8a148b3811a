"""A click as it is said on the command line."""

import argparse

import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.commands.said import click
from juxtakine.core.movement.people import Click


@given(st.floats(0, 1), st.floats(0, 1), st.floats(0, 600))
def test_it_comes_back_as_it_was_said(x: float, y: float, seconds: float) -> None:
    assert click(f"{x},{y}@{seconds}") == Click(x, y, seconds)


@pytest.mark.parametrize("said", ["", "0.4,0.5", "0.4@3", "0.4,0.5@", "a,b@c", "0.4,0.5,0.6@3", "0.4,0.5@3@4"])
def test_what_is_none_is_told_with_an_example(said: str) -> None:
    with pytest.raises(argparse.ArgumentTypeError, match=r"is not X,Y@SECONDS, as in 0\.4,0\.5@12\.5"):
        click(said)
