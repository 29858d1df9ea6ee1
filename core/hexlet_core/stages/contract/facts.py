"""What blocks tell each other along their joins. No fact is an operating point: levels behind resistances go
down, resistances and thresholds go up, and checks work out volts at a current.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ...cards.card import DiodeCard
from ...cards.points import forward_volts
from ...quantity import Interval
from ...roots import root

Side = Literal["low", "high"]
State = Literal["high", "low"]
Use = Literal["resistive", "motor", "lamp", "signal"]


class Open(Exception):
    """A fact that is asked for comes through a port that is not joined yet; `port` is "b2.command"."""

    def __init__(self, port: str) -> None:
        self.port = port
        super().__init__(port)


@dataclass(frozen=True)
class Loss:
    """What something in line keeps for itself: volts at a current [A], nominal and at worst; and nominal on
    the full supply, where that drives it harder.
    """

    volts: Callable[[float], float]
    worst: Callable[[float], float]
    full: Callable[[float], float] | None = None

    def at(self, amps: float, full: bool) -> float:
        """Nominal, on the full supply or on a lower one [V]."""
        return (self.full if full and self.full is not None else self.volts)(amps)

    @classmethod
    def ohms(cls, typical: float, worst: float | None = None) -> Loss:
        """A resistance [Ω]; `worst` is when it is hot."""
        most = typical if worst is None else worst
        return cls(lambda amps: typical * amps, lambda amps: most * amps)

    @classmethod
    def flat(cls, typical: float, worst: float | None = None) -> Loss:
        """A drop that hardly depends on the current [V]."""
        most = typical if worst is None else worst
        return cls(lambda amps: typical, lambda amps: most)

    @classmethod
    def junction(cls, card: DiodeCard) -> Loss:
        """A diode in line."""
        return cls(lambda amps: forward_volts(card, amps), card.volts_near)


@dataclass(frozen=True)
class Rail:
    """What a rail gives: its volts with nothing drawn, rms where it alternates, and what lies in line with
    them.
    """

    volts: Interval
    losses: tuple[Loss, ...] = ()
    resistance: float = 0.0  # of the supply and its leads [Ω]
    ripple: float = 0.0  # peak to peak [V]
    word: str = "supply"  # what people call it
    frequency: float | None = None  # where it alternates [Hz]
    spare: float | None = None  # what a borrowed one can give [A]
    signal: bool = False  # whether it is a signal's level, and at its ends where that is

    @property
    def low(self) -> float:
        return self.volts.low

    @property
    def typical(self) -> float:
        return self.volts.typical

    @property
    def high(self) -> float:
        return self.volts.high

    @property
    def ac(self) -> bool:
        return self.frequency is not None


@dataclass(frozen=True)
class Inrush:
    """What flows at the first moment: as through `ohms` behind all that lies in line, in words.

    It is over after `seconds`, or when `farads` are full. `pulse` is how long its first current would flow
    for the same heat in what lies in line: ∫i²·dt/i² [s].
    """

    ohms: float
    words: str
    seconds: float = 0.05
    farads: float = 0.0
    pulse: float = 0.0

    def amps(self, rail: Rail) -> float:
        """At the high rail, at its crest where it alternates, nothing else in line [A]."""
        return rail.high * (math.sqrt(2) if rail.ac else 1.0) / (self.ohms + rail.resistance)

    def lasts(self, rail: Rail) -> float:
        """[s]"""
        return 3 * (self.ohms + rail.resistance) * self.farads if self.farads else self.seconds

    def flows(self, volts: float, amps: float) -> float:
        """How long its first current would flow for the same heat [s]; what limits it draws it out."""
        if self.farads:
            return self.farads * volts / amps / 2
        free = volts / self.ohms
        return self.pulse * (free / amps) ** 2


@dataclass(frozen=True)
class Draw:
    """What is drawn from a rail at most, for good and at the first moment [A]; and how long its first
    moment would last at that current, for the same heat in what lies in line [s].
    """

    amps: float
    surge: float = 0.0
    seconds: float = 0.0

    @classmethod
    def sum(cls, parts: Sequence[Draw]) -> Draw:
        return cls(
            sum(p.amps for p in parts),
            max((p.surge + sum(o.amps for o in parts if o is not p) for p in parts if p.surge), default=0.0),
            max((p.seconds for p in parts), default=0.0),
        )


@dataclass(frozen=True)
class Level:
    """Volts above the command's own 0 V, behind a resistance [Ω]."""

    volts: Interval
    ohms: float


