"""Whether a load is on: whose current tells, and how much of it counts."""

from __future__ import annotations

from ..design.study import Study


def load_of(here: Study, channel: int) -> str:
    """The load of a channel, the first for none."""
    loads = here.design.of_role("load")
    return loads[min(max(channel, 1), len(loads)) - 1]


def load_signal(here: Study, load: str) -> str:
    """The current that tells, in the circuit's own names."""
    watch = next(w for b, w in here.watches if b == load and w.unit == "A")
    return here.signal(load, watch.signal)


def half_amps(here: Study, load: str, volts: float) -> float:
    """Half of what it usually takes at a supply: on from there [A]."""
    demand = here.flow.stage(load).takes(here.flow.sites[load])  # type: ignore[attr-defined]
    return 0.5 * float(demand.amps(volts))
