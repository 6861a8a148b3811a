"""A reference put together phrase by phrase from stretches of clips, where none holds a whole run.

Each phrase keeps its own tempo. What leads to a phrase's first count belongs to it: clips are cut half a count before
the 1, so that the way to it is seen.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from juxtakine.core.counting.grids import Anchor, Grid
from juxtakine.core.counting.sheets import Sheet

LEAD = Fraction(1, 2)
"""Counts before a phrase's 1 at which the clip before it ends."""
BEFORE, AFTER = 2, 1
"""Counts shown before the first phrase and after the last, as far as their clips go."""


class PieceError(ValueError):
    """A stretch that can't be a phrase; the message is a sentence."""


@dataclass(frozen=True)
class Piece:
    """A phrase danced in a clip that goes from `begins_s` to `ends_s`: seconds of its 1 and of the 1 after it.

    Raises PieceError.
    """

    first_s: float
    next_s: float
    begins_s: float
    ends_s: float

    def __post_init__(self) -> None:
        if not self.begins_s <= self.first_s < self.next_s <= self.ends_s:
            raise PieceError("A row has to end after it begins, inside its clip.")


@dataclass(frozen=True)
class Cut:
    """What is taken of a clip, in its seconds."""

    from_s: float
    to_s: float

    @property
    def lasts_s(self) -> float:
        return self.to_s - self.from_s


def assembled(sheet: Sheet, pieces: Sequence[Piece]) -> tuple[list[Cut], Grid]:
    """What is cut from the clips, one after the other, and where the sheet's counts then lie from 0 s on.

    One piece for each phrase; a cut is moved where its clip does not go far enough. Raises PieceError.
    """
    if len(pieces) != len(sheet.phrases) or not pieces:
        raise PieceError("Each row needs a stretch of its own.")
    lengths = [(p.next_s - p.first_s) / phrase.counts for p, phrase in zip(pieces, sheet.phrases, strict=True)]
    cuts, anchors, at_s = [], [], 0.0
    for k, (piece, start, long) in enumerate(zip(pieces, sheet.starts(), lengths, strict=True)):
        last = k == len(pieces) - 1
        lead = BEFORE if k == 0 else LEAD
        begin = max(piece.begins_s, piece.first_s - float(lead) * long)
        end = min(piece.ends_s, piece.next_s + AFTER * long) if last else piece.next_s - float(LEAD) * long
        first_s = at_s + piece.first_s - begin
        counts = sheet.phrases[k].counts
        anchors.append(Anchor(Fraction(start), first_s))
        if last:
            anchors.append(Anchor(Fraction(start + counts), first_s + counts * long))
        else:
            anchors.append(Anchor(start + counts - LEAD, first_s + float(counts - LEAD) * long))
        cuts.append(Cut(begin, end))
        at_s += end - begin
    return cuts, Grid(tuple(anchors))
