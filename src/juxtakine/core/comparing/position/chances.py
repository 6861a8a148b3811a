"""How likely it is that what seems off is off: what a teacher lets pass, and the odds of a fault against an error of
the estimator's (docs/decisions/0014)."""

from juxtakine.core.comparing.results import SURE, PartResult
from juxtakine.core.movement.body import Part, kind_of

PASSES = {Part.HEAD: 12.0, Part.TORSO: 7.0, Part.LEVEL: 0.05, Part.SPREAD: 0.075, Part.FACING: 17.0}
"""What a teacher lets pass; limbs not named here: 12 degrees."""
LIMB_PASSES = 12.0
LET_PASS = 0.6
"""Of what a teacher lets pass: beyond so much of it an error counts against the estimator's, as few are just short of
it."""
EVEN_ODDS = {
    "arm": 2.35,
    "leg": 2.35,
    "upper-arm": 3.1,
    "forearm": 3.0,
    "head": 3.3,
    "torso": 2.5,
    "trunk": 1.8,
    "thigh": 2.9,
    "shin": 3.4,
    "level": 2.9,
    "hips": 1.0,
    "spread": 2.65,
    "facing": 2.9,
}
"""By how many standard errors beyond that a part is as likely at fault as not: more where errors are seldom but
large."""
PART_STEEPNESS = 5.6
"""The odds grow by this power of how far beyond it is: parts are wrong seldom, but then by much, so that above even
odds they grow ever more slowly, and below them fall ever quicker. By maximum likelihood, together with what is said
of a part that is off alone (`causes.ALONE`), on 3947 parts of 1860 tuning pairs that are further off than what passes,
and the even odds anew, and rounded up, on 2306 of 1000 pairs since what is carried along tells (of torso and trunk on
800 of them; legs that are off as one are too few, and taken to be as arms are; hips whose legs are bent for it, which
is on none of 400, are believed from one standard error on); one in seven was taken to be near a fault by chance. Spread
by 1250 tuning pairs and filmed ones since its standard error knows how deep the feet stand (docs/decisions/0022)."""
ROOTS = {"upper-arm": "arm", "thigh": "leg", "torso": "trunk", "level": "hips"}
"""What these are with what they carry: they are known better, and less is mistaken of both alike. (A body with its
head is as it is by itself.)"""


def passes(part: Part) -> float:
    """What a teacher lets pass, in the part's unit."""
    return PASSES.get(part, LIMB_PASSES)


def certainty(part: PartResult, of: Part) -> float:
    """0 to 1, the chance that a part is truly off, and no error of the estimator's: by how many standard errors it is
    off. Fitted on the tuning pairs, where gross errors are rare but there."""
    kind = kind_of(of)
    beyond = (abs(part.error or 0.0) - LET_PASS * passes(of)) / part.se
    if beyond <= 0:
        return 0.0
    even = EVEN_ODDS[ROOTS.get(kind, kind) if part.as_one else kind]
    return float(1 / (1 + (even / beyond) ** PART_STEEPNESS))


def is_told(part: PartResult, of: Part) -> bool:
    """What is likelier an error of the estimator's than the dancer's is no finding, nor is what only follows."""
    return part.beyond and part.follows is None and certainty(part, of) >= SURE
