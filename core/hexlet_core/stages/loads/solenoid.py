"""Solenoid or valve: a coil that pulls a plunger, stores more energy than a relay's and often may not stay
on.

Copper gains 0.39 % a kelvin, so a hot coil pulls less; a winding marked for short duty burns when it stays
on.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Annotated, Any, Literal

from pydantic import StringConstraints

from ...cards.derive import copper
from ...circuit.devices import Relay
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import Measure
from ..contract.facts import Demand, Winding
from ..contract.parts import Corner, Placed, labelled, two_wire
from ..contract.scenes import Watch
from ..contract.site import Site
from ..rules.coil import COLD, STILL
from ..rules.supplied import supplied
from ..say.checks import HIGH, Check, Shown, check, low
from ..say.wording import Say, Sentence, Word
from .two_wire import TwoWire

OVER = 1.44  # times its rated heat that a winding stands: a fifth more volts, assumed
PULLS, FALLS = 15e-3, 10e-3  # how long its plunger travels each way, assumed [s]


class SolenoidLoad(TwoWire):
    title = "Solenoid or valve"
    purpose = "A coil pulls a bolt or a valve; it stores more energy than a relay's."
    choose = "A lock, a latch, a water valve, a striker."
    avoid = "It has to hold for minutes and is marked for short duty."
    picture = "solenoid"
    symbol = "solenoid"

    kind: Literal["solenoid"] = "solenoid"
    resistance: Annotated[float, Q("Ω", 0.1, 1e5)] = 24.0
    rated: Annotated[float, Q("V", 1.0, 400.0)] = 12.0
    pull_in: Annotated[float, Q("", 0.2, 1.0)] = 0.75
    inductance: Annotated[float, Q("H", 1e-5, 10.0)] = 0.08
    hottest: Annotated[float, Q("°C", -20.0, 150.0)] = 60.0
    duty: Annotated[float, Q("", 0.01, 1.0)] = 1.0  # share of the time it is on
    rated_duty: Annotated[float, Q("", 0.01, 1.0)] = 1.0
    name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)] = "Valve"

    @property
    def summary(self) -> str:
        return f"{show(self.resistance, 'Ω')} {self.name.lower()}"

    def shown(self) -> tuple[str, str, str]:
        return self.name, show(self.resistance, "Ω"), "resistance"

    @property
    def _lets_go(self) -> float:
        """Share of its rated current at which the plunger falls back: well below what pulls it in."""
        return min(0.2, 0.5 * self.pull_in)

    @property
    def _rated_current(self) -> float:
        return self.rated / self.resistance

    @property
    def _warm(self) -> float:
        """How much more resistance it has when hot."""
        return copper(1.0, self.hottest)

    def make(self, site: Site) -> Iterable[Placed]:
        def numbers(corner: Corner) -> Mapping[str, Any]:
            return {
                "resistance": copper(self.resistance, corner.celsius),
                "inductance": self.inductance,
                "pull_in": self.pull_in * self._rated_current,
                "drop_out": self._lets_go * self._rated_current,
                "operate_travel": PULLS,
                "release_travel": FALLS,
                "spread": labelled(resistance=copper(self.resistance, corner.celsius)),
            }

        stands = f"{show(self.rated, 'V')}, {self.rated_duty:.0%} duty"
        yield two_wire("load", "L", device=Relay, numbers=numbers, rating=stands, **self.described())

    def takes(self, site: Site) -> Demand:
        cold, hot = copper(self.resistance, COLD), self.resistance * self._warm
        winding = Winding(
            self.inductance, self._lets_go * self._rated_current, cold_volts=self.pull_in * self.rated
        )
        return Demand.ohmic(
            cold,
            self.resistance,
            hot,
            name=self.name.lower(),
            energised=f"{self.name} pulls",
            use="motor",
            winding=winding,
            rests=STILL * self.pull_in * self._rated_current,
        )

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (say.field("resistance"), Word(text=self.name.lower()))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                Word(text="A"),
                say.field("name", note="what it is"),
                Word(text="of"),
                say.field("resistance"),
                Word(text="marked"),
                say.field("rated", note="on its case"),
                Word(text="hottest"),
                say.field("hottest", origin="assumed"),
                Word(text="on for"),
                say.field("duty", note="share of the time"),
                Word(text="of"),
                say.field("rated_duty", note="allowed"),
                *fed,
            ),
            "guard": (Word(text="and its inductance is"), say.field("inductance", origin="assumed")),
        }

    def checks(self, site: Site) -> Iterator[Check]:
        rail, got = site.rail, supplied(site.switch, self.takes(site))
        needs = self.pull_in * self.rated * self._warm
        yield check(
            "pull_in",
            f"Pulls on a low {rail.word}",
            "need",
            "gets its volts",
            unit="V",
            nominal=got.low,
            worst=got.low_worst,
            least=needs,
            at=low("coil hot, largest drop"),
            says=f"Hot coil needs {show(needs, 'V')}, gets {show(got.low_worst, 'V')}.",
            formula="V_{pull} = share · V_{rated} · R_{hot}/R",
            numbers=f"= {self.pull_in:g} · {self.rated:.3g} · {self._warm:.3f} = {show(needs, 'V')}",
            because="Copper gains 0.39 % a kelvin; the pull goes with the current.",
            cure="Take one for a lower voltage, a switch with less drop, or thicker leads.",
            shown=Shown("v(top,bottom)", site.switch.runs, floor=0.02),
        )
        watts = got.highest**2 / self.resistance * self.duty
        most = OVER * self.rated**2 / self.resistance * self.rated_duty
        yield check(
            "coil_heat",
            f"{self.name}'s heat on a full {rail.word}",
            "limit",
            "supply high",
            unit="W",
            nominal=watts,
            most=most,
            at=HIGH,
            says=f"{show(watts, 'W')} on average, stands {show(most, 'W')}.",
            formula="P = V_{high}^2 / R · duty",
            numbers=f"= {got.highest:.3g}² / {show(self.resistance, 'Ω')} · {self.duty:g}",
            because=(
                "A winding marked for short duty burns when it stays on; a fifth more than its rated volts "
                "is assumed to be safe."
            ),
            cure="Keep it on for less of the time, or take one for continuous duty.",
        )

    def measures(self, site: Site) -> tuple[Measure, ...]:
        return (
            Measure(
                title=f"Resistance of the {self.name.lower()}",
                mode="ohms",
                red="one lead",
                black="the other lead",
                path=site.path("resistance"),
                means="Power off, one lead free. Its current is the supply over this.",
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        i = self._rated_current
        marks = ((self.pull_in * i, "pulls"), (self._lets_go * i, "lets go"))
        words = ("at rest", "pulled")
        return (
            Watch(id="current", title="Coil current", unit="A", signal="i(load)", place=2, limits=marks),
            Watch(id="moves", title=self.name, unit="", signal="state(load,2)", place=4, words=words),
        )