@dataclass(frozen=True)
class Rest:
    """What a command does while nobody gives it: a level [V] behind a resistance [Ω], and in words."""

    volts: float
    ohms: float
    words: str  # "has a pull-up of 45 kΩ while it boots"
    when: str = "the pin boots"
    here: bool = False  # by a part of this very circuit, which no loose lead takes away

    @property
    def floats(self) -> bool:
        return self.ohms >= 1e9


@dataclass(frozen=True)
class Beat:
    """A command that comes and goes by itself: how long it is meant, and not meant, each time [s]."""

    on: float
    off: float

    @property
    def period(self) -> float:
        return self.on + self.off

    @property
    def duty(self) -> float:
        """The share of the time that it is meant."""
        return self.on / self.period


@dataclass(frozen=True)
class Command:
    """A signal: its two levels, what it does unattended, and how much it can give [A].

    `sense` is the level it gives when it is meant: a button to 0 V is meant when it is low.
    """

    high: Level
    low: Level
    rest: Rest
    steady: float
    burst: float
    name: str = "pin"
    sense: State = "high"
    own: bool = False  # it has a supply of its own, apart from the load's
    follows: bool = False  # its high level moves with the load's supply
    limits: Interval | None = None  # what it limits itself to while it is on, unharmed [A]
    beat: Beat | None = None  # where it comes and goes by itself

    def short(self, rail: Rail) -> float:
        """How far its high stays below a rail, at worst [V]."""
        high = self.high.volts
        if self.follows:
            return max(rail.low - high.low, rail.typical - high.typical, rail.high - high.high, 0.0)
        return max(rail.high - high.low, 0.0)

    def lacks(self, rail: Rail) -> float:
        """How far its high stays below a full rail as a rule [V]."""
        high = self.high.volts.typical
        return max(rail.typical - high if self.follows else rail.high - high, 0.0)


@dataclass(frozen=True)
class Take:
    """What takes a command: as much as a resistance to 0 V [Ω] takes of its high level."""

    ohms: float

    @classmethod
    def sum(cls, parts: Sequence[Take]) -> Take:
        whole = sum(1 / p.ohms for p in parts)
        return cls(1 / whole if whole else math.inf)


@dataclass(frozen=True)
class Control:
    """A base or gate to what hangs on it: what it stands against its own rail [V]."""

    what: Literal["gate", "base"]
    most: float | None = None  # of a gate
    reverse: float | None = None  # of a base


@dataclass(frozen=True)
class Attached:
    """What hangs on a control: what it is held under at most, with ordinary parts, and at least [V]."""

    clamp: float = math.inf
    usual: float = math.inf
    least: float = math.inf
    power: float = math.inf  # the heat that what clamps stands [W]

    @classmethod
    def sum(cls, parts: Sequence[Attached]) -> Attached:
        names = ("clamp", "usual", "least", "power")
        return cls(*(min((getattr(p, name) for p in parts), default=math.inf) for name in names))


@dataclass(frozen=True)
class Winding:
    """A load's inductance [H], where it lets go [A], how long its parts travel [s], the volts it needs cold
    [V].
    """

    henries: float
    drop_out: float = 0.0
    travel: float = 0.0
    cold_volts: float | None = None


