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

from collections.abc import Iterable
from typing import Any, ClassVar

from ..cards.card import Card
from ..circuit.devices import Device
from ..fields import Document
from ..quantity import floor
from .building import placed, strip
from .contact import Contact
from .descriptions import Measure, Part, Path, Probe, Step, Watch, Way
from .drawing import Pen
from .facts import (
    Clamp,
    Corner,
    Demand,
    Offer,
    Rest,
    Role,
    Schedule,
    Side,
    State,
    Switch,
    View,
    pin_steps,
    steps_of,
)
from .findings import Verdict, Window
from .wording import Say, Sentence


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
        """Of a drive: whether the signal keeps a 0 V of its own, and the supply returns elsewhere than at 0
        V.
        """
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
        return placed(self.devices(view, Corner(supply=view.typical), Schedule()), self.parts(view))

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


__all__ = [
    "Clamp",
    "Corner",
    "Demand",
    "Measure",
    "Offer",
    "Part",
    "Path",
    "Probe",
    "Rest",
    "Role",
    "Schedule",
    "Side",
    "Stage",
    "State",
    "Step",
    "Switch",
    "View",
    "Watch",
    "Way",
    "pin_steps",
    "steps_of",
    "strip",
]
