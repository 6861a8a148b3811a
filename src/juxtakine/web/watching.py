"""What Watch shows of a clip: what is read off it, who is followed, where their feet are, what a long one holds."""

from functools import lru_cache

from juxtakine.core.counting.structure import Danced
from juxtakine.core.movement.feet import of_people, of_track
from juxtakine.core.movement.following import NobodyThere
from juxtakine.core.movement.people import Click, Followed
from juxtakine.core.movement.tracks import Floats
from juxtakine.core.watching.mirrored import Beside, Sides
from juxtakine.core.watching.stretches import Kind
from juxtakine.core.watching.tempo import kinds_of_music
from juxtakine.jobs import inputs
from juxtakine.jobs.mending import Lost
from juxtakine.jobs.places import clicks_of, shelf, stretch_of, track_of
from juxtakine.pipeline.placing import PlacedForm
from juxtakine.pipeline.reading import Reading, by_view, read
from juxtakine.pipeline.sheet_forms import GridForm, SheetForm
from juxtakine.pipeline.stretches import StretchesForm
from juxtakine.pipeline.tracks import FromTo
from juxtakine.store import clips, routines
from juxtakine.store.models import Clip, Routine
from juxtakine.web import schemas as s

FEET_EVERY_S = 0.2


def reading(found: Routine, clip_id: int | None = None) -> s.ReadingView:
    """Of the first reference, or of another one."""
    try:
        shown = inputs.first_of(found) if clip_id is None else clips.of(found, clip_id)
        source = inputs.read_of(shown)
    except inputs.NotReady as missing:
        return s.ReadingView(reading=None, waiting=str(missing))
    told = _read(source, _beside(shown))
    moved = [f.model_copy(update={"seconds": f.seconds - source.start_s}) for f in told.figures]
    return s.ReadingView(reading=told.model_copy(update={"figures": moved}), waiting=None)


def _beside(shown: Clip) -> tuple[Beside, ...]:
    """What the routine's other references tell of this one's sides."""
    first = inputs.first_of(shown.routine)
    pairs = [(c, c) for c in routines.others(shown.routine)] if shown.is_first else [(first, shown)]
    told = (_tells(other, placed, bool(shown.flipped)) for other, placed in pairs)
    return tuple(b for b in told if b)


def _tells(other: Clip, placed: Clip, flipped: bool) -> Beside | None:
    """`placed` is that one of the two of which it was found whether they are mirror images; None where one is not
    known. What is told of pictures is turned to what is danced in them."""
    images = placed.placed and PlacedForm.model_validate(placed.placed)
    if not images or images.mirrored is None:
        return None
    if other.mirrored is not None:
        mirrored, why = float(other.mirrored), "as you said of it"
    else:
        own = _by_view(track_of(other), bool(other.flipped))
        if own is None or own.mirrored is None:
            return None
        mirrored, why = own.certainty if own.mirrored else 1 - own.certainty, own.why
    alike = bool(other.flipped) == flipped
    chance = images.sides_certainty if images.mirrored == alike else 1 - images.sides_certainty
    return Beside(min(max(mirrored, 0.02), 0.98), why, min(max(chance, 0.02), 0.98))


@lru_cache(maxsize=16)
def _by_view(track: str, flipped: bool) -> Sides | None:
    made = shelf().fetch(track)
    return by_view(made, flipped) if made else None


@lru_cache(maxsize=16)
def _read(source: inputs.Read, beside: tuple[Beside, ...]) -> Reading:
    """It takes a moment, and every look at the screen asks for it."""
    made = shelf().fetch(source.track)
    if made is None:
        raise Lost
    form = SheetForm.model_validate_json(source.sheet)
    told = read(made, form.value(), GridForm.model_validate_json(source.grid).value(), source.flipped, beside,
                source.cameras)  # fmt: skip
    if form.order.strip() or form.dances is Danced.EASIER:
        # what repeats is said already, and rows as danced are not those that are written
        return told.model_copy(update={"to_write": []})
    return told.model_copy(update={"written": form.model_copy(update={"phrases": told.written.phrases})})


