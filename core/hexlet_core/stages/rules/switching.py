"""What every switch is judged by: the load's current through it, steady and at first, its heat, and its heat
in a pulse.

Each takes plain numbers, so that a switch's own file stays the place where its formulas are.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from ...quantity import show
from ..contract.facts import Demand, Switch
from ..contract.site import Site
from ..say.checks import Check, Shown, check, high, holds, when
from .supplied import settled

BODY_CONDUCTS = 0.5  # a body diode passes nothing that matters below this [V]
SETTLED = 1.0  # a small part's junction has come to its steady temperature after this [s], assumed


def pulse_resistance(r_th: float, seconds: float) -> float:
    """Thermal resistance of a short pulse [K/W]: heat goes into the chip and its body as the root of time,
    assumed up to 1 s.
    """
    return r_th * min(1.0, math.sqrt(seconds / SETTLED))


def pulse_heat(
    hot: float, *, watts: float, seconds: float, steady: float, r_th: float
) -> tuple[float, float]:
    """A pulse's thermal resistance [K/W] and the junction's temperature at its end, on top of the steady heat
    [°C].
    """
    z = pulse_resistance(r_th, seconds)
    return z, hot + steady * r_th + watts * z


def load_current(
    switch: Switch,
    demand: Demand,
    limit: float,
    limit_words: str,
    peak: float,
    peak_words: str,
    shown: Shown | None = None,
) -> Iterator[Check]:
    """The load's current at the high supply, steady and at the first moment, against what the switch may
    carry.
    """
    rail = switch.rail
    worst = demand.most(rail.high)
    yield check(
        "switch_current",
        "Switch current",
        "limit",
        "current",
        unit="A",
        nominal=settled(switch, demand, rail.high).amps,
        worst=worst,
        most=limit,
        at=high("load cold"),
        says=f"{show(worst, 'A')} of {show(limit, 'A')} {limit_words}.",
        formula="I = V_{high} / R_{cold}",
        numbers=f"= {rail.high:.3g} / {show(rail.high / worst, 'Ω')} = {show(worst, 'A')}",
        because="The full supply and the cold load draw the most.",
        cure="Take a switch for more current.",
        shown=shown,
    )
    surge = demand.surge(rail)
    if demand.inrush is not None:
        yield check(
            "surge",
            "Inrush through the switch",
            "limit",
            "surge",
            unit="A",
            nominal=surge,
            most=peak,
            at=high("load cold"),
            says=f"{show(surge, 'A')} at the first moment, of {show(peak, 'A')}.",
            formula="I = V_{high} / R_{cold}",
            numbers=f"through {demand.inrush.words}: {show(surge, 'A')} ≤ {show(peak, 'A')}",
            because=f"It lasts about {show(demand.brief(rail), 's', 1)}. {peak_words}",
            cure="Take a switch for more current, or let the load come up gently.",
        )


def heat_checks(
    site: Site,
    *,
    nominal: float,
    worst: float,
    r_th: float,
    t_max: float,
    power: float,
    how: str,
    numbers: str,
    shown: Shown | None = None,
) -> Iterator[Check]:
    """Dissipation against what the surroundings leave of the rating, and the junction's temperature."""
    hot = site.hot
    allowed = min(power, (t_max - hot) / r_th)
    t_worst = hot + worst * r_th
    enough = (t_max - hot) / worst if worst > 0 else math.inf
    cure = (
        f"Take a part with less drop or a bigger body, or a heatsink: junction to air under {enough:.2g} K/W "
        "in all."
    )
    corner = high(f"{show(hot, '°C')} around it")
    sink = "no heatsink needed" if worst <= allowed else "needs a heatsink"
    yield check(
        "heat",
        "Heat in the switch",
        "limit",
        "heat",
        unit="W",
        nominal=nominal,
        worst=worst,
        most=allowed,
        at=corner,
        says=f"{show(worst, 'W')} of {show(allowed, 'W')} at {show(hot, '°C')}: {sink}.",
        formula=how,
        numbers=numbers,
        because="What is left of the rating when the surroundings are hot: (T_{max} − T_{a}) / R_{θ}.",
        cure=cure,
        shown=shown,
    )
    yield check(
        "junction",
        "Junction temperature",
        "limit",
        "heat",
        unit="°C",
        nominal=hot + nominal * r_th,
        worst=t_worst,
        most=t_max,
        at=corner,
        says=f"{show(t_worst, '°C')} of {show(t_max, '°C')}.",
        formula="T_{j} = T_{a} + P · R_{θ}",
        numbers=f"= {hot:.3g} + {show(worst, 'W')} · {r_th:g} = {show(t_worst, '°C')}",
        because="Steady current; no heatsink counted.",
        cure=cure,
    )


