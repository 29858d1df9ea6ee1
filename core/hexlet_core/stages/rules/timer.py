"""What the kinds built on a 555 share: levels as a command, its supply, the times of its capacitor."""

from __future__ import annotations

import math
from abc import abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass, replace

from ...cards.card import Card, ComparatorCard, CounterCard, DiodeCard, TimerCard
from ...cards.derive import timer
from ...cards.points import forward_volts
from ...quantity import Interval, show
from ...roots import root
from ..contract.facts import Beat, Command, Level, Rail, Rest
from ..contract.site import Site
from ..say.checks import Change, Check, check, high, low
from ..say.windows import Bound, bound
from .leak import Leak
from .timing import leak_of, takes

SHARE = 2 / 3  # of the supply, at the threshold pin; the trigger pin's is half of it
SPREAD = 0.2  # of its high drop, either way
LEFT = 0.05  # share of a level that its capacitor keeps to its rail, however late the timer
CALM = 10.0  # of its time constants until a control pin has come to its volts
DISCHARGE = 0.1  # share of the output current that the discharge pin should carry again and again


def discharge_bound(card: TimerCard, rail: Rail, ohms: str, when: str) -> Bound:
    """The least resistance [Ω] from the supply to the discharge pin; `ohms` is its symbol."""
    amps = DISCHARGE * card.output
    return bound(
        "low",
        rail.high / amps,
        "the discharge pin's current",
        detail=show(amps, "A"),
        guards="discharge",
        formula=f"{ohms} ≥ V / I_{{discharge}}",
        because=f"{when} the discharge pin carries all that this resistor gives.",
    )


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


@dataclass(frozen=True)
class Swing:
    """A capacitor [F] that a timer sends up and down between two levels of its rail [V].

    The timer acts `delay` after a level is passed [s]: the capacitor goes beyond it meanwhile.
    """

    volts: float
    farads: float
    share: float = SHARE
    delay: float = 0.0

    @abstractmethod
    def fills(self, volts: float) -> float:
        """What flows into the capacitor at a voltage while the output is high [A]."""

    @abstractmethod
    def empties(self, volts: float) -> float:
        """What flows into it while the output is low [A]: less than nothing."""

    @property
    def top(self) -> float:
        """Where the output goes low [V]."""
        return self.share * self.volts

    @property
    def bottom(self) -> float:
        """Where it goes high [V]."""
        return self.top / 2

    @property
    def _highest(self) -> float:
        beyond = max(self.fills(self.top), 0.0) * self.delay / self.farads
        return min(self.top + beyond, self.volts - LEFT * self.top)

    @property
    def _lowest(self) -> float:
        beyond = min(self.empties(self.bottom), 0.0) * self.delay / self.farads
        return max(self.bottom + beyond, LEFT * self.bottom)

    @property
    def on(self) -> float:
        """How long the output is high [s]; no end where the capacitor never comes up."""
        return takes(self.farads, self._lowest, self._highest, self.fills)

    @property
    def off(self) -> float:
        """How long the output is low [s]; no end where it never comes down."""
        return takes(self.farads, self._highest, self._lowest, self.empties)

    @property
    def first(self) -> float:
        """The first time it is high, from nothing charged [s]: longer than all others."""
        return takes(self.farads, 0.0, self._lowest, self.fills) + self.on

    @property
    def period(self) -> float:
        return self.on + self.off

    @property
    def duty(self) -> float:
        return self.on / self.period if math.isfinite(self.period) else 1.0


@dataclass(frozen=True, kw_only=True)
class Cycle(Swing):
    """A 555's capacitor charged through two resistors [Ω], and emptied through the second one into the
    discharge pin [Ω].

    With `steer` a diode bridges the second one while it charges. `bias` is what the two pins take from the
    capacitor, both together [A]; `leak` its own leakage as a resistance [Ω].
    """

    r_a: float
    r_b: float
    pin: float
    bias: float = 0.0
    leak: float = math.inf
    steer: DiodeCard | None = None

    def _lost(self, volts: float) -> float:
        return self.bias + volts / self.leak

    def fills(self, volts: float) -> float:
        left = self.volts - volts
        if self.steer is None or left <= 0.0:
            return left / (self.r_a + self.r_b) - self._lost(volts)
        card, most = self.steer, left / self.r_a

        def over(amps: float) -> float:
            across = forward_volts(card, amps)
            return left - across - self.r_a * (amps + across / self.r_b)

        through = root(over, 0.0, most, share=1e-9)
        return through + forward_volts(card, through) / self.r_b - self._lost(volts)

    def empties(self, volts: float) -> float:
        held = self.volts * self.pin / (self.r_a + self.pin)
        ohms = self.r_b + self.r_a * self.pin / (self.r_a + self.pin)
        return (held - volts) / ohms - self._lost(volts)

    @property
    def leaking(self) -> Leak:
        """What leaks as it comes to its upper level."""
        last = (self.volts - self.top) / (self.r_a + (0.0 if self.steer else self.r_b))
        return Leak(max(self.bias, 0.0), self.top, self.farads, last)

    @classmethod
    def of(
        cls,
        card: TimerCard,
        rail: Rail,
        *,
        r_a: float,
        r_b: float,
        farads: float,
        steer: DiodeCard | None = None,
    ) -> Cycle:
        """The cycle of a timer at its supply, everything at its nominal value."""
        return cls(
            volts=rail.typical,
            r_a=r_a,
            r_b=r_b,
            farads=farads,
            pin=card.discharge.drop / card.discharge.current,
            bias=card.threshold_bias - card.trigger_bias,
            leak=leak_of(farads),
            delay=card.shortest_pulse,
            steer=steer,
        )

    def scaled(self, ohms: float, farads: float, share: float) -> Cycle:
        """The same with its parts off by these shares."""
        return replace(
            self,
            r_a=self.r_a * (1 + ohms),
            r_b=self.r_b * (1 + ohms),
            farads=self.farads * (1 + farads),
            share=self.share * (1 + share),
        )


