"""What every switch is judged by: the load's current through it, steady and at first, its heat, and its heat
in a pulse.

Each takes plain numbers, so that a switch's own file stays the place where its formulas are.
"""

from __future__ import annotations

import math

from ..quantity import show
from .contract import Demand, View
from .findings import Remedy, Verdict, Working, judge

BODY_CONDUCTS = 0.5  # a body diode passes nothing that matters below this [V]
SETTLED = 1.0  # a small part's junction has come to its steady temperature after this [s], assumed


def pulse_resistance(r_th: float, seconds: float) -> float:
    """Thermal resistance of a short pulse [K/W]: heat goes into the chip and its body as the root of time,
    assumed up to 1 s.
    """
    return r_th * min(1.0, math.sqrt(seconds / SETTLED))


def pulse_heat(
    view: View, *, watts: float, seconds: float, steady: float, r_th: float
) -> tuple[float, float]:
    """A pulse's thermal resistance [K/W] and the junction's temperature at its end, on top of the steady heat
    [°C].
    """
    z = pulse_resistance(r_th, seconds)
    return z, view.hot + steady * r_th + watts * z


def load_current(
    demand: Demand, view: View, limit: float, limit_words: str, peak: float, peak_words: str
) -> list[Verdict]:
    """The load's current at the high supply, steady and at the first moment, against what the switch may
    carry.
    """
    nominal, worst = view.high / demand.typical, view.high / demand.cold
    found = [
        judge(
            "switch_current",
            "drive",
            "Switch current",
            nominal=nominal,
            worst=worst,
            limit=limit,
            unit="A",
            sense="at most",
            corner="supply high, load cold",
            sentence=f"{show(worst, 'A')} of {show(limit, 'A')} {limit_words}.",
            working=Working(
                formula="I = V_{high} / R_{cold}",
                substituted=f"= {view.high:.3g} / {show(demand.cold, 'Ω')} = {show(worst, 'A')}",
                reason="The full supply and the cold load draw the most.",
            ),
            remedy=Remedy(text="Take a switch for more current."),
        )
    ]
    if demand.surge > 0:
        found.append(
            judge(
                "surge",
                "drive",
                "Inrush through the switch",
                nominal=demand.surge,
                worst=demand.surge,
                limit=peak,
                unit="A",
                sense="at most",
                corner="supply high, load cold",
                sentence=f"{show(demand.surge, 'A')} at the first moment, of {show(peak, 'A')}.",
                working=Working(
                    formula="I = V_{high} / R_{cold}",
                    substituted=f"{demand.surge_words}: {show(demand.surge, 'A')} ≤ {show(peak, 'A')}",
                    reason=f"It lasts about {show(demand.surge_time, 's', 1)}. {peak_words}",
                ),
                remedy=Remedy(text="Take a switch for more current, or let the load come up gently."),
            )
        )
    return found


def heat_verdicts(
    view: View,
    *,
    nominal: float,
    worst: float,
    r_th: float,
    t_max: float,
    power: float,
    how: str,
    numbers: str,
) -> list[Verdict]:
    """Dissipation against what the surroundings leave of the rating, and the junction's temperature."""
    allowed = min(power, (t_max - view.hot) / r_th)
    t_nominal, t_worst = view.hot + nominal * r_th, view.hot + worst * r_th
    enough = (t_max - view.hot) / worst if worst > 0 else math.inf
    fix = Remedy(
        text=(
            "Take a part with less drop or a bigger body, or a heatsink: junction to air under "
            f"{enough:.2g} K/W in all."
        )
    )
    return [
        judge(
            "heat",
            "drive",
            "Heat in the switch",
            nominal=nominal,
            worst=worst,
            limit=allowed,
            unit="W",
            sense="at most",
            corner=f"supply high, {show(view.hot, '°C')} around it",
            sentence=(
                f"{show(worst, 'W')} of {show(allowed, 'W')} at {show(view.hot, '°C')}: "
                f"{'no heatsink needed' if worst <= allowed else 'needs a heatsink'}."
            ),
            working=Working(
                formula=how,
                substituted=numbers,
                reason="What is left of the rating when the surroundings are hot: (T_{max} − T_{a}) / R_{θ}.",
            ),
            remedy=fix,
        ),
        judge(
            "junction",
            "drive",
            "Junction temperature",
            nominal=t_nominal,
            worst=t_worst,
            limit=t_max,
            unit="°C",
            sense="at most",
            corner=f"supply high, {show(view.hot, '°C')} around it",
            sentence=f"{show(t_worst, '°C')} of {show(t_max, '°C')}.",
            working=Working(
                formula="T_{j} = T_{a} + P · R_{θ}",
                substituted=f"= {view.hot:.3g} + {show(worst, 'W')} · {r_th:g} = {show(t_worst, '°C')}",
                reason="Steady current; no heatsink counted.",
            ),
            remedy=fix,
        ),
    ]


