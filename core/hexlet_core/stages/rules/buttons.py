"""What is tried with two buttons, one that begins and one that ends: the same for every such kind."""

from __future__ import annotations

from ..contract.scenes import Act, Play, Scene
from ..contract.site import Site
from .trigger import PRESS

FIRST = 0.1  # when the first press comes [s]


def scenes(site: Site, settled: float, *, cold: bool = False) -> tuple[Scene, ...]:
    """Off, on after a press and off after the other one's, each decided within some seconds."""
    on = Act(site.presser("on"), "active", FIRST, PRESS)
    off = Act(site.presser("off"), "active", FIRST + PRESS + settled, PRESS)
    later = FIRST + 2 * (PRESS + settled)
    return (
        Scene("idle", "off", (), look=FIRST if cold else None, cold=cold),
        Scene("active", "on after a press", (on,), look=later, cold=cold),
        Scene("taken_off", "off after a press", (on, off), look=later + settled, cold=cold),
    )


def plays(
    site: Site, settled: float, both: str = "Both pressed, off let go first", plugged: float | None = None
) -> tuple[Play, ...]:
    """One after the other, and both at once: the one that ends is let go first."""
    on, off = site.presser("on"), site.presser("off")
    t = settled + PRESS
    return (
        Play(
            "Press on, press off",
            2.5 * t,
            (Act(on, "active", 0.2 * t, PRESS), Act(off, "active", 1.4 * t, PRESS)),
            plugged,
        ),
        Play(both, 3 * t, (Act(off, "active", 0.2 * t, 0.8 * t), Act(on, "active", 0.6 * t, t)), plugged),
    )
