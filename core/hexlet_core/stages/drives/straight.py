"""The command itself as the switch: the load hangs between it and 0 V.

Choose it for an LED of a few milliamps. Everything the load takes the command must give, and what a winding
kicks back goes into it.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal

from ...quantity import show
from ..contract.facts import Draw, Fact, Rail, Switch
from ..contract.parts import Placed
from ..contract.ports import Port, rail_in
from ..contract.site import Site
from ..drawing.pen import HIGH_Y, Pen
from ..rules.feed import Trickle, feed_currents, from_low_side, rest_words, rests_check
from ..rules.supplied import settled
from ..say.checks import Check, Remedy, holds, strongest, when
from .base import NoTransistor

BEYOND = 0.5  # what a command stands above its own high level [V]


class Straight(NoTransistor):
    title = "Straight from the signal"
    purpose = "The load hangs on the signal itself: no transistor."
    choose = "An LED or an input that takes less than the signal gives, at the signal's own volts."
    avoid = "A coil: its current is too much for most pins, and its kick goes into the pin."
    picture = "signal"
    output = "signal"

    kind: Literal["straight"] = "straight"

    def ports(self) -> tuple[Port, ...]:
        return (
            rail_in(),
            Port("command", "command", "in", {"out": "signal", "ref": "zero"}),
            Port("out", "load", "out", {"top": "signal", "bottom": "zero"}, side="high"),
        )

    def make(self, site: Site) -> Iterable[Placed]:
        return ()

    def tell(self, port: str, site: Site) -> Fact | None:
        if port == "rail" and site.command.own:
            return Draw(0.0)  # the command has a supply of its own
        return super().tell(port, site)

    def switches(self, site: Site) -> Switch:
        high = site.command.high
        return Switch(
            ref="",
            output="signal",
            side="high",
            rail=Rail(high.volts, resistance=high.ohms, word=site.command.name, signal=True),
            losses=(),
            breakdown=high.volts.typical + BEYOND,
            capacitance=1e-11,
            on="high",
            active=self.runs(site) == "active",
        )

    def checks(self, site: Site) -> Iterator[Check]:
        switch, demand, command = self.switches(site), site.demand(), site.command
        rail = switch.rail
        usual, most = settled(switch, demand, rail.typical).amps, demand.most(rail.high)
        surge = switch.surge(demand)
        feed = from_low_side(command)
        yield from feed_currents(
            feed,
            "",
            "",
            steady=(usual, most),
            burst=(surge, surge) if surge > 0 else None,
            formula=f"I = V_{{{command.name},max}} / R_{{load}}",
            numbers=f"= {show(most, 'A')}",
            because="All that the load takes comes out of the signal.",
            cure=Remedy(text="Let a transistor carry the load."),
        )
        if demand.winding is not None:
            yield holds(
                "kick_in",
                "Nothing kicks into the signal",
                "limit",
                "peak",
                demand.kick is not None,
                at=when("the coil lets go"),
                says=(
                    "A diode takes the coil's current."
                    if demand.kick is not None
                    else f"The coil's current goes on into the {command.name}, beyond its rails."
                ),
                formula="coil ↔ freewheel part",
                numbers="fitted" if demand.kick is not None else "none fitted",
                because=f"A {command.name} stands about {BEYOND} V beyond its own levels.",
                cure="Fit a diode across the coil, and let a transistor carry it.",
            )
        rest = command.rest
        because, words = rest_words(feed)
        volts = rest.volts / (rest.ohms + 1.0) if rest.volts > 0 else 0.0
        flows = min(volts, most)
        yield rests_check(
            "boot",
            f"Stays off while {rest.when}",
            "at rest",
            trickle=Trickle(rest.volts, flows, flows),
            rests=demand.rests,
            what=demand.name,
            control=command.name,
            at=strongest(words),
            formula="I = V_{rest} / R_{rest}",
            numbers=f"= {show(flows, 'A')} at most",
            because=because,
            cure="Let a transistor carry the load, with a pull resistor.",
            full=most if demand.stays_on else None,
        )

    def draw(self, pen: Pen, site: Site) -> None:
        (x, y), far = pen.output, pen.output[0] + 6.0
        pen.wire((x, y), (far, y), (far, HIGH_Y), load=True)
        pen.tag(site.lane("signal"), "V", far + 2.0, HIGH_Y - 2.4)
        pen.output, pen.x = (far, HIGH_Y), far
