"""Where a function of one variable is zero. Small and without dependencies: part cards need it at every
start.
"""

from __future__ import annotations

from collections.abc import Callable


def root(function: Callable[[float], float], low: float, high: float, *, share: float = 1e-12) -> float:
    """The zero between `low` and `high`, to a share of the interval, by false position that halves what does
    not move.

    Source: the Illinois variant of false position, with bisection where three tries have not halved
        the interval.

    Raises:
        ValueError: the function has the same sign at both ends.

    >>> round(root(lambda x: x * x - 2.0, 0.0, 2.0), 9)
    1.414213562
    """
    f_low, f_high = function(low), function(high)
    if f_low == 0.0 or f_high == 0.0:
        return low if f_low == 0.0 else high
    if (f_low > 0.0) == (f_high > 0.0):
        raise ValueError("The function does not change its sign between the two ends.")
    exact, wide, side = share * abs(high - low), abs(high - low), 0
    for tried in range(200):
        x = (low * f_high - high * f_low) / (f_high - f_low)
        if tried % 3 == 2:
            if abs(high - low) > 0.5 * wide:
                x = 0.5 * (low + high)
            wide = abs(high - low)
        f = function(x)
        if f == 0.0 or abs(high - low) <= exact:
            return x
        if (f > 0.0) == (f_high > 0.0):
            high, f_high = x, f
            f_low *= 0.5 if side == 1 else 1.0
            side = 1
        else:
            low, f_low = x, f
            f_high *= 0.5 if side == -1 else 1.0
            side = -1
    return 0.5 * (low + high)
