"""Whether a lag is told as ahead or behind, and how surely."""

from scipy.stats import norm

from juxtakine.core.comparing.results import TimingVerdict

ON_MS, BEYOND = 50.0, 0.8
"""A count is on within this and so many standard errors: it is said to be off where it surely is."""


def timing_verdict(error_ms: float, se_ms: float) -> TimingVerdict:
    if abs(error_ms) <= ON_MS + BEYOND * se_ms:
        return TimingVerdict.ON
    return TimingVerdict.BEHIND if error_ms > 0 else TimingVerdict.AHEAD


def chance_off(error_ms: float, se_ms: float) -> float:
    """0 to 1, that a count is ahead or behind by more than ON_MS, on the side that is told."""
    return float(norm.cdf((abs(error_ms) - ON_MS) / se_ms))
