"""Filament lamp: a load whose cold resistance is a tenth of its hot one.

Its current at a voltage other than rated goes about as the 0.55th power of it (the filament's resistance
follows
its temperature); at the first moment the cold filament takes V/R_cold, for some tens of milliseconds.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..circuit.devices import Device, Lamp
from ..fields import Q
from ..quantity import show
from .contract import Corner, Demand, Schedule, View
from .findings import Remedy, Verdict, Working, judge
from .two_wire import TwoWire
from .wording import Say, Sentence, Word

CURRENT_POWER = 0.55  # of the voltage, for the steady current
LIFE_POWER = 12  # of the voltage, for the filament's life: a rule of thumb
MOST_OVER = 1.15  # share of the rated voltage that a filament stands for good


class LampLoad(TwoWire):
    title = "Filament lamp"
    purpose = "A filament glows; cold, it takes ten times its current."
    choose = "A warm light, an indicator, a dial lamp."
    avoid = "An LED gives the same light for a tenth of the power and no inrush."
    letters = {"load": "E"}
    symbol = "lamp"

    kind: Literal["lamp"] = "lamp"
    volts: Annotated[float, Q("V", 1.0, 400.0)] = 12.0
    watts: Annotated[float, Q("W", 0.01, 1000.0)] = 5.0
    ratio: Annotated[float, Q("", 2.0, 20.0)] = 10.0

    @property
    def summary(self) -> str:
        return f"{show(self.watts, 'W')} lamp"

    def shown(self) -> tuple[str, str, str]:
        return "Lamp", show(self.watts, "W"), "watts"

    def rating(self) -> str:
        return show(self.volts, "V")

    def _current(self, volts: float) -> float:
        """Steady current at a voltage [A]."""
        return float(self.watts / self.volts * (volts / self.volts) ** CURRENT_POWER)

    def _cold(self) -> float:
        return self.volts**2 / self.watts / self.ratio

    def demand(self, view: View) -> Demand:
        at = {v: v / self._current(v) for v in (view.low, view.typical, view.high)}
        return Demand(
            cold=at[view.high],
            typical=at[view.high],
            hot=at[view.high],
            name="lamp",
            energised="the lamp is lit",
            use="lamp",
            surge=view.high / self._cold(),
            surge_words=f"a cold filament of {show(self._cold(), 'Ω')}",
        )

    def phrase(self, say: Say) -> Sentence:
        return (say.field("watts"), Word(text="lamp"))

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                Word(text="A lamp of"),
                say.field("watts", note="on its base"),
                Word(text="at"),
                say.field("volts", note="on its base"),
                Word(text="whose hot resistance is"),
                say.field("ratio", origin="assumed", note="times the cold one"),
                *fed,
            )
        }

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        most = MOST_OVER * self.volts
        life = (self.volts / view.high) ** LIFE_POWER
        return (
            judge(
                "lamp_volts",
                "load",
                f"Lamp on a full {view.supply_name}",
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
                        "A filament's life goes about as the twelfth power of the voltage: at "
                        f"{show(view.high, 'V')} it is {life:.2g} of the rated one."
                    ),
                ),
                remedy=Remedy(text="Take a lamp for a higher voltage, or put a resistor in series."),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield Lamp(
            name=view.refs["load"],
            a=view.top,
            b=view.bottom,
            volts=self.volts,
            watts=self.watts,
            ratio=self.ratio,
        )
