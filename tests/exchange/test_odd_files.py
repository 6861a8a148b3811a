"""Files from anywhere: whatever is in them, they are read, or refused with a sentence; nothing else is raised."""

import json
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from juxtakine.core.counting.grids import GridError
from juxtakine.core.counting.lines import LineError
from juxtakine.core.counting.sheets import SheetError, expand
from juxtakine.core.counting.structure import problems
from juxtakine.demo import lantern_quay
from juxtakine.exchange.midi import grid_from_midi, to_midi
from juxtakine.exchange.subtitles import grid_from_vtt, to_vtt
from juxtakine.exchange.table import from_csv, to_csv
from juxtakine.pipeline.forms import FormError, read_form
from juxtakine.pipeline.sheet_forms import GridForm, SheetForm

SHEET, GRID = lantern_quay.SHEET, lantern_quay.reference_grid()
CSV = to_csv(SheetForm.of(SHEET)).encode()
VTT = to_vtt(SHEET, GRID, 0.0).encode()
MIDI = to_midi(SHEET, GRID, 0.0)
WORDS = st.text(st.characters(), max_size=40)
NUMBERS = st.one_of(st.integers(), st.floats(), st.sampled_from([1e308, -1e308, float("nan"), float("inf")]))
VALUES = st.recursive(
    st.one_of(st.none(), st.booleans(), NUMBERS, WORDS),
    lambda inner: st.one_of(st.lists(inner, max_size=4), st.dictionaries(WORDS, inner, max_size=4)),
    max_leaves=12,
)


ANCHORS = st.lists(st.fixed_dictionaries({"at": NUMBERS, "seconds": NUMBERS}), max_size=4)
ODD_GRIDS = st.fixed_dictionaries({"anchors": ANCHORS})


@st.composite
def broken(draw: st.DrawFn, whole: bytes) -> bytes:
    """A whole file with some bytes changed, left out, cut off or said twice."""
    data = bytearray(whole)
    for _ in range(draw(st.integers(1, 6))):
        if not data:
            break
        at = draw(st.integers(0, len(data) - 1))
        match draw(st.sampled_from(["change", "leave out", "cut", "twice", "put in"])):
            case "change":
                data[at] = draw(st.integers(0, 255))
            case "leave out":
                del data[at : at + draw(st.integers(1, 60))]
            case "cut":
                del data[at:]
            case "twice":
                data[at:at] = data[at : at + 80]
            case "put in":
                data[at:at] = draw(st.binary(max_size=20))
    return bytes(data)


def refused(read: Callable[[], object], *errors: type[Exception]) -> bool:
    """Whether it was, and then in words. Raises whatever else it leads to."""
    try:
        read()
    except errors as error:
        said = str(error)
    else:
        return False
    assert said
    return True


@given(st.one_of(st.binary(max_size=300), broken(CSV)))
@example(b"row,line\n1," + b"1" * 200_000)
@example(b"row,line\n1,\xff")
@example(b"row,line,swing\n1,1 2,nan\n")
@example(b'row,line\n1,"1 2')
def test_a_table(data: bytes) -> None:
    refused(lambda: problems(from_csv(data).written()), FormError)


@given(st.one_of(st.binary(max_size=300), broken(VTT)))
def test_subtitles(data: bytes) -> None:
    refused(lambda: grid_from_vtt(data, SHEET, 0.0), FormError)


@given(st.one_of(st.binary(max_size=300), broken(MIDI)))
@settings(suppress_health_check=[HealthCheck.too_slow])
def test_midi(data: bytes) -> None:
    refused(lambda: grid_from_midi(data, 0.0), FormError)


@st.composite
def odd_sheets(draw: st.DrawFn) -> object:
    """A sheet in which something is anything."""
    form = json.loads(SheetForm.of(SHEET).model_dump_json())
    place: object = form
    for _ in range(draw(st.integers(1, 5))):
        if isinstance(place, dict) and place:
            key = draw(st.sampled_from(sorted(place)))
            if not isinstance(place[key], dict | list) or draw(st.booleans()):
                place[key] = draw(VALUES)
                return form
            place = place[key]
        elif isinstance(place, list) and place:
            place = place[draw(st.integers(0, len(place) - 1))]
    return form | {draw(st.sampled_from(["ones", "order", "walls", "steps", "overrides"])): draw(VALUES)}


@given(odd_sheets())
@settings(suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow])
def test_a_sheet(tmp_path: Path, form: object) -> None:
    file = tmp_path / "sheet.json"
    file.write_bytes(json.dumps(form).encode("utf-8", "surrogatepass"))

    def read() -> None:
        written = read_form(SheetForm, file).written()
        if not problems(written):
            expand(read_form(SheetForm, file).value())

    refused(read, FormError, LineError, SheetError)


@given(st.one_of(VALUES, ODD_GRIDS))
@settings(suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_a_grid(tmp_path: Path, form: object) -> None:
    file = tmp_path / "grid.json"
    file.write_bytes(json.dumps(form).encode("utf-8", "surrogatepass"))
    if not refused(lambda: read_form(GridForm, file).value(), FormError, GridError):
        grid = read_form(GridForm, file).value()
        assert grid.seconds(1e3) > grid.seconds(0)


def test_a_sheet_beyond_all_bounds_is_refused_unread(tmp_path: Path) -> None:
    file = tmp_path / "sheet.json"
    file.write_bytes(b" " * 5_000_000)
    with pytest.raises(FormError, match="larger than 4 MB"):
        read_form(SheetForm, file)
