"""The made-up music of Lantern Quay, and how it sounds in a student's room.

Units: samples at RATE a second, mono, -1 to 1. The tune never repeats a bar exactly, as played music does not.
"""

import av
import numpy as np

from juxtakine.demo.skeleton import Floats

RATE = 44_100
SLOWEST = 0.5
"""The filter that keeps the pitch slows by no more at once."""
_SCALE = np.array([0, 2, 3, 5, 7, 8, 10])
_ROOTS = (0, 5, 3, 4, 0, 5, 6, 4)


def harbour_tune(bpm: float, counts: int, seed: int = 11) -> Floats:
    """`counts` counts of drums, bass and a plucked tune."""
    random = np.random.default_rng(seed)
    beat = 60 / bpm
    out = np.zeros(int((counts * beat + 1.5) * RATE))
    for count in range(counts):
        at = count * beat
        _add(out, at, _kick() if count % 2 == 0 else _snare(random))
        _add(out, at, 0.5 * _hat(random))
        _add(out, at + beat / 2, 0.35 * _hat(random))
        root = _ROOTS[count // 4 % len(_ROOTS)]
        _add(out, at, 0.35 * _pluck(_hertz(root, -2), beat * 0.9, 3))
        for half in range(2):
            if random.random() < 0.75:
                step = root + int(random.choice([0, 2, 4, 5, 7]))
                _add(out, at + half * beat / 2, 0.22 * _pluck(_hertz(step, 0), beat * 0.8, 5))
    return np.asarray(0.7 * out / np.abs(out).max())


def in_a_room(sound: Floats, seed: int, noise_db: float = -32, decay_s: float = 0.25) -> Floats:
    """The same sound as a phone across a room hears it: direct, echoes that die away, and noise."""
    random = np.random.default_rng(seed)
    t = np.arange(int(decay_s * 2 * RATE)) / RATE
    echoes = random.normal(0, 1, len(t)) * np.exp(-t * 3 / decay_s) * 0.02
    echoes[0] = 1
    heard = np.convolve(sound, echoes[:1], "full")[: len(sound)] + _convolved(sound, echoes)
    heard = heard / np.abs(heard).max() * 0.6
    return np.asarray(heard + random.normal(0, 10 ** (noise_db / 20), len(heard)))


def slowed(samples: Floats, tempo: float) -> Floats:
    """The same music at another tempo, its pitch kept, as players do it."""
    if tempo == 1:
        return samples
    if tempo < SLOWEST:
        return slowed(slowed(samples, SLOWEST), tempo / SLOWEST)
    graph = av.filter.Graph()
    source = graph.add_abuffer(format="flt", sample_rate=RATE, layout="mono")
    change, sink = graph.add("atempo", str(tempo)), graph.add("abuffersink")
    source.link_to(change)
    change.link_to(sink)
    graph.configure()
    frame = av.AudioFrame.from_ndarray(samples.astype(np.float32)[None], "flt", "mono")
    frame.sample_rate, frame.pts = RATE, 0
    source.push(frame)
    source.push(None)
    out = []
    while True:
        try:
            pulled = sink.pull()
            assert isinstance(pulled, av.AudioFrame)
            out.append(pulled.to_ndarray()[0])
        except (av.error.EOFError, av.error.BlockingIOError):
            return np.concatenate(out).astype(float)


def _convolved(sound: Floats, echoes: Floats) -> Floats:
    n = 1 << (len(sound) + len(echoes)).bit_length()
    return np.fft.irfft(np.fft.rfft(sound, n) * np.fft.rfft(echoes, n), n)[: len(sound)]


def _add(out: Floats, at: float, sound: Floats) -> None:
    i = int(at * RATE)
    n = min(len(sound), len(out) - i)
    out[i : i + n] += sound[:n]


def _hertz(step: int, octave: int) -> float:
    return float(220 * 2 ** (octave + step // 7 + _SCALE[step % 7] / 12))


def _time(seconds: float) -> Floats:
    return np.arange(int(seconds * RATE)) / RATE


def _kick() -> Floats:
    t = _time(0.25)
    return np.asarray(np.sin(2 * np.pi * (50 * t + 8 * (1 - np.exp(-t * 30)))) * np.exp(-t * 14))


def _snare(random: np.random.Generator) -> Floats:
    t = _time(0.2)
    return 0.5 * random.normal(0, 0.5, len(t)) * np.exp(-t * 22) + 0.4 * np.sin(2 * np.pi * 190 * t) * np.exp(-t * 25)


def _hat(random: np.random.Generator) -> Floats:
    t = _time(0.06)
    return np.diff(random.normal(0, 0.3, len(t) + 1)) * np.exp(-t * 70)


def _pluck(hertz: float, seconds: float, partials: int) -> Floats:
    t = _time(seconds)
    parts = (np.sin(2 * np.pi * hertz * k * t) * np.exp(-t * (3 + 2 * k)) / k for k in range(1, partials + 1))
    return np.asarray(sum(parts)) * np.minimum(1, t * 200)
