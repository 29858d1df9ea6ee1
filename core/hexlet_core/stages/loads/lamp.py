"""Filament lamp: a load whose cold resistance is a tenth of its hot one.

Its current at a voltage other than rated goes about as the 0.55th power of it (the filament's resistance
follows its temperature); at the first moment the cold filament takes V/R_cold, for some tens of milliseconds.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...circuit.devices import Lamp
from ...circuit.devices.lamp import T_COLD
from ...fields import Q
from ...quantity import Interval, show
from ..contract.facts import Demand, Inrush
from ..contract.parts import Placed, labelled, two_wire
from ..contract.site import Site
from ..rules.supplied import supplied
from ..say.checks import HIGH, Check, Shown, check
from ..say.wording import Say, Sentence, Word
from .two_wire import TwoWire

CURRENT_POWER = 0.55  # of the voltage, for the steady current
DIM = "far below its volts a filament's current follows another power"
DARK = 0.15  # share of its current at which a filament does not glow yet
LIFE_POWER = 12  # of the voltage, for the filament's life: a rule of thumb
MOST_OVER = 1.25  # share of the rated voltage that a filament stands for good


class LampLoad(TwoWire):
    title = "Filament lamp"
    purpose = "A filament glows; cold, it takes ten times its current."
    choose = "A warm light, an indicator, a dial lamp."
    avoid = "An LED gives the same light for a tenth of the power and no inrush."
    picture = "lamp"
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

    def make(self, site: Site) -> Iterable[Placed]:
        numbers = {
            "volts": self.volts,
            "watts": self.watts,
            "ratio": self.ratio,
            "spread": labelled(watts=self.watts),
        }
        stands = show(self.volts, "V")
        yield two_wire("load", "E", device=Lamp, numbers=lambda c: numbers, rating=stands, **self.described())

    def takes(self, site: Site) -> Demand:
        def steady(volts: float) -> Interval:
            amps = self.watts / self.volts * (volts / self.volts) ** CURRENT_POWER
            return Interval.spread(amps, 0.0)

        cold = self.volts**2 / self.watts / self.ratio
        return Demand(
            steady,
            name="lamp",
            energised="the lamp is lit",
            use="lamp",
            inrush=Inrush(cold, f"a cold filament of {show(cold, 'Ω')}", pulse=self._pulse()),
            rests=DARK * self.watts / self.volts,
        )

    def _pulse(self) -> float:
        """How long the cold current would flow for what heats the filament [s].

        ∫i²·dt / i_cold² while R = R_cold·(T/T_0)^e and C·dT/dt = V²/R, radiation left out: it delays the last
        of it only, when the current has all but settled.
        """
        hot, heating = (float(Lamp.model_fields[name].default) for name in ("hot", "heating"))
        over = hot / T_COLD
        bends = 1 - math.log(self.ratio) / math.log(over)
        grows = math.log(over) if abs(bends) < 1e-6 else (over**bends - 1) / bends
        return heating * grows / ((over - 1) * self.ratio)

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (say.field("watts"), Word(text="lamp"))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
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

    def checks(self, site: Site) -> Iterator[Check]:
        rail, most = site.rail, MOST_OVER * self.volts
        got = supplied(site.switch, self.takes(site))
        life = (self.volts / max(got.highest, 1e-3)) ** LIFE_POWER
        yield check(
            "lamp_volts",
            f"Lamp on a full {rail.word}",
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
                "A filament's life goes about as the twelfth power of the voltage: at "
                f"{show(got.highest, 'V')} it is {life:.2g} of the rated one."
            ),
            cure="Take a lamp for a higher voltage, or put a resistor in series.",
            shown=Shown("v(top,bottom)", site.switch.runs, floor=0.02 * self.volts, because=DIM),
        )
