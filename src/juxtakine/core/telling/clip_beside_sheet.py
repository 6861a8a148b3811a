"""What is said where a written sheet and the clip disagree: which things, not who is right."""

from juxtakine.core.counting.checks import amount
from juxtakine.core.proposing.against import Against, Disagreement


def told(found: Against) -> str:
    """A sentence that stands beside its row."""
    on = f" on {found.label}" if found.label else ""
    match found.kind:
        case Disagreement.SHIFTED:
            by = abs(found.shown)
            counts = f"{by} count{'s' if by > 1 else ''}"
            return f"From here on the clip lies {counts} {'later' if found.shown > 0 else 'earlier'} than written."
        case Disagreement.TURN:
            if not found.shown:
                return f"Written is {amount(found.written)}{on}, and the clip shows no turn."
            if not found.written:
                return f"The clip shows {amount(found.shown)}{on}, and no turn is written."
            return f"Written is {amount(found.written)}{on}, and the clip shows {amount(found.shown)}."
        case Disagreement.SIDE:
            return "The clip dances this row to the other side than written."
        case Disagreement.NOTHING_ARRIVES:
            return f"Nothing arrives{on} in the clip."
        case Disagreement.ARRIVES:
            return f"In the clip something arrives between {found.label} and the next count."
        case Disagreement.HOLD:
            return f"A hold is written{on}, and in the clip something arrives there."
