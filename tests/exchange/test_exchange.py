"""Sheets and grids out to other programs and in again: nothing is lost that a form can hold."""

import csv
import io
import re
from fractions import Fraction
from html import escape
from itertools import pairwise

import mido
import pysubs2
import pytest
from hypothesis import given
from hypothesis import strategies as st
from weasyprint import HTML

from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.exchange.midi import grid_from_midi, to_midi
from juxtakine.exchange.paper import Paper, page, to_pdf
from juxtakine.exchange.subtitles import grid_from_vtt, to_vtt
from juxtakine.exchange.table import from_csv, to_csv, to_markdown
from juxtakine.pipeline.forms import FormError
from juxtakine.pipeline.sheet_forms import DoneForm, MarkForm, PhraseForm, SheetForm

TEXT = st.text("abcäö ,;\"'|é-", max_size=12).map(str.strip)
MARKS = st.builds(
    MarkForm,
    label=st.sampled_from(["1", "2", "3", "3 &", "4", "5", "6", "7", "8"]),
    cue=TEXT, sounds=TEXT, lyrics=TEXT, turn=st.integers(-8, 8), either=st.booleans(),
    score=st.sampled_from(["both", "timing", "position", "free"]),
    parts=st.lists(st.sampled_from(["feet", "body", "arms", "head"]), unique=True).map(sorted),
    foot=st.sampled_from([None, "left", "right", "both"]), weight=st.sampled_from([None, "left", "right", "both"]),
    layers=st.dictionaries(
        st.sampled_from(["feet", "arms", "head"]),
        st.builds(DoneForm, cue=TEXT.filter(bool), quality=st.sampled_from([None, "sharp", "light"])),
        max_size=2,
    ),
)  # fmt: skip
ROWS = st.builds(
    PhraseForm, name=TEXT, counts=st.just(8), line=st.just("1 2 3 & 4 - 6 ~ 8"),
    marks=st.lists(MARKS, max_size=4, unique_by=lambda m: m.label), section=st.sampled_from(["", "A", "tag"]),
    weight=st.sampled_from([None, "left"]), facing=st.sampled_from([None, 12.0, 1.5, 9.0]),
    swing=st.sampled_from([0.5, 0.666667]),
)  # fmt: skip
DRIFTING = Grid((Anchor(Fraction(0), 2.3), Anchor(Fraction(8), 6.8), Anchor(Fraction(16), 11.1)))


def filled(form: SheetForm) -> list[PhraseForm]:
    """Marks in the order of the line, without those that say nothing."""
    order = ["1", "2", "3", "3 &", "4", "5", "6", "7", "8"]
    return [
        p.model_copy(update={"marks": sorted((m for m in p.marks if m != MarkForm(label=m.label)),
                                             key=lambda m: order.index(m.label))})
        for p in form.phrases
    ]  # fmt: skip


@given(st.lists(ROWS, min_size=1, max_size=4))
def test_a_sheet_comes_back_from_csv_as_it_went(rows: list[PhraseForm]) -> None:
    sheet = SheetForm(phrases=rows)
    assert filled(from_csv(to_csv(sheet).encode())) == filled(sheet)


def test_csv_of_another_spreadsheet_is_read() -> None:
    """With semicolons, other columns and in another order."""
    data = b"line;Row;mine;count;cue\n1 2 3 4;1;x;2;kick\n1 2 3 4;1;;3;\n"
    form = from_csv(data)
    assert (form.phrases[0].line, form.phrases[0].counts) == ("1 2 3 4", 4)
    assert [(m.label, m.cue) for m in form.phrases[0].marks] == [("2", "kick")]


@pytest.mark.parametrize(
    ("data", "sentence"),
    [
        ("row,line\n1,für\n".encode("latin-1"), "not in UTF-8"),
        (b"name,cue\nA,kick\n", "no column row and line"),
        (b"", "no column"),
        (b"row,line,counts,count,foot\n1,1 2,many,1,\n2,1 2,2,1,third\n", "row 1: .*; row 2: "),
    ],
)
def test_a_table_that_is_no_sheet_is_told_with_all_that_is_wrong(data: bytes, sentence: str) -> None:
    with pytest.raises(FormError, match=sentence):
        from_csv(data)


