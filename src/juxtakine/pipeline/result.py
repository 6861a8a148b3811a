"""A take's result as it is kept: values alone and no sentence, so that neither another wording nor a row that is
renamed needs a new one."""

import zlib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from pydantic import TypeAdapter, ValidationError

from juxtakine.core.comparing.explaining.marks import Marks, Picture, marks
from juxtakine.core.comparing.results import Comparison
from juxtakine.core.counting.sheets import Sheet, SheetCount, expand
from juxtakine.core.movement.framing import Frame, frame_of
from juxtakine.pipeline.comparison import Recording


@dataclass(frozen=True)
class Result:
    """`comparison` names its counts, and the sheet says the rest of them; `marks` are by count; the frames are what has
    to be shown of both pictures; `styles` are the ids of the other references whose style may be right too, in the
    order in which the counts name them."""

    comparison: Comparison
    marks: tuple[Marks, ...]
    reference_frame: Frame
    take_frame: Frame
    styles: tuple[int, ...] = ()


_ADAPTER = TypeAdapter(Result)


def result_of(comparison: Comparison, reference: Recording, take: Recording, styles: Sequence[int] = ()) -> Result:
    """Of the recordings that were compared."""
    first, last = comparison.counts[0], comparison.counts[-1]
    pictures = _picture(reference), _picture(take)
    return Result(
        comparison,
        tuple(marks(c, comparison.mirror, *pictures) for c in comparison.counts),
        frame_of(reference.track, first.reference_s, last.reference_s),
        frame_of(take.track, first.take_s, last.take_s),
        tuple(styles),
    )


def packed(result: Result) -> bytes:
    bare = (SheetCount(c.count.phrase, c.count.label, c.count.at) for c in result.comparison.counts)
    return zlib.compress(_ADAPTER.dump_json(_with_counts(result, bare)))


def unpacked(data: bytes) -> Result | None:
    """Its counts by name alone. None where an older version kept what this one can't read."""
    try:
        return _ADAPTER.validate_json(zlib.decompress(data))
    except (ValidationError, zlib.error):
        return None


def as_written(result: Result, sheet: Sheet) -> Result:
    """With all that the sheet says of the counts that were compared, cues and names as they are now."""
    return _with_counts(result, expand(sheet))


def _with_counts(result: Result, counts: Iterable[SheetCount]) -> Result:
    told = tuple(replace(c, count=now) for c, now in zip(result.comparison.counts, counts, strict=True))
    return replace(result, comparison=replace(result.comparison, counts=told))


def _picture(recording: Recording) -> Picture:
    return Picture(recording.movement, recording.track.width, recording.track.height)
