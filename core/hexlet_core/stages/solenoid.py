"""Solenoid or valve: a coil that pulls an iron in, heavier than a relay's and often not meant to stay on."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import StringConstraints

from ..cards.derive import copper
from ..circuit.devices import Device, Relay
from ..fields import Q
from ..quantity import show
from .contract import Corner, Demand, Measure, Schedule, View, Watch
from .findings import Remedy, Verdict, Working, judge
from .two_wire import TwoWire
from .wording import Say, Sentence, Word

COLD = 0.0  # the coldest coil considered [°C]
OVER = 1.44  # times its rated heat that a winding stands: a fifth more volts, assumed


class SolenoidLoad(TwoWire):
    title = "Solenoid or valve"
    purpose = "A coil pulls a bolt or a valve; it stores more energy than a relay's."
    choose = "A lock, a latch, a water valve, a striker."
    avoid = "It has to hold for minutes and is marked for short duty."
    letters = {"load": "L"}
    symbol = "solenoid"

    kind: Literal["solenoid"] = "solenoid"
    resistance: Annotated[float, Q("Ω", 0.1, 1e5)] = 24.0
    rated: Annotated[float, Q("V", 1.0, 400.0)] = 12.0
    pull_in: Annotated[float, Q("", 0.2, 1.0)] = 0.8
    inductance: Annotated[float, Q("H", 1e-5, 10.0)] = 0.08
    hottest: Annotated[float, Q("°C", -20.0, 150.0)] = 60.0
    duty: Annotated[float, Q("", 0.01, 1.0)] = 1.0  # share of the time it is on
    rated_duty: Annotated[float, Q("", 0.01, 1.0)] = 1.0
    name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)] = "Valve"

    def _lets_go(self) -> float:
        """Share of its rated current at which the plunger falls back: well below what pulls it in."""
        return min(0.2, 0.5 * self.pull_in)

    @property
    def summary(self) -> str:
        return f"{show(self.resistance, 'Ω')} {self.name.lower()}"

    def shown(self) -> tuple[str, str, str]:
        return self.name, show(self.resistance, "Ω"), "resistance"

    def rating(self) -> str:
        return f"{show(self.rated, 'V')}, {self.rated_duty:.0%} duty"

    def _warm(self) -> float:
        return copper(1.0, self.hottest)

    def demand(self, view: View) -> Demand:
        i = self.rated / self.resistance
        return Demand(
            cold=copper(self.resistance, COLD),
            typical=self.resistance,
            hot=self.resistance * self._warm(),
            inductance=self.inductance,
            drop_out=self._lets_go() * i,
            name=self.name.lower(),
            energised=f"{self.name} pulls",
            use="motor",
            cold_volts=self.pull_in * self.rated,
        )

    def phrase(self, say: Say) -> Sentence:
        return (say.field("resistance"), Word(text=self.name.lower()))

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
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

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        drop, drop_worst = (view.switch.drop, view.switch.drop_worst) if view.switch else (0.0, 0.0)
        needs = self.pull_in * self.rated * self._warm()
        watts, most = (
            view.high**2 / self.resistance * self.duty,
            self.rated**2 / self.resistance * self.rated_duty,
        )
        return (
            judge(
                "pull_in",
                "load",
                f"Pulls on a low {view.supply_name}",
                nominal=view.low - drop,
                worst=view.low - drop_worst,
                limit=needs,
                unit="V",
                sense="at least",
                corner="supply low, coil hot, largest drop",
                sentence=f"Hot coil needs {show(needs, 'V')}, gets {show(view.low - drop_worst, 'V')}.",
                working=Working(
                    formula="V_{pull} = share · V_{rated} · R_{hot}/R",
                    substituted=(
                        f"= {self.pull_in:g} · {self.rated:.3g} · {self._warm():.3f} = {show(needs, 'V')}"
                    ),
                    reason="Copper gains 0.39 % a kelvin; the pull goes with the current.",
                ),
                remedy=Remedy(
                    text="Take one for a lower voltage, a switch with less drop, or thicker leads."
                ),
            ),
            judge(
                "coil_heat",
                "load",
                f"{self.name}'s heat on a full {view.supply_name}",
                nominal=watts,
                worst=watts,
                limit=OVER * most,
                unit="W",
                sense="at most",
                corner="supply high",
                sentence=f"{show(watts, 'W')} on average, stands {show(OVER * most, 'W')}.",
                working=Working(
                    formula="P = V_{high}^2 / R · duty",
                    substituted=(
                        f"= {view.high:.3g}² / {show(self.resistance, 'Ω')} · {self.duty:g} = "
                        f"{show(watts, 'W')}"
                    ),
                    reason=(
                        "A winding marked for short duty burns when it stays on; a fifth more than its "
                        "rated volts is assumed to be safe."
                    ),
                ),
                remedy=Remedy(text="Keep it on for less of the time, or take one for continuous duty."),
            ),
        )

    def measures(self, view: View) -> tuple[Measure, ...]:
        return (
            Measure(
                title=f"Resistance of the {self.name.lower()}",
                mode="ohms",
                red="one lead",
                black="the other lead",
                path=view.path("resistance"),
                means="Power off, one lead free. Its current is the supply over this.",
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        i = self.rated / self.resistance
        yield Relay(
            name=view.refs["load"],
            a=view.top,
            b=view.bottom,
            resistance=copper(self.resistance, corner.celsius),
            inductance=self.inductance,
            pull_in=self.pull_in * i,
            drop_out=self._lets_go() * i,
            operate_travel=15e-3,
            release_travel=10e-3,
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        ref, i = view.refs["load"], self.rated / self.resistance
        return (
            Watch(
                id=f"i({ref})",
                title="Coil current",
                unit="A",
                signal=f"i({ref})",
                place=2,
                limits=((self.pull_in * i, "pulls"), (0.2 * i, "lets go")),
            ),
            Watch(
                id="contact",
                title=self.name,
                unit="",
                signal=f"state({ref},2)",
                place=4,
                words=("at rest", "pulled"),
            ),
        )
