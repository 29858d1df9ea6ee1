"""Buzzer: it sounds by itself as long as it has volts; below its least it ticks or stays silent."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...circuit.devices import Buzzer
from ...fields import Q
from ...quantity import show
from ..contract.facts import Demand
from ..contract.parts import Placed, labelled, two_wire
from ..contract.site import Site
from ..rules.supplied import supplied
from ..say.checks import HIGH, Check, Shown, check, low
from ..say.wording import Say, Sentence, Word
from .two_wire import TwoWire

SILENT = 0.5  # share of the volts it sounds from at which it is surely silent, assumed
MOST_OVER = 1.25  # share of the rated voltage it stands, assumed


class BuzzerLoad(TwoWire):
    title = "Buzzer"
    purpose = "It sounds by itself as long as it has volts."
    choose = "An alarm or a signal to the ear, from direct current."
    avoid = "A bare piezo disc or a loudspeaker: those need a tone fed to them."
    picture = "buzzer"
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

    def make(self, site: Site) -> Iterable[Placed]:
        numbers = {
            "volts": self.volts,
            "current": self.current,
            "sounds": self.sounds,
            "spread": labelled(current=self.current),
        }
        stands = show(self.volts, "V")
        yield two_wire(
            "load", "H", device=Buzzer, numbers=lambda c: numbers, rating=stands, **self.described()
        )

    def takes(self, site: Site) -> Demand:
        r = self.volts / self.current
        rests = SILENT * self.sounds / r
        return Demand.ohmic(r, r, r, name="buzzer", energised="it sounds", rests=rests)

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (say.field("current"), Word(text="buzzer"))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
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

    def checks(self, site: Site) -> Iterator[Check]:
        rail, got, most = site.rail, supplied(site.switch, self.takes(site)), MOST_OVER * self.volts
        yield check(
            "sounds",
            f"Sounds on a low {rail.word}",
            "need",
            "gets its volts",
            unit="V",
            nominal=got.low,
            worst=got.low_worst,
            least=self.sounds,
            at=low("largest drop"),
            says=f"Needs {show(self.sounds, 'V')}, gets {show(got.low_worst, 'V')}.",
            formula="V_{low} − V_{drop} ≥ V_{sounds}",
            numbers=f"{rail.low:.3g} − {show(got.lost_worst, 'V')} = {show(got.low_worst, 'V')}",
            because="Below its least voltage a buzzer ticks or stays silent.",
            cure="Take a buzzer for a lower voltage.",
            shown=Shown("v(top,bottom)", site.switch.runs, floor=0.02),
        )
        yield check(
            "buzzer_volts",
            f"Buzzer on a full {rail.word}",
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
                "Its own transistor breaks down not far above the rated voltage; a quarter over is assumed "
                "to be safe."
            ),
            cure="Take a buzzer for a higher voltage, or put a resistor in series.",
            shown=Shown("v(top,bottom)", site.switch.runs, floor=0.02),
        )
