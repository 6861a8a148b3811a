"""Count positions: exact fractions of counts from the routine's first 1 (which is 0).

A position is a `fractions.Fraction`, so that thirds and quarters meet exactly; it becomes a decimal
only in JSON, with six decimals, and comes back as the nearest fraction with a small denominator.
"""

from fractions import Fraction

LARGEST_DENOMINATOR = 48


def from_decimal(value: float) -> Fraction:
    """The nearest position with a denominator up to 48 (0.666667 -> 2/3)."""
    return Fraction(value).limit_denominator(LARGEST_DENOMINATOR)


def to_decimal(at: Fraction) -> float:
    """The position as JSON carries it: a number with six decimals."""
    return round(float(at), 6)
