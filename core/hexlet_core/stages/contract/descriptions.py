"""What a stage says of its parts: lines of the parts list, measurements, probes, watches, build steps,
schools.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ...fields import Document
from ..say.checks import Change, Standing
from .facts import Use


class Part(Document):
    """One line of the parts list."""

    block: str
    local: str
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
    price: float = 0.0  # of all of them
    on_board: bool = True
    count: int = 1
    package: str = ""


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


class StepSeat(Document):
    """Where one leg goes at a step, in the board's own names."""

    leg: str
    seat: str


class Step(Document):
    """One build step: place a part, add a link, or check; a check has the reading to expect.

    `key` is the part's on the board plan and `wire` the wire's, to be lit on the map.
    """

    id: str
    action: Literal["place", "move", "out", "link", "check"]
    title: str
    detail: str
    part: str | None = None
    expect: str | None = None
    key: str = ""
    wire: str = ""
    seats: tuple[StepSeat, ...] = ()
    group: str = ""  # the sub-circuit that it belongs to


@dataclass(frozen=True)
class Way:
    """One school of a stage: its field's value, what it is called, and the card it needs.

    Ways `on_curve` differ in one thing only: the longer the current is let run, the lower its peak. A fault
    is mended by one that is `offered`: no relay grows a diode.
    """

    field: str
    value: str
    title: str
    card: str
    on_curve: bool = True
    offered: bool = True


class StateRow(Document):
    """One thing that can happen to a behaviour, what its load then does, and why."""

    state: str
    load: str
    why: str


class Found(Document):
    """One set of values that a finder came to: where its result lies over all tolerances."""

    title: str
    detail: str
    low: float
    nominal: float
    high: float
    standing: Standing
    changes: tuple[Change, ...]
    in_use: bool = False


class School(Document):
    """A way to choose among the sets of values, why one would, and what it chooses; the one in use first."""

    title: str
    why: str
    rows: tuple[Found, ...]


class Finder(Document):
    """Sets of values near what is wanted, between what is allowed: by several schools, the nearest first."""

    title: str
    unit: str
    wanted: float
    low: float
    high: float
    schools: tuple[School, ...]
    note: str

    @property
    def rows(self) -> tuple[Found, ...]:
        """The nearest, the one in use first."""
        return self.schools[0].rows


@dataclass(frozen=True)
class Throw:
    """A capacitor by its local name that throws a base, in words: what its plates are joined to, what brings
    the thrown one back, and what fills it again.
    """

    capacitor: str
    first: str
    second: str
    back: str
    fills: str


TURNS = tuple(5.0 * k for k in range(21))  # the places of a turn that are told [%]


class TurnCurve(Document):
    """What a potentiometer sets, at each place of its turn; `low` and `high` are what was asked for."""

    title: str
    unit: str
    values: tuple[float, ...]
    low: float | None = None
    high: float | None = None


class TurnMap(Document):
    """A potentiometer across its whole turn [%], and where it stands; `says` tells what its ends do."""

    title: str
    path: str
    at: float
    turns: tuple[float, ...]
    curves: tuple[TurnCurve, ...]
    says: tuple[str, ...]


class Calibration(Document):
    """What readings of the level that a trimmer sets say: their mean and how far they lie apart, the turn
    that gives what is wanted, by how much that is, and whether it is done; in words, with how to go on.
    """

    mean: float | None
    apart: float | None
    turn: float | None
    done: bool
    says: str
    steps: tuple[str, ...]


class Allowed(Document):
    """What a contact is allowed for one type of load [A]."""

    use: Use
    title: str
    least: float
    run: float
    make: float


class Ladder(Document):
    """The contact ladder: what is allowed for each type, and what this load takes. Volts [V], currents
    [A].
    """

    title: str
    rungs: tuple[Allowed, ...]
    use: Use
    runs: float
    starts: float
    volts: float
    rated_volts: float
    ac: bool
    says: str
