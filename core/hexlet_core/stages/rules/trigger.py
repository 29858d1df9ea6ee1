"""The trigger of a 555: how low its pin comes and for how long, straight from a signal or coupled."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from ...circuit.curve import Edge
from ...quantity import show, show_part
from ..contract.facts import Command
from ..say.checks import Change, Check, Shown, check, high, holds, low, when

LEAST_TRIGGER = 20e-6  # how long a trigger should last [s]
PRESS = 0.15  # an ordinary press [s]
JUNCTION = 0.6  # of what keeps a pin from rising above its supply [V]
INTO_PIN = 10e-3  # what an input bears where it is driven above its supply, assumed [A]
SPREAD = 0.15  # of the coupling's time, with its resistor and capacitor at their ends


@dataclass(frozen=True)
class Trigger:
    """A trigger pin on a rail [V], pulled up [Ω] and coupled [F] to its signal; 0 F where it lies on it.

    `seconds` is the time that it starts; `ref` its coupling capacitor's, `couple` the change that fits one,
    `invert` that which turns its signal round, `clamp` that which fits a diode to the supply where none is
    `clamped`. With `counts_from_release` a long press does no harm.
    """

    command: Command
    volts: float
    ohms: float
    farads: float
    seconds: float
    ref: str
    couple: Change
    invert: Change | None = None
    clamp: Change | None = None
    clamped: bool = False
    counts_from_release: bool = False

    @property
    def level(self) -> float:
        """Where it starts the time [V]."""
        return self.volts / 3

    @property
    def least(self) -> float:
        """How low it comes [V]."""
        command = self.command
        if not self.farads:
            return command.low.volts.high
        swing = command.high.volts.typical - command.low.volts.high
        return self.volts - swing * self.ohms / (self.ohms + command.low.ohms)

    @property
    def stays(self) -> float:
        """How long it stays under its level [s]: as long as the press where nothing couples it."""
        if not self.farads:
            return PRESS
        if self.least >= self.level:
            return 0.0
        tau = (self.ohms + self.command.low.ohms) * self.farads
        return tau * math.log((self.volts - self.least) / (self.volts - self.level))

    @property
    def lifted(self) -> float:
        """What the signal's rise drives into the trigger pin where it is lifted above its supply [A]."""
        swing = self.command.high.volts.high - self.command.low.volts.typical
        return max(swing - JUNCTION, 0.0) / max(self.command.high.ohms, 1.0)

    def _lasts(self) -> Shown:
        """Where it shows how long the trigger is low."""
        level = self.level
        since: tuple[str, float, Edge] = ("trig", level, "fall")
        return Shown(
            "trig", "pulse", "delay", look=10 * self.stays, level=level, edge="rise", since=since, within=0.05
        )

    def checks(self) -> Iterator[Check]:
        yield holds(
            "sense",
            "Signal falls when it is meant",
            "need",
            "turns on",
            self.command.sense == "low",
            at=when("it is meant"),
            says=f"A fall starts it; the {self.command.name} goes {self.command.sense} when it is meant.",
            formula="trigger on a fall",
            numbers=f"{self.command.name} goes {self.command.sense}",
            because="The timer starts when its trigger pin comes under a third of the supply.",
            cure="Put an inverter before the trigger, or take a button to 0 V.",
            changes=(self.invert,) if self.invert is not None else (),
        )
        yield check(
            "triggered",
            "Trigger is reached",
            "need",
            "turns on",
            unit="V",
            nominal=self.least,
            most=self.level,
            at=low("the signal's highest low level"),
            says=f"Comes down to {show(self.least, 'V')}; it starts under {show(self.level, 'V')}.",
            formula="V_{trigger} < V / 3",
            numbers=f"{show(self.least, 'V')} < {show(self.level, 'V')}",
            because="A signal that swings less than two thirds of the timer's supply never starts it.",
            cure="Let a transistor or a button pull the trigger to 0 V.",
        )
        if not self.farads:
            idle = self.command.high.volts.low
            yield check(
                "trigger_rests",
                "Trigger rests high",
                "need",
                "turns off",
                unit="V",
                nominal=self.command.high.volts.typical,
                worst=idle,
                least=self.level,
                at=low("the signal's lowest high level"),
                says=f"The trigger rests at {show(idle, 'V')}, and starts under {show(self.level, 'V')}.",
                formula="V_{high} > V / 3",
                numbers=f"{show(idle, 'V')} > {show(self.level, 'V')}",
                because="A trigger that rests low keeps the output on for good.",
                cure="Couple the trigger through a capacitor, or give it a signal on the timer's own supply.",
                changes=(self.couple,),
            )
            if self.counts_from_release:
                return
            yield check(
                "press_ends",
                "Press is over before the time is",
                "practice",
                "time",
                unit="s",
                nominal=PRESS,
                most=self.seconds,
                at=when("an ordinary press"),
                says=f"Held longer than {show(self.seconds, 's')}, it stays on until let go.",
                formula="t_{press} < t",
                numbers=f"{show(PRESS, 's')} < {show(self.seconds, 's')}",
                because="While the trigger is low the output stays high, whatever the capacitor does.",
                cure="Couple the trigger through a capacitor: then a long press counts as a short one.",
                changes=(self.couple,),
            )
            return
        yield check(
            "trigger_lifted",
            "Trigger driven above the supply",
            "practice",
            "surge",
            unit="A",
            nominal=0.0 if self.clamped else self.lifted,
            most=INTO_PIN,
            at=high("the moment the signal rises again"),
            says=(
                "The diode carries it off to the supply."
                if self.clamped
                else f"{show(self.lifted, 'A')} into the pin as {self.ref} lifts it above its supply."
            ),
            formula="I = (V_{swing} − V_{junction}) / R_{signal}",
            numbers=f"({show(self.command.high.volts.high, 'V')} − {show(JUNCTION, 'V')}) / "
            f"{show(self.command.high.ohms, 'Ω')} = {show(self.lifted, 'A')}",
            because="Its other side rises by as much: only what the signal's own resistance lets through is "
            "borne.",
            facet="guard",
            cure="Fit a diode from the trigger to the supply, its band to the supply.",
            changes=(self.clamp,) if self.clamp is not None else (),
        )
        yield check(
            "trigger_lasts",
            "Trigger lasts long enough",
            "need",
            "time",
            unit="s",
            nominal=self.stays,
            worst=self.stays * (1 - SPREAD),
            least=LEAST_TRIGGER,
            at=when("small parts"),
            says=f"The trigger stays under its level for {show(self.stays, 's')}.",
            formula="t_{trigger} = R_{pull} × C_{coupling} × ln(swing ÷ ⅔ V)",
            numbers=f"{show_part(self.ohms)} × {show(self.farads, 'F')} → {show(self.stays, 's')}",
            because="The timer wants its trigger for some microseconds; a little more keeps noise out.",
            cure=f"Take a larger {self.ref}.",
            shown=self._lasts() if self.stays else None,
        )
        yield check(
            "trigger_ends",
            "Trigger is over before the time is",
            "need",
            "time",
            unit="s",
            nominal=self.stays,
            worst=self.stays * (1 + SPREAD),
            most=self.seconds / 2,
            at=when("large parts"),
            says=f"The trigger is over after {show(self.stays, 's')}, however long the press.",
            formula="t_{trigger} < t / 2",
            numbers=f"{show(self.stays, 's')} < {show(self.seconds / 2, 's')}",
            because="While the trigger is low the output stays high, whatever the capacitor does.",
            cure=f"Take a smaller {self.ref}.",
            shown=self._lasts() if self.stays else None,
        )
