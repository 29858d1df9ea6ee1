"""Snubber across the switch: a resistor and a capacitor take the edge off what it breaks.

At the first moment the load's current flows through the resistor, I·R; as the switch closes the capacitor
empties through it, V/R.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from ...cards.card import CapacitorCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.facts import Demand
from ..contract.parts import Placed, from_card, resistor
from ..contract.ports import Port, rail_in
from ..contract.site import Site
from ..contract.stage import InLine
from ..drawing.pen import Pen
from ..say.checks import HIGH, Check, check, high
from ..say.wording import Say, Sentence, Word
from .beside import lead_on, own_rail

LEAST_PULSE = 0.2  # what any switch stands for the moment a snubber empties [A], assumed


class SwitchSnubber(InLine):
    title = "Snubber across the switch"
    purpose = "A resistor and capacitor take the edge off what the switch or contact breaks."
    choose = (
        "A contact that breaks a coil or motor, brush noise, or a peak to be tamed without slowing release."
    )
    avoid = "It leaks on AC: a small load may not go fully off."
    picture = "capacitor"
    cards = {"capacitor": CapacitorCard}

    kind: Literal["switch_snubber"] = "switch_snubber"
    capacitor: str = "film-100n-100v"
    resistance: Annotated[float, Q("Ω", 1.0, 1e5)] = 100.0

    @property
    def summary(self) -> str:
        return f"{show_part(self.resistance)} Ω and a capacitor"

    def ports(self) -> tuple[Port, ...]:
        return (rail_in(), *super().ports())

    def make(self, site: Site) -> Iterable[Placed]:
        out, rail, *_ = own_rail(site)
        card = site.card("capacitor", CapacitorCard)
        yield resistor(site, "damper", "Snubber resistor", "resistance", out, "snub")
        legs = {"a": "snub", "b": rail}
        yield from_card(site, "store", "C", "capacitor", legs, mark=show_part(card.value))

    def through(self, port: str, fact: Any, site: Site) -> Any:
        if port == "load" and isinstance(fact, Demand):
            farads = site.card("capacitor", CapacitorCard).value
            return replace(fact, across=fact.across + farads)
        return fact

    def checks(self, site: Site) -> Iterator[Check]:
        card, rail, demand = site.card("capacitor", CapacitorCard), site.rail, site.demand()
        amps = max(demand.most(rail.high), 1e-6)
        step, close = amps * self.resistance, rail.high / self.resistance
        yield check(
            "snub_step",
            "Snubber takes over",
            "practice",
            "peak",
            unit="V",
            nominal=step,
            most=max(rail.high, 1.0),
            at=high("just opened"),
            says=f"{show(amps, 'A')} through {show(self.resistance, 'Ω')} lift it {show(step, 'V')}.",
            formula="V = I · R ≤ V_{high}",
            numbers=f"= {show(amps, 'A')} · {show(self.resistance, 'Ω')}",
            because="At the first moment the load's current flows through the snubber's resistor.",
            cure="Lower the snubber's resistor.",
        )
        most = max(amps, LEAST_PULSE)
        yield check(
            "snub_close",
            "Snubber empties gently",
            "limit",
            "surge",
            unit="A",
            nominal=close,
            most=most,
            at=high("just closed"),
            says=f"{show(close, 'A')} through the switch as it closes, of {show(most, 'A')}.",
            formula="I = V_{high} / R",
            numbers=f"= {rail.high:.3g} / {show(self.resistance, 'Ω')}",
            because="The full capacitor empties through the switch: a contact welds on a bare one.",
            cure="Raise the snubber's resistor.",
        )
        free = demand.winding is not None and demand.kick is None
        lift = amps * math.sqrt(demand.winding.henries / card.value) if free and demand.winding else 0.0
        peak = rail.high + lift
        yield check(
            "snub_volts",
            "Snubber's capacitor stands it",
            "limit",
            "volts",
            unit="V",
            nominal=peak,
            most=card.voltage,
            at=HIGH,
            says=f"{show(peak, 'V')} of {show(card.voltage, 'V')}.",
            formula="V ≤ V_{rated}",
            numbers=f"{show(peak, 'V')} ≤ {card.voltage:.3g}",
            because="It sees the switch's peak.",
            cure="Take a capacitor for more volts, or fit a freewheel diode.",
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        farads = show(site.card("capacitor", CapacitorCard).value, "F")
        return {
            "guard": (
                Word(text="The switch is snubbed by"),
                say.field("resistance"),
                Word(text=f"and {farads}"),
            )
        }

    def draw(self, pen: Pen, site: Site) -> None:
        _, _, rail, level = own_rail(site)
        r, c, down = site.ref("damper"), site.ref("store"), rail > level
        x, y = lead_on(pen, site, pen.x + 3.0)
        turn, way = (0, 1) if down else (180, -1)
        a = pen.part(site, "damper", "resistor", x, y + 4.5 * way, turn=turn)  # type: ignore[arg-type]
        b = pen.part(site, "store", "capacitor", x, y + 11.5 * way, turn=turn)  # type: ignore[arg-type]
        pen.wire((x, y), a["a"], part=r)
        pen.wire(a["b"], b["a"], part=r)
        if down:
            pen.ground(b["b"], part=c)
        else:
            pen.wire(b["b"], (x, rail), part=c)
        pen.x = x + 3.0
