"""AC load: a lamp, heater or transformer on alternating current, in rms volts and watts."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import StringConstraints

from ..circuit.devices import Device, Resistor
from ..fields import Q
from ..quantity import show
from .contact import STARTS, Use
from .contract import Corner, Demand, Measure, Schedule, View
from .findings import Remedy, Verdict, Working, judge
from .two_wire import TwoWire
from .wording import Say, Sentence, Word

USES = (("resistive", "a heater"), ("lamp", "a filament lamp"), ("motor", "a motor or transformer"))
OVER = 1.1  # of the rated volts that an AC load stands


class AcLoad(TwoWire):
    title = "AC load"
    purpose = "Something on alternating current: up to 30 V it can be built, above that ratings only."
    choose = "A low-voltage lamp or heater on a transformer, behind a bridge with one MOSFET."
    avoid = "A relay's contact would do: then the relay coil is the load here."
    letters = {"load": "E"}
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

    def rating(self) -> str:
        return f"{show(self.volts, 'V')} AC"

    def _use(self) -> Use:
        return self.use

    def demand(self, view: View) -> Demand:
        r = self.volts**2 / self.watts
        starts = STARTS[self._use()]
        return Demand(
            cold=r,
            typical=r,
            hot=r,
            name=self.name.lower(),
            energised=f"{self.name} is on",
            use=self._use(),
            inductance=1e-3 * r if self.use == "motor" else 0.0,
            surge=view.high * starts * 2**0.5 / r if starts > 1 else 0.0,
            surge_words=f"a cold start of {starts:g} times, at the crest",
            surge_time=0.01,
        )

    def phrase(self, say: Say) -> Sentence:
        return (
            say.field("watts"),
            Word(text=f"{self.name.lower()} at"),
            say.field("volts", note="rms, on its base"),
        )

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
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

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        most, wrong = OVER * self.volts, 0.0 if view.ac else 1.0
        least = view.low - (view.switch.drop_worst if view.switch else 0.0)
        return (
            judge(
                "load_ac",
                "load",
                "Supply is AC",
                nominal=wrong,
                worst=wrong,
                limit=0.5,
                unit="",
                sense="at most",
                corner="kind of supply",
                sentence="The supply is direct current." if wrong else "On a transformer.",
                working=Working(
                    formula="AC load ↔ AC supply",
                    substituted="transformer" if view.ac else "direct current",
                    reason=(
                        "An AC load is rated in rms volts; a bridge carries both half waves through one "
                        "MOSFET."
                    ),
                ),
                remedy=Remedy(
                    text="Choose “transformer” as the kind of supply, and the bridge as the drive."
                ),
            ),
            judge(
                "load_over",
                "load",
                f"{self.name} on the highest voltage",
                nominal=view.high,
                worst=view.high,
                limit=most,
                unit="V",
                sense="at most",
                corner="supply high",
                sentence=f"Gets {show(view.high, 'V')} rms, stands {show(most, 'V')}.",
                working=Working(
                    formula="V_{high} ≤ 1.1 · V_{rated}",
                    substituted=f"{view.high:.3g} ≤ {most:.3g}",
                    reason="Transformers give more at little load.",
                ),
                remedy=Remedy(text="Take a load for a higher voltage."),
            ),
            judge(
                "load_bright",
                "load",
                "Gets most of its volts",
                nominal=least,
                worst=least,
                limit=0.8 * self.volts,
                unit="V",
                sense="at least",
                corner="supply low, drops counted",
                sentence=f"{show(least, 'V')} rms of {show(self.volts, 'V')}.",
                working=Working(
                    formula="V_{low} − V_{drop} ≥ 0.8 · V_{rated}",
                    substituted=f"{view.low:.3g} − drops = {show(least, 'V')}",
                    reason="Two diodes stand in the way of every half wave.",
                ),
                remedy=Remedy(text="Take a transformer with a little more, or diodes with less drop."),
            ),
        )

    def measures(self, view: View) -> tuple[Measure, ...]:
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
                path=view.path("watts"),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield Resistor(
            name=view.refs["load"], a=view.top, b=view.bottom, resistance=self.volts**2 / self.watts
        )
