"""How rightly a sheet is read off a clip and held against it: made-up dances with the estimator's errors replayed.

Even seeds are for tuning, odd ones for the table.
"""

import time
from collections import Counter, defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace

import numpy as np

from accuracy.pairs import bodies
from accuracy.tracks import exact_at, library, replayed
from counting.dances import COUNTS, ROWS, Dance, Random, Truth, dance
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.lines import first_counts, read_line, rewritten
from juxtakine.core.counting.sheets import Foot, Mark, Phrase, Sheet
from juxtakine.core.counting.structure import other_side
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import features
from juxtakine.core.proposing.against import Disagreement, against
from juxtakine.core.proposing.footwork import feet_of
from juxtakine.core.proposing.proposal import Proposal, ProposedKind, proposal
from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.look import Look

TUNING, TABLE = 80_000, 80_129


def read_off(seed: int, model: str = "heavy") -> tuple[Dance, Proposal, float]:
    """A dance, what is proposed of it, and how many seconds that took."""
    made, random = dance(seed), np.random.default_rng(seed + 7)
    place = (0.0, float(random.uniform(0.8, 1.7)), float(random.uniform(4.4, 6.0)))
    orbit = float(random.uniform(-15, 15)) + 180 * (random.random() < 0.2)
    camera = Camera(place, (0.0, 0.95, 0.0), field_deg=38.0, orbit_deg=orbit, shake_m=0.0, size=(640, 360), fps=30)
    scene = Scene(made.motion, Look(body=str(random.choice(bodies()))), camera, None, seed)
    track = replayed(exact_at(scene, scene.times), library(model, 0), seed)
    began = time.perf_counter()
    movement = clean(track)
    told = proposal(features(movement), feet_of(movement), Grid.from_tempo(2.0, made.motion.bpm), [COUNTS] * ROWS)
    return made, told, time.perf_counter() - began


@dataclass
class Tally:
    """Of what, how often right of how many."""

    hits: dict[str, Counter[bool]] = field(default_factory=lambda: defaultdict(Counter))
    seconds: list[float] = field(default_factory=list)
    misses: list[str] = field(default_factory=list)

    def add(self, other: "Tally") -> None:
        for key, counted in other.hits.items():
            self.hits[key] += counted
        self.seconds += other.seconds
        self.misses += other.misses


def scored(seed: int) -> Tally:
    made, told, seconds = read_off(seed)
    out, truth = Tally(seconds=[seconds]), made.truth
    hit = lambda name, right: out.hits[name].update([right])  # noqa: E731  # two dozen calls below
    for row, proposed in enumerate(told.rows):
        meant = read_line(truth.lines[row], COUNTS, truth.swing)
        cells = {c.label: c for c in proposed.cells}
        swung = proposed.phrase.swing
        places = {s.label: s.at for s in read_line(proposed.phrase.line, COUNTS, swung)}
        arrives = {places[c.label] for c in cells.values() if c.kind is ProposedKind.ARRIVES}
        danced = {s.at for s in meant if not s.hold and not s.goes_on}
        for at in danced:
            hit(f"{made.kind}: arrivals", at in arrives)
        for at in arrives | danced:
            hit(f"{made.kind}: too many", at not in danced)
        for s in meant:
            if s.hold or s.goes_on:
                name = "holds" if s.hold else "goes on"
                hit(name, cells[s.label].kind is (ProposedKind.HOLDS if s.hold else ProposedKind.GOES_ON))
        for c in cells.values():
            where = places[c.label]
            kind = next(
                (
                    ProposedKind.HOLDS if s.hold else ProposedKind.GOES_ON if s.goes_on else ProposedKind.ARRIVES
                    for s in meant
                    if s.at == where
                ),
                None,
            )
            if c.kind is not ProposedKind.NOT_SEEN:
                hit(f"said {min(int(10 * c.certainty), 9) / 10:.1f}", c.kind is kind)
        right = proposed.phrase.line == truth.lines[row]
        if not right:
            out.misses.append(f"{seed} {made.kind} row {row + 1}: {truth.lines[row]} told as {proposed.phrase.line}")
        marks = {places[m.label]: m for m in proposed.phrase.marks}
        for at in danced:
            mark, place = marks.get(at), row * COUNTS + at
            turn = mark.turn if mark else 0
            if place in truth.turns:
                hit("turns' size and direction", turn == truth.turns[place])
                if turn != truth.turns[place]:
                    out.misses.append(f"{seed} turn at {float(place):g}: {truth.turns[place]} told {turn}")
            else:
                hit("turns told where nobody turns", turn != 0)
            if made.kind == "steps":
                foot = mark and mark.foot
                hit("feet told", foot is not None)
                if foot:
                    hit("feet right where told", foot.value == truth.feet[place])
        if made.kind == "repeats":
            like = proposed.like and (proposed.like.like - 1, proposed.like.mirrored)
            first = truth.like.get(row)
            if first:
                hit(
                    "rows that repeat told",
                    bool(like) and not proposed.like.other_ending and like in _alike(truth, row),
                )  # type: ignore[union-attr]
            else:
                hit("new rows told as repeats", bool(like) and not proposed.like.other_ending)  # type: ignore[union-attr]
    return out


