"""Who may come in and with how much, over the real server."""

import json
from pathlib import Path

import httpx
import pytest

from juxtakine.core.limits import LARGEST_SAID, LARGEST_SHEET
from support.clips import another
from support.sheets import GRID, SHEET, sheet
from support.stack import BYTES, Client, Stack

NAMES = ["evil.test", "127.0.0.1.evil.test", "localhost.evil.test:8321", "0.0.0.0", "[::2]", ""]
PATHS = ["/%00", "/" + "a" * 5000, "/api/clips/%00/play", "/..%2f..%2f%00", "/api/" + "9" * 400]
LONG_ORDER = {"phrases": [{"line": "1", "counts": 1, "section": "A"}], "order": ", ".join(["A x32"] * 20)}


@pytest.mark.parametrize("host", NAMES)
def test_a_name_that_only_leads_here_is_refused(stack: Stack, host: str) -> None:
    for path in ("/", "/api/home"):
        answer = httpx.get(stack.address + path, headers={"Host": host})
        assert (answer.status_code, "this machine alone" in answer.json()["sentence"]) == (421, True)


@pytest.mark.parametrize("host", ["127.0.0.1", "localhost:1234", "[::1]:8321"])
def test_this_machine_has_three_names(stack: Stack, host: str) -> None:
    assert httpx.get(f"{stack.address}/api/home", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize(
    "told",
    [
        {"Origin": "http://evil.test"},
        {"Origin": "null"},
        {"Origin": "http://127.0.0.1:1"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
    ],
)
def test_another_page_changes_nothing(
    client: Client, stack: Stack, tmp_path: Path, short: Path, told: dict[str, str]
) -> None:
    routine = client.begin(another(tmp_path, short), SHEET, GRID)
    before = kept(client, routine)
    path, clip = f"{stack.address}/api/routines/{routine}", another(tmp_path, short, "planted.mp4").read_bytes()
    for method, where, body in (
        ("POST", f"{path}/undo", b""),
        ("POST", f"{path}/import?name=a.json", b'{"phrases": []}'),
        ("POST", f"{path}/reference?name=a.mp4", clip),
        ("POST", f"{path}/takes?name=a.mp4", clip),
        ("DELETE", path, b""),
    ):
        answer = httpx.request(method, where, content=body, headers=told | BYTES)
        assert (answer.status_code, "Another page" in answer.json()["sentence"]) == (403, True)
    assert kept(client, routine) == before


def kept(client: Client, routine: int) -> tuple[object, ...]:
    """What a person has said and brought."""
    shown = client.routine(routine)
    return shown["sheet"], shown["grid"], shown["reference"]["id"], shown["takes"], shown["coming"]


def test_what_a_form_could_send_is_no_clip_and_no_sheet(client: Client, tmp_path: Path, short: Path) -> None:
    routine = client.begin(another(tmp_path, short), SHEET)
    for kind in ("text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x"):
        told = {"Content-Type": kind}
        for path in (f"/api/routines/{routine}/import?name=a.json", "/api/routines?name=a.mp4"):
            assert client.http.post(path, content=b"{}", headers=told).status_code == 415
        answer = client.http.put(f"/api/routines/{routine}/sheet", content=b'{"phrases": []}', headers=told)
        assert answer.status_code == 422
    assert len(client.routine(routine)["rows"]) == len(SHEET["phrases"])


def test_every_answer_shuts_out_what_is_not_ours(stack: Stack) -> None:
    for path in ("/", "/api/home", "/api/nothing", "/api/clips/1/play", "/assets/none.js"):
        told = httpx.get(stack.address + path).headers
        policy = told["content-security-policy"]
        assert "default-src 'none'" in policy
        assert "script-src 'self';" in policy
        assert "frame-ancestors 'none'" in policy
        assert "http:" not in policy
        assert (told["x-content-type-options"], told["x-frame-options"]) == ("nosniff", "DENY")
    assert "cdn" not in httpx.get(f"{stack.address}/docs").text


def test_too_much_is_refused_before_it_is_read(client: Client, tmp_path: Path, short: Path) -> None:
    routine = client.begin(another(tmp_path, short), SHEET)
    for path, most in (("/line", LARGEST_SAID), (f"/routines/{routine}/import?name=a.csv", LARGEST_SHEET)):
        answer = client.http.post(f"/api{path}", content=b" " * (most + 1), headers=BYTES)
        assert (answer.status_code, "too much" in answer.json()["sentence"]) == (413, True)
    assert len(client.routine(routine)["rows"]) == len(SHEET["phrases"])


def test_too_much_without_a_length_is_stopped_on_the_way(stack: Stack) -> None:
    pieces = (b" " * 65_536 for _ in range(20 * LARGEST_SAID // 65_536))
    try:
        told = {"Content-Type": "application/json"}
        status = httpx.post(f"{stack.address}/api/line", content=pieces, headers=told).status_code
    except httpx.WriteError:
        status = 413  # the line was closed while we still spoke
    assert status == 413


@pytest.mark.parametrize("path", PATHS)
def test_a_path_that_nothing_can_have_is_no_fault_of_ours(stack: Stack, path: str) -> None:
    assert httpx.get(stack.address + path).status_code in (200, 404, 422)


@pytest.mark.parametrize(
    ("where", "body", "sentence"),
    [
        ("sheet", '{"ones": [1e308]}', "less than or equal"),
        ("sheet", '{"ones": [NaN]}', "finite number"),
        ("sheet", '{"title": "\\ud800"}', "half a character|valid string|surrogate"),
        ("sheet", '{"phrases": [{"line": "1 \\udfff", "counts": 1}]}', "half a character|valid string|surrogate"),
        ("sheet", json.dumps(LONG_ORDER), "512"),
        ("grid", '{"first_s": -1e308, "bpm": 100}', "greater than"),
        ("grid", '{"first_s": Infinity, "bpm": 100}', "finite|less than"),
        ("grid", '{"first_s": 1, "bpm": NaN}', "finite|greater"),
        ("grid", '{"first_s": 0, "count": 1000000000, "count_s": 2}', "less than"),
        ("grid", '{"first_s": 0, "count": 4000, "count_s": 2}', "nobody dances so"),
        ("grid", '{"first_s": 900, "bpm": 100}', "not in this clip"),
        ("grid/anchors", '{"at": NaN, "seconds": 1}', "finite|greater"),
        ("grid/anchors", '{"at": 1e9, "seconds": 1}', "less than"),
    ],
)  # fmt: skip
def test_numbers_and_words_that_can_not_be_are_refused_in_words(
    client: Client, tmp_path: Path, short: Path, where: str, body: str, sentence: str
) -> None:
    routine = client.begin(another(tmp_path, short), sheet("1 2 3 4", counts=4), {"first_s": 0.1, "bpm": 108})
    told = {"Content-Type": "application/json"}
    answer = client.http.put(f"/api/routines/{routine}/{where}", content=body.encode(), headers=told)
    assert answer.status_code == 422, answer.text
    assert any(part in answer.json()["sentence"] for part in sentence.split("|")), answer.text
    assert client.routine(routine)["grid"]["bpm"] == 108


def test_taps_and_clicks_and_pictures_from_nowhere_are_refused(client: Client, tmp_path: Path, short: Path) -> None:
    routine = client.begin(another(tmp_path, short), sheet("1 2 3 4", counts=4))
    clip, told = client.routine(routine)["reference"]["id"], {"Content-Type": "application/json"}
    for path, body in (
        (f"routines/{routine}/grid/taps", '{"seconds": [1, NaN, 3]}'),
        (f"routines/{routine}/grid/taps", '{"seconds": [1, 2, 1e17]}'),
        (f"routines/{routine}/grid/taps", f'{{"seconds": {[n / 100 for n in range(5000)]}}}'),
        (f"clips/{clip}/follow", '{"x": Infinity, "y": 0.5, "at_s": 1}'),
        (f"clips/{clip}/follow", '{"x": 0.5, "y": 0.5, "at_s": NaN}'),
    ):
        assert client.http.post(f"/api/{path}", content=body.encode(), headers=told).status_code == 422
    for at in ("1e15", "nan", "-5"):
        assert client.http.get(f"/api/clips/{clip}/picture?at={at}").status_code == 422
