"""How rightly a sheet is read off a clip: made-up dances of eight kinds, danced inexactly, with a bounce and with the
estimator's errors replayed. Even seeds are for tuning, odd ones for the table."""

import time
from collections import Counter, defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from fractions import Fraction

import numpy as np

from accuracy.pairs import bodies
from accuracy.tracks import exact_at, library, replayed
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.lines import STRAIGHT, first_counts, read_line, rewritten
from juxtakine.core.counting.sheets import Foot, Mark, Phrase, Sheet
from juxtakine.core.counting.structure import other_side
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.features import features
from juxtakine.core.movement.tracks import Floats
from juxtakine.core.proposing.against import Disagreement, against
from juxtakine.core.proposing.footwork import feet_of
from juxtakine.core.proposing.proposal import Kind, Proposal, proposal
from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.look import Look
from juxtakine.demo.motion import Motion

TUNING, TABLE = 80_000, 80_001
ROWS, COUNTS = 8, 8
ARMS = {"l": "left", "r": "right"}
Random = np.random.Generator


@dataclass(frozen=True)
class Danced(Motion):
    """A movement with what people add: knees that give on each beat, a clock that is quicker in one half of a count
    than in the other, and drifts slowly."""

    bounce_m: float = 0.0
    skew: float = 0.0
    drift_s: float = 0.0

    def sample(self, seconds: Floats, sway: float = 1.0, seed: int = 0) -> dict[str, Floats]:
        count = (seconds - self.first_s) * self.bpm / 60
        bent = self.skew * np.sin(2 * np.pi * count) * 60 / self.bpm + self.drift_s * np.sin(2 * np.pi * count / 13)
        out = super().sample(seconds + bent, sway, seed)
        out["drop"] = out["drop"] + self.bounce_m * (1 + np.cos(2 * np.pi * count)) / 2
        return out


@dataclass
class True_:
    """What is danced on the whole: the lines of the rows, and by place eighths turned and the foot that acts."""

    lines: list[str] = field(default_factory=list)
    swing: Fraction = STRAIGHT
    turns: dict[Fraction, int] = field(default_factory=dict)
    feet: dict[Fraction, str] = field(default_factory=dict)
    like: dict[int, tuple[int, bool]] = field(default_factory=dict)


def _line(random: Random, hold: float = 0.0, parts: str = "", often: float = 0.0, on: float = 0.0) -> str:
    words = []
    for k in range(COUNTS):
        chance = random.random()
        last = words and words[-1] == "~"
        free = k > 0 and not (k == COUNTS - 1 and chance >= hold)
        words.append("-" if chance < hold else "~" if chance < hold + on and not last and free else str(k + 1))
        if words[-1] == str(k + 1) and random.random() < often:
            words += list(parts if random.random() < 0.5 else "&")
    return " ".join(words)


def _arms(m: Motion, random: Random) -> dict[str, float]:
    out: dict[str, float] = {}
    for side in ARMS:
        before = next((k.channels[f"{side}_elev"] for k in reversed(m.keys) if f"{side}_elev" in k.channels), 10.0)
        free = [v for v in (12.0, 45.0, 90.0, 130.0, 165.0) if abs(v - before) > 35]
        out |= {f"{side}_elev": float(random.choice(free)), f"{side}_elbow": float(random.choice([10, 15, 70]))}
    return out


@dataclass(frozen=True)
class Dance:
    kind: str
    motion: Danced
    truth: True_


