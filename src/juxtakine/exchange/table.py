"""The sheet as a table: CSV, which comes in again, and Markdown, to read.

One line for each sounding of each row as it is written; what a row says of itself stands on each of its lines.
"""

import csv
import io
from collections.abc import Iterable, Sequence

from pydantic import ValidationError

from juxtakine.core.counting.checks import amount
from juxtakine.core.counting.lines import Sounding, counts_of, read_line
from juxtakine.core.counting.positions import from_decimal
from juxtakine.core.counting.sheets import Layer
from juxtakine.pipeline.forms import FormError, formed, told
from juxtakine.pipeline.forms import problems as problems_of
from juxtakine.pipeline.sheet_forms import MarkForm, PhraseForm, SheetForm

OF_ROWS = ("row", "name", "section", "counts", "line", "swing", "starts on", "faces")
OF_COUNTS = ("count", "cue", "sounds", "lyrics", "foot", "weight", "turn", "score", "either", "parts")
LAYERS = tuple(layer.value for layer in Layer)
QUALITIES = tuple(f"{layer} quality" for layer in LAYERS)
COLUMNS = (*OF_ROWS, *OF_COUNTS, *LAYERS, *QUALITIES)
NEEDED = ("row", "line")
NOT_IN_CSV = (
    "CSV can't hold the order of sections, walls, what single repetitions change, easier ways, the style of step names "
    "and steps of one's own."
)


def to_csv(form: SheetForm) -> str:
    """Begins with the mark by which spreadsheets know UTF-8."""
    out = io.StringIO()
    table = csv.DictWriter(out, COLUMNS, lineterminator="\r\n")
    table.writeheader()
    for number, phrase in enumerate(form.phrases, 1):
        of_row = {
            "row": number, "name": phrase.name, "section": phrase.section, "counts": phrase.counts, "line": phrase.line,
            "swing": f"{phrase.swing:g}", "starts on": phrase.weight or "", "faces": _clock(phrase.facing),
        }  # fmt: skip
        marks = {m.label: m for m in phrase.marks}
        for sounding in _soundings(phrase):
            table.writerow(of_row | _cells(marks.get(sounding.label, MarkForm(label=sounding.label))))
    return "\ufeff" + out.getvalue()


def from_csv(data: bytes) -> SheetForm:
    """Parted by commas, semicolons or tabs. Raises FormError with everything that is wrong, a sentence each."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FormError("this file is not in UTF-8: save it as “CSV UTF-8” and drop it again") from error
    head = text.partition("\n")[0]
    parted = max(",;\t", key=head.count)
    try:
        table = list(csv.DictReader(io.StringIO(text), delimiter=parted))
    except csv.Error as error:
        raise FormError(f"this file can't be read as a table: {error}") from error
    named = {name.strip().casefold(): name for name in (table[0] if table else {}) if name}
    missing = [name for name in NEEDED if name not in named]
    if missing or not table:
        raise FormError(
            f"this table has no column {' and '.join(missing) or NEEDED[0]}: its first line names the columns"
        )
    lines = [{key: (row.get(name) or "").strip() for key, name in named.items()} for row in table]
    rows: dict[str, list[dict[str, str]]] = {}
    for line in lines:
        rows.setdefault(line["row"], []).append(line)
    phrases, problems = [], []
    for number, row in rows.items():
        try:
            phrases.append(_phrase(row))
        except ValidationError as error:
            problems += [f"row {number}: {problem}" for problem in problems_of(error)]
    if problems:
        raise FormError(told(problems))
    return formed(lambda: SheetForm(phrases=phrases))


def to_markdown(form: SheetForm) -> str:
    """A table a row: its counts, and under them what is said of them."""
    parts = [f"# {form.title}"]
    if form.order:
        parts.append(f"Order: {form.order}")
    for number, phrase in enumerate(form.phrases, 1):
        marks = {m.label: m for m in phrase.marks}
        soundings = _soundings(phrase)
        if phrase.section:
            parts.append(f"## {phrase.section}")
        spoken = [_plain(s.label if not s.hold else f"{s.label} –") for s in soundings]
        rows = [("count", spoken), ("", ["---"] * len(soundings))]
        for title, said in _lines_of(soundings, marks):
            rows.append((title, [_plain(word) for word in said]))
        body = "\n".join(f"| {title or '---'} | " + " | ".join(words) + " |" for title, words in rows)
        parts.append(f"### {number} {_plain(phrase.name)}".rstrip() + f"\n\n{body}")
    return "\n\n".join(parts) + "\n"


def _lines_of(soundings: Sequence[Sounding], marks: dict[str, MarkForm]) -> Iterable[tuple[str, list[str]]]:
    """What is said of the counts, a line for each kind of which anything is said."""
    said_of = [marks.get(s.label, MarkForm(label=s.label)) for s in soundings]
    cells = [_cells(m) | {"turn": amount(m.turn) if m.turn else ""} for m in said_of]
    for title in ("cue", *LAYERS, "sounds", "lyrics", "weight", "turn", "score", "either"):
        said = [cell[title] for cell in cells]
        if any(said):
            yield title, said


def _cells(mark: MarkForm) -> dict[str, str]:
    layers = {layer.value: done for layer, done in mark.layers.items()}
    return {
        "count": mark.label, "cue": mark.cue, "sounds": mark.sounds, "lyrics": mark.lyrics, "foot": mark.foot or "",
        "weight": mark.weight or "", "turn": str(mark.turn) if mark.turn else "",
        "score": "" if mark.score == "both" else mark.score.value, "parts": " ".join(mark.parts),
        "either": "yes" if mark.either else "",
        **{k: layers[k].cue if k in layers else "" for k in LAYERS},
        **{f"{k} quality": (layers[k].quality or "") if k in layers else "" for k in LAYERS},
    }  # fmt: skip


def _phrase(lines: list[dict[str, str]]) -> PhraseForm:
    first = lines[0]
    soundings = [line for line in lines if line.get("count")]
    return PhraseForm.model_validate(
        {
            "name": first.get("name", ""), "section": first.get("section", ""), "line": first["line"],
            "counts": first.get("counts") or counts_of(first["line"]),
            "swing": (first.get("swing") or "0.5").replace(",", "."),
            "weight": first.get("starts on") or None, "facing": first.get("faces") or None,
            "marks": [mark for mark in map(_mark, soundings) if set(mark) != {"label"}],
        }
    )  # fmt: skip


def _mark(line: dict[str, str]) -> dict[str, object]:
    """What the line says of its count, without what it leaves empty."""
    layers = {
        layer: {"cue": line.get(layer, ""), "quality": line.get(f"{layer} quality") or None}
        for layer in LAYERS
        if line.get(layer) or line.get(f"{layer} quality")
    }
    plain = {key: line[key] for key in OF_COUNTS[1:-1] if line.get(key)}
    parts = line.get("parts", "").split()
    return (
        {"label": line["count"]} | plain | ({"parts": parts} if parts else {}) | ({"layers": layers} if layers else {})
    )


def _soundings(phrase: PhraseForm) -> tuple[Sounding, ...]:
    return read_line(phrase.line, phrase.counts, from_decimal(phrase.swing))


def _clock(facing: float | None) -> str:
    return "" if facing is None else f"{facing:g}"


def _plain(text: str) -> str:
    return text.replace("|", "\\|").replace("\n", " ")
