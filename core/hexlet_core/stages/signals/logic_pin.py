"""Logic pin: a controller's output, its limits, and what it does while nobody drives it.

Choose it when a controller gives the command. Levels, limits and the boot state are the controller sheet's;
the output resistance is what lets VOH fall at its rated current.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from typing import Annotated, Literal

from pydantic import model_validator

from ...fields import Q
from ...quantity import Interval, show
from ..contract.descriptions import Measure
from ..contract.facts import Command, Level, Rest
from ..contract.parts import Corner, Placed, Pose, pin
from ..contract.ports import Port
from ..contract.scenes import Probe, Watch
from ..contract.site import Site
from ..contract.stage import Signal
from ..drawing.pen import SIGNAL_Y, Pen
from ..say.wording import Say, Sentence, Word

FLOATS = 1e10  # the resistance of a pin that nobody drives [Ω]
BOOTS = (("floating", "floating"), ("pull-up", "pulled up"), ("pull-down", "pulled down"))


class LogicPin(Signal):
    title = "Logic pin"
    purpose = "A controller's output pin gives the command."
    choose = "A controller decides when the load runs."
    avoid = "A finger or a sensor gives the command: use its own kind."
    picture = "pin"
    noun = "pin"

    kind: Literal["logic_pin"] = "logic_pin"
    level: Annotated[float, Q("V", 1.0, 30.0)] = 3.3
    spread: Annotated[float, Q("", 0.0, 0.2)] = 0.04
    level_low: Annotated[float, Q("V", 0.0, 1.5)] = 0.0
    steady: Annotated[float, Q("A", 1e-5, 1.0)] = 8e-3
    burst: Annotated[float, Q("A", 1e-5, 2.0)] = 20e-3
    resistance: Annotated[float, Q("Ω", 0.1, 1e4)] = 25.0
    boot: Literal["floating", "pull-up", "pull-down"] = "pull-up"
    boot_resistance: Annotated[float, Q("Ω", 1e3, 1e7)] = 45e3

    @model_validator(mode="after")
    def _limits(self) -> LogicPin:
        if self.burst < self.steady:
            raise ValueError("The burst limit is below the steady limit. Swap them, or check the sheet.")
        return self

    @property
    def summary(self) -> str:
        return f"{show(self.level, 'V')} pin"

    def ports(self) -> tuple[Port, ...]:
        return (Port("out", "command", "out", {"out": "pin", "ref": "zero"}),)

    def _rest(self) -> Rest:
        r = self.boot_resistance
        return {
            "floating": Rest(0.0, math.inf, "floats while it boots"),
            "pull-up": Rest(
                self.level * (1 + self.spread), r, f"has a pull-up of {show(r, 'Ω')} while it boots"
            ),
            "pull-down": Rest(0.0, r, f"has a pull-down of {show(r, 'Ω')} while it boots"),
        }[self.boot]

    def gives(self, site: Site) -> Command:
        return Command(
            high=Level(Interval.spread(self.level, self.spread), self.resistance),
            low=Level(Interval.spread(self.level_low, 0.0), self.resistance),
            rest=self._rest(),
            steady=self.steady,
            burst=self.burst,
            own=True,
        )

    def make(self, site: Site) -> Iterable[Placed]:
        volts, rest = Interval.spread(self.level, self.spread), self._rest()
        floating = (0.0, FLOATS)

        def poses(corner: Corner) -> Mapping[str, Pose]:
            top = {"min": volts.low, "typ": volts.typical, "max": volts.high}[corner.signal]
            low, high = (self.level_low, self.resistance), (top, self.resistance)
            boot = (min(rest.volts, top), min(rest.ohms, FLOATS))
            return {"low": low, "high": high, "floating": floating, "boot": boot, "idle": low, "active": high}

        yield pin("pin", "Controller's pin", {"out": "pin", "ref": "zero"}, poses)

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (
            say.field("level", note="logic pin"),
            Word(text="that gives"),
            say.field("steady", note="steady", origin="limit"),
            Word(text="or"),
            say.field("burst", note="in bursts", origin="limit"),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (
                Word(text="The load follows the pin. While the pin boots it is"),
                say.field("boot", note="boot state", choices=BOOTS),
                Word(text="by"),
                say.field("boot_resistance", note="its own resistor"),
            )
        }

    def measures(self, site: Site) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Level when high",
                mode="volts",
                red="the pin",
                black="its 0 V",
                means=(
                    "Nothing connected, the program drives it high. Loaded with what it will drive, it must "
                    "not fall much."
                ),
                path=site.path("level"),
            ),
            Measure(
                title="What it does while booting",
                mode="volts",
                red="the pin, 100k from it to 0 V",
                black="its 0 V",
                means="Hold reset. Near 0 V: it floats or pulls down. A volt or two: a weak pull-up.",
            ),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (
            Probe(
                id="pin",
                title="Pin to 0 V",
                red="the pin",
                black="its 0 V",
                signal="v(pin,zero)",
                scenes=("active",),
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (Watch(id="pin", title="Pin", unit="V", signal="v(pin,zero)", place=0),)

    def draw(self, pen: Pen, site: Site) -> None:
        at = pen.place(site.ref("pin"), "pin", pen.x + 1.0, SIGNAL_Y, label=show(self.level, "V"))
        pen.output, pen.x = at["out"], at["out"][0]
