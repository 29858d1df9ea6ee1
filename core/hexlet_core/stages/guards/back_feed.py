"""Back-feed: a diode in the load's line keeps the load's charge from flowing back into the supply."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Any, Literal

from ...cards.card import DiodeCard
from ...quantity import show
from ..contract.facts import Demand, Loss, Switch
from ..contract.parts import Placed, from_card
from ..contract.site import Site
from ..drawing.pen import Pen
from ..say.checks import HIGH, Check, check
from .beside import blocks
from .in_one_line import InOneLine


class BackFeed(InOneLine):
    title = "Back-feed"
    purpose = "A diode after the switch keeps the load's charge from flowing back into the supply."
    choose = "A high-side MOSFET before anything with a capacitor or a battery of its own."
    avoid = "Its drop starves the load: then two MOSFETs back to back."
    picture = "diode"
    noun = "diode"
    cards = {"diode": DiodeCard}

    kind: Literal["back_feed"] = "back_feed"
    diode: str = "schottky-3a-40v"

    @property
    def summary(self) -> str:
        return "Diode after the switch"

    def make(self, site: Site) -> Iterable[Placed]:
        legs = {"a": "top", "k": "fed"} if self.line == "upper" else {"a": "fed", "k": "bottom"}
        yield from_card(site, "diode", "D", "diode", legs)

    def through(self, port: str, fact: Any, site: Site) -> Any:
        if isinstance(fact, Switch):
            return replace(fact, losses=(*fact.losses, Loss.junction(site.card("diode", DiodeCard))))
        if isinstance(fact, Demand):
            return replace(fact, held=True)
        return fact

    def checks(self, site: Site) -> Iterator[Check]:
        card, rail = site.card("diode", DiodeCard), site.rail
        amps = site.demand().most(rail.high)
        yield blocks(site, "back_volts", "Back-feed diode blocks", rail.high)
        lost = card.volts_near(max(amps, 1e-6))
        yield check(
            "back_current",
            "Back-feed diode's current",
            "limit",
            "current",
            unit="A",
            nominal=amps,
            most=card.current,
            at=HIGH,
            says=f"{show(amps, 'A')} of {show(card.current, 'A')}, {show(lost, 'V')} lost.",
            formula="I ≤ I_{F}",
            numbers=f"{show(amps, 'A')} ≤ {show(card.current, 'A')}",
            because="All the load's current goes through it.",
            cure="Take a diode for more current.",
        )

    def draw(self, pen: Pen, site: Site) -> None:
        (x, y), upper = pen.output, self.line == "upper"
        symbol = "schottky" if site.card("diode", DiodeCard).schottky else "diode"
        at = pen.part(
            site,
            "diode",
            symbol,
            pen.x + 4.0,
            y,
            turn=90 if upper else 270,
            side="below" if upper else "above",
        )
        near, far = ("a", "k") if upper else ("k", "a")
        pen.wire((x, y), at[near], load=True, part=site.ref("diode"))
        pen.output, pen.x = at[far], at[far][0]