def _alike(truth: Truth, row: int) -> set[tuple[int, bool]]:
    """Earlier rows that a row is like, each with whether it is on the other side."""
    first, mirrored = truth.like[row]
    others = {(r, m != mirrored) for r, (f, m) in truth.like.items() if f == first and r < row}
    return {(first, mirrored)} | others


def sheet_of(truth: Truth) -> Sheet:
    """The right one."""
    return Sheet("", tuple(_phrase(truth, row) for row in range(ROWS)))


def _phrase(truth: Truth, row: int) -> Phrase:
    marks = []
    for s in read_line(truth.lines[row], COUNTS, truth.swing):
        at = row * COUNTS + s.at
        foot = Foot(truth.feet[at]) if at in truth.feet else None
        if not (s.hold or s.goes_on):
            marks.append(Mark(s.label, turn=truth.turns.get(at, 0), foot=foot))
    return Phrase("", COUNTS, truth.lines[row], truth.swing, tuple(marks))


def _cut_short(phrase: Phrase) -> Phrase:
    line = first_counts(phrase.line, COUNTS, COUNTS - 2)
    labels = {s.label for s in read_line(line, COUNTS - 2, phrase.swing)}
    return replace(phrase, counts=COUNTS - 2, line=line, marks=tuple(m for m in phrase.marks if m.label in labels))


def planted(sheet: Sheet, truth: Truth, random: Random) -> tuple[Sheet, set[Disagreement], int] | None:
    """The sheet with one error, as what it may be told, and the row; None where none of this kind fits."""
    row = int(random.integers(1, ROWS - 2))
    phrase = sheet.phrases[row]
    kinds = ["two left out", "two too many"]
    turned = [m for m in phrase.marks if m.turn]
    kinds += ["turn"] * 3 if turned else []
    holds = [s for s in read_line(phrase.line, COUNTS, phrase.swing) if s.hold]
    kinds += ["hold"] * 2 if holds else []
    feet = [m for m in phrase.marks if m.foot]
    kinds += ["side"] * 3 if feet else []
    rows = list(sheet.phrases)
    match str(random.choice(kinds)):
        case "two left out":
            rows[row] = _cut_short(phrase)
            return Sheet("", tuple(rows)), {Disagreement.SHIFTED}, row + 2
        case "two too many":
            rows.insert(row, Phrase("", 2, "1 2"))
            return Sheet("", tuple(rows)), {Disagreement.SHIFTED}, row + 1
        case "turn":
            wrong = replace(turned[0], turn=-turned[0].turn if abs(turned[0].turn) != 4 else 2)
            rows[row] = replace(phrase, marks=tuple(wrong if m is turned[0] else m for m in phrase.marks))
            return Sheet("", tuple(rows)), {Disagreement.TURN}, row + 1
        case "side":
            rows[row] = other_side(phrase)
            return Sheet("", tuple(rows)), {Disagreement.SIDE}, row + 1
        case _:
            rows[row] = replace(phrase, line=rewritten(phrase.line, COUNTS, holds[0].label, holds[0].label))
            return Sheet("", tuple(rows)), {Disagreement.NOTHING_ARRIVES}, row + 1


def held(seed: int) -> Tally:
    """A right sheet and one with an error held against the clip. A shift may begin in a row beside, where both tell as
    much."""
    made, told, _ = read_off(seed)
    out, random = Tally(), np.random.default_rng(seed + 3)
    right = sheet_of(made.truth)
    false = against(right, told.shown)
    out.hits["right sheets: a false remark"].update([bool(false)])
    out.misses += [f"{seed} {made.kind} false: {f.kind} in row {f.row} on {f.label}" for f in false]
    wrong = planted(right, made.truth, random)
    if wrong is None:
        return out
    sheet, kinds, row = wrong
    found = against(sheet, told.shown)
    near = 1 if Disagreement.SHIFTED in kinds else 0
    hit = any(f.kind in kinds and abs(f.row - row) <= near for f in found)
    out.hits["sheets with one error: told with its row"].update([hit])
    if not hit:
        saw = [(f.kind.value, f.row) for f in found]
        out.misses.append(f"{seed} {made.kind} planted {[k.value for k in kinds]} in row {row}, told {saw}")
    return out


def table(seeds: Iterable[int], run: Callable[..., Iterable[Tally]]) -> list[str]:
    """What was missed, then the rows of a table."""
    total, seeds = Tally(), list(seeds)
    for score in (scored, held):
        for one in run(score, seeds):
            total.add(one)
    lines = [f"| {k} | {v[True]} of {v.total()} | {v[True] / v.total():.1%} |" for k, v in sorted(total.hits.items())]
    median, most = np.median(total.seconds), max(total.seconds)
    return [*total.misses, *lines, f"| a proposal of {ROWS * COUNTS} counts, s | {median:.1f} | at most {most:.1f} |"]
