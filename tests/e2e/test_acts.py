"""What else is done on the screens: cancel, deletion, undo, posts by keyboard, the phone's card, what is unreadable."""

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from support.clips import REFERENCE, TAKES, another
from support.sheets import GRID, SHEET
from support.stack import Client, Stack

PHONE = {"width": 390, "height": 844}


@pytest.fixture(scope="module")
def told(empty: Stack, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The path of a routine with a measured take, made without the browser."""
    client, folder = Client(empty.address), tmp_path_factory.mktemp("told")
    routine = client.begin(empty.known(folder, REFERENCE), SHEET, GRID)
    take = empty.known(folder, TAKES[0], "take.mp4")
    client.result(client.add_take(routine, take))
    yield f"{empty.address}/routines/{routine}"
    client.forget_all()


def row(page: Page, number: int) -> Any:
    return page.locator(f"[data-row='{number}']")


def test_home_shows_each_routine_with_what_it_needs_and_deletes_one(
    empty: Stack, told: str, page: Page, tmp_path: Path
) -> None:
    clip = empty.known(tmp_path, REFERENCE, "low-bench.mp4")
    other = Client(empty.address).begin(clip)
    page.goto(empty.address)
    strip = page.get_by_label("Lantern Quay", exact=True)
    expect(strip.get_by_role("link", name=re.compile("row 3, Lanterns: slips on"))).to_be_visible()
    expect(strip.get_by_role("img", name="need 5 of 5")).to_be_visible()
    page.get_by_label("low bench", exact=True).get_by_role("button", name="Delete").click()
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_label("low bench", exact=True)).to_be_visible()
    page.get_by_label("low bench", exact=True).get_by_role("button", name="Delete").click()
    page.get_by_role("button", name="Delete it for good").click()
    expect(page.get_by_label("low bench", exact=True)).to_have_count(0)
    assert Client(empty.address).send("GET", f"/routines/{other}").status_code == 404
    strip.get_by_role("link", name=re.compile("row 3, Lanterns")).click()
    expect(page).to_have_url(re.compile(r"/compare\?row=3"))


def test_measuring_is_cancelled_by_key_and_taken_up_again(told: str, page: Page, tmp_path: Path) -> None:
    page.goto(f"{told}/compare")
    page.locator("input[data-file]").set_input_files(another(tmp_path, TAKES[1], "second.mp4"))
    expect(page.get_by_role("button", name="which take")).to_contain_text("Take 2")
    expect(page.get_by_text("frames measured")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("alert")).to_contain_text("Measuring was stopped. The clip is kept.")
    page.get_by_role("button", name="Measure it").click()
    expect(page.get_by_text("frames measured")).to_be_visible()
    page.get_by_role("button", name="which take").click()
    page.get_by_role("option", name=re.compile("Take 1")).click()
    expect(page.get_by_text("Redrill Lanterns")).to_be_visible()
    page.get_by_role("button", name="which take").click()
    page.get_by_role("option", name=re.compile("Take 2")).click()
    page.get_by_role("button", name="Delete take 2").click()
    page.get_by_role("button", name="Delete it for good").click()
    expect(page.get_by_role("button", name="which take")).to_contain_text("Take 1")


def test_the_same_clip_again_is_refused_in_words(told: str, page: Page, tmp_path: Path) -> None:
    page.goto(f"{told}/compare")
    clip = another(tmp_path, TAKES[2], "third.mp4")
    for _ in range(2):
        page.locator("input[data-file]").set_input_files(clip)
    expect(page.get_by_role("alert")).to_contain_text("This very clip is here already")
    page.get_by_role("button", name="Delete take 2").click()
    page.get_by_role("button", name="Delete it for good").click()
    expect(page.get_by_text("Redrill Lanterns")).to_be_visible()


def test_a_post_is_moved_by_keyboard_and_undone(told: str, page: Page) -> None:
    page.goto(f"{told}/count?row=1&count=1")
    post = page.get_by_role("slider", name="count 1")
    expect(page.get_by_text("Count 1 is at 0:03.02")).to_be_visible()
    post.focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("Count 1 is at 0:03.06")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Count 1 is at 0:03.02")).to_be_visible()
    page.get_by_role("button", name="Redo").click()
    expect(page.get_by_text("Count 1 is at 0:03.06")).to_be_visible()
    page.keyboard.press("z")
    expect(page.get_by_text("Count 1 is at 0:03.02")).to_be_visible()


def test_a_grid_that_runs_backwards_is_refused_where_it_is_made(told: str, page: Page) -> None:
    page.goto(f"{told}/count")
    page.wait_for_function("document.querySelector('video')?.readyState >= 1")
    page.get_by_label("a later count").fill("33")
    page.locator("header").click()
    page.keyboard.press("g")
    expect(page.get_by_role("alert")).to_contain_text("The grid runs backwards")
    expect(page.get_by_role("alert")).to_contain_text("The grid before it is kept.")


def test_an_unreadable_row_is_not_kept_and_not_lost(told: str, page: Page) -> None:
    page.goto(f"{told}/count?row=1&count=1")
    line = page.get_by_label("line of row 1")
    line.fill("1 2 3 - 5 4 7 8")
    expect(page.get_by_role("alert")).to_contain_text("4 comes after 5")
    line.press("Enter")
    row(page, 4).get_by_role("button", name=re.compile(", 3: ")).click()
    expect(row(page, 1)).to_contain_text("1 2 3 - 5 6 7 8")
    row(page, 1).get_by_role("button", name=re.compile(", 1: ")).click()
    expect(line).to_have_value("1 2 3 - 5 4 7 8")
    line.press("Escape")
    expect(line).to_have_value("1 2 3 - 5 6 7 8")


def test_cues_stay_when_a_line_changes_around_them(told: str, page: Page) -> None:
    page.goto(f"{told}/count?row=1&count=1")
    line = page.get_by_label("line of row 1")
    line.fill("1 2 3 - 5 6 - 8")
    line.press("Enter")
    expect(row(page, 1).get_by_role("button", name=re.compile(", 7: a hold"))).to_be_visible()
    expect(row(page, 1).get_by_role("button", name=re.compile(", 8: close"))).to_be_visible()
    page.keyboard.press("z")
    expect(row(page, 1).get_by_role("button", name=re.compile(", 7: side R"))).to_be_visible()


def test_a_phone_has_its_evidence_in_a_card_at_the_foot(told: str, page: Page) -> None:
    page.set_viewport_size(PHONE)
    page.goto(f"{told}/compare?row=2&count=7")
    card = page.get_by_label("Evidence")
    expect(card).to_contain_text("left upper arm")
    box = card.bounding_box()
    assert box["y"] > PHONE["height"] * 0.6
    row(page, 6).get_by_role("button", name=re.compile(", 4: ")).click()
    expect(card).to_contain_text("right upper arm")
    assert card.bounding_box()["y"] > PHONE["height"] * 0.6


def test_a_take_that_is_marked_small_on_purpose_is_judged_by_its_timing(told: str, page: Page) -> None:
    page.goto(f"{told}/compare?row=2&count=7")
    expect(page.get_by_label("Evidence")).to_contain_text(re.compile(r"left upper arm \d+° too low"))
    small = page.get_by_role("checkbox", name="marked small on purpose")
    small.check()
    expect(page.get_by_label("Evidence")).not_to_contain_text("left upper arm")
    expect(page.get_by_text("Redrill Lanterns")).to_be_visible()
    small.uncheck()
    expect(page.get_by_label("Evidence")).to_contain_text("left upper arm")


def test_loops_are_of_a_count_or_a_row(told: str, page: Page) -> None:
    page.goto(f"{told}/compare?row=5&count=3")
    expect(page.get_by_label("Evidence")).to_contain_text("leg lengths")
    page.wait_for_function("[...document.querySelectorAll('video')].every(v => v.readyState >= 3 && !v.seeking)")
    begin = page.evaluate("document.querySelector('video').currentTime")
    page.get_by_role("radio", name="this count").click()
    page.keyboard.press("Space")
    seen = []
    for _ in range(25):
        page.wait_for_timeout(100)
        seen.append(page.evaluate("document.querySelector('video').currentTime"))
    assert min(seen) > begin - 0.1
    assert max(seen) < begin + 60 / 108 + 0.35
    page.keyboard.press("l")
    expect(page.get_by_role("radio", name="this row")).to_have_attribute("aria-checked", "true")


def test_a_routine_that_is_gone_is_said_and_leads_home(empty: Stack, page: Page) -> None:
    page.goto(f"{empty.address}/routines/99999/compare")
    expect(page.get_by_role("alert")).to_contain_text("This routine is not here any more.")
    page.get_by_role("link", name="All routines").click()
    expect(page).to_have_url(f"{empty.address}/")


def test_a_count_that_the_address_names_and_the_sheet_lacks_opens_the_worst(told: str, page: Page) -> None:
    page.goto(f"{told}/compare?row=9&count=12")
    expect(page.locator("[aria-pressed=true]")).to_have_attribute("aria-label", re.compile("Lanterns, 3 &"))
