"""What a comparison says: plain values, the same in core, database, interface, command line and export.

Conventions: times in seconds of their own clip; errors in ms are positive when the student is behind; a limb's error
is negative when the student's is lower (upper arm, thigh) or less bent (forearm, shin); sides are the student's own.
"""

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from juxtakine.core.counting.sheets import Layer, SheetCount
from juxtakine.core.movement.body import Part

SURE = 0.5
"""A finding is what is likelier true than not; of a hundred takes that are right 95 have none (docs/decisions/0014)."""
MEASURED = 0.9
"""Share of a phrase's scored counts that must be measured before it can be called clean."""


class TimingVerdict(StrEnum):
    AHEAD = "ahead"
    ON = "on"
    BEHIND = "behind"
    UNMEASURABLE = "unmeasurable"
    NOT_SEEN = "not-seen"
    FREE = "free"

    @property
    def measured(self) -> bool:
        return self in (TimingVerdict.AHEAD, TimingVerdict.ON, TimingVerdict.BEHIND)


class Untold(StrEnum):
    """Why nothing is told of when a count arrives: by the sheet, by the camera, or by the movement.

    Of a move, nothing may be seen to move (still), or too little to tell when it arrives (faint); it may not arrive
    within the time that is looked at (too far); somebody may be elsewhere, in another move; an & may only lead to or
    from the count beside it; or the stretch is danced at another pace than the counts.
    """

    FREE = "free"
    HOLD = "hold"
    GOES_ON = "goes-on"
    BEYOND_CLIP = "beyond-clip"
    NOT_SEEN = "not-seen"
    STILL = "still"
    FAINT = "faint"
    TOO_FAR = "too-far"
    ANOTHER_MOVE = "another-move"
    BETWEEN = "between"
    OTHER_PACE = "other-pace"


class PositionVerdict(StrEnum):
    HELD = "held"
    NEAR = "near"
    OFF = "off"
    NOT_SEEN = "not-seen"
    FREE = "free"


class Unit(StrEnum):
    DEGREES = "deg"
    MILLISECONDS = "ms"
    LEGS = "legs"
    RATIO = "ratio"


class FindingKind(StrEnum):
    EARLY = "early"
    LATE = "late"
    HURRIED = "hurried"
    DRAGGED = "dragged"
    LIMB = "limb"
    TORSO = "torso"
    HEAD = "head"
    LEVEL = "level"
    SPREAD = "spread"
    FACING = "facing"
    SLIP = "slip"
    DRIFT = "drift"
    LEFT_HOLD_EARLY = "left-hold-early"
    TURN = "turn"
    WRONG_SIDE = "wrong-side"
    MISSING = "missing"
    EXTRA = "extra"
    RANGE = "range"
    PACE = "pace"


class Way(StrEnum):
    """Which way a part is off. Of a limb low, high, out (away from the body's middle), in, bent or straight; of a step
    narrow or wide; of a body that does not turn as far, little or far."""

    LOW = "low"
    HIGH = "high"
    OUT = "out"
    IN = "in"
    BENT = "bent"
    STRAIGHT = "straight"
    NARROW = "narrow"
    WIDE = "wide"
    LEFT = "left"
    RIGHT = "right"
    UP = "up"
    DOWN = "down"
    LITTLE = "little"
    FAR = "far"


class PhraseKind(StrEnum):
    CLEAN = "clean"
    TIMING = "timing"
    DRIFT = "drift"
    SLIP = "slip"
    POSITION = "position"
    TURN = "turn"
    MEMORY = "memory"
    WRONG_SIDE = "wrong-side"
    UNCLEAR = "unclear"


class Method(StrEnum):
    """How the common time was found."""

    SOUND = "sound"
    MOVEMENT = "movement"
    MANUAL = "manual"


class Whose(StrEnum):
    """Whose movement or picture is the mirrored one."""

    TAKE = "take"
    REFERENCE = "reference"


@dataclass(frozen=True)
class Mirror:
    """Whether the movements are mirror images of each other; `used` is None where that could not be told. `turned` are
    those that were compared as their mirror images, so that left is the student's own."""

    used: bool | None
    turned: frozenset[Whose]
    certainty: float

    @property
    def whose(self) -> Whose | None:
        """Which of the two is the other's mirror image."""
        return next(iter(self.turned)) if len(self.turned) == 1 else None


