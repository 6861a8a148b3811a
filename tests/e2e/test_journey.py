"""A student's way in a real browser: from nothing to the looping of the worst eight. The tests follow each other."""

import re
from pathlib import Path
from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from juxtakine.demo import lantern_quay
from support.clips import REFERENCE, TAKES, another
from support.stack import Stack

FIRST_S = float(lantern_quay.reference_grid().seconds(0.0))
LINES = [p.line for p in lantern_quay.SHEET.phrases]
FRAME_S = 1 / 30
AHEAD_S = 0.15
"""The whole take is ahead by so much."""
MEASURED_MS = 240_000


@pytest.fixture(scope="module")
def routine(empty: Stack, browser: Any, tmp_path_factory: pytest.TempPathFactory) -> str:
    """The path of a routine that was begun, typed and counted by hand in the browser."""
    page = browser.new_page(bypass_csp=True, viewport={"width": 1280, "height": 800})
    page.goto(empty.address)
    expect(page.get_by_text("nothing here yet")).to_be_visible()
    page.locator("input[data-file]").set_input_files(another(tmp_path_factory.mktemp("clips"), REFERENCE, "quay.mp4"))
    page.wait_for_url("**/count")
    path = re.sub(r"^https?://[^/]+|/count.*$", "", page.url)
    type_rows(page)
    place_the_grid(page)
    page.close()
    return path


def type_rows(page: Page) -> None:
    page.get_by_role("button", name="Type the first row").click()
    for n, line in enumerate(LINES, 1):
        if n > 1:
            page.get_by_role("button", name="Add a row").click()
        field = page.get_by_label(f"line of row {n}")
        field.wait_for()
        if len(line.split()) == 4:
            page.get_by_label("counts", exact=True).fill("4")
            expect(page.get_by_label("counts", exact=True)).to_have_value("4")
        field.fill(line)
        expect(page.get_by_role("alert")).to_have_count(0)
        field.press("Enter")
        row(page, n).get_by_role(
            "button", name=re.compile(f"1: {'a hold' if line.startswith('-') else 'scored'}")
        ).wait_for()
        expect(page.locator("[data-saved]")).to_have_text("kept")
    for number in ("1", "2"):
        row(page, 4).get_by_role("button", name=re.compile(f", {number}: ")).click()
        page.keyboard.press("f")
        expect(row(page, 4).get_by_role("button", name=f"row 4, {number}: free")).to_be_visible()


OVER = (("instructor", "teach"), ("you", "teach"), ("you", "me"))
"""Whose lines are drawn over whose picture."""


def row(page: Page, number: int) -> Any:
    return page.locator(f"[data-row='{number}']")


def place_the_grid(page: Page) -> None:
    page.locator("video").wait_for()
    page.wait_for_function("document.querySelector('video').readyState >= 1")
    page.evaluate(f"document.querySelector('video').currentTime = {FIRST_S}")
    wave = page.get_by_label("the clip’s sound and where its counts lie")
    box = wave.bounding_box()
    duration = page.evaluate("document.querySelector('video').duration")
    wave.click(position={"x": FIRST_S / duration * box["width"], "y": 40})
    page.keyboard.press("h")
    expect(page.get_by_text("Count 1 is at 0:03")).to_be_visible()
    tempo = page.get_by_label("counts a minute")
    tempo.fill(str(lantern_quay.BPM))
    tempo.press("Enter")
    expect(page.get_by_text("The sheet is counted.")).to_be_visible()


@pytest.fixture(scope="module")
def compared(empty: Stack, routine: str, browser: Any, tmp_path_factory: pytest.TempPathFactory) -> str:
    """The take dropped in and waited for, all in the browser."""
    page = browser.new_page(bypass_csp=True, viewport={"width": 1280, "height": 800})
    page.goto(f"{empty.address}{routine}/compare")
    expect(page.get_by_role("heading", name="Drop your take here")).to_be_visible()
    clip = another(tmp_path_factory.mktemp("takes"), TAKES[0], "today.mp4", heard_later_s=AHEAD_S)
    page.locator("input[data-file]").set_input_files(clip)
    expect(page.get_by_role("progressbar")).to_be_visible(timeout=MEASURED_MS)
    page.reload()
    expect(page.get_by_text("Redrill row 3")).to_be_visible(timeout=MEASURED_MS)
    page.close()
    return routine


