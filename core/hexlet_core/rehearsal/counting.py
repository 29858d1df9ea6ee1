"""Timing by hand: how often a time is to be taken until it is known well enough.

A finger is late or early by up to `REACTION` at each end, any of it as likely: two ends have a standard
deviation of √(2/3)·REACTION. The mean of n runs is within 1.96 of that over √n, nineteen times in twenty. Who
counts aloud is off by his pace as well, and no number of runs takes that out.
"""

from __future__ import annotations

import math

from ..fields import Document
from ..quantity import show

REACTION = 0.2  # a finger's error at either end, at the most [s]
SURE = 1.96  # standard deviations, for nineteen in twenty
PACE = 0.05  # how far one who counts aloud is off his pace, after some practice
WITHIN = (0.1, 0.05, 0.02, 0.01)  # of a time
MANY = 30  # runs that nobody takes


class Taking(Document):
    """How a time is taken so that it is known within a share of itself: by a stop watch, and aloud."""

    within: float
    watch: str
    aloud: str


def runs(seconds: float, within: float) -> int:
    """How many runs a time needs [s] to be known within a share of it."""
    one = SURE * math.sqrt(2 / 3) * REACTION
    return max(1, math.ceil((one / (within * seconds)) ** 2))


def rounds(seconds: float, within: float) -> int:
    """How many rounds of what repeats are taken at once, to be known within a share from one run."""
    one = SURE * math.sqrt(2 / 3) * REACTION
    return max(1, math.ceil(one / (within * seconds)))


def counting(seconds: float, repeats: bool) -> tuple[Taking, ...]:
    """How to take a time [s]; of what `repeats`, several rounds at once."""

    def told(within: float) -> str:
        if repeats:
            count = rounds(seconds, within)
            return f"{count} rounds at once" if count > 1 else "one round"
        count = runs(seconds, within)
        if count > MANY:
            return f"{count} runs: not by hand"
        return "one run" if count == 1 else f"the mean of {count} runs"

    return tuple(
        Taking(
            within=within,
            watch=told(within),
            aloud=told(within - PACE)
            if within > PACE
            else f"not aloud: a pace is {show(100 * PACE, '%')} off",
        )
        for within in WITHIN
    )
