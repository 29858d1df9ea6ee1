"""Capacitor at the rail: it feeds the load's first moment, which leads and battery are too slow for."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import CapacitorCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.parts import Placed, from_card
from ..contract.ports import Port, rail_in
from ..contract.site import Site
from ..contract.stage import Guard
from ..drawing.pen import Pen
from ..say.checks import HIGH, Check, check, when
from ..say.wording import Say, Sentence, Word

SAG = 0.1  # share of the low supply that its dip may reach
MOMENT = 0.05  # how long a first moment the capacitor is asked for at most [s]


class Decoupling(Guard):
    title = "Capacitor at the rail"
    purpose = "It feeds the load's first moment, which leads and battery are too slow for."
    choose = "Anything with inrush, long supply leads, or logic on the same rail."
    avoid = "A switch before it: it then gulps at every switch-on."
    picture = "capacitor"
    cards = {"capacitor": CapacitorCard}

    kind: Literal["decoupling"] = "decoupling"
    capacitor: str = "electrolytic-1000u-25v"
    lead: Annotated[float, Q("Ω", 0.0, 100.0)] = 0.1  # of the leads from the supply

    @property
    def summary(self) -> str:
        return "Fitted"

    def ports(self) -> tuple[Port, ...]:
        return (rail_in(),)

    def make(self, site: Site) -> Iterable[Placed]:
        card = site.card("capacitor", CapacitorCard)
        legs = {"a": "plus", "b": "zero"}
        yield from_card(site, "store", "C", "capacitor", legs, mark=show_part(card.value))

    def checks(self, site: Site) -> Iterator[Check]:
        card, rail = site.card("capacitor", CapacitorCard), site.rail
        yield check(
            "bulk_volts",
            "Rail capacitor's volts",
            "limit",
            "volts",
            unit="V",
            nominal=rail.high,
            most=card.voltage,
            at=HIGH,
            says=f"{show(rail.high, 'V')} of {show(card.voltage, 'V')}. Mind its stripe: minus.",
            formula="V_{high} ≤ V_{rated}",
            numbers=f"{rail.high:.3g} ≤ {card.voltage:.3g}",
            because="An electrolytic over its volts, or reversed, bursts.",
            cure="Take a capacitor for more volts.",
        )
        draw = site.beside("rail")
        step = max(draw.amps, draw.surge)
        brief = min(draw.seconds, MOMENT) if draw.surge else 1e-3
        r, limit = rail.resistance + self.lead, SAG * rail.low
        sag = step * min(r, (card.esr or 0.0) + brief / card.value) if r > 0 else 0.0
        yield check(
            "bulk_sag",
            "Rail's dip as the load comes on",
            "practice",
            "surge",
            unit="V",
            nominal=sag,
            most=limit,
            at=when("first moment"),
            says=(
                f"{show(step, 'A')} pull it down by {show(sag, 'V')}; a tenth of the supply is "
                f"{show(limit, 'V')}."
            ),
            formula="ΔV = I · min(R_{supply}, ESR + t/C)",
            numbers=f"{show(step, 'A')} for {show(brief, 's')}, R = {show(r, 'Ω')}",
            because="What comes on faster than the supply follows is fed by the capacitor, or by nobody.",
            cure="Take a bigger capacitor, or shorter and thicker leads.",
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        farads = show(site.card("capacitor", CapacitorCard).value, "F")
        return {
            "guard": (
                Word(text=f"{farads} sit at the rail behind leads of"),
                say.field("lead", origin="assumed"),
            )
        }

    def draw(self, pen: Pen, site: Site) -> None:
        ref, card = site.ref("store"), site.card("capacitor", CapacitorCard)
        x = pen.x + 3.0
        symbol = "electrolytic" if card.dielectric in ("electrolytic", "tantalum") else "capacitor"
        at = pen.part(site, "store", symbol, x, 15.0)
        pen.wire((x, 0.0), at["a"], part=ref)
        pen.ground(at["b"], part=ref)
        pen.x = x + 2.0