def result_of(stack: Stack, routine: str) -> Any:
    shown = httpx.get(f"{stack.address}/api{routine}").json()
    return httpx.get(f"{stack.address}/api/clips/{shown['takes'][0]['id']}/result").json()


def counts_shown(page: Page, clock: list[dict[str, float]]) -> tuple[float, float]:
    """Which count each of the two clips shows just now."""
    reference_s, take_s = page.evaluate("[...document.querySelectorAll('video')].map(v => v.currentTime)")
    at = [c["at"] for c in clock]
    return (
        float(np.interp(reference_s, [c["reference_s"] for c in clock], at)),
        float(np.interp(take_s, [c["take_s"] for c in clock], at)),
    )


def standing(page: Page, clock: list[dict[str, float]]) -> tuple[float, float]:
    """Which count each of the two shows once it has come there."""
    page.wait_for_function("[...document.querySelectorAll('video')].every(v => v.readyState >= 2 && !v.seeking)")
    return counts_shown(page, clock)


def together(page: Page, clock: list[dict[str, float]]) -> None:
    """Both play on at one count, sooner or later: a busy machine holds up now the one and now the other."""
    seen: list[float] = []
    apart: list[float] = []
    while len(seen) < 20 or seen[-1] < seen[-20] + 1 or float(np.median(np.abs(apart[-20:]))) > FRAME_S:
        assert len(seen) < 120, f"they do not run together: {apart}"
        page.wait_for_timeout(100)
        reference, take = counts_shown(page, clock)
        seen.append(reference)
        apart.append((take - reference) * 60 / lantern_quay.BPM)


def test_a_row_is_checked_while_it_is_typed_and_mended_with_one_key(empty: Stack, routine: str, page: Page) -> None:
    page.goto(f"{empty.address}{routine}/count?row=2&count=1")
    line = page.get_by_label("line of row 2")
    line.fill("1 2 4 - 6 7 8")
    expect(page.get_by_role("alert")).to_contain_text("3 is missing: write - for a hold")
    page.reload()
    expect(line).to_have_value("1 2 4 - 6 7 8")
    expect(page.get_by_role("alert")).to_be_visible()
    line.press("Tab")
    expect(line).to_have_value("1 2 - 4 - 6 7 8")
    line.press("Enter")
    expect(row(page, 2).get_by_role("button", name=re.compile(r", 3: a hold"))).to_be_visible()
    page.locator("body").press("z")
    expect(row(page, 2).get_by_role("button", name=re.compile(r", 3 &: scored"))).to_be_visible()


def test_rows_are_added_moved_and_taken_away(empty: Stack, routine: str, page: Page) -> None:
    page.goto(f"{empty.address}{routine}/count?row=6&count=1")
    page.get_by_role("button", name="repeat this row").click()
    expect(page.get_by_role("textbox", name="line of row 7")).to_be_focused()
    page.get_by_role("textbox", name="name").fill("Again")
    page.get_by_role("textbox", name="name").press("Enter")
    expect(row(page, 7)).to_contain_text("Again")
    page.get_by_role("button", name="up", exact=True).click()
    expect(row(page, 6)).to_contain_text("Again")
    page.get_by_role("button", name="remove").click()
    expect(page.locator("[data-row]")).to_have_count(6)


def test_a_wrong_file_is_refused_and_nothing_changes(empty: Stack, page: Page, tmp_path: Path) -> None:
    page.goto(empty.address)
    (tmp_path / "notes.mp4").write_text("no video\n" * 100)
    page.locator("input[data-file]").set_input_files(tmp_path / "notes.mp4")
    expect(page.get_by_role("alert")).to_contain_text("can't be read as a video")
    expect(page).to_have_url(f"{empty.address}/")


