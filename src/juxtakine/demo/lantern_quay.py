"""The made-up routine "Lantern Quay": its sheet, its movement, a made-up instructor's two clips of it, and three
takes of a made-up student.

The faults planted in the takes are written here so that the tests know the truth; the comparison never sees them.
"""

from dataclasses import dataclass, replace

import numpy as np

from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Done, Foot, Layer, Mark, Phrase, Score, Sheet
from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.look import Look
from juxtakine.demo.motion import Motion
from juxtakine.demo.music import RATE, harbour_tune, in_a_room
from juxtakine.demo.skeleton import Floats

BPM = 108.0
INTRO_COUNTS = 4
TEACHER, STUDENT = "Odalys", "you"
_BEAT_S = 60 / BPM


_FEET = {"L": Foot.LEFT, "R": Foot.RIGHT, "B": Foot.BOTH}


def _marks(**cues: str) -> tuple[Mark, ...]:
    """Of `c3n="lift|>R"`: the cue of 3 &; after the bar the weight (R, L, B: that foot steps onto it), a foot that acts
    without it (r, l), and a turn in eighths (>1, <1)."""
    return tuple(_mark(label.lstrip("c").replace("n", " &"), *said.partition("|")[::2]) for label, said in cues.items())


def _mark(label: str, cue: str, moves: str) -> Mark:
    step = next((_FEET[c] for c in moves if c in _FEET), None)
    acts = next((_FEET[c.upper()] for c in moves if c in "lr"), step)
    turn = {">1": 1, "<1": -1}.get(moves[-2:], 0)
    return Mark(label, cue, foot=acts, weight=step, turn=turn)


def _layered(phrase: Phrase, **layers: str) -> Phrase:
    """With what each layer does, a word a count; a point stands for nothing new."""
    said = {Layer(name): words.split() for name, words in layers.items()}
    marks = (
        replace(m, layers={layer: Done(words[i]) for layer, words in said.items() if words[i] != "."})
        for i, m in enumerate(phrase.marks)
    )
    return replace(phrase, marks=tuple(marks))


SHEET = Sheet(
    "Lantern Quay",
    (
        Phrase("Quay", 8, "1 2 3 - 5 6 7 8", section="A", weight=Foot.LEFT, facing=0, marks=_marks(
            c1="side R|R", c2="close|L", c3="wide|B", c4="hold", c5="kick L|lR", c6="close|L", c7="side R|R",
            c8="close|L")),
        Phrase("Ropes", 8, "1 2 3 & 4 - 6 7 8", marks=_marks(
            c1="fwd R|R", c2="pull", c3="pull", c3n="swap", c4="drop|B", c5="hold", c6="reach R", c7="reach L",
            c8="close|R")),
        _layered(
            Phrase("Lanterns", 8, "1 2 3 & 4 5 6 7 8", weight=Foot.RIGHT, marks=_marks(
                c1="side L|L", c2="close|R", c3="out|B", c3n="lift", c4="bend", c5="rise", c6="frame|L", c7="knee R|r",
                c8="close|B")),
            feet="step close out . bend rise . knee close", arms="side low low lift high up frame out low",
            head=". . . front . up front . ."),
        Phrase("Tag", 4, "1 2 3 4", section="tag", marks=(
            Mark("1", "yours", Score.FREE), Mark("2", "yours", Score.FREE),
            *_marks(c3="side R|R", c4="close|B"))),
        Phrase("Tide", 8, "1 2 3 4 5 - 7 8", section="B", marks=_marks(
            c1="fwd L|L", c2="frame", c3="sink|B", c4="tip", c5="close|L", c6="hold", c7="arm R", c8="arm L")),
        Phrase("Turn", 8, "1 2 3 4 5 6 7 & 8", weight=Foot.LEFT, marks=_marks(
            c1="side R|R", c2="eighth R|L>1", c3="eighth back|R<1", c4="wide|B", c5="sink", c6="rise", c7="arm",
            c7n="cross", c8="down|L")),
    ),
)  # fmt: skip


def _arms(left: float, right: float, elbow: float = 10, **more: float) -> dict[str, float]:
    return {"l_elev": left, "r_elev": right, "l_elbow": elbow, "r_elbow": elbow} | more


