from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

from support.stack import Stack, whole_stack

FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--autoplay-policy=no-user-gesture-required",
]  # fmt: skip

PATIENCE_MS = 45_000
expect.set_options(timeout=PATIENCE_MS)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        opened = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield opened
        opened.close()


@pytest.fixture(scope="module")
def empty(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Stack]:
    """A run over an empty data folder."""
    with whole_stack(tmp_path_factory.mktemp("empty")) as made:
        yield made


@pytest.fixture
def page(browser: Browser) -> Iterator[Page]:
    """A window of the main size; an error in the page's own code fails the test."""
    context = browser.new_context(bypass_csp=True, viewport={"width": 1280, "height": 800})
    context.set_default_timeout(PATIENCE_MS)
    opened = context.new_page()
    errors: list[str] = []
    opened.on("pageerror", lambda error: errors.append(str(error)))
    yield opened
    context.close()
    assert errors == []
