"""Files and rows made to agree: what was made of a clip and can't be read is made again, what no row knows goes."""

from sqlalchemy.orm import Session

from juxtakine.jobs import flow
from juxtakine.jobs.places import is_prepared, media, shelf, stretch_of, track_of
from juxtakine.settings import settings
from juxtakine.store import clips, jobs, routines
from juxtakine.store.database import lies_in, session
from juxtakine.store.models import Clip, JobStep, Role, Routine

LEFT_ALONE_S = 24 * 3600.0
"""What nobody has touched for so long is nobody's work: commands use the same shelf, and know no rows."""


class Lost(Exception):
    """What was made of a clip can't be read any more, and has to be made again."""

    def __init__(self) -> None:
        super().__init__("What was measured of a clip can't be read any more. It is being measured again.")


def lost(clip: Clip) -> list[JobStep]:
    """Steps that are done, and whose work can't be read any more."""
    if clip.role is Role.FORMER:
        return []
    return [step for step in JobStep if clips.has_done(clip, step) and not _is_there(clip, step)]


def _is_there(clip: Clip, step: JobStep) -> bool:
    """Whether what the step makes can be read; what stands in the database always can."""
    match step:
        case JobStep.ASSEMBLE:
            return media().clip(clip.content).exists()
        case JobStep.PREPARE:
            return is_prepared(clip.content)
        case JobStep.TRACK:
            return shelf().holds(track_of(clip))
        case _:
            return True


def mend(db: Session, routine: Routine) -> int:
    """Have made again what is lost of the routine's clips; returns of how many."""
    broken = [(clip, steps) for clip in routine.clips if (steps := lost(clip))]
    for clip, steps in broken:
        for step in steps:
            jobs.forget(db, clip, step)
        flow.begin(db, clip)
    return len(broken)


def is_gone(clip: Clip) -> bool:
    """Whether the clip's own file is missing; one that is put together is only there once it is."""
    made_here = clip.parts is not None and not clips.has_done(clip, JobStep.ASSEMBLE)
    return not made_here and not media().clip(clip.content).exists()


def clear_unknown() -> int:
    """Remove what came in while its row did not, or stayed while its row went; returns of how many clips. Cheap."""
    with media().alone(), session() as db:
        if not lies_in(db, settings().var):
            return 0
        kept = clips.contents(db)
        unknown = [content for content in media().contents() if content not in kept]
        for content in unknown:
            media().forget(content)
    return len(unknown)


def tidy(left_alone_s: float = LEFT_ALONE_S) -> list[str]:
    """Look at everything, and mend it both ways; says what was done, and what nobody but a person can do."""
    done, unknown = [], clear_unknown()
    broken_off = media().clear_broken_off(left_alone_s)
    with session() as db:
        everything = [clip for routine in routines.every(db) for clip in routine.clips]
        names = {track_of(clip) for clip in everything}
        names |= {shelf().looks_key(clip.content, stretch_of(clip)) for clip in everything}
        names |= {shelf().glance_key(clip.content) for clip in everything}
        gone = [f"{clip.name} of “{title_of(clip.routine)}”" for clip in everything if is_gone(clip)]
    left_over = shelf().clear(names, left_alone_s) + broken_off
    mended = 0
    for routine_id in {clip.routine_id for clip in everything}:
        with session() as db:
            routines.hold(db, routine_id)
            if routine := db.get(Routine, routine_id):
                mended += mend(db, routine)
    if unknown:
        done.append(f"{_many(unknown, 'clip')} that no routine has went.")
    if left_over:
        done.append(f"{_many(left_over, 'file')} that broken-off work had left went.")
    if mended:
        done.append(f"What was made of {_many(mended, 'clip')} was damaged or missing: it is made again.")
    if gone:
        done.append(f"The files of these are missing: {', '.join(gone)}. Choose them again; they take their old place.")
    return done


def title_of(routine: Routine) -> str:
    return str(routines.current(routine).sheet.get("title") or "untitled")


def _many(n: int, thing: str) -> str:
    return f"{n} {thing}" if n == 1 else f"{n} {thing}s"
