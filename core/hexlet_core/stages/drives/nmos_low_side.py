"""N-MOSFET as a low-side switch.

Choose it when the pin is weak or the load heavy: the gate takes current only while it changes.
`rules.gate_drive` holds
the rules of its gate; drop and heat are I·R and I²·R with the hot on-resistance.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import FieldEffectCard, MosfetCard
from ...fields import Q
from ...quantity import show_part
from ..contract.facts import Control, Switch
from ..contract.parts import Placed, from_card, resistor
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.switches import FIELD_EFFECT, draw_low_side
from ..rules.feed import Names, from_low_side
from ..rules.gate_drive import GateDrive
from ..rules.kick import peak_check
from ..rules.saturated import mosfet_load
from ..rules.switching import direct_only
from ..say.checks import Check
from ..say.windows import Window, window
from .base import Cooled


class NmosLowSide(Cooled):
    title = "MOSFET"
    purpose = "An N-channel MOSFET pulls the load's lower end to 0 V."
    choose = "The pin is weak, the load draws more than some 100 mA, or the drop must be small."
    avoid = "The pin's level is below the gate voltage at which the on-resistance is promised."
    picture = "n_mosfet"
    output = "drain"
    controls = ("gate",)
    main = "gate"
    cards = {"card": MosfetCard}

    kind: Literal["nmos_low_side"] = "nmos_low_side"
    card: str = "nmos-55v-5a-logic"
    r_gate: Annotated[float, Q("Ω", 1.0, 1e8)] | None = 220.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 100e3
    on_within: Annotated[float, Q("s", 1e-8, 1.0)] = 20e-6

    @property
    def summary(self) -> str:
        return f"MOSFET, {show_part(self.r_gate)} Ω" if self.r_gate is not None else "MOSFET, no resistor"

    @property
    def commanded(self) -> str:
        return "signal" if self.r_gate is not None else "gate"

    def make(self, site: Site) -> Iterable[Placed]:
        if self.r_gate is not None:
            yield resistor(site, "series", "Gate resistor", "r_gate", "signal", "gate")
        if self.r_pull is not None:
            yield resistor(site, "pull", "Gate pull-down", "r_pull", "gate", "zero")
        yield from_card(site, "switch", "Q", "card", {"g": "gate", "d": "drain", "s": "zero"})

    def gate(self, site: Site) -> GateDrive:
        """Its gate, driven by the command."""
        return GateDrive(
            feed=from_low_side(site.command),
            card=site.card("card", FieldEffectCard),
            series=self.r_gate or 0.0,
            pull=self.r_pull,
            high=site.rail.high,
            hot=site.hot,
            on_within=self.on_within,
            wishes=("on_within", ""),
            carries=site.demand().most(site.rail.high),
            rests=site.demand().rests,
            what=site.demand().name,
            stays_on=site.demand().stays_on,
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("gate", series="series" if self.r_gate else "", on=self.runs(site)),
            clamp=site.attached(),
        )

    def switches(self, site: Site) -> Switch:
        return self.mosfet_switch(site, site.card("card", FieldEffectCard), self.gate(site))

    def controlled(self, site: Site) -> Control:
        return Control("gate", most=site.card("card", FieldEffectCard).v_gs_max)

    def windows(self, site: Site) -> tuple[Window, ...]:
        gate = self.gate(site)
        return (
            window(site, "r_gate", "series", "gate resistor", gate.series_bounds(), without=0.0),
            window(site, "r_pull", "pull", "gate pull-down", gate.pull_bounds(), without=math.inf),
        )

    def checks(self, site: Site) -> Iterator[Check]:
        gate = self.gate(site)
        yield from peak_check(self.switches(site), site.rail, site.demand(), self.output)
        yield from gate.checks()
        yield from mosfet_load(site, self.switches(site), site.demand(), gate, self.heatsink)
        yield from direct_only(site)

    def draw(self, pen: Pen, site: Site) -> None:
        draw_low_side(pen, site, "n_mosfet", FIELD_EFFECT, "gate", output="drain")
