"""Event scripts: who does what when. Readable JSON, published as a schema.

{"title": "...", "stop": 0.13, "events": [{"do": "set", "at": 0.01, "level": "high"},
 {"do": "supply", "at": 0.05, "volts": 10.8, "ramp": 0.001}]}
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..design.document import Design
from ..fields import Document, Q
from ..stages.contract import Schedule

At = Annotated[float, Q("s", 0.0, 1e5)]


class SetPin(Document):
    """From `at` on, the signal is at this level."""

    do: Literal["set"] = "set"
    at: At
    level: Literal["low", "high", "floating", "boot"]


class SetSupply(Document):
    """From `at` on, the supply goes to `volts` within `ramp`."""

    do: Literal["supply"] = "supply"
    at: At
    volts: Annotated[float, Q("V", 0.0, 400.0)]
    ramp: Annotated[float, Q("s", 1e-6, 1e4)] = 1e-3


class Script(Document):
    """Events up to `stop` [s]; the signal starts low, the supply at its typical voltage."""

    title: Annotated[str, StringConstraints(min_length=1, max_length=80)] = "Pin on, then off"
    stop: Annotated[float, Q("s", 1e-6, 1e4)] = 0.13
    start_volts: Annotated[float, Q("V", 0.0, 400.0)] | None = None
    events: Annotated[tuple[Annotated[SetPin | SetSupply, Field(discriminator="do")], ...], Field(max_length=200)] = ()


def schedule(script: Script, design: Design) -> Schedule:
    """The script as the netlist takes it."""
    volts = script.start_volts if script.start_volts is not None else design.supply.typical
    levels: list[tuple[float, Literal["low", "high", "floating", "boot"]]] = [(0.0, "low")]
    points = [(0.0, volts)]
    for event in sorted(script.events, key=lambda e: e.at):
        if isinstance(event, SetPin):
            if event.at == 0.0:
                levels[0] = (0.0, event.level)
            else:
                levels.append((event.at, event.level))
        else:
            begin = max(event.at, points[-1][0])
            points += [(begin, points[-1][1]), (begin + event.ramp, event.volts)]
    return Schedule(signal=tuple(v for _, v in levels), times=tuple(t for t, _ in levels), supply=tuple(points))


def presets(design: Design) -> tuple[Script, ...]:
    """Scripts to choose from; the first is the default. Times fit the load's own."""
    unit = 1e-3
    low = design.supply.low
    on, off = SetPin(at=10 * unit, level="high"), SetPin(at=92 * unit, level="low")
    return (
        Script(
            title=f"Pin on 82 ms, {design.supply.word} sags to {low:g} V", stop=0.13,
            events=(on, SetSupply(at=50 * unit, volts=low), SetSupply(at=70 * unit, volts=design.supply.typical, ramp=2e-3), off),
        ),
        Script(title=f"Pin drops, {design.supply.word} full", stop=0.06, start_volts=design.supply.high, events=(SetPin(at=0.0, level="high"), SetPin(at=0.02, level="low"))),
        Script(title="Pin boots, then drives", stop=0.13, events=(SetPin(at=0.0, level="boot"), SetPin(at=40 * unit, level="low"), SetPin(at=60 * unit, level="high"), SetPin(at=100 * unit, level="low"))),
        Script(title="Pin plain on and off", stop=0.13, events=(on, off)),
    )  # fmt: skip
