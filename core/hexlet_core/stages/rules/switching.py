"""What every switch is judged by: the load's current through it, steady and at first, its heat, and its heat
in a pulse.

Each takes plain numbers, so that a switch's own file stays the place where its formulas are.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from ...quantity import show
from ..contract.facts import Demand, Rail, Switch
from ..contract.site import Site
from ..contract.stage import Drive
from ..say.checks import Change, Check, Remedy, Shown, check, high, holds, when
from .supplied import settled

BACK = 0.1  # what may flow back into a rail without a thought, assumed [J]
CASE = 0.1  # share of a body's resistance to air that lies between junction and heatsink, assumed
SINKS = (1.0, 2.0, 3.0, 5.0, 8.0, 12.0, 18.0, 25.0, 40.0)  # heatsinks as they are sold [K/W]
LEAST_SINK = SINKS[0]
OUT_OF_CHIP = 0.1  # how long heat takes from a junction to its body's outside, assumed [s]


def pulse_resistance(r_th: float, seconds: float) -> float:
    """Thermal resistance of a short pulse [K/W]: heat spreads as the root of time, out of the chip after a
    tenth of a second and out of the body much later; both assumed.
    """
    return r_th * min(1.0, CASE * math.sqrt(seconds / OUT_OF_CHIP))


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
    surge = switch.surge(demand)
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
            formula="I = V_{high} / (R_{load,cold} + R_{in line})",
            numbers=f"through {demand.inrush.words}: {show(surge, 'A')} ≤ {show(peak, 'A')}",
            because=f"It lasts about {show(demand.brief(rail), 's', 1)}. {peak_words}",
            cure="Take a switch for more current, or let the load come up gently.",
        )


@dataclass(frozen=True)
class Body:
    """A switch's body: from its junction to air as it stands [K/W], its junction's most [°C], its rating
    [W]; `heatsink` is what is bolted to it [K/W].
    """

    r_th: float
    t_max: float
    power: float
    heatsink: float | None = None
    sinks: bool = True  # whether one can be bolted to it

    @property
    def in_all(self) -> float:
        """Junction to air [K/W]."""
        return self.r_th if self.heatsink is None else min(CASE * self.r_th + self.heatsink, self.r_th)

    def allowed(self, hot: float) -> float:
        """The heat it may have in hot surroundings [W]."""
        spare = (self.t_max - hot) / self.in_all
        return spare if self.heatsink is not None else min(self.power, spare)


@dataclass(frozen=True)
class Pulse:
    """Heat for a moment: in words, how much [W] for how long [s], and what makes it less."""

    words: str
    watts: float
    seconds: float
    cure: str
    edge: bool = False  # whether it comes each time the switch opens or closes

    def rises(self, body: Body) -> float:
        """How far it heats the junction [K]; a heatsink comes too late for it."""
        return self.watts * pulse_resistance(body.r_th, self.seconds)


def edge_pulse(rail: Rail, demand: Demand, seconds: float) -> Pulse:
    """A slow edge: V·I/6 on average while a resistive load comes on."""
    return Pulse(
        f"half on for {show(seconds, 's', 2)}",
        rail.high * demand.most(rail.high) / 6,
        seconds,
        "Lower the resistor that charges or empties the gate.",
        edge=True,
    )


def surge_pulse(switch: Switch, demand: Demand) -> Pulse | None:
    """The load's inrush through the switch's own drop."""
    amps = switch.surge(demand)
    if demand.inrush is None or amps <= 0:
        return None
    watts = switch.losses[0].at(amps, True) * amps
    seconds = demand.inrush.flows(switch.rail.high, amps)
    return Pulse("inrush", watts, seconds, "Let the load come up gently, or take a switch with less drop.")


def heat_checks(
    site: Site,
    body: Body,
    *,
    nominal: float,
    worst: float,
    how: str,
    numbers: str,
    pulses: Iterable[Pulse | None] = (),
    shown: Shown | None = None,
) -> Iterator[Check]:
    """Steady heat against what the surroundings leave of the rating; and the junction's temperature, steady
    heat and the longest pulse added.
    """
    real = [p for p in pulses if p is not None and p.seconds > 0]
    beat = site.stage.beat(site) if isinstance(site.stage, Drive) else None
    if beat is not None:
        edges = sum(2 * p.watts * p.seconds for p in real if p.edge) / beat.period
        nominal, worst, shown = nominal * beat.duty + edges, worst * beat.duty + edges, None
        how = f"P = share of the time · P_{{on}} + 2·E_{{edge}}·f; {how}"
        numbers = f"{numbers}; on for {beat.duty:.0%}, {show(edges, 'W')} at the edges"
    hot, allowed = site.hot, body.allowed(site.hot)
    cure = _cooler(site, body, worst)
    corner = high(f"{show(hot, '°C')} around it")
    fits = (
        "" if worst <= allowed else ": needs a heatsink" if body.heatsink is None else ": needs a bigger one"
    )
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
        says=f"{show(worst, 'W')} of {show(allowed, 'W')} at {show(hot, '°C')}{fits}.",
        formula=how,
        numbers=numbers,
        because="What is left of the rating when the surroundings are hot: (T_{max} − T_{a}) / R_{θ}.",
        cure=cure,
        shown=shown,
    )
    longest = max(real, key=lambda p: p.rises(body), default=None)
    brief = longest.rises(body) if longest is not None else 0.0
    steady, usual = worst * body.in_all, nominal * body.in_all
    top = hot + steady + brief
    counts = longest is not None and brief >= 1.0
    shares = [f"{show(hot, '°C')} around it", f"{steady:.0f} K steady"]
    if longest is not None and counts:
        shares.append(f"{brief:.0f} K {longest.words}")
    yield check(
        "junction",
        "Junction temperature",
        "limit",
        "temperature",
        unit="°C",
        nominal=hot + usual + brief,
        worst=top,
        most=body.t_max,
        at=corner,
        says=f"{' + '.join(shares)}: {show(top, '°C')} of {show(body.t_max, '°C')}.",
        formula="T_{j} = T_{a} + P·R_{θ} + P_{pulse}·Z_{θ}(t)",
        numbers=(
            f"R = {body.in_all:.3g} K/W"
            + (
                f"; {show(longest.watts, 'W')} for {show(longest.seconds, 's')}, "
                f"Z = {pulse_resistance(body.r_th, longest.seconds):.3g} K/W"
                if longest is not None and counts
                else ""
            )
        ),
        because=(
            "A pulse is over before the body warms: its thermal resistance is taken to grow as the root of "
            "time."
        ),
        cure=longest.cure if longest is not None and brief > steady else cure,
    )


def _cooler(site: Site, body: Body, watts: float) -> Remedy:
    """A heatsink that leaves a fifth of the temperature to spare, where one can; else another part."""
    room = 0.8 * body.t_max - site.hot
    most = room / watts - CASE * body.r_th if watts > 0 else math.inf
    if not body.sinks or most < LEAST_SINK:
        return Remedy(text="Take a part with less drop or a bigger body, or share the load between two.")
    sink = max(s for s in SINKS if s <= max(most, SINKS[0]))
    return Remedy(
        text=f"Bolt it to a heatsink of {sink:g} K/W",
        changes=(Change(path=site.path("heatsink"), value=sink),),
    )


def back_feed(site: Site, demand: Demand) -> Iterator[Check]:
    """Whether charge on the load's side finds its way back into the supply."""
    if demand.farads <= 0:
        return
    volts = 0.0 if demand.held else site.rail.high
    energy = demand.farads * volts**2 / 2
    yield check(
        "back_feed",
        "Charge stays with the load",
        "practice",
        "place",
        unit="J",
        nominal=energy,
        most=BACK,
        at=when("supply gone, the load's capacitor full"),
        says=(
            "A diode keeps it from flowing back."
            if demand.held
            else f"{show(demand.farads, 'F')} at {show(volts, 'V')} flow back through the body diode: "
            f"{show(energy, 'J')}."
        ),
        formula="E = C · V^2 / 2",
        numbers=f"= {show(demand.farads, 'F')} · {show(volts, 'V')}² / 2 = {show(energy, 'J')}",
        because=(
            "A P-MOSFET's body diode points from the load to the supply: off, it blocks one way only. A "
            f"module's own capacitor is harmless; {show(BACK, 'J')} drive whatever else hangs on the rail."
        ),
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
