"""P-MOSFET as a high-side switch, pulled on by a shifter or, at equal voltages, by the command itself.

Choose it when the load must stay at 0 V and draws more than a bipolar carries well. Only the pull-up turns it
off, so that resistor sets how long it stays half on; the body diode leads charge on the load's side back into
the supply.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from ...cards.card import FieldEffectCard, PMosfetCard
from ...fields import Q
from ...quantity import show_part
from ..contract.facts import Control, Switch
from ..contract.parts import Placed, from_card
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.switches import FIELD_EFFECT
from ..rules.feed import Names
from ..rules.gate_drive import GateDrive, begins
from ..rules.kick import peak_check
from ..rules.saturated import mosfet_load
from ..rules.switching import back_feed, direct_only
from ..say.checks import Check
from .high_side import SHIFT_CARDS, HighSide


class PmosHighSide(HighSide):
    title = "P-MOSFET, high side"
    purpose = "A P-channel MOSFET connects the load's upper end to the supply with little drop."
    choose = "The load must stay tied to 0 V and draws more than a bipolar carries well."
    avoid = "The supply is too low for the gate, or the load side may feed back through the body diode."
    picture = "p_mosfet"
    output = "drain"
    controls = ("gate",)
    main = "gate"
    cards = {"card": PMosfetCard, **SHIFT_CARDS}

    kind: Literal["pmos_high_side"] = "pmos_high_side"
    card: str = "pmos-55v-12a"
    r_drive: Annotated[float, Q("Ω", 1.0, 1e7)] = 220.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 10e3
    r_shift: Annotated[float, Q("Ω", 1.0, 1e7)] = 1000.0
    on_within: Annotated[float, Q("s", 1e-8, 1.0)] = 100e-6
    off_within: Annotated[float, Q("s", 1e-8, 1.0)] = 500e-6

    @property
    def summary(self) -> str:
        return f"P-MOSFET, {show_part(self.r_drive)} Ω" + ("" if self.shift != "none" else ", direct")

    def placed_switch(self, site: Site) -> Placed:
        return from_card(site, "switch", "Q", "card", {"g": "gate", "d": "drain", "s": "plus"})

    def pulled(self, site: Site) -> float:
        return site.rail.high / (self.r_drive + (self.r_pull or 1e6))

    def begins(self, site: Site) -> float:
        card = site.card("card", FieldEffectCard)
        return begins(card, site.rail.high, site.hot, site.demand().rests)

    def control(self, site: Site) -> GateDrive:
        return GateDrive(
            feed=self.feed(site),
            card=site.card("card", FieldEffectCard),
            series=self.r_drive,
            pull=self.r_pull,
            high=site.rail.high,
            hot=site.hot,
            on_within=self.on_within,
            wishes=("on_within", "off_within"),
            carries=site.demand().most(site.rail.high),
            rests=site.demand().rests,
            what=site.demand().name,
            stays_on=site.demand().stays_on,
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("gate", on=self.runs(site), high=True),
            back=self.off_within if self.shift != "none" else None,
            rail="the + rail",
            clamp=site.attached(),
        )

    def switches(self, site: Site) -> Switch:
        return self.mosfet_switch(site, site.card("card", FieldEffectCard), self.control(site))

    def controlled(self, site: Site) -> Control:
        return Control("gate", most=site.card("card", FieldEffectCard).v_gs_max)

    def checks(self, site: Site) -> Iterator[Check]:
        demand = site.demand()
        yield from peak_check(self.switches(site), site.rail, demand, self.output)
        yield from self.control_checks(site)
        yield from mosfet_load(site, self.switches(site), demand, self.control(site), self.heatsink)
        yield from back_feed(site, demand)
        yield from direct_only(site)

    def draw(self, pen: Pen, site: Site) -> None:
        self.draw_all(pen, site, "p_mosfet", FIELD_EFFECT)
