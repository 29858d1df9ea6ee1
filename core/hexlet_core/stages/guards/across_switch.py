"""Diode across the switch: energy that comes back from the load's side goes round a transistor that blocks
it.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal

from ...cards.card import DiodeCard
from ..contract.parts import Placed, from_card
from ..contract.ports import Port, rail_in
from ..contract.site import Site
from ..contract.stage import InLine
from ..drawing.pen import Pen
from ..say.checks import Check
from .beside import blocks, lead_on, own_rail


class AcrossSwitch(InLine):
    title = "Diode across the switch"
    purpose = "Gives energy that comes back from the load's side a path round a high-side transistor."
    choose = "A bipolar on the high side with a coil, a motor that is turned by hand, or a charged load."
    avoid = "The switch is a MOSFET: its body diode is that diode already."
    picture = "diode"
    cards = {"diode": DiodeCard}

    kind: Literal["across_switch"] = "across_switch"
    diode: str = "diode-1a-100v"

    @property
    def summary(self) -> str:
        return "Fitted"

    def ports(self) -> tuple[Port, ...]:
        return (rail_in(), *super().ports())

    def make(self, site: Site) -> Iterable[Placed]:
        out, rail, *_ = own_rail(site)
        low = site.side == "low"
        legs = {"a": rail, "k": out} if low else {"a": out, "k": rail}
        yield from_card(site, "diode", "D", "diode", legs)

    def checks(self, site: Site) -> Iterator[Check]:
        yield blocks(site, "across_volts", "Diode across the switch blocks", site.rail.high)

    def draw(self, pen: Pen, site: Site) -> None:
        # Cathode up in either case: to the output on the low side, to the + rail on the high side.
        _, _, rail, level = own_rail(site)
        low, ref = site.side == "low", site.ref("diode")
        x, y = lead_on(pen, site, pen.x + 3.0)
        at = pen.part(site, "diode", "diode", x, (rail + level) / 2)
        pen.wire((x, y), at["k" if low else "a"], part=ref)
        if low:
            pen.ground(at["a"], part=ref)
        else:
            pen.wire(at["k"], (x, rail), part=ref)
        pen.x = x + 3.0
