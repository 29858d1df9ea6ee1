"""NPN transistor as a low-side switch.

Choose it for coils and lamps up to the transistor's current where the pin can spare a tenth of the load
current.
`rules.base_drive` holds the rules of its base; dissipation is VCE(sat)·IC + VBE·IB.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import BipolarCard, NpnCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.facts import Control, Switch
from ..contract.parts import Placed, from_card, resistor
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.switches import BIPOLAR, draw_low_side
from ..rules.base_drive import BaseDrive, forced_gain
from ..rules.feed import Names, from_low_side
from ..rules.kick import peak_check
from ..rules.saturated import bipolar_load
from ..rules.switching import direct_only
from ..say.checks import Check
from ..say.windows import Offer, Window, window
from .base import Cooled


class NpnLowSide(Cooled):
    title = "Bipolar"
    purpose = "An NPN transistor pulls the load's lower end to 0 V."
    choose = "Load up to some 200 mA, a pin that can spare a tenth of it, parts from any drawer."
    avoid = "The pin is weak, or the load draws more than half an amp."
    picture = "npn"
    output = "collector"
    controls = ("base",)
    main = "base"
    cards = {"card": NpnCard}

    kind: Literal["npn_low_side"] = "npn_low_side"
    card: str = "npn-40v-200ma"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] | None = 1e3
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 10e3
    forced_gain: Annotated[float, Q("", 2.0, 200.0)] | None = None

    @property
    def summary(self) -> str:
        return f"Bipolar, {show_part(self.r_base)} Ω" if self.r_base is not None else "Bipolar, no resistor"

    @property
    def commanded(self) -> str:
        return "signal" if self.r_base is not None else "base"

    def make(self, site: Site) -> Iterable[Placed]:
        if self.r_base is not None:
            yield resistor(site, "series", "Base resistor", "r_base", "signal", "base")
        if self.r_pull is not None:
            yield resistor(site, "pull", "Base pull-down", "r_pull", "base", "zero")
        yield from_card(site, "switch", "Q", "card", {"c": "collector", "b": "base", "e": "zero"})

    def base(self, site: Site) -> BaseDrive:
        """Its base, driven by the command."""
        card = site.card("card", BipolarCard)
        return BaseDrive(
            feed=from_low_side(site.command),
            card=card,
            series=self.r_base or 0.0,
            pull=self.r_pull,
            collector=site.demand().most(site.rail.high),
            rests=site.demand().rests,
            what=site.demand().name,
            stays_on=site.demand().stays_on,
            gain=forced_gain(card, self.forced_gain),
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("base", series="series" if self.r_base else "", on=self.runs(site)),
        )

    def switches(self, site: Site) -> Switch:
        return self.bipolar_switch(site, self.base(site))

    def controlled(self, site: Site) -> Control:
        return Control("base", reverse=site.card("card", BipolarCard).v_ebo)

    def windows(self, site: Site) -> tuple[Window, ...]:
        base = self.base(site)
        return (
            window(
                site,
                "r_base",
                "series",
                "base resistor",
                base.series_bounds(),
                offers=self._offers(site, base),
                without=0.0,
            ),
            window(site, "r_pull", "pull", "base pull-down", base.pull_bounds(), without=math.inf),
        )

    def _offers(self, site: Site, base: BaseDrive) -> list[Offer]:
        """What to try when no base resistor does: a lighter load."""
        card, command, least = base.card, site.command, base.least_series()
        head = max(command.high.volts.low - card.v_be_sat, 1e-3)
        wanted = site.rail.high * least / head / card.gain_min
        return [
            Offer(
                title=f"A load of {show(wanted, 'Ω', 2)} or more",
                detail=f"then {show(least, 'Ω')} or more would do",
                standing="unknown",
            )
        ]

    def checks(self, site: Site) -> Iterator[Check]:
        base = self.base(site)
        yield from peak_check(self.switches(site), site.rail, site.demand(), self.output)
        yield from base.checks()
        yield from bipolar_load(site, self.switches(site), site.demand(), base, heatsink=self.heatsink)
        yield from direct_only(site)

    def draw(self, pen: Pen, site: Site) -> None:
        draw_low_side(pen, site, "npn", BIPOLAR, "base", output="collector")