def edge_check(
    site: Site, demand: Demand, *, seconds: float, steady: float, r_th: float, t_max: float
) -> Iterator[Check]:
    """The junction's temperature at the end of one slow edge: V·I/6 on average while a resistive load comes
    on.
    """
    if seconds <= 0:
        return
    volts = site.rail.high
    amps = demand.most(volts)
    watts = volts * amps / 6
    z, t = pulse_heat(site.hot, watts=watts, seconds=seconds, steady=steady, r_th=r_th)
    yield check(
        "edge",
        "Heat of a slow edge",
        "limit",
        "heat",
        unit="°C",
        nominal=t,
        most=t_max,
        at=high("the slowest edge"),
        says=(
            f"Half on for {show(seconds, 's')} with {show(watts, 'W')}: {show(t, '°C')} of "
            f"{show(t_max, '°C')}."
        ),
        formula="T_{j} = T_{a} + P·R_{θ} + V·I/6 · Z_{θ}(t)",
        numbers=(
            f"{volts:.3g} V · {show(amps, 'A')} / 6 = {show(watts, 'W')}, {show(watts * seconds, 'J')} in "
            f"{show(seconds, 's')}; Z = {z:.3g} K/W"
        ),
        because=(
            "Between off and on it has volts across it and current through it at once: the linear region. "
            "The pulse's thermal resistance is taken to grow as the root of time up to 1 s."
        ),
        cure="Lower the resistor that charges or empties the gate.",
    )


def surge_heat(
    site: Site, demand: Demand, *, resistance: float, steady: float, r_th: float, t_max: float
) -> Iterator[Check]:
    """The junction's temperature at the end of the load's inrush."""
    surge = demand.surge(site.rail)
    if surge <= 0:
        return
    watts, seconds = surge**2 * resistance, demand.brief(site.rail)
    z, t = pulse_heat(site.hot, watts=watts, seconds=seconds, steady=steady, r_th=r_th)
    energy = show(watts * seconds, "J")
    yield check(
        "surge_heat",
        "Heat of the inrush",
        "limit",
        "heat",
        unit="°C",
        nominal=t,
        most=t_max,
        at=high("load cold"),
        says=f"{energy} in {show(seconds, 's', 1)}: {show(t, '°C')} of {show(t_max, '°C')}.",
        formula="T_{j} = T_{a} + P·R_{θ} + I_{surge}^2·R · Z_{θ}(t)",
        numbers=f"{show(surge, 'A')}² · {show(resistance, 'Ω')} = {show(watts, 'W')}; Z = {z:.3g} K/W",
        because=(
            "The inrush is over before the body warms; the pulse's thermal resistance is taken to grow as "
            "the root of time up to 1 s."
        ),
        cure="Take a switch with less on-resistance, or let the load come up gently.",
    )


def back_feed(site: Site, demand: Demand) -> Iterator[Check]:
    """Whether charge on the load's side finds its way back into the supply."""
    if demand.farads <= 0:
        return
    volts = 0.0 if demand.held else site.rail.high
    yield check(
        "back_feed",
        "Charge stays with the load",
        "practice",
        "place",
        unit="V",
        nominal=volts,
        most=BODY_CONDUCTS,
        at=when("supply gone, the load's capacitor full"),
        says=(
            "A diode keeps it from flowing back."
            if demand.held
            else f"{show(demand.farads, 'F')} at {show(volts, 'V')} flow back through the body diode."
        ),
        formula="V_{load} − V_{supply} ≤ V_{body}",
        numbers=f"= {show(volts, 'V')} − 0 against {BODY_CONDUCTS:g} V",
        because="A P-MOSFET's body diode points from the load to the supply: off, it blocks one way only.",
        cure="Add the back-feed guard: a diode after the switch.",
    )


def direct_only(site: Site) -> Iterator[Check]:
    """A transistor switches one way only."""
    if site.rail.ac:
        yield holds(
            "supply_kind",
            "Supply is direct current",
            "need",
            "place",
            False,
            at=when("kind of supply"),
            says="A transistor switches one way only; this supply turns round every half wave.",
            formula="drive ↔ supply",
            numbers="transformer",
            because=(
                "On alternating current the body diode or the base junction conducts every second half wave."
            ),
            cure="Take the bridge with one MOSFET, or a supply of direct current.",
        )
