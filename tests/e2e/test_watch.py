"""Watch in a real browser: a long clip in, its run found and taken, what each row shows, loops and the keyboard."""

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from support.clips import BACK, LONG, LONG_RUN, REFERENCE, TAKES, together, tutorial
from support.sheets import GRID, SHEET
from support.stack import Client, Stack, until

FOUND_MS = 120_000


@pytest.fixture(scope="module")
def told(empty: Stack, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The path of a routine whose reference is measured and counted."""
    client = Client(empty.address)
    clip = empty.known(tmp_path_factory.mktemp("told"), REFERENCE)
    routine = client.begin(clip, SHEET, GRID)
    until(lambda: client.routine(routine)["reference"]["measured"], 180)
    yield f"{empty.address}/routines/{routine}"
    client.forget_all()


def now(page: Page) -> float:
    return float(page.locator("video").first.evaluate("v => v.currentTime"))


def test_the_run_of_a_long_clip_is_found_mended_by_key_and_alone_measured(
    empty: Stack, page: Page, tmp_path: Path
) -> None:
    client = Client(empty.address)
    page.goto(empty.address)
    page.locator("input[data-file]").set_input_files(tutorial(tmp_path / "low-bench.mp4", LONG))
    page.wait_for_url("**/watch")
    expect(page.get_by_text("looks taken for the run")).to_be_visible()
    expect(page.get_by_text("The run is found:")).to_be_visible(timeout=FOUND_MS)
    begins, ends = (page.get_by_role("slider", name=f"where the run {w}") for w in ("begins", "ends"))
    for end, true in zip((begins, ends), LONG_RUN, strict=True):
        assert abs(float(end.get_attribute("aria-valuenow") or 0) - true) < 1.5
    expect(page.get_by_label("what the clip holds").get_by_text("danced slowly")).to_be_visible()
    before = float(begins.get_attribute("aria-valuenow") or 0)
    begins.press("ArrowLeft")
    expect(begins).to_have_attribute("aria-valuenow", re.compile(rf"^{before - 0.5:g}$"))
    page.reload()  # what is not taken is only a proposal
    expect(begins).to_have_attribute("aria-valuenow", re.compile(rf"^{before:g}$"))
    page.get_by_role("button", name="This is the run").click()
    expect(page.get_by_role("link", name="Count it")).to_be_visible()
    routine = int(re.findall(r"routines/(\d+)", page.url)[0])
    measured: Any = until(lambda: client.routine(routine)["reference"]["measured"], 180)
    assert measured
    assert client.routine(routine)["reference"]["job"]["total"] < 15 * (LONG_RUN[1] - LONG_RUN[0] + 4)
    client.send("DELETE", f"/routines/{routine}")


def test_each_count_shows_a_figure_and_a_row_goes_round(told: str, page: Page) -> None:
    page.goto(f"{told}/watch?row=2&count=3")
    row = page.locator("[data-row='2']")
    # said where it sets a row apart, and nowhere else
    expect(page.get_by_text("no catching up")).to_have_count(1)
    expect(page.locator("[data-row='3']").get_by_text("no catching up")).to_be_visible()
    expect(row.locator("img")).to_have_count(9)
    assert page.locator("[data-cell] svg line.stroke-teach, [data-cell] svg g.stroke-teach").count() >= 44
    expect(page.get_by_role("button", name="Ropes, 3: seen")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name="Ropes, 3 &: seen")).to_have_attribute("aria-pressed", "true")
    begins = GRID["first_s"] + 8 * 60 / GRID["bpm"]
    page.keyboard.press("l")
    until(lambda: abs(now(page) - begins) < 4.6)
    page.keyboard.press(" ")
    page.get_by_role("radio", name="50 %").click()
    page.wait_for_timeout(700)
    assert page.locator("video").first.evaluate("v => v.playbackRate") == 0.5
    page.keyboard.press(" ")


def test_the_run_is_chosen_at_the_frame_shown_also_on_a_small_phone(told: str, browser: Any) -> None:
    page = browser.new_page(bypass_csp=True, viewport={"width": 360, "height": 780})
    page.goto(f"{told}/watch")
    expect(page.get_by_text("The whole clip is the run.")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 360
    page.locator("video").first.evaluate("v => new Promise(r => { v.onseeked = r; v.currentTime = 3; })")
    page.get_by_role("button", name="ends here").click()
    expect(page.get_by_role("button", name="This is the run")).to_be_visible()
    page.close()


def test_one_of_three_is_followed_and_a_wrong_click_mended_by_the_next(
    empty: Stack, page: Page, tmp_path: Path
) -> None:
    client = Client(empty.address)
    routine = client.begin(together(tmp_path / "three.mp4", [REFERENCE, *TAKES[:2]], seconds=3))
    page.goto(f"{empty.address}/routines/{routine}/watch")
    picture = page.locator("video").first
    picture.wait_for()
    for clicks in (1, 2):
        if clicks == 1:  # the one on the right, by keyboard alone
            page.keyboard.press("f")
            expect(page.get_by_role("slider", name="the body to follow")).to_be_focused()
            for key in (*["Shift+ArrowRight"] * 3, "ArrowRight", "Enter"):
                page.keyboard.press(key)
        else:  # the one on the left
            page.get_by_role("button", name="click again").click()
            expect(page.get_by_text("Click the middle of the body")).to_be_visible()
            box = picture.bounding_box()
            assert box is not None
            wide = box["height"] * picture.evaluate("v => v.videoWidth / v.videoHeight")
            page.mouse.click(box["x"] + box["width"] / 2 + (1 / 6 - 0.5) * wide, box["y"] + box["height"] * 0.45)
        followed: Any = until(lambda n=clicks: measured_with(client, routine, n), FOUND_MS / 1000)
        assert (followed["questions"], followed["share"] > 0.9) == ([], True)
        expect(page.get_by_text("The one you clicked is followed, in")).to_be_visible()
    page.get_by_role("button", name="take the last click back").click()
    until(lambda: client.routine(routine)["reference"]["followed"]["clicks"] == 1)
    client.send("DELETE", f"/routines/{routine}")


def measured_with(client: Client, routine: int, clicks: int) -> Any:
    """What is followed, once it is measured with so many clicks."""
    shown = client.routine(routine)["reference"]
    return shown["followed"] if shown["measured"] and shown["followed"]["clicks"] == clicks else None


def test_mirrored_is_flipped_by_its_key(told: str, page: Page) -> None:
    page.goto(f"{told}/watch")
    expect(page.get_by_text("Not mirrored, ")).to_be_visible()
    page.keyboard.press("m")
    expect(page.get_by_text("Mirrored, as you said: the instructor’s right is your left.")).to_be_visible()
    page.reload()
    expect(page.get_by_text("Mirrored, as you said")).to_be_visible()
    page.keyboard.press("x")
    expect(page.get_by_role("radio", name="as in a mirror")).to_be_checked()


def test_a_second_clip_stands_beside_the_first_and_plays_with_its_music(
    empty: Stack, told: str, page: Page, tmp_path: Path
) -> None:
    page.goto(f"{told}/watch")
    page.get_by_label("Another clip").set_input_files(empty.known(tmp_path, BACK, "back.mp4"))
    page.wait_for_url("**/watch?clip=*")
    expect(page.get_by_text("75% of the tempo, from the other side:")).to_be_visible(timeout=FOUND_MS)
    expect(page.get_by_role("radio", name="the music")).to_be_checked()
    page.reload()
    page.locator("[data-row='2']").get_by_role("button", name="Ropes, 3: seen").click()
    page.keyboard.press(" ")
    # its own clip leads, silently; the music keeps to its counts, slower than it was
    until(lambda: page.evaluate("[...document.querySelectorAll('video')].map((v) => v.muted)") == [True, False])
    until(lambda: abs(page.locator("video").nth(1).evaluate("v => v.playbackRate") - 0.75) < 0.1)
    page.keyboard.press(" ")
    page.get_by_role("button", name="delete it").click()
    page.get_by_role("button", name="Delete it for good").click()
    expect(page.get_by_text("The whole clip is the run.")).to_be_visible()
    expect(page.get_by_role("link", name="look at it")).to_have_count(0)


def test_rows_are_put_together_by_key(told: str, page: Page) -> None:
    page.goto(f"{told}/watch")
    expect(page.get_by_role("link", name="no whole run?")).to_be_visible()
    page.keyboard.press("p")
    expect(page.get_by_text("6 rows still to show")).to_be_visible()
    expect(page.get_by_role("button", name="Put it together")).to_be_disabled()
    beat = 60 / GRID["bpm"]
    seek(page, GRID["first_s"])
    page.keyboard.press("b")
    for left, counts in zip((5, 4, 3, 2, 1, 0), (8, 16, 24, 28, 36, 44), strict=True):
        seek(page, GRID["first_s"] + counts * beat)
        page.keyboard.press("e")
        expect(page.get_by_text(f"{left} row" if left else "Every row is shown.")).to_be_visible()
    page.reload()  # what was shown is kept
    expect(page.locator("[data-row='6']").get_by_text("at 10")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Put together row by row,")).to_be_visible(timeout=FOUND_MS)


def seek(page: Page, seconds: float) -> None:
    """By a click on the wave."""
    wave = page.get_by_role("application", name="the clip’s sound")
    lasts = until(lambda: page.locator("video").first.evaluate("v => v.duration || 0"))
    box = wave.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] * seconds / lasts, box["y"] + 8)
    until(lambda: abs(now(page) - seconds) < 0.2)
