"""The grid as a MIDI file: its tempi, a click on each count and a marker for each row; and its tempi in again.

A beat of the file is a count, and the file begins where the film does: whole beats lead up to count 1.
"""

import io
from itertools import pairwise

import mido

from juxtakine.core.counting.grids import Anchor, Grid, GridError
from juxtakine.core.counting.positions import from_decimal
from juxtakine.core.counting.sheets import Sheet
from juxtakine.pipeline.forms import FormError

NOT_IN_MIDI = "MIDI holds the tempi, a click on each count and the rows' names; no cues and no scoring."
TICKS = 480
CLICKS = 9
"""The channel of drums."""
LOW, HIGH = 76, 77
FIRST = "count 1"


def to_midi(sheet: Sheet, grid: Grid, start_s: float) -> bytes:
    first_s = float(grid.seconds(0)) - start_s
    lead = max(1, round(first_s / float(grid.count_length(0)))) if first_s > 0 else 0
    tempi = [(0, first_s / lead)] if lead else []
    inside = [a for a in grid.anchors if 0 < a.at < sheet.total]
    knots = [(0.0, float(grid.seconds(0))), *((float(a.at), a.seconds) for a in inside)]
    knots.append((float(sheet.total), float(grid.seconds(sheet.total))))
    tempi += [(round((lead + a) * TICKS), (t - s) / (b - a)) for (a, s), (b, t) in pairwise(knots)]
    events = [(tick, mido.MetaMessage("set_tempo", tempo=round(1e6 * beat))) for tick, beat in tempi]
    events.append((lead * TICKS, mido.MetaMessage("marker", text=FIRST)))
    for start, phrase in zip(sheet.starts(), sheet.phrases, strict=True):
        name = _latin(phrase.name) or "row"
        events.append(((lead + start) * TICKS, mido.MetaMessage("marker", text=name)))
        for count in range(phrase.counts):
            at, note = (lead + start + count) * TICKS, LOW if count else HIGH
            events.append((at, mido.Message("note_on", channel=CLICKS, note=note, velocity=90)))
            events.append((at + TICKS // 8, mido.Message("note_off", channel=CLICKS, note=note)))
    track = mido.MidiTrack([mido.MetaMessage("track_name", name=_latin(sheet.title) or "routine")])
    at = 0
    for tick, message in sorted(events, key=lambda e: e[0]):
        track.append(message.copy(time=tick - at))
        at = tick
    out = io.BytesIO()
    mido.MidiFile(ticks_per_beat=TICKS, tracks=[track]).save(file=out)
    return out.getvalue()


def grid_from_midi(data: bytes, start_s: float) -> Grid:
    """Count 1 is at the marker of that name, else at the first note. Raises FormError."""
    try:
        file = mido.MidiFile(file=io.BytesIO(data))
    except (OSError, ValueError, EOFError, IndexError, KeyError) as error:
        raise FormError("this file can't be read as MIDI") from error
    tempi: list[tuple[int, int]] = []
    first = note = None
    for track in file.tracks:
        tick = 0
        for message in track:
            tick += message.time
            if message.type == "set_tempo":
                tempi.append((tick, message.tempo))
            elif message.type == "marker" and message.text == FIRST:
                first = tick
            elif message.type == "note_on" and message.velocity:
                note = min(tick, note if note is not None else tick)
    if not tempi:
        raise FormError("this MIDI file names no tempo: type the tempo instead")
    first = first if first is not None else note or 0
    tempi.sort()
    knots = sorted({0, first, *(tick for tick, _ in tempi)})
    knots.append(max(knots[-1], first) + file.ticks_per_beat)
    seconds, anchors = 0.0, []
    for a, b in pairwise(knots):
        if a >= first:
            anchors.append(Anchor(from_decimal((a - first) / file.ticks_per_beat), start_s + seconds))
        tempo = next((t for tick, t in reversed(tempi) if tick <= a), tempi[0][1])
        seconds += (b - a) / file.ticks_per_beat * tempo / 1e6
    anchors.append(Anchor(from_decimal((knots[-1] - first) / file.ticks_per_beat), start_s + seconds))
    try:
        return Grid(tuple(anchors))
    except GridError as error:
        raise FormError(str(error)) from error


def _latin(text: str) -> str:
    """What MIDI's texts can carry."""
    return text.encode("latin-1", "replace").decode("latin-1")
