"""Electronic module: a radio, camera or controller with a capacitor at its input.

Empty, the capacitor is a short: at switch-on it takes what the supply, its own ESR and the switch leave
it. Switched off, it
holds the volts up, which a high-side MOSFET's body diode leads back.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import StringConstraints, model_validator

from ..circuit.devices import Device, Module
from ..fields import Q
from ..quantity import show
from .contract import Corner, Demand, Schedule, View
from .findings import Remedy, Verdict, Working, judge
from .two_wire import TwoWire
from .wording import Say, Sentence, Word

CUTS = (("yes", "may be cut at any time"), ("no", "must be warned first"))


class ModuleLoad(TwoWire):
    title = "Electronic module"
    purpose = "It runs above a least voltage, and its input capacitor gulps at switch-on."
    choose = "A radio, a camera, a lamp with electronics, another controller."
    avoid = "It has a standby input of its own: switch that with a pin instead of its supply."
    letters = {"load": "M"}
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

    def rating(self) -> str:
        return f"{show(self.least, 'V')} to {show(self.most, 'V')}"

    def demand(self, view: View) -> Demand:
        r = view.high / self.current
        loop = self.esr + view.source
        return Demand(
            cold=r,
            typical=r,
            hot=r,
            name=self.name.lower(),
            energised=f"{self.name} runs",
            surge=view.high / loop,
            surge_words=f"{show(loop, 'Ω')} of supply and capacitor",
            surge_time=3 * loop * self.capacitance,
            capacitance=self.capacitance,
            use="lamp",
        )

    def phrase(self, say: Say) -> Sentence:
        return (say.field("current"), Word(text=self.name.lower()))

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
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

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        drop, drop_worst = (view.switch.drop, view.switch.drop_worst) if view.switch else (0.0, 0.0)
        return (
            judge(
                "module_low",
                "load",
                f"Works on a low {view.supply_name}",
                nominal=view.low - drop,
                worst=view.low - drop_worst,
                limit=self.least,
                unit="V",
                sense="at least",
                corner="supply low, largest drop",
                sentence=f"Needs {show(self.least, 'V')}, gets {show(view.low - drop_worst, 'V')}.",
                working=Working(
                    formula="V_{low} − V_{drop} ≥ V_{least}",
                    substituted=(
                        f"{view.low:.3g} − {show(drop_worst, 'V')} = {show(view.low - drop_worst, 'V')}"
                    ),
                    reason="Below its least voltage a module resets, and resets again.",
                ),
                remedy=Remedy(text="Take a switch with less drop, or cut off before the supply is this low."),
            ),
            judge(
                "module_high",
                "load",
                f"Stands a full {view.supply_name}",
                nominal=view.high,
                worst=view.high,
                limit=self.most,
                unit="V",
                sense="at most",
                corner="supply high",
                sentence=f"Gets {show(view.high, 'V')}, stands {show(self.most, 'V')}.",
                working=Working(
                    formula="V_{high} ≤ V_{most}",
                    substituted=f"{view.high:.3g} ≤ {self.most:.3g}",
                    reason="Electronics do not forgive overvoltage the way a lamp does.",
                ),
                remedy=Remedy(text="Put a regulator before it."),
            ),
        )

    def cautions(self, view: View) -> tuple[str, ...]:
        return (
            ()
            if self.cut == "yes"
            else (
                (
                    f"{self.name} must be warned before its supply goes: tell it by a wire of its own, and "
                    "give it time."
                ),
            )
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield Module(
            name=view.refs["load"],
            a=view.top,
            b=view.bottom,
            current=self.current,
            capacitance=self.capacitance,
            esr=self.esr,
            starts=self.least,
            stops=0.9 * self.least,
        )
