"""The main views anew, from the demo data, into docs/screenshots: `make screenshots`. Look at each one afterwards."""

import os
import re
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from juxtakine.demo.shoot import CLIPS
from juxtakine.settings import PROJECT
from support.clips import LONG, tutorial

OUT = PROJECT / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
DESK, PHONE = (1280, 800), (390, 844)
START_S = 180


@contextmanager
def running(var: Path, demo: bool) -> Iterator[str]:
    """The address of a run of its own."""
    command = [sys.executable, "-m", "juxtakine.servers.up", *(["--demo"] if demo else [])]
    said = var.parent / "said"
    with said.open("w") as log:
        process = subprocess.Popen(command, env=os.environ | {"JUXTAKINE_VAR": str(var)}, stdout=log)
    try:
        yield address(said, process)
    finally:
        process.terminate()
        process.wait()


def address(said: Path, process: subprocess.Popen[bytes]) -> str:
    for _ in range(START_S * 10):
        found = re.search(r"ready: (\S+)", said.read_text())
        if found:
            return found[1]
        if process.poll() is not None:
            break
        time.sleep(0.1)
    raise SystemExit(f"It did not start: {said.read_text()}")


@contextmanager
def window(browser: Browser, size: tuple[int, int], where: str) -> Iterator[Page]:
    page = browser.new_page(bypass_csp=True, viewport={"width": size[0], "height": size[1]})
    page.goto(where)
    page.wait_for_load_state("load")
    yield page
    page.close()


def keep(page: Page, name: str, after: str) -> None:
    """Once the view's own words are there, and its pictures."""
    page.get_by_text(after).first.wait_for(timeout=START_S * 1000)
    page.wait_for_function("[...document.querySelectorAll('video')].every(v => v.readyState >= 2 && !v.seeking)")
    page.wait_for_timeout(700)
    page.screenshot(path=OUT / f"{name}.png")


def empty_views(browser: Browser, where: str) -> None:
    with window(browser, DESK, where) as page:
        keep(page, "home-empty", "nothing here yet")


def views(browser: Browser, where: str) -> None:
    with window(browser, DESK, where) as page:
        keep(page, "home", "44 counts")
        page.get_by_role("link", name="Lantern Quay").click()
        page.get_by_role("navigation").wait_for()
        routine = page.url.split("/compare")[0]
        shown = page.request.get(routine.replace("/routines/", "/api/routines/")).json()
        beside = shown["others"][0]["clip"]["id"]
    for name, path, size, after in (
        ("watch", "watch?row=2&count=3+%26", DESK, "the hardest row"),
        ("watch-beside", f"watch?clip={beside}&row=3&count=5", DESK, "of the tempo, from the other side:"),
        ("watch-pieces", f"watch?pieces&clip={beside}&row=3&count=1", DESK, "still to show"),
        ("count", "count?row=2&count=4", DESK, "The sheet is counted"),
        ("count-phone", "count?row=2&count=4", PHONE, "The sheet is counted"),
        ("compare", "compare?take=1&row=3&count=3+%26", DESK, "Redrill Lanterns"),
        ("compare-part", "compare?take=1&row=2&count=7", DESK, "left upper arm"),
        ("compare-phone", "compare?take=1&row=3&count=3+%26", PHONE, "Redrill Lanterns"),
        ("redrill", "redrill?take=1", DESK, "worst first"),
    ):
        with window(browser, size, f"{routine}/{path}") as page:
            keep(page, name, after)
    with window(browser, DESK, f"{routine}/count?row=3&count=5") as page:
        page.get_by_label("line of row 3").fill("1 2 3 & 5 6 7 8")
        keep(page, "count-error", "4 is missing")
    with window(browser, DESK, f"{routine}/count?row=3&count=3+%26") as page:
        page.get_by_role("tab", name="this count").click()
        page.keyboard.press("l")
        keep(page, "count-layers", "of Lanterns")
    with window(browser, DESK, f"{routine}/count?row=8&count=4") as page:
        page.get_by_role("tab", name="the order").click()
        page.get_by_label("order of the sections").fill("A, tag, B, A other side, A cut 12")
        page.get_by_label("order of the sections").press("Enter")
        keep(page, "count-order", "A, cut after 12")
        page.get_by_role("button", name="Undo").click()
        page.get_by_text("6 rows, 44 counts").wait_for()
    with window(browser, DESK, where) as page:
        begun = page.request.post(
            f"{where}/api/routines?name=new-dance.mp4", data=(CLIPS / "reference.mp4").read_bytes(),
            headers={"Content-Type": "application/octet-stream"},
        ).json()["routine"]  # fmt: skip
        grid = {"first_s": shown["grid"]["counts_s"][0], "bpm": shown["grid"]["bpm"]}
        page.request.put(f"{where}/api/routines/{begun}/grid", data=grid)
        page.goto(f"{where}/routines/{begun}/count?row=3&count=3+%26")
        page.get_by_role("tab", name="off the clip").click()
        keep(page, "count-proposed", "Read off the clip: 6 rows")
    with tempfile.TemporaryDirectory() as folder, window(browser, DESK, where) as page:
        page.locator("input[data-file]").set_input_files(tutorial(Path(folder) / "low-bench.mp4", LONG))
        page.get_by_text("The run is found").wait_for(timeout=START_S * 1000)
        page.locator("video").wait_for(timeout=START_S * 1000)
        keep(page, "watch-long", "The run is found")
    with tempfile.TemporaryDirectory() as folder, window(browser, DESK, f"{routine}/compare") as page:
        # the same picture with one byte more: a clip that nobody has measured yet
        new = Path(folder) / "today.mp4"
        new.write_bytes((CLIPS / "take-2.mp4").read_bytes() + b"\0")
        page.locator("input[data-file]").set_input_files(new)
        keep(page, "compare-wait", "frames measured, about")


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        var = Path(folder) / "var"
        with running(var, demo=False) as where:
            empty_views(browser, where)
        with running(var, demo=True) as where:
            views(browser, where)
        browser.close()


if __name__ == "__main__":
    main()
