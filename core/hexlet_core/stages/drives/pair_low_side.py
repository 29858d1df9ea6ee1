"""Two NPN transistors as a high-gain pair: the first one's emitter feeds the second one's base.

Gains multiply, so a weak pin drives amps; but the output never falls below the second one's VBE plus the
first one's VCE(sat): that drop heats, and starves a load on a low supply.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import BipolarCard, NpnCard
from ...fields import Q
from ...quantity import show_part
from ..contract.facts import Control, Switch
from ..contract.parts import Placed, from_card, resistor
from ..contract.site import Site
from ..drawing.pen import HEIGHT, OUTPUT_Y, Pen
from ..drawing.switches import draw_pull, draw_series
from ..rules.base_drive import BaseDrive
from ..rules.feed import Names, from_low_side
from ..rules.kick import peak_check, stands
from ..rules.saturated import bipolar_load
from ..rules.switching import direct_only
from ..say.checks import Check
from ..say.windows import Window, window
from .base import Cooled

OVERDRIVE = 4.0  # of the product of the two least gains: two in each


class PairLowSide(Cooled):
    title = "High-gain pair"
    purpose = "Two NPN transistors, the first one driving the second, pull the load to 0 V."
    choose = "The pin is weak, only bipolars are in the drawer, and a volt of drop does not matter."
    avoid = "The supply is low or the load draws amps: the drop of about a volt heats and starves."
    picture = "npn"
    output = "collector"
    controls = ("base", "middle")
    main = "base"
    cards = {"first": NpnCard, "card": NpnCard}

    kind: Literal["pair_low_side"] = "pair_low_side"
    first: str = "npn-40v-200ma"
    card: str = "npn-60v-1a"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] = 10e3
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 15e3

    @property
    def summary(self) -> str:
        return f"Pair, {show_part(self.r_base)} Ω"

    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "series", "Base resistor", "r_base", "signal", "base")
        if self.r_pull is not None:
            yield resistor(site, "pull", "Base pull-down", "r_pull", "base", "zero")
        yield from_card(site, "first", "Q", "first", {"c": "collector", "b": "base", "e": "middle"})
        yield from_card(site, "switch", "Q", "card", {"c": "collector", "b": "middle", "e": "zero"})

    def _drop(self, site: Site) -> float:
        """What the output keeps above the second one's VCE(sat) [V]."""
        first, second = site.card("first", BipolarCard), site.card("card", BipolarCard)
        return first.v_ce_sat + second.v_be_sat - second.v_ce_sat

    def base(self, site: Site) -> BaseDrive:
        """Both bases as one, driven by the command."""
        first, second = site.card("first", BipolarCard), site.card("card", BipolarCard)
        return BaseDrive(
            feed=from_low_side(site.command),
            card=second,
            series=self.r_base,
            pull=self.r_pull,
            collector=site.demand().most(site.rail.high),
            rests=site.demand().rests,
            what=site.demand().name,
            stays_on=site.demand().stays_on,
            gain=first.gain_min * second.gain_min / OVERDRIVE,
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("base", base="first", on=self.runs(site)),
            first=first,
        )

    def switches(self, site: Site) -> Switch:
        return self.bipolar_switch(site, self.base(site), self._drop(site))

    def controlled(self, site: Site) -> Control:
        return Control("base", reverse=site.card("first", BipolarCard).v_ebo)

    def windows(self, site: Site) -> tuple[Window, ...]:
        base = self.base(site)
        return (
            window(site, "r_base", "series", "base resistor", base.series_bounds()),
            window(site, "r_pull", "pull", "base pull-down", base.pull_bounds(), without=math.inf),
        )

    def checks(self, site: Site) -> Iterator[Check]:
        base = self.base(site)
        yield from peak_check(self.switches(site), site.rail, site.demand(), self.output)
        yield from base.checks()
        yield from bipolar_load(
            site, self.switches(site), site.demand(), base, self._drop(site), heatsink=self.heatsink
        )
        first = site.card("first", BipolarCard)
        yield stands(site.ref("first"), site.rail.high, first.v_ceo, "first_", "First: ")
        yield from direct_only(site)

    def draw(self, pen: Pen, site: Site) -> None:
        x0, y = pen.output
        far = draw_series(pen, site, "series")
        first, second = site.ref("first"), site.ref("switch")
        a = pen.part(site, "first", "npn", x0 + 12.6, y, side="left")
        pen.wire(far, a["b"], part=site.ref("series"))
        draw_pull(pen, site, "pull", (x0 + 7.8, y), HEIGHT)
        b = pen.part(site, "switch", "npn", x0 + 19.0, y + 3.0)
        pen.wire(a["e"], b["b"], part=first)
        pen.wire(a["c"], (a["c"][0], OUTPUT_Y), (b["c"][0], OUTPUT_Y), load=True, part=first)
        pen.wire(b["c"], (b["c"][0], OUTPUT_Y), load=True, part=second)
        pen.wire(b["e"], (b["e"][0], HEIGHT), load=True, part=second)
        pen.tag(site.lane("base"), "V", x0 + 7.2, y - 2.8)
        pen.tag(site.lane("collector"), "V", a["c"][0] - 2.0, OUTPUT_Y)
        pen.control, pen.output = (x0 + 7.8, y), (b["c"][0], OUTPUT_Y)
        pen.x = b["c"][0]
