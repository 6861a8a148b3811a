"""Where the rows of a sheet are found again after an edit."""

from collections.abc import Iterator, Sequence
from difflib import SequenceMatcher

from juxtakine.core.counting.sheets import Phrase


def carried(before: Sequence[Phrase], after: Sequence[Phrase]) -> dict[int, int]:
    """The place (from 0) that each row has afterwards, of those that are still there: as it was, moved elsewhere, or
    changed in its place."""
    old, new = [_known_by(p) for p in before], [_known_by(p) for p in after]
    blocks = SequenceMatcher(None, old, new, autojunk=False).get_opcodes()
    found = {a: b for tag, *span in blocks if tag == "equal" for a, b in _pairs(*span)}
    free = [b for b in range(len(new)) if b not in found.values()]
    for a in (a for a in range(len(old)) if a not in found):
        moved = next((b for b in free if new[b] == old[a]), None)
        if moved is not None:
            free.remove(moved)
            found[a] = moved
    for tag, *span in blocks:
        if tag == "replace":
            found |= {a: b for a, b in _pairs(*span) if a not in found and b in free}
    return found


def _known_by(phrase: Phrase) -> tuple[str, int, str]:
    return phrase.name, phrase.counts, phrase.line


def _pairs(from_a: int, to_a: int, from_b: int, to_b: int) -> Iterator[tuple[int, int]]:
    return zip(range(from_a, to_a), range(from_b, to_b), strict=False)
