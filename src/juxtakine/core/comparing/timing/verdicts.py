"""Whether a lag is told as ahead or behind, and how surely."""

from juxtakine.core.comparing.results import SURE, TimingVerdict

ON_MS = 50.0
"""A count is on within this and one and a half standard errors: it is said to be off where it surely is."""
UNSURE_PER_MS, OTHERWISE, LATE_STEEPNESS = 12.2, 1.65, 2.2
"""A lag beyond ON_MS by its standard error squared, times its misfit to the power OTHERWISE, over UNSURE_PER_MS is as
likely wrong as not, and the odds grow by the power STEEPNESS of how far it is beyond. What is badly known is wrong by
more than its standard error tells; and where much is left between the two movements at the lag that fits best, it was
another movement, and not the same one at another time. By maximum likelihood on the 1312 lags of 1380 tuning pairs that
are said to be off: misfit alone parts most of the 45 that are not."""


def timing_verdict(error_ms: float, se_ms: float) -> TimingVerdict:
    if abs(error_ms) <= ON_MS + 1.5 * se_ms:
        return TimingVerdict.ON
    return TimingVerdict.BEHIND if error_ms > 0 else TimingVerdict.AHEAD


def chance_off(error_ms: float, se_ms: float, misfit: float) -> float:
    """0 to 1, that a count which is told as ahead or behind truly is."""
    beyond, even_ms = abs(error_ms) - ON_MS, se_ms**2 * misfit**OTHERWISE / UNSURE_PER_MS
    return float(1 / (1 + (even_ms / beyond) ** LATE_STEEPNESS)) if beyond > 0 else 0.0


def doubtful(error_ms: float, se_ms: float, misfit: float) -> bool:
    """Whether a count would be told as ahead or behind, and more likely is not."""
    off = timing_verdict(error_ms, se_ms) is not TimingVerdict.ON
    return off and chance_off(error_ms, se_ms, misfit) < SURE
