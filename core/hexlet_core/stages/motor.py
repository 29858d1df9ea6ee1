"""DC motor, fan or pump: several times its running current at the start, and an inductance that kicks.

At the first moment the armature stands still and only its resistance counts: I_stall = V/R_armature. Once
it turns, its
own voltage opposes the supply and the running current is what friction and load take.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import StringConstraints, model_validator

from ..circuit.devices import Device, Motor
from ..fields import Q
from ..quantity import show
from .contract import Corner, Demand, Schedule, View
from .findings import Remedy, Verdict, Working, judge
from .two_wire import TwoWire
from .wording import Say, Sentence, Word

MOST_OVER = 1.25  # share of the rated voltage it stands for good, assumed
STARTS_FROM = 0.5  # share of the rated voltage below which it may not start, assumed


class MotorLoad(TwoWire):
    title = "DC motor or fan"
    purpose = "It turns; standing still it takes six times as much."
    choose = "A fan, a pump, a geared motor with brushes."
    avoid = "A motor with its own electronics, which is a module with an input capacitor."
    letters = {"load": "M"}
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

    def rating(self) -> str:
        return f"{show(self.volts, 'V')}, stalls at {show(self.stall, 'A')}"

    def demand(self, view: View) -> Demand:
        runs = {
            v: v / self.running for v in (view.typical, view.high)
        }  # friction takes the same at any speed
        armature = self.volts / self.stall
        return Demand(
            cold=runs[view.high],
            typical=runs[view.high],
            hot=runs[view.high],
            inductance=self.inductance,
            name=self.name.lower(),
            energised=f"{self.name} turns",
            use="motor",
            surge_time=self.spin_up,
            surge=view.high / armature,
            surge_words=f"an armature of {show(armature, 'Ω')} that stands still",
        )

    def phrase(self, say: Say) -> Sentence:
        return (say.field("running"), Word(text=self.name.lower()))

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
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

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        drop, drop_worst = (view.switch.drop, view.switch.drop_worst) if view.switch else (0.0, 0.0)
        most, least = MOST_OVER * self.volts, STARTS_FROM * self.volts
        return (
            judge(
                "motor_volts",
                "load",
                f"{self.name} on a full {view.supply_name}",
                nominal=view.high,
                worst=view.high,
                limit=most,
                unit="V",
                sense="at most",
                corner="supply high",
                sentence=f"Gets {show(view.high, 'V')}, stands {show(most, 'V')}.",
                working=Working(
                    formula=f"V_{{max}} = {MOST_OVER} · V_{{rated}}",
                    substituted=f"= {MOST_OVER} · {self.volts:.3g} = {show(most, 'V')}",
                    reason=(
                        "Speed and heat rise with the voltage; a quarter over is assumed to be safe for "
                        "brushes and bearings."
                    ),
                ),
                remedy=Remedy(text="Take a motor for a higher voltage, or dim it."),
            ),
            judge(
                "motor_starts",
                "load",
                f"Starts on a low {view.supply_name}",
                nominal=view.low - drop,
                worst=view.low - drop_worst,
                limit=least,
                unit="V",
                sense="at least",
                corner="supply low, largest drop",
                sentence=f"Needs {show(least, 'V')}, gets {show(view.low - drop_worst, 'V')}.",
                working=Working(
                    formula=f"V_{{low}} − V_{{drop}} ≥ {STARTS_FROM} · V_{{rated}}",
                    substituted=(
                        f"{view.low:.3g} − {show(drop_worst, 'V')} = {show(view.low - drop_worst, 'V')}"
                    ),
                    reason=(
                        "Torque at standstill goes with the voltage. Half the rated one is assumed to be "
                        "enough to break loose."
                    ),
                ),
                remedy=Remedy(text="Take a motor for a lower voltage, or one that starts lightly."),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield Motor(
            name=view.refs["load"],
            a=view.top,
            b=view.bottom,
            volts=self.volts,
            stall=self.stall,
            running=self.running,
            inductance=self.inductance,
            spin_up=self.spin_up,
        )
