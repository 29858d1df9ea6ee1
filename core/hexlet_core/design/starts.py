"""Starting points named by what the circuit shall do."""

from __future__ import annotations

from typing import Literal

from ..stages.drives.ac_bridge import AcBridge
from ..stages.drives.nmos_low_side import NmosLowSide
from ..stages.guards.freewheel import Freewheel
from ..stages.loads.ac_load import AcLoad
from ..stages.loads.relay_coil import RelayCoil
from ..stages.loads.resistive import Resistive
from ..stages.signals.logic_pin import LogicPin
from .document import Design, Supply, in_line

Start = Literal["coil", "heater", "ac"]


def start(what: Start) -> Design:
    """A new design to fill in."""
    drive = NmosLowSide(r_pull=6800.0)
    if what == "heater":
        return in_line(LogicPin(), drive, Freewheel(school="none"), Resistive(), name="New heater switch")
    if what == "ac":
        transformer = Supply(kind="transformer", low=12.0, typical=12.6, high=13.2)
        return in_line(
            LogicPin(), AcBridge(), AcLoad(watts=10.0), name="New AC lamp switch", supply=transformer
        )
    return in_line(LogicPin(), drive, Freewheel(), RelayCoil(), name="New coil switch")
