"""Signals that another board or stage gives: a sensor module's output, and a stage's output on the same
supply.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..circuit.devices import Device, Pin, Resistor
from ..fields import Q
from ..quantity import Interval, show, show_part
from .contract import Corner, Measure, Offer, Part, Rest, Schedule, View, pin_steps, steps_of
from .drawing import SIGNAL_Y, Pen
from .drive import resistor_part
from .findings import Remedy, Verdict, Working, judge
from .signal import Signal
from .wording import Say, Sentence, Word

OUTPUTS = (("push-pull", "push-pull"), ("open collector", "open collector"))


class GivenSignal(Signal):
    """An output with levels of its own, drawn as a tag."""

    letters = {"pin": "P"}

    def draw(self, pen: Pen, view: View) -> None:
        at = pen.place(view.refs["pin"], "pin", pen.x + 1.0, SIGNAL_Y, label=self.noun)
        pen.output, pen.x = at["out"], at["out"][0]


class SensorModule(GivenSignal):
    title = "Sensor module"
    purpose = "A motion, light or water sensor's output gives the command."
    choose = "Something in the world decides, by a module with an output of its own."
    avoid = "It is used from the first second: while it warms up its output means nothing."
    noun = "sensor"
    letters = {"pin": "P", "pull": "R"}

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

    def fitted(self) -> tuple[str, ...]:
        return ("pin", "pull") if self.form == "open collector" else ("pin",)

    def offer(self, view: View) -> Offer:
        if self.form == "open collector":
            rest = Rest(view.high, self.r_pull, "is held up by its pull-up at rest", "the sensor rests")
            return Offer(
                Interval(view.low, view.typical, view.high),
                self.level_low,
                self.steady,
                self.steady,
                self.r_pull,
                rest,
                self.noun,
                20.0,
                "low",
                follows=True,
            )
        rest = Rest(0.0, self.resistance, "gives low at rest", "the sensor rests")
        return Offer(
            Interval.spread(self.level, self.spread),
            self.level_low,
            self.steady,
            self.steady,
            self.resistance,
            rest,
            self.noun,
            own=True,
        )

    def phrase(self, say: Say) -> Sentence:
        return (
            Word(text="sensor with a"),
            say.field("form", note="output", choices=OUTPUTS),
            Word(text="output of"),
            say.field("level", note="high"),
        )

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
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

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        found = (
            [
                judge(
                    "warm_up",
                    "behave",
                    "Sensor has warmed up",
                    nominal=self.ignored,
                    worst=self.ignored,
                    limit=self.warm_up,
                    unit="s",
                    sense="at least",
                    corner="just powered",
                    sentence=(
                        f"Used after {show(self.ignored, 's')}; until {show(self.warm_up, 's')} its output "
                        "means nothing."
                    ),
                    working=Working(
                        formula="t_{ignored} ≥ t_{warm-up}",
                        substituted=f"{show(self.ignored, 's')} against {show(self.warm_up, 's')}",
                        reason=(
                            "A motion sensor settles for half a minute to a minute and gives whatever it "
                            "likes meanwhile."
                        ),
                    ),
                    remedy=Remedy(text="Hold the load off by a power-on delay longer than the warm-up."),
                )
            ]
            if self.warm_up > 0
            else []
        )
        if self.form == "open collector":
            sinks = view.high / self.r_pull
            found.append(
                judge(
                    "sensor_sink",
                    "drive",
                    "Sensor pulls its output down",
                    nominal=view.typical / self.r_pull,
                    worst=sinks / (1 - view.tolerance),
                    limit=self.steady,
                    unit="A",
                    sense="at most",
                    corner="supply high",
                    sentence=f"{show(sinks, 'A')} through its pull-up, of {show(self.steady, 'A')}.",
                    working=Working(
                        formula="I = V_{high} / R_{pull}",
                        substituted=f"= {view.high:.3g} / {show(self.r_pull, 'Ω')}",
                        reason="Low, an open collector carries the pull-up's current.",
                    ),
                    remedy=Remedy(text="Raise the pull-up."),
                )
            )
        return tuple(found)

    def measures(self, view: View) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Level triggered and at rest",
                mode="volts",
                red="its output",
                black="its 0 V",
                means=(
                    "Powered for a minute first. 10k from the output to + that changes the low reading: "
                    "open collector."
                ),
                path=view.path("level"),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        out, offer = view.nodes["out"], self.offer(view)
        if self.form == "open collector":
            # Off it is nothing at all; the pull-up is a part of the circuit.
            table = {
                "low": (self.level_low, 20.0),
                "high": (0.0, 1e9),
                "floating": (0.0, 1e9),
                "boot": (0.0, 1e9),
            }
            yield Pin(name=view.refs["pin"], out=out, steps=steps_of(table, schedule, 20.0))
            yield Resistor(
                name=view.refs["pull"],
                a="plus",
                b=out,
                resistance=self.r_pull * (1 + corner.resistors),
                tolerance=view.tolerance,
            )
        else:
            yield Pin(
                name=view.refs["pin"],
                out=out,
                ref=view.ground,
                steps=pin_steps(offer, schedule, corner.signal),
            )

    def draw(self, pen: Pen, view: View) -> None:
        super().draw(pen, view)
        if self.form == "open collector":
            ref, x = view.refs["pull"], max(pen.output[0], pen.rail_x) + 1.5
            r = pen.place(
                ref, "resistor", x, 7.0, label=ref, value=show_part(self.r_pull), path=view.path("r_pull")
            )
            pen.wire((x, 0.0), r["a"], part=ref)
            pen.wire(r["b"], (x, SIGNAL_Y), pen.output, part=ref)
            pen.output, pen.x = (x, SIGNAL_Y), x

    def parts(self, view: View) -> tuple[Part, ...]:
        if self.form != "open collector":
            return ()
        return (
            resistor_part(
                view,
                view.refs["pull"],
                "Pull-up",
                self.r_pull,
                view.path("r_pull"),
                view.high**2 / self.r_pull,
            ),
        )


STAGES = (
    ("bipolar timer", "bipolar timer"),
    ("CMOS timer", "CMOS timer"),
    ("transistor", "transistor with a collector resistor"),
    ("own", "output of its own"),
)
# What each gives: drop below the supply [V], resistance [Ω], low level [V], current [A].
GIVES: dict[str, tuple[float, float, float, float]] = {
    "bipolar timer": (1.5, 5.0, 0.1, 0.1),
    "CMOS timer": (0.1, 60.0, 0.05, 0.01),
    "transistor": (0.0, 1000.0, 0.2, 0.012),
}


class StageOutput(GivenSignal):
    title = "Another stage"
    purpose = "A timer, comparator or transistor stage on the same supply gives the command."
    choose = "The circuit before this one is built already, or is worked out elsewhere."
    avoid = "Its output is not known: measure it high and low under load first."
    noun = "stage"

    kind: Literal["stage_output"] = "stage_output"
    what: Literal["bipolar timer", "CMOS timer", "transistor", "own"] = "bipolar timer"
    drop: Annotated[float, Q("V", 0.0, 10.0)] = 1.5
    resistance: Annotated[float, Q("Ω", 0.1, 1e6)] = 5.0
    level_low: Annotated[float, Q("V", 0.0, 3.0)] = 0.1
    steady: Annotated[float, Q("A", 1e-6, 2.0)] = 0.1

    @property
    def summary(self) -> str:
        return self.what if self.what != "own" else "stage"

    def _gives(self) -> tuple[float, float, float, float]:
        return GIVES.get(self.what, (self.drop, self.resistance, self.level_low, self.steady))

    def offer(self, view: View) -> Offer:
        drop, r, low, amps = self._gives()
        return Offer(
            Interval(view.low - drop - 0.2 * (drop > 0), view.typical - drop, view.high - 0.8 * drop),
            low,
            amps,
            2 * amps,
            r,
            Rest(low, r, "is low until it is triggered", "the stage before it rests"),
            self.noun,
            follows=True,
        )

    def phrase(self, say: Say) -> Sentence:
        return (
            say.field("what", note="the stage before", choices=STAGES),
            *(
                (Word(text="that stays"), say.field("drop", note="below the supply"))
                if self.what == "own"
                else ()
            ),
        )

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        own = (
            (
                Word(text="which gives"),
                say.field("steady"),
                Word(text="behind"),
                say.field("resistance"),
                Word(text="and"),
                say.field("level_low", note="low"),
            )
            if self.what == "own"
            else ()
        )
        return {
            "behave": (
                Word(text="The load follows the"),
                say.field("what", note="the stage before", choices=STAGES),
                *own,
            )
        }

    def measures(self, view: View) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Output high and low, loaded",
                mode="volts",
                red="its output",
                black="0 V rail",
                means=(
                    "With what it will drive connected. A bipolar timer stays 1.2 V to 1.7 V below the "
                    "supply: that is no fault."
                ),
                path=view.path("drop"),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        drop, r, low, _ = self._gives()
        high = corner.supply - drop * {"min": 1.1, "typ": 1.0, "max": 0.8}[corner.signal]
        table = {"low": (low, r), "high": (high, r), "floating": (0.0, 1e10), "boot": (low, r)}
        yield Pin(name=view.refs["pin"], out=view.nodes["out"], steps=steps_of(table, schedule, r))
