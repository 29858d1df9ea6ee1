"""Logic input of another board as the load: its level, its sense, and how long the pulse must be.

On the low side the switch pulls the input down against a pull-up on that board's own supply; on the high
side it would put
this supply's volts on it, which a 3.3 V input does not stand.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..circuit.devices import Device, Resistor, VoltageSource
from ..fields import Q
from ..quantity import show, show_part
from .contract import Corner, Demand, Measure, Part, Probe, Schedule, Stage, Step, View, Watch
from .drawing import HEIGHT, HIGH_Y, OUTPUT_Y, Pen
from .findings import Remedy, Verdict, Working, judge
from .wording import Say, Sentence, Word

SENSES = (("low", "acts when low"), ("high", "acts when high"))
OVER = 0.3  # above its own supply an input may go this far [V]


class LogicInput(Stage):
    role = "load"
    title = "Input of another board"
    purpose = "A reset, enable or sense input on a board with its own supply."
    choose = "The switch tells another circuit something and carries no power."
    avoid = "Both boards share a supply and a pin: join them by a resistor."
    letters = {"rail": "V", "load": "R"}

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

    def demand(self, view: View) -> Demand:
        r = view.high * self.r_pull / self.vcc
        return Demand(
            cold=r,
            typical=r,
            hot=r,
            name="input",
            energised="the input acts" if (self.acts == "low") == (view.side == "low") else "the input rests",
            use="signal",
        )

    def phrase(self, say: Say) -> Sentence:
        return (say.field("vcc", note="its supply"), Word(text="input"))

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
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

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        drop = view.switch.drop_worst if view.switch else 0.0
        found = [
            judge(
                "pulse_width",
                "load",
                "Pulse is long enough",
                nominal=self.pulse,
                worst=self.pulse,
                limit=self.shortest,
                unit="s",
                sense="at least",
                corner="shortest pulse",
                sentence=f"Wants {show(self.shortest, 's')}, gets {show(self.pulse, 's')}.",
                working=Working(
                    formula="t_{pulse} ≥ t_{least}",
                    substituted=f"{show(self.pulse, 's')} ≥ {show(self.shortest, 's')}",
                    reason="A pulse shorter than the input's own is not seen.",
                ),
                remedy=Remedy(text="Lengthen it by a one-shot."),
            )
        ]
        if view.side == "low":
            found.append(
                judge(
                    "input_low",
                    "load",
                    "Input sees a low",
                    nominal=drop,
                    worst=drop,
                    limit=self.v_il,
                    unit="V",
                    sense="at most",
                    corner="largest drop",
                    sentence=f"{show(drop, 'V')} left; low is under {show(self.v_il, 'V')}.",
                    working=Working(
                        formula="V_{drop} ≤ V_{IL}",
                        substituted=f"{show(drop, 'V')} ≤ {show(self.v_il, 'V')}",
                        reason="A switch that keeps more than V_{IL} is read as neither.",
                    ),
                    remedy=Remedy(text="Take a switch with less drop: a single transistor or MOSFET."),
                )
            )
        else:
            top = view.high
            found += [
                judge(
                    "input_over",
                    "load",
                    "Input stands the level",
                    nominal=top,
                    worst=top,
                    limit=self.vcc + OVER,
                    unit="V",
                    sense="at most",
                    corner="supply high",
                    sentence=f"{show(top, 'V')} on an input that stands {show(self.vcc + OVER, 'V')}.",
                    working=Working(
                        formula="V_{high} ≤ V_{CC} + 0.3 V",
                        substituted=f"{top:.3g} ≤ {self.vcc + OVER:.3g}",
                        reason=(
                            "Above its own supply an input conducts through its protection diode, and dies."
                        ),
                    ),
                    remedy=Remedy(
                        text=(
                            "Switch it on the low side, where only its own pull-up lifts it, or divide the "
                            "level."
                        )
                    ),
                ),
                judge(
                    "input_high",
                    "load",
                    "Input sees a high",
                    nominal=view.low - drop,
                    worst=view.low - drop,
                    limit=self.v_ih,
                    unit="V",
                    sense="at least",
                    corner="supply low",
                    sentence=f"{show(view.low - drop, 'V')}; high is over {show(self.v_ih, 'V')}.",
                    working=Working(
                        formula="V_{low} − V_{drop} ≥ V_{IH}",
                        substituted=f"{view.low - drop:.3g} ≥ {self.v_ih:.3g}",
                        reason="Between low and high nothing is promised.",
                    ),
                    remedy=Remedy(text="Take a switch with less drop."),
                ),
            ]
        means = "acts" if (self.acts == "low") == (view.side == "low") else "is released"
        active = view.offer.active if view.offer else "high"
        wrong = (active == view.on) != (means == "acts")
        found.append(
            judge(
                "input_sense",
                "load",
                "Sense of the command",
                nominal=1.0 if wrong else 0.0,
                worst=1.0 if wrong else 0.0,
                limit=0.5,
                unit="",
                sense="at most",
                corner="signal active",
                sentence=(
                    f"When the signal is {active}, the input "
                    f"{'acts' if not wrong else 'is released: the sense is inverted'}."
                ),
                working=Working(
                    formula="active signal → input acts",
                    substituted=f"switch on the {view.side} side, input acts when {self.acts}",
                    reason="A low-side switch inverts: on, it pulls the input low.",
                ),
                remedy=Remedy(text="Take an inverting drive, or change what the program sends."),
            )
        )
        return tuple(found)

    def measures(self, view: View) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Its resting level",
                mode="volts",
                red="the input",
                black="that board's 0 V",
                means="Nothing connected: near its supply, it has a pull-up; near 0 V, a pull-down.",
                path=view.path("vcc"),
            ),
            Measure(
                title="Its pull resistor",
                mode="amps",
                red="the input",
                black="that board's 0 V",
                means="Through the meter: supply over this current is the pull-up.",
                path=view.path("r_pull"),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        out, low = view.nodes["in"], view.side == "low"
        yield VoltageSource(
            name=view.refs["rail"], a="board", b="0", value=self.vcc if low else 0.0, resistance=1.0
        )
        yield Resistor(
            name=view.refs["load"],
            a="board" if low else out,
            b=out if low else "board",
            resistance=self.r_pull * (1 + corner.resistors),
        )

    def draw(self, pen: Pen, view: View) -> None:
        x, low, rail, ref = pen.x + 3.0, view.side == "low", view.refs["rail"], view.refs["load"]
        level = OUTPUT_Y if low else HIGH_Y
        r = pen.place(
            ref,
            "resistor",
            x,
            level - 4.0 if low else level + 4.0,
            label="Input",
            value=show_part(self.r_pull),
            path=view.path("r_pull"),
        )
        end = r["a"] if low else r["b"]
        pen.wire(pen.output, (x, level), load=True, part=ref)
        pen.wire(r["b"] if low else r["a"], (x, level), load=True, part=ref)
        # The other board's rail stands beside, with its 0 V joined to ours.
        s = pen.place(rail, "board", x + 5.0, HEIGHT - 3.0, label=f"{show(self.vcc, 'V')} board", value="")
        if low:
            pen.wire(end, (x + 5.0, end[1]), s["a"], part=rail)
        else:
            pen.wire(end, (x, HEIGHT - 1.2), (x + 2.5, HEIGHT - 1.2), (x + 2.5, s["a"][1]), s["a"], part=rail)
        pen.x = x + 9.0

    def parts(self, view: View) -> tuple[Part, ...]:
        return (
            Part(
                ref=view.refs["load"],
                title="Other board's input",
                value=show(self.vcc, "V"),
                kind="load",
                path=view.path("vcc"),
                on_board=False,
            ),
        )

    def probes(self, view: View) -> tuple[Probe, ...]:
        return (
            Probe(
                id="input",
                title="Other board's input to 0 V",
                red="the input",
                black="0 V rail",
                quantity="voltage",
                node=view.nodes["in"],
            ),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        ref = view.refs["load"]
        return (Watch(id=f"i({ref})", title="Input current", unit="A", signal=f"i({ref}.a)", place=2),)

    def steps(self, view: View) -> tuple[Step, ...]:
        out = view.switch.output if view.switch else "output"
        return (
            Step(
                id="board_ground",
                action="link",
                title="0 V of both boards joined",
                detail="Before any signal: the other board's 0 V to this 0 V rail.",
            ),
            Step(
                id="board_input",
                action="link",
                title=f"Input to the {out}'s strip",
                detail=f"The other board's input to the {out}'s strip; its pull is on its own board.",
            ),
        )
