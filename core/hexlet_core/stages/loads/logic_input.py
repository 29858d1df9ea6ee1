"""Logic input of another board as the load: its level, its sense, and how long the pulse must be.

On the low side the switch pulls the input down against a pull-up on that board's own supply; on the high side
it would put this supply's volts on it, which a 3.3 V input does not stand.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...circuit.devices import Resistor, VoltageSource
from ...fields import Q
from ...quantity import Interval, show, show_part
from ..contract.descriptions import Measure, Step
from ..contract.facts import Demand
from ..contract.parts import Placed, two_wire
from ..contract.ports import Port, rail_in
from ..contract.scenes import Probe, Watch
from ..contract.site import Site
from ..contract.stage import Load
from ..drawing.pen import HEIGHT, HIGH_Y, OUTPUT_Y, Pen
from ..rules.supplied import supplied
from ..say.checks import HIGH, Check, Shown, check, holds, low, when
from ..say.wording import Say, Sentence, Word

SENSES = (("low", "acts when low"), ("high", "acts when high"))
OVER = 0.3  # above its own supply an input may go this far [V]


class LogicInput(Load):
    title = "Input of another board"
    purpose = "A reset, enable or sense input on a board with its own supply."
    choose = "The switch tells another circuit something and carries no power."
    avoid = "Both boards share a supply and a pin: join them by a resistor."
    picture = "board"

    kind: Literal["logic_input"] = "logic_input"
    vcc: Annotated[float, Q("V", 1.0, 15.0)] = 3.3
    v_il: Annotated[float, Q("V", 0.1, 5.0)] = 0.8
    v_ih: Annotated[float, Q("V", 0.5, 12.0)] = 2.0
    r_pull: Annotated[float, Q("Ω", 100.0, 1e7)] = 10e3
    acts: Literal["low", "high"] = "low"
    shortest: Annotated[float, Q("s", 1e-9, 10.0)] = 1e-4
    pulse: Annotated[float, Q("s", 1e-9, 1e4)] = 10e-3

    @property
    def summary(self) -> str:
        return f"{show(self.vcc, 'V')} input"

    def ports(self) -> tuple[Port, ...]:
        return (rail_in(), *super().ports())

    def make(self, site: Site) -> Iterable[Placed]:
        low_side, ohms = site.side == "low", self.r_pull
        volts = self.vcc if low_side else 0.0
        yield Placed(
            local="rail",
            letter="V",
            title="Other board's supply",
            kind="board",
            device=VoltageSource,
            numbers=lambda c: {"value": volts, "resistance": 1.0},
            legs={"a": "board", "b": "zero"},
            listed=False,
        )
        yield two_wire(
            "load",
            "R",
            "Other board's input",
            Resistor,
            lambda c: {"resistance": ohms * (1 + c.resistors)},
            legs={"a": "board", "b": "bottom"} if low_side else {"a": "top", "b": "board"},
            field="r_pull",
            value=show(self.vcc, "V"),
            mark=show_part(ohms),
        )

    def _sinks(self, site: Site) -> bool:
        """Whether the closed switch makes the input act."""
        return (self.acts == "low") == (site.side == "low")

    def takes(self, site: Site) -> Demand:
        if site.side == "high":
            r = self.r_pull
            rests = self.v_il / r
            return Demand.ohmic(r, r, r, name="input", energised="the input acts", use="signal", rests=rests)
        # Its own supply drives it, whatever this one is.
        amps = Interval.spread(self.vcc / self.r_pull, 0.0)
        rests = max(self.vcc - self.v_ih, 0.1) / self.r_pull
        return Demand(lambda volts: amps, name="input", energised="the input acts", use="signal", rests=rests)

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (say.field("vcc", note="its supply"), Word(text="input"))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                Word(text="An input on a board of"),
                say.field("vcc", note="its supply"),
                Word(text="with a pull resistor of"),
                say.field("r_pull"),
                Word(text="low under"),
                say.field("v_il"),
                Word(text="high over"),
                say.field("v_ih"),
                Word(text="that"),
                say.field("acts", note="its sense", choices=SENSES),
                Word(text="for at least"),
                say.field("shortest", note="its sheet"),
                Word(text="and is told for"),
                say.field("pulse", note="pulse given"),
                *fed,
            )
        }

    def checks(self, site: Site) -> Iterator[Check]:
        rail, switch = site.rail, site.switch
        got = supplied(switch, self.takes(site))
        yield check(
            "pulse_width",
            "Pulse is long enough",
            "need",
            "time",
            unit="s",
            nominal=self.pulse,
            least=self.shortest,
            at=when("shortest pulse"),
            says=f"Wants {show(self.shortest, 's')}, gets {show(self.pulse, 's')}.",
            formula="t_{pulse} ≥ t_{least}",
            numbers=f"{show(self.pulse, 's')} ≥ {show(self.shortest, 's')}",
            because="A pulse shorter than the input's own is not seen.",
            cure="Lengthen it by a one-shot.",
        )
        if switch.side == "low":
            keeps = switch.lost_worst(self.vcc / self.r_pull)
            yield check(
                "input_low",
                "Input sees a low",
                "need",
                "level",
                unit="V",
                nominal=switch.lost(self.vcc / self.r_pull),
                worst=keeps,
                most=self.v_il,
                at=when("largest drop"),
                says=f"{show(keeps, 'V')} left; low is under {show(self.v_il, 'V')}.",
                formula="V_{drop} ≤ V_{IL}",
                numbers=f"{show(keeps, 'V')} ≤ {show(self.v_il, 'V')}",
                because="A switch that keeps more than V_{IL} is read as neither.",
                cure="Take a switch with less drop: a single transistor or MOSFET.",
                shown=Shown("bottom", switch.runs, floor=0.05),
            )
        else:
            stands = self.vcc + OVER
            yield check(
                "input_over",
                "Input stands the level",
                "limit",
                "supply high",
                unit="V",
                nominal=rail.high,
                most=stands,
                at=HIGH,
                says=f"{show(rail.high, 'V')} on an input that stands {show(stands, 'V')}.",
                formula="V_{high} ≤ V_{CC} + 0.3 V",
                numbers=f"{rail.high:.3g} ≤ {stands:.3g}",
                because="Above its own supply an input conducts through its protection diode, and dies.",
                cure="Switch it on the low side, where only its own pull-up lifts it, or divide the level.",
            )
            yield check(
                "input_high",
                "Input sees a high",
                "need",
                "gets its volts",
                unit="V",
                nominal=got.low,
                worst=got.low_worst,
                least=self.v_ih,
                at=low("largest drop"),
                says=f"{show(got.low_worst, 'V')}; high is over {show(self.v_ih, 'V')}.",
                formula="V_{low} − V_{drop} ≥ V_{IH}",
                numbers=f"{got.low_worst:.3g} ≥ {self.v_ih:.3g}",
                because="Between low and high nothing is promised.",
                cure="Take a switch with less drop.",
                shown=Shown("top", switch.runs),
            )
        right = switch.active == self._sinks(site)
        yield holds(
            "input_sense",
            "Sense of the command",
            "need",
            "place",
            right,
            at=when("signal active"),
            says=(
                "When the signal is meant, the input "
                f"{'acts' if right else 'is released: the sense is inverted'}."
            ),
            formula="active signal → input acts",
            numbers=f"switch on the {switch.side} side, input acts when {self.acts}",
            because="A low-side switch inverts: on, it pulls the input low.",
            cure="Take an inverting drive, or change what the program sends.",
        )

    def measures(self, site: Site) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Its resting level",
                mode="volts",
                red="the input",
                black="that board's 0 V",
                means="Nothing connected: near its supply, it has a pull-up; near 0 V, a pull-down.",
                path=site.path("vcc"),
            ),
            Measure(
                title="Its pull resistor",
                mode="amps",
                red="the input",
                black="that board's 0 V",
                means="Through the meter: supply over this current is the pull-up.",
                path=site.path("r_pull"),
            ),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        end = "bottom" if site.side == "low" else "top"
        return (Probe(id="input", title="Other board's input to 0 V", red="the input", signal=end),)

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (Watch(id="current", title="Input current", unit="A", signal="i(load.a)", place=2),)

    def steps(self, site: Site) -> tuple[Step, ...]:
        out = site.switch.output
        return (
            Step(
                id="ground",
                action="link",
                title="0 V of both boards joined",
                detail="Before any signal: the other board's 0 V to this 0 V rail.",
            ),
            Step(
                id="input",
                action="link",
                title=f"Input to the {out}'s strip",
                detail=f"The other board's input to the {out}'s strip; its pull is on its own board.",
            ),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        x, low_side = pen.x + 3.0, site.side == "low"
        rail, ref = site.ref("rail"), site.ref("load")
        level = OUTPUT_Y if low_side else HIGH_Y
        r = pen.part(site, "load", "resistor", x, level - 4.0 if low_side else level + 4.0, label="Input")
        end = r["a"] if low_side else r["b"]
        pen.wire(pen.output, (x, level), load=True, part=ref)
        pen.wire(r["b"] if low_side else r["a"], (x, level), load=True, part=ref)
        # The other board's rail stands beside, with its 0 V joined to ours.
        y = HEIGHT - (6.0 if pen.lifted else 3.0)
        s = pen.place(rail, "board", x + 5.0, y, label=f"{show(self.vcc, 'V')} board")
        if low_side:
            pen.wire(end, (x + 5.0, end[1]), s["a"], part=rail)
        else:
            around = ((x, HEIGHT - 1.2), (x + 2.5, HEIGHT - 1.2), (x + 2.5, s["a"][1]))
            pen.wire(end, *around, s["a"], part=rail)
        if pen.lifted:
            pen.ground(s["b"], part=rail)
        pen.x = x + 9.0
