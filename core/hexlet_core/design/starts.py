"""Starting points named by what the circuit shall do."""

from __future__ import annotations

from typing import Literal

from ..stages.ac_bridge import AcBridge
from ..stages.ac_load import AcLoad
from ..stages.freewheel import Freewheel
from ..stages.logic_pin import LogicPin
from ..stages.nmos_low_side import NmosLowSide
from ..stages.relay_coil import RelayCoil
from ..stages.resistive import Resistive
from .document import Design, Supply

Start = Literal["coil", "heater", "ac"]


def start(what: Start) -> Design:
    """A new design to fill in."""
    drive = NmosLowSide(r_pull=6800.0)
    if what == "heater":
        return Design(
            name="New heater switch", stages=(LogicPin(), drive, Freewheel(school="none"), Resistive())
        )
    if what == "ac":
        transformer = Supply(kind="transformer", low=12.0, typical=12.6, high=13.2)
        return Design(
            name="New AC lamp switch", supply=transformer, stages=(LogicPin(), AcBridge(), AcLoad(watts=10.0))
        )
    return Design(name="New coil switch", stages=(LogicPin(), drive, Freewheel(), RelayCoil()))
