"""Two NPN transistors in series: the upper one sets (normally off), the lower one resets (normally on).

Both drops add. The upper one's base drive is referred to the lower one's collector. The lower one conducts
through its pull-up and base resistor until the reset button takes that away; one pull-up may feed several
such bases, and must be able to.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from ...cards.card import BipolarCard, NpnCard
from ...fields import Q
from ...quantity import show_part
from ..contract.facts import Control, Loss, Switch
from ..contract.parts import Placed, button, from_card, resistor
from ..contract.site import Site
from ..drawing.pen import HEIGHT, Pen
from ..drawing.switches import draw_pull, draw_series, draw_up
from ..rules.base_drive import BaseDrive, forced_gain
from ..rules.feed import Names, from_low_side, from_rail
from ..rules.kick import peak_check
from ..rules.saturated import bipolar_load
from ..rules.supplied import settled
from ..rules.switching import direct_only
from ..say.checks import Check
from ..say.windows import Bound, Window, window
from .base import Cooled


class SeriesPair(Cooled):
    title = "Stacked pair"
    purpose = "Two NPN transistors in a row: both must conduct, and a reset button takes the lower one out."
    choose = "A signal sets and a button must always win, or one of several channels is to be interrupted."
    avoid = "The supply is low: two drops add up and starve the load."
    picture = "npn"
    output = "collector"
    controls = ("base", "middle", "reset")
    main = "base"
    cards = {"card": NpnCard, "lower": NpnCard}

    kind: Literal["series_pair"] = "series_pair"
    card: str = "npn-60v-1a"
    lower: str = "npn-60v-1a"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] = 270.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 4700.0
    r_low: Annotated[float, Q("Ω", 1.0, 1e7)] = 470.0
    r_up: Annotated[float, Q("Ω", 1.0, 1e7)] = 330.0
    shared: Annotated[int, Field(ge=1, le=12)] = 1  # bases on one pull-up, this one counted

    @property
    def summary(self) -> str:
        return f"Stacked, {show_part(self.r_base)} and {show_part(self.r_up)} Ω"

    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "series", "Base resistor", "r_base", "signal", "base")
        if self.r_pull is not None:
            yield resistor(site, "pull", "Base pull-down", "r_pull", "base", "zero")
        yield from_card(site, "switch", "Q", "card", {"c": "collector", "b": "base", "e": "middle"})
        yield resistor(site, "low_base", "Lower base resistor", "r_low", "low_base", "reset")
        yield resistor(site, "up", "Pull-up", "r_up", "plus", "reset")
        yield from_card(site, "lower", "Q", "lower", {"c": "middle", "b": "low_base", "e": "zero"})
        legs = {"com": "reset", "no": "zero"}
        yield button("reset", "Push button, normally open", legs, value="reset", mark="reset")

    def _bases(self, site: Site) -> tuple[BaseDrive, BaseDrive]:
        """The upper one on the command, the lower one on its pull-up."""
        upper, lower = site.card("card", BipolarCard), site.card("lower", BipolarCard)
        amps = site.demand().most(site.rail.high)
        # N bases share the pull-up: each sees it N times as large.
        shared = f"{self.shared}·" if self.shared > 1 else ""
        bottom = BaseDrive(
            feed=from_rail(site.rail, amps),
            card=lower,
            series=self.shared * self.r_up + self.r_low,
            pull=None,
            collector=amps,
            rests=site.demand().rests,
            what=site.demand().name,
            gain=forced_gain(lower),
            tolerance=site.tolerance,
            series_ref=f"{shared}{site.ref('up')} + {site.ref('low_base')}",
            pull_ref="R_{pull}",
            names=Names("low_base", "lower", "low_base", on=self.runs(site)),
            tag="reset_",
            who="Lower: ",
        )
        top = BaseDrive(
            feed=from_low_side(site.command),
            card=upper,
            series=self.r_base,
            pull=self.r_pull,
            collector=amps,
            rests=site.demand().rests,
            what=site.demand().name,
            gain=forced_gain(upper),
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("base", on=self.runs(site)),
            lift=lower.v_ce_sat,
            lifts=lower.v_ce_sat,
        )
        # The lower one may not carry it all: then it keeps more, and lifts the upper one's emitter.
        alone = replace(
            self.bipolar_switch(site, top),
            losses=(
                Loss(lambda i: bottom.across(i, bottom.feed.weak) + upper.v_ce_sat, lambda i: upper.v_ce_sat),
            ),
        )
        flows = settled(alone, site.demand(), site.rail.low).amps
        top = replace(top, lifts=bottom.across(flows, bottom.feed.weak))
        return top, bottom

    def switches(self, site: Site) -> Switch:
        upper, lower = site.card("card", BipolarCard), site.card("lower", BipolarCard)
        both = upper.v_ce_sat + lower.v_ce_sat
        top, bottom = self._bases(site)

        def lost(amps: float) -> float:
            return top.across(amps, top.feed.weak) + bottom.across(amps, bottom.feed.weak)

        def full(amps: float) -> float:
            return top.across(amps, top.usual) + bottom.across(amps, bottom.usual)

        return replace(self.bipolar_switch(site, top), losses=(Loss(lost, lambda amps: both, full),))

    def controlled(self, site: Site) -> Control:
        return Control("base", reverse=site.card("card", BipolarCard).v_ebo)

    def windows(self, site: Site) -> tuple[Window, ...]:
        top, bottom = self._bases(site)

        def up(b: Bound) -> Bound:
            return b.model_copy(update={"value": max((b.value - self.r_low) / self.shared, 1e-3)})

        lower = [up(b) for b in bottom.series_bounds()]
        return (
            window(site, "r_base", "series", "base resistor", top.series_bounds()),
            window(site, "r_pull", "pull", "base pull-down", top.pull_bounds(), without=math.inf),
            window(site, "r_up", "up", "pull-up of the lower one", lower),
        )

    def checks(self, site: Site) -> Iterator[Check]:
        top, bottom = self._bases(site)
        yield from peak_check(self.switches(site), site.rail, site.demand(), self.output)
        yield from top.checks()
        for found in bottom.checks():
            if found.id == "reset_unplugged":
                continue  # it is meant to conduct
            if found.id == "reset_fully_on" and self.shared > 1:
                found = replace(found, says=f"{self.shared} bases share one pull-up. {found.says}")
            yield found
        yield from bipolar_load(site, self.switches(site), site.demand(), top, heatsink=self.heatsink)
        yield from direct_only(site)

    def draw(self, pen: Pen, site: Site) -> None:
        x0, y = pen.output
        far = draw_series(pen, site, "series")
        q, low = site.ref("switch"), site.ref("lower")
        t = pen.part(site, "switch", "npn", x0 + 12.6, y)
        pen.wire(far, t["b"], part=site.ref("series"))
        draw_pull(pen, site, "pull", (x0 + 7.8, y), HEIGHT)
        pen.control = (x0 + 7.8, y)
        x = t["e"][0]
        b = pen.part(site, "lower", "npn_left", x + 2.0, 24.0, side="left")
        pen.wire(t["e"], b["c"], load=True, part=q)
        pen.wire(b["e"], (x, HEIGHT), load=True, part=low)
        r = pen.part(site, "low_base", "resistor", b["b"][0] + 3.0, 24.0, turn=270, side="above")
        node, up = r["b"], site.ref("up")
        u = pen.part(site, "up", "resistor", node[0], 15.5)
        pen.wire((node[0], 0.0), u["a"], part=up)
        pen.wire(u["b"], node, part=up)
        pen.part(site, "reset", "button_no", node[0], 27.0)
        pen.tag(site.lane("base"), "V", x0 + 7.2, y - 2.8)
        draw_up(pen, site, t["c"], "switch", "collector")
        pen.x = node[0] + 1.5
