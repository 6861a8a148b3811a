"""Common time against known truth: by made-up music in made-up rooms, slowed or not, by the movement alone, and by
both together, as the application finds it, whatever is heard in the take."""

import numpy as np
from scipy.signal import lfilter, resample_poly

from accuracy.pairs import Pair
from accuracy.score import Scores
from juxtakine.core.comparing.aligning.common_movement import match_movements
from juxtakine.core.comparing.aligning.common_sound import match_sounds
from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.compare import compare
from juxtakine.core.comparing.results import Method
from juxtakine.core.counting.sheets import expand
from juxtakine.core.movement.features import Features
from juxtakine.core.movement.tracks import Track
from juxtakine.demo.music import RATE, harbour_tune, in_a_room, slowed
from juxtakine.demo.skeleton import Floats
from juxtakine.media import sound
from juxtakine.pipeline.comparison import NoCommonTime, Recording, Sound, compared

LEAD_S = 1.3
TEMPI = (1.0, 1.0, 0.75, 0.75, 0.5, 0.6, 0.8, 0.9)
SURE = 0.5
"""Certainty from which on the product believes the sound."""
HEARD = ("music", "count-in", "music", "clicks", "counting", "talk", "count-in and music", "nothing")
"""In the take. The reference is danced to music, but for the count-in, after which both are danced in silence."""
COUNTED_IN = 4


def of_seed(seed: int) -> Scores:
    """One reference and one take with the same music, and one with other music."""
    random = np.random.default_rng(seed)
    bpm, counts, tempo = float(random.uniform(85, 125)), int(random.choice([32, 48, 64])), float(random.choice(TEMPI))
    tune = harbour_tune(bpm, counts, seed=int(random.integers(1_000_000)))
    other = harbour_tune(bpm * float(random.choice([0.9, 1, 1.07])), counts, seed=int(random.integers(1_000_000)))
    reference = in_a_room(np.concatenate([np.zeros(round(LEAD_S * RATE)), tune]), seed, noise_db=-40)
    lead = float(random.uniform(0.5, 4))
    scores = Scores()
    for music, same in ((tune, True), (other, False)):
        take = _recorded(slowed(music, tempo), lead, random)
        match = match_sounds(_heard(reference), _heard(take), sound.RATE, 60 / bpm)
        believed = match.certainty >= SURE and bool(match.places)
        scores.hits[f"{'the same' if same else 'other'} music believed"].append(believed)
        if not believed:
            continue
        middle = LEAD_S + len(tune) / RATE / 2
        best = match.places[0]
        error = best.offset_s + middle / best.tempo - (lead + (middle - LEAD_S) / tempo)
        scores.hits["sound sure and wrong by more than half a beat"].append(abs(error) > 30 / bpm or not same)
        if same:
            at = "full tempo" if tempo == 1 else "50-90 %"
            scores.values[f"offset by sound, {at}"].append(1000 * error)
    return scores