def test_the_worst_row_is_told_and_both_clips_stand_at_the_chosen_count(
    empty: Stack, compared: str, page: Page
) -> None:
    page.goto(f"{empty.address}{compared}/compare")
    clock = result_of(empty, compared)["clock"]
    row(page, 2).get_by_role("button", name=re.compile(", 7: ")).click()
    expect(page).to_have_url(re.compile(r"row=2&count=7"))
    evidence = page.get_by_label("Evidence")
    expect(evidence).to_contain_text(re.compile(r"left upper arm \d+° too low"))
    page.get_by_role("radio", name="at the count").click()
    assert standing(page, clock) == pytest.approx((14, 14), abs=FRAME_S * 1.8)


def test_a_part_that_is_off_is_shown_where_it_was_judged_and_it_plays_from_the_count(
    empty: Stack, compared: str, page: Page
) -> None:
    page.goto(f"{empty.address}{compared}/compare?row=2&count=7")
    clock = result_of(empty, compared)["clock"]
    early = AHEAD_S * lantern_quay.BPM / 60
    expect(page.locator("video[aria-label$='s earlier']")).to_be_visible()
    assert standing(page, clock) == pytest.approx((14, 14 - early), abs=0.06)
    page.keyboard.press("a")
    expect(page.locator("video[aria-label='you, take 1']")).to_be_visible()
    assert standing(page, clock) == pytest.approx((14, 14), abs=0.05)
    page.keyboard.press("a")
    page.keyboard.press("Space")
    expect(page.locator("video[aria-label='you, take 1']")).to_be_visible()
    together(page, clock)


def test_both_dancers_fill_their_panes_and_nothing_of_them_is_cut_off(empty: Stack, compared: str, page: Page) -> None:
    """They take two fifths of a wide picture; V shows all of it."""
    page.goto(f"{empty.address}{compared}/compare")
    outcome = result_of(empty, compared)["outcome"]
    page.wait_for_function("[...document.querySelectorAll('video')].every(v => v.readyState >= 1)")
    for n, part in enumerate((outcome["reference_frame"], outcome["take_frame"])):
        video = page.locator("video").nth(n)
        expect(video).to_have_attribute("style", re.compile("px"))
        picture, pane = video.bounding_box(), video.locator("..").bounding_box()
        assert picture
        assert pane
        room = []
        for start, size, near, far in (("x", "width", "left", "right"), ("y", "height", "top", "bottom")):
            low, high = (picture[start] + part[end] * picture[size] - pane[start] for end in (near, far))
            assert low > -0.5
            assert high < pane[size] + 0.5
            room.append(pane[size] - (high - low))
        assert min(room) == pytest.approx(0, abs=0.5)
    near = page.locator("video").first.bounding_box()
    assert near
    page.keyboard.press("v")
    page.wait_for_function("w => document.querySelector('video').getBoundingClientRect().width < w", arg=near["width"])


def test_a_part_that_is_off_is_drawn_over_the_pictures_where_it_is_seen(
    empty: Stack, compared: str, page: Page
) -> None:
    page.goto(f"{empty.address}{compared}/compare?row=2&count=7")
    expect(page.get_by_label("Evidence")).to_contain_text("left upper arm")
    lines = [page.locator(f"video[aria-label^={whose}] ~ svg line.stroke-{ink}") for whose, ink in OVER]
    for line in lines:
        expect(line).to_have_count(1)
    page.keyboard.press("Shift+ArrowRight")
    for line in lines:
        expect(line).to_have_count(0)


def test_the_clips_stay_at_one_count_while_they_play(empty: Stack, compared: str, page: Page) -> None:
    page.goto(f"{empty.address}{compared}/compare?row=3&count=1")
    clock = result_of(empty, compared)["clock"]
    page.wait_for_function("[...document.querySelectorAll('video')].every(v => v.readyState >= 3)")
    page.get_by_role("radio", name="75 %").click()
    page.get_by_role("button", name="Play").click()
    together(page, clock)
    page.keyboard.press("Space")
    page.wait_for_function("[...document.querySelectorAll('video')].every(v => v.paused && !v.seeking)")
    reference, take = counts_shown(page, clock)
    assert (take - reference) * 60 / lantern_quay.BPM == pytest.approx(0, abs=FRAME_S)


