"""A controller's pin through an optocoupler: its transistor, with a pull-down, repeats the command on the
load's supply.

Choose it when the two sides must stay apart, or when a low level must become the supply's. The transfer ratio
is counted at its least, aged; it must carry the pull-down and what the drive takes.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from typing import Annotated, Literal

from ...cards.card import OptocouplerCard
from ...fields import Q
from ...quantity import Interval, show
from ..contract.facts import Command, Level, Rest
from ..contract.parts import Corner, Placed, Pose, from_card, pin, resistor
from ..contract.ports import Port, rail_in
from ..contract.scenes import Probe, Watch
from ..contract.site import Site
from ..contract.stage import Signal
from ..drawing.pen import SIGNAL_Y, Pen
from ..drawing.switches import draw_series
from ..rules.feed import Names, from_low_side
from ..rules.light import AGEING, LedDrive
from ..say.checks import Check
from ..say.windows import Window, window
from ..say.wording import Say, Sentence, Word


class OptoSignal(Signal):
    title = "Pin through an optocoupler"
    purpose = "Light carries a controller's command across; a transistor repeats it on the drive's supply."
    choose = "The controller must stay apart from the load's circuit, or its 3.3 V must become the supply's."
    avoid = "The two sides share one 0 V anyway: then it isolates nothing."
    picture = "optocoupler"
    noun = "optocoupler"
    cards = {"card": OptocouplerCard}

    kind: Literal["opto_signal"] = "opto_signal"
    card: str = "optocoupler-35v"
    level: Annotated[float, Q("V", 1.0, 15.0)] = 3.3
    spread: Annotated[float, Q("", 0.0, 0.2)] = 0.04
    steady: Annotated[float, Q("A", 1e-5, 1.0)] = 8e-3
    resistance: Annotated[float, Q("Ω", 0.1, 1e4)] = 25.0
    r_led: Annotated[float, Q("Ω", 1.0, 1e6)] = 330.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e7)] = 10e3

    @property
    def summary(self) -> str:
        return f"{show(self.level, 'V')} pin, optocoupler"

    def ports(self) -> tuple[Port, ...]:
        return (rail_in(), Port("out", "command", "out", {"out": "signal", "ref": "zero"}))

    def _pin(self) -> Command:
        """The controller's own pin."""
        return Command(
            high=Level(Interval.spread(self.level, self.spread), self.resistance),
            low=Level(Interval.spread(0.0, 0.0), self.resistance),
            rest=Rest(0.0, 1e10, "floats while it boots"),
            steady=self.steady,
            burst=2 * self.steady,
        )

    def _led(self, site: Site) -> LedDrive:
        return LedDrive(
            feed=from_low_side(self._pin()),
            card=site.card("card", OptocouplerCard),
            series=self.r_led,
            collector=site.rail.high / self.r_pull,
            tolerance=site.tolerance,
            ref=site.ref("led"),
            names=Names("light", "opto", "led"),
            tag="opto_",
            who="Optocoupler: ",
        )

    def gives(self, site: Site) -> Command:
        led, card, rail = self._led(site), site.card("card", OptocouplerCard), site.rail
        pulled = rail.high / self.r_pull
        weakest = led.current(led.feed.on.low, 1) * card.transfer_min * AGEING - pulled
        usual = led.usual(led.feed.on.typical) * card.transfer - pulled
        limits = Interval(max(weakest, 1e-6), max(usual, weakest, 1e-6), card.led_current * card.transfer_max)
        drop = card.saturation.voltage
        volts = Interval(rail.low - drop, rail.typical - drop, rail.high - 0.5 * drop)
        return Command(
            high=Level(volts, 20.0),
            low=Level(Interval.spread(0.0, 0.0), self.r_pull),
            rest=Rest(0.0, self.r_pull, "is held down by its resistor in the dark", "the pin boots", True),
            steady=math.inf,
            burst=math.inf,
            name="optocoupler",
            follows=True,
            limits=limits,
        )

    def make(self, site: Site) -> Iterable[Placed]:
        volts, ohms = Interval.spread(self.level, self.spread), self.resistance

        def poses(corner: Corner) -> Mapping[str, Pose]:
            top = {"min": volts.low, "typ": volts.typical, "max": volts.high}[corner.signal]
            low, high, floating = (0.0, ohms), (top, ohms), (0.0, 1e10)
            return {
                "low": low,
                "high": high,
                "floating": floating,
                "boot": floating,
                "idle": low,
                "active": high,
            }

        yield pin("pin", "Controller's pin", {"out": "pin", "ref": "zero"}, poses)
        yield resistor(site, "led", "LED resistor", "r_led", "pin", "light")
        legs = {"a": "light", "k": "zero", "c": "plus", "e": "signal"}
        yield from_card(site, "opto", "U", "card", legs)
        yield resistor(site, "pull", "Pull-down", "r_pull", "signal", "zero")

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (
            say.field("level", note="logic pin"),
            Word(text="and an optocoupler behind"),
            say.field("r_led", note="LED resistor"),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (
                Word(text="The load follows the pin of"),
                say.field("level"),
                Word(text="through light; dark, the signal is held down by"),
                say.field("r_pull", note="pull-down"),
            )
        }

    def windows(self, site: Site) -> tuple[Window, ...]:
        return (window(site, "r_led", "led", "LED resistor", self._led(site).bounds()),)

    def checks(self, site: Site) -> Iterator[Check]:
        yield from self._led(site).checks()

    def cautions(self, site: Site) -> tuple[str, ...]:
        return (
            "An optocoupler isolates only if the two sides share nothing else. On one breadboard with one 0 "
            "V it shifts a level and keeps nothing apart.",
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (
            Probe(id="pin", title="Pin to 0 V", red="the pin", signal="pin", scenes=("active",)),
            Probe(id="signal", title="Signal to 0 V", red="signal strip", signal="signal"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            Watch(id="pin", title="Pin", unit="V", signal="pin", place=0),
            Watch(id="signal", title="Signal", unit="V", signal="signal", place=5),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        at = pen.place(site.ref("pin"), "pin", pen.x + 1.0, SIGNAL_Y, label=show(self.level, "V"))
        pen.output = at["out"]
        far = draw_series(pen, site, "led")
        u, r = site.ref("opto"), site.ref("pull")
        o = pen.part(site, "opto", "optocoupler", far[0] + 4.4, SIGNAL_Y - 3.0)
        # The LED's anode lies above the signal's line, its cathode on it: lead the line round.
        pen.wire(far, (far[0] + 0.7, SIGNAL_Y), (far[0] + 0.7, o["a"][1]), o["a"], part=site.ref("led"))
        pen.ground(o["k"], part=u)
        pen.wire(o["c"], (o["c"][0], 0.0), part=u)
        x = o["e"][0]
        p = pen.part(site, "pull", "resistor", x, 23.0)
        pen.wire(o["e"], p["a"], part=r)
        pen.ground(p["b"], part=r)
        pen.output, pen.x = (x, SIGNAL_Y), x
