"""A bipolar or MOSFET switch carrying its load: current, heat, slow edges, inrush."""

from __future__ import annotations

from collections.abc import Iterator

from ...cards.points import channel_volts
from ...quantity import show
from ..contract.facts import Demand, Switch
from ..contract.site import Site
from ..say.checks import Check, Shown
from .base_drive import BaseDrive
from .gate_drive import GateDrive, hot_resistance
from .supplied import settled
from .switching import Body, edge_pulse, heat_checks, load_current, surge_pulse

PULSE = 4.0  # a pulse of tens of milliseconds over the continuous current, assumed
WIDE = "the base's current is that of the load at its worst"
SLIGHT = "the supply's own drop lowers a gate that hangs on it"


def bipolar_load(
    site: Site,
    switch: Switch,
    demand: Demand,
    base: BaseDrive,
    drop: float = 0.0,
    heatsink: float | None = None,
    beside: float = 0.0,
) -> Iterator[Check]:
    """The load's current and heat in a saturated transistor with `drop` more across it than VCE(sat) [V];
    `beside` is what else its output feeds, which is left out [A].
    """
    card, volts, i_b = base.card, base.card.v_ce_sat + drop, base.taken()[1]
    watts = volts * base.collector + card.v_be_sat * i_b
    no_more = "A bipolar has no more to give: beyond this it leaves saturation."
    names, amps = base.names, settled(switch, demand, site.rail.high).amps
    heat = base.across(amps, base.usual) * amps + base.volts(i_b) * base.ordinary(base.usual)
    yield from load_current(
        switch,
        demand,
        card.current,
        "allowed",
        card.current,
        no_more,
        names.into("c", within=0.04, floor=1e-4 + beside),
    )
    yield from heat_checks(
        site,
        Body(card.r_th, card.t_j_max, card.power, heatsink),
        nominal=heat,
        worst=max(watts, heat),
        how="P = V_{CE,sat} · I_{C} + V_{BE} · I_{B}",
        numbers=(
            f"= {volts:.3g} · {show(base.collector, 'A')} + {card.v_be_sat:.3g} · {show(i_b, 'A')} = "
            f"{show(watts, 'W')}"
        ),
        pulses=(surge_pulse(switch, demand),),
        shown=Shown(f"p({names.switch})", names.on, within=0.1, floor=5e-4, because=WIDE),
    )


def mosfet_load(
    site: Site,
    switch: Switch,
    demand: Demand,
    gate: GateDrive,
    heatsink: float | None = None,
    sinks: bool = True,
    beside: float = 0.0,
) -> Iterator[Check]:
    """The load's current and heat in a MOSFET, steady, at a slow edge and in the inrush; `beside` is what
    else its output feeds, which is left out [A].
    """
    card, volts = gate.card, site.rail.high
    amps, r = demand.most(volts), gate.resistance(gate.worst)
    hot = hot_resistance(r)
    usual = settled(switch, demand, volts).amps
    heat = channel_volts(card, gate.usual, usual) * usual
    worst = max(amps**2 * hot, heat)
    names, assumed = gate.names, "Four times the continuous current is assumed for so short a pulse."
    yield from load_current(
        switch,
        demand,
        card.current_hot,
        "allowed hot",
        PULSE * card.current,
        assumed,
        names.into("d", within=0.04, floor=1e-4 + beside),
    )
    yield from heat_checks(
        site,
        Body(card.r_th, card.t_j_max, card.power, heatsink, sinks),
        nominal=heat,
        worst=worst,
        how="P = I^2 · R_{DS(on),hot}",
        numbers=f"= {show(amps, 'A')}² · {show(hot, 'Ω')} = {show(worst, 'W')}",
        pulses=(edge_pulse(site.rail, demand, gate.edge()), surge_pulse(switch, demand)),
        shown=Shown(f"p({names.switch})", names.on, within=0.05, floor=5e-4, because=SLIGHT),
    )
