"""From a browser: pages from elsewhere, many windows at once, a database that is away, a reference that is replaced."""

import http.server
import os
import re
import signal
import threading
from collections.abc import Iterator
from functools import partial
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from support.clips import another, written
from support.sheets import SHEET, sheet
from support.stack import Client, Stack, until

FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
TABS = 8
SOON_MS = 15_000
EVIL = """<!doctype html><title>elsewhere</title><iframe id=f></iframe><script>
async function attempt(to) {
  const said = {};
  const ask = async (name, path, more) => {
    try { const a = await fetch(to + path, more); said[name] = a.type === 'opaque' ? 'sent blind' : String(a.status); }
    catch { said[name] = 'not let through'; }
  };
  await ask('read', '/api/home');
  await ask('undo', '/api/routines/ROUTINE/undo', { method: 'POST' });
  await ask('undo blind', '/api/routines/ROUTINE/undo', { method: 'POST', mode: 'no-cors' });
  await ask('sheet', '/api/routines/ROUTINE/import?name=a.json',
    { method: 'POST', mode: 'no-cors', body: '{"phrases": []}' });
  await ask('delete', '/api/routines/ROUTINE', { method: 'DELETE' });
  const film = document.createElement('video');
  said.film = await new Promise((done) => {
    film.onerror = () => done('not let through'); film.onloadedmetadata = () => done('played');
    film.src = to + '/api/clips/CLIP/play';
  });
  return said;
}
</script>"""


@pytest.fixture
def client(empty: Stack) -> Iterator[Client]:
    made = Client(empty.address)
    yield made
    made.forget_all()


@pytest.fixture(scope="module")
def small(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return written(tmp_path_factory.mktemp("small"), first_s=3, last_s=5)


@pytest.fixture
def elsewhere(tmp_path: Path) -> Iterator[str]:
    """Another site on this machine: the address of its page."""

    class Quiet(http.server.SimpleHTTPRequestHandler):
        def log_message(self, format: str, *args: object) -> None:
            pass

    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), partial(Quiet, directory=str(tmp_path)))
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}/page.html"
    server.shutdown()


def test_a_page_from_elsewhere_reads_and_changes_nothing(
    browser: Browser, empty: Stack, client: Client, elsewhere: str, small: Path, tmp_path: Path
) -> None:
    routine = client.begin(another(tmp_path, small), sheet("1 2 3 4", counts=4))
    shown = until(lambda: (r := client.routine(routine))["reference"]["playable"] and r)
    page_of = EVIL.replace("ROUTINE", str(routine)).replace("CLIP", str(shown["reference"]["id"]))
    (tmp_path / "page.html").write_text(page_of)
    page = browser.new_page()
    for address in (elsewhere, elsewhere.replace("127.0.0.1", "localhost")):
        page.goto(address)
        said = page.evaluate("to => attempt(to)", empty.address)
        assert set(said.values()) <= {"not let through", "sent blind", "403"}, said
        assert (said["read"], said["film"]) == ("not let through", "not let through")
    page.evaluate("to => { document.querySelector('#f').src = to }", empty.address)
    page.wait_for_timeout(500)
    assert all("Juxtakine" not in frame.title() for frame in page.frames[1:])
    page.close()
    after = client.routine(routine)
    assert (after["sheet"], after["can_undo"], after["can_redo"]) == (shown["sheet"], True, False)


def test_another_name_for_this_machine_shows_nothing(browser: Browser, empty: Stack) -> None:
    """As if a name out there had been made to lead here."""
    port = empty.address.rpartition(":")[2]
    away = browser.browser_type.launch(
        executable_path="/usr/bin/chromium", args=[*FLAGS, "--host-resolver-rules=MAP evil.test 127.0.0.1"]
    )
    page = away.new_page()
    page.goto(f"http://evil.test:{port}/")
    expect(page.locator("body")).to_contain_text("on this machine alone")
    assert page.evaluate("fetch('/api/home').then(a => a.status)") == 421
    away.close()


