import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings
from sqlalchemy import create_engine, make_url, text

from juxtakine.core.movement.tracks import Network
from juxtakine.settings import settings as where
from juxtakine.store.migrate import migrate
from support.clips import written
from support.stack import Client, Stack, whole_stack

# what a test tells of tracking holds for the quicker network as well, in under half the time
os.environ.setdefault("JUXTAKINE_MODEL", Network.FULL)
where.cache_clear()  # some module has asked already
# the same examples on every machine, however slow it is: what passed here passes there
settings.register_profile("steady", derandomize=True, deadline=None)
# and a few of the day's (make test-day): a seed that is printed, so that it can be run again
settings.register_profile("day", max_examples=25, deadline=None, print_blob=True)
settings.load_profile("steady")


@pytest.fixture(scope="session")
def stack(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Stack]:
    """One run for all tests of store, jobs and web; each test makes its own routines in it."""
    with whole_stack(tmp_path_factory.mktemp("var")) as made:
        yield made


@pytest.fixture
def client(stack: Stack) -> Iterator[Client]:
    """What a test began goes when it ends, so that its clips take nobody else's time."""
    made = Client(stack.address)
    yield made
    made.forget_all()


@pytest.fixture(scope="session")
def short(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Three seconds of the reference, for where it matters only that there is a clip."""
    return written(tmp_path_factory.mktemp("short"))


@pytest.fixture
def media_root(stack: Stack) -> Path:
    return stack.backing.var / "media"


@pytest.fixture
def store_of_the_run(stack: Stack, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """The store as the run's own processes see it."""
    yield from _told(stack.backing.environment, monkeypatch)


@pytest.fixture(scope="session")
def without_workers(stack: Stack) -> str:
    """A database of its own on the run's server: a worker's sweep would take the jobs that a test makes by hand."""
    made = make_url(stack.backing.database_url)
    with create_engine(made).connect() as connection:
        connection.execute(text("CREATE DATABASE juxtakine_without_workers CHARACTER SET utf8mb4 COLLATE utf8mb4_bin"))
    url = made.set(database="juxtakine_without_workers").render_as_string(hide_password=False)
    migrate(url)
    return url


@pytest.fixture
def store(stack: Stack, without_workers: str, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """The store alone, where nobody but the test does anything."""
    yield from _told(stack.backing.environment | {"JUXTAKINE_DATABASE_URL": without_workers}, monkeypatch)


def _told(environment: dict[str, str], monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    for name, told in environment.items():
        monkeypatch.setenv(name, told)
    where.cache_clear()
    yield
    where.cache_clear()
