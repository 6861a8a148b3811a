"""Compare: two cleaned movements and a sheet become a comparison, stage by stage."""

from juxtakine.core.comparing.aligning.common_time import CommonTime
from juxtakine.core.comparing.aligning.laid import laid
from juxtakine.core.comparing.aligning.sides import UNSAID, KnownSides
from juxtakine.core.comparing.explaining.explained import explained
from juxtakine.core.comparing.explaining.measured import Measured, measured
from juxtakine.core.comparing.position.posed import posed
from juxtakine.core.comparing.results import Comparison
from juxtakine.core.comparing.timing.timed import timed
from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.movement.features import Features


def compare(
    reference: Features, take: Features, sheet: Sheet, reference_grid: Grid, common: CommonTime,
    sides: KnownSides = UNSAID,
) -> Comparison:  # fmt: skip
    """Everything told of a take beside one reference. Raises as `measure` does."""
    return explained(measure(reference, take, sheet, reference_grid, common, sides), sheet)


def measure(
    reference: Features, take: Features, sheet: Sheet, reference_grid: Grid, common: CommonTime,
    sides: KnownSides = UNSAID,
) -> Measured:  # fmt: skip
    """Each count by itself. Raises SheetError; CompareError where too little of a person is seen, or another dance."""
    on_the_counts = laid(reference, take, sheet, reference_grid, common, sides)
    return measured(posed(timed(on_the_counts)))
