"""Scripts: a list of events up to a time. Readable JSON, published as a schema; `events` tells the verbs."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import StringConstraints

from ..cards import Drawer
from ..circuit.netlist import Netlist
from ..design.circuit import netlist, views
from ..design.document import Design
from ..fields import Document, Q
from ..quantity import show
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
    return Schedule(
        signal=tuple(v for _, v in levels), times=tuple(t for t, _ in levels), supply=tuple(points)
    )


def circuit(design: Design, script: Script, drawer: Drawer, corner: Corner | None = None) -> Netlist:
    """The design's netlist at one corner, with everything the script does to it.

    Raises:
        DocumentError: an event names a part or node that the design does not have.
    """
    corner = corner or Corner(supply=design.supply.typical)
    return apply(netlist(design, drawer, corner, schedule(script, design)), script.events)


def presets(design: Design, drawer: Drawer | None = None) -> tuple[Script, ...]:
    """Scripts to choose from; the first is the default. Times fit the load's own, the signal's states the
    drive's sense.
    """
    view = views(design, drawer or Drawer())[0]
    on: Level = "low" if view.on == "low" else "high"
    off: Level = "high" if on == "low" else "low"
    noun = (view.offer.name if view.offer else "signal").capitalize()
    low, typical, high = design.supply.low, design.supply.typical, design.supply.high
    slow = view.demand.surge_time if view.demand and view.demand.surge > 0 else 0.0
    unit = 1e-3 * max(1.0, min(round(slow / 0.02), 40)) if slow > 0.03 else 1e-3
    begin = SetPin(at=0.0, level=off)
    word, n = design.supply.word, unit
    if design.supply.ac:
        return (
            Script(
                title=f"{noun} on, {typical:g} V AC at {design.supply.frequency:g} Hz",
                stop=0.4,
                events=(begin, SetPin(at=0.14, level=on), SetPin(at=0.32, level=off)),
            ),
            Script(title="Just plugged in, signal on", stop=0.4, events=(SetPin(at=0.0, level=on),)),
        )
    pulse = (begin, SetPin(at=10 * n, level=on), SetPin(at=92 * n, level=off))
    return (
        Script(
            title=f"{noun} on {show(82 * n, 's')}, {word} sags to {low:g} V",
            stop=130 * n,
            events=(
                *pulse[:2],
                SetSupply(at=50 * n, volts=low),
                SetSupply(at=70 * n, volts=typical, ramp=2 * n),
                pulse[2],
            ),
        ),
        Script(
            title=f"{noun} drops, {word} full",
            stop=60 * n,
            start_volts=high,
            events=(SetPin(at=0.0, level=on), SetPin(at=20 * n, level=off)),
        ),
        Script(
            title=f"{noun} boots, then drives",
            stop=130 * n,
            events=(
                SetPin(at=0.0, level="boot"),
                SetPin(at=40 * n, level=off),
                SetPin(at=60 * n, level=on),
                SetPin(at=100 * n, level=off),
            ),
        ),
        Script(title=f"{noun} plain on and off", stop=130 * n, events=pulse),
        Script(
            title=f"{noun}'s source bounces as it switches",
            stop=60 * n,
            events=(
                begin,
                *(
                    SetPin(at=t * n, level=level)
                    for t, level in (
                        (10, on),
                        (10.6, off),
                        (11.1, on),
                        (11.9, off),
                        (12.2, on),
                        (40, off),
                        (40.4, on),
                        (40.9, off),
                    )
                ),
            ),
        ),
        Script(
            title="Input swept slowly up and down",
            stop=4.0,
            events=(SweepInput(at=0.1, volts=5.0, over=1.8), SweepInput(at=2.1, volts=0.0, over=1.8)),
        ),
        Script(
            title=f"{word.capitalize()} plugged in, {noun.lower()} on",
            stop=100 * n,
            start_volts=0.0,
            events=(SetPin(at=0.0, level=on), SetSupply(at=5 * n, volts=typical, ramp=n)),
        ),
    )
