"""Stages: what a piece of circuit must be able to say about itself.

A kind is one file with one frozen pydantic class derived from a role base. Its fields are the givens and
values that a person sets; its methods are everything else. Callers use these methods and the protocols below,
never a concrete kind.

1. `ports` says where it joins others. Facts go along joins: each role base says which it must tell.
2. `through` changes a fact that passes a block in line; what a block does not change passes as it is.
3. `make` yields its parts, once; `draw` shows the same parts, joined the same way.
4. `checks` and `windows` never raise for a poor design.
5. `scenes`, `probes`, `watches` say what it does and what is worth reading; a check that the simulated
   circuit can answer says where (`Shown`), and is held to it.
6. What only some kinds have is a protocol (`Windowed`, `Schooled`, `Measured` …) that a caller asks for.
"""

from __future__ import annotations

import math
from abc import abstractmethod
from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any, ClassVar, Literal, Protocol, runtime_checkable

from ...cards.card import Card
from ...errors import Problem
from ...fields import Document
from ..drawing.pen import Pen
from ..say.checks import Check, Facet
from ..say.windows import Window
from ..say.wording import Say, Sentence
from .descriptions import Calibration, Finder, Ladder, Measure, Path, StateRow, Step, Throw, TurnMap, Way
from .facts import Attached, Beat, Command, Control, Demand, Draw, Fact, Switch, Take
from .parts import Placed
from .ports import Port
from .scenes import MOMENT, Act, Play, Probe, Scene, Watch
from .site import Site

Role = Literal["signal", "behaviour", "drive", "guard", "load"]
ROLES: tuple[Role, ...] = ("signal", "behaviour", "drive", "guard", "load")


class Stage(Document):
    """Base of all kinds; see the module's numbered rules."""

    role: ClassVar[Role]
    facet: ClassVar[Facet]
    title: ClassVar[str]
    purpose: ClassVar[str]
    choose: ClassVar[str]
    avoid: ClassVar[str]
    picture: ClassVar[str] = ""  # of the pictograms, the one that stands for it
    cards: ClassVar[dict[str, type[Card]]] = {}  # fields that name a part card, and of which kind
    stateful: ClassVar[bool] = False  # whether it keeps what was pressed, until it is pressed again
    presses: ClassVar[tuple[str, str] | None] = None  # what begins it, what ends it: ports, where two
    lifts: ClassVar[bool] = False  # whether the lower rail of the drawing is its own, not 0 V

    @property
    @abstractmethod
    def summary(self) -> str:
        """A few words for a head: its kind and main value."""

    @abstractmethod
    def ports(self) -> tuple[Port, ...]:
        """Where it joins others."""

    def tell(self, port: str, site: Site) -> Fact | None:
        """The fact it states at a port: down at an output, up at an input."""
        return None

    def through(self, port: str, fact: Any, site: Site) -> Any:
        """A fact of its neighbour as it leaves at `port`."""
        return fact

    @abstractmethod
    def make(self, site: Site) -> Iterable[Placed]:
        """Its parts."""

    @abstractmethod
    def draw(self, pen: Pen, site: Site) -> None:
        """Add its symbols and wires from `pen.output` on; move `pen.x` past them and `pen.output`
        to its own.
        """

    def refuse(self, site: Site) -> Iterable[Problem]:
        """Joins that the ports allow and that still make no sense here: another form of contact."""
        for port in self.ports():
            given = site.seen(port.name) if port.kind == "contact" and port.way == "in" else ()
            for contact in given:
                if port.form and contact.form not in (port.form, "changeover"):
                    text = f"A {port.form} contact is wanted here, and this one is a {contact.form} contact."
                    yield Problem(f"{site.id}.{port.name}", text)

    def checks(self, site: Site) -> Iterable[Check]:
        return ()

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        """The scenes it brings about: a signal's and a behaviour's "idle", "active", "rest", and any of its
        own.
        """
        return ()


def changes(who: str) -> tuple[Scene, ...]:
    """The scenes of a change: begun, ended; and what a command does while nobody gives it."""
    began, ended = Act(who, "active", MOMENT), Act(who, "idle", MOMENT)
    return (
        Scene("begun", "just begun", (Act(who, "idle"), began), look=MOMENT),
        Scene("ended", "just ended", (Act(who, "active"), ended), look=MOMENT),
        Scene("boot", "before anybody gives it", (Act(who, "boot"),)),
    )


