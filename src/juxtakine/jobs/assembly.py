"""A reference that is put together from pieces: what it is made of, and what it is before it is made."""

import hashlib
import json
from itertools import pairwise
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.movement.features import Span
from juxtakine.core.watching.assembled import Cut, Piece, PieceError, assembled
from juxtakine.jobs import intake
from juxtakine.jobs.places import media
from juxtakine.media.assembling import ClipPart
from juxtakine.pipeline.sheet_forms import GridForm, SheetForm
from juxtakine.store import clips, routines
from juxtakine.store.models import Clip, PieceRow, Role, Routine


def piece_of(row: PieceRow, clip: Clip) -> Piece:
    """Raises PieceError."""
    return Piece(row.first_s, row.next_s, clip.start_s, clip.start_s + clip.duration_s)


def pieces(routine: Routine, sheet: Sheet) -> dict[int, PieceRow]:
    """By the number of the row, as it is danced; those of rows that are gone wait in case they come back."""
    by_row = {p.row_id: p for p in routine.pieces}
    return {n: by_row[phrase.id] for n, phrase in enumerate(sheet.phrases, 1) if phrase.id in by_row}


def missing(routine: Routine, sheet: Sheet) -> list[int]:
    """Rows without a piece."""
    there = pieces(routine, sheet)
    return [n for n in range(1, len(sheet.phrases) + 1) if n not in there]


def put_together(db: Session, routine: Routine) -> Clip:
    """A clip of the routine's pieces, in the order of its phrases, that becomes the first reference once it is made;
    the clip that is the first now stays beside it. Raises PieceError."""
    sheet = SheetForm.model_validate(routines.current(routine).sheet).value()
    if missing(routine, sheet):
        raise PieceError("Each row needs a stretch of its own.")
    rows = list(pieces(routine, sheet).values())
    sources = [clips.of(routine, p.clip_id) for p in rows]
    cuts, grid = assembled(sheet, [piece_of(p, c) for p, c in zip(rows, sources, strict=True)])
    parts = [_part(p, c, cut) for p, c, cut in zip(rows, sources, cuts, strict=True)]
    clip = _clip(sources, cuts, parts)
    clip.grid = GridForm.of(grid).model_dump(mode="json")
    return intake.add_made(db, routine, clip)


def parts_of(clip: Clip) -> list[ClipPart]:
    return [
        ClipPart(media().clip(p["content"]), p["from_s"], p["to_s"], p["speed"], p["flipped"]) for p in clip.parts or ()
    ]


def cameras_of(clip: Clip) -> tuple[Span, ...]:
    """From where each part was filmed, in the clip's seconds: what comes from the same clip, from the same place."""
    parts = list(zip(clip.parts or (), parts_of(clip), strict=True))
    ends = np.cumsum([0.0, *(part.lasts_s for _, part in parts)])
    places = list(dict.fromkeys((said["clip"], said["flipped"]) for said, _ in parts))
    numbers = (places.index((said["clip"], said["flipped"])) for said, _ in parts)
    return tuple((float(a), float(b), n) for (a, b), n in zip(pairwise(ends), numbers, strict=True))


def _part(row: PieceRow, source: Clip, cut: Cut) -> dict[str, Any]:
    return {
        "content": source.content, "clip": source.id, "from_s": cut.from_s, "to_s": cut.to_s, "speed": cut.speed,
        "flipped": row.flipped,
    }  # fmt: skip


def _clip(sources: list[Clip], cuts: list[Cut], parts: list[dict[str, Any]]) -> Clip:
    """Named by what it is made of, as its bytes are not there yet."""
    content = hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()
    lasts_s, first = sum(c.lasts_s for c in cuts), sources[0]
    return Clip(
        role=Role.COMING, number=0, name="put together", content=content, parts=parts, model=first.model,
        start_s=0.0, duration_s=lasts_s, run=[0.0, lasts_s], width=first.width, height=first.height, fps=first.fps,
        frames=round(sum(s.fps * (c.to_s - c.from_s) for s, c in zip(sources, cuts, strict=True))),
        has_sound=any(s.has_sound for s in sources),
    )  # fmt: skip
