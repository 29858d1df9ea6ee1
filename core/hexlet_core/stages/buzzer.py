"""Buzzer with its own oscillator: a load that takes a small current and sounds above a voltage."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..circuit.devices import Buzzer, Device
from ..fields import Q
from ..quantity import show
from .contract import Corner, Demand, Schedule, View
from .findings import Remedy, Verdict, Working, judge
from .two_wire import TwoWire
from .wording import Say, Sentence, Word

MOST_OVER = 1.25  # share of the rated voltage it stands, assumed


class BuzzerLoad(TwoWire):
    title = "Buzzer"
    purpose = "It sounds by itself as long as it has volts."
    choose = "An alarm or a signal to the ear, from direct current."
    avoid = "A bare piezo disc or a loudspeaker: those need a tone fed to them."
    letters = {"load": "H"}
    symbol = "buzzer"

    kind: Literal["buzzer"] = "buzzer"
    volts: Annotated[float, Q("V", 1.0, 100.0)] = 12.0
    current: Annotated[float, Q("A", 1e-4, 1.0)] = 0.015
    sounds: Annotated[float, Q("V", 0.5, 100.0)] = 4.0

    @property
    def summary(self) -> str:
        return f"{show(self.current, 'A')} buzzer"

    def shown(self) -> tuple[str, str, str]:
        return "Buzzer", show(self.current, "A"), "current"

    def rating(self) -> str:
        return show(self.volts, "V")

    def demand(self, view: View) -> Demand:
        r = self.volts / self.current
        return Demand(cold=r, typical=r, hot=r, name="buzzer", energised="it sounds")

    def phrase(self, say: Say) -> Sentence:
        return (say.field("current"), Word(text="buzzer"))

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                Word(text="A buzzer that takes"),
                say.field("current", note="at its rated volts"),
                Word(text="at"),
                say.field("volts", note="rated"),
                Word(text="and sounds from"),
                say.field("sounds", note="least volts"),
                *fed,
            )
        }

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        drop, drop_worst = (view.switch.drop, view.switch.drop_worst) if view.switch else (0.0, 0.0)
        most = MOST_OVER * self.volts
        return (
            judge(
                "sounds",
                "load",
                f"Sounds on a low {view.supply_name}",
                nominal=view.low - drop,
                worst=view.low - drop_worst,
                limit=self.sounds,
                unit="V",
                sense="at least",
                corner="supply low, largest drop",
                sentence=f"Needs {show(self.sounds, 'V')}, gets {show(view.low - drop_worst, 'V')}.",
                working=Working(
                    formula="V_{low} − V_{drop} ≥ V_{sounds}",
                    substituted=(
                        f"{view.low:.3g} − {show(drop_worst, 'V')} = {show(view.low - drop_worst, 'V')}"
                    ),
                    reason="Below its least voltage a buzzer ticks or stays silent.",
                ),
                remedy=Remedy(text="Take a buzzer for a lower voltage."),
            ),
            judge(
                "buzzer_volts",
                "load",
                f"Buzzer on a full {view.supply_name}",
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
                        "Its own transistor breaks down not far above the rated voltage; a quarter over is "
                        "assumed to be safe."
                    ),
                ),
                remedy=Remedy(text="Take a buzzer for a higher voltage, or put a resistor in series."),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield Buzzer(
            name=view.refs["load"],
            a=view.top,
            b=view.bottom,
            volts=self.volts,
            current=self.current,
            sounds=self.sounds,
        )
