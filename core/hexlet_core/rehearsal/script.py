"""Scripts: a list of events up to a time. Readable JSON, published as a schema; `events` tells the verbs."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import StringConstraints

from ..cards import Drawer
from ..circuit.netlist import Netlist
from ..design.circuit import netlist
from ..design.document import Design
from ..fields import Document, Q
from ..stages.contract import Corner, Schedule
from .events import Events, SetPin, SetSupply, SweepInput, apply

Level = Literal["low", "high", "floating", "boot"]


class Script(Document):
    """Events up to `stop` [s]; the signal starts low, the supply at its typical voltage."""

    title: Annotated[str, StringConstraints(min_length=1, max_length=80)] = "Pin on, then off"
    stop: Annotated[float, Q("s", 1e-6, 1e4)] = 0.13
    start_volts: Annotated[float, Q("V", 0.0, 400.0)] | None = None
    events: Events = ()


def schedule(script: Script, design: Design) -> Schedule:
    """What the signal and the supply do, as the netlist takes it."""
    volts = script.start_volts if script.start_volts is not None else design.supply.typical
    levels: list[tuple[float, Level | tuple[float, float]]] = [(0.0, "low")]
    points = [(0.0, volts)]
    for event in sorted(script.events, key=lambda e: e.at):
        match event:
            case SetPin(at=0.0):
                levels[0] = (0.0, event.level)
            case SetPin():
                levels.append((event.at, event.level))
            case SweepInput(source=None):
                levels.append((event.at, (event.volts, event.over)))
            case SetSupply(source=None):
                begin = max(event.at, points[-1][0])
                points += [(begin, points[-1][1]), (begin + event.ramp, event.volts)]
            case _:
                pass
    return Schedule(signal=tuple(v for _, v in levels), times=tuple(t for t, _ in levels), supply=tuple(points))


def circuit(design: Design, script: Script, drawer: Drawer, corner: Corner | None = None) -> Netlist:
    """The design's netlist at one corner, with everything the script does to it.

    Raises:
        DocumentError: an event names a part or node that the design does not have.
    """
    corner = corner or Corner(supply=design.supply.typical)
    return apply(netlist(design, drawer, corner, schedule(script, design)), script.events)


def presets(design: Design) -> tuple[Script, ...]:
    """Scripts to choose from; the first is the default. Times fit the load's own."""
    unit = 1e-3
    low, typical, high = design.supply.low, design.supply.typical, design.supply.high
    on, off = SetPin(at=10 * unit, level="high"), SetPin(at=92 * unit, level="low")
    return (
        Script(
            title=f"Pin on 82 ms, {design.supply.word} sags to {low:g} V", stop=0.13,
            events=(on, SetSupply(at=50 * unit, volts=low), SetSupply(at=70 * unit, volts=typical, ramp=2e-3), off),
        ),
        Script(title=f"Pin drops, {design.supply.word} full", stop=0.06, start_volts=high, events=(SetPin(at=0.0, level="high"), SetPin(at=0.02, level="low"))),
        Script(title="Pin boots, then drives", stop=0.13, events=(SetPin(at=0.0, level="boot"), SetPin(at=40 * unit, level="low"), SetPin(at=60 * unit, level="high"), SetPin(at=100 * unit, level="low"))),
        Script(title="Pin plain on and off", stop=0.13, events=(on, off)),
        Script(
            title="Pin's source bounces as it switches", stop=0.06,
            events=tuple(SetPin(at=t * unit, level=level) for t, level in ((10, "high"), (10.6, "low"), (11.1, "high"), (11.9, "low"), (12.2, "high"), (40, "low"), (40.4, "high"), (40.9, "low"))),
        ),
        Script(title="Input swept slowly up and down", stop=4.0, events=(SweepInput(at=0.1, volts=5.0, over=1.8), SweepInput(at=2.1, volts=0.0, over=1.8))),
        Script(title=f"{design.supply.word.capitalize()} plugged in, pin high", stop=0.1, start_volts=0.0, events=(SetPin(at=0.0, level="high"), SetSupply(at=5 * unit, volts=typical, ramp=1e-3))),
    )  # fmt: skip
