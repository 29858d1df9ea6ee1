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
7. A drive says on which `side` it switches and whether it `inverts`; the other stages follow the `View`.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any, ClassVar, Literal

from ..cards import Drawer
from ..cards.card import Card
from ..cards.derive import Kelvin25, Spread
from ..circuit.devices import Device, PinStep
from ..fields import Document
from ..quantity import Interval, floor
from .contact import Contact
from .drawing import Pen
from .findings import Verdict, Window
from .wording import Say, Sentence

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
    """What a signal can give: levels [V], limits [A], source resistance high and low [Ω], and what it does unattended."""

    high: Interval
    low: float
    steady: float
    burst: float
    resistance: float
    rest: Rest
    name: str = "pin"
    low_resistance: float | None = None  # where it differs
    active: Literal["high", "low"] = "high"  # what it gives when it is meant: a button to 0 V is active low
    bounces: float = 0.0  # [s]
    own: bool = False  # it has a supply of its own, apart from the load's


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
    driven: float = 0.0  # the most that is put on its control [V]
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
    check: tuple[str, str] | None = None  # what the meter does to it once it is in, and what to expect


class Measure(Document):
    """One measurement of a load or signal by itself: the two points, the mode, and what the reading means."""

    title: str
    mode: Literal["ohms", "volts", "amps", "diode"]
    red: str
    black: str
    means: str
    path: str | None = None  # the given it settles


class Path(Document):
    """One pole's connection, relaxed and energised."""

    pole: str
    relaxed: str
    energised: str


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
    cards: ClassVar[dict[str, type[Card]]] = {}  # fields that name a part card, and of which kind

    @property
    def summary(self) -> str:
        """A few words for the facet's head."""
        return self.title

    def fitted(self) -> tuple[str, ...]:
        """Local names of the parts present, in reference order."""
        return tuple(self.letters)

    @property
    def side(self) -> Side:
        """Of a drive: on which side of the load it switches."""
        return "low"

    @property
    def inverts(self) -> bool:
        """Of a drive: whether a low signal turns the load on."""
        return False

    @property
    def isolates(self) -> bool:
        """Of a drive: whether the signal keeps a 0 V of its own, and the supply returns elsewhere than at 0 V."""
        return False

    @property
    def on_rail(self) -> bool:
        """Of a guard: whether it lies in the + rail, between the supply and everything else."""
        return False

    def offer(self, view: View) -> Offer | None:
        return None

    def demand(self, view: View) -> Demand | None:
        return None

    def switch(self, view: View) -> Switch | None:
        return None

    def clamp(self, view: View) -> Clamp | None:
        return None

    def loses(self, view: View) -> float:
        """Of a guard: what it keeps from the load [V]."""
        return 0.0

    def snub(self, view: View) -> float:
        """Of a guard: the capacitance it puts across the switch [F]."""
        return 0.0

    def gate_clamp(self, view: View) -> float | None:
        """Of a guard: what it holds the gate under at most [V]."""
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
        """Build steps; every part placed by the nodes its legs go to, unless a kind says it better."""
        return placed(self, view)

    def measures(self, view: View) -> tuple[Measure, ...]:
        """How to measure the load or signal with a meter before anything is built."""
        return ()

    def paths(self, view: View) -> tuple[Path, ...]:
        """Which way each pole of a signal path goes, relaxed and energised."""
        return ()

    def contact(self, view: View) -> Contact | None:
        """The contact ladder of a stage that has a contact."""
        return None

    def cautions(self, view: View) -> tuple[str, ...]:
        """What can hurt someone."""
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


RAILS = {"plus": "the + rail", "0": "the 0 V rail"}
FULL = {
    "g": "gate", "d": "drain", "s": "source", "b": "base", "c": "collector", "e": "emitter", "a": "anode", "k": "cathode",
    "com": "common", "no": "NO", "nc": "NC",
}  # fmt: skip


def strip(node: str) -> str:
    """What a node is called on the board."""
    return RAILS.get(node, f"the {node.replace('_', ' ')} strip")


def placed(stage: Stage, view: View) -> tuple[Step, ...]:
    """One step for each part: which leg goes where, read from the stage's own netlist; and a check by the meter where the part has one."""
    found = []
    fitted = {p.ref: p for p in stage.parts(view)}
    for device in stage.devices(view, Corner(supply=view.typical), Schedule()):
        part = fitted.get(device.name)
        if part is None:
            continue
        nodes, ref = device.nodes(), device.name
        plain = len(nodes) == 2 and part.kind in ("resistor", "load", "capacitor", "fuse")
        if plain:
            title = f"{ref}, {part.value}: {' to '.join(_short(n) for n in nodes.values())}"
            where = " to ".join(strip(n) for n in nodes.values())
        elif len(nodes) == 2 and set(nodes) == {"a", "k"}:
            title, where = (
                f"{ref}: band to {_short(nodes['k'])}",
                f"its band (cathode) to {strip(nodes['k'])}, the other end to {strip(nodes['a'])}",
            )
        else:
            title = f"{ref}: {', '.join(FULL.get(leg, leg) for leg in part.legs or nodes)}"
            where = ", ".join(f"{FULL.get(leg, leg)} to {strip(n)}" for leg, n in nodes.items())
        legs = (
            " Marked face as the leg order shows, each leg in a strip of its own. Yours may differ: check its sheet or find the legs with the meter."
            if len(part.legs) > 2
            else ""
        )
        action: Literal["place", "link"] = "place" if part.on_board else "link"
        off = "" if part.on_board else " It stays off the board, on leads of its own."
        found.append(
            Step(id=f"place_{ref.lower()}", action=action, title=title[:90], part=ref, detail=f"{part.title}: {where}.{legs}{off}")
        )
        if part.check:
            found.append(
                Step(
                    id=f"check_{ref.lower()}",
                    action="check",
                    title=f"{ref}, by the meter",
                    part=ref,
                    detail=part.check[0],
                    expect=part.check[1],
                )
            )
    return tuple(found)


def _short(node: str) -> str:
    """A node's name as it stands in a step's title."""
    return {"plus": "+ rail", "0": "0 V rail"}.get(node, node.replace("_", " "))


def pin_steps(offer: Offer, schedule: Schedule, spread: Spread) -> list[PinStep]:
    """The signal's states as steps of a pin device."""
    high = {"min": offer.high.low, "typ": offer.high.typical, "max": offer.high.high}[spread]
    rest = offer.rest
    table = {
        "low": (offer.low, offer.resistance if offer.low_resistance is None else offer.low_resistance),
        "high": (high, offer.resistance),
        "floating": (0.0, 1e10),
        "boot": (min(rest.level, high), min(rest.resistance, 1e10)),
    }
    found = []
    for t, state in zip(schedule.times, schedule.signal, strict=True):
        if isinstance(state, str):
            found.append(PinStep(time=t, level=table[state][0], resistance=table[state][1]))
        else:
            found.append(PinStep(time=t, level=state[0], resistance=offer.resistance, ramp=state[1]))
    return found