def test_the_clip_that_is_ahead_waits_for_one_that_is_held_up(empty: Stack, compared: str, page: Page) -> None:
    page.goto(f"{empty.address}{compared}/compare?row=2&count=1")
    clock = result_of(empty, compared)["clock"]
    page.wait_for_function("[...document.querySelectorAll('video')].every(v => v.readyState >= 3)")
    page.get_by_role("button", name="Play").click()
    together(page, clock)
    page.evaluate("document.querySelector('video').playbackRate = 0")
    page.wait_for_function("[...document.querySelectorAll('video')][1].paused")
    page.wait_for_timeout(500)
    reference, take = counts_shown(page, clock)
    assert 0 < (take - reference) * 60 / lantern_quay.BPM < 0.25
    page.evaluate("document.querySelector('video').playbackRate = 1")
    together(page, clock)
    page.evaluate("[...document.querySelectorAll('video')][1].currentTime -= 0.3")
    page.wait_for_function("document.querySelector('video').paused")
    together(page, clock)


def test_everything_is_reached_by_keyboard_and_the_address_keeps_it(empty: Stack, compared: str, page: Page) -> None:
    page.goto(f"{empty.address}{compared}/compare")
    expect(page.get_by_label("Evidence")).to_be_visible()
    for key, where in (
        ("ArrowUp", "row=2"),
        ("7", "count=7"),
        ("ArrowRight", "count=8"),
        ("ArrowRight", "row=3&count=1"),
    ):
        page.keyboard.press(key)
        expect(page).to_have_url(re.compile(where))
    page.keyboard.press("3")
    page.keyboard.press("ArrowRight")
    expect(page).to_have_url(re.compile(r"count=3\+%26"))
    page.reload()
    expect(page.locator("[aria-pressed=true]")).to_have_attribute("aria-label", re.compile(r"3 &: .*ms behind"))
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("one video frame")
    page.keyboard.press("Escape")
    page.keyboard.press("r")
    expect(page).to_have_url(re.compile(r"/redrill\?.*row=3"))


def test_the_worst_eight_loops_with_its_run_in(empty: Stack, compared: str, page: Page) -> None:
    page.goto(f"{empty.address}{compared}/redrill")
    expect(page.get_by_text("drills, worst first")).to_be_visible()
    result = result_of(empty, compared)
    loop = result["outcome"]["drills"][0]["loops"]["two"]
    assert (loop["run_in"], loop["start"], loop["end"]) == (16, 18, 24)
    page.wait_for_function("[...document.querySelectorAll('video')].every(v => v.readyState >= 3)")
    page.locator("body").press("Space")
    seen = [float(loop["run_in"])]
    while len(seen) < 300 and seen[-1] > max(seen) - 4:
        page.wait_for_timeout(100)
        seen.append(counts_shown(page, result["clock"])[0])
    assert min(seen) > loop["run_in"] - 0.2
    assert loop["end"] - 2 < max(seen) < loop["end"] + 0.5
    assert len(seen) < 300, "it never came round"


def test_a_take_can_be_laid_by_hand_and_deleted(empty: Stack, compared: str, page: Page) -> None:
    page.goto(f"{empty.address}{compared}/compare")
    page.get_by_role("button", name="by hand").click()
    truth = float(lantern_quay.take_grid(lantern_quay.TAKES[0]).seconds(0.0))
    page.wait_for_function("document.querySelector('video').readyState >= 1")
    page.get_by_label("place in the clip").fill(f"{truth:.2f}")
    page.locator("body").press("h")
    expect(page.get_by_text("count 1 put by hand")).to_be_visible()
    expect(page.get_by_text("Redrill row 3")).to_be_visible()
    page.get_by_role("button", name="Delete take 1").click()
    page.get_by_role("button", name="Delete it for good").click()
    expect(page.get_by_role("heading", name="Drop your take here")).to_be_visible()


@pytest.mark.parametrize("width", [360, 480, 900, 1920])
@pytest.mark.parametrize("screen", ["", "count?row=2&count=1", "compare?row=2&count=1", "redrill"])
def test_no_screen_is_wider_than_its_window(empty: Stack, routine: str, page: Page, screen: str, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 800})
    page.goto(f"{empty.address}{routine}/{screen}" if screen else empty.address)
    page.wait_for_load_state("networkidle") if not screen else page.locator("header").wait_for()
    page.wait_for_timeout(300)
    assert page.evaluate("document.documentElement.scrollWidth") <= width
