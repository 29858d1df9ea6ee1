"""Starting points named by what the circuit shall do."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..errors import DocumentError, Problem
from ..fields import Document
from ..stages.behaviours.astable import Astable
from ..stages.behaviours.dimmer import Dimmer
from ..stages.behaviours.one_shot import OneShot
from ..stages.behaviours.power_on_delay import PowerOnDelay
from ..stages.contract import Stage
from ..stages.drives.ac_bridge import AcBridge
from ..stages.drives.cut_off import CutOff
from ..stages.drives.held_latch import HeldLatch
from ..stages.drives.nmos_low_side import NmosLowSide
from ..stages.drives.one_of_chain import OneOfChain
from ..stages.drives.one_of_n import OneOfN
from ..stages.drives.soft_latch import SoftLatch
from ..stages.guards.freewheel import Freewheel
from ..stages.loads.ac_load import AcLoad
from ..stages.loads.led import LedLoad
from ..stages.loads.relay_coil import RelayCoil
from ..stages.loads.resistive import Resistive
from ..stages.signals.logic_pin import LogicPin
from ..stages.signals.push_button import PushButton
from .document import Design, Supply, in_line


class Start(Document):
    """One starting point: what it shall do, of which blocks it is made, and its pictogram."""

    id: str
    title: str
    made_of: str
    picture: str


@dataclass(frozen=True)
class _Start:
    title: str
    made_of: str
    picture: str
    make: Callable[[], Design]


def selector(*loads: Stage, name: str = "New selector", **more: Any) -> Design:
    """One of several loads, each with its changeover button, and a button for none."""
    buttons = (PushButton(form="changeover", most=0.1, travel=2.2e-3) for _ in loads)
    off = PushButton(form="NC", most=0.1)
    return in_line(*buttons, off, OneOfN(count=len(loads)), *loads, name=name, **more)


def chain_selector(*loads: Stage, name: str = "New selector", **more: Any) -> Design:
    """The same with plain push buttons and chains of transistors."""
    buttons = (PushButton() for _ in range(len(loads) + 1))
    return in_line(*buttons, OneOfChain(count=len(loads)), *loads, name=name, **more)


def _drive() -> NmosLowSide:
    return NmosLowSide(r_pull=6800.0)


BENCH = Supply(kind="bench supply", low=11.4, typical=12.0, high=12.6)
_STARTS: dict[str, _Start] = {
    "coil": _Start(
        "Switch a coil from a logic pin",
        "Drive, Guard, Load",
        "coil",
        lambda: in_line(LogicPin(), _drive(), Freewheel(), RelayCoil(), name="New coil switch"),
    ),
    "heater": _Start(
        "Switch a heater from a logic pin",
        "Drive, Load",
        "heater",
        lambda: in_line(
            LogicPin(), _drive(), Freewheel(school="none"), Resistive(), name="New heater switch"
        ),
    ),
    "oneshot": _Start(
        "Turn off by itself after a press",
        "Behave, Drive, Load",
        "oneshot",
        lambda: in_line(
            PushButton(to="zero"), OneShot(), NmosLowSide(), LedLoad(), name="New timed light", supply=BENCH
        ),
    ),
    "blink": _Start(
        "Blink, tick or clock something",
        "Behave, Drive, Load",
        "blink",
        lambda: in_line(Astable(), NmosLowSide(), LedLoad(), name="New blinker", supply=BENCH),
    ),
    "dim": _Start(
        "Give a heater or light a part of its power",
        "Behave, Drive, Load",
        "dimmer",
        lambda: in_line(
            Dimmer(), NmosLowSide(), Resistive(resistance=12.0, power=15.0), name="New dimmer", supply=BENCH
        ),
    ),
    "delay": _Start(
        "Come on a while after the supply",
        "Behave, Drive, Load",
        "delay",
        lambda: in_line(PowerOnDelay(), NmosLowSide(), Resistive(), name="New delayed start", supply=BENCH),
    ),
    "latch": _Start(
        "Press on, press off",
        "Drive and Behave in one, Load",
        "latch",
        lambda: in_line(PushButton(), SoftLatch(), Resistive(), name="New soft latch"),
    ),
    "hold": _Start(
        "Start and stop, two buttons",
        "Drive and Behave in one, Load",
        "latch",
        lambda: in_line(PushButton(), PushButton(), HeldLatch(), Resistive(), name="New held latch"),
    ),
    "guard": _Start(
        "Save a battery from running flat",
        "Drive and Behave in one, Load",
        "cutoff",
        lambda: in_line(CutOff(), Resistive(), name="New battery guard"),
    ),
    "select": _Start(
        "One of three at a time",
        "Buttons, Behave and Drive in one, three Loads",
        "select",
        lambda: selector(*(Resistive(resistance=22.0, power=10.0, name=f"Panel {k}") for k in (1, 2, 3))),
    ),
    "ac": _Start(
        "Switch low-voltage AC",
        "Drive, Load; ratings above 30 V",
        "ac",
        lambda: in_line(
            LogicPin(),
            AcBridge(),
            AcLoad(watts=10.0),
            name="New AC lamp switch",
            supply=Supply(kind="transformer", low=12.0, typical=12.6, high=13.2),
        ),
    ),
}


def starts() -> tuple[Start, ...]:
    """Every starting point."""
    return tuple(
        Start(id=id, title=s.title, made_of=s.made_of, picture=s.picture) for id, s in _STARTS.items()
    )


def start(what: str) -> Design:
    """A new design to fill in.

    Raises:
        DocumentError: there is no such starting point.
    """
    if what not in _STARTS:
        raise DocumentError(
            Problem("start", "There is no such starting point.", got=what, allowed=", ".join(_STARTS))
        )
    return _STARTS[what].make()
