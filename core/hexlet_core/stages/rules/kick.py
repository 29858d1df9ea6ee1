"""What a winding does when its switch opens: how high it lifts the switch, and how long its current lasts.

L·di/dt + R·i + V = 0 against a path that holds V: t = (L/R)·ln((I·R + V)/(I_drop·R + V)). Without a path the
current charges what capacitance there is, I·√(L/C), or breaks the switch down.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from ...quantity import show
from ..contract.facts import Demand, Rail, Switch
from ..say.checks import HIGH, Check, Shown, check, high

REPEATED = 0.1  # share of its rated single avalanche that a switch takes again and again, assumed


def lasts(supply: float, ohms: float, demand: Demand, volts: float) -> float:
    """From the switch opening until the load lets go [s]; `volts` is what the path drops, inf for none."""
    winding = demand.winding
    assert winding is not None
    start, end = supply, winding.drop_out * ohms
    if start <= end:
        return winding.travel
    decay = 0.0 if math.isinf(volts) else winding.henries / ohms * math.log((start + volts) / (end + volts))
    return decay + winding.travel


def peak_check(switch: Switch, rail: Rail, demand: Demand, net: str, opens: float = 0.0) -> Iterator[Check]:
    """How high the switch's output `net` is lifted when it opens, or what it must take in breakdown.

    `opens` is how long it takes until it is surely open [s].
    """
    winding = demand.winding
    if winding is None:
        yield stands(switch.ref, rail.high, switch.breakdown)
        return
    current = demand.most(rail.high)
    ohms, name = rail.high / current, f"{switch.output.capitalize()} voltage peak"
    shown: Shown | None = Shown(
        net if switch.side == "low" else f"v(plus,{net})",
        "ended" if switch.active else "begun",
        "highest",
        look=3 * winding.henries / ohms + opens,
        within=0.05,
        because="what lies in line with the coil lowers its current a little",
    )
    if switch.eases(demand):
        shown = None  # some of its current has died away before
    if demand.branches and demand.farads:
        shown = None  # the other load's capacitor takes the kick
    if demand.kick is not None:
        typical = rail.high / demand.amps(rail.high)
        nominal = rail.high + demand.kick.volts(rail.high / typical, typical, winding.henries)
        worst = rail.high + demand.kick.worst(current, ohms, winding.henries)
        yield check(
            "peak",
            name,
            "limit",
            "peak",
            unit="V",
            nominal=nominal,
            worst=worst,
            most=switch.breakdown,
            facet="guard",
            at=high("clamp at its highest"),
            says=f"{show(worst, 'V')} of {show(switch.breakdown, 'V')}, held by the freewheel path.",
            formula="V_{peak} = V_{high} + V_{F} + V_{Z}",
            numbers=f"= {rail.high:.3g} + {worst - rail.high:.3g} = {show(worst, 'V')}",
            because=f"20 % under {switch.ref}'s breakdown is kept for what nobody counted.",
            cure="Use a lower zener, or a switch that stands more volts.",
            shown=shown if nominal < switch.breakdown else None,
        )
        return
    energy = 0.5 * winding.henries * current**2
    boost = switch.breakdown / max(switch.breakdown - rail.high, 1e-3)
    if switch.avalanche is not None:
        yield check(
            "peak",
            "Avalanche energy",
            "limit",
            "peak",
            unit="J",
            nominal=energy * boost,
            most=REPEATED * switch.avalanche,
            facet="guard",
            at=high("coil cold"),
            says=(
                f"{show(energy * boost, 'J')} into {switch.ref} each time; "
                f"{show(REPEATED * switch.avalanche, 'J')} are a tenth of what it takes once."
            ),
            formula="E = ½·L·I^2 · V_{B} / (V_{B} − V_{high})",
            numbers=(
                f"= ½ · {show(winding.henries, 'H')} · {show(current, 'A')}² · {boost:.3g} = "
                f"{show(energy * boost, 'J')}"
            ),
            because=(
                f"{switch.ref} is rated to break down at {show(switch.breakdown, 'V')} once with "
                f"{show(switch.avalanche, 'J')}; a tenth is taken for good. The supply adds to it."
            ),
            cure="Fit a diode across the coil.",
        )
        return
    free = rail.high + current * math.sqrt(winding.henries / (switch.capacitance + demand.across))
    yield check(
        "peak",
        name,
        "limit",
        "peak",
        unit="V",
        nominal=free,
        most=switch.breakdown,
        facet="guard",
        at=high("no freewheel path"),
        says=(
            f"Breaks {switch.ref} down at {show(switch.breakdown, 'V')}; {show(energy, 'J')} go into it each "
            "time."
        ),
        formula="V = V_{high} + I·√(L/C), E = ½·L·I^2",
        numbers=f"= {show(free, 'V')} if nothing broke down, {show(energy, 'J')}",
        because=("The coil's current has nowhere to go but through the switch, which is not rated for it."),
        cure="Fit a diode across the coil: band to the positive side.",
    )


def stands(ref: str, volts: float, breakdown: float, tag: str = "", who: str = "") -> Check:
    """Whether a switch that is off stands the supply."""
    return check(
        f"{tag}off_volts",
        f"{who}Stands the supply while off",
        "limit",
        "volts",
        unit="V",
        nominal=volts,
        most=breakdown,
        at=HIGH,
        says=f"{show(volts, 'V')} across {ref}, which stands {show(breakdown, 'V')}.",
        formula="V_{high} ≤ V_{breakdown}",
        numbers=f"{volts:.3g} ≤ {breakdown:.3g}",
        because="Off, a switch has the whole supply across it; beyond its limit it breaks down and conducts.",
        cure="Take a part that stands more volts.",
    )
