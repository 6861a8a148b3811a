"""Repeats: which phrases are danced like an earlier one, on the same or the other side, with another ending, or cut.

Both phrases are laid over each other count by count, as vectors of the segments in the picture (turned about the
upright where the dancer faces another wall); what differs by no more than one body's own inexactness is the same.
Conventions: phrases are numbered from 1; distances in segment lengths (root of the mean square over the body).
"""

from dataclasses import dataclass, replace

import numpy as np
from scipy.ndimage import uniform_filter1d
from scipy.spatial.transform import Rotation
from scipy.special import expit

from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.lines import read_line
from juxtakine.core.counting.sheets import Phrase, Sheet
from juxtakine.core.counting.structure import mirrored as other_side
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.features import LIMBS, Features, wrapped
from juxtakine.core.movement.tracks import Floats

BEFORE, AFTER, STEPS = 0.25, 0.45, 6
"""What is looked at of a count: the end of the way that leads to it, and where it arrives; samples."""
BODY = [i for i, part in enumerate(LIMBS) if part is not Part.HEAD]
"""The head is too short in the picture to tell."""
SHIFTS_S = (0.0, -0.04, 0.04, -0.08, 0.08)
"""A repeat may be danced this much sooner or later."""
UNLIKE = 0.45
"""Distance from which on no shift makes two phrases alike."""
AS_LIKELY_ALIKE, ALIKE_SOFT = 0.235, 0.025
"""Distance of a count at which it is as likely the same as not, and how softly that turns."""
MOVES = 0.18
"""A phrase whose poses spread less than this around their mean hardly moves: it is like any other that does not."""
SHARE = 0.5
"""At least so much of a phrase has to be the same, from its beginning on."""
LEAST_COUNTS = 4
OTHER_WALL = 6.0
"""Degrees between the facings from which on a phrase is turned before it is compared."""
LEAST_SEEN = 0.7


@dataclass(frozen=True)
class Repeat:
    """`phrase` is danced like the earlier phrase `like` for `counts` counts, all of its own unless it has another
    ending; `cut` where it ends before the other does."""

    phrase: int
    like: int
    mirrored: bool
    counts: int
    other_ending: bool
    cut: bool
    certainty: float


def repeats(reference: Features, grid: Grid, sheet: Sheet) -> list[Repeat]:
    """Of each phrase that is like an earlier one, the likest; in order."""
    pieces = [_piece(reference, grid, start, p) for start, p in zip(sheet.starts(), sheet.phrases, strict=True)]
    found = []
    for later in range(1, len(pieces)):
        told = [_told(pieces[earlier], pieces[later], earlier + 1, later + 1) for earlier in range(later)]
        sure = [t for t in told if t is not None]
        if sure:
            # the whole of an earlier one before a part of it, the surer, the first
            found.append(max(sure, key=lambda r: (r.counts, round(r.certainty, 2), -r.like)))
    return found


@dataclass(frozen=True)
class _Piece:
    """A phrase's features at STEPS a count, once for each shift; whether anything arrives on its first count."""

    shifted: list[Features]
    counts: int
    spread: float
    begins: bool

    @property
    def plain(self) -> Features:
        return self.shifted[0]


def _piece(reference: Features, grid: Grid, start: int, phrase: Phrase) -> _Piece:
    counts = phrase.counts
    at = (start + np.arange(counts)[:, None] + np.linspace(-BEFORE, AFTER, STEPS)).ravel()
    seconds = grid.seconds(at)
    plain = reference.at(seconds).vectors[:, BODY, :2]
    seen = plain[np.isfinite(plain).all((1, 2))]
    spread = float(np.sqrt(2 * ((seen - np.median(seen, axis=0)) ** 2).mean())) if len(seen) else 0.0
    first = read_line(phrase.line, counts, phrase.swing)[0]
    begins = not (first.hold or first.goes_on)
    return _Piece([reference.at(seconds + s) for s in SHIFTS_S], counts, spread, begins)


