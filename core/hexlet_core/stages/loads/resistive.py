"""Heater or resistor: a resistance turns current into heat, P = V²/R at the highest supply."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from pydantic import StringConstraints

from ...circuit.devices import Resistor
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import Measure
from ..contract.facts import Demand
from ..contract.parts import LABEL, Placed, two_wire
from ..contract.site import Site
from ..rules.supplied import settled, supplied
from ..say.checks import HIGH, Check, Shown, check
from ..say.wording import Say, Sentence, Word
from .two_wire import TwoWire

COOL = 0.01  # share of the heat it stands that nobody notices


class Resistive(TwoWire):
    title = "Heater or resistor"
    purpose = "A resistance turns current into heat."
    choose = "The load is a heater, a power resistor, or well described by one."
    avoid = "It has a coil, a motor or a filament: those draw more at the start or kick at the end."
    picture = "heater"

    kind: Literal["resistive"] = "resistive"
    resistance: Annotated[float, Q("Ω", 0.1, 1e6)] = 100.0
    power: Annotated[float, Q("W", 1e-3, 1e4)] = 5.0
    name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)] = "Heater"

    @property
    def summary(self) -> str:
        return f"{show(self.resistance, 'Ω')} {self.name.lower()}"

    def shown(self) -> tuple[str, str, str]:
        return self.name, show(self.resistance, "Ω"), "resistance"

    def make(self, site: Site) -> Iterable[Placed]:
        ohms = self.resistance
        stands = show(self.power, "W")
        yield two_wire(
            "load",
            "R",
            device=Resistor,
            numbers=lambda c: {"resistance": ohms, "tolerance": LABEL},
            rating=stands,
            **self.described(),
        )

    def takes(self, site: Site) -> Demand:
        r = self.resistance
        rests = math.sqrt(COOL * self.power / r)
        return Demand.ohmic(r, r, r, name=self.name.lower(), energised=f"{self.name} is on", rests=rests)

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (say.field("resistance"), Word(text=self.name.lower()))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
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

    def checks(self, site: Site) -> Iterator[Check]:
        rail = site.rail
        usual = settled(site.switch, self.takes(site), rail.high)
        top = supplied(site.switch, self.takes(site)).highest
        watts = top**2 / self.resistance
        yield check(
            "load_power",
            f"{self.name} on a full {rail.word}",
            "limit",
            "supply high",
            unit="W",
            nominal=usual.volts * usual.amps,
            worst=watts,
            most=self.power,
            at=HIGH,
            says=f"Turns {show(watts, 'W')} into heat, rated {show(self.power, 'W')}.",
            formula="P = V_{high}^2 / R",
            numbers=f"= {top:.3g}² / {show(self.resistance, 'Ω')} = {show(watts, 'W')}",
            because=(
                "The highest supply counts, and it stays on. Hot parts burn fingers and boards: leave room "
                "around it."
            ),
            cure="Take a higher resistance, or one rated for more watts.",
            shown=Shown("p(load)", site.switch.runs, floor=1e-3),
        )

    def measures(self, site: Site) -> tuple[Measure, ...]:
        return (
            Measure(
                title=f"Resistance of the {self.name.lower()}",
                mode="ohms",
                red="one lead",
                black="the other lead",
                path=site.path("resistance"),
                means=(
                    "Power off, one lead free. Take the leads' own resistance off: touch the probes together "
                    "and subtract that."
                ),
            ),
        )
