"""What power latches share: a P-MOSFET whose gate their own NPN holds down for as long as they are on."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterator
from typing import Annotated

from ...cards.card import BipolarCard, FieldEffectCard
from ...cards.points import jump_charge, junctions
from ...fields import Q
from ..contract.facts import Control, Side, Switch
from ..contract.site import Site
from ..rules.feed import Names, from_rail
from ..rules.gate_drive import GateDrive
from ..rules.held import lag_check
from ..rules.kick import peak_check
from ..rules.saturated import mosfet_load
from ..rules.switching import back_feed
from ..say.checks import Check
from .base import Uncommanded


class Latched(Uncommanded):
    """A kind names the part that pulls its gate down, and the one that holds that on."""

    output = "drain"
    main = "gate"
    stateful = True

    card: str = "pmos-55v-12a"
    npn: str = "npn-40v-200ma"
    r_pull: Annotated[float, Q("Ω", 1e3, 1e7)] = 100e3
    r_gate: Annotated[float, Q("Ω", 1.0, 1e6)] = 1e3
    c_gate: Annotated[float, Q("F", 1e-11, 1e-6)] = 2.2e-9

    @property
    def side(self) -> Side:
        return "high"

    @abstractmethod
    def held(self, volts: float) -> float:
        """The base current of what pulls the gate, while it holds itself [A]."""

    @abstractmethod
    def pulled(self, volts: float) -> float:
        """What that must carry [A]."""

    def beside(self, volts: float) -> float:
        """What its output feeds beside the load [A]."""
        return 0.0

    # --- facts --------------------------------------------------------------------------------------
    def drive(self, site: Site) -> GateDrive:
        """Its gate, pulled down by its own NPN."""
        rail, npn = site.rail, site.card("npn", BipolarCard)
        keeps = min(junctions(npn, self.pulled(rail.low), self.held(rail.low)).v_ce, npn.v_ce_sat)
        feed = from_rail(
            rail, site.demand().amps(rail.typical), npn.v_ce_sat, (keeps, keeps), site.ref("puller")
        )
        return GateDrive(
            feed=feed,
            card=site.card("card", FieldEffectCard),
            series=self.r_gate,
            pull=self.r_pull,
            high=rail.high,
            hot=site.hot,
            on_within=1e-3,
            carries=site.demand().most(site.rail.high),
            rests=site.demand().rests,
            what=site.demand().name,
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("gate", high=True),
            rail="the + rail",
            clamp=site.attached(),
        )

    def switches(self, site: Site) -> Switch:
        return self.mosfet_switch(site, site.card("card", FieldEffectCard), self.drive(site))

    def controlled(self, site: Site) -> Control:
        return Control("gate", most=site.card("card", FieldEffectCard).v_gs_max)

    # --- what is said -------------------------------------------------------------------------------
    def switch_checks(self, site: Site) -> Iterator[Check]:
        """Whether the switch carries its load, as any does."""
        demand, gate = site.demand(), self.drive(site)
        yield from peak_check(self.switches(site), site.rail, demand, self.output)
        yield from gate.checks()
        beside = self.beside(site.rail.high)
        yield from mosfet_load(site, self.switches(site), demand, gate, sinks=False, beside=beside)
        yield from back_feed(site, demand)

    def plugged_check(self, site: Site) -> Check:
        """Whether it stays off as the supply comes at once."""
        rail, card = site.rail, site.card("card", FieldEffectCard)
        return lag_check(
            site,
            jump_charge(card, rail.high),
            card.c_iss - card.c_rss + self.c_gate,
            rail.high,
            card.threshold_min,
            f"Make {site.ref('gate')} larger.",
        )
