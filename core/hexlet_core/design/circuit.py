"""From a design to its views, its netlist and its drawing."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from ..cards import Drawer
from ..circuit.devices import Device, VoltageSource
from ..circuit.netlist import GROUND, Netlist
from ..stages.contract import Corner, Schedule, View
from ..stages.drawing import HEIGHT, Drawing, Pen
from .document import Design

SUPPLY = "BAT"


def references(design: Design) -> list[dict[str, str]]:
    """Reference names for each stage's fitted parts, numbered along the path."""
    counts: dict[str, int] = {}
    found = []
    for stage in design.stages:
        names = {}
        for local in stage.fitted():
            letter = stage.letters[local]
            counts[letter] = counts.get(letter, 0) + 1
            names[local] = f"{letter}{counts[letter]}"
        found.append(names)
    return found


def views(design: Design, drawer: Drawer) -> list[View]:
    """What each stage sees: facts are gathered signal first, then load, switch, clamp."""
    supply = design.supply
    base = View(
        index=0, low=supply.low, typical=supply.typical, high=supply.high, hot=design.ambient.high, tolerance=design.tolerance,
        drawer=drawer, refs={}, nodes={}, supply_name=supply.word,
    )  # fmt: skip
    found, before = [], GROUND
    for k, (stage, refs) in enumerate(zip(design.stages, references(design), strict=True)):
        out = stage.output or before
        found.append(replace(base, index=k, refs=refs, nodes={"in": before, "out": out}))
        before = out
    for fact in ("offer", "demand", "switch", "clamp"):
        value: Any = None
        for stage, view in zip(design.stages, found, strict=True):
            got = stage.offer() if fact == "offer" else getattr(stage, fact)(view)
            value = got if got is not None else value
        found = [replace(view, **dict[str, Any]({fact: value})) for view in found]
    return found


def netlist(design: Design, drawer: Drawer, corner: Corner, schedule: Schedule | None = None) -> Netlist:
    """The design's circuit at one corner under one schedule."""
    schedule = schedule or Schedule()
    supply = [(t, v) for t, v in schedule.supply]
    devices: list[Device] = [
        VoltageSource(
            name=SUPPLY, a="plus", b=GROUND, value=0.0 if supply else corner.supply, points=supply, resistance=design.supply.resistance
        )
    ]
    for stage, view in zip(design.stages, views(design, drawer), strict=True):
        devices += stage.devices(view, corner, schedule)
    return Netlist.of(devices)


def drawing(design: Design, drawer: Drawer) -> Drawing:
    """The schematic, stages from left to right between the rails."""
    pen = Pen()
    for stage, view in zip(design.stages, views(design, drawer), strict=True):
        stage.draw(pen, view)
    pen.place(SUPPLY, "rail", 0.0, 0.0, label="+ rail")
    pen.place(SUPPLY, "ground", 0.0, HEIGHT, label="0 V rail")
    pen.tag("plus", "V", 8.0, 0.0)
    return pen.done(pen.x)
