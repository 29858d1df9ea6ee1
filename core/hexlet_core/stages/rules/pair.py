"""What two transistors that switch each other share: the volts at which a base conducts, at which it
begins to, and how far a capacitor throws it below ground.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from ...cards.card import BipolarCard, DiodeCard
from ...cards.derive import bipolar
from ...cards.points import active_base, forward_volts, junctions, most_collector
from ...circuit.devices.base import thermal_voltage
from ...circuit.devices.heat import ROOM
from ...quantity import Interval, show
from ..contract.facts import Command, Level, Rail, Rest
from ..say.checks import Change, Check, check, high, low
from .timing import LARGE

BEARS_REVERSED = 1.5  # an electrolytic, assumed [V]


@dataclass(frozen=True)
class Thrown:
    """A base that a capacitor [F] throws below ground, and that a resistor [Ω] brings back from a rail [V].

    `collector` is the resistor of the transistor that throws it, `feeds` that of its own collector [Ω]; with
    `diode` one lies in the base's lead, and `bleed` [Ω] holds the base itself at 0 V meanwhile. `leak` is the
    capacitor's own as a resistance, and `taken` what hangs on the collector that throws it [Ω]; `turns` is
    the collector current at which it turns the other off, where more is needed than the first that counts
    [A].
    """

    volts: float
    base: float
    farads: float
    collector: float
    feeds: float
    card: BipolarCard
    diode: DiodeCard | None = None
    bleed: float = math.inf
    leak: float = math.inf
    taken: float = math.inf
    turns: float | None = None

    @property
    def drive(self) -> float:
        """What its base gets while it conducts [A]."""
        return max(self.volts - self._nominal, 0.0) / self.base

    @property
    def _nominal(self) -> float:
        return 0.65 + (0.6 if self.diode else 0.0)

    def _over(self, amps: float) -> float:
        return forward_volts(self.diode, amps) if self.diode is not None else 0.0

    @property
    def conducts(self) -> float:
        """What stands at the capacitor's end while the base conducts [V]."""
        i_b = self.drive
        v_be = junctions(self.card, self.volts / self.feeds, i_b).v_be
        return v_be + self._over(max(i_b, v_be / self.bleed))

    @property
    def begins(self) -> float:
        """What stands there as the base begins to take the other's drive away [V]: the first current that its
        own collector's resistor turns into as many volts as a junction asks for.
        """
        v_t = thermal_voltage(ROOM)
        i_c = v_t / self.feeds if self.turns is None else max(self.turns, v_t / self.feeds)
        v_be = v_t * math.log(i_c / float(bipolar(self.card)["i_s"]))
        return v_be + self._over(active_base(self.card, i_c) + v_be / self.bleed)

    @property
    def low(self) -> float:
        """What the one that throws it keeps across itself [V]."""
        amps = self.volts / self.collector + self.volts * 2 / self.base
        return min(junctions(self.card, amps, self.drive).v_ce, self.volts)

    @property
    def thrown(self) -> float:
        """Where it is thrown to, were there no breakdown [V]."""
        return self.conducts - (self.risen - self.low)

    @property
    def risen(self) -> float:
        """How high the collector that throws it comes while it is off [V]."""
        return self.volts / (1 + self.collector / self.taken)

    @property
    def breaks(self) -> bool:
        """Whether the throw breaks its emitter junction down."""
        return self.diode is None and -self.thrown > self.card.v_ebo

    @property
    def bottom(self) -> float:
        """Where it begins [V]."""
        return (
            max(self.thrown, -float(bipolar(self.card)["reverse_breakdown"])) if self.breaks else self.thrown
        )

    @property
    def seconds(self) -> float:
        """How long it stays off [s]; no end where what leaks keeps it there."""
        ohms = 1 / (1 / self.base + 1 / self.leak)
        # What leaks, leaks to where the other collector lies: near ground.
        aims = self.volts * self.leak / (self.base + self.leak) if math.isfinite(self.leak) else self.volts
        if aims <= self.begins:
            return math.inf
        if self.bottom >= self.begins:
            return 0.0
        return ohms * self.farads * math.log((aims - self.bottom) / (aims - self.begins))


def collector_command(rail: Rail, ohms: float, low: float, name: str, rests: str, words: str) -> Command:
    """A collector with its resistor as a command: the supply behind the resistor, or all but 0 V."""
    amps = rail.low / ohms
    return Command(
        high=Level(Interval(rail.low, rail.typical, rail.high), ohms),
        low=Level(Interval.spread(low, 0.0), 5.0),
        rest=Rest(low, 5.0, words, rests, here=True),
        steady=amps,
        burst=math.inf,  # its own resistor limits it
        name=name,
        follows=True,
    )


def saturates(card: BipolarCard, *, id: str, q: str, drive: float, amps: float, part: str) -> Check:
    """Whether a transistor carries what its collector resistor asks for at a base current [A]."""
    usual = most_collector(card, max(drive, 1e-9))
    carries = usual * card.gain_min / card.gain
    return check(
        id,
        f"{q} turned fully on",
        "need",
        "turns on",
        unit="A",
        nominal=usual,
        worst=carries,
        least=amps,
        at=low("least gain"),
        says=f"Could carry {show(carries, 'A')}; its collector resistor asks for {show(amps, 'A')}.",
        formula="β · I_{B} ≥ V / R_{C}",
        numbers=f"{show(drive, 'A')} of base current: {show(carries, 'A')}",
        because="A base resistor that is too large leaves its transistor half on; it holds nothing.",
        cure=f"Make {part} smaller, or the collector resistors larger.",
    )


def reversed_capacitor(top: Thrown, c: str) -> Iterator[Check]:
    """Whether an electrolytic capacitor is turned round at the end of its time: its base lies above the
    collector that has thrown it.
    """
    if top.farads < LARGE:
        return
    volts = max(top.conducts - top.low, 0.0)
    yield check(
        "turned_round",
        "Capacitor turned round",
        "practice",
        "volts",
        unit="V",
        nominal=volts,
        most=BEARS_REVERSED,
        at=high("the end of its time"),
        says=f"{c} stands {show(volts, 'V')} the wrong way round; it bears {show(BEARS_REVERSED, 'V')}.",
        formula="V = V_{BE} + V_{diode} − V_{CE}",
        numbers=f"{show(top.conducts, 'V')} − {show(top.low, 'V')} = {show(volts, 'V')}",
        because="An electrolytic's own layer bears a volt or so in reverse; more, and it leaks and warms up.",
        cure="Take a film capacitor, or two electrolytics minus to minus.",
    )


def reversed_check(top: Thrown, moment: str, cure: Change) -> Check:
    """Whether a base thrown on the full supply breaks its emitter junction down; `cure` fits the diode."""
    volts, most = -top.thrown, top.card.v_ebo
    kept = top.diode is not None
    return check(
        "reversed",
        "Base thrown below ground",
        "limit",
        "volts",
        unit="V",
        nominal=0.0 if kept else volts,
        most=most,
        at=high(moment),
        says=(
            f"{show(volts, 'V')} stand at the diode, none at the base."
            if kept
            else f"{show(volts, 'V')} at a junction that stands {show(most, 'V')}."
        ),
        formula="V_{EB} = V − V_{BE} − V_{CE}",
        numbers=f"{show(volts, 'V')} against {show(most, 'V')}",
        because="A base driven below its emitter breaks down at some 5 V and loses gain each time.",
        cure="Fit a diode in the base's lead.",
        changes=(cure,),
    )
