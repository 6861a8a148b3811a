"""The sheet on paper, large enough to be read from the floor."""

from enum import StrEnum
from html import escape
from pathlib import Path

from weasyprint import HTML

from juxtakine.core.counting.cells import Cell, cells
from juxtakine.core.counting.checks import clock
from juxtakine.core.counting.sheets import Foot, Mark, Score, Sheet, expand
from juxtakine.core.counting.structure import Row, Written, rows, unfolded

LINE = 8
BAR = {Foot.LEFT: "left", Foot.RIGHT: "right", Foot.BOTH: "both"}
STYLE = (Path(__file__).parent / "assets" / "paper.css").read_text()


class Paper(StrEnum):
    A4 = "A4"
    LETTER = "letter"


def to_pdf(written: Written, paper: Paper, font: Path | None = None) -> bytes:
    """`font`: a font file; else whatever the machine has. Raises SheetError and LineError."""
    return bytes(HTML(string=page(written, paper, font)).write_pdf())


def page(written: Written, paper: Paper, font: Path | None) -> str:
    danced = rows(written)
    facing = _facings(unfolded(written))
    face = f'@font-face {{ font-family: sheet; src: url("{font.as_uri()}"); font-weight: 200 800 }}' if font else ""
    style = f"@page {{ size: {paper} }} {face} {STYLE}"
    parts = [f"<style>{style}</style><h1>{escape(written.title)}</h1>"]
    if written.order:
        parts.append(f'<p class="order">{escape(written.order)}</p>')
    for number, row in enumerate(danced, 1):
        if row.first and (written.order or row.phrase.section):
            parts.append(f"<h2>{escape(str(row.repetition))}</h2>")
        parts.append(_row(number, row, facing))
    return f'<html lang="en"><body>{"".join(parts)}</body></html>'


def _facings(sheet: Sheet) -> dict[tuple[int, str], str]:
    """Where a count turns, the clock that it ends at."""
    return {(c.phrase, c.label): clock(c.facing) for c in expand(sheet) if c.mark.turn}


def _row(number: int, row: Row, facing: dict[tuple[int, str], str]) -> str:
    phrase = row.phrase
    made = cells(phrase.line, phrase.counts, phrase.swing)
    marks = {m.label: m for m in phrase.marks}
    lines = []
    for start in range(0, phrase.counts, LINE):
        inside = [c for c in made if start <= c.sounding.at < start + LINE or (start == 0 and c.sounding.at < 0)]
        before = float(inside[0].sounding.at) - start if inside else 0.0
        # a pick-up stands before the 1: the row is then as much longer
        share = 100 / (LINE - min(before, 0.0))
        drawn = "".join(
            _cell(c, marks.get(c.sounding.label, Mark("")), facing.get((number, c.sounding.label)), share)
            for c in inside
        )
        after = LINE - min(LINE, phrase.counts - start)
        lines.append(f"<table><tr>{_spare(before * share)}{drawn}{_spare(after * share)}</tr></table>")
    name = escape(phrase.name) or "&nbsp;"
    return f'<div class="row"><div class="name"><span>{number}</span> {name}</div>{"".join(lines)}</div>'


def _spare(width: float) -> str:
    """Room where nothing stands, so that each count stands under its number."""
    return f'<td class="none" style="width:{width:g}%"></td>' if width > 0 else ""


def _cell(cell: Cell, mark: Mark, faces: str | None, share: float) -> str:
    """`share`: per cent of the row's width that a count takes."""
    sounding = cell.sounding
    sign = "–" if sounding.hold else "~" if sounding.goes_on else sounding.sign
    kind = "part" if sounding.between else "free" if mark.score is Score.FREE else ""
    bar = f'<div class="bar {BAR[mark.weight]}"></div>' if mark.weight else ""
    turn = f'<div class="turn">to {faces}</div>' if faces else ""
    return (
        f'<td class="{kind}" style="width:{share * float(cell.width):g}%"><div class="sign">{sign}</div>'
        f'<div class="cue">{escape(mark.cue)}</div>{turn}{bar}</td>'
    )
