"""Starting points named by what the circuit shall do."""

from __future__ import annotations

from typing import Literal

from ..stages.freewheel import Freewheel
from ..stages.logic_pin import LogicPin
from ..stages.nmos_low_side import NmosLowSide
from ..stages.relay_coil import RelayCoil
from ..stages.resistive import Resistive
from .document import Design

Start = Literal["coil", "heater"]


def start(what: Start) -> Design:
    """A new design to fill in."""
    drive = NmosLowSide(r_pull=6800.0)
    if what == "heater":
        return Design(name="New heater switch", stages=(LogicPin(), drive, Freewheel(school="none"), Resistive()))
    return Design(name="New coil switch", stages=(LogicPin(), drive, Freewheel(), RelayCoil()))
