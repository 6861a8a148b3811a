"""Long made-up tutorials of known parts: talk, slow practice, counted, previews, and one run-through with music.

Two looks a second at exact joints with an estimator's error on them, and a sound put together of made-up music, a
made voice (espeak-ng) and a room. Even seeds are for tuning, odd ones for the table.
"""

import subprocess
import wave
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from scipy.signal import resample_poly

from accuracy.pairs import bodies
from accuracy.routines import Routine, routine
from juxtakine.core.movement.tracks import Floats, Track
from juxtakine.core.watching.looks import STEP_S
from juxtakine.core.watching.stretches import Kind
from juxtakine.demo.camera import Camera
from juxtakine.demo.motion import Motion
from juxtakine.demo.music import RATE, harbour_tune, in_a_room, slowed
from juxtakine.demo.skeleton import Body

OFF = 0.04
"""The estimator's error, in torso lengths."""
SENTENCES = (
    "Now we go to the side and bring the left arm up.",
    "Keep your knees soft, and look over the shoulder.",
    "Let us try that again, a little slower this time.",
    "The weight stays on the back foot until the very end.",
    "Before we begin, clear the floor and put on your shoes.",
    "That is all for today; write to me if a step is not clear.",
)
COUNTS = ("one", "two", "three", "four", "five", "six", "seven", "eight")


@dataclass(frozen=True)
class Part:
    """What happens for `lasts_s` seconds; `motion` from the part's own beginning on (None: nobody)."""

    kind: Kind
    lasts_s: float
    motion: Motion | None
    sound: Floats
    bpm: float | None = None
    is_run: bool = False


@dataclass(frozen=True)
class LongClip:
    parts: tuple[Part, ...]
    bpm: float
    track: Track
    samples: np.ndarray
    """At the rate of media.sound."""

    @property
    def starts(self) -> list[float]:
        return [0.0, *np.cumsum([p.lasts_s for p in self.parts])]

    @property
    def run(self) -> tuple[float, float]:
        i = next(i for i, p in enumerate(self.parts) if p.is_run)
        return self.starts[i], self.starts[i + 1]


def long_clip(seed: int) -> LongClip:
    random = np.random.default_rng(seed)
    danced = _longer(routine(int(random.integers(12)) + 12 * (seed % 5)), int(random.choice([4, 6, 8])))
    tune_seed = int(random.integers(1_000_000))
    parts = list(_parts(danced, tune_seed, random))
    body = Body(str(random.choice(bodies())))
    high, away, orbit = (float(random.uniform(*r)) for r in ((0.9, 1.6), (4.5, 6), (-15, 15)))
    camera = Camera((0, high, away), (0, 0.95, 0), field_deg=38, orbit_deg=orbit, shake_m=0, size=(640, 360), fps=30)
    heard = in_a_room(np.concatenate([p.sound for p in parts]), seed, noise_db=float(random.uniform(-46, -34)))
    return LongClip(tuple(parts), danced.bpm, _seen(parts, body, camera, random), lower(heard))


def lower(samples: Floats) -> np.ndarray:
    """At the rate that the product listens at."""
    return np.asarray(resample_poly(samples, 80, 441), np.float32)  # 44.1 to 8 kHz


def _longer(danced: Routine, phrases: int) -> Routine:
    sheet = replace(danced.sheet, phrases=tuple(danced.sheet.phrases[0] for _ in range(phrases)))
    return replace(danced, sheet=sheet)


def _parts(danced: Routine, tune: int, random: np.random.Generator) -> list[Part]:
    """Talk between everything else; the run somewhere in the second half; sometimes a preview of it at the start."""
    run = _danced(danced, 1.0, "music", tune, Kind.RUN, random, is_run=True)
    some = [
        _danced(
            danced,
            float(random.choice([0.5, 0.6])),
            str(random.choice(["voice", "clicks"])),
            tune,
            Kind.SLOW,
            random,
            2,
        ),
        _danced(danced, 0.75, str(random.choice(["voice", "music"])), tune, Kind.SLOW, random, 4),
        _danced(danced, 1.0, "voice", tune, Kind.COUNTED, random, int(random.choice([2, 4]))),
    ]
    middle = [some[i] for i in random.permutation(3)]
    order: list[Part] = []
    if random.random() < 0.5:
        order += [_danced(danced, 1.0, "music", tune, Kind.RUN, random, 2)]
    order += middle
    order.insert(int(random.integers(max(1, len(order) - 1), len(order) + 1)), run)
    out: list[Part] = []
    if random.random() < 0.6:
        out.append(_nobody(float(random.uniform(4, 9)), random))
    for part in order:
        out += [_talk(float(random.uniform(12, 50)), random), part]
    out.append(_talk(float(random.uniform(8, 25)), random))
    if random.random() < 0.5:
        out.append(_nobody(float(random.uniform(4, 9)), random))
    return out


def _nobody(lasts_s: float, random: np.random.Generator) -> Part:
    return Part(Kind.EMPTY, lasts_s, None, np.zeros(round(lasts_s * RATE)))


