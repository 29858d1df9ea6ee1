"""What the kinds built on a 555 share: its levels as a command, and the time of its charging capacitor."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ...cards.card import TimerCard
from ...quantity import Interval
from ..contract.facts import Command, Level, Rail, Rest

SHARE = 2 / 3  # of the supply, at the threshold pin; the trigger pin's is half of it
SPREAD = 0.2  # of its high drop, either way


def output_of(card: TimerCard, rail: Rail, name: str, rests: str) -> Command:
    """A timer's output as a command: high below its supply, low to 0 V, at rest low."""
    light, heavy = card.high
    ohms = (heavy.drop - light.drop) / (heavy.current - light.current)
    drop = max(light.drop - ohms * light.current, 0.0)
    low = card.low.drop / card.low.current
    volts = Interval(
        rail.low - (1 + SPREAD) * drop, rail.typical - drop, max(rail.high - (1 - SPREAD) * drop, 0.0)
    )
    return Command(
        high=Level(volts, ohms),
        low=Level(Interval.spread(0.0, 0.0), low),
        rest=Rest(0.0, low, "is low until it is triggered", rests),
        steady=card.output,
        burst=card.output,
        name=name,
        follows=True,
    )


@dataclass(frozen=True)
class Charge:
    """A capacitor [F] charged from a rail [V] through a resistor [Ω], with what leaks from it.

    `leak` is the capacitor's own leakage as a resistance [Ω]; `bias` the current a pin takes [A]; it begins
    at `begin` [V] and is timed up to `share` of the rail.
    """

    volts: float
    ohms: float
    farads: float
    share: float = SHARE
    begin: float = 0.0
    bias: float = 0.0
    leak: float = math.inf

    @property
    def end(self) -> float:
        """The volts it is timed to [V]."""
        return self.share * self.volts

    @property
    def aims(self) -> float:
        """Where it would settle if nothing stopped it [V]."""
        return (self.volts / self.ohms - self.bias) * self._source

    @property
    def _source(self) -> float:
        return 1 / (1 / self.ohms + 1 / self.leak)

    @property
    def seconds(self) -> float:
        """How long it takes [s]; none where it begins there, no end where leakage keeps it away."""
        if self.begin >= self.end:
            return 0.0
        if self.aims <= self.end:
            return math.inf
        return self._source * self.farads * math.log((self.aims - self.begin) / (self.aims - self.end))

    @property
    def last(self) -> float:
        """The current through the resistor at the end [A]: what leakage is compared with."""
        return (self.volts - self.end) / self.ohms

    def scaled(self, ohms: float, farads: float, share: float) -> Charge:
        """The same with its parts off by these shares."""
        return replace(
            self,
            ohms=self.ohms * (1 + ohms),
            farads=self.farads * (1 + farads),
            share=self.share * (1 + share),
        )
