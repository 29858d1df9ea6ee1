"""A bare wire as the signal: put into a rail it gives the command, taken out it leaves the control alone.

It is how a stage is tried on the board before its button or pin is there; what it drives must hold itself
off.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ...fields import Q
from .contact import ContactSignal


class JumperWire(ContactSignal):
    title = "Wire"
    purpose = "A bare wire, put into a rail and taken out by hand."
    choose = "Trying a stage before its signal is there, or a load that only a hand at the board switches."
    avoid = "What it drives has no pull resistor of its own: a loose wire is an aerial."
    picture = "wire"
    noun = "wire"
    states = ("taken out", "put in")
    at_rest = "while the wire is out"

    kind: Literal["wire"] = "wire"
    r_pull: Annotated[float, Q("Ω", 10.0, 1e7)] | None = None
    bounce: Annotated[float, Q("s", 1e-6, 0.1)] = 10e-3
    most: Annotated[float, Q("A", 1e-4, 10.0)] = 1.0
