"""What stages tell each other: the facts a signal, load, drive and guard declare, and the view each stage
gets of the design.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from ..cards import Drawer
from ..cards.derive import Spread
from ..circuit.devices import PinStep
from ..circuit.devices.heat import ROOM
from ..quantity import Interval

Role = Literal["signal", "drive", "guard", "load"]
Side = Literal["low", "high"]
State = Literal["low", "high", "floating"]  # of the signal, while a reading is taken


@dataclass(frozen=True)
class Rest:
    """What a signal does while nobody commands it: a level [V] behind a resistance [Ω], and in words."""

    level: float
    resistance: float
    words: str  # "has a pull-up of 45 kΩ while it boots"
    when: str = "the pin boots"


@dataclass(frozen=True)
class Offer:
    """What a signal can give: levels [V], limits [A], source resistance high and low [Ω], and what it does
    unattended.
    """

    high: Interval
    low: float
    steady: float
    burst: float
    resistance: float
    rest: Rest
    name: str = "pin"
    low_resistance: float | None = None  # where it differs
    active: Literal["high", "low"] = "high"  # what it gives when it is meant: a button to 0 V is active low
    own: bool = False  # it has a supply of its own, apart from the load's
    follows: bool = False  # its high level moves with the load's supply

    def short(self, low: float, typical: float, high: float) -> float:
        """How far its high stays below the load's supply, at worst [V]."""
        if self.follows:
            return max(low - self.high.low, typical - self.high.typical, high - self.high.high, 0.0)
        return max(high - self.high.low, 0.0)


@dataclass(frozen=True)
class Demand:
    """What a load takes: resistance cold, now and hot [Ω], inductance [H], and where a coil lets go."""

    cold: float
    typical: float
    hot: float
    inductance: float = 0.0
    drop_out: float = 0.0  # [A]
    release_travel: float = 0.0  # [s]
    name: str = "load"
    energised: str = "runs"
    surge: float = 0.0  # current at the first moment, where it is more than the steady one [A]
    surge_words: str = ""
    surge_time: float = 0.05  # [s]
    capacitance: float = 0.0  # that holds its volts up when the switch opens [F]
    cold_volts: float | None = None  # what a coil needs cold, where it needs more hot [V]
    use: Literal["resistive", "motor", "lamp", "signal"] = "resistive"  # as a contact's sheet calls it

    @property
    def inductive(self) -> bool:
        return self.inductance > 0


@dataclass(frozen=True)
class Switch:
    """What a drive is to the load and the guard: its drop at a current and its breakdown [V]."""

    ref: str
    output: str  # what its output is called: drain, collector
    drop: float
    drop_worst: float
    breakdown: float
    capacitance: float
    avalanche_energy: float  # [J]; 0 when not rated
    resistance: float = 0.0  # between output and load when on, where that is all there is [Ω]
    control: str = ""  # the node of its base or gate
    gate_max: float = 0.0  # of a MOSFET [V]
    reverse: float = 0.0  # a base's reverse breakdown [V]
    body_diode: bool = False  # leads current back from the load into the supply


@dataclass(frozen=True)
class Clamp:
    """What a guard does: how far the output rises above the supply [V], nominal and worst."""

    fitted: bool
    volts: float
    volts_worst: float


@dataclass(frozen=True)
class Corner:
    """One combination of extremes for the simulated circuit."""

    supply: float
    celsius: float = ROOM
    spread: Spread = "typ"
    resistors: float = 0.0  # relative error of every resistor
    signal: Spread = "typ"


@dataclass(frozen=True)
class Schedule:
    """Who does what when, for the netlist: the signal's steps and the supply's points.

    A step of the signal is one of its states, or (volts, seconds) for a slow move to a voltage.
    """

    signal: tuple[Literal["low", "high", "floating", "boot"] | tuple[float, float], ...] = ("low",)
    times: tuple[float, ...] = (0.0,)
    supply: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class View:
    """What a stage sees of the design around it."""

    index: int
    low: float  # supply [V]
    typical: float
    high: float
    hot: float  # hottest surroundings [°C]
    tolerance: float  # of every resistor
    drawer: Drawer
    refs: Mapping[str, str]
    nodes: Mapping[str, str]
    offer: Offer | None = None
    demand: Demand | None = None
    switch: Switch | None = None
    clamp: Clamp | None = None
    wishes: Mapping[str, float] = field(default_factory=dict)
    supply_name: str = "supply"
    side: Side = "low"  # of the load on which the drive switches
    on: State = "high"  # the signal's state in which the load is meant to run
    source: float = 0.0  # the supply's own resistance [Ω]
    ac: bool = False
    frequency: float = 50.0
    guarded: frozenset[str] = frozenset()  # kinds of guard that are there
    gate_clamp: float | None = None  # what a guard holds the gate under [V]
    ground: str = "0"  # the signal's own 0 V
    back: str = "0"  # where the supply's current returns

    @property
    def top(self) -> str:
        """The load's upper node."""
        return "plus" if self.side == "low" else self.nodes["in"]

    @property
    def bottom(self) -> str:
        """The load's lower node."""
        return self.nodes["in"] if self.side == "low" else "0"

    def path(self, name: str) -> str:
        """The document path of one of the stage's own fields."""
        return f"stages.{self.index}.{name}"

    def stock(self) -> dict[float, int]:
        return self.drawer.resistors()


def steps_of(
    table: Mapping[str, tuple[float, float]], schedule: Schedule, resistance: float
) -> list[PinStep]:
    """A schedule as steps of a pin device: `table` gives each state's level [V] and resistance [Ω]; a slow
    move is behind `resistance`.
    """
    found = []
    for t, state in zip(schedule.times, schedule.signal, strict=True):
        if isinstance(state, str):
            found.append(PinStep(time=t, level=table[state][0], resistance=table[state][1]))
        else:
            found.append(PinStep(time=t, level=state[0], resistance=resistance, ramp=state[1]))
    return found


def pin_steps(offer: Offer, schedule: Schedule, spread: Spread) -> list[PinStep]:
    """What a signal offers, as steps of a pin device."""
    high = {"min": offer.high.low, "typ": offer.high.typical, "max": offer.high.high}[spread]
    rest = offer.rest
    table = {
        "low": (offer.low, offer.resistance if offer.low_resistance is None else offer.low_resistance),
        "high": (high, offer.resistance),
        "floating": (0.0, 1e10),
        "boot": (min(rest.level, high), min(rest.resistance, 1e10)),
    }
    return steps_of(table, schedule, offer.resistance)