def routine(first_s: float, bpm: float = BPM) -> Motion:
    """The routine as it is meant, its first 1 at `first_s` seconds."""
    m = Motion(bpm, first_s)
    # Quay
    m = m.stance(0, x=-0.12, width=0.50, drop=0.06, **_arms(60, 60))
    m = m.stance(1, x=-0.25, width=0.20, drop=0, **_arms(92, 92))
    m = m.stance(2, x=-0.25, width=0.66, drop=0.16, **_arms(140, 140))
    m = m.key(4, 0.75, l_legw=1, l_hip=42, l_knee=12, l_point=25, drop=0.02, **_arms(50, 95, 20))
    m = m.key(5, 0.75, l_legw=0, l_hip=0, l_knee=0, l_point=0).stance(5, x=-0.25, width=0.22, drop=0, **_arms(15, 20))
    m = m.stance(6, x=-0.42, width=0.52, drop=0.08, **_arms(40, 125))
    m = m.stance(7, x=-0.50, width=0.20, drop=0, **_arms(70, 70, 80, l_rot=20, r_rot=20))
    # Ropes
    m = m.stance(8, x=-0.45, z=0.2, width=0.30, drop=0.05, **_arms(95, 30, 10, l_rot=0, r_rot=0))
    m = m.key(9, 0.75, drop=0.10, **_arms(60, 75, 70, l_rot=30, r_rot=10))
    m = m.key(10, 0.7, drop=0.03, **_arms(95, 45, 15, l_rot=0, r_rot=0))
    m = m.key(10.5, 0.45, drop=0.10, **_arms(45, 95, 15))
    m = m.stance(11, x=-0.40, z=0.2, width=0.60, over=0.48, drop=0.22, **_arms(25, 25, 15))
    m = m.key(13, 0.75, drop=0.10, side=-8, **_arms(35, 135, 10))
    m = m.key(14, 0.75, drop=0.10, side=8, **_arms(135, 35, 10))
    m = m.stance(15, x=-0.35, z=0.1, width=0.22, drop=0, side=0, **_arms(20, 20))
    # Lanterns
    m = m.stance(16, x=-0.20, width=0.52, drop=0.06, **_arms(75, 30))
    m = m.stance(17, x=-0.08, width=0.20, drop=0, **_arms(25, 25))
    m = m.stance(18, x=-0.05, width=0.60, over=0.7, drop=0.04, **_arms(65, 65))
    m = m.key(18.5, 0.45, drop=0.0, **_arms(120, 120))
    m = m.key(19, 0.48, drop=0.20, **_arms(90, 90, 70, l_rot=70, r_rot=70))
    m = m.key(20, 0.75, drop=0.0, **_arms(160, 160, 10, l_rot=0, r_rot=0))
    m = m.stance(21, x=-0.05, width=0.30, drop=0.05, **_arms(95, 95, 75, l_rot=75, r_rot=75))
    m = m.key(22, 0.75, r_legw=1, r_hip=70, r_knee=80, r_point=30, drop=0.0, **_arms(100, 40, 10, l_rot=0, r_rot=0))
    m = m.key(23, 0.75, r_legw=0, r_hip=0, r_knee=0, r_point=0)
    m = m.stance(23, x=-0.05, width=0.22, drop=0, **_arms(15, 15))
    # Tag: two counts that are the dancer's own
    m = m.key(24, 0.7, **_arms(55, 20)).key(25, 0.7, **_arms(20, 55))
    m = m.stance(26, x=-0.15, width=0.52, drop=0.08, **_arms(80, 80))
    m = m.stance(27, x=-0.20, width=0.20, drop=0, **_arms(20, 20))
    # Tide
    m = m.stance(28, x=-0.15, z=0.2, width=0.34, drop=0.06, **_arms(30, 100))
    m = m.key(29, 0.75, drop=0.02, **_arms(95, 95, 80, l_rot=75, r_rot=75))
    m = m.stance(30, x=-0.10, z=0.2, width=0.64, drop=0.24, **_arms(70, 70, 10, l_rot=0, r_rot=0))
    m = m.key(31, 0.75, drop=0.10, tilt=0, side=14, **_arms(150, 30))
    m = m.stance(32, x=0.0, z=0.1, width=0.22, drop=0, side=0, **_arms(20, 20))
    m = m.key(34, 0.75, drop=0.06, **_arms(20, 120))
    m = m.key(35, 0.75, drop=0.0, **_arms(120, 40))
    # Turn
    m = m.stance(36, x=-0.12, width=0.50, drop=0.06, **_arms(45, 45))
    m = m.stance(37, x=-0.15, yaw=-35, width=0.30, drop=0.04, **_arms(90, 90, 60, l_rot=40, r_rot=40))
    m = m.stance(38, x=-0.10, yaw=0, width=0.40, drop=0.02, **_arms(40, 40, 10, l_rot=0, r_rot=0))
    m = m.stance(39, x=-0.10, width=0.66, drop=0.08, **_arms(125, 125))
    m = m.key(40, 0.75, drop=0.24, **_arms(85, 85))
    m = m.key(41, 0.75, drop=0.04, **_arms(30, 150))
    m = m.key(42, 0.75, drop=0.08, **_arms(95, 60))
    m = m.key(42.5, 0.45, drop=0.02, **_arms(130, 95))
    return m.stance(43, x=-0.10, width=0.24, over=0.48, drop=0, **_arms(15, 15))


