"""What a load really gets: the rail less everything in line with it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ...roots import root
from ..contract.facts import Demand, Switch


@dataclass(frozen=True)
class Settled:
    """What an ordinary load has at a rail's voltage: its volts and its current [A]."""

    volts: float
    amps: float


@dataclass(frozen=True)
class Supplied:
    """Volts at the load: on the low supply with ordinary parts and at worst, and what is lost on the way; and
    on the high one with ordinary parts, and at most: nothing is lost in the switch itself [V].
    """

    low: float
    low_worst: float
    lost: float
    lost_worst: float
    high: float
    highest: float


def settled(switch: Switch, demand: Demand, volts: float) -> Settled:
    """An ordinary load behind its switch, the rail at `volts`: what it takes and what that loses agree."""
    rail, full = switch.rail, volts >= switch.rail.high

    def lost(amps: float) -> float:
        line = rail.resistance * amps + sum(loss.volts(amps) for loss in rail.losses)
        return line + switch.lost(amps, full)

    top = min(volts, switch.reaches)
    at_load = _agree(top, lambda u: lost(demand.amps(u)))
    return Settled(at_load, demand.amps(at_load))


def supplied(switch: Switch, demand: Demand) -> Supplied:
    """Volts at the load on the low supply: V_low − ripple/2 − R_supply·I − Σ losses(I)."""
    rail = switch.rail

    def worst(amps: float) -> float:
        line = rail.resistance * amps + sum(loss.worst(amps) for loss in rail.losses)
        return line + switch.lost_worst(amps)

    low = rail.low - rail.ripple / 2
    usual = settled(switch, demand, low).volts
    high = settled(switch, demand, rail.high).volts
    least = min(_agree(min(low, switch.reaches), lambda u: worst(demand.amps(u))), usual)
    behind = (*rail.losses, *switch.losses[1:])

    def least_lost(u: float) -> float:
        amps = demand.amps(u)
        return sum(max(2 * loss.at(amps, True) - loss.worst(amps), 0.0) for loss in behind)

    highest = max(_agree(min(rail.high, switch.reaches), least_lost), high)
    return Supplied(usual, least, rail.low - usual, rail.low - least, high, highest)


def _agree(top: float, lost: Callable[[float], float]) -> float:
    """The load's volts u of at most `top`, so that u and what is lost at u make `top`."""
    if top <= 0:
        return 0.0
    if top - lost(top) - top >= 0:
        return top
    return root(lambda u: top - lost(u) - u, 0.0, top) if top > lost(0.0) else 0.0
