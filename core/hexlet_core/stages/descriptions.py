"""What a stage says of its parts: lines of the parts list, measurements, probes, watches, build steps,
schools.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..fields import Document
from .facts import State


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
    """A quantity worth watching over time. `signal` is named as in `circuit.measure`; `words` make it
    digital.
    """

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