# --- roles ------------------------------------------------------------------------------------------
class Signal(Stage):
    """Gives a command at its port "out"."""

    role = "signal"
    facet = "drive"
    noun: ClassVar[str] = "signal"

    @abstractmethod
    def gives(self, site: Site) -> Command:
        """The command, with nothing behind it."""

    @abstractmethod
    def phrase(self, say: Say, site: Site) -> Sentence:
        """How it is named in a sentence: "3.3 V pin that gives …"."""

    def tell(self, port: str, site: Site) -> Fact | None:
        return self.gives(site) if port == "out" else None

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        command = self.gives(site)
        rests = "low" if command.sense == "high" else "high"
        return (
            Scene("idle", f"{command.name} {rests}", (Act(site.id, "idle"),)),
            Scene("active", f"{command.name} {command.sense}", (Act(site.id, "active"),)),
            Scene("rest", f"{command.name} unplugged", (Act(site.id, "floating"),)),
            *changes(site.id),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (Watch(id="out", title=self.noun.capitalize(), unit="V", signal="out", place=0),)


class Behaviour(Stage):
    """Makes one command of another, or of presses: it stays on, times out, takes turns."""

    role = "behaviour"
    facet = "behave"


class Drive(Stage):
    """A switch between a command and its load: ports "rail", "command", "control", "out"."""

    role = "drive"
    facet = "drive"

    @abstractmethod
    def switches(self, site: Site) -> Switch:
        """The switch as its load sees it, with nothing in line behind it."""

    def controlled(self, site: Site) -> Control | None:
        """Its base or gate to what hangs on it; None where nothing can."""
        return None

    def beat(self, site: Site) -> Beat | None:
        """How it opens and closes by itself, where its command does: closed and open each time."""
        given = site.seen("command")
        found = given[0].beat if given and isinstance(given[0], Command) else None
        if found is None or self.switches(site).active:
            return found
        return Beat(found.off, found.on)

    def tell(self, port: str, site: Site) -> Fact | None:
        if port == "out":
            return replace(self.switches(site), beat=self.beat(site))
        if port == "control":
            return self.controlled(site)
        if port == "command":
            amps = max((c.nominal for c in self.checks(site) if c.about == "taken"), default=0.0)
            high = site.command.high
            return Take(max(high.volts.typical / amps - high.ohms, 1.0) if amps > 0 else math.inf)
        if port == "rail":
            demand, rail, switch = site.demand(), site.rail, self.switches(site)
            surge = switch.surge(demand)
            flows = demand.inrush.flows(rail.high, surge) if demand.inrush and surge else 0.0
            return Draw(demand.most(rail.high), surge, flows)
        return None


class Guard(Stage):
    """Protects something it lies beside or in line with."""

    role = "guard"
    facet = "guard"
    idle: ClassVar[str] = ""  # said where it finds nothing to guard


class Load(Stage):
    """What is switched: it takes its current at port "load"."""

    role = "load"
    facet = "load"

    lights: ClassVar[bool] = False  # whether it is there to be seen
    at_rest: Literal["off", "on"] = "off"  # what it should do while nobody gives a command

    @abstractmethod
    def takes(self, site: Site) -> Demand:
        """What it asks of a switch."""

    @abstractmethod
    def phrase(self, say: Say, site: Site) -> Sentence:
        """How it is named in a sentence: "96 Ω coil"."""

    def ports(self) -> tuple[Port, ...]:
        return (Port("load", "load", "in", {"top": "top", "bottom": "bottom"}),)

    def tell(self, port: str, site: Site) -> Fact | None:
        return replace(self.takes(site), stays_on=self.at_rest == "on") if port == "load" else None


class InLine(Guard):
    """A guard in a load's line: what comes in at "load" leaves at "out", on the same nets unless
    it says so.
    """

    def ports(self) -> tuple[Port, ...]:
        return (
            Port("load", "load", "in", {"top": "top", "bottom": "bottom"}, passes="out"),
            Port("out", "load", "out", {"top": "top", "bottom": "bottom"}, passes="load"),
        )


class InRail(Guard):
    """A guard in a rail: what comes in at "rail" leaves at "out" for all behind it."""

    def ports(self) -> tuple[Port, ...]:
        return (
            Port("rail", "rail", "in", {"plus": "before", "zero": "zero"}, passes="out"),
            Port("out", "rail", "out", {"plus": "plus", "zero": "zero"}, needed=False, passes="rail"),
        )


class AtControl(Guard):
    """A guard on a base, or on a gate."""

    belongs: ClassVar[Literal["base", "gate"]]

    def ports(self) -> tuple[Port, ...]:
        return (Port("control", "control", "in", {"gate": "gate", "ref": "ref"}),)

    def tell(self, port: str, site: Site) -> Fact | None:
        return Attached() if port == "control" else None

    def refuse(self, site: Site) -> Iterable[Problem]:
        if site.control.what != self.belongs:
            text = (
                f"{self.title} belongs on a {self.belongs}, and this is a {site.control.what}. Take it out."
            )
            yield Problem(f"{site.id}.control", text)


# --- what only some kinds have ----------------------------------------------------------------------
@runtime_checkable
class Windowed(Protocol):
    """Has values with windows."""

    def windows(self, site: Site) -> tuple[Window, ...]: ...


@runtime_checkable
class Spoken(Protocol):
    """Adds to the facets' sentences; `fed` says what the supply is."""

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]: ...


