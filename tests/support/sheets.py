"""The demo routine as the interface sends it."""

from typing import Any

from juxtakine.demo import lantern_quay
from juxtakine.pipeline.sheet_forms import SheetForm

SHEET: dict[str, Any] = SheetForm.of(lantern_quay.SHEET).model_dump(mode="json")
GRID: dict[str, Any] = {"first_s": float(lantern_quay.reference_grid().seconds(0.0)), "bpm": lantern_quay.BPM}
EIGHT: dict[str, Any] = {"name": "", "counts": 8, "line": "1 2 3 4 5 6 7 8", "swing": 0.5, "marks": []}


def sheet(*lines: str, counts: int = 8) -> dict[str, Any]:
    phrases = [EIGHT | {"line": line, "counts": counts} for line in lines]
    return {"schema": "juxtakine/sheet-1", "title": "Low Bench", "phrases": phrases}