def by_movement(one: Pair, reference: Features, take: Features) -> Scores:
    """The offset of the middle of the dance as the movement alone tells it, after the comparison's own refining."""
    scores = Scores()
    counts = np.array([float(c.at) for c in expand(one.routine.sheet)])
    match = match_movements(reference, take, one.reference_grid, counts)
    believed = match is not None and match.certainty >= SURE
    scores.hits["movement believed"].append(believed)
    if match is None or not believed:
        return scores
    common = CommonTime(match.grid, Method.MOVEMENT, match.certainty)
    told = compare(reference, take, one.routine.sheet, one.reference_grid, common)
    middle = [c for c in told.counts if c.count.at == np.median(counts)] or [told.counts[len(told.counts) // 2]]
    true = float(one.take_grid.seconds(float(middle[0].count.at))) + np.median(list(one.true_lag_ms.values())) / 1000
    error = middle[0].take_s - true
    scores.values["offset by movement"].append(1000 * error)
    beat = float(one.take_grid.count_length(0.0))
    scores.hits["movement sure and wrong by more than half a beat"].append(abs(error) > beat / 2)
    return scores


def as_found(one: Pair, shown: Track, done: Track) -> Scores:
    """What the application finds by sound and movement, or asks for."""
    scores = Scores()
    kind = HEARD[one.seed // 2 % len(HEARD)]
    reference, take = (Recording(t, h) for t, h in zip((shown, done), _sounds(one, kind), strict=True))
    try:
        told = compared(reference, take, one.routine.sheet, one.reference_grid)
    except NoCommonTime:
        scores.hits[f"common time asked for, heard: {kind}"].append(True)
        return scores
    scores.hits[f"common time asked for, heard: {kind}"].append(False)
    middle = told.counts[len(told.counts) // 2]
    own = 0.0 if told.alignment.method is Method.SOUND else float(np.median(list(one.true_lag_ms.values()))) / 1000
    error = middle.take_s - float(one.take_grid.seconds(float(middle.count.at))) - own
    scores.values[f"common time by {told.alignment.method.value}, as it is found"].append(1000 * error)
    wrong = abs(error) > float(one.take_grid.count_length(0.0)) / 2
    scores.hits["common time found, and wrong by more than half a beat"].append(wrong)
    if wrong:
        scores.misses.append(f"{one.seed} {one.routine.kind} {kind} {told.alignment} off {error:.2f} {one.conditions}")
    return scores


def _sounds(one: Pair, kind: str) -> tuple[Sound, Sound | None]:
    """The reference's and the take's."""
    random = np.random.default_rng(one.seed)
    counts, grids = float(sum(p.counts for p in one.routine.sheet.phrases)), (one.reference_grid, one.take_grid)
    tune = harbour_tune(one.routine.bpm, round(counts), seed=one.seed)
    clicked = [_at(g.seconds(np.arange(-COUNTED_IN, 0.0)), g.seconds(counts), _click()) for g in grids]
    danced = [_from(g.seconds(0.0), slowed(tune, t)) for g, t in zip(grids, (1.0, one.conditions.tempo), strict=True)]
    beats, last = one.take_grid.seconds(np.arange(-COUNTED_IN, counts)), one.take_grid.seconds(counts)
    own = {
        "music": danced[1],
        "count-in": clicked[1],
        "count-in and music": _together(danced[1], clicked[1]),
        "clicks": _at(beats, last, _click()),
        "counting": _at(beats + random.normal(0, 0.02, len(beats)), last, _syllable()),
        "talk": _voice(round(float(last) * RATE), random),
        "nothing": None,
    }[kind]
    other = clicked[0] if kind == "count-in" else _together(*(s[0] for s in (danced, clicked)))
    quiet = in_a_room(other, one.seed, noise_db=-40)
    noise = float(random.choice([-32, -22]))
    return Sound(_heard(quiet), 0.0), own if own is None else Sound(_heard(in_a_room(own, one.seed + 1, noise)), 0.0)


def _from(seconds: Floats, sound: Floats) -> Floats:
    return np.concatenate([np.zeros(round(float(seconds) * RATE)), sound])


def _together(a: Floats, b: Floats) -> Floats:
    out = np.zeros(max(len(a), len(b)))
    out[: len(a)] += a
    out[: len(b)] += b
    return out


def _at(seconds: Floats, last: Floats, sound: Floats) -> Floats:
    """The same sound again and again; what would begin before the recording is not heard."""
    out = np.zeros(round(float(last) * RATE) + len(sound))
    for at in (round(float(s) * RATE) for s in seconds if s >= 0):
        out[at : at + len(sound)] += sound
    return out


def _click() -> Floats:
    t = np.arange(round(0.03 * RATE)) / RATE
    return np.asarray(0.5 * np.sin(2 * np.pi * 1800 * t) * np.exp(-t / 0.006))


def _syllable() -> Floats:
    n = round(0.18 * RATE)
    return np.asarray(2 * _buzz(n) * np.hanning(n))


def _recorded(music: Floats, lead: float, random: np.random.Generator) -> Floats:
    """In the student's room: noise, and half the time feet or somebody talking."""
    take = np.concatenate([np.zeros(round(lead * RATE)), music, np.zeros(RATE)])
    kind = random.choice(["plain", "plain", "feet", "voice"])
    if kind == "feet":
        for at in random.integers(0, len(take) - 2000, 40):
            take[at : at + 1500] += random.normal(0, 0.3, 1500) * np.exp(-np.arange(1500) / 300)
    if kind == "voice":
        take += _voice(len(take), random)
    return in_a_room(take, int(random.integers(1000)), noise_db=float(random.choice([-32, -22, -15])))


def _voice(n: int, random: np.random.Generator) -> Floats:
    """Something like talk, in syllables of a quarter of a second."""
    syllables = np.repeat(random.random(int(n / RATE * 4) + 1) > 0.4, RATE // 4)[:n]
    return np.asarray(_buzz(n) * np.pad(syllables, (0, n - len(syllables))))


def _buzz(n: int) -> Floats:
    """A buzz through two resonances."""
    t = np.arange(n) / RATE
    buzz = np.sign(np.sin(2 * np.pi * 140 * t + 4 * np.sin(2 * np.pi * 0.7 * t)))
    for hertz in (500, 1500):
        r = 0.985
        buzz = lfilter([1 - r], [1, -2 * r * np.cos(2 * np.pi * hertz / RATE), r * r], buzz)
    return np.asarray(0.15 * buzz / np.abs(buzz).max())


def _heard(samples: Floats) -> Floats:
    return np.asarray(resample_poly(samples, 80, RATE // 100), np.float32)
