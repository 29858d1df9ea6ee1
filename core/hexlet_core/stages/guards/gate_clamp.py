"""Gate clamp: a zener from gate to source keeps the gate's voltage inside its limit."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal

from ...cards.card import ZenerCard
from ...quantity import show
from ..contract.facts import Attached, Fact
from ..contract.parts import Placed, from_card
from ..contract.site import Site
from ..contract.stage import AtControl
from ..drawing.pen import Pen
from ..say.checks import Check, check, holds, when
from .at_control import draw_control, ends


class GateClamp(AtControl):
    title = "Gate clamp"
    purpose = "A zener from gate to source keeps the gate's voltage inside its limit."
    choose = "The gate can see more than four fifths of its limit, or a long lead leads to it."
    avoid = "The signal never comes near the limit."
    picture = "zener"
    belongs = "gate"
    cards = {"zener": ZenerCard}

    kind: Literal["gate_clamp"] = "gate_clamp"
    zener: str = "zener-12v"

    @property
    def summary(self) -> str:
        return "Zener at the gate"

    def _most(self, site: Site) -> float:
        card = site.card("zener", ZenerCard)
        return card.voltage * (1 + card.tolerance)

    def tell(self, port: str, site: Site) -> Fact | None:
        card = site.card("zener", ZenerCard)
        least = card.voltage * (1 - card.tolerance)
        return Attached(self._most(site), card.voltage, least, card.power) if port == "control" else None

    def make(self, site: Site) -> Iterable[Placed]:
        volts = show(site.card("zener", ZenerCard).voltage, "V")
        yield from_card(site, "zener", "Z", "zener", ends(site), mark=volts)

    def checks(self, site: Site) -> Iterator[Check]:
        card, control = site.card("zener", ZenerCard), site.control
        if control.most is None:
            yield holds(
                "clamp_place",
                "Something to clamp",
                "practice",
                "place",
                False,
                at=when("the drive in use"),
                says="This drive has no gate.",
                formula="clamp ↔ MOSFET",
                numbers="no gate",
                because="A bipolar's base clamps itself at 0.7 V.",
                cure="Take the gate clamp out.",
            )
            return
        most = self._most(site)
        yield check(
            "clamp_holds",
            "Clamp under the gate's limit",
            "limit",
            "level",
            unit="V",
            nominal=card.voltage,
            worst=most,
            most=control.most,
            at=when("zener at its highest"),
            says=f"Holds {show(most, 'V')}; the gate stands {show(control.most, 'V')}.",
            formula="V_{Z,max} ≤ V_{GS,max}",
            numbers=f"{show(most, 'V')} ≤ {show(control.most, 'V')}",
            because="The clamp must act before the oxide breaks down.",
            cure="Take a lower zener.",
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_control(pen, site, "zener", "zener")
