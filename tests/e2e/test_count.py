"""Counting a routine in a real browser: by the beat, by tapping, by step names, with an order that is checked."""

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import mido
import pysubs2
import pytest
from playwright.sync_api import Page, Route, expect

from juxtakine.demo import lantern_quay
from support.clips import REFERENCE, TAKES
from support.sheets import GRID, SHEET, sheet
from support.stack import Client, Stack, until

BEAT_S = 60 / lantern_quay.BPM
FIRST_S = float(lantern_quay.reference_grid().seconds(0.0))


@pytest.fixture(scope="module")
def clip(empty: Stack, tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[Client, int]]:
    """A routine with the instructor's clip alone, ready to be played."""
    client = Client(empty.address)
    routine = client.begin(empty.known(tmp_path_factory.mktemp("count"), REFERENCE, "quay.mp4"))
    until(lambda: client.routine(routine)["reference"]["playable"])
    yield client, routine
    client.forget_all()


@pytest.fixture
def at(empty: Stack, clip: tuple[Client, int], page: Page) -> tuple[Client, int, str]:
    client, routine = clip
    return client, routine, f"{empty.address}/routines/{routine}/count"


def row(page: Page, number: int) -> Any:
    return page.locator(f"[data-row='{number}']")


def pick(page: Page, name: str, key: str) -> None:
    """From a list, by keys."""
    page.get_by_role("button", name=name).focus()
    page.keyboard.press("Space")
    expect(page.get_by_role("listbox")).to_be_focused()
    page.keyboard.press(key)
    # another one than before is marked before it is taken
    expect(page.locator("[role=option][data-focus]:not([data-selected])")).to_have_count(1)
    page.keyboard.press("Enter")


def write(client: Client, routine: int, form: dict[str, Any], grid: dict[str, Any] | None = None) -> None:
    assert client.send("PUT", f"/routines/{routine}/sheet", form).status_code == 200
    if grid:
        assert client.send("PUT", f"/routines/{routine}/grid", grid).status_code == 200


def test_the_counts_are_placed_by_the_beat_and_mended_by_tapping(at: tuple[Client, int, str], page: Page) -> None:
    client, routine, address = at
    write(client, routine, sheet("1 2 3 4 5 6 7 8"))
    page.goto(address)
    expect(page.get_by_text("108.0 counts a minute")).to_be_visible()
    ones = page.get_by_label("where the first 1 may be")
    ones.get_by_role("button", name="take this").first.click()
    expect(ones.get_by_text("taken")).to_be_visible()
    page.wait_for_function("document.querySelector('video').readyState >= 3")
    page.evaluate(f"document.querySelector('video').currentTime = {FIRST_S - 0.5}")
    page.locator("body").press("t")
    expect(page.get_by_text("tap each count")).to_be_visible()
    for count in range(8):
        page.wait_for_function(f"document.querySelector('video').currentTime >= {FIRST_S + count * BEAT_S}")
        page.keyboard.press("t")
    expect(page.get_by_text("8 counts tapped")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile(r"8 taps.*scatter by"))).to_be_visible()
    counts = client.routine(routine)["grid"]["counts_s"]
    # as even as a browser's clock between two frames lets a tap be
    assert (counts[8] - counts[0]) / 8 == pytest.approx(BEAT_S, abs=0.03)
    page.locator("body").press("z")
    expect(ones.get_by_text("taken")).to_be_visible()


def test_a_count_is_put_on_a_frame_and_dragged_by_its_foot(at: tuple[Client, int, str], page: Page) -> None:
    client, routine, address = at
    write(client, routine, sheet("1 2 3 & 4 5 6 7 8"), GRID)
    page.goto(f"{address}?row=1&count=3+%26")
    page.locator("video").wait_for()
    page.wait_for_function("document.querySelector('video').readyState >= 2")
    page.locator("body").press("Shift+ArrowRight")
    page.locator("body").press("b")
    expect(page.get_by_role("button", name="loosen 3 & of row 1")).to_be_visible()
    foot = page.get_by_role("slider", name="count 6")
    foot.focus()
    foot.press("ArrowRight")
    expect(page.get_by_role("button", name="loosen 6 of row 1")).to_be_visible()
    page.get_by_role("button", name="loosen 6 of row 1").click()
    expect(page.get_by_role("button", name="loosen 6 of row 1")).to_have_count(0)