def sheet(*lines: str) -> SheetForm:
    marks = [MarkForm(label="3", cue="lift | drop", weight="left", turn=2)]
    return SheetForm(title="Low Bench", phrases=[PhraseForm(name="Über", line=x, marks=marks) for x in lines])


def test_others_read_what_goes_out() -> None:
    form = sheet("1 2 3 & 4 - 6 7 8", "1 2 3 4 5 6 7 8")
    table = list(csv.reader(io.StringIO(to_csv(form).lstrip("\ufeff"))))
    assert (len(table), table[0][0]) == (1 + 9 + 8, "row")
    assert "lift \\| drop" in to_markdown(form)
    subtitles = pysubs2.SSAFile.from_string(to_vtt(form.value(), DRIFTING, 0.0), "vtt")
    assert len(subtitles) == 17
    assert subtitles[2].plaintext == "3  lift | drop"
    assert subtitles[9].start == pytest.approx(6800, abs=1)
    midi = mido.MidiFile(file=io.BytesIO(to_midi(form.value(), DRIFTING, 0.0)))
    clicks = [m for m in midi if m.type == "note_on"]
    assert len(clicks) == 16
    assert midi.length == pytest.approx(float(DRIFTING.seconds(15.125)), abs=0.01)
    for paper in Paper:
        assert to_pdf(form.written(), paper).startswith(b"%PDF")


def test_paper_says_each_count_by_its_sign_and_eights_by_lines() -> None:
    marks = [MarkForm(label="9", cue="<b>")]
    phrase = PhraseForm(name="long", counts=12, line="& 1 2 3 - 5 6 7 8 9 10 11 12 &", marks=marks)
    html = page(SheetForm(phrases=[phrase]).written(), Paper.A4, None)
    signs = re.findall(r'class="sign">([^<]*)<', html)
    assert signs == ["&", "1", "2", "3", "–", "5", "6", "7", "8", "9", "10", "11", "12", "&"]
    assert html.count("<table>") == 2
    assert "&lt;b&gt;" in html


@pytest.mark.parametrize("start_s", [0.0, 1.25])
def test_a_grid_comes_back_from_subtitles_and_midi(start_s: float) -> None:
    made = sheet("1 2 3 & 4 - 6 7 8", "1 2 3 4 5 6 7 8").value()
    for back in (
        grid_from_vtt(to_vtt(made, DRIFTING, start_s).encode(), made, start_s),
        grid_from_midi(to_midi(made, DRIFTING, start_s), start_s),
    ):
        for count in range(16):
            assert float(back.seconds(count)) == pytest.approx(float(DRIFTING.seconds(count)), abs=0.002)


def test_files_of_something_else_are_refused() -> None:
    made = sheet("1 2 3 4 5 6 7 8").value()
    other = to_vtt(sheet("1 2 3 & 4 5 6 7 8").value(), DRIFTING, 0.0).encode()
    with pytest.raises(FormError, match="not of this sheet"):
        grid_from_vtt(other, made, 0.0)
    plain = io.BytesIO()
    mido.MidiFile(tracks=[mido.MidiTrack([mido.Message("note_on", note=60, time=10)])]).save(file=plain)
    with pytest.raises(FormError, match="names no tempo"):
        grid_from_midi(plain.getvalue(), 0.0)
    for read in (lambda: grid_from_midi(b"no midi", 0.0), lambda: grid_from_vtt(b"\xff\xfe", made, 0.0)):
        with pytest.raises(FormError, match="can't be read"):
            read()


