"""Made-up dances of eight kinds with their truth: danced inexactly, with a bounce and an uneven clock."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from fractions import Fraction

import numpy as np

from juxtakine.core.counting.lines import STRAIGHT, read_line
from juxtakine.core.movement.tracks import Floats
from juxtakine.demo.motion import Motion

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
class Truth:
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
    truth: Truth


def dance(seed: int) -> Dance:
    random = np.random.default_rng(seed)
    kind = list(KINDS)[seed // 2 % len(KINDS)]
    bpm = float(random.integers(84, 126 if kind not in ("parts", "swung") else 104))
    motion, truth = KINDS[kind](Motion(bpm, 2.0), random)
    whole = motion.inexact(seed, 12, 3, 0.012)
    bounce, skew, drift = random.uniform(0, 0.03), random.uniform(-0.03, 0.03), random.uniform(0, 0.03)
    lived = Danced(whole.bpm, whole.first_s, whole.keys, float(bounce), float(skew), float(drift))
    return Dance(kind, lived, truth)


def _plain(m: Motion, random: Random, **line: float | str) -> tuple[Motion, Truth]:
    swing = Fraction(2, 3) if line.pop("swung", None) else STRAIGHT
    truth = Truth(swing=swing)
    for row in range(ROWS):
        truth.lines.append(_line(random, **line))  # type: ignore[arg-type]  # shares and the parts' letters
        for at, before in _places(truth, row):
            m = m.key(float(at), 0.9 * float(at - before) if line.get("on") else min(0.8, 0.92 * float(at - before)),
                      drop=float(random.uniform(0, 0.08)), **_arms(m, random))  # fmt: skip
    return m, truth


def _places(truth: Truth, row: int) -> Iterable[tuple[Fraction, Fraction]]:
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


def _turning(m: Motion, random: Random) -> tuple[Motion, Truth]:
    truth, yaw = Truth(), 0.0
    for row in range(ROWS):
        truth.lines.append(_line(random))
        for at, before in _places(truth, row):
            eighths = int(random.choice([-4, -2, -1, 1, 2, 2, 4])) if random.random() < 0.25 else 0
            yaw -= 45.0 * eighths
            if eighths:
                truth.turns[at] = eighths
            m = m.stance(float(at), over=min(0.8, float(at - before)), yaw=yaw, width=0.3, **_arms(m, random))
    return m, truth


def _stepping(m: Motion, random: Random) -> tuple[Motion, Truth]:
    """One foot acts on each count: it steps, or kicks and comes back."""
    truth, foot = Truth(), "r"
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


def _repeating(m: Motion, random: Random) -> tuple[Motion, Truth]:
    """A and B, then either of them again, on the same or the other side, or new rows."""
    truth = Truth()
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


Made = Callable[[Motion, Random], tuple[Motion, Truth]]
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