def test_a_line_that_is_read_slowly_takes_nothing_back(at: tuple[Client, int, str], page: Page) -> None:
    client, routine, address = at
    write(client, routine, sheet("1 2 3 4 5 6 7 8"))
    page.goto(address)
    row(page, 1).locator("[data-cell]").first.click()
    page.locator("body").press("e")
    page.get_by_label("line of row 1").wait_for()
    held: list[Route] = []
    page.route("**/api/line", lambda asked: held.append(asked))
    page.get_by_label("line of row 1").fill("1 2 3 & 4 5 6 7 8")
    page.get_by_label("line of row 1").press("Enter")
    page.get_by_role("button", name="Add a row").click()
    expect(row(page, 2)).to_be_visible()
    expect(page.locator("[data-saved]")).to_contain_text("kept")
    for asked in held:
        asked.continue_()
    page.unroute("**/api/line")
    until(lambda: client.routine(routine)["sheet"]["phrases"][0]["line"] == "1 2 3 & 4 5 6 7 8")
    assert len(client.routine(routine)["sheet"]["phrases"]) == 2


def test_a_routine_with_restart_and_tag_is_typed_by_step_names_and_mended(
    at: tuple[Client, int, str], page: Page
) -> None:
    client, routine, address = at
    write(client, routine, {"schema": "juxtakine/sheet-1", "title": "Low Bench", "phrases": []})
    page.goto(address)
    steps = (
        "walk R L, shuffle R, rock L recover, coaster L",
        "grapevine R, grapevine L",
        "step R, kick L, close L, touch R, side R, close L, pivot R",
        "jazz box R, v step R",
    )
    for n, line in enumerate(steps, 1):
        page.get_by_role("button", name="Type the first row" if n == 1 else "Add a row").click()
        page.get_by_label(f"line of row {n}").wait_for()
        page.get_by_role("button", name="type step names").click()
        field = page.get_by_label(f"steps of row {n}")
        field.fill(line)
        expect(page.get_by_label("counts", exact=True)).to_have_value("8")
        field.press("Enter")
        first = line.split(",")[0].split()[0]
        expect(row(page, n).get_by_role("button", name=re.compile(f"1: {first}")).first).to_be_visible()
    page.get_by_role("button", name="Add a row").click()
    page.get_by_label("line of row 5").wait_for()
    page.get_by_label("counts", exact=True).fill("4")
    page.get_by_label("line of row 5").fill("1 2 3 4")
    page.get_by_label("line of row 5").press("Enter")
    page.get_by_role("tab", name="this row").click()
    page.get_by_label("section that begins here").fill("tag")
    page.get_by_label("section that begins here").press("Enter")
    page.get_by_role("tab", name="the order").click()
    order = page.get_by_label("order of the sections")
    order.fill("A, tagg, A cut 16, A")
    order.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("there is no section tagg")
    page.reload()
    page.get_by_role("tab", name="the order").click()
    expect(order).to_have_value("A, tagg, A cut 16, A")
    order.fill("A, tag, A cut 16, A")
    order.press("Enter")
    expect(page.get_by_text("3 A, cut after 16")).to_be_visible()
    expect(page.locator("[data-row]")).to_have_count(4 + 1 + 2 + 4)
    page.get_by_role("button", name="walls").click()
    page.get_by_role("option", name="1", exact=True).click()
    disagree = page.get_by_text(re.compile("1 walls are written, and with .* it is danced on"))
    expect(disagree).to_be_visible()
    page.get_by_role("button", name=re.compile("write . wall")).click()
    expect(disagree).to_have_count(0)
    assert client.routine(routine)["total"] == 32 + 4 + 16 + 32


def test_forty_counts_are_typed_with_layers_and_one_time_is_danced_otherwise(
    at: tuple[Client, int, str], page: Page
) -> None:
    client, routine, address = at
    form = sheet(*["1 2 3 & 4 - 6 7 8"] * 5)
    form["phrases"][0]["section"] = "A"
    write(client, routine, form | {"order": "A, A other side"}, GRID)
    page.goto(f"{address}?row=2&count=3+%26")
    page.get_by_role("tab", name="this count").click()
    for field, text in (("step", "lift R"), ("sound", "ka"), ("arms", "high")):
        page.get_by_label(field, exact=True).fill(text)
        page.get_by_label(field, exact=True).press("Enter")
    page.get_by_role("button", name="how the arms move").click()
    page.get_by_role("option", name="sharp").click()
    page.get_by_role("button", name="weight after it").click()
    page.get_by_role("option", name="left").click()
    expect(row(page, 2).get_by_role("button", name="row 2, 3 &: lift R, weight left")).to_be_visible()
    expect(row(page, 7).get_by_role("button", name="row 7, 3 &: lift L, weight right")).to_be_visible()
    row(page, 7).get_by_role("button", name="row 7, 3 &: lift L").click()
    expect(page.get_by_text("What is changed here holds for this time alone")).to_be_visible()
    page.get_by_label("step", exact=True).fill("hold it")
    page.get_by_label("step", exact=True).press("Enter")
    expect(row(page, 7).get_by_role("button", name="row 7, 3 &: hold it")).to_be_visible()
    expect(row(page, 2).get_by_role("button", name="row 2, 3 &: lift R")).to_be_visible()
    page.get_by_role("button", name="as it is written in row 2").click()
    expect(row(page, 7).get_by_role("button", name="row 7, 3 &: lift L")).to_be_visible()
    page.get_by_role("tab", name="this row").click()
    page.get_by_role("radio", name="sounds").click()
    expect(row(page, 2).get_by_role("button", name="row 2, 3 &: ka")).to_be_visible()
    page.get_by_role("radio", name="steps").click()
    page.get_by_role("button", name="swing", exact=True).click()
    page.get_by_role("option", name="swung", exact=True).click()
    page.get_by_role("button", name="so in every row").click()
    expect(page.get_by_role("button", name="so in every row")).to_have_count(0)
    page.keyboard.press("a")
    until(lambda: [round(p["swing"], 2) for p in client.routine(routine)["sheet"]["phrases"]] == [0.67] * 6)
    mark = client.routine(routine)["sheet"]["phrases"][1]["marks"][0]
    assert (mark["layers"], mark["sounds"]) == ({"arms": {"cue": "high", "quality": "sharp"}}, "ka")