@runtime_checkable
class Probed(Protocol):
    """Has points worth a meter."""

    def probes(self, site: Site) -> tuple[Probe, ...]: ...


@runtime_checkable
class Watched(Protocol):
    """Has quantities worth watching over time."""

    def watches(self, site: Site) -> tuple[Watch, ...]: ...


@runtime_checkable
class Measured(Protocol):
    """Can be measured by itself with a meter."""

    def measures(self, site: Site) -> tuple[Measure, ...]: ...


@runtime_checkable
class Schooled(Protocol):
    """Can do its job in several ways, to be compared on one plane."""

    def ways(self, site: Site) -> tuple[Way, ...]: ...


@runtime_checkable
class Laddered(Protocol):
    """Has a contact with ratings."""

    def ladder(self, site: Site) -> Ladder | None: ...


@runtime_checkable
class Pathed(Protocol):
    """Chooses between signal paths."""

    def paths(self, site: Site) -> tuple[Path, ...]: ...


@runtime_checkable
class Cautious(Protocol):
    """Can hurt someone."""

    def cautions(self, site: Site) -> tuple[str, ...]: ...


@runtime_checkable
class Played(Protocol):
    """Brings scripts of its own to rehearse it with."""

    def plays(self, site: Site) -> tuple[Play, ...]: ...


@runtime_checkable
class Findable(Protocol):
    """Can look for values that give what is wanted."""

    def finds(self, site: Site) -> Finder: ...


@runtime_checkable
class Turned(Protocol):
    """Has a potentiometer that sets its pace or its share."""

    def across_turn(self, site: Site) -> TurnMap | None: ...


@runtime_checkable
class Calibrated(Protocol):
    """Has a trimmer that is set by readings of the level where it acts [V]."""

    def calibrated(self, site: Site, readings: Sequence[float]) -> Calibration: ...


@runtime_checkable
class Plated(Protocol):
    """Throws a base below ground with a capacitor."""

    def plates(self, site: Site) -> tuple[Throw, ...]: ...


@runtime_checkable
class Behaving(Protocol):
    """Does more than follow its signal: `states` tell what it makes of what can happen to it, `trial` how it
    is tried for the first time and what to expect, and `settles` how long after a press all is decided [s].
    """

    def states(self, site: Site) -> tuple[StateRow, ...]: ...

    def trial(self, site: Site) -> tuple[str, str]: ...

    def settles(self, site: Site) -> float: ...


@runtime_checkable
class Selecting(Protocol):
    """Runs one of several channels, each with its button; 0 is the button for none."""

    @property
    def channels(self) -> range: ...

    def presser(self, site: Site, k: int) -> str: ...


@runtime_checkable
class Stepped(Protocol):
    """Has build steps beyond placing its parts."""

    def steps(self, site: Site) -> tuple[Step, ...]: ...
