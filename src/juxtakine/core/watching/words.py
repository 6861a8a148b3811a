"""What is said of each phrase before the first take: what it repeats, and what will be hard in it."""

from dataclasses import dataclass

import numpy as np

from juxtakine.core.counting.sheets import Sheet, expand
from juxtakine.core.watching.hardness import Hardness
from juxtakine.core.watching.repeats import Repeat

QUICKER = 1.2
"""Times the routine's usual from which on something is worth a word."""
TURNS = {90: "turns a quarter", 180: "turns a half", 270: "turns three quarters", 360: "turns round once"}
LEAST_TURN, LEAST_LEVEL = 60.0, 0.25
LEAST_GAP = 3.0
"""Counts in a row without a pause that are worth a word."""


@dataclass(frozen=True)
class PhraseWords:
    """`kind` stands at the row's end, `lines` tell more; `hardest` from 1, the hardest phrase first."""

    kind: str
    lines: tuple[str, ...]
    hardest: int | None


def phrase_words(sheet: Sheet, repeats: list[Repeat], hardness: list[Hardness]) -> list[PhraseWords]:
    """Of every phrase, in order."""
    order = {h.phrase: place for place, h in enumerate(ranked(hardness), 1)}
    told = {h.phrase: h for h in hardness}
    like = {r.phrase: r for r in repeats}
    return [
        PhraseWords(
            repeated(like[n]) if n in like else "new",
            tuple(_hard(told[n], hardness, sheet)) if n in told else ("too little of it is seen",),
            order.get(n),
        )
        for n in range(1, len(sheet.phrases) + 1)
    ]


def ranked(hardness: list[Hardness]) -> list[Hardness]:
    """The hardest first: by how far each measure lies above the routine's own mean, all alike."""
    if not hardness:
        return []
    measures = np.array([(h.moves, h.speed, h.turn / 90, h.level, h.side, h.gap) for h in hardness])
    spread = np.maximum(measures.std(0), 0.05 * np.abs(measures).mean(0) + 1e-9)
    merit = ((measures - measures.mean(0)) / spread).sum(1)
    return [hardness[i] for i in np.argsort(-merit, kind="stable")]


def repeated(r: Repeat) -> str:
    """What a row repeats, and how far."""
    side = ", other side" if r.mirrored else ""
    if r.cut:
        return f"like {r.like}{side}, cut after {r.counts}"
    if r.other_ending:
        return f"like {r.like}{side}, other from {r.counts + 1}"
    return f"like {r.like}{side}"


def _hard(h: Hardness, all_of_them: list[Hardness], sheet: Sheet) -> list[str]:
    lines = []
    speed, moves = (float(np.median([getattr(o, k) for o in all_of_them])) for k in ("speed", "moves"))
    if h.turn >= LEAST_TURN:
        nearest = min(TURNS, key=lambda d: abs(d - h.turn))
        lines.append(TURNS[nearest] if h.turn < 400 else f"turns {round(h.turn / 360 * 2) / 2:g} times round")
    if h.gap >= max(LEAST_GAP, QUICKER * float(np.median([o.gap for o in all_of_them]))):
        lines.append(f"no catching up {_between(h, sheet)}")
    if h.moves >= QUICKER * moves:
        lines.append(f"dense: {h.moves:.1f} moves a second")
    if h.speed >= QUICKER * speed:
        lines.append("faster than the rest")
    if h.level >= max(LEAST_LEVEL, QUICKER * float(np.median([o.level for o in all_of_them]))):
        lines.append("goes down and up most")
    return lines


def _between(h: Hardness, sheet: Sheet) -> str:
    """The counts from and to which it goes on."""
    start = sheet.starts()[h.phrase - 1]
    counts = [c for c in expand(sheet) if c.phrase == h.phrase and not c.hold]
    inside = [c for c in counts if h.longest_without[0] - 0.3 <= float(c.at) - start <= h.longest_without[1] + 0.3]
    first, last = (inside or counts)[0], (inside or counts)[-1]
    return f"from {first.label} to {last.label}"
