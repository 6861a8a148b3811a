"""The forms of files: what goes out comes in again, and what is none is refused with its place."""

from fractions import Fraction as F
from pathlib import Path
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.sheets import Layer, Mark, Phrase, Score, Sheet
from juxtakine.pipeline.forms import FormError, read_form
from juxtakine.pipeline.sheet_forms import GridForm, PhraseForm, SheetForm

names = st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=12)
marks = st.builds(
    Mark, st.sampled_from(["1", "2", "3 &"]), names, st.sampled_from(Score), st.frozensets(st.sampled_from(Layer))
)
phrase = st.builds(
    Phrase, names, st.integers(1, 64), st.sampled_from(["1 2 3 & 4", "& 1 2", "1 - ~ 4"]),
    st.sampled_from([F(1, 2), F(2, 3), F(3, 5)]), st.lists(marks, max_size=3).map(tuple),
)  # fmt: skip
sheets = st.builds(Sheet, names, st.lists(phrase, max_size=4).map(tuple))


@given(sheets)
def test_a_sheet_comes_back_as_it_was(sheet: Sheet) -> None:
    text = SheetForm.of(sheet).model_dump_json()
    assert SheetForm.model_validate_json(text).value() == sheet
    assert '"schema":"juxtakine/sheet-1"' in text


@given(sheets, st.randoms(use_true_random=False))
def test_a_row_keeps_its_id_when_it_is_renamed_moved_or_edited(sheet: Sheet, random: Random) -> None:
    before = SheetForm.of(sheet).identified(SheetForm())
    ids = [p.id for p in before.phrases]
    assert len(set(ids)) == len(ids)
    assert all(ids)
    rows = [p.model_copy(update={"name": "another", "line": "1"}) for p in before.phrases]
    random.shuffle(rows)
    wanted = [p.id for p in rows]
    # a row that is danced once more below is another one
    again = [*rows, *rows[:1], PhraseForm(line="1 2")]
    now = SheetForm(phrases=again).identified(before).phrases
    assert [p.id for p in now][: len(rows)] == wanted
    assert len({p.id for p in now}) == len(now)


@given(sheets)
def test_a_file_without_ids_gives_rows_those_that_they_had(sheet: Sheet) -> None:
    before = SheetForm.of(sheet).identified(SheetForm())
    assert SheetForm.of(sheet).identified(before) == before
    assert [p.id for p in before.value().phrases] == [p.id for p in before.phrases]


def test_the_second_time_a_row_is_danced_has_an_id_of_its_own() -> None:
    rows = [PhraseForm(line="1 2", section="A", id="a0"), PhraseForm(line="1", id="b0")]
    danced = SheetForm(phrases=rows, order="A, A").value().phrases
    assert [p.id for p in danced] == ["a0", "b0", "a0.2", "b0.2"]


@given(st.lists(st.tuples(st.integers(1, 960).map(lambda k: F(k, 48)), st.floats(0.03, 20)), min_size=2, max_size=6))
def test_a_grid_comes_back_as_it_was(steps: list[tuple[F, float]]) -> None:
    at, seconds, anchors = F(0), 0.0, []
    for more, lasts in steps:
        at, seconds = at + more, seconds + float(more) * lasts
        anchors.append(Anchor(at, seconds))
    grid = Grid(tuple(anchors))
    assert GridForm.model_validate_json(GridForm.of(grid).model_dump_json()).value() == grid


@pytest.mark.parametrize(
    ("text", "place"),
    [
        ('{"schema": "juxtakine/sheet-2", "phrases": []}', "schema"),
        ('{"phrases": [{"line": "1", "counts": 0}]}', "phrases.0.counts"),
        ('{"phrases": [{"counts": 4}]}', "phrases.0.line"),
        ('{"phrases": [{"line": "1", "swing": 0.9}]}', "phrases.0.swing"),
        ('{"phrases": [{"line": "1", "marks": [{"label": "1", "score": "half"}]}]}', "phrases.0.marks.0.score"),
        ("[1, 2", "sheet.json"),
    ],
)
def test_what_is_no_sheet_is_refused_with_its_place(tmp_path: Path, text: str, place: str) -> None:
    file = tmp_path / "sheet.json"
    file.write_text(text)
    with pytest.raises(FormError, match=place.replace(".", r"\.")) as refused:
        read_form(SheetForm, file)
    assert "\n" not in str(refused.value)