@dataclass(frozen=True, kw_only=True)
class Halves(Swing):
    """A 555's capacitor charged and emptied by its output, through a diode and a resistor each way [Ω].

    `high` is how far the output stays below the rail [V] behind `up` [Ω]; low it is `down` [Ω] to 0 V.
    """

    filling: float
    emptying: float
    high: float
    up: float
    down: float
    diode: DiodeCard
    bias: float = 0.0

    def _through(self, left: float, ohms: float) -> float:
        """What a voltage drives through the diode and a resistance [A]."""
        most = left / ohms
        if left <= 0.0:
            return 0.0
        return root(lambda i: left - forward_volts(self.diode, i) - ohms * i, 0.0, most, share=1e-9)

    def fills(self, volts: float) -> float:
        left = self.volts - self.high - volts
        return (self._through(left, self.filling + self.up) if left > 0 else 0.0) - self.bias

    def empties(self, volts: float) -> float:
        return -self._through(volts, self.emptying + self.down) - self.bias


@dataclass(frozen=True, kw_only=True)
class Schmitt(Swing):
    """An amplifier's capacitor, sent up and down by its output through one resistor [Ω].

    `high` and `low` are what the output comes to [V]; `upper` and `lower` its levels [V]; `leak` the
    capacitor's own leakage as a resistance [Ω].
    """

    ohms: float
    high: float
    low: float
    upper: float
    lower: float
    bias: float = 0.0
    leak: float = math.inf

    @property
    def top(self) -> float:
        return self.upper

    @property
    def bottom(self) -> float:
        return self.lower

    def fills(self, volts: float) -> float:
        return (self.high - volts) / self.ohms - self.bias - volts / self.leak

    def empties(self, volts: float) -> float:
        return (self.low - volts) / self.ohms - self.bias - volts / self.leak


def control_seconds(card: TimerCard, farads: float) -> float:
    """The time constant of the control pin with a capacitor at it [s]: until then the levels are lower."""
    return 2 / 3 * float(timer(card)["divider"]) * farads


def supply_checks(
    site: Site, what: str = "Timer", local: str = "timer", field: str = "card"
) -> Iterator[Check]:
    """Whether a chip bears the highest supply and works on the lowest one."""
    card, rail, u = site.card(field, Card), site.rail, site.ref(local)
    assert isinstance(card, TimerCard | CounterCard | ComparatorCard)
    timed = isinstance(card, TimerCard)
    yield check(
        f"{local}_most",
        f"{what} on the highest supply",
        "limit",
        "supply high",
        unit="V",
        nominal=rail.high,
        most=card.supply_max,
        at=high("nothing drawn"),
        says=f"{show(rail.high, 'V')} of {show(card.supply_max, 'V')} at {u}.",
        formula="V ≤ V_{max}",
        numbers=f"{show(rail.high, 'V')} ≤ {show(card.supply_max, 'V')}",
        because="Above it the chip breaks down; a charger without its battery may go higher still.",
        cure="Feed the timer through a resistor and a zener, or take one that bears more.",
    )
    yield check(
        f"{local}_least",
        f"{what} on the lowest supply",
        "need",
        "gets its volts",
        unit="V",
        nominal=rail.low,
        least=card.supply_min,
        at=low("nothing drawn"),
        says=f"{u} works from {show(card.supply_min, 'V')} and gets {show(rail.low, 'V')}.",
        formula="V ≥ V_{min}",
        numbers=f"{show(rail.low, 'V')} ≥ {show(card.supply_min, 'V')}",
        because=f"Under it the {what.lower()} forgets what it was doing.",
        cure="Take a CMOS timer: it works from 2 V on." if timed else "Take one that works from less.",
        changes=(Change(path=site.path(field), value="timer-cmos"),) if timed else (),
    )


def oscillating(card: TimerCard, rail: Rail, beat: Beat) -> Command:
    """A timer's output as a command that comes and goes by itself."""
    given = output_of(card, rail, "timer", "the supply comes up")
    return replace(given, beat=beat, rest=replace(given.rest, words="is low until the supply is there"))
