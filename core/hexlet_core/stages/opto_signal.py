"""An optocoupler between the controller and the drive: its transistor lifts the signal to the drive's own
supply.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import OptocouplerCard
from ..cards.derive import optocoupler as opto_rule
from ..circuit.devices import Device, Optocoupler, Pin, Resistor
from ..fields import Q
from ..quantity import Interval, show, show_part
from .contract import Corner, Offer, Part, Probe, Rest, Schedule, Stage, View, Watch, pin_steps
from .drawing import HEIGHT, SIGNAL_Y, Pen
from .drive import card_part, draw_series, resistor_part
from .feed import from_low_side
from .findings import Verdict, Window, window
from .opto_switch import AGEING, LedDrive
from .wording import Say, Sentence, Word


class OptoSignal(Stage):
    role = "signal"
    title = "Pin through an optocoupler"
    purpose = "Light carries a controller's command across; a transistor repeats it on the drive's supply."
    choose = "The controller must stay apart from the load's circuit, or its 3.3 V must become the supply's."
    avoid = "The two sides share one 0 V anyway: then it isolates nothing."
    letters = {"pin": "P", "led": "R", "opto": "U", "pull": "R"}
    cards = {"card": OptocouplerCard}
    output = "signal"

    kind: Literal["opto_signal"] = "opto_signal"
    card: str = "optocoupler-35v"
    level: Annotated[float, Q("V", 1.0, 15.0)] = 3.3
    spread: Annotated[float, Q("", 0.0, 0.2)] = 0.04
    steady: Annotated[float, Q("A", 1e-5, 1.0)] = 8e-3
    resistance: Annotated[float, Q("Ω", 0.1, 1e4)] = 25.0
    r_led: Annotated[float, Q("Ω", 1.0, 1e6)] = 330.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e7)] = 10e3

    @property
    def summary(self) -> str:
        return f"{show(self.level, 'V')} pin, optocoupler"

    def _card(self, view: View) -> OptocouplerCard:
        return view.drawer.card(self.card, OptocouplerCard, view.path("card"))

    def _pin(self) -> Offer:
        rest = Rest(0.0, 1e10, "floats while it boots")
        return Offer(
            Interval.spread(self.level, self.spread), 0.0, self.steady, 2 * self.steady, self.resistance, rest
        )

    def _led(self, view: View) -> LedDrive:
        return LedDrive(
            from_low_side(self._pin()),
            self._card(view),
            self.r_led,
            view.high / self.r_pull,
            view.tolerance,
            view.refs["led"],
            tag="opto_",
            who="Optocoupler: ",
        )

    def offer(self, view: View) -> Offer:
        led, card = self._led(view), self._card(view)
        gives = max(
            led.current(led.feed.on.low, 1) * card.transfer_min * AGEING - view.high / self.r_pull, 1e-6
        )
        drop = card.saturation.voltage
        rest = Rest(0.0, self.r_pull, "is held down by its resistor in the dark", "the pin boots")
        return Offer(
            Interval(view.low - drop, view.typical - drop, view.high - 0.5 * drop),
            0.0,
            gives,
            gives,
            20.0,
            rest,
            "optocoupler",
            self.r_pull,
            follows=True,
        )

    def phrase(self, say: Say) -> Sentence:
        return (
            say.field("level", note="logic pin"),
            Word(text="and an optocoupler behind"),
            say.field("r_led", note="LED resistor"),
        )

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (
                Word(text="The load follows the pin of"),
                say.field("level"),
                Word(text="through light; dark, the signal is held down by"),
                say.field("r_pull", note="pull-down"),
            )
        }

    def windows(self, view: View) -> tuple[Window, ...]:
        led = self._led(view)
        return (
            window(
                view.path("r_led"), led.ref, "LED resistor", "Ω", self.r_led, led.bounds(), stock=view.stock()
            ),
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        return tuple(self._led(view).verdicts())

    def cautions(self, view: View) -> tuple[str, ...]:
        return (
            (
                "An optocoupler isolates only if the two sides share nothing else. On one breadboard with "
                "one 0 V it shifts a level and keeps nothing apart."
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        tol, out = 1 + corner.resistors, view.nodes["out"]
        yield Pin(name=view.refs["pin"], out="pin", steps=pin_steps(self._pin(), schedule, corner.signal))
        yield Resistor(
            name=view.refs["led"],
            a="pin",
            b="opto_light",
            resistance=self.r_led * tol,
            tolerance=view.tolerance,
        )
        yield Optocoupler(
            name=view.refs["opto"],
            a="opto_light",
            k="0",
            c="plus",
            e=out,
            **opto_rule(self._card(view), corner.spread),
        )
        yield Resistor(
            name=view.refs["pull"], a=out, b="0", resistance=self.r_pull * tol, tolerance=view.tolerance
        )

    def draw(self, pen: Pen, view: View) -> None:
        at = pen.place(view.refs["pin"], "pin", pen.x + 1.0, SIGNAL_Y, label=f"{show(self.level, 'V')} pin")
        pen.output = at["out"]
        far = draw_series(pen, view, "led", self.r_led, "r_led")
        u, r = view.refs["opto"], view.refs["pull"]
        o = pen.place(
            u, "optocoupler", far[0] + 4.4, SIGNAL_Y - 3.0, label=u, value="", path=view.path("card")
        )
        # The LED's anode lies above the signal's line, its cathode on it: lead the line round.
        pen.wire(far, (far[0] + 0.7, SIGNAL_Y), (far[0] + 0.7, o["a"][1]), o["a"], part=view.refs["led"])
        pen.wire(o["k"], (o["k"][0], HEIGHT), part=u)
        pen.wire(o["c"], (o["c"][0], 0.0), part=u)
        x = o["e"][0]
        p = pen.place(r, "resistor", x, 23.0, label=r, value=show_part(self.r_pull), path=view.path("r_pull"))
        pen.wire(o["e"], p["a"], part=r)
        pen.wire(p["b"], (x, HEIGHT), part=r)
        pen.output, pen.x = (x, SIGNAL_Y), x

    def parts(self, view: View) -> tuple[Part, ...]:
        top = view.high**2 / self.r_pull
        return (
            resistor_part(
                view,
                view.refs["led"],
                "LED resistor",
                self.r_led,
                view.path("r_led"),
                self.steady**2 * self.r_led,
            ),
            card_part(view, self, "opto", "card"),
            resistor_part(view, view.refs["pull"], "Pull-down", self.r_pull, view.path("r_pull"), top),
        )

    def probes(self, view: View) -> tuple[Probe, ...]:
        return (
            Probe(
                id="pin",
                title="Pin to 0 V",
                red="the pin",
                black="0 V rail",
                quantity="voltage",
                node="pin",
                states=("high",),
            ),
            Probe(
                id="signal",
                title="Signal to 0 V",
                red="signal strip",
                black="0 V rail",
                quantity="voltage",
                node=view.nodes["out"],
            ),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        return (
            Watch(id="pin", title="Pin", unit="V", signal="pin", place=0),
            Watch(id="signal", title="Signal", unit="V", signal=view.nodes["out"], place=5),
        )
