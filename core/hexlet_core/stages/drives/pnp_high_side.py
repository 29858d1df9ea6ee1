"""PNP transistor as a high-side switch, pulled on by a shifter or, at equal voltages, by the command itself.

Choose it when the load's other end must be at 0 V and a P-MOSFET is not at hand. The rules of its base are
those of an NPN, counted from the + rail.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from ...cards.card import BipolarCard, PnpCard
from ...fields import Q
from ...quantity import show_part
from ..contract.facts import Control, Switch
from ..contract.parts import Placed, from_card
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.switches import BIPOLAR
from ..rules.base_drive import V_BE_OFF, BaseDrive, forced_gain
from ..rules.feed import Names
from ..rules.kick import peak_check
from ..rules.saturated import bipolar_load
from ..rules.switching import direct_only
from ..say.checks import Check
from .high_side import SHIFT_CARDS, HighSide


class PnpHighSide(HighSide):
    title = "PNP, high side"
    purpose = "A PNP transistor connects the load's upper end to the supply; the load stays at 0 V."
    choose = "The load's other end must be at 0 V: a chassis, a cable's shield, a module with its own ground."
    avoid = "The load draws more than half an amp, or a low-side switch would do: that needs fewer parts."
    picture = "pnp"
    output = "collector"
    controls = ("base",)
    main = "base"
    cards = {"card": PnpCard, **SHIFT_CARDS}

    kind: Literal["pnp_high_side"] = "pnp_high_side"
    card: str = "pnp-60v-1a"
    forced_gain: Annotated[float, Q("", 2.0, 200.0)] | None = None

    @property
    def summary(self) -> str:
        return f"PNP, {show_part(self.r_drive)} Ω" + ("" if self.shift != "none" else ", direct")

    def placed_switch(self, site: Site) -> Placed:
        return from_card(site, "switch", "Q", "card", {"c": "collector", "b": "base", "e": "plus"})

    def begins(self, site: Site) -> float:
        return V_BE_OFF

    def control(self, site: Site) -> BaseDrive:
        card = site.card("card", BipolarCard)
        return BaseDrive(
            feed=self.feed(site),
            card=card,
            series=self.r_drive,
            pull=self.r_pull,
            collector=site.demand().most(site.rail.high),
            rests=site.demand().rests,
            what=site.demand().name,
            stays_on=site.demand().stays_on,
            gain=forced_gain(card, self.forced_gain),
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("base", on=self.runs(site), high=True),
        )

    def switches(self, site: Site) -> Switch:
        return self.bipolar_switch(site, self.control(site))

    def controlled(self, site: Site) -> Control:
        return Control("base", reverse=site.card("card", BipolarCard).v_ebo)

    def checks(self, site: Site) -> Iterator[Check]:
        demand = site.demand()
        yield from peak_check(self.switches(site), site.rail, demand, self.output)
        yield from self.control_checks(site)
        yield from bipolar_load(site, self.switches(site), demand, self.control(site), heatsink=self.heatsink)
        yield from direct_only(site)

    def draw(self, pen: Pen, site: Site) -> None:
        self.draw_all(pen, site, "pnp", BIPOLAR)