@dataclass(frozen=True)
class Kick:
    """A path for a winding's current when the switch opens: the volts it rises above the supply.

    Both take the current [A], the winding's resistance [Ω] and inductance [H].
    """

    volts: Callable[[float, float, float], float]
    worst: Callable[[float, float, float], float]


Takes = Callable[[float], Interval]  # amps at a voltage: hot, typical, cold


BRISK = 0.2  # of a winding's time constant: a switch that opens within it leaves its current as it was
GONE = 0.05  # share of a load's current at which it is taken to be off, where nothing tells


@dataclass(frozen=True)
class Demand:
    """What a load takes: amps at a voltage, least, typical and most, and what it does at its ends."""

    takes: Takes
    name: str = "load"
    energised: str = "runs"
    use: Use = "resistive"  # as a contact's sheet calls it
    winding: Winding | None = None
    inrush: Inrush | None = None
    farads: float = 0.0  # that hold its volts up when the switch opens
    idles: float = 0.0  # the volts under which it takes nothing any more [V]
    kick: Kick | None = None
    across: float = 0.0  # what guards put across the switch [F]
    held: bool = False  # whether a guard keeps its charge from flowing back
    stays_on: bool = False  # whether it should run while nobody gives a command
    rests: float = 0.0  # the current under which it surely does nothing that anybody notices [A]
    branches: tuple[Demand, ...] = ()  # the loads that it is the sum of, where there are several

    @property
    def wound(self) -> tuple[Demand, ...]:
        """Each load that stores energy in a winding."""
        return tuple(d for d in self.branches or (self,) if d.winding is not None)

    def amps(self, volts: float) -> float:
        """Typical current [A]."""
        return self.takes(volts).typical

    def most(self, volts: float) -> float:
        """The most it takes for good: cold, or at its parts' extreme [A]."""
        return self.takes(volts).high

    def lets_go(self, volts: float) -> float:
        """The current at which it is off as armature or eye sees it [A]; `volts` are its usual ones."""
        if self.winding is not None and self.winding.drop_out > 0:
            return self.winding.drop_out
        return self.rests or GONE * self.amps(volts)

    @property
    def gone(self) -> str:
        """What is seen at that current."""
        held = self.winding is not None and self.winding.drop_out > 0
        return "it lets go" if held else f"the {self.name} is off"

    def surge(self, rail: Rail) -> float:
        """Current at the first moment, where that is more than the steady one [A]; else 0."""
        return self.inrush.amps(rail) if self.inrush is not None else 0.0

    def brief(self, rail: Rail) -> float:
        """How long the first moment lasts [s]; 0 where there is none."""
        return self.inrush.lasts(rail) if self.inrush is not None else 0.0

    @classmethod
    def ohmic(cls, cold: float, typical: float, hot: float, **more: object) -> Demand:
        """A resistance [Ω]."""
        return cls(lambda v: Interval(v / hot, v / typical, v / cold), **more)  # type: ignore[arg-type]

    @classmethod
    def sum(cls, parts: Sequence[Demand]) -> Demand:
        """Loads side by side on one output: currents and stored energies add, the strongest inrush stands for
        all.
        """
        if len(parts) == 1:
            return parts[0]

        def takes(volts: float) -> Interval:
            all_of = [p.takes(volts) for p in parts]
            return Interval(
                sum(t.low for t in all_of), sum(t.typical for t in all_of), sum(t.high for t in all_of)
            )

        first = max(parts, key=lambda p: p.winding.henries if p.winding else 0.0)
        winding = first.winding
        if winding is not None:  # ½·L·I² of all together, at a current that is the sum
            volts = winding.cold_volts or 1.0
            whole = max(takes(volts).typical, 1e-12)
            stored = sum(p.winding.henries * p.amps(volts) ** 2 for p in parts if p.winding is not None)
            winding = replace(winding, henries=stored / whole**2)
        rush = [p.inrush for p in parts if p.inrush is not None]
        return replace(
            first,
            takes=takes,
            winding=winding,
            branches=tuple(parts),
            name=_together([p.name for p in parts]),
            energised=", ".join(p.energised for p in parts),
            inrush=min(rush, key=lambda r: r.ohms, default=None),
            farads=sum(p.farads for p in parts),
            idles=max((p.idles for p in parts), default=0.0),
            kick=next((p.kick for p in parts if p.kick is not None), None),
            across=sum(p.across for p in parts),
            rests=min(p.rests for p in parts),
        )