def test_eight_windows_of_a_routine_are_all_there_soon(
    browser: Browser, empty: Stack, client: Client, small: Path, tmp_path: Path
) -> None:
    routine = client.begin(another(tmp_path, small), SHEET)
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    pages = [context.new_page() for _ in range(TABS)]
    for page in pages:
        page.goto(f"{empty.address}/routines/{routine}/count", wait_until="commit")
    for page in pages:
        expect(page.get_by_text("6 rows, 44 counts")).to_be_visible(timeout=SOON_MS)
    # and each goes on to be told
    client.send("PUT", f"/routines/{routine}/grid", {"first_s": 0.1, "bpm": 108})
    until(lambda: client.routine(routine)["reference"]["measured"])
    pages[-1].bring_to_front()
    expect(pages[-1].locator("video")).to_be_visible(timeout=SOON_MS)
    context.close()


def test_nothing_breaks_the_policy_of_what_a_page_may_do(
    browser: Browser, empty: Stack, client: Client, small: Path, tmp_path: Path
) -> None:
    routine = client.begin(another(tmp_path, small), sheet("1 2 3 4", counts=4), {"first_s": 0.1, "bpm": 108})
    until(lambda: client.routine(routine)["reference"]["measured"])
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    broken: list[str] = []
    page.on("console", lambda m: broken.append(m.text) if "Content Security Policy" in m.text else None)
    page.goto(empty.address)
    expect(page.get_by_text("1 routine", exact=True)).to_be_visible()
    for screen in ("watch", "count", "compare", "redrill"):
        page.goto(f"{empty.address}/routines/{routine}/{screen}")
        expect(page.get_by_role("link", name="Redrill", exact=True)).to_be_visible()  # the routine is read
        page.get_by_role("button", name="Keys and help").click()
        expect(page.get_by_text("How to read a cell:")).to_be_visible()
        page.keyboard.press("Escape")
    page.close()
    assert broken == []


def test_a_database_that_is_away_is_said_and_the_page_goes_on_by_itself(
    empty: Stack, client: Client, page: Page, small: Path, tmp_path: Path
) -> None:
    routine = client.begin(another(tmp_path, small), SHEET)
    until(lambda: client.routine(routine)["reference"]["measured"])
    page.goto(f"{empty.address}/routines/{routine}/count")
    expect(page.get_by_text("6 rows, 44 counts")).to_be_visible()
    database = int((empty.backing.var / "mariadb.pid").read_text())
    os.kill(database, signal.SIGSTOP)
    os.kill(database, signal.SIGCONT)  # it answers late, not never
    expect(page.get_by_text("6 rows, 44 counts")).to_be_visible()
    with empty.without_database():
        expect(page.get_by_role("alert")).to_contain_text("The database does not answer", timeout=SOON_MS)
        expect(page.get_by_text("6 rows, 44 counts")).to_be_visible()
        answer = client.http.get(f"/api/routines/{routine}")
        assert (answer.status_code, "goes on by itself" in answer.json()["sentence"]) == (503, True)
    expect(page.get_by_role("alert")).to_have_count(0, timeout=SOON_MS)
    expect(page.get_by_text("6 rows, 44 counts")).to_be_visible()


def test_a_reference_is_replaced_when_the_new_one_is_ready_and_comes_back_by_undo(
    empty: Stack, client: Client, page: Page, small: Path, tmp_path: Path
) -> None:
    old = another(tmp_path, small, "old.mp4")
    routine = client.begin(old, sheet("1 2 3 4", counts=4), {"first_s": 0.1, "bpm": 108})
    until(lambda: client.routine(routine)["reference"]["measured"])
    page.goto(f"{empty.address}/routines/{routine}/count")
    page.get_by_role("button", name="another clip").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("stays until the new one is ready")
    with page.expect_file_chooser() as chooser:
        dialog.get_by_role("button", name="Choose it").click()
    chooser.value.set_files(another(tmp_path, small, "new.mp4"))
    expect(page.get_by_text("old.mp4 was here before; undo brings it back.")).to_be_visible()
    expect(page.get_by_text("new.mp4", exact=True)).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("old.mp4", exact=True)).to_be_visible()
    expect(page.get_by_text(re.compile("new.mp4 was here before"))).to_be_visible()
    assert client.routine(routine)["grid"]["bpm"] == 108
    page.get_by_role("button", name="delete it for good").click()
    page.get_by_role("dialog").get_by_role("button", name="Delete it for good").click()
    expect(page.get_by_text(re.compile("was here before"))).to_have_count(0)
