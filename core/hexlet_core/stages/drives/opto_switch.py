"""Optocoupler as the switch: light carries the command across, and its transistor carries the load.

I_C = CTR · I_F. The transfer ratio is promised as a minimum and falls over the years, so the LED is driven
for the least one, aged.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import OptocouplerCard
from ...cards.points import opto_volts
from ...fields import Q
from ...quantity import show, show_part
from ..contract.facts import Loss, Switch
from ..contract.parts import Placed, from_card, resistor
from ..contract.site import Site
from ..drawing.pen import HEIGHT, Pen
from ..drawing.switches import draw_series, draw_up
from ..rules.feed import Names, Trickle, from_low_side, rests_check
from ..rules.kick import peak_check
from ..rules.light import LedDrive
from ..rules.switching import direct_only, load_current
from ..say.checks import Check, Shown, when
from ..say.windows import Window, window
from .base import TransistorDrive

FAINT = 0.8  # share of the LED's volts below which it gives no light that matters


class OptoSwitch(TransistorDrive):
    title = "Optocoupler"
    purpose = "Light carries the command across; its transistor switches a load of a few milliamps."
    choose = "The controller must stay apart from the load's circuit, and the load is an input or an LED."
    avoid = "The load takes more than some 10 mA: let the optocoupler drive a transistor instead."
    picture = "optocoupler"
    output = "collector"
    controls = ("light",)
    cards = {"card": OptocouplerCard}

    kind: Literal["opto_switch"] = "opto_switch"
    card: str = "optocoupler-35v"
    r_led: Annotated[float, Q("Ω", 1.0, 1e7)] = 330.0

    @property
    def summary(self) -> str:
        return f"Optocoupler, {show_part(self.r_led)} Ω"

    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "series", "LED resistor", "r_led", "signal", "light")
        legs = {"a": "light", "k": "zero", "c": "collector", "e": "zero"}
        yield from_card(site, "switch", "U", "card", legs)

    def led(self, site: Site) -> LedDrive:
        """Its LED, driven by the command."""
        return LedDrive(
            feed=from_low_side(site.command),
            card=site.card("card", OptocouplerCard),
            series=self.r_led,
            collector=site.demand().most(site.rail.high),
            tolerance=site.tolerance,
            ref=site.ref("series"),
            names=Names("light", "switch", on=self.runs(site)),
        )

    def switches(self, site: Site) -> Switch:
        card, led = site.card("card", OptocouplerCard), self.led(site)
        keeps = card.saturation.voltage

        def across(feed: float) -> Callable[[float], float]:
            lit = led.usual(feed)
            return lambda amps: opto_volts(card, amps, lit)

        return Switch(
            ref=site.ref("switch"),
            output="collector",
            side="low",
            rail=site.rail,
            losses=(Loss(across(led.feed.weak), lambda amps: keeps, across(led.feed.on.typical)),),
            breakdown=card.v_ceo,
            capacitance=1e-11,
            on="high",
            active=self.runs(site) == "active",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        return (window(site, "r_led", "series", "LED resistor", self.led(site).bounds()),)

    def checks(self, site: Site) -> Iterator[Check]:
        card, demand = site.card("card", OptocouplerCard), site.demand()
        command, amps = site.command, site.demand().most(site.rail.high)
        rest = command.rest
        yield from peak_check(self.switches(site), site.rail, demand, self.output)
        yield from self.led(site).checks()
        faint = max(rest.volts - FAINT * card.led.voltage, 0.0) / (rest.ohms + self.r_led)
        usual, most = (min(faint * ratio, amps) for ratio in (card.transfer, card.transfer_max))
        yield rests_check(
            "boot",
            f"Stays off while {rest.when}",
            "at rest",
            trickle=Trickle(min(rest.volts, card.led.voltage), usual, most),
            rests=demand.rests,
            what=demand.name,
            control="light",
            at=when(f"{command.name} {rest.words}, most transfer"),
            formula="I_{C} = CTR_{max} · (V_{rest} − V_{F}) / (R_{rest} + R)",
            numbers=f"= {card.transfer_max:g} · {show(faint, 'A')} = {show(most, 'A')}",
            because=f"The {command.name} {rest.words}.",
            cure="Put a resistor across the optocoupler's LED.",
        )
        carries = card.saturation.current * 10
        yield from load_current(
            self.switches(site),
            demand,
            carries,
            "its transistor carries",
            carries,
            "It has no more to give.",
            Shown("i(switch.c)", self.runs(site)),
        )
        yield from direct_only(site)

    def cautions(self, site: Site) -> tuple[str, ...]:
        return (
            "The optocoupler keeps the two sides apart only if nothing else joins them: here both share one "
            "0 V, so nothing is isolated on the board. Give the controller a supply of its own if it must "
            "be.",
        )

    def draw(self, pen: Pen, site: Site) -> None:
        x0, _ = pen.output
        far = draw_series(pen, site, "series")
        u = site.ref("switch")
        at = pen.part(site, "switch", "optocoupler", x0 + 13.0, 19.0)
        pen.wire(far, at["a"], part=site.ref("series"))
        pen.wire(at["k"], (at["k"][0], HEIGHT), part=u)
        pen.wire(at["e"], (at["e"][0], HEIGHT), load=True, part=u)
        pen.tag(site.lane("light"), "V", x0 + 8.0, 13.2)
        draw_up(pen, site, at["c"], "switch", "collector")
