"""What comes and goes by itself: its pace as a fact, the moments at which it is read, and how it is tried."""

from __future__ import annotations

import math

from ...quantity import show
from ..contract.facts import Beat
from ..contract.scenes import Scene

FOLLOWED = 0.8  # a meter follows what stays at least so long [s]
AVERAGED = 0.05  # and averages what comes and goes within this [s]
CYCLES = 12  # until it has found its pace
BRIEF, ENDLESS = 1e-9, 1e4  # what takes no time, or never ends, is taken to last so long [s]


def beating(on: float, off: float) -> Beat:
    """A pace: very slow where a part of it never ends, very fast where one takes no time."""
    return Beat(*(min(max(t, BRIEF), ENDLESS) for t in (on, off)))


def beats(first: float, on: float, off: float, awake: float = 0.0) -> tuple[Scene, ...]:
    """The moments of what begins with its first time on, from nothing charged, and goes on by itself.

    A meter follows a slow one in each state, and averages a fast one; in between it does neither. It has
    found its pace `awake` after the supply came on [s].
    """
    if not math.isfinite(first + on + off):
        return (Scene("active", "while it runs", look=1.0, cold=True),)
    on, off = max(on, BRIEF), max(off, BRIEF)
    period = on + off
    steady = Scene("steady", "while it runs", look=max(first, awake) + period, cold=True)
    if min(on, off) >= FOLLOWED:
        return (
            Scene("active", "while it is on", look=first / 2, cold=True),
            Scene("idle", "while it is off", look=first + off / 2, cold=True),
            steady,
        )
    if period <= AVERAGED:
        # From the middle of one time on to that of another: whole periods.
        look = first + (CYCLES + math.ceil(awake / period)) * period - on / 2
        return (Scene("active", "while it runs", look=look, cold=True, mean=4 * period), steady)
    return (steady,)


def follows(least: float, most: float) -> tuple[str, str]:
    """How it is tried for the first time, and what to expect."""
    if most < AVERAGED:
        return (
            "The load runs at once; a meter shows the mean.",
            f"{show(1 / most, 'Hz')} to {show(1 / least, 'Hz')}",
        )
    count = 10 if most < 10 else 3
    told = f"{show(count * least, 's', 2)} to {show(count * most, 's', 2)}"
    return (
        f"The load comes on at once, then goes and comes by itself. Time {count} of it.",
        f"{told} for {count}",
    )
