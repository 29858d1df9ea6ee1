"""Sensor module: an output with levels of its own, push-pull or open collector, that means nothing while it
warms up.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Annotated, Literal

from ...fields import Q
from ...quantity import Interval, show
from ..contract.descriptions import Measure
from ..contract.facts import Command, Level, Rest
from ..contract.parts import Corner, Placed, Pose, pin, resistor
from ..contract.ports import Port, rail_in
from ..contract.scenes import Watch
from ..contract.site import Site
from ..drawing.pen import SIGNAL_Y, Pen
from ..say.checks import Check, Shown, check, high, when
from ..say.wording import Say, Sentence, Word
from .given import GivenSignal

OUTPUTS = (("push-pull", "push-pull"), ("open collector", "open collector"))
SINKS = 20.0  # resistance of an open collector that conducts [Ω]
OPEN = 1e9
SAGS = "what lies in the rail takes a little"


class SensorModule(GivenSignal):
    title = "Sensor module"
    purpose = "A motion, light or water sensor's output gives the command."
    choose = "Something in the world decides, by a module with an output of its own."
    avoid = "It is used from the first second: while it warms up its output means nothing."
    picture = "sensor"
    noun = "sensor"

    kind: Literal["sensor_module"] = "sensor_module"
    form: Literal["push-pull", "open collector"] = "push-pull"
    level: Annotated[float, Q("V", 1.0, 30.0)] = 3.3
    spread: Annotated[float, Q("", 0.0, 0.2)] = 0.05
    level_low: Annotated[float, Q("V", 0.0, 1.5)] = 0.2
    resistance: Annotated[float, Q("Ω", 0.1, 1e6)] = 1000.0
    steady: Annotated[float, Q("A", 1e-6, 1.0)] = 3e-3
    r_pull: Annotated[float, Q("Ω", 10.0, 1e7)] = 4.7e3
    warm_up: Annotated[float, Q("s", 0.0, 3600.0)] = 60.0
    ignored: Annotated[float, Q("s", 0.0, 3600.0)] = 0.0
    hold: Annotated[float, Q("s", 0.0, 3600.0)] = 2.0

    @property
    def summary(self) -> str:
        return f"Sensor, {self.form}"

    @property
    def _pulled(self) -> bool:
        return self.form == "open collector"

    def ports(self) -> tuple[Port, ...]:
        return (rail_in(self._pulled), Port("out", "command", "out", {"out": "signal", "ref": "zero"}))

    def gives(self, site: Site) -> Command:
        low = Interval.spread(self.level_low, 0.0)
        if self._pulled:
            rail = site.rail
            return Command(
                high=Level(rail.volts, self.r_pull),
                low=Level(low, SINKS),
                rest=Rest(rail.high, self.r_pull, "is held up by its pull-up at rest", "the sensor rests"),
                steady=self.steady,
                burst=self.steady,
                name=self.noun,
                sense="low",
                follows=True,
            )
        return Command(
            high=Level(Interval.spread(self.level, self.spread), self.resistance),
            low=Level(low, self.resistance),
            rest=Rest(0.0, self.resistance, "gives low at rest", "the sensor rests"),
            steady=self.steady,
            burst=self.steady,
            name=self.noun,
            own=True,
        )

    def make(self, site: Site) -> Iterable[Placed]:
        volts = Interval.spread(self.level, self.spread)
        low_level, ohms, floating = self.level_low, self.resistance, (0.0, OPEN)

        def sinking(corner: Corner) -> Mapping[str, Pose]:
            # Off it is nothing at all; the pull-up is a part of the circuit.
            low = (low_level, SINKS)
            return {
                "low": low,
                "high": floating,
                "floating": floating,
                "boot": floating,
                "idle": floating,
                "active": low,
            }

        def pushing(corner: Corner) -> Mapping[str, Pose]:
            top = {"min": volts.low, "typ": volts.typical, "max": volts.high}[corner.signal]
            low, high = (low_level, ohms), (top, ohms)
            boot = (0.0, ohms)
            return {
                "low": low,
                "high": high,
                "floating": (0.0, 1e10),
                "boot": boot,
                "idle": low,
                "active": high,
            }

        legs = {"out": "signal", "ref": "zero"}
        yield pin("pin", "Sensor's output", legs, sinking if self._pulled else pushing)
        if self._pulled:
            yield resistor(site, "pull", "Pull-up", "r_pull", "plus", "signal")

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (
            Word(text="sensor with a"),
            say.field("form", note="output", choices=OUTPUTS),
            Word(text="output of"),
            say.field("level", note="high"),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (
                Word(text="The load follows the sensor, which holds its output for"),
                say.field("hold", note="at least"),
                Word(text="It warms up for"),
                say.field("warm_up", origin="assumed", note="its output means nothing"),
                Word(text="and is not listened to for"),
                say.field("ignored", note="after power-up"),
            )
        }

    def checks(self, site: Site) -> Iterator[Check]:
        if self.warm_up > 0:
            yield check(
                "warm_up",
                "Sensor has warmed up",
                "practice",
                "time",
                unit="s",
                nominal=self.ignored,
                least=self.warm_up,
                facet="behave",
                at=when("just powered"),
                says=(
                    f"Used after {show(self.ignored, 's')}; until {show(self.warm_up, 's')} its output means "
                    "nothing."
                ),
                formula="t_{ignored} ≥ t_{warm-up}",
                numbers=f"{show(self.ignored, 's')} against {show(self.warm_up, 's')}",
                because=(
                    "A motion sensor settles for half a minute to a minute and gives whatever it likes "
                    "meanwhile."
                ),
                cure="Hold the load off by a power-on delay longer than the warm-up.",
            )
        if self._pulled:
            rail = site.rail
            sinks = rail.high / self.r_pull
            yield check(
                "sensor_sink",
                "Sensor pulls its output down",
                "limit",
                "current",
                unit="A",
                nominal=sinks,
                worst=sinks / (1 - site.tolerance),
                most=self.steady,
                at=high("output low"),
                says=f"{show(sinks, 'A')} through its pull-up, of {show(self.steady, 'A')}.",
                formula="I = V_{high} / R_{pull}",
                numbers=f"= {rail.high:.3g} / {show(self.r_pull, 'Ω')}",
                because="Low, an open collector carries the pull-up's current.",
                cure="Raise the pull-up.",
                shown=Shown("i(pull.a)", within=0.05, because=SAGS),
            )

    def measures(self, site: Site) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Level triggered and at rest",
                mode="volts",
                red="its output",
                black="its 0 V",
                means=(
                    "Powered for a minute first. 10k from the output to + that changes the low reading: open "
                    "collector."
                ),
                path=site.path("level"),
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (Watch(id="signal", title="Sensor", unit="V", signal="signal", place=0),)

    def draw(self, pen: Pen, site: Site) -> None:
        super().draw(pen, site)
        if self._pulled:
            ref, x = site.ref("pull"), max(pen.output[0], pen.rail_x) + 1.5
            r = pen.part(site, "pull", "resistor", x, 7.0)
            pen.wire((x, 0.0), r["a"], part=ref)
            pen.wire(r["b"], (x, SIGNAL_Y), pen.output, part=ref)
            pen.output, pen.x = (x, SIGNAL_Y), x
