"""What a load really gets: the rail less everything in line with it."""

from __future__ import annotations

from dataclasses import dataclass

from ..contract.facts import Demand, Switch


@dataclass(frozen=True)
class Supplied:
    """Volts at the load on the low supply, with ordinary parts and at worst, and what is lost on
    the way [V].
    """

    low: float
    low_worst: float
    lost: float
    lost_worst: float


def supplied(switch: Switch, demand: Demand) -> Supplied:
    """Volts at the load.

    V = V_low − ripple/2 − R_supply·I − Σ losses(I), with the current the load takes at the low rail: losses
    are small beside the rail, so one round is enough.
    """
    rail = switch.rail
    amps = demand.amps(rail.low)
    line = rail.ripple / 2 + rail.resistance * amps
    lost = line + sum(loss.volts(amps) for loss in rail.losses) + switch.lost(amps)
    worst = line + sum(loss.worst(amps) for loss in rail.losses) + switch.lost_worst(amps)
    return Supplied(rail.low - lost, rail.low - worst, lost, worst)