@given(st.lists(ROWS, min_size=1, max_size=3))
def test_paper_holds_every_count_once_and_every_word_escaped(rows: list[PhraseForm]) -> None:
    html = page(SheetForm(title="<Low & Bench>", phrases=rows).written(), Paper.LETTER, None)
    assert html.count('class="sign"') == 9 * len(rows)
    assert "&lt;Low &amp; Bench&gt;" in html
    for cue in (m.cue for p in rows for m in p.marks if m.cue):
        assert escape(cue) in html
    assert html.count('class="row"') == len(rows)


@given(st.lists(ROWS, min_size=1, max_size=3))
def test_markdown_has_a_table_a_row_with_as_many_cells_as_counts(rows: list[PhraseForm]) -> None:
    lines = to_markdown(SheetForm(phrases=rows)).splitlines()
    tables = [line for line in lines if line.startswith("| ")]
    assert sum(line.startswith("| count |") for line in tables) == len(rows)
    assert all(len(re.split(r"(?<!\\)\|", line)) == 9 + 3 for line in tables)


def test_subtitles_and_clicks_follow_the_rows_as_they_are_danced() -> None:
    """A row danced twice, once on the other side and cut, sounds twice in both."""
    form = sheet("1 2 3 & 4 - 6 7 8").model_copy(update={"order": "A, A other side cut 4"})
    made = form.value()
    assert made.total == 12
    subtitles = pysubs2.SSAFile.from_string(to_vtt(made, DRIFTING, 0.0), "vtt")
    assert len(subtitles) == 9 + 5
    assert subtitles[9].start == pytest.approx(1000 * float(DRIFTING.seconds(8)), abs=1)
    assert [a.end <= b.start + 1 for a, b in pairwise(subtitles)] == [True] * 13
    midi = mido.MidiFile(file=io.BytesIO(to_midi(made, DRIFTING, 0.0)))
    assert len([m for m in midi if m.type == "note_on"]) == 12
    assert len([m for m in mido.merge_tracks(midi.tracks) if m.type == "marker"]) == 3  # count 1, and each row


GRIDS = st.lists(st.floats(0.3, 1.2), min_size=1, max_size=6).map(
    lambda lengths: Grid(
        tuple(Anchor(Fraction(8 * i), 2.0 + 8 * sum(lengths[:i])) for i in range(len(lengths) + 1)),
    )
)


@given(GRIDS)
def test_any_tempo_comes_back_from_midi(grid: Grid) -> None:
    back = grid_from_midi(to_midi(sheet("1 2 3 4 5 6 7 8", "1 2 3 4 5 6 7 8").value(), grid, 0.0), 0.0)
    for count in (0, 1, 7.5, 12):
        assert float(back.seconds(count)) == pytest.approx(float(grid.seconds(count)), abs=0.005)


def test_on_paper_each_count_stands_under_its_number_and_none_beyond_the_page() -> None:
    lines = ("1 2 3 4 5 6 7 8", "3 4 5 6 7 8", "& 1 2 3 4 5 6 7 8", "1 2 3 & 4 5 6 7 8 &")
    form = SheetForm(phrases=[PhraseForm(counts=8, line=line) for line in lines])
    for paper in Paper:
        (sheet,) = HTML(string=page(form.written(), paper, None)).render().pages
        box = sheet._page_box
        rows = [r for r in box.descendants() if r.element_tag == "tr"]
        cells = [[c for c in r.children if "none" not in c.element.get("class", "")] for r in rows]
        assert all(c.border_box_x() + c.border_width() <= box.margin_left + box.width + 1 for r in cells for c in r)
        whole, late = ([c.border_box_x() for c in r] for r in cells[:2])
        assert late == pytest.approx(whole[2:], abs=1)


def test_a_turn_is_said_in_words_where_it_is_read() -> None:
    form = SheetForm(phrases=[PhraseForm(counts=2, line="1 2", marks=[MarkForm(label="2", turn=-2)])])
    assert "a quarter to the left" in to_markdown(form)
    # the table that comes in again keeps the number
    assert from_csv(to_csv(form).encode()).phrases[0].marks[0].turn == -2
