"""Logic pin: a controller's output, its limits, and what it does while nobody drives it.

Choose it when a controller gives the command. Levels, limits and the boot state are the controller
sheet's; the output resistance is what lets VOH fall at its rated current.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import model_validator

from ..circuit.devices import Device, Pin
from ..fields import Q
from ..quantity import Interval, show
from .contract import Corner, Measure, Offer, Probe, Rest, Schedule, Stage, View, Watch, pin_steps
from .drawing import SIGNAL_Y, Pen
from .wording import Say, Sentence, Word


class LogicPin(Stage):
    role = "signal"
    title = "Logic pin"
    purpose = "A controller's output pin gives the command."
    choose = "A controller decides when the load runs."
    avoid = "A finger or a sensor gives the command: use its own kind."
    letters = {"pin": "P"}
    output = "pin"

    kind: Literal["logic_pin"] = "logic_pin"
    level: Annotated[float, Q("V", 1.0, 15.0)] = 3.3
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

    def phrase(self, say: Say) -> Sentence:
        return (
            say.field("level", note="logic pin"),
            Word(text="that gives"),
            say.field("steady", note="steady", origin="limit"),
            Word(text="or"),
            say.field("burst", note="in bursts", origin="limit"),
        )

    def measures(self, view: View) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Level when high",
                mode="volts",
                red="the pin",
                black="its 0 V",
                means=(
                    "Nothing connected, the program drives it high. Loaded with what it will drive, it "
                    "must not fall much."
                ),
                path=view.path("level"),
            ),
            Measure(
                title="What it does while booting",
                mode="volts",
                red="the pin, 100k from it to 0 V",
                black="its 0 V",
                means="Hold reset. Near 0 V: it floats or pulls down. A volt or two: a weak pull-up.",
            ),
        )

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        states = (("floating", "floating"), ("pull-up", "pulled up"), ("pull-down", "pulled down"))
        return {
            "behave": (
                Word(text="The load follows the pin. While the pin boots it is"),
                say.field("boot", note="boot state", choices=states),
                Word(text="by"),
                say.field("boot_resistance", note="its own resistor"),
            )
        }

    def offer(self, view: View) -> Offer:
        r = self.boot_resistance
        rest = {
            "floating": Rest(0.0, math.inf, "floats while it boots"),
            "pull-up": Rest(
                self.level * (1 + self.spread), r, f"has a pull-up of {show(r, 'Ω')} while it boots"
            ),
            "pull-down": Rest(0.0, r, f"has a pull-down of {show(r, 'Ω')} while it boots"),
        }[self.boot]
        return Offer(
            Interval.spread(self.level, self.spread),
            self.level_low,
            self.steady,
            self.burst,
            self.resistance,
            rest,
            own=True,
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield Pin(
            name=view.refs["pin"],
            out=view.nodes["out"],
            ref=view.ground,
            steps=pin_steps(self.offer(view), schedule, corner.signal),
        )

    def draw(self, pen: Pen, view: View) -> None:
        at = pen.place(view.refs["pin"], "pin", pen.x + 1.0, SIGNAL_Y, label=f"{show(self.level, 'V')} pin")
        pen.output, pen.x = at["out"], at["out"][0]

    def probes(self, view: View) -> tuple[Probe, ...]:
        node = view.nodes["out"]
        return (
            Probe(
                id="pin",
                title="Pin to 0 V",
                red="the pin",
                black="0 V rail",
                quantity="voltage",
                node=node,
                states=(view.on,),
            ),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        return (Watch(id="pin", title="Pin", unit="V", signal=view.nodes["out"], place=0),)