@dataclass(frozen=True)
class Fault:
    """What was planted: `late_ms` on a count, or `channels` that reach elsewhere; `part` is where it shows."""

    at: float
    late_ms: float = 0
    channels: tuple[tuple[str, float], ...] = ()
    part: str = ""
    lower: bool = False

    def plant(self, motion: Motion) -> Motion:
        if self.late_ms:
            return motion.delay(self.at, self.late_ms)
        return motion.adjust(self.at, **dict(self.channels))


@dataclass(frozen=True)
class TakePlan:
    """A take to be filmed: where its music starts in it, its faults, its place in the room."""

    name: str
    music_s: float
    faults: tuple[Fault, ...]
    seed: int
    camera: Camera


_EARLY = (
    Fault(6, late_ms=-140),
    Fault(14, channels=(("l_elev", -40),), part="left-upper-arm", lower=True),
    Fault(18.5, late_ms=170),
    Fault(19, late_ms=160),
    Fault(20, late_ms=150),
    Fault(21, channels=(("l_elev", -38),), part="left-upper-arm", lower=True),
    Fault(30, channels=(("drop", -0.16),), part="level"),
    Fault(39, channels=(("r_elev", -45),), part="right-upper-arm", lower=True),
)
_MIDDLE = (
    Fault(19, late_ms=150),
    Fault(21, channels=(("l_elev", -36),), part="left-upper-arm", lower=True),
    Fault(31, late_ms=140),
)
_LATE = (Fault(31, channels=(("r_elev", 40),), part="right-upper-arm"),)

TAKES = (
    TakePlan("take-1", 1.9, _EARLY, 21, Camera(position=(0.2, 1.05, 4.4), look_at=(-0.15, 0.92, 0), orbit_deg=10)),
    TakePlan("take-2", 2.6, _MIDDLE, 22, Camera(position=(0.0, 1.30, 4.3), look_at=(-0.15, 0.92, 0), orbit_deg=-8)),
    TakePlan("take-3", 1.4, _LATE, 23, Camera(position=(-0.1, 1.10, 4.3), look_at=(-0.15, 0.92, 0), orbit_deg=6)),
)

_TEACHER_LOOK = Look(body="f", shirt=(0.72, 0.70, 0.64), trousers=(0.16, 0.24, 0.32))
_STUDENT_LOOK = Look(
    body="m", skin=(0.42, 0.28, 0.20), hair=(0.06, 0.05, 0.05), shirt=(0.33, 0.38, 0.55), trousers=(0.20, 0.19, 0.20),
    sleeve=0.8, bun=0.0, wall=(0.76, 0.68, 0.56), floor=(0.45, 0.30, 0.20),
)  # fmt: skip
REFERENCE_MUSIC_S = 0.8
BACK_FIRST_S, BACK_TEMPO = 2.0, 0.75
"""Where count 1 is in the instructor's clip from behind, and its share of the tempo."""


def reference_grid() -> Grid:
    return Grid.from_tempo(REFERENCE_MUSIC_S + INTRO_COUNTS * _BEAT_S, BPM)


def take_grid(plan: TakePlan) -> Grid:
    """Where the counts truly are in a take."""
    return Grid.from_tempo(plan.music_s + INTRO_COUNTS * _BEAT_S, BPM)


def reference_scene() -> Scene:
    motion = routine(REFERENCE_MUSIC_S + INTRO_COUNTS * _BEAT_S).inexact(5, ms=4, degrees=1)
    camera = Camera(position=(0, 1.15, 4.3), look_at=(-0.15, 0.92, 0))
    return Scene(motion, _TEACHER_LOOK, camera, _from(_tune(), REFERENCE_MUSIC_S), seed=5)


def back_grid() -> Grid:
    return Grid.from_tempo(BACK_FIRST_S, BACK_TEMPO * BPM)


def back_scene() -> Scene:
    """The instructor again, from behind, slower, without music: the same side of the room leads."""
    motion = routine(BACK_FIRST_S, BACK_TEMPO * BPM).inexact(7, ms=4, degrees=1)
    camera = Camera(position=(0.1, 1.25, 4.4), look_at=(-0.15, 0.92, 0), orbit_deg=168)
    return Scene(motion, _TEACHER_LOOK, camera, None, seed=7)


def take_scene(plan: TakePlan) -> Scene:
    motion = routine(plan.music_s + INTRO_COUNTS * _BEAT_S)
    for fault in plan.faults:
        motion = fault.plant(motion)
    shirt = _STUDENT_LOOK.shirt if plan.seed % 2 else (0.45, 0.50, 0.42)
    heard = _from(in_a_room(_tune(), plan.seed), plan.music_s)
    return Scene(motion.inexact(plan.seed), replace(_STUDENT_LOOK, shirt=shirt), plan.camera, heard, plan.seed)


def _tune() -> Floats:
    return harbour_tune(BPM, INTRO_COUNTS + SHEET.total + 4)


def _from(sound: Floats, seconds: float) -> Floats:
    return np.concatenate([np.zeros(round(seconds * RATE)), sound])
