"""The stage contract: what a piece of circuit must be able to say about itself.

A stage kind is one file with one frozen pydantic class derived from `Stage`. Its fields are the givens
and values a person sets; its methods are everything else. Callers use the methods and the class's
declared attributes, never a concrete kind.

1. `role` places it on the signal path: signal, drive, guard, load.
2. Along the path each stage may declare facts for the others: a signal its `offer`, a load its `demand`,
   a drive its `switch`, a guard its `clamp`. Facts are computed once and put into the `View`.
3. `windows` and `verdicts` never raise for a poor design.
4. `devices` puts its parts into the netlist, once; `draw` shows the same parts, joined the same way.
5. `watches` and `probes` say what is worth seeing in time and reading with a meter, and in which states.
6. `phrase` and `givens` say its values as part of a sentence; `ways` are the schools it can be.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any, ClassVar, Literal

from ..cards import Drawer
from ..cards.derive import Kelvin25, Spread
from ..circuit.devices import Device, PinStep
from ..fields import Document
from ..quantity import Interval, floor
from .drawing import Pen
from .findings import Verdict, Window
from .wording import Say, Sentence

Role = Literal["signal", "drive", "guard", "load"]
State = Literal["low", "high", "floating"]  # of the signal, while a reading is taken


@dataclass(frozen=True)
class Offer:
    """What a signal can give: levels [V], limits [A], source resistance [Ω], and what it does unattended."""

    high: Interval
    low: float
    steady: float
    burst: float
    resistance: float
    boot: Literal["floating", "pull-up", "pull-down"]
    boot_resistance: float


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
    celsius: float = Kelvin25
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

    def path(self, name: str) -> str:
        """The document path of one of the stage's own fields."""
        return f"stages.{self.index}.{name}"

    def stock(self) -> dict[float, int]:
        return self.drawer.resistors()


class Part(Document):
    """One line of the parts list."""

    ref: str
    title: str
    value: str
    kind: str
    rating: str = ""
    path: str | None = None
    card: str | None = None
    legs: tuple[str, ...] = ()
    face: str = ""
    stock: int = 0
    price: float = 0.0
    on_board: bool = True


class Probe(Document):
    """A point a person can find: `red` and `black` are what the meter's leads touch."""

    id: str
    title: str
    red: str
    black: str
    quantity: Literal["voltage", "current"]
    node: str | None = None
    device: str | None = None
    terminal: str | None = None
    states: tuple[State, ...] = ("low", "high")  # in which of the signal's states it is worth reading


class Watch(Document):
    """A quantity worth watching over time. `signal` is named as in `circuit.measure`; `words` make it digital."""

    id: str
    title: str
    unit: str
    signal: str
    place: int  # where it stands among the others: 0 signal, 1 supply, 2 load, 3 output, 4 contact, 5 control
    words: tuple[str, str] | None = None
    limits: tuple[tuple[float, str], ...] = ()
    shown: bool = True
    peak: bool = False  # how far it rises above the supply is worth a mark


class Step(Document):
    """One build step: place a part, add a link, or check; a check has the reading to expect."""

    id: str
    action: Literal["place", "link", "check"]
    title: str
    detail: str
    part: str | None = None
    expect: str | None = None


@dataclass(frozen=True)
class Way:
    """One school of a stage: its field's value, what it is called, and the card it needs."""

    field: str
    value: str
    title: str
    card: str


class Stage(Document):
    """Base of the stage kinds. Class attributes say what the kind is; see the module's numbered rules."""

    role: ClassVar[Role]
    title: ClassVar[str]
    purpose: ClassVar[str]
    choose: ClassVar[str]
    avoid: ClassVar[str]
    letters: ClassVar[dict[str, str]] = {}  # local part name to reference letter
    output: ClassVar[str] = ""  # what the node it drives is called

    @property
    def summary(self) -> str:
        """A few words for the facet's head."""
        return self.title

    def fitted(self) -> tuple[str, ...]:
        """Local names of the parts present, in reference order."""
        return tuple(self.letters)

    def offer(self) -> Offer | None:
        return None

    def demand(self, view: View) -> Demand | None:
        return None

    def switch(self, view: View) -> Switch | None:
        return None

    def clamp(self, view: View) -> Clamp | None:
        return None

    def windows(self, view: View) -> tuple[Window, ...]:
        return ()

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        return ()

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        return ()

    def draw(self, pen: Pen, view: View) -> None:
        """Add the stage's symbols and wires; move `pen.x` past them."""

    def parts(self, view: View) -> tuple[Part, ...]:
        return ()

    def probes(self, view: View) -> tuple[Probe, ...]:
        return ()

    def watches(self, view: View) -> tuple[Watch, ...]:
        return ()

    def steps(self, view: View) -> tuple[Step, ...]:
        return ()

    def phrase(self, say: Say) -> Sentence:
        """How it is named in the sentence of another stage: "96 Ω coil", "3.3 V pin that gives …"."""
        return ()

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        """What it adds to a facet's sentence; `fed` says what the supply is."""
        return {}

    def ways(self, view: View) -> tuple[Way, ...]:
        """Other ways to do the same job with this stage, itself among them, to be compared on one plane."""
        return ()

    def sized(self, view: View) -> Stage:
        """The stage with every value moved to what its windows suggest."""
        changes: dict[str, Any] = {}
        for found in self.windows(view):
            if found.suggested is not None:
                changes[found.path.rsplit(".", 1)[-1]] = found.suggested
            elif found.gap is not None and found.high is not None:
                # Nothing fits: take what does the job and let the verdicts say what it costs.
                changes[found.path.rsplit(".", 1)[-1]] = floor(found.high.value)
        return self.model_copy(update=changes)


def pin_steps(offer: Offer, schedule: Schedule, spread: Spread) -> list[PinStep]:
    """The signal's states as steps of a pin device."""
    high = {"min": offer.high.low, "typ": offer.high.typical, "max": offer.high.high}[spread]
    boot_level = {"floating": 0.0, "pull-up": high, "pull-down": 0.0}[offer.boot]
    boot_resistance = 1e10 if offer.boot == "floating" else offer.boot_resistance
    table = {
        "low": (offer.low, offer.resistance),
        "high": (high, offer.resistance),
        "floating": (0.0, 1e10),
        "boot": (boot_level, boot_resistance),
    }
    found = []
    for t, state in zip(schedule.times, schedule.signal, strict=True):
        if isinstance(state, str):
            found.append(PinStep(time=t, level=table[state][0], resistance=table[state][1]))
        else:
            found.append(PinStep(time=t, level=state[0], resistance=offer.resistance, ramp=state[1]))
    return found