def _together(names: Sequence[str]) -> str:
    """Several things by name: "coil and LED", "2 coils"."""
    counted = {name: names.count(name) for name in names}
    return " and ".join(name if n == 1 else f"{n} {name}s" for name, n in counted.items())


@dataclass(frozen=True)
class Switch:
    """A switch to the load: on which side it lies, what it keeps, what it stands, and when it is closed."""

    ref: str
    output: str  # what its output is called: drain, collector
    side: Side
    rail: Rail  # that it connects the load to
    losses: tuple[Loss, ...]  # in line with the load, its own first
    breakdown: float  # [V]
    capacitance: float  # across it [F]
    on: State  # the command's level that closes it
    active: bool  # whether it is closed while the command is meant
    avalanche: float | None = None  # energy it is rated to take in breakdown [J]
    reaches: float = math.inf  # the most its output comes to, where it follows its command [V]
    scene: str = ""  # in which it is closed, where that is one of its own
    apart: bool = False  # the load's supply returns elsewhere than at 0 V
    beat: Beat | None = None  # where it opens and closes by itself: closed and open each time
    ramp: float = 0.0  # within how long its output comes up, where it does so gently [s]
    opens: float = 0.0  # how long it is half on as it opens [s]
    slow: bool = False  # whether it opens so slowly that a winding's current just follows

    @property
    def runs(self) -> str:
        """The scene in which the load runs."""
        return self.scene or ("active" if self.active else "idle")

    def eases(self, demand: Demand) -> bool:
        """Whether it opens so slowly that a winding's current dies away meanwhile, some of it or all."""
        winding, volts = demand.winding, self.rail.high
        if winding is None:
            return False
        return self.slow or self.opens > BRISK * winding.henries * demand.amps(volts) / volts

    def surge(self, demand: Demand) -> float:
        """What flows at the first moment on the full supply, all that lies in line counted [A]; 0 where that
        is no more than what flows for good.
        """
        rush, rail = demand.inrush, self.rail
        if rush is None:
            return 0.0
        if self.ramp > 0.0 and rush.farads > 0.0:
            return demand.most(rail.high) + rush.farads * rail.high / self.ramp
        top = min(rail.high, self.reaches) * (math.sqrt(2) if rail.ac else 1.0)
        ohms = rush.ohms + rail.resistance

        def left(amps: float) -> float:
            return (
                top - ohms * amps - sum(loss.at(amps, True) for loss in rail.losses) - self.lost(amps, True)
            )

        return root(left, 0.0, top / ohms, share=1e-6) if left(0.0) > 0 > left(top / ohms) else top / ohms

    def lost(self, amps: float, full: bool = False) -> float:
        """What stays in line at a current, on the full supply or on a lower one [V]."""
        return sum(loss.at(amps, full) for loss in self.losses)

    def lost_worst(self, amps: float) -> float:
        return sum(loss.worst(amps) for loss in self.losses)


@dataclass(frozen=True)
class Contact:
    """A contact: which sides it has, what it carries [A], how long it bounces and travels [s], its ohms."""

    form: Literal["make", "break", "changeover"]
    most: float
    bounce: float
    ohms: float
    name: str = "button"
    travel: float = 0.0  # of a changeover, between its two sides


@dataclass(frozen=True)
class Wetting:
    """What a contact sees: volts open, amps closed."""

    volts: float
    amps: float


Fact = Rail | Draw | Command | Take | Control | Attached | Demand | Switch | Contact | Wetting