def followed(found: Clip) -> s.FollowedView | None:
    """Who is followed of several; with zeros while it was clicked who, but nobody has looked yet."""
    one, clicks = _one(found), len(found.clicks or [])
    if one is None:
        return s.FollowedView(clicks=clicks, share=0.0, lost=[], questions=[]) if clicks else None
    seconds, followed = one
    lost = [s.Span(from_s=float(a) - found.start_s, to_s=float(b) - found.start_s) for a, b in followed.lost(seconds)]
    aspect = found.width / found.height
    asked = [
        s.QuestionView(
            at_s=q.seconds - found.start_s,
            before=q.before,
            people=[s.SightedView(x=c.x / aspect, y=c.y, at_s=c.seconds - found.start_s) for c in q.clicks],
        )
        for q in followed.questions
    ]
    share = float((followed.who >= 0).mean())
    return s.FollowedView(clicks=clicks, share=share, lost=lost, questions=asked)


def feet(found: Clip) -> s.FeetView:
    """Everybody's, where it was looked at who is in shot; else of who was measured."""
    stretch, aspect = stretch_of(found), found.width / found.height
    one = _one(found)
    seen = shelf().seen(found.content, stretch)
    if one is not None and seen is not None:
        seconds, people = one[0], of_people(seen, one[1], aspect)
    elif (track := shelf().fetch(track_of(found))) is not None:
        seconds, people = of_track(track, FEET_EVERY_S)
    else:
        return s.FeetView(seconds=[], people=[])
    lines = [[s.FeetLine(**vars(f)) for f in there] for there in people]
    return s.FeetView(seconds=[round(float(t) - found.start_s, 3) for t in seconds], people=lines)


def _one(found: Clip) -> tuple[Floats, Followed] | None:
    """Seconds of the looks, and who is followed; None where one body is in shot, or as long as nobody looked."""
    stretch = stretch_of(found)
    if not shelf().people(found.content, stretch).exists():
        return None
    return _followed_one(found.content, stretch, clicks_of(found), found.width / found.height)


@lru_cache(maxsize=16)
def _followed_one(
    content: str, stretch: FromTo, clicks: tuple[Click, ...], aspect: float
) -> tuple[Floats, Followed] | None:
    try:
        return shelf().followed(content, stretch, clicks, aspect)
    except NobodyThere:
        return None


_SAID = {
    Kind.TALK: "talk", Kind.SLOW: "slow", Kind.COUNTED: "counted", Kind.RUN: "run", Kind.OTHER: "nobody dances",
    Kind.EMPTY: "nobody there",
}  # fmt: skip


def long_clip(found: Clip) -> s.LongClipView | None:
    if found.stretches is None:
        return None
    told, start = StretchesForm.model_validate(found.stretches), found.start_s
    views = [
        s.StretchView(
            from_s=p.start - start, to_s=p.end - start, kind=p.kind, said=_SAID[p.kind], certainty=p.certainty
        )
        for p in told.stretches
    ]
    if told.run is None:
        dances = any(p.kind in (Kind.SLOW, Kind.COUNTED) for p in told.stretches)
        why = "Nobody dances at tempo in this clip." if dances else "Nobody was seen dancing in this clip."
        return s.LongClipView(stretches=views, proposed=None, said=f"{why} Drag the ends to the run, if there is one.")
    run = s.Span(from_s=told.run.start - start, to_s=told.run.end - start)
    songs = kinds_of_music([p.tempo_bpm for p in told.stretches if p.kind is Kind.RUN and p.tempo_bpm])
    several = f"; there are {songs} songs in this clip, choose that of your routine" if songs > 1 else ""
    return s.LongClipView(stretches=views, proposed=run, said=f"{told.run.certainty:.0%} sure{several}")
