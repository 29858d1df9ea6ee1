"""Reverse polarity: a diode or a P-MOSFET in the rail blocks a supply that is connected the wrong
way round.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Any, Literal

from ...cards.card import DiodeCard, PMosfetCard
from ...quantity import show, show_part
from ..contract.facts import Loss, Rail
from ..contract.parts import Placed, from_card, resistor
from ..contract.site import Site
from ..contract.stage import InRail
from ..drawing.pen import Pen
from ..rules.gate_drive import hot_resistance, on_resistance
from ..say.checks import HIGH, LOW, Check, check, high, when
from ..say.wording import Say, Sentence, Word

WAYS = (("diode", "a diode in the rail"), ("pmos", "a P-MOSFET in the rail"))
R_GATE = 100e3  # from the gate to 0 V [Ω]
HOTTEST = 150.0  # a rail diode's junction, assumed [°C]


class ReverseGuard(InRail):
    title = "Battery reversed"
    purpose = "It blocks when the battery is connected the wrong way round."
    choose = "Clips or a plug that can be turned round."
    avoid = "The last tenth of a volt counts and the connector cannot be turned."
    picture = "diode"
    cards = {"diode": DiodeCard, "pmos": PMosfetCard}

    kind: Literal["reverse_guard"] = "reverse_guard"
    way: Literal["diode", "pmos"] = "diode"
    diode: str = "schottky-3a-40v"
    pmos: str = "pmos-55v-12a"

    @property
    def summary(self) -> str:
        return "Diode" if self.way == "diode" else "P-MOSFET"

    def make(self, site: Site) -> Iterable[Placed]:
        if self.way == "diode":
            yield from_card(site, "diode", "D", "diode", {"a": "before", "k": "plus"})
            return
        # Drain to the battery, source to the rail: the body diode starts it, the channel then carries it.
        yield from_card(site, "switch", "Q", "pmos", {"g": "gate", "d": "before", "s": "plus"})
        yield resistor(site, "gate", "Gate to 0 V", "", "gate", "zero", ohms=R_GATE)

    def _loss(self, site: Site) -> Loss:
        if self.way == "diode":
            return Loss.junction(site.card("diode", DiodeCard))
        r = on_resistance(site.card("pmos", PMosfetCard), site.rail.low)
        return Loss.ohms(hot_resistance(r))

    def through(self, port: str, fact: Any, site: Site) -> Any:
        if port == "out" and isinstance(fact, Rail):
            return replace(fact, losses=(*fact.losses, self._loss(site)))
        return fact

    def checks(self, site: Site) -> Iterator[Check]:
        amps = site.drawn().amps
        drop = self._loss(site).worst(max(amps, 1e-6))
        yield from (
            self._diode_checks(site, amps, drop)
            if self.way == "diode"
            else self._pmos_checks(site, amps, drop)
        )

    def _diode_checks(self, site: Site, amps: float, drop: float) -> Iterator[Check]:
        card, rail = site.card("diode", DiodeCard), site.rail
        yield check(
            "reverse_current",
            "Rail diode's current",
            "limit",
            "current",
            unit="A",
            nominal=amps,
            most=card.current,
            at=HIGH,
            says=f"{show(amps, 'A')} of {show(card.current, 'A')}.",
            formula="I ≤ I_{F}",
            numbers=f"{show(amps, 'A')} ≤ {show(card.current, 'A')}",
            because=(
                "All the load's current goes through it for as long as it runs: a small-signal diode is no "
                "rectifier."
            ),
            cure="Take a rectifier for more current.",
        )
        stands = 1.5 * rail.high
        yield check(
            "reverse_volts",
            "Rail diode blocks",
            "limit",
            "volts",
            unit="V",
            nominal=rail.high,
            worst=stands,
            most=card.reverse,
            at=when("battery reversed and full"),
            says=f"Wants {show(stands, 'V')}, rated {show(card.reverse, 'V')}.",
            formula="V_{R} ≥ 1.5 · V_{high}",
            numbers=f"= 1.5 · {rail.high:.3g}",
            because="Reversed, the whole battery stands across it.",
            cure="Take a diode for more reverse voltage.",
        )
        watts, allowed = amps * drop, (HOTTEST - site.hot) / card.r_th
        yield check(
            "reverse_heat",
            "Heat in the rail diode",
            "limit",
            "heat",
            unit="W",
            nominal=watts,
            most=allowed,
            at=high(show(site.hot, "°C")),
            says=f"{show(watts, 'W')} of {show(allowed, 'W')}, and {show(drop, 'V')} lost.",
            formula="P = V_{F} · I",
            numbers=f"= {drop:.3g} · {show(amps, 'A')}",
            because="A diode in the rail costs its drop for good.",
            cure="Take a Schottky, or a P-MOSFET.",
        )

    def _pmos_checks(self, site: Site, amps: float, drop: float) -> Iterator[Check]:
        pmos, rail = site.card("pmos", PMosfetCard), site.rail
        need = pmos.lowest_on.v_gs
        yield check(
            "reverse_gate",
            "Rail MOSFET's gate, highest",
            "limit",
            "level",
            unit="V",
            nominal=rail.high,
            most=pmos.v_gs_max,
            at=HIGH,
            says=f"{show(rail.high, 'V')} of {show(pmos.v_gs_max, 'V')} across the gate.",
            formula="V_{GS} = V_{high}",
            numbers=f"{rail.high:.3g} ≤ {pmos.v_gs_max:.3g}",
            because="Its gate sits at 0 V and its source at the rail.",
            cure="Take a MOSFET for more gate volts, or clamp its gate.",
        )
        yield check(
            "reverse_on",
            "Rail MOSFET fully on",
            "need",
            "turns on",
            unit="V",
            nominal=rail.low,
            least=need,
            at=LOW,
            says=f"Needs {show(need, 'V')}, gets {show(rail.low, 'V')}.",
            formula="V_{low} ≥ V_{GS,on}",
            numbers=f"{rail.low:.3g} ≥ {need:.3g}",
            because="A flat battery drives the gate with what it has.",
            cure="Take a MOSFET promised at a lower gate voltage.",
        )
        yield check(
            "reverse_current",
            "Rail MOSFET's current",
            "limit",
            "current",
            unit="A",
            nominal=amps,
            most=pmos.current_hot,
            at=HIGH,
            says=f"{show(amps, 'A')} of {show(pmos.current_hot, 'A')}, {show(drop, 'V')} lost.",
            formula="I ≤ I_{D,hot}",
            numbers=f"{show(amps, 'A')} ≤ {show(pmos.current_hot, 'A')}",
            because="All the load's current goes through it.",
            cure="Take a MOSFET for more current.",
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        how = say.field("way", note="in the + rail", choices=WAYS)
        return {"guard": (Word(text="A reversed battery is blocked by"), how)}

    def draw(self, pen: Pen, site: Site) -> None:
        x = pen.rail_x
        if self.way == "diode":
            ref = site.ref("diode")
            symbol = "schottky" if site.card("diode", DiodeCard).schottky else "diode"
            at = pen.part(site, "diode", symbol, x + 3.4, 0.0, turn=90, side="below")
            pen.wire((x, 0.0), at["a"], load=True, part=ref)
            pen.rail_x = at["k"][0]
            return
        q, r = site.ref("switch"), site.ref("gate")
        # Turned so that drain and source lie in the rail, the gate below.
        at = pen.part(site, "switch", "p_mosfet_flip", x + 4.4, 2.0, turn=270)
        pen.wire((x, 0.0), at["d"], load=True, part=q)
        g = at["g"]
        p = pen.part(site, "gate", "resistor", g[0], 9.0, value=show_part(R_GATE))
        pen.wire(g, p["a"], part=r)
        pen.ground(p["b"], part=r)
        pen.rail_x = at["s"][0]