def dance(seed: int) -> Dance:
    random = np.random.default_rng(seed)
    kind = list(KINDS)[seed // 2 % len(KINDS)]
    bpm = float(random.integers(84, 126 if kind not in ("parts", "swung") else 104))
    motion, truth = KINDS[kind](Motion(bpm, 2.0), random)
    whole = motion.inexact(seed, 12, 3, 0.012)
    bounce, skew, drift = random.uniform(0, 0.03), random.uniform(-0.03, 0.03), random.uniform(0, 0.03)
    lived = Danced(whole.bpm, whole.first_s, whole.keys, float(bounce), float(skew), float(drift))
    return Dance(kind, lived, truth)


def _plain(m: Motion, random: Random, **line: float | str) -> tuple[Motion, True_]:
    swing = Fraction(2, 3) if line.pop("swung", None) else STRAIGHT
    truth = True_(swing=swing)
    for row in range(ROWS):
        truth.lines.append(_line(random, **line))  # type: ignore[arg-type]  # shares and the parts' letters
        for at, before in _places(truth, row):
            m = m.key(float(at), 0.9 * float(at - before) if line.get("on") else min(0.8, 0.92 * float(at - before)),
                      drop=float(random.uniform(0, 0.08)), **_arms(m, random))  # fmt: skip
    return m, truth


def _places(truth: True_, row: int) -> Iterable[tuple[Fraction, Fraction]]:
    """Arrivals of a row on the count line, each with the one before it (a count earlier at most, but for ways that go
    on)."""
    soundings = read_line(truth.lines[row], COUNTS, truth.swing)
    last = read_line(truth.lines[row - 1], COUNTS, truth.swing)[-1] if row else None
    before = (row - 1) * COUNTS + last.at if last else Fraction(-1)
    for s in soundings:
        at = row * COUNTS + s.at
        if s.hold:
            before = at
        elif not s.goes_on:
            yield at, before
            before = at


def _turning(m: Motion, random: Random) -> tuple[Motion, True_]:
    truth, yaw = True_(), 0.0
    for row in range(ROWS):
        truth.lines.append(_line(random))
        for at, before in _places(truth, row):
            eighths = int(random.choice([-4, -2, -1, 1, 2, 2, 4])) if random.random() < 0.25 else 0
            yaw -= 45.0 * eighths
            if eighths:
                truth.turns[at] = eighths
            m = m.stance(float(at), over=min(0.8, float(at - before)), yaw=yaw, width=0.3, **_arms(m, random))
    return m, truth


def _stepping(m: Motion, random: Random) -> tuple[Motion, True_]:
    """One foot acts on each count: it steps, or kicks and comes back."""
    truth, foot = True_(), "r"
    place = {"l": np.array([0.11, 0.0]), "r": np.array([-0.11, 0.0])}
    home = {"l": 0.11, "r": -0.11}
    raised = None
    for row in range(ROWS):
        truth.lines.append(_line(random))
        for at, _ in _places(truth, row):
            arms = _arms(m, random) if random.random() < 0.5 else {}
            act = "down" if raised else str(random.choice(["side", "home", "fwd", "kick"]))
            if act == "kick":
                shape = {"hip": float(random.uniform(45, 80)), "knee": float(random.uniform(5, 80)), "point": 30.0}
                m = m.key(
                    float(at), 0.7, **({f"{foot}_legw": 1.0} | {f"{foot}_{k}": v for k, v in shape.items()}), **arms
                )
                raised = foot
            elif act == "down":
                m = m.key(float(at), 0.7, **{f"{foot}_{k}": 0.0 for k in ("legw", "hip", "knee", "point")}, **arms)
                raised = None
            else:
                wide = {"side": 2.6, "home": 1.0, "fwd": 1.0}[act]
                want = np.array([home[foot] * wide, 0.3 if act == "fwd" else 0.0])
                if np.linalg.norm(want - place[foot]) < 0.15:
                    want = np.array([home[foot] * (2.6 if wide == 1.0 else 1.0), 0.0])
                place[foot] = want
                over = (place["l"] + place["r"]) / 2 + 0.25 * (place[foot] - place["l" if foot == "r" else "r"])
                m = m.key(float(at), 0.7, **{f"{foot}_fx": float(want[0]), f"{foot}_fz": float(want[1])})
                m = m.key(float(at), 0.75, x=float(over[0]), z=float(over[1]), **arms)
            truth.feet[at] = {"l": "left", "r": "right"}[foot]
            if not raised:
                foot = "l" if foot == "r" else "r"
    return m, truth


def _repeating(m: Motion, random: Random) -> tuple[Motion, True_]:
    """A and B, then either of them again, on the same or the other side, or new rows."""
    truth = True_()
    rows: list[list[tuple[float, float, dict[str, float]]]] = []
    for row in range(ROWS):
        again = row > 1 and random.random() < 0.6
        like = int(random.integers(0, row)) if again else row
        while like in truth.like:
            like = truth.like[like][0]
        mirrored = again and bool(random.random() < 0.5)
        if again and like != row:
            truth.like[row] = (like, mirrored)
            truth.lines.append(truth.lines[like])
            moves = [(a, o, _other_side(c) if mirrored else c) for a, o, c in rows[like]]
        else:
            truth.lines.append(_line(random, 0.12, "&", 0.2))
            moves, last = [], m
            for at, before in _places(truth, row):
                channels = {"drop": float(random.uniform(0, 0.1)), "side": float(random.choice([-15, 0, 15]))}
                last = last.key(float(at), 0.1, **channels, **_arms(last, random))
                moves.append(
                    (float(at - row * COUNTS), min(0.8, 0.92 * float(at - before)), dict(last.keys[-1].channels))
                )
        rows.append(moves)
        for at, over, channels in moves:
            m = m.key(row * COUNTS + at, over, **channels)
    return m, truth


def _other_side(channels: dict[str, float]) -> dict[str, float]:
    swapped = {("r" if k[0] == "l" else "l") + k[1:] if k[1] == "_" else k: v for k, v in channels.items()}
    return swapped | ({"side": -channels["side"]} if "side" in channels else {})


Made = Callable[[Motion, Random], tuple[Motion, True_]]
KINDS: dict[str, Made] = {
    "holds": lambda m, r: _plain(m, r, hold=0.2),
    "halves": lambda m, r: _plain(m, r, hold=0.1, parts="&", often=0.35),
    "parts": lambda m, r: _plain(m, r, hold=0.1, parts="&a", often=0.3),
    "swung": lambda m, r: _plain(m, r, hold=0.1, parts="&", often=0.4, swung="yes"),
    "sustained": lambda m, r: _plain(m, r, hold=0.1, on=0.35),
    "turns": _turning,
    "steps": _stepping,
    "repeats": _repeating,
}


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
        arrives = {places[c.label] for c in cells.values() if c.kind is Kind.ARRIVES}
        danced = {s.at for s in meant if not s.hold and not s.goes_on}
        for at in danced:
            hit(f"{made.kind}: arrivals", at in arrives)
        for at in arrives | danced:
            hit(f"{made.kind}: too many", at not in danced)
        for s in meant:
            if s.hold or s.goes_on:
                name = "holds" if s.hold else "goes on"
                hit(name, cells[s.label].kind is (Kind.HOLDS if s.hold else Kind.GOES_ON))
        for c in cells.values():
            where = places[c.label]
            kind = next(
                (Kind.HOLDS if s.hold else Kind.GOES_ON if s.goes_on else Kind.ARRIVES for s in meant if s.at == where),
                None,
            )
            if c.kind is not Kind.NOT_SEEN:
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


def _alike(truth: True_, row: int) -> set[tuple[int, bool]]:
    """Earlier rows that a row is like, each with whether it is on the other side."""
    first, mirrored = truth.like[row]
    others = {(r, m != mirrored) for r, (f, m) in truth.like.items() if f == first and r < row}
    return {(first, mirrored)} | others


def sheet_of(truth: True_) -> Sheet:
    """The right one."""
    return Sheet("", tuple(_phrase(truth, row) for row in range(ROWS)))


def _phrase(truth: True_, row: int) -> Phrase:
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


def planted(sheet: Sheet, truth: True_, random: Random) -> tuple[Sheet, set[Disagreement], int] | None:
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
