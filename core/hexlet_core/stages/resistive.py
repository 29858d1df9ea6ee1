"""Resistive load: a heater or power resistor straight on the switch."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import StringConstraints

from ..circuit.devices import Device, Resistor
from ..fields import Q
from ..quantity import show
from .contract import Corner, Demand, Measure, Schedule, View
from .findings import Remedy, Verdict, Working, judge
from .two_wire import TwoWire
from .wording import Say, Sentence, Word


class Resistive(TwoWire):
    title = "Heater or resistor"
    purpose = "A resistance turns current into heat."
    choose = "The load is a heater, a power resistor, or well described by one."
    avoid = "It has a coil, a motor or a filament: those draw more at the start or kick at the end."
    letters = {"load": "R"}

    kind: Literal["resistive"] = "resistive"
    resistance: Annotated[float, Q("Ω", 0.1, 1e6)] = 100.0
    power: Annotated[float, Q("W", 1e-3, 1e4)] = 5.0
    name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)] = "Heater"

    def shown(self) -> tuple[str, str, str]:
        return self.name, show(self.resistance, "Ω"), "resistance"

    def rating(self) -> str:
        return show(self.power, "W")

    @property
    def summary(self) -> str:
        return f"{show(self.resistance, 'Ω')} {self.name.lower()}"

    def phrase(self, say: Say) -> Sentence:
        return (say.field("resistance"), Word(text=self.name.lower()))

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                Word(text="A"),
                say.field("name", note="what it is"),
                Word(text="of"),
                say.field("resistance"),
                Word(text="that stands"),
                say.field("power", note="rated"),
                *fed,
            )
        }

    def measures(self, view: View) -> tuple[Measure, ...]:
        return (
            Measure(
                title=f"Resistance of the {self.name.lower()}",
                mode="ohms",
                red="one lead",
                black="the other lead",
                path=view.path("resistance"),
                means=(
                    "Power off, one lead free. Take the leads' own resistance off: touch the probes "
                    "together and subtract that."
                ),
            ),
        )

    def demand(self, view: View) -> Demand:
        r = self.resistance
        return Demand(cold=r, typical=r, hot=r, name=self.name.lower(), energised=f"{self.name} is on")

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        watts = view.high**2 / self.resistance
        return (
            judge(
                "load_power",
                "load",
                f"{self.name} on a full {view.supply_name}",
                nominal=watts,
                worst=watts,
                limit=self.power,
                unit="W",
                sense="at most",
                corner="supply high",
                sentence=f"Turns {show(watts, 'W')} into heat, rated {show(self.power, 'W')}.",
                working=Working(
                    formula="P = V_{high}^2 / R",
                    substituted=f"= {view.high:.3g}² / {show(self.resistance, 'Ω')} = {show(watts, 'W')}",
                    reason=(
                        "The highest supply counts, and it stays on. Hot parts burn fingers and boards: "
                        "leave room around it."
                    ),
                ),
                remedy=Remedy(text="Take a higher resistance, or one rated for more watts."),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield Resistor(name=view.refs["load"], a=view.top, b=view.bottom, resistance=self.resistance)