def _told(one: _Piece, other: _Piece, number: int, later: int) -> Repeat | None:
    counts = min(one.counts, other.counts)
    if max(one.spread, other.spread) < MOVES or counts < LEAST_COUNTS:
        return None
    ways = [(mirrored, _distances(one, other, counts, mirrored)) for mirrored in (False, True)]
    best: Repeat | None = None
    for mirrored, distances in ways:
        chances = expit((AS_LIKELY_ALIKE - distances) / ALIKE_SOFT)
        if not (one.begins and other.begins):
            chances[0] = chances[1]  # there the pose is that of the phrase before
        # one count that was mistaken by the estimator does not end a repeat
        calm = uniform_filter1d(np.nan_to_num(chances, nan=0.5), 3, mode="nearest")
        different = np.flatnonzero(calm < 0.5)
        same = int(different[0]) if len(different) else counts
        if np.isfinite(distances).mean() < LEAST_SEEN or same < max(LEAST_COUNTS, SHARE * other.counts):
            continue
        certainty = float(np.clip(np.nanmean(chances[:same]), 0.5, 0.99))
        whole = same >= counts - 0.5
        made = Repeat(
            later, number, mirrored, counts if whole else same, not whole or other.counts > one.counts,
            whole and other.counts < one.counts, certainty,
        )  # fmt: skip
        if best is None or (made.counts, made.certainty) > (best.counts, best.certainty):
            best = made
    return best


def _distances(one: _Piece, other: _Piece, counts: int, mirrored: bool) -> Floats:
    """(counts,) how far both are apart on each count, at the shift that fits best; NaN where too little is seen."""
    shown = one.plain.mirrored if mirrored else one.plain
    best = np.full(counts, np.inf)
    total = np.inf
    for own in other.shifted:
        for turn in _turns(shown, own, counts * STEPS):
            wanted, got = (_flat(f, t, counts) for f, t in ((shown, turn), (own, Rotation.identity())))
            # what the estimator trembles goes in the mean over a third of the samples; what differs stays
            apart = (got - wanted).reshape(counts, 2, STEPS // 2, -1).mean(2)
            known = np.isfinite(apart)
            mean = np.where(known, apart**2, 0).sum((1, 2)) / np.maximum(known.sum((1, 2)), 1)
            away = np.where(known.mean((1, 2)) > 0.5, np.sqrt(2 * mean), np.nan)
            middle = float(np.nanmedian(away)) if np.isfinite(away).any() else np.inf
            if middle < total:
                total, best = middle, away
        if total > UNLIKE:
            break
    return best


def _flat(f: Features, turn: Rotation, counts: int) -> Floats:
    """(counts * STEPS, 2 * BODY) the segments as the turned camera sees them."""
    vectors = f.vectors[: counts * STEPS, BODY]
    turned = turn.apply(vectors.reshape(-1, 3)).reshape(vectors.shape)
    return np.asarray(turned[..., :2].reshape(len(turned), -1))


def _turns(shown: Features, own: Features, n: int) -> list[Rotation]:
    """As it is; and turned to the wall that the later one faces, where that is another."""
    apart = wrapped(own.facing[:n] - shown.facing[:n])
    known = apart[np.isfinite(apart)]
    yaw = float(np.median(known)) if len(known) else 0.0
    plain = [Rotation.identity()]
    # about the upright, which points down in the picture; turning to the dancer's left is positive
    return plain if abs(yaw) < OTHER_WALL else [*plain, Rotation.from_euler("y", -yaw, degrees=True)]


def written(sheet: Sheet, found: list[Repeat]) -> Sheet:
    """The sheet with each repeat's line and cues as they are written for what it repeats, sides exchanged where it is
    danced on the other one; what somebody wrote themselves for the repeat stays, and so does another ending."""
    phrases = list(sheet.phrases)
    for r in found:
        own, like = phrases[r.phrase - 1], phrases[r.like - 1]
        if not r.other_ending and not own.marks:
            phrases[r.phrase - 1] = _like(own, like, r.mirrored)
    return replace(sheet, phrases=tuple(phrases))


def _like(own: Phrase, like: Phrase, mirrored: bool) -> Phrase:
    """The line of one that is as long; of one that is cut, the cues of the counts that are left."""
    made = replace(own, line=like.line, swing=like.swing) if own.counts == like.counts else own
    labels = {s.label for s in read_line(made.line, made.counts, made.swing)}
    marks = (other_side(m) if mirrored else m for m in like.marks if m.label in labels)
    return replace(made, marks=tuple(marks))