def _talk(lasts_s: float, random: np.random.Generator) -> Part:
    """Somebody who stands, shifts the weight and shows with the hands what is meant."""
    motion, at = Motion(60, 0.0), 0.5
    while at < lasts_s - 1:
        over = float(random.uniform(0.5, 0.9))
        shape = {"elev": random.uniform(6, 40), "az": random.uniform(20, 80), "elbow": random.uniform(15, 100)}
        sides = "lr" if random.random() < 0.5 else str(random.choice(["l", "r"]))
        motion = motion.key(at, over, **{f"{s}_{k}": float(v) for s in sides for k, v in shape.items()},
                            turn=float(random.uniform(-20, 20)))  # fmt: skip
        if random.random() < 0.15:
            motion = motion.stance(at, over=0.9, x=float(random.uniform(-0.15, 0.15)))
        at += float(random.uniform(0.8, 3))
    text = " ".join(str(random.choice(SENTENCES)) for _ in range(int(lasts_s / 2.2)))
    return Part(Kind.TALK, lasts_s, motion, _fitted(0.5 * said(text, int(random.integers(135, 175))), lasts_s))


def _danced(
    danced: Routine,
    tempo: float,
    by: str,
    tune: int,
    kind: Kind,
    random: np.random.Generator,
    phrases: int | None = None,
    is_run: bool = False,
) -> Part:
    if phrases is not None:
        danced = _longer(danced, phrases)
    beat = 60 / danced.bpm / tempo
    lead = beat * 0.95
    lasts = lead + danced.sheet.total * beat
    motion = danced.build(lead, tempo)
    if by == "music":
        tune_ = slowed(harbour_tune(danced.bpm, danced.sheet.total + 1, tune), tempo)
        heard = np.concatenate([np.zeros(round(max(0.0, lead - beat) * RATE)), tune_]) * float(random.uniform(0.5, 1))
    elif by == "clicks":
        heard = _laid([(lead + k * beat, _tick()) for k in range(danced.sheet.total)], lasts)
    else:
        words = [(lead + k * beat - 0.05, 0.6 * said(COUNTS[k % 8], 230)) for k in range(danced.sheet.total)]
        heard = _laid([(at, w[: int(min(beat, 0.6) * RATE)]) for at, w in words], lasts)
    return Part(kind, lasts, motion, _fitted(heard, lasts), danced.bpm * tempo, is_run)


def _tick() -> Floats:
    t = np.arange(int(0.03 * RATE)) / RATE
    return 0.6 * np.sin(2 * np.pi * 1500 * t) * np.exp(-t * 150)


def _laid(pieces: Sequence[tuple[float, Floats]], lasts_s: float) -> Floats:
    out = np.zeros(round((lasts_s + 2) * RATE))
    for at, piece in pieces:
        i = max(0, round(at * RATE))
        n = min(len(piece), len(out) - i)
        out[i : i + n] += piece[:n]
    return out


def _fitted(samples: Floats, lasts_s: float) -> Floats:
    n = round(lasts_s * RATE)
    return np.pad(samples[:n], (0, max(0, n - len(samples))))


@cache
def said(text: str, speed: int) -> Floats:
    with TemporaryDirectory() as folder:
        file = Path(folder) / "said.wav"
        subprocess.run(["espeak-ng", "-v", "en", "-s", str(speed), "-w", str(file), text], check=True)
        with wave.open(str(file)) as f:
            raw, rate = np.frombuffer(f.readframes(f.getnframes()), np.int16) / 32768, f.getframerate()
    return np.asarray(resample_poly(raw, RATE, rate), float)


def _seen(parts: Sequence[Part], body: Body, camera: Camera, random: np.random.Generator) -> Track:
    rows: list[Floats] = []
    seconds: list[float] = []
    start = 0.0
    view = camera.view(0.0, 0)
    for part in parts:
        times = np.arange(np.ceil(start / STEP_S) * STEP_S, start + part.lasts_s, STEP_S)
        seconds += list(times)
        if part.motion is None:
            rows += [np.full((33, 3), np.nan)] * len(times)
        else:
            channels = part.motion.sample(times - start, seed=int(random.integers(1_000_000)))
            for row in zip(*channels.values(), strict=True):
                rows.append(body.landmarks(*body.pose(dict(zip(channels, row, strict=True)))))
        start += part.lasts_s
    world = np.array(rows)
    image = np.array([view.project(w) for w in world])
    torso = np.nanmedian(np.linalg.norm(image[:, 11:13].mean(1) - image[:, 23:25].mean(1), axis=1))
    image = image + random.normal(0, OFF * torso, image.shape)
    found = np.isfinite(image[:, 0, 0]) & (random.random(len(image)) > 0.01)
    image[~found] = np.nan
    hips = world[:, [23, 24]].mean(1, keepdims=True)
    n = len(image)
    centred, visibility = np.where(found[:, None, None], world - hips, np.nan), np.tile(found[:, None], (1, 33)) * 1.0
    stamps, all_of_them = np.array(seconds), np.ones(n, bool)
    return Track(stamps, image, centred, visibility, found, all_of_them, *camera.size, "made up")