@dataclass(frozen=True)
class Alignment:
    """`offset_s`: take time minus reference time of count 0; `tempo_ratio`: take tempo / reference tempo."""

    method: Method
    offset_s: float
    tempo_ratio: float
    certainty: float
    constant_lag_ms: float | None


@dataclass(frozen=True)
class Timing:
    """How late a count's move arrives, or `why` that is not told; and how late it starts, where that can be told."""

    verdict: TimingVerdict
    error_ms: float | None = None
    error_counts: float | None = None
    se_ms: float | None = None
    start_ms: float | None = None
    start_se_ms: float | None = None
    why: Untold | None = None


@dataclass(frozen=True)
class PartResult:
    """One part on one count; `se` is the standard error of `error` in its unit, known from the take's own noise.
    `meant`: where the instructor's segment points in the student's picture, x right, y down, in the segment's own
    near-longest length. `passing`: off only because its count comes late, or the next one early. `as_one`:
    told by what it carries as well, which is off alike. `rather`: the chance that it is this part that is off, and not,
    of a head and the body that may have turned it, the other one."""

    error: float | None
    unit: Unit
    seen: float
    verdict: PositionVerdict
    se: float
    tolerance: float
    way: Way | None = None
    follows: Part | None = None
    meant: tuple[float, float] | None = None
    passing: bool = False
    as_one: bool = False
    rather: float = 1.0

    @property
    def beyond(self) -> bool:
        """Further off than its tolerance."""
        return self.verdict in (PositionVerdict.NEAR, PositionVerdict.OFF)


@dataclass(frozen=True)
class Position:
    verdict: PositionVerdict
    held: float | None
    parts: dict[Part, PartResult]


@dataclass(frozen=True)
class Finding:
    """Something to be told: from one position to another, its size, and the chance that it is true. `counts`: the size
    in counts, where it is one of time on counts that are measured."""

    kind: FindingKind
    part: Part | None
    start: Fraction
    end: Fraction
    size: float
    unit: Unit | None
    certainty: float
    counts: float | None = None

    @property
    def sure(self) -> bool:
        return self.certainty >= SURE


@dataclass(frozen=True)
class CountResult:
    """`take_s`: when the count is in the take by the common time; `matched_s`: when the student arrives at it;
    `judged_s`: of which moment of the take the position is, which is where the student arrives if that is known."""

    count: SheetCount
    reference_s: float
    take_s: float
    matched_s: float | None
    judged_s: float
    timing: Timing
    position: Position
    findings: tuple[Finding, ...]
    moves: bool
    """Whether the reference moves into this count, so that its timing could be told."""
    within: tuple[Finding, ...] = ()
    """Findings for a stretch that began on an earlier count."""
    style: int = 0
    """Of which reference the style is that it is told by: 0 the one that the take is beside, 1 the first of the
    others."""

    @property
    def measured(self) -> bool:
        """Whether all that is scored of it could be told; where nothing moves, timing is not asked for."""
        return not self.untimed and self.position.verdict is not PositionVerdict.NOT_SEEN

    @property
    def untimed(self) -> bool:
        """Whether the reference arrives on it, and when the student does could not be told."""
        arrives = self.count.timed and self.moves and not self.count.goes_on
        return arrives and not self.timing.verdict.measured


@dataclass(frozen=True)
class PhraseResult:
    phrase: int
    timing_ms: float | None
    timing_spread_ms: float | None
    held: float | None
    need: float
    kind: PhraseKind
    start_at: Fraction
    findings: tuple[Finding, ...]
    measured: int
    scored: int
    begins_here: bool
    """Whether something that is sure began in this phrase, and not in one before it."""


@dataclass(frozen=True)
class Comparison:
    """`turned_deg`: by how much one camera would have to be turned to see as the other does, 0 to 180. `unlikeness`:
    what is then left between the two movements, about 0.1 for the same dance, over 1 for two different ones."""

    alignment: Alignment
    mirror: Mirror
    turned_deg: float
    unlikeness: float
    counts: tuple[CountResult, ...]
    phrases: tuple[PhraseResult, ...]
    redrill: tuple[int, ...]


LAYER_OF: dict[Part, Layer] = {
    Part.HEAD: Layer.HEAD,
    Part.TORSO: Layer.BODY,
    Part.LEVEL: Layer.BODY,
    Part.FACING: Layer.BODY,
    Part.SPREAD: Layer.FEET,
    **{p: Layer.ARMS for p in Part if p.endswith("arm")},
    **{p: Layer.FEET for p in Part if p.endswith(("thigh", "shin"))},
}
