"""N-MOSFET as a low-side switch.

Choose it when the pin is weak or the load heavy: the gate takes current only while it changes.
`gate_drive` holds the
rules of its gate; drop and heat are I·R and I²·R with the hot on-resistance.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import FieldEffectCard, MosfetCard
from ..cards.derive import mosfet as mosfet_rule
from ..circuit.devices import Device, Mosfet, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .contract import Corner, Demand, Offer, Schedule, Switch, View
from .drawing import Pen
from .drive import Drive, draw_low_side
from .feed import from_low_side
from .findings import Verdict, Window, window
from .gate_drive import GateDrive, hot_resistance
from .switching import edge_verdict, heat_verdicts, load_current, surge_heat

PULSE = 4.0  # a pulse of tens of milliseconds over the continuous current, assumed


class NmosLowSide(Drive):
    title = "MOSFET"
    purpose = "An N-channel MOSFET pulls the load's lower end to 0 V."
    choose = "The pin is weak, the load draws more than some 100 mA, or the drop must be small."
    avoid = "The pin's level is below the gate voltage at which the on-resistance is promised."
    letters = {"series": "R", "pull": "R", "switch": "Q"}
    output = "drain"
    cards = {"card": MosfetCard}
    resistors = {"series": ("Gate resistor", "r_gate"), "pull": ("Gate pull-down", "r_pull")}
    fits = {"switch": "card"}
    controls = ("gate",)

    kind: Literal["nmos_low_side"] = "nmos_low_side"
    card: str = "nmos-55v-5a-logic"
    r_gate: Annotated[float, Q("Ω", 1.0, 1e8)] = 220.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 100e3
    on_within: Annotated[float, Q("s", 1e-8, 1.0)] = 20e-6

    @property
    def summary(self) -> str:
        return f"MOSFET, {show_part(self.r_gate)} Ω"

    def _gate(self, view: View, offer: Offer) -> GateDrive:
        card = self.card_of(view)
        assert isinstance(card, FieldEffectCard)
        return GateDrive(
            from_low_side(offer),
            card,
            self.r_gate,
            self.r_pull,
            view.high,
            view.hot,
            self.on_within,
            view.tolerance,
            view.refs["series"],
            view.refs.get("pull", "R_{pull}"),
            clamp=math.inf if view.gate_clamp is None else view.gate_clamp,
        )

    def switch(self, view: View) -> Switch:
        card = self.card_of(view)
        assert isinstance(card, FieldEffectCard)
        return mosfet_switch(view, card, self.output, self._gate(view, view.offer) if view.offer else None)

    def windows(self, view: View) -> tuple[Window, ...]:
        if view.offer is None or view.demand is None:
            return ()
        gate, stock = self._gate(view, view.offer), view.stock()
        return (
            window(
                view.path("r_gate"),
                gate.series_ref,
                "gate resistor",
                "Ω",
                self.r_gate,
                gate.series_bounds(),
                stock=stock,
            ),
            window(
                view.path("r_pull"),
                view.refs.get("pull", "R"),
                "gate pull-down",
                "Ω",
                self.r_pull,
                gate.pull_bounds(),
                stock=stock,
                removable=True,
            ),
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        if view.offer is None or view.demand is None:
            return ()
        gate = self._gate(view, view.offer)
        return (*gate.verdicts(), *mosfet_load(view, view.demand, gate))

    def heats(self, view: View) -> dict[str, float]:
        top = view.offer.high.high if view.offer else 0.0
        return {"pull": top**2 / self.r_pull} if self.r_pull else {}

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        tol = 1 + corner.resistors
        yield Resistor(
            name=view.refs["series"],
            a=view.nodes["in"],
            b="gate",
            resistance=self.r_gate * tol,
            tolerance=view.tolerance,
        )
        if self.r_pull is not None:
            yield Resistor(
                name=view.refs["pull"],
                a="gate",
                b="0",
                resistance=self.r_pull * tol,
                tolerance=view.tolerance,
            )
        yield channel(view, self.card_of(view), corner, "switch", "gate", view.nodes["out"], "0")

    def draw(self, pen: Pen, view: View) -> None:
        pull = ("pull", self.r_pull, "r_pull") if self.r_pull is not None else None
        draw_low_side(pen, view, "n_mosfet", ("g", "d", "s"), "gate", ("series", self.r_gate, "r_gate"), pull)


def channel(view: View, card: object, corner: Corner, local: str, g: str, d: str, s: str) -> Mosfet:
    """A MOSFET from its card at a corner."""
    assert isinstance(card, FieldEffectCard)
    return Mosfet(name=view.refs[local], g=g, d=d, s=s, **mosfet_rule(card, corner.celsius, corner.spread))


def mosfet_switch(view: View, card: FieldEffectCard, output: str, gate: GateDrive | None) -> Switch:
    """A MOSFET to the load and the guard: the drop of its on-resistance at the low supply, cold and hot."""
    drop = worst = r = 0.0
    if view.demand is not None and gate is not None:
        r = gate.resistance(gate.least)
        drop, worst = view.low / view.demand.typical * r, view.low / view.demand.typical * hot_resistance(r)
    return Switch(
        ref=view.refs["switch"],
        output=output,
        drop=drop,
        drop_worst=worst,
        breakdown=card.v_ds,
        capacitance=card.c_oss,
        avalanche_energy=card.avalanche_energy if card.avalanche_rated else 0.0,
        resistance=r,
        body_diode=True,
        control="gate",
        gate_max=card.v_gs_max,
    )


def mosfet_load(view: View, demand: Demand, gate: GateDrive) -> list[Verdict]:
    """The load's current and heat in a MOSFET, steady, at a slow edge and in the inrush."""
    card, amps, r = gate.card, view.high / demand.cold, gate.resistance(gate.worst)
    hot = hot_resistance(r)
    heat, worst = (view.high / demand.typical) ** 2 * r, amps**2 * hot
    return [
        *load_current(
            demand,
            view,
            card.current_hot,
            "allowed hot",
            PULSE * card.current,
            "Four times the continuous current is assumed for so short a pulse.",
        ),
        *heat_verdicts(
            view,
            nominal=heat,
            worst=worst,
            r_th=card.r_th,
            t_max=card.t_j_max,
            power=card.power,
            how="P = I^2 · R_{DS(on),hot}",
            numbers=f"= {show(amps, 'A')}² · {show(hot, 'Ω')} = {show(worst, 'W')}",
        ),
        *edge_verdict(view, demand, seconds=gate.edge(), steady=worst, r_th=card.r_th, t_max=card.t_j_max),
        *surge_heat(view, demand, resistance=hot, steady=worst, r_th=card.r_th, t_max=card.t_j_max),
    ]
