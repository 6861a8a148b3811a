from collections.abc import Iterator
from pathlib import Path

import pytest

from support.stack import Client, Stack, whole_stack


@pytest.fixture(scope="session")
def stack(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Stack]:
    """One run for all tests of store, jobs and web; each test makes its own routines in it."""
    with whole_stack(tmp_path_factory.mktemp("var")) as made:
        yield made


@pytest.fixture
def client(stack: Stack) -> Client:
    return Client(stack.address)


@pytest.fixture
def media_root(stack: Stack) -> Path:
    return stack.backing.var / "media"
