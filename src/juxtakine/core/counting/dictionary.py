"""The field's standard step names: what each is, and its counts, feet, weight and turn where these are fixed.

Written from the standard terms of line dance, jazz, swing, tap, clogging, ballet, street dance and fitness classes, in
our own words.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from enum import StrEnum
from fractions import Fraction


class Style(StrEnum):
    """Where a name means something else than elsewhere, its style decides."""

    LINE = "line"
    JAZZ = "jazz"
    SWING = "swing"
    TAP = "tap"
    CLOGGING = "clogging"
    BALLET = "ballet"
    STREET = "street"


class Which(StrEnum):
    """A foot as seen from the step: the one that it begins on, the other, both; or no foot."""

    LEAD = "s"
    OTHER = "o"
    BOTH = "b"
    NONE = "-"


@dataclass(frozen=True)
class Action:
    """`at` in counts from the step's first; `turn` in eighths, positive towards the side that it begins on."""

    at: Fraction
    which: Which
    takes_weight: bool
    cue: str
    turn: int = 0


class PatternError(ValueError):
    """A step's counts that can't be read."""


@dataclass(frozen=True)
class Step:
    """`actions` is empty where a term has no fixed counts."""

    name: str
    what: str
    actions: tuple[Action, ...]
    aliases: tuple[str, ...] = ()
    style: Style | None = None

    @property
    def counts(self) -> int | None:
        return int(self.actions[-1].at) + 1 if self.actions else None


PLACES = {"": Fraction(0), "e": Fraction(1, 4), "&": Fraction(1, 2), "a": Fraction(3, 4)}
ACTION = re.compile(r"(?P<count>[1-9])?(?P<part>[e&a])?\s*(?P<which>[sob-])(?P<weight>!)?\s*(?P<cue>[^<>]*?)"
                    r"\s*(?P<turn>[<>]\d)?")  # fmt: skip


def actions_of(pattern: str) -> tuple[Action, ...]:
    """`1s! side, &o! close, 2s touch >2`: a count or its part, the foot (s the one that it begins on, o the other, b
    both, - none), ! where it takes the weight, a word, and a turn in eighths towards (>) or away (<). Raises
    PatternError."""
    made: list[Action] = []
    count = 1
    for said in filter(None, (part.strip() for part in pattern.split(","))):
        found = ACTION.fullmatch(said)
        if found is None or not (found["count"] or found["part"]):
            raise PatternError(f"{said} is not a step's count: write it like 1s! side, or &o! close")
        count = int(found["count"] or count)
        turn = found["turn"] or ">0"
        at = count - 1 + PLACES[found["part"] or ""]
        if made and at <= made[-1].at:
            raise PatternError(f"{said} does not come after the action before it")
        eighths = int(turn[1]) * (1 if turn[0] == ">" else -1)
        made.append(Action(at, Which(found["which"]), bool(found["weight"]), found["cue"].strip(), eighths))
    return tuple(made)


def _step(name: str, pattern: str, what: str, *aliases: str, style: Style | None = None) -> Step:
    return Step(name, what, actions_of(pattern), aliases, style)


