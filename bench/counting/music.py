"""Made-up music of known beats: patterns of drums, bass and chords at any tempo, with everything that makes a beat hard
to find."""

import subprocess
import tempfile
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import numpy as np
from scipy.io import wavfile
from scipy.signal import resample_poly

from juxtakine.core.movement.tracks import Floats
from juxtakine.demo.music import in_a_room

RATE = 44_100
PATTERNS = ("floor", "rock", "shuffle", "plucked", "syncopated", "half time", "chords", "march")
HARD = ("plain", "intro", "pick-up", "rests", "voice", "room", "drift", "swung")
ROOTS = ((0, 0, 5, 5, 3, 3, 4, 4), (0, 5, 3, 4, 0, 5, 6, 4), (0, 3, 5, 4, 0, 3, 6, 4))
SCALE = (0, 2, 3, 5, 7, 8, 10)
DRIFT = 0.04
SAID = "and now we step to the side and close, keep the knees soft, look up, and let the arms follow"


@dataclass(frozen=True)
class Song:
    """`beats` (n,) seconds, of which `first` is the routine's first 1."""

    samples: Floats
    bpm: float
    beats: Floats
    first: int
    pattern: str
    hard: str


def song(seed: int) -> Song:
    random = np.random.default_rng(seed)
    pattern, hard = PATTERNS[seed % len(PATTERNS)], HARD[(seed // len(PATTERNS)) % len(HARD)]
    bpm = float(random.uniform(70, 180))
    intro = int(random.choice([8, 16])) if hard == "intro" else int(random.choice([0, 4, 8]))
    counts = intro + 8 * int(random.integers(5, 9))
    lead_s = float(random.uniform(0.2, 2.5))
    index = np.arange(counts + 1)
    beat = 60 / bpm
    lengths = np.full(counts, beat)
    if hard == "drift":
        lengths = beat * (1 + DRIFT * np.linspace(0, -1, counts) * random.choice([-1, 1]))
    beats = lead_s + np.concatenate([[0], np.cumsum(lengths)])
    swing = 2 / 3 if hard == "swung" or pattern == "shuffle" else 0.5
    out = np.zeros(int((beats[-1] + 2) * RATE))

    def at(count: float) -> float:
        return float(np.interp(count, index, beats))

    resting = set()
    if hard == "rests":
        for start in range(intro + 16, counts - 8, 16):
            resting |= set(range(start - int(random.choice([2, 3])), start))
    roots = ROOTS[int(random.integers(len(ROOTS)))]
    for count in range(counts):
        if count in resting:
            continue
        root = roots[((count - intro) // 4) % 8]
        light = count < intro
        _one_count(out, at, count, (count - intro) % 4, root, pattern, swing, light, random)
    if hard == "pick-up":
        for k, place in enumerate((-1, -0.5)):
            _add(
                out,
                at(intro + place) if intro else max(0, lead_s + place * beat),
                0.4 * _pluck(_hertz(4 + 2 * k, 0), 0.3),
            )
    out = out / np.abs(out).max() * 0.7
    if hard == "voice":
        voice = np.resize(_voice(), len(out))
        out = out + 0.5 * voice
    noise = random.normal(0, 0.002, len(out))
    out = in_a_room(out, seed, noise_db=-26, decay_s=0.5) if hard == "room" else out + noise
    return Song(out, bpm, beats[:-1], intro, pattern, hard)


def _one_count(out, at, count, in_bar, root, pattern, swing, light, random):  # type: ignore[no-untyped-def]
    beat = at(count + 1) - at(count)
    on, half = at(count), at(count + swing)
    if light:
        # before the routine begins: less of everything
        _add(out, on, 0.35 * _hat(random))
        if in_bar == 0:
            _add(out, on, 0.18 * _chord(root, 4 * beat))
        return
    strong = in_bar % 2 == 0
    if pattern in ("floor", "march"):
        _add(out, on, _kick() if pattern == "floor" or strong else _snare(random))
        _add(out, half, 0.5 * _hat(random))
    elif pattern in ("rock", "shuffle"):
        _add(out, on, _kick() if strong else _snare(random))
        _add(out, on, 0.4 * _hat(random))
        _add(out, half, 0.35 * _hat(random))
    elif pattern == "half time":
        if in_bar == 0:
            _add(out, on, _kick())
        if in_bar == 2:
            _add(out, on, _snare(random))
        _add(out, on, 0.5 * _hat(random))
        _add(out, half, 0.25 * _hat(random))
    elif pattern == "syncopated":
        _add(out, on, 0.7 * _kick() if in_bar in (0, 2) else 0.4 * _hat(random))
        if in_bar in (1, 3):
            _add(out, half, 0.8 * _kick())
        if in_bar in (0, 3) or random.random() < 0.4:
            _add(out, on, 0.5 * _clave())
    if pattern in ("plucked", "chords"):
        if pattern == "chords":
            _add(out, on, (0.5 if in_bar == 0 else 0.35) * _chord(root, beat))
        else:
            for k, place in enumerate((on, half)):
                _add(out, place, (0.5, 0.3)[k] * _pluck(_hertz(root + int(random.choice([0, 2, 4])), 0), beat))
        if strong:
            _add(out, on, 0.5 * _pluck(_hertz(root, -2), 2 * beat))
        return
    _add(out, on, (0.5 if in_bar == 0 else 0.3) * _pluck(_hertz(root, -2), 0.9 * beat))
    if in_bar == 0:
        _add(out, on, 0.2 * _chord(root, 4 * beat))
    if random.random() < 0.6:
        _add(out, random.choice([on, half]), 0.2 * _pluck(_hertz(root + int(random.choice([2, 4, 7])), 1), 0.5))


@cache
def _voice() -> Floats:
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "voice.wav"
        subprocess.run(["espeak-ng", "-w", str(file), "-s", "150", SAID], check=True)
        rate, samples = wavfile.read(file)
    return resample_poly(samples / np.abs(samples).max(), RATE, rate)


def _add(out: Floats, at: float, sound: Floats) -> None:
    i = round(at * RATE)
    n = min(len(sound), len(out) - i)
    if n > 0:
        out[i : i + n] += sound[:n]


def _hertz(step: int, octave: int) -> float:
    return float(220 * 2 ** (octave + step // 7 + SCALE[step % 7] / 12))


def _time(seconds: float) -> Floats:
    return np.arange(int(seconds * RATE)) / RATE


def _kick() -> Floats:
    t = _time(0.25)
    return np.sin(2 * np.pi * (48 * t + 7 * (1 - np.exp(-t * 35)))) * np.exp(-t * 13)


def _snare(random: np.random.Generator) -> Floats:
    t = _time(0.2)
    return 0.5 * random.normal(0, 0.5, len(t)) * np.exp(-t * 20) + 0.4 * np.sin(2 * np.pi * 200 * t) * np.exp(-t * 25)


def _hat(random: np.random.Generator) -> Floats:
    t = _time(0.06)
    return np.diff(random.normal(0, 0.3, len(t) + 1)) * np.exp(-t * 70)


def _clave() -> Floats:
    t = _time(0.1)
    return np.sin(2 * np.pi * 1800 * t) * np.exp(-t * 60)


def _pluck(hertz: float, seconds: float) -> Floats:
    t = _time(seconds)
    parts = [np.sin(2 * np.pi * hertz * k * t) * np.exp(-t * (3 + 2 * k)) / k for k in range(1, 5)]
    return np.sum(parts, axis=0) * np.minimum(1, t * 250)


def _chord(root: int, seconds: float) -> Floats:
    return np.sum([_pluck(_hertz(root + k, 0), seconds) for k in (0, 2, 4)], axis=0)