def edge_verdict(
    view: View, demand: Demand, *, seconds: float, steady: float, r_th: float, t_max: float
) -> list[Verdict]:
    """The junction's temperature at the end of one slow edge: V·I/6 on average while a resistive load comes
    on.
    """
    if seconds <= 0:
        return []
    amps = view.high / demand.cold
    watts = view.high * amps / 6
    z, t = pulse_heat(view, watts=watts, seconds=seconds, steady=steady, r_th=r_th)
    return [
        judge(
            "edge",
            "drive",
            "Heat of a slow edge",
            nominal=t,
            worst=t,
            limit=t_max,
            unit="°C",
            sense="at most",
            corner="supply high, the slowest edge",
            sentence=(
                f"Half on for {show(seconds, 's')} with {show(watts, 'W')}: {show(t, '°C')} of "
                f"{show(t_max, '°C')}."
            ),
            working=Working(
                formula="T_{j} = T_{a} + P·R_{θ} + V·I/6 · Z_{θ}(t)",
                substituted=(
                    f"{view.high:.3g} V · {show(amps, 'A')} / 6 = {show(watts, 'W')}, "
                    f"{show(watts * seconds, 'J')} in {show(seconds, 's')}; Z = {z:.3g} K/W"
                ),
                reason=(
                    "Between off and on it has volts across it and current through it at once: the linear "
                    "region. The pulse's thermal resistance is taken to grow as the root of time up to 1 s."
                ),
            ),
            remedy=Remedy(text="Lower the resistor that charges or empties the gate."),
        )
    ]


def surge_heat(
    view: View, demand: Demand, *, resistance: float, steady: float, r_th: float, t_max: float
) -> list[Verdict]:
    """The junction's temperature at the end of the load's inrush."""
    if demand.surge <= 0:
        return []
    watts = demand.surge**2 * resistance
    z, t = pulse_heat(view, watts=watts, seconds=demand.surge_time, steady=steady, r_th=r_th)
    return [
        judge(
            "surge_heat",
            "drive",
            "Heat of the inrush",
            nominal=t,
            worst=t,
            limit=t_max,
            unit="°C",
            sense="at most",
            corner="supply high, load cold",
            sentence=(
                f"{show(watts * demand.surge_time, 'J')} in {show(demand.surge_time, 's', 1)}: "
                f"{show(t, '°C')} of {show(t_max, '°C')}."
            ),
            working=Working(
                formula="T_{j} = T_{a} + P·R_{θ} + I_{surge}^2·R · Z_{θ}(t)",
                substituted=(
                    f"{show(demand.surge, 'A')}² · {show(resistance, 'Ω')} = {show(watts, 'W')}; Z = "
                    f"{z:.3g} K/W"
                ),
                reason=(
                    "The inrush is over before the body warms; the pulse's thermal resistance is taken to "
                    "grow as the root of time up to 1 s."
                ),
            ),
            remedy=Remedy(text="Take a switch with less on-resistance, or let the load come up gently."),
        )
    ]


def back_feed(view: View, demand: Demand) -> list[Verdict]:
    """Whether charge on the load's side finds its way back into the supply through the body diode."""
    if demand.capacitance <= 0:
        return []
    held = view.high if "back_feed" not in view.guarded else 0.0
    return [
        judge(
            "back_feed",
            "drive",
            "Charge stays with the load",
            nominal=held,
            worst=held,
            limit=BODY_CONDUCTS,
            unit="V",
            sense="at most",
            corner="supply gone, the load's capacitor full",
            sentence=f"{show(demand.capacitance, 'F')} at {show(held, 'V')} flow back through the body diode."
            if held
            else "A diode keeps it from flowing back.",
            working=Working(
                formula="V_{load} − V_{supply} ≤ V_{body}",
                substituted=f"= {show(held, 'V')} − 0 against {BODY_CONDUCTS:g} V",
                reason=(
                    "A P-MOSFET's body diode points from the load to the supply: off, it blocks one way only."
                ),
            ),
            remedy=Remedy(text="Add the back-feed guard: a diode after the switch."),
        )
    ]
