"""What drives a base or a gate, as volts away from the rail its emitter or source sits on.

The same rules then hold for a pin on an NPN at 0 V, for a transistor pulling on a PNP at the supply, and for
a rail behind a resistor: `Feed` hides which.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from ...quantity import Interval, show
from ..contract.facts import Command, Rail, Rest
from ..say.checks import About, At, Check, Remedy, Shown, Sort, check, when

RUNS = 0.9  # share of its current from which a load runs
NOTHING_FLOWS = 1e-7  # below this nobody counts a current [A]
OFF_CURE = (
    "Put a level shifter between: a transistor that pulls the control, and a pull resistor that lets it go."
)
NOT_THERE = "A signal that does not reach the rail its switch sits on can never turn it off."


@dataclass(frozen=True)
class Names:
    """Where a control's numbers show in the circuit, in the block's own names, and in which scenes.

    `switch` is the transistor and `series` the resistor before its `control` net; `high` is whether it hangs
    on the + rail, where volts and currents count downwards.
    """

    control: str
    switch: str = "switch"
    series: str = "series"
    base: str = ""  # the transistor the base belongs to, where that is another one
    on: str = "active"
    high: bool = False

    @property
    def off(self) -> str:
        return "idle" if self.on == "active" else "active"

    def volts(self, scene: str, **more: Any) -> Shown:
        """The control against its emitter or source."""
        return Shown(f"v(plus,{self.control})" if self.high else self.control, scene, **more)

    def taken(self, **more: Any) -> Shown | None:
        """The current through the series resistor while it is on; nowhere where none is fitted."""
        if not self.series:
            return None
        return Shown(f"i({self.series}.a)", self.on, times=-1.0 if self.high else 1.0, **more)

    def into(self, terminal: str, scene: str = "", **more: Any) -> Shown:
        """The current into a terminal of the transistor, while it is on or in another scene."""
        part = self.base or self.switch if terminal == "b" else self.switch
        return Shown(f"i({part}.{terminal})", scene or self.on, times=-1.0 if self.high else 1.0, **more)


@dataclass(frozen=True)
class Feed:
    """`on` turns the switch on and `off` [V] is what remains when it is told to be off; `rest` is when nobody
    tells it.

    `steady` and `burst` are the currents it can give [A]: infinite for a rail.
    """

    on: Interval
    resistance: float = 0.0
    off: float = 0.0
    rest: Rest | None = None
    steady: float = math.inf
    burst: float = math.inf
    name: str = "pin"
    off_resistance: float = 0.0  # behind which it is told to be off [Ω]
    ordinary: float | None = None  # on the low supply with ordinary parts [V]; `on.low` when not given
    follows: bool = False  # whether it moves with the supply
    limits: Interval | None = None  # what it limits itself to [A]
    off_usual: float | None = (
        None  # what remains as a rule when it is told to be off [V]; `off` when not given
    )

    @property
    def remains(self) -> float:
        """What remains as a rule when it is told to be off [V]."""
        return self.off if self.off_usual is None else self.off_usual

    @property
    def weak(self) -> float:
        """What it gives on the low supply with ordinary parts [V]."""
        return self.on.low if self.ordinary is None else self.ordinary

    @property
    def most(self) -> float:
        """The most it gives as a rule [A]."""
        return math.inf if self.limits is None else self.limits.typical

    @property
    def least(self) -> float:
        """The most that the weakest gives [A]."""
        return math.inf if self.limits is None else self.limits.low

    @property
    def limited(self) -> bool:
        return math.isfinite(self.steady)


def from_low_side(command: Command, *, rest: bool = True) -> Feed:
    """A command on a base or gate whose emitter or source is at 0 V: high turns it on."""
    return Feed(
        command.high.volts,
        command.high.ohms,
        command.low.volts.high,
        command.rest if rest else None,
        command.steady,
        command.burst,
        command.name,
        off_resistance=command.low.ohms,
        follows=command.follows,
        limits=command.limits,
    )


def sag(rail: Rail, amps: float) -> tuple[float, float]:
    """What a rail loses on its way at a current, at worst and as a rule [V]."""
    line = rail.resistance * amps
    return line + sum(x.worst(amps) for x in rail.losses), line + sum(x.volts(amps) for x in rail.losses)


def from_high_side(command: Command, rail: Rail, amps: float) -> Feed:
    """A command straight on a base or gate whose emitter or source is at the rail: low turns it on.

    `amps` is what the load takes from the rail.
    """
    rest, low, (most, usual) = command.rest, command.low, sag(rail, amps)
    at_rest = 0.0 if rest.floats else rail.high - rest.volts
    return Feed(
        Interval(
            rail.low - most - low.volts.high,
            rail.typical - usual - low.volts.typical,
            rail.high - usual - low.volts.low,
        ),
        low.ohms,
        command.short(rail),
        Rest(at_rest, rest.ohms, rest.words, rest.when),
        command.steady,
        command.burst,
        command.name,
        off_resistance=command.high.ohms,
        ordinary=rail.low - usual - low.volts.high,
        follows=True,
        off_usual=command.lacks(rail),
    )


def from_rail(
    rail: Rail, amps: float, most: float = 0.0, usual: tuple[float, float] = (0.0, 0.0), name: str = "supply"
) -> Feed:
    """A rail that gives a load `amps`, less what a helper transistor keeps: at most, and as a rule on the low
    and on the high rail [V].
    """
    lost_most, lost = sag(rail, amps)
    low, high = (keeps + lost for keeps in usual)
    on = Interval(rail.low - most - lost_most, rail.typical - high, rail.high - high)
    return Feed(on, name=name, ordinary=rail.low - low, follows=True)


def feed_currents(
    feed: Feed,
    tag: str,
    who: str,
    *,
    steady: tuple[float, float],
    burst: tuple[float, float] | None,
    formula: str,
    numbers: str,
    because: str,
    cure: Remedy,
    shown: Shown | None = None,
    brief: Sort = "limit",
    times: float = 1.0,
) -> Iterator[Check]:
    """Steady and burst current taken from the command; each pair is (nominal, worst) in amps. A burst too
    `brief` to harm is a matter of good practice, and may be so many `times` as high.
    """
    if not feed.limited:
        return
    corner = when(f"{feed.name} at its highest, resistor at its lowest")
    yield check(
        f"{tag}pin_steady",
        f"{who}{feed.name.capitalize()}, steady",
        "limit",
        "taken",
        unit="A",
        nominal=steady[0],
        worst=steady[1],
        most=feed.steady,
        at=corner,
        says=f"{show(steady[1], 'A')} of {show(feed.steady, 'A')} while it is on.",
        formula=formula,
        numbers=numbers,
        because=because,
        cure=cure,
        shown=shown,
    )
    if burst is not None and math.isfinite(feed.burst):
        yield check(
            f"{tag}pin_burst",
            f"{who}{feed.name.capitalize()} burst at switch-on",
            brief,
            "surge",
            unit="A",
            nominal=burst[0],
            worst=burst[1],
            most=times * feed.burst,
            at=corner,
            says=f"{show(burst[1], 'A')} of {show(times * feed.burst, 'A')}, for a moment.",
            formula="I = V_{pin,max} / R",
            numbers=f"= {show(feed.on.high, 'V')} / R = {show(burst[1], 'A')}",
            because="An empty gate is a short at first. Only the series resistor limits what the pin gives.",
            cure=cure,
        )


@dataclass(frozen=True)
class Trickle:
    """What a control that nobody drives lets through: its volts, and what flows then with ordinary parts and
    with the readiest specimen, hot [A].
    """

    level: float
    usual: float
    most: float


def rests_check(
    id: str,
    title: str,
    about: About,
    *,
    trickle: Trickle,
    rests: float,
    what: str,
    control: str,
    at: At,
    formula: str,
    numbers: str,
    because: str,
    cure: str | Remedy,
    shown: Shown | None = None,
    sort: Sort = "need",
    says: str = "",
    full: float | None = None,
) -> Check:
    """Whether what is switched does nothing while its control is not driven: `rests` is what it never notices
    [A]. Where it should run then, `full` is what it takes, and nine tenths of that must flow.
    """
    if full is not None:
        return check(
            id,
            title.replace("Stays off", "Stays on"),
            sort,
            about,
            unit="A",
            nominal=trickle.usual,
            least=RUNS * full,
            digits=2,
            at=at,
            says=(
                f"{control.capitalize()} sees {show(trickle.level, 'V', 2)}: {show(trickle.usual, 'A', 2)} "
                f"flow; the {what} should run on {show(full, 'A', 2)} at rest."
            ),
            formula=formula,
            numbers=numbers,
            because=because,
            cure="Take a drive that conducts while nobody gives a command, or let the load rest off.",
            shown=shown,
        )
    through = f"{show(trickle.most, 'A', 2)} may flow" if trickle.most > NOTHING_FLOWS else "nothing flows"
    return check(
        id,
        title,
        sort,
        about,
        unit="A",
        nominal=trickle.usual,
        worst=max(trickle.most, trickle.usual),
        most=rests,
        digits=2,
        at=at,
        says=says
        or (
            f"{control.capitalize()} sees {show(trickle.level, 'V', 2)}: "
            f"{through}; the {what} may get {show(rests, 'A', 2)} at rest."
        ),
        formula=formula,
        numbers=numbers,
        because=because,
        cure=cure,
        shown=shown,
    )


def rest_words(feed: Feed) -> tuple[str, str]:
    """Why a feed that nobody gives may still turn something on, and the corner, in words."""
    assert feed.rest is not None
    return (
        f"The {feed.name} {feed.rest.words}, whether a program runs or not.",
        f"{feed.name} {feed.rest.words}",
    )
