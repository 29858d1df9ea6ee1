"""One of several by a chain of transistors: each channel hangs on normally conducting PNPs, one for every
other channel, and a button takes out those of the others while it sets its own.

Plain push buttons, no line that travels: a relay is set by its own NPN, holds itself, and is let go by the
PNPs of its chain or by one stop line for all. What it costs is a current that always flows through the PNPs'
base resistors, and the drop of the chain.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field

from ...cards.card import BipolarCard, DiodeCard, NpnCard, PnpCard, RelayCard, ZenerCard
from ...cards.points import forward_volts, junctions
from ...fields import Q
from ...quantity import show
from ..contract.parts import Placed, from_card, resistor
from ..contract.ports import Port, rail_in
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.selectors import draw_chain_selector
from ..rules.base_drive import BaseDrive, forced_gain
from ..rules.coil import time_to_rise
from ..rules.feed import Names, from_rail
from ..rules.held import OFF_BELOW
from ..rules.supplied import Supplied
from ..say.checks import Check, Shown, check, high, low, when
from ..say.windows import Window, window
from ..say.wording import Say, Sentence, Word
from .one_of_n import TAP, OneOfN

GAIN = 30.0  # forced on a coil's small current
WASTE = 30e-3  # what the chains may take for good [A]


class OneOfChain(OneOfN):
    title = "One of several, transistors"
    purpose = "Each plain button sets its own relay and lets the others go, through transistors."
    choose = "Two to four loads, small or distant push buttons, and a standing current does no harm."
    avoid = "A battery that nobody charges, or more than four channels: then changeover buttons in one line."
    cards = {
        "card": RelayCard,
        "diode": DiodeCard,
        "zener": ZenerCard,
        "pnp": PnpCard,
        "npn": NpnCard,
        "schottky": DiodeCard,
    }

    kind: Literal["one_of_chain"] = "one_of_chain"  # type: ignore[assignment]
    faster: bool = True
    count: Annotated[int, Field(ge=2, le=4)] = 3
    pnp: str = "pnp-40v-200ma"
    npn: str = "npn-40v-200ma"
    schottky: str = "schottky-1a-40v"
    r_down: Annotated[float, Q("Ω", 100.0, 1e6)] = 5.1e3
    r_be: Annotated[float, Q("Ω", 100.0, 1e7)] = 22e3
    r_set: Annotated[float, Q("Ω", 100.0, 1e6)] = 2.7e3
    r_line: Annotated[float, Q("Ω", 100.0, 1e7)] = 47e3
    r_low: Annotated[float, Q("Ω", 10.0, 1e6)] = 2.2e3
    r_up: Annotated[float, Q("Ω", 10.0, 1e6)] = 1e3

    @property
    def summary(self) -> str:
        return f"One of {self.count}, chain of PNPs"

    def ports(self) -> tuple[Port, ...]:
        buttons = [
            Port(f"button_{k}", "contact", "in", {"com": "plus", "make": f"line_{k}"}, form="make")
            for k in self.channels
        ]
        off = Port("off", "contact", "in", {"com": "reset", "make": "zero"}, form="make")
        outs = [
            Port(self.out(k), "load", "out", {"top": f"switched_{k}", "bottom": "zero"}, side="high")
            for k in self.channels
        ]
        return (rail_in(), *buttons, off, *outs)

    def others(self, k: int) -> list[int]:
        """The channels whose buttons let this one go, in their order down the chain."""
        return [j for j in self.channels if j != k]

    # --- parts --------------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "up", "Pull-up of the stop line", "r_up", "plus", "reset")
        for k in self.channels:
            yield resistor(site, f"line_{k}", f"Pull-down of button {k}", "r_line", f"line_{k}", "zero")
        for k in self.channels:
            yield from self._chain(site, k)
            yield from self._channel(site, k)

    def _chain(self, site: Site, k: int) -> Iterator[Placed]:
        """What the other buttons take out."""
        above = "plus"
        for n, j in enumerate(self.others(k)):
            last = n == self.count - 2
            below, base = f"chain_{k}" if last else f"chain_{k}_{j}", f"guard_{k}_{j}"
            yield from_card(site, f"guard_{k}_{j}", "Q", "pnp", {"c": below, "b": base, "e": above})
            yield resistor(site, f"down_{k}_{j}", "Base resistor of the chain", "r_down", base, "zero")
            yield resistor(site, f"be_{k}_{j}", "Pull-up of the chain", "r_be", above, base)
            legs = {"a": f"line_{j}", "k": base}
            yield from_card(site, f"lift_{k}_{j}", "D", "schottky", legs, mark="")
            above = below

    def _channel(self, site: Site, k: int) -> Iterator[Placed]:
        """A relay with what sets it and what lets all of them go."""
        coil, top, end, middle = self.coil(site), f"chain_{k}", f"coil_{k}", f"middle_{k}"
        legs = {"a": top, "b": end, "com": end, "no": middle, "com2": "plus", "no2": f"switched_{k}"}
        ohms = show(coil.resistance, "Ω")
        yield from_card(site, f"relay_{k}", "K", "card", legs, numbers=coil.numbers, mark=ohms)
        free = f"free_{k}" if self.faster else top
        yield from_card(site, f"diode_{k}", "D", "diode", {"a": end, "k": free}, mark="")
        if self.faster:
            yield from_card(site, f"zener_{k}", "Z", "zener", {"a": top, "k": free})
        yield resistor(site, f"set_{k}", f"Base resistor, setting {k}", "r_set", f"line_{k}", f"base_{k}")
        yield from_card(site, f"setter_{k}", "Q", "npn", {"c": end, "b": f"base_{k}", "e": middle})
        yield resistor(site, f"low_{k}", f"Base resistor, lower {k}", "r_low", "reset", f"low_{k}")
        yield from_card(site, f"lower_{k}", "Q", "npn", {"c": middle, "b": f"low_{k}", "e": "zero"})

    # --- what it takes ------------------------------------------------------------------------------
    def standing(self, volts: float) -> float:
        """What flows for good while all are off [A]: every chain's base resistors, and the stop line."""
        chains = self.count * (self.count - 1) * volts / self.r_down
        return chains + max(volts - 0.7, 0.0) / (self.r_up + self.r_low / self.count)

    def drop(self, site: Site, volts: float) -> float:
        """What the chain and both NPNs keep as a rule [V]."""
        pnp, npn, amps = site.card("pnp", BipolarCard), site.card("npn", BipolarCard), self._amps(site, volts)
        base = max(volts - 0.8, 0.0) / self.r_down
        low_base = max(volts - 0.7, 0.0) / (self.count * self.r_up + self.r_low)
        each = junctions(pnp, amps, base).v_ce
        return (self.count - 1) * each + junctions(npn, amps, low_base).v_ce

    def _amps(self, site: Site, volts: float) -> float:
        return volts / self.coil(site).resistance

    def supplied(self, site: Site) -> Supplied:
        """What a coil gets: less the chain and the transistors under it."""
        rail, pnp, npn = site.rail, site.card("pnp", BipolarCard), site.card("npn", BipolarCard)
        most = (self.count - 1) * pnp.v_ce_sat + 2 * npn.v_ce_sat
        usual = rail.low - self.drop(site, rail.low)
        high_end = rail.high - self.drop(site, rail.high)
        return Supplied(usual, rail.low - most, rail.low - usual, most, high_end, rail.high)

    def travels(self, site: Site) -> tuple[float, float]:
        return 0.0, 0.0  # plain buttons: nothing travels

    def shuts(self, site: Site, volts: float) -> float:
        coil = self.coil(site)
        ends = max(volts - self.drop(site, volts), 0.1) / coil.resistance
        return time_to_rise(coil.pull_in, ends, coil.time_constant) + coil.card.operate

    def _bases(self, site: Site) -> Iterator[BaseDrive]:
        """The lowest PNP of a chain, the setting NPN while its button is held, the lower NPN."""
        rail, pnp, npn = site.rail, site.card("pnp", BipolarCard), site.card("npn", BipolarCard)
        amps = rail.high / self.coil(site).coldest
        above = (self.count - 2) * pnp.v_ce_sat
        told: dict[str, Any] = {
            "rests": amps / 20,
            "what": "coil",
            "tolerance": site.tolerance,
            "collector": amps,
        }
        yield BaseDrive(
            feed=from_rail(rail, amps, above, (above / 3, above / 3)),
            card=pnp,
            series=self.r_down,
            pull=self.r_be,
            gain=forced_gain(pnp, GAIN),
            series_ref=site.ref("down_1_2"),
            pull_ref=site.ref("be_1_2"),
            names=Names("guard_1_2", "guard_1_2", "down_1_2", high=True),
            tag="chain_",
            who="Chain: ",
            **told,
        )
        yield BaseDrive(
            feed=from_rail(rail, amps),
            card=npn,
            series=self.r_set,
            pull=None,
            gain=forced_gain(npn, GAIN),
            series_ref=site.ref("set_1"),
            pull_ref="",
            names=Names("base_1", "setter_1", "set_1"),
            lift=npn.v_ce_sat,
            lifts=npn.v_ce_sat / 2,
            tag="set_",
            who="Setting NPN: ",
            **told,
        )
        yield BaseDrive(
            feed=from_rail(rail, amps),
            card=npn,
            series=self.count * self.r_up + self.r_low,
            pull=None,
            gain=forced_gain(npn, GAIN),
            series_ref=f"{self.count}·{site.ref('up')} + {site.ref('low_1')}",
            pull_ref="",
            names=Names("low_1", "lower_1", "low_1"),
            tag="low_",
            who="Lower NPN: ",
            **told,
        )

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        coil, rail = self.coil(site), site.rail
        shown = Shown("v(chain_1,coil_1)", "on_1", within=0.03)
        yield from coil.checks(rail, self.supplied(site), shown, "switch_", "Relays: ")
        for base in self._bases(site):
            for found in base.checks():
                if found.about == "turns on":
                    yield replace(found, shown=None)
        yield self._lifted(site)
        yield self._standing(site)
        yield from self._times(site)
        yield from self.contacts(site)

    def _lifted(self, site: Site) -> Check:
        card, rail = site.card("schottky", DiodeCard), site.rail
        amps = rail.high / self.r_down
        usual, most = forward_volts(card, amps), card.volts_near(amps)
        return check(
            "lifts",
            "A button takes the others' transistors out",
            "need",
            "turns off",
            unit="V",
            nominal=usual,
            worst=most,
            most=OFF_BELOW,
            at=high("the diode at its most"),
            says=f"Lifted, a base is {show(most, 'V')} below the rail; it is off under {OFF_BELOW} V.",
            formula="V_{F} ≤ 0.4 V",
            numbers=f"{show(most, 'V')} at {show(amps, 'A')}",
            because="The button lifts each base through a diode that keeps the lines apart.",
            cure="Take a Schottky diode.",
        )

    def _standing(self, site: Site) -> Check:
        amps = self.standing(site.rail.typical)
        pairs = self.count * (self.count - 1)
        return check(
            "standing",
            "What it takes while all are off",
            "practice",
            "at rest",
            unit="A",
            nominal=amps,
            most=WASTE,
            at=when("every chain conducting"),
            says=f"{show(amps, 'A')} for good: {pairs} base resistors and the stop line.",
            formula="N · (N − 1) · V / R_{down} + V / R_{up}",
            numbers=f"{pairs} · {show(site.rail.typical / self.r_down, 'A')} and the stop line",
            because="Transistors that conduct while nobody presses want base current all the time.",
            cure=f"Make {site.ref('down_1_2')} and its likes larger, or take changeover buttons in one line.",
        )

    def _times(self, site: Site) -> Iterator[Check]:
        rail = site.rail
        gone, next_ = self.opens(site, rail.high), self.shuts(site, rail.high)
        yield check(
            "never_two",
            "Never two at once",
            "need",
            "time",
            unit="s",
            nominal=gone,
            most=next_,
            at=high("the next pulls in fastest"),
            says=f"One opens at {show(gone, 's')}, the next shuts at {show(next_, 's')}.",
            formula="τ ln((V + V_{Z}) / (V_{drop} + V_{Z})) + t_{release} "
            "< τ ln(V / (V − V_{pull})) + t_{operate}",
            numbers=f"{show(gone, 's')} < {show(next_, 's')}",
            because="The coil that is let go keeps its contact for as long as its current lasts.",
            cure="Fit a zener in each freewheel path: it lets go several times faster.",
            changes=() if self.faster else self._fit_zeners(site),
        )
        tap = self.shuts(site, rail.low)
        yield check(
            "tap",
            "Shortest tap changes over",
            "need",
            "time",
            unit="s",
            nominal=tap,
            most=TAP,
            at=low("slowest pull-in"),
            says=f"{show(tap, 's')} are enough; a quick tap lasts {show(TAP, 's')}.",
            formula="τ ln(V / (V − V_{pull})) + t_{operate}",
            numbers=f"= {show(tap, 's')}",
            because="The relay must have pulled in before the button is let go.",
            cure="Press longer, or take a faster relay.",
        )
        amps = (self.count - 1) * rail.high / self.r_down + rail.high / self.r_set
        most = min((c.most for c in self.buttons(site)), default=math.inf)
        yield check(
            "button_carries",
            "Buttons carry the bases",
            "limit",
            "contact",
            unit="A",
            nominal=amps,
            worst=max(amps, rail.high / self.r_up),
            most=most,
            at=high("the one for off among them"),
            says=f"{show(max(amps, rail.high / self.r_up), 'A')} of {show(most, 'A')} through a button.",
            formula="I = (N − 1) · V / R_{down} + V / R_{set};  V / R_{up}",
            numbers=f"{show(amps, 'A')}; {show(rail.high / self.r_up, 'A')}",
            because="A button lifts all the others' bases and feeds its own.",
            cure="Make the base resistors larger, or take buttons for more current.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        chain, setter, lower = self._bases(site)
        rest = [
            b.model_copy(update={"value": max((b.value - self.r_low) / self.count, 1e-3)})
            for b in lower.series_bounds()
        ]
        return (
            window(site, "r_down", "down_1_2", "base resistors of the chains", chain.series_bounds()),
            window(site, "r_set", "set_1", "base resistors that set", setter.series_bounds()),
            window(site, "r_up", "up", "pull-up of the stop line", rest),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        given = super().givens(say, site, fed)["behave"]
        said = Word(text=f"One of {self.count} at a time, by a chain of PNPs; freewheel paths")
        return {"behave": (said, *given[1:])}

    def draw(self, pen: Pen, site: Site) -> None:
        draw_chain_selector(pen, site, self.count, self.faster)
