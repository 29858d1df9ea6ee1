"""Electronic module: a radio, camera or controller with a capacitor at its input.

Empty, the capacitor is a short: at switch-on it takes what the supply, its own ESR and the switch leave it.
Switched off, it holds the volts up, which a high-side MOSFET's body diode leads back.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from pydantic import StringConstraints, model_validator

from ...circuit.devices import Module
from ...fields import Q
from ...quantity import Interval, show
from ..contract.facts import Demand, Inrush
from ..contract.parts import Placed, labelled, two_wire
from ..contract.site import Site
from ..rules.supplied import supplied
from ..say.checks import HIGH, Check, Shown, check, low
from ..say.wording import Say, Sentence, Word
from .two_wire import TwoWire

CUTS = (("yes", "may be cut at any time"), ("no", "must be warned first"))
DEAD = 0.1  # share of its current on which it surely does not run, assumed
STOPS = 0.9  # share of its least voltage at which it stops, assumed


class ModuleLoad(TwoWire):
    title = "Electronic module"
    purpose = "It runs above a least voltage, and its input capacitor gulps at switch-on."
    choose = "A radio, a camera, a lamp with electronics, another controller."
    avoid = "It has a standby input of its own: switch that with a pin instead of its supply."
    picture = "module"
    symbol = "module"

    kind: Literal["module"] = "module"
    current: Annotated[float, Q("A", 1e-5, 20.0)] = 0.2
    capacitance: Annotated[float, Q("F", 1e-9, 0.1)] = 220e-6
    esr: Annotated[float, Q("Ω", 1e-3, 10.0)] = 0.15
    least: Annotated[float, Q("V", 0.5, 100.0)] = 9.0
    most: Annotated[float, Q("V", 1.0, 200.0)] = 16.0
    cut: Literal["yes", "no"] = "yes"
    name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)] = "Module"

    @model_validator(mode="after")
    def _possible(self) -> ModuleLoad:
        if self.least >= self.most:
            raise ValueError("Its least working voltage is above the most it stands. Check the two.")
        return self

    @property
    def summary(self) -> str:
        return f"{show(self.current, 'A')} {self.name.lower()}"

    def shown(self) -> tuple[str, str, str]:
        return self.name, show(self.current, "A"), "current"

    def make(self, site: Site) -> Iterable[Placed]:
        numbers = {
            "current": self.current,
            "capacitance": self.capacitance,
            "esr": self.esr,
            "starts": self.least,
            "stops": STOPS * self.least,
            "spread": labelled(current=self.current),
        }
        works = f"{show(self.least, 'V')} to {show(self.most, 'V')}"
        yield two_wire(
            "load", "M", device=Module, numbers=lambda c: numbers, rating=works, **self.described()
        )

    def takes(self, site: Site) -> Demand:
        amps = self.current
        return Demand(
            lambda volts: Interval.spread(amps, 0.0),
            name=self.name.lower(),
            energised=f"{self.name} runs",
            use="lamp",
            inrush=Inrush(self.esr, f"{show(self.esr, 'Ω')} of its empty capacitor", farads=self.capacitance),
            farads=self.capacitance,
            idles=STOPS * self.least,
            rests=DEAD * self.current,
        )

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (say.field("current"), Word(text=self.name.lower()))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                Word(text="A"),
                say.field("name", note="what it is"),
                Word(text="that takes"),
                say.field("current", note="running"),
                Word(text="has"),
                say.field("capacitance", note="at its input", origin="assumed"),
                Word(text="works from"),
                say.field("least", note="least"),
                Word(text="to"),
                say.field("most", note="most"),
                Word(text="and"),
                say.field("cut", note="its supply", choices=CUTS),
                *fed,
            )
        }

    def checks(self, site: Site) -> Iterator[Check]:
        rail, got = site.rail, supplied(site.switch, self.takes(site))
        yield check(
            "module_low",
            f"Works on a low {rail.word}",
            "need",
            "gets its volts",
            unit="V",
            nominal=got.low,
            worst=got.low_worst,
            least=self.least,
            at=low("largest drop"),
            says=f"Needs {show(self.least, 'V')}, gets {show(got.low_worst, 'V')}.",
            formula="V_{low} − V_{drop} ≥ V_{least}",
            numbers=f"{rail.low:.3g} − {show(got.lost_worst, 'V')} = {show(got.low_worst, 'V')}",
            because="Below its least voltage a module resets, and resets again.",
            cure="Take a switch with less drop, or cut off before the supply is this low.",
            shown=Shown("v(top,bottom)", site.switch.runs, floor=0.02),
        )
        yield check(
            "module_high",
            f"Stands a full {rail.word}",
            "limit",
            "supply high",
            unit="V",
            nominal=got.high,
            worst=got.highest,
            most=self.most,
            at=HIGH,
            says=f"Gets {show(got.highest, 'V')}, stands {show(self.most, 'V')}.",
            formula="V_{high} ≤ V_{most}",
            numbers=f"{got.highest:.3g} ≤ {self.most:.3g}",
            because="Electronics do not forgive overvoltage the way a lamp does.",
            cure="Put a regulator before it.",
            shown=Shown("v(top,bottom)", site.switch.runs, floor=0.02),
        )

    def cautions(self, site: Site) -> tuple[str, ...]:
        if self.cut == "yes":
            return ()
        return (
            (
                f"{self.name} must be warned before its supply goes: tell it by a wire of its own, and give "
                "it time."
            ),
        )
