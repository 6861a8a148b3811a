"""Explained: what was measured, with its causes, its rows and the order in which to redrill them."""

from juxtakine.core.comparing.explaining import causes, phrases
from juxtakine.core.comparing.explaining.measured import Measured
from juxtakine.core.comparing.results import Comparison
from juxtakine.core.counting.sheets import Sheet


def explained(m: Measured, sheet: Sheet) -> Comparison:
    results = causes.explained(m.counts, m.evidence)
    rows = tuple(
        phrases.of_phrase(n, start, [r for r in results if r.count.phrase == n])
        for n, start in enumerate(sheet.starts(), 1)
    )
    return Comparison(m.alignment, m.mirror, m.turned_deg, m.unlikeness, results, rows, phrases.redrill(rows))
