"""AC load: something on alternating current, rated in rms volts; above the wall it is ratings only."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from pydantic import StringConstraints

from ...circuit.devices import Resistor
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import Measure
from ..contract.facts import Demand, Inrush, Winding
from ..contract.parts import Placed, two_wire
from ..contract.site import Site
from ..rules.contact import STARTS
from ..rules.supplied import supplied
from ..say.checks import HIGH, Check, check, holds, low, when
from ..say.wording import Say, Sentence, Word
from .two_wire import TwoWire

USES = (("resistive", "a heater"), ("lamp", "a filament lamp"), ("motor", "a motor or transformer"))
DARK = 0.15  # share of its current at which nobody notices it
OVER = 1.2  # of the rated volts that an AC load stands
BRIGHT = 0.8  # of them that it should get
MOTOR_TIME = 1e-3  # inductance over resistance of a motor, assumed [s]


class AcLoad(TwoWire):
    title = "AC load"
    purpose = "Something on alternating current: up to 30 V it can be built, above that ratings only."
    choose = "A low-voltage lamp or heater on a transformer, behind a bridge with one MOSFET."
    avoid = "A relay's contact would do: then the relay coil is the load here."
    picture = "ac"
    symbol = "lamp"

    kind: Literal["ac_load"] = "ac_load"
    use: Literal["resistive", "lamp", "motor"] = "lamp"
    volts: Annotated[float, Q("V", 1.0, 500.0)] = 12.0
    watts: Annotated[float, Q("W", 0.1, 5000.0)] = 20.0
    name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)] = "Path lamp"

    @property
    def summary(self) -> str:
        return f"{show(self.watts, 'W')} {self.name.lower()}"

    def shown(self) -> tuple[str, str, str]:
        return self.name, show(self.watts, "W"), "watts"

    @property
    def _ohms(self) -> float:
        return self.volts**2 / self.watts

    def make(self, site: Site) -> Iterable[Placed]:
        ohms, stands = self._ohms, f"{show(self.volts, 'V')} AC"
        yield two_wire(
            "load",
            "E",
            device=Resistor,
            numbers=lambda c: {"resistance": ohms},
            rating=stands,
            **self.described(),
        )

    def takes(self, site: Site) -> Demand:
        r, starts = self._ohms, STARTS[self.use]
        words = f"a cold start of {starts:g} times, at the crest"
        return Demand.ohmic(
            r,
            r,
            r,
            name=self.name.lower(),
            energised=f"{self.name} is on",
            use=self.use,
            winding=Winding(MOTOR_TIME * r) if self.use == "motor" else None,
            inrush=Inrush(r / starts, words, 0.01, pulse=0.01 / 3) if starts > 1 else None,
            rests=DARK * self.volts / r,
        )

    def phrase(self, say: Say, site: Site) -> Sentence:
        at = Word(text=f"{self.name.lower()} at")
        return (say.field("watts"), at, say.field("volts", note="rms, on its base"))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                Word(text="A"),
                say.field("name", note="what it is"),
                Word(text="which is"),
                say.field("use", note="type of load", choices=USES),
                Word(text="of"),
                say.field("watts", note="on its base"),
                Word(text="at"),
                say.field("volts", note="rms, on its base"),
                *fed,
            )
        }

    def checks(self, site: Site) -> Iterator[Check]:
        rail = site.rail
        yield holds(
            "load_ac",
            "Supply is AC",
            "need",
            "place",
            rail.ac,
            at=when("kind of supply"),
            says="On a transformer." if rail.ac else "The supply is direct current.",
            formula="AC load ↔ AC supply",
            numbers="transformer" if rail.ac else "direct current",
            because=(
                "An AC load is rated in rms volts; a bridge carries both half waves through one MOSFET."
            ),
            cure="Choose “transformer” as the kind of supply, and the bridge as the drive.",
        )
        most = OVER * self.volts
        yield check(
            "load_over",
            f"{self.name} on the highest voltage",
            "limit",
            "supply high",
            unit="V",
            nominal=rail.high,
            most=most,
            at=HIGH,
            says=f"Gets {show(rail.high, 'V')} rms, stands {show(most, 'V')}.",
            formula=f"V_{{high}} ≤ {OVER} · V_{{rated}}",
            numbers=f"{rail.high:.3g} ≤ {most:.3g}",
            because="Transformers give more at little load.",
            cure="Take a load for a higher voltage.",
        )
        gets = supplied(site.switch, self.takes(site)).low_worst
        yield check(
            "load_bright",
            "Gets most of its volts",
            "practice",
            "gets its volts",
            unit="V",
            nominal=gets,
            least=BRIGHT * self.volts,
            at=low("drops counted"),
            says=f"{show(gets, 'V')} rms of {show(self.volts, 'V')}.",
            formula="V_{low} − V_{drop} ≥ 0.8 · V_{rated}",
            numbers=f"{rail.low:.3g} − drops = {show(gets, 'V')}",
            because="Two diodes stand in the way of every half wave.",
            cure="Take a transformer with a little more, or diodes with less drop.",
        )

    def measures(self, site: Site) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Volts of the transformer, loaded",
                mode="volts",
                red="one side of the load",
                black="the other side",
                means="Meter on AC volts, the load on. Unloaded it reads a tenth more.",
                path="supply.typical",
            ),
            Measure(
                title=f"Current of the {self.name.lower()}",
                mode="amps",
                red="lead opened",
                black="other end",
                means="Meter on AC amps. Only up to 30 V AC; above that leave it to a licensed person.",
                path=site.path("watts"),
            ),
        )