DICTIONARY = (
    _step("step", "1s!", "Put the foot down and the weight on it."),
    _step("walk", "1s!", "A plain step forward, as one walks.", "run"),
    _step("forward", "1s!", "A step to the front.", "fwd"),
    _step("back", "1s!", "A step to the back."),
    _step("side", "1s!", "A step to that foot's own side."),
    _step("close", "1s!", "Bring the foot beside the other and stand on it.", "together"),
    _step("cross", "1s!", "A step over the standing foot to its other side.", "cross over"),
    _step("behind", "1s!", "A step crossing behind the standing foot.", "cross behind"),
    _step("touch", "1s", "The foot touches the floor and takes no weight.", "tap"),
    _step("tap", "1s", "The ball of the foot strikes the floor, one sound, and lifts.", style=Style.TAP),
    _step("point", "1s", "The stretched foot reaches to a spot on the floor, without weight."),
    _step("kick", "1s", "The lower leg swings out, the foot off the floor."),
    _step("flick", "1s", "A short kick to the back, from the knee."),
    _step("hitch", "1s", "The knee lifts, the foot hangs or crosses before the other shin.", "hook", "knee"),
    _step("scuff", "1s", "The heel brushes the floor forwards."),
    _step("brush", "1s", "The ball of the foot strokes the floor in passing."),
    _step("stomp", "1s!", "The whole foot comes down loudly and takes the weight."),
    _step("stamp", "1s", "The whole foot strikes the floor and lifts again."),
    _step("heel", "1s", "The heel touches the floor in front, toes up, without weight.", "heel dig"),
    _step("toe", "1s", "The toe touches the floor, without weight.", "toe touch"),
    _step("rock", "1s! rock", "A step that gives the weight only for a moment: it comes back."),
    _step("recover", "1s! recover", "The weight goes back to the foot that was left.", "replace"),
    _step("rock and recover", "1s! rock, 2o! recover", "Rock onto the foot, then back onto the other.", "rock recover",
          "rock step", "break"),
    _step("shuffle", "1s! step, &o! close, 2s! step", "Three quick steps in two counts: step, close, step.", "triple",
          "triple step", "cha cha"),
    _step("shuffle", "1s brush, &s back", "Brush forwards and back with a loose ankle: two sounds, no weight.",
          style=Style.TAP),
    _step("triple", "1s! double, 2o! double, 3s! double, 4o! rock, &s! step",
          "Three double steps and a rock step.", style=Style.CLOGGING),
    _step("chassé", "1s! side, &o! close, 2s! side", "To the side: step, close, step; one foot chases the other.",
          "chasse", "side shuffle"),
    _step("cross shuffle", "1s! cross, &o! side, 2s! cross", "A shuffle that travels sideways, crossing in front."),
    _step("lock step", "1s! fwd, &o! lock, 2s! fwd", "A shuffle whose second step crosses close behind."),
    _step("coaster", "1s! back, &o! close, 2s! fwd", "Back, together, forward: three quick steps that change the way.",
          "coaster step"),
    _step("sailor", "1s! behind, &o! side, 2s! side", "Cross behind, a small step aside, and back under oneself.",
          "sailor step"),
    _step("scissor", "1s! side, &o! close, 2s! cross", "Side, together, cross.", "scissor step", "scissors"),
    _step("grapevine", "1s! side, 2o! behind, 3s! side, 4o touch", "Side, behind, side, and a touch.", "vine"),
    _step("weave", "1s! side, 2o! behind, 3s! side, 4o! cross", "A grapevine that goes on crossing in front."),
    _step("jazz box", "1s! cross, 2o! back, 3s! side, 4o! close", "Round a square: cross, back, side, close.",
          "jazz square"),
    _step("box step", "1s! side, 2o! close, 3s! fwd, 4o touch", "Side, close, forward: half of a square.", "rumba box"),
    _step("v step", "1s! out, 2o! out, 3s! in, 4o! in", "Out, out, in, in: forward on two heels' width, and home."),
    _step("pivot", "1s! fwd, 2o! pivot <4", "Step forward and turn half about on both balls, away from that foot.",
          "pivot turn"),
    _step("paddle", "1s! fwd, 2o! paddle <2", "Step forward and push off into a quarter turn, away from that foot.",
          "paddle turn"),
    _step("monterey", "1s point, 2s! turn >4, 3o point, 4o! close",
          "Point aside, close with half a turn to that side, point the other, close."),
    _step("three step turn", "1s! turn >2, 2o! turn >4, 3s! turn >2, 4o touch",
          "A full turn that travels sideways over three steps.", "rolling vine"),
    _step("full turn", "1s! turn >4, 2o! turn >4", "Once round in two steps, towards the foot that begins."),
    _step("spin", "1s! spin >8", "Once round on one foot."),
    _step("unwind", "1s cross, 2b! unwind <4", "Cross the feet, then turn out of the crossing."),
    _step("ball change", "1s! ball, &o! change", "Two quick weight changes: the ball of one foot, then the other."),
    _step("kick ball change", "1s kick, &s! ball, 2o! change", "A kick, then a ball change."),
    _step("heel switches", "1s heel, &s! close, 2o heel, &o! close", "Heel in front and home, other heel and home."),
    _step("toe switches", "1s point, &s! close, 2o point, &o! close", "Point and home, other side and home."),
    _step("mambo", "1s! rock, &o! recover, 2s! close", "Rock, recover, together.", "mambo step"),
    _step("rocking chair", "1s! rock fwd, 2o! recover, 3s! rock back, 4o! recover",
          "Rock forward and recover, rock back and recover."),
    _step("lindy", "1s! side, &o! close, 2s! side, 3o! rock back, 4s! recover",
          "A side shuffle and a rock step behind."),
    _step("toe strut", "1s toe, 2s! drop", "Toe first, then the heel comes down with the weight."),
    _step("heel strut", "1s heel, 2s! drop", "Heel first, then the toe comes down with the weight."),
    _step("Charleston step", "1s! fwd, 2o kick, 3o! back, 4s touch back",
          "Step forward, kick the other; step back, touch behind.", "charleston"),
    _step("slide", "1s! slide, 2o drag", "A long step aside; the other foot is drawn after it.", "drag"),
    _step("lunge", "1s! lunge", "A long step onto a bent knee, the other leg straight."),
    _step("sway", "1s! sway", "The weight and the hips go over to that side.", "hip sway"),
    _step("hip bump", "1- bump", "The hip pushes out to a side, the feet stay.", "bump", "hip"),
    _step("swivel", "1- swivel", "Heels or toes turn on the spot, the feet stay where they are."),
    _step("jump", "1b! jump", "Off both feet and onto both."),
    _step("hop", "1- hop", "Off one foot and onto the same."),
    _step("leap", "1s! leap", "Off one foot, through the air, onto the other."),
    _step("jumping jack", "1b! out, 2b! in", "Jump with the feet apart, jump them together."),
    _step("clap", "1- clap", "The hands meet; the feet stay."),
    _step("snap", "1- snap", "The fingers snap; the feet stay."),
    _step("flap", "1s brush, &s! step", "Brush forwards and step: two sounds, weight on it.", style=Style.TAP),
    _step("cramp roll", "1s! toe, eo! toe, &s! heel, ao! heel", "Toe, toe, heel, heel: four even sounds.",
          style=Style.TAP),
    _step("plié", "1- bend, 2- stretch", "The knees bend over the toes and stretch again.", "plie", "demi plié"),
    _step("relevé", "1- rise, 2- lower", "Rise onto the balls of the feet, lower.", "releve"),
    _step("tendu", "1s stretch, 2s! close", "The foot slides out along the floor to a point, and closes."),
    _step("dégagé", "1s brush, 2s! close", "As a tendu, the foot brushes just off the floor.", "degage", "jeté"),
    _step("battement", "1s throw, 2s! close", "The straight leg is thrown up and lowered.", "grand battement"),
    _step("rond de jambe", "1s front, 2s side, 3s back, 4s! close", "The foot draws a half circle from front to back."),
    _step("passé", "1s draw up, 2s! close", "The foot is drawn up to the knee and passes to the other side.", "passe",
          "retiré"),
    _step("pas de bourrée", "1s! behind, &o! side, 2s! front", "Behind, side, front: three quick steps.",
          "pas de bourree"),
    _step("balancé", "1s! side, 2o! behind, 3s! in place", "A rocking step in three counts.", "balance"),
    _step("glissade", "1s! glide, &o! close", "A gliding step to the side that closes.", style=Style.BALLET),
    _step("chaînés", "1s! turn >4, 2o! turn >4", "Half turns from foot to foot that make a chain.", "chaines"),
    _step("sauté", "1b! jump", "A jump from both feet to both.", "saute", style=Style.BALLET),
    _step("hold", "1- hold", "Nothing new arrives.", "pause", "freeze"),
    _step("cross rock", "1s! cross rock, 2o! recover", "Rock across the standing foot, and back."),
    _step("side rock", "1s! side rock, 2o! recover", "Rock to the side, and back."),
    _step("back rock", "1s! back rock, 2o! recover", "Rock behind, and back.", "rock back"),
    _step("forward rock", "1s! fwd rock, 2o! recover", "Rock to the front, and back.", "rock forward", "rock fwd"),
    _step("step touch", "1s! side, 2o touch", "A step aside, the other foot touches beside it.", "side touch"),
    _step("ball cross", "1s! ball, &o! cross", "The ball of one foot, and the other crosses over."),
    _step("kick ball cross", "1s kick, &s! ball, 2o! cross", "A kick, then a ball cross."),
    _step("kick ball point", "1s kick, &s! ball, 2o point", "A kick, the ball of that foot, the other points."),
    _step("behind side cross", "1s! behind, &o! side, 2s! cross", "Behind, side, cross over: three quick steps."),
    _step("mambo cross", "1s! side rock, &o! recover, 2s! cross", "Rock aside, recover, cross over."),
    _step("side mambo", "1s! side rock, &o! recover, 2s! close", "Rock aside, recover, together."),
    _step("back mambo", "1s! back rock, &o! recover, 2s! close", "Rock behind, recover, together."),
    _step("Dorothy step", "1s! fwd, 2o! lock, &s! fwd",
          "Diagonally forward, lock behind, quickly forward again.", "dorothy"),
    _step("chase turn", "1s! fwd, &o! pivot <4, 2s! fwd", "Step forward, half about away from that foot, step on."),
    _step("hinge turn", "1s! hinge >4", "Half a turn round the standing leg, stepping aside at its end."),
    _step("samba whisk", "1s! side, ao! behind, 2s! in place", "Aside, a quick ball behind, in place."),
    _step("botafogo", "1s! cross, ao! side, 2s! in place",
          "Cross over, a quick ball aside, in place.", "cross samba", "samba step"),
    _step("nightclub basic", "1s! side, 2o! rock back, &s! recover", "A long step aside, then a quick rock behind."),
    _step("K-step", "1s! fwd, 2o touch, 3o! back, 4s touch, 5s! back, 6o touch, 7o! fwd, 8s touch",
          "Along two diagonals: out to the front and home, out to the back and home.", "k step"),
    _step("heel grind", "1s! heel grind, 2o! recover", "Weight on the heel, its toes turn outwards, and back."),
    _step("heel split", "1- heels apart, 2- heels together",
          "The heels go apart and come together again.", "heel splits", "buttermilk"),
    _step("heel swivel", "1- heels, 2- centre", "The heels turn to a side and back.", "heel swivels"),
    _step("toe fan", "1- toes out, 2- toes in", "The toes turn out and back, the heel stays."),
    _step("sugar foot", "1s toe in, 2s heel out",
          "Toe beside the other foot, then the heel: the knee turns in and out."),
    _step("skate", "1s! skate", "A gliding step diagonally forward, as on ice."),
    _step("prissy walk", "1s! cross", "A walk in which each foot crosses before the other."),
    _step("stroll", "1s! fwd, 2o! lock, 3s! fwd, 4o brush", "Step, lock behind, step, and a brush, on a diagonal."),
    _step("Suzie Q", "1s! cross, 2o! side", "Cross over on a turning heel, step aside.", "suzy q"),
    _step("sweep", "1s sweep", "The foot draws a half circle close to the floor."),
    _step("press", "1s press", "The ball of the foot presses the floor, ready to push off."),
    _step("knee pop", "1- pop", "The knees shoot forward and back, the heels lift.", "knee pops"),
    _step("hip bumps", "1- bump, &- bump, 2- bump", "Three pushes of the hip: out, back and out."),
    _step("chest pop", "1- pop", "The chest shoots forward and settles."),
    _step("shoulder roll", "1- roll", "A shoulder draws a circle."),
    _step("bounce", "1- bounce", "The knees give and come up again, in time.", "groove"),
    _step("two step", "1s! side, 2o touch", "From side to side, a touch each time.", style=Style.STREET),
    _step("running man", "1s! step, &s slide back, 2o! step",
          "Step with a high knee, slide it back, change.", style=Style.STREET),
    _step("backslide", "1s! slide back", "One foot glides backwards flat, the other on its ball.", "glide"),
    _step("march", "1s! march", "In place, the knees lifted."),
    _step("jog", "1s! jog", "Running in place."),
    _step("knee lift", "1s! step, 2o knee", "A step, the other knee lifts.", "knee up"),
    _step("leg curl", "1s! step, 2o curl", "A step, the other heel comes up behind.", "hamstring curl"),
    _step("squat", "1- down, 2- up", "Down with the weight on the heels, and up."),
    _step("easy walk", "1s! fwd, 2o! fwd, 3s! back, 4o! back", "Two steps forward, two back."),
    _step("pony", "1s! hop, &o! step, 2s! step", "A small spring aside and two quick steps."),
    _step("basic", "1s! side, &o! close, 2s! side, 3o! side, &s! close, 4o! side, 5s! rock back, 6o! recover",
          "Six counts: a triple to one side, one to the other, and a rock behind.", "six count basic",
          style=Style.SWING),
    _step("basic", "1s! double, 2o! rock, &s! step", "A double step and a rock step.", style=Style.CLOGGING),
    _step("double step", "1s double toe, &s! step",
          "Brush out and back on the toe, then step.", "double", style=Style.CLOGGING),
    _step("fancy double", "1s! double, 2o! double, 3s! rock, &o! step, 4s! rock, &o! step",
          "Two double steps and two rock steps.", style=Style.CLOGGING),
    _step("vine of six", "1s! side, 2o! behind, 3s! side, 4o! cross, 5s! side, 6o touch",
          "A longer vine, with a touch."),
    _step("vine of eight", "1s! side, 2o! behind, 3s! side, 4o! cross, 5s! side, 6o! behind, 7s! side, 8o touch",
          "A vine over a whole eight, with a touch."),
    _step("pas de chat", "1s! spring, &o! close", "A spring aside, both knees drawn up in turn.", style=Style.BALLET),
    _step("assemblé", "1s brush, 2b! land", "One leg is thrown out, both feet land together.", "assemble"),
    _step("échappé", "1b! out, 2b! in", "Both feet spring apart, and together.", "echappe"),
    _step("changement", "1b! change", "A jump in which the feet change places."),
    _step("soutenu", "1s! close, 2b! turn >8", "The feet close crossed and turn once round.", "soutenu turn"),
    _step("piqué turn", "1s! turn >8", "Step onto a straight leg and turn once round.", "pique turn"),
    _step("tombé", "1s! fall", "A fall onto a bent leg.", "tombe"),
    _step("temps levé", "1- hop", "A hop, the other foot held where it was.", "temps leve"),
    _step("pas de basque", "1s! side, &o! front, 2s! close", "Round to the side, across in front, together."),
    _step("grand jeté", "1s! leap", "A wide leap from foot to foot, the legs split in the air.", "grand jete"),
    _step("fouetté", "", "The body turns away from a leg that stays; its counts are the dance's own.", "fouette"),
    _step("développé", "", "The foot is drawn up the leg and unfolds; its counts are the dance's own.", "developpe"),
    _step("attitude", "", "Standing on one leg, the other lifted and bent; its counts are the dance's own."),
    _step("jazz walk", "1s! walk", "A walk, toe first, on bent knees."),
    _step("fan kick", "1s fan, 2s! close", "The straight leg circles before the body, and closes."),
    _step("pas de bourrée turn", "1s! behind >2, &o! side >4, 2s! front >2", "Behind, side, front, once round."),
    _step("pencil turn", "1s! turn >8", "Once round, the free leg long beside the other."),
    _step("shuffle ball change", "1s brush, &s back, 2s! ball, &o! change",
          "A shuffle, then a ball change.", style=Style.TAP),
    _step("paddle and roll", "1s heel, es back, &s! toe, as! heel", "Heel, back brush, toe, heel: four even sounds.",
          "paradiddle", style=Style.TAP),
    _step("scuffle", "1s scuff, &s back", "A scuff forwards and a brush back.", style=Style.TAP),
    _step("chug", "1- chug", "The feet slide forward a little, flat, with a sound.", style=Style.TAP),
    _step("time step", "", "A pattern that sets the time; each school has its own.", style=Style.TAP),
    _step("body roll", "", "A wave through the spine, from head to hips or upwards; as long as is asked for."),
    _step("hip roll", "", "The hips draw a circle; as long as is asked for.", "hip circle"),
    _step("pirouette", "", "One or more turns on one leg, the other drawn up; its counts are the dance's own."),
    _step("arabesque", "", "Standing on one leg, the other stretched behind; its counts are the dance's own."),
    _step("contraction", "", "The front of the body hollows, the back rounds; its counts are the dance's own."),
    _step("isolation", "", "One part of the body moves alone; its counts are the dance's own."),
    _step("port de bras", "", "The arms go through their positions; its counts are the dance's own."),
)  # fmt: skip


def look_up(name: str, style: Style | None = None, own: Sequence[Step] = ()) -> Step | None:
    """The step of that name or alias (case does not matter): the student's own first, then as the style has it."""
    wanted = name.casefold()
    for step in sorted((*own, *DICTIONARY), key=lambda s: (s not in own, s.style is not style)):
        usable = step in own or step.style in (None, style)
        if usable and wanted in (step.name.casefold(), *(a.casefold() for a in step.aliases)):
            return step
    return None


def near(name: str, own: Sequence[Step] = ()) -> tuple[str, ...]:
    """Names that are spelled much like it, likeliest first."""
    names = {n.casefold(): n for s in (*own, *DICTIONARY) for n in (s.name, *s.aliases)}
    return tuple(names[n] for n in get_close_matches(name.casefold(), names, 3, 0.7))
