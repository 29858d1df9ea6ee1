"""Transistor driving a transistor: the first one takes the second one's base current away, so the sense is
inverted.

The first one's collector resistor is the second one's base resistor: it drives the base while the first is
off, and is the first one's load while it is on. An LED in that collector shows the state, and takes its drop
from the base's drive.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import BipolarCard, NpnCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.facts import Control, Switch
from ..contract.parts import Placed, from_card, resistor
from ..contract.site import Site
from ..drawing.pen import HEIGHT, SIGNAL_Y, Pen
from ..drawing.switches import BIPOLAR, draw_low_side, draw_up
from ..rules.base_drive import BaseDrive, forced_gain
from ..rules.feed import Names, from_low_side, from_rail, rests_check
from ..rules.kick import peak_check
from ..rules.saturated import bipolar_load
from ..rules.switching import direct_only
from ..say.checks import Change, Check, Remedy, check, when
from ..say.windows import Window, window
from .base import Cooled

SPARE = 0.1  # share of the second one's base current that nobody misses


class ChainLowSide(Cooled):
    title = "Transistor on transistor"
    purpose = "One NPN takes the base current of another away: the load runs while the signal is low."
    choose = "The sense must be inverted, or the load shall run when the signal's wire breaks."
    avoid = "The load must stay off while the controller boots: it runs until the first transistor is driven."
    picture = "npn"
    output = "collector"
    controls = ("first_base", "base")
    main = "base"
    cards = {"first": NpnCard, "card": NpnCard}

    kind: Literal["chain_low_side"] = "chain_low_side"
    first: str = "npn-40v-200ma"
    card: str = "npn-60v-1a"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] = 1800.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = None
    r_collector: Annotated[float, Q("Ω", 1.0, 1e7)] = 820.0

    @property
    def summary(self) -> str:
        return f"Inverting, {show_part(self.r_collector)} Ω"

    @property
    def inverts(self) -> bool:
        return True

    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "series", "Base resistor", "r_base", "signal", "first_base")
        if self.r_pull is not None:
            yield resistor(site, "pull", "Base pull-down", "r_pull", "first_base", "zero")
        yield from_card(site, "first", "Q", "first", {"c": "base", "b": "first_base", "e": "zero"})
        yield resistor(site, "collector", "Collector resistor", "r_collector", "plus", "base")
        yield from_card(site, "switch", "Q", "card", {"c": "collector", "b": "base", "e": "zero"})

    def _bases(self, site: Site) -> tuple[BaseDrive, BaseDrive]:
        first, second = site.card("first", BipolarCard), site.card("card", BipolarCard)
        # Told to be off and at rest are the same here: the first one must be driven for the load to stop.
        inner = BaseDrive(
            feed=from_low_side(site.command, rest=False),
            card=first,
            series=self.r_base,
            pull=self.r_pull,
            collector=site.rail.high / self.r_collector,
            rests=SPARE * site.rail.high / self.r_collector,
            what="second transistor",
            gain=forced_gain(first),
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            tag="first_",
            who="First: ",
            names=Names("first_base", "first", on="idle" if self.runs(site) == "active" else "active"),
        )
        outer = BaseDrive(
            feed=from_rail(site.rail, site.demand().amps(site.rail.typical)),
            card=second,
            series=self.r_collector,
            pull=None,
            collector=site.demand().most(site.rail.high),
            rests=site.demand().rests,
            what=site.demand().name,
            gain=forced_gain(second),
            tolerance=site.tolerance,
            series_ref=site.ref("collector"),
            pull_ref="R_{pull}",
            names=Names("base", series="collector", on=self.runs(site)),
        )
        return inner, outer

    def switches(self, site: Site) -> Switch:
        return self.bipolar_switch(site, self._bases(site)[1])

    def controlled(self, site: Site) -> Control:
        return Control("base", reverse=site.card("card", BipolarCard).v_ebo)

    def windows(self, site: Site) -> tuple[Window, ...]:
        inner, outer = self._bases(site)
        return (
            window(site, "r_base", "series", "base resistor", inner.series_bounds()),
            window(site, "r_collector", "collector", "collector resistor", outer.series_bounds()),
        )

    def checks(self, site: Site) -> Iterator[Check]:
        inner, outer = self._bases(site)
        unplugged = {"unplugged", "first_unplugged"}  # unplugged it runs, which `boot` says
        yield from peak_check(self.switches(site), site.rail, site.demand(), self.output)
        yield from (c for c in (*inner.checks(), *outer.checks()) if c.id not in unplugged)
        yield from bipolar_load(site, self.switches(site), site.demand(), outer, heatsink=self.heatsink)
        yield from direct_only(site)
        command, rest = site.command, site.command.rest
        if site.demand().stays_on:
            found, pull = inner.trickle(rest.volts, rest.ohms), Change(path=site.path("r_pull"), value=10e3)
            yield rests_check(
                "boot",
                f"Stays on while {rest.when}",
                "at rest",
                trickle=found,
                rests=inner.rests,
                what=inner.what,
                control="first base",
                at=when(f"{command.name} {rest.words}"),
                formula="V_{B} = V_{rest} · R_{pull} / (R_{rest} + R_{B} + R_{pull})",
                numbers=f"{show(found.level, 'V')} at the first base",
                because=f"The {command.name} {rest.words}. What the first one takes, the second one lacks.",
                cure=Remedy(text="Fit a pull-down at the first base", changes=(pull,)),
            )
        else:
            yield self._held_off(site, inner)
        left = inner.card.v_ce_sat
        yield check(
            "off_level",
            "Turned fully off",
            "need",
            "turns off",
            unit="V",
            nominal=left,
            most=outer.off,
            at=when("first transistor saturated"),
            says=(
                f"The first one leaves {show(left, 'V')} at the base; over {show(outer.off, 'V')} it "
                "conducts."
            ),
            formula="V_{CE,sat} ≤ 0.4 V",
            numbers=f"{show(left, 'V')} ≤ {show(outer.off, 'V')}",
            because="A saturated transistor keeps less than a base needs.",
            cure="Take a first transistor with a lower VCE(sat).",
        )

    def _held_off(self, site: Site, inner: BaseDrive) -> Check:
        """Whether the command at rest drives the first one, so that the load stays off."""
        command, rest = site.command, site.command.rest
        ohms = rest.ohms + self.r_base
        given = 0.0 if rest.floats else (rest.volts - 0.7) / ohms
        gets = max(given - (0.7 / self.r_pull if self.r_pull else 0.0), 0.0)
        return check(
            "boot",
            f"Stays off while {rest.when}",
            "need",
            "at rest",
            unit="A",
            nominal=gets,
            least=inner.saturates_from,
            at=when(f"{command.name} {rest.words}"),
            says=(
                f"The first transistor needs {show(inner.saturates_from, 'A')} to hold it off, gets "
                f"{show(gets, 'A')}."
            ),
            formula="I_{B} = (V_{rest} − V_{BE}) / (R_{rest} + R_{B})",
            numbers=f"= {show(gets, 'A')}",
            because=(
                f"The {command.name} {rest.words}. An inverting drive runs the load until it is told not to."
            ),
            cure="Take a drive that does not invert, or accept that the load runs until the program starts.",
        )

    def draw(self, pen: Pen, site: Site) -> None:
        t = draw_low_side(pen, site, "npn", BIPOLAR, "first_base", local="first")
        x, y = t["c"]
        ref, q = site.ref("collector"), site.ref("switch")
        r = pen.part(site, "collector", "resistor", x, 4.5)
        pen.wire((x, 0.0), r["a"], part=ref)
        pen.wire(r["b"], (x, y), part=ref)
        s = pen.part(site, "switch", "npn", x + 7.0, SIGNAL_Y)
        pen.wire((x, y), (x + 2.6, y), (x + 2.6, SIGNAL_Y), s["b"], part=ref)
        pen.control = (x + 2.6, SIGNAL_Y)
        pen.wire(s["e"], (s["e"][0], HEIGHT), load=True, part=q)
        pen.tag(site.lane("base"), "V", x + 3.4, y - 2.0)
        draw_up(pen, site, s["c"], "switch", "collector")
