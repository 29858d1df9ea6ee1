"""DC motor, fan or pump: several times its running current at the start, and an inductance that kicks.

At the first moment the armature stands still and only its resistance counts: I_stall = V/R_armature. Once it
turns, its own voltage opposes the supply and the running current is what friction and load take.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from pydantic import StringConstraints, model_validator

from ...circuit.devices import Motor
from ...fields import Q
from ...quantity import Interval, show
from ..contract.facts import Demand, Inrush, Winding
from ..contract.parts import Placed, labelled, two_wire
from ..contract.site import Site
from ..rules.supplied import supplied
from ..say.checks import HIGH, Check, Shown, check, low
from ..say.wording import Say, Sentence, Word
from .two_wire import TwoWire

STANDS = 0.5  # share of its running current on which friction surely holds it, assumed
MOST_OVER = 1.25  # share of the rated voltage it stands for good, assumed
STARTS_FROM = 0.5  # share of the rated voltage below which it may not start, assumed


class MotorLoad(TwoWire):
    title = "DC motor or fan"
    purpose = "It turns; standing still it takes six times as much."
    choose = "A fan, a pump, a geared motor with brushes."
    avoid = "A motor with its own electronics, which is a module with an input capacitor."
    picture = "motor"
    symbol = "motor"

    kind: Literal["motor"] = "motor"
    volts: Annotated[float, Q("V", 1.0, 100.0)] = 12.0
    running: Annotated[float, Q("A", 1e-3, 100.0)] = 0.25
    stall: Annotated[float, Q("A", 5e-3, 500.0)] = 1.5
    inductance: Annotated[float, Q("H", 1e-6, 1.0)] = 2e-3
    spin_up: Annotated[float, Q("s", 1e-3, 60.0)] = 0.08
    name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)] = "Motor"

    @model_validator(mode="after")
    def _possible(self) -> MotorLoad:
        if self.stall <= self.running:
            raise ValueError("A motor takes more standing still than running. Check the two currents.")
        return self

    @property
    def summary(self) -> str:
        return f"{show(self.running, 'A')} {self.name.lower()}"

    def shown(self) -> tuple[str, str, str]:
        return self.name, show(self.running, "A"), "running"

    def make(self, site: Site) -> Iterable[Placed]:
        numbers = {
            "volts": self.volts,
            "stall": self.stall,
            "running": self.running,
            "inductance": self.inductance,
            "spin_up": self.spin_up,
            "spread": labelled(running=self.running),
        }
        stalls = f"{show(self.volts, 'V')}, stalls at {show(self.stall, 'A')}"
        yield two_wire(
            "load", "M", device=Motor, numbers=lambda c: numbers, rating=stalls, **self.described()
        )

    def takes(self, site: Site) -> Demand:
        armature, running = self.volts / self.stall, self.running
        return Demand(
            # Friction takes the same at any speed; on too few volts it stands still.
            lambda volts: Interval.spread(min(running, max(volts, 0.0) / armature), 0.0),
            name=self.name.lower(),
            energised=f"{self.name} turns",
            use="motor",
            winding=Winding(self.inductance),
            inrush=Inrush(
                armature,
                f"an armature of {show(armature, 'Ω')} that stands still",
                self.spin_up,
                pulse=self.spin_up / 2,
            ),
            rests=STANDS * running,
        )

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (say.field("running"), Word(text=self.name.lower()))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                Word(text="A"),
                say.field("name", note="what it is"),
                Word(text="that takes"),
                say.field("running", note="running"),
                Word(text="and"),
                say.field("stall", note="standing still"),
                Word(text="at"),
                say.field("volts", note="rated"),
                *fed,
            ),
            "guard": (
                Word(text="and its inductance is"),
                say.field("inductance", origin="assumed"),
                Word(text="It is up to speed in"),
                say.field("spin_up", origin="assumed"),
            ),
        }

    def checks(self, site: Site) -> Iterator[Check]:
        rail, got = site.rail, supplied(site.switch, self.takes(site))
        most, least = MOST_OVER * self.volts, STARTS_FROM * self.volts
        yield check(
            "motor_volts",
            f"{self.name} on a full {rail.word}",
            "limit",
            "supply high",
            unit="V",
            nominal=got.high,
            worst=got.highest,
            most=most,
            at=HIGH,
            says=f"Gets {show(got.highest, 'V')}, stands {show(most, 'V')}.",
            formula=f"V_{{max}} = {MOST_OVER} · V_{{rated}}",
            numbers=f"= {MOST_OVER} · {self.volts:.3g} = {show(most, 'V')}",
            because=(
                "Speed and heat rise with the voltage; a quarter over is assumed to be safe for brushes and "
                "bearings."
            ),
            cure="Take a motor for a higher voltage, or dim it.",
            shown=Shown("v(top,bottom)", site.switch.runs, floor=0.02),
        )
        yield check(
            "motor_starts",
            f"Starts on a low {rail.word}",
            "need",
            "gets its volts",
            unit="V",
            nominal=got.low,
            worst=got.low_worst,
            least=least,
            at=low("largest drop"),
            says=f"Needs {show(least, 'V')}, gets {show(got.low_worst, 'V')}.",
            formula=f"V_{{low}} − V_{{drop}} ≥ {STARTS_FROM} · V_{{rated}}",
            numbers=f"{rail.low:.3g} − {show(got.lost_worst, 'V')} = {show(got.low_worst, 'V')}",
            because=(
                "Torque at standstill goes with the voltage. Half the rated one is assumed to be enough to "
                "break loose."
            ),
            cure="Take a motor for a lower voltage, or one that starts lightly.",
            shown=Shown("v(top,bottom)", site.switch.runs, floor=0.02),
        )