def test_what_goes_out_is_read_by_others_and_comes_in_again(
    at: tuple[Client, int, str], page: Page, tmp_path: Path
) -> None:
    client, routine, address = at
    write(client, routine, SHEET, GRID)
    page.goto(address)
    page.get_by_role("tab", name="out and in").click()
    files = {}
    for name in ("to print, A4", "JSON", "CSV", "subtitles", "MIDI"):
        with page.expect_download() as download:
            page.get_by_role("link", name=name, exact=True).click()
        files[name] = tmp_path / download.value.suggested_filename
        download.value.save_as(files[name])
    assert files["to print, A4"].read_bytes().startswith(b"%PDF")
    assert len(pysubs2.load(str(files["subtitles"]))) == 47
    assert sum(m.type == "note_on" for m in mido.MidiFile(files["MIDI"])) == 44
    write(client, routine, sheet("1 2 3 4", counts=4))
    page.reload()
    page.get_by_role("tab", name="out and in").click()
    (tmp_path / "bad.csv").write_bytes("row;line\n1;für".encode("latin-1"))
    page.get_by_label("a sheet to take in").set_input_files(tmp_path / "bad.csv")
    expect(page.get_by_role("alert")).to_contain_text("not in UTF-8")
    expect(page.locator("[data-row]")).to_have_count(1)
    page.get_by_label("a sheet to take in").set_input_files(files["CSV"])
    expect(page.get_by_text("6 rows were taken in")).to_be_visible()
    expect(page.locator("[data-row]")).to_have_count(6)


def test_all_subjects_are_reached_and_a_count_is_written_by_keyboard_alone(
    at: tuple[Client, int, str], page: Page
) -> None:
    client, routine, address = at
    write(client, routine, SHEET, GRID)
    page.goto(f"{address}?row=1&count=3")
    page.get_by_role("tab", name="the beat").focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("tab", name="this count")).to_have_attribute("aria-selected", "true")
    expect(page).to_have_url(re.compile("row=1&count=3"))
    for _ in range(2):
        page.keyboard.press("Tab")
    page.keyboard.press("ControlOrMeta+a")
    page.keyboard.type("lunge L")
    page.keyboard.press("Enter")
    expect(row(page, 1).get_by_role("button", name=re.compile("Quay, 3: lunge L"))).to_be_visible()
    page.keyboard.press("ArrowDown")
    expect(page).to_have_url(re.compile("row=2&count=3"))
    page.keyboard.press("s")
    expect(page.get_by_role("tab", name="this row")).to_have_attribute("aria-selected", "true")
    page.keyboard.press("l")
    expect(page.get_by_role("button", name="type line")).to_be_visible()
    page.keyboard.press("z")
    expect(row(page, 1).get_by_role("button", name=re.compile("Quay, 3: wide"))).to_be_visible()


@pytest.mark.parametrize("width", [360, 900])
@pytest.mark.parametrize("subject", ["the beat", "this count", "this row", "off the clip", "the order", "out and in"])
def test_every_subject_fits_its_window(at: tuple[Client, int, str], page: Page, subject: str, width: int) -> None:
    client, routine, address = at
    write(client, routine, SHEET, GRID)
    page.set_viewport_size({"width": width, "height": 800})
    page.goto(f"{address}?row=3&count=3")
    page.get_by_role("tab", name=subject).click()
    page.wait_for_timeout(200)
    assert page.evaluate("document.documentElement.scrollWidth") <= width


