"""A reference put together phrase by phrase from stretches of clips, where none holds a whole run.

Each stretch has a tempo of its own; they are all brought to that of the fastest. What leads to a phrase's first count
belongs to it: clips are cut half a count before the 1, so that the way to it is seen.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet

LEAD = 0.5
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
    """What is taken of a clip, in its seconds, and how many times as fast as it was danced it is shown."""

    from_s: float
    to_s: float
    speed: float

    @property
    def lasts_s(self) -> float:
        return (self.to_s - self.from_s) / self.speed


def assembled(sheet: Sheet, pieces: Sequence[Piece]) -> tuple[list[Cut], Grid]:
    """What is cut from the clips, one after the other, and where the sheet's counts then lie from 0 s on.

    One piece for each phrase. Raises PieceError, also where a clip begins too late for the way to a phrase's 1.
    """
    if len(pieces) != len(sheet.phrases) or not pieces:
        raise PieceError("Each row needs a stretch of its own.")
    lengths = [(p.next_s - p.first_s) / phrase.counts for p, phrase in zip(pieces, sheet.phrases, strict=True)]
    cuts = []
    for k, (piece, long) in enumerate(zip(pieces, lengths, strict=True)):
        last = k == len(pieces) - 1
        begin = piece.first_s - (BEFORE if k == 0 else LEAD) * long
        end = piece.next_s + (AFTER if last else -LEAD) * long
        if k > 0 and begin < piece.begins_s:
            raise PieceError(
                f"The clip begins less than half a count before row {k + 1}: its way to the 1 isn't there."
            )
        cuts.append(Cut(max(piece.begins_s, begin), min(piece.ends_s, end), long / min(lengths)))
    first_s = (pieces[0].first_s - cuts[0].from_s) / cuts[0].speed
    return cuts, Grid.from_tempo(first_s, 60 / min(lengths))
