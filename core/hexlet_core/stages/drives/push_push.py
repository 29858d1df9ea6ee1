"""Push on, push off with three transistors: a PNP switches, an NPN holds its base down, another one empties
the memory. Its own output holds it: no MOSFET, and no more than a few hundred milliamps.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import BipolarCard, NpnCard, PnpCard
from ...cards.points import junctions, most_collector
from ...fields import Q
from ...quantity import show_part
from ..contract.facts import Control, Side, Switch
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.site import Site
from ..drawing.latches import draw_soft_latch
from ..drawing.pen import Pen
from ..rules.base_drive import V_BE_OFF, BaseDrive, forced_gain
from ..rules.feed import Names, from_rail
from ..rules.held import C_CB, JUNCTION, KEPT_DOWN, holds_check, lag_check, starts_check
from ..rules.kick import peak_check
from ..rules.saturated import bipolar_load
from ..rules.switching import back_feed
from ..say.checks import Check
from ..say.windows import Window, window
from .memorised import Memorised


class PushPush(Memorised):
    title = "Push on, push off, three transistors"
    purpose = "One press turns the load on, the next turns it off; three small transistors do it all."
    choose = "A load of up to a few hundred milliamps, and only bipolar transistors in the drawer."
    avoid = "A load with a large capacitor, or what the loop takes while it is on matters."
    picture = "latch"
    output = "collector"
    controls = ("base", "hold")
    main = "base"
    waste = 10e-3
    cards = {"card": PnpCard, "npn": NpnCard}

    kind: Literal["push_push"] = "push_push"
    card: str = "pnp-60v-1a"
    forced_gain: Annotated[float, Q("", 2.0, 200.0)] | None = 30.0
    r_drive: Annotated[float, Q("Ω", 10.0, 1e6)] = 2.2e3
    r_pull: Annotated[float, Q("Ω", 1e2, 1e7)] = 10e3
    c_speed: Annotated[float, Q("F", 1e-12, 1e-6)] = 22e-9
    r_hold: Annotated[float, Q("Ω", 1e2, 1e7)] = 18e3
    r_base: Annotated[float, Q("Ω", 1e2, 1e6)] = 1e3
    r_empty_base: Annotated[float, Q("Ω", 1e2, 1e6)] = 4.7e3
    r_button: Annotated[float, Q("Ω", 10.0, 1e5)] = 330.0

    @property
    def summary(self) -> str:
        return f"Push on, push off, {show_part(self.r_hold)} Ω"

    @property
    def side(self) -> Side:
        return "high"

    @property
    def held_from(self) -> str:
        return self.output

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield from super().make(site)
        yield resistor(site, "series", "Drive resistor", "r_drive", "base", "pulled")
        yield resistor(site, "pull", "Pull-up", "r_pull", "plus", "base")
        yield capacitor(site, "gate", "Capacitor at its base", "c_speed", "plus", "base")
        yield from_card(site, "switch", "Q", "card", {"b": "base", "c": "collector", "e": "plus"})

    def pulled(self, volts: float) -> float:
        return max(volts - JUNCTION, 0.0) / self.r_drive

    def letting_go(self, site: Site) -> float:
        return self.r_pull * self.c_speed * math.log(2) + self.r_base * self.c_base

    # --- facts --------------------------------------------------------------------------------------
    def drive(self, site: Site) -> BaseDrive:
        """Its base, pulled down by its own NPN; what holds it is drawn from its collector too."""
        rail, npn, card = site.rail, site.card("npn", BipolarCard), site.card("card", BipolarCard)
        keeps = min(junctions(npn, self.pulled(rail.low), self.held(rail.low)).v_ce, npn.v_ce_sat)
        demand = site.demand()
        return BaseDrive(
            feed=from_rail(rail, demand.amps(rail.typical), npn.v_ce_sat, (keeps, keeps)),
            card=card,
            series=self.r_drive,
            pull=self.r_pull,
            collector=demand.most(rail.high) + rail.high / self.r_hold,
            rests=demand.rests,
            what=demand.name,
            gain=forced_gain(card, self.forced_gain),
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("base", high=True),
        )

    def switches(self, site: Site) -> Switch:
        return self.bipolar_switch(site, self.drive(site))

    def controlled(self, site: Site) -> Control:
        return Control("base", reverse=site.card("card", BipolarCard).v_ebo)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        demand, base = site.demand(), self.drive(site)
        yield from peak_check(self.switches(site), site.rail, demand, self.output)
        yield from base.checks()
        yield from bipolar_load(site, self.switches(site), demand, base, beside=site.rail.high / self.r_hold)
        yield from back_feed(site, demand)
        because = "The output feeds both bases and the pull-down, and must do so with the weakest NPN."
        yield holds_check(site, self.pulled, self.held, because)
        surge, usual = (
            self.switches(site).surge(demand),
            most_collector(base.card, base.ordinary(base.feed.weak)),
        )
        least = usual * base.card.gain_min / base.card.gain
        yield from starts_check(
            site, surge, usual, least, KEPT_DOWN, "Take the soft latch: a MOSFET carries it."
        )
        cure = f"Make {site.ref('gate')} larger."
        jump = C_CB * site.rail.high
        yield lag_check(site, jump, self.c_speed, site.rail.high, V_BE_OFF, cure, "base")
        yield from self.memory_checks(site)

    def windows(self, site: Site) -> tuple[Window, ...]:
        base = self.drive(site)
        return (
            window(site, "r_drive", "series", "drive resistor", base.series_bounds()),
            *super().windows(site),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_soft_latch(pen, site, "pnp", ("b", "c", "e"))