def test_two_styles_are_right_over_a_stretch_and_the_take_is_judged_by_the_nearer(
    empty: Stack, at: tuple[Client, int, str], page: Page, tmp_path: Path
) -> None:
    """The other clip is the take's own dancing: where the sheet lets it, the low arm of row 2 is right."""
    client, routine, address = at
    write(client, routine, SHEET, GRID)
    take = client.add_take(routine, empty.known(tmp_path, TAKES[0], "take.mp4"))
    assert "left upper arm" in str(client.result(take)["outcome"]["rows"][1])
    page.goto(f"{address}?row=2&count=6")
    page.get_by_role("tab", name="this count").click()
    page.get_by_label("either style").check()
    page.get_by_role("button", name="scored so through").click()
    page.get_by_role("option", name="7", exact=True).click()
    expect(page.get_by_role("button", name="scored so through")).to_have_text("7")
    expect(row(page, 2).get_by_text("On 6, 7 two styles are right, and one clip shows the dance")).to_be_visible()
    softer = empty.known(tmp_path, TAKES[0], "softer.mp4")
    assert client.drop(f"/routines/{routine}/references", softer).status_code == 200
    until(lambda: client.routine(routine)["others"][0]["usable"])
    reference = client.routine(routine)["reference"]["id"]
    client.send("PUT", f"/clips/{take}/against", {"reference": reference})
    until(lambda: "softer.mp4" in str(client.result(take)["outcome"]))
    page.goto(f"{address.removesuffix('count')}compare?row=2&count=7")
    expect(page.get_by_label("Evidence")).to_contain_text("danced more as in softer.mp4, and judged by it")
    expect(row(page, 2).get_by_text("clean")).to_be_visible()
    page.go_back()
    page.get_by_role("tab", name="this count").click()
    page.get_by_label("either style").uncheck()
    expect(row(page, 2).get_by_text("two styles are right")).to_have_count(0)


def test_how_a_stretch_is_scored_is_said_by_keyboard_alone_on_a_small_phone(
    at: tuple[Client, int, str], page: Page
) -> None:
    client, routine, address = at
    write(client, routine, sheet("1 2 3 & 4 - 6 7 8"), GRID)
    page.set_viewport_size({"width": 360, "height": 740})
    page.goto(f"{address}?row=1&count=3")
    page.get_by_role("tab", name="the beat").focus()
    page.keyboard.press("ArrowRight")
    pick(page, "how it is scored", "ArrowDown")
    expect(page.get_by_role("button", name="how it is scored")).to_have_text("timing only")
    page.get_by_role("checkbox", name="arms").focus()
    page.keyboard.press("Space")
    expect(page.get_by_role("checkbox", name="arms")).not_to_be_checked()
    pick(page, "scored so through", "End")
    expect(page.get_by_role("button", name="scored so through")).to_have_text("8")
    assert page.evaluate("document.documentElement.scrollWidth") <= 360
    marks = client.routine(routine)["sheet"]["phrases"][0]["marks"]
    assert [m["label"] for m in marks] == ["3", "3 &", "4", "5", "6", "7", "8"]
    assert all((m["score"], sorted(m["parts"])) == ("timing", ["body", "feet", "head"]) for m in marks)
    page.keyboard.press("z")
    until(lambda: len(client.routine(routine)["sheet"]["phrases"][0]["marks"]) == 1)


def test_the_sheet_is_read_off_the_clip_and_taken_by_one_key(at: tuple[Client, int, str], page: Page) -> None:
    client, routine, address = at
    write(client, routine, sheet(), {"first_s": FIRST_S, "bpm": lantern_quay.BPM})
    until(lambda: client.routine(routine)["reference"]["measured"])
    page.goto(address)
    expect(page.get_by_text("Read off the clip: 6 rows.")).to_be_visible()
    # nothing of it is in the sheet yet
    assert client.routine(routine)["rows"] == []
    expect(row(page, 2).get_by_role("button", name=re.compile("proposed"))).to_have_count(9)
    row(page, 2).get_by_role("button").first.click()
    page.keyboard.press("y")
    expect(page.locator("[data-saved]")).to_have_text(re.compile("kept"))
    until(lambda: len(client.routine(routine)["rows"]) == 2)
    page.keyboard.press("Shift+Y")
    until(lambda: client.routine(routine)["total"] == 44)
    lines = [r["line"] for r in client.routine(routine)["rows"]]
    assert lines[:3] == [p["line"] for p in SHEET["phrases"][:3]]
    page.keyboard.press("z")
    until(lambda: len(client.routine(routine)["rows"]) == 2)
    expect(row(page, 3).get_by_role("button", name=re.compile("proposed")).first).to_be_visible()
