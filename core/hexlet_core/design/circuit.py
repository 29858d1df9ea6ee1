"""From a design to its views, its netlist and its drawing."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from ..cards import Drawer
from ..circuit.devices import Device, Sine, VoltageSource
from ..circuit.netlist import GROUND, Netlist
from ..stages.contract import Corner, Schedule, View
from ..stages.drawing import HEIGHT, Drawing, Pen
from ..stages.registry import kind_name
from .document import Design

SUPPLY = "BAT"
RETURN, SIGNAL_GROUND = "line_return", "pin_ground"
SIGNAL_WIDTH = 8.0  # what a signal takes of the drawing


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
    supply, drive = design.supply, next((s for s in design.stages if s.role == "drive"), None)
    base = View(
        index=0,
        low=supply.low,
        typical=supply.typical,
        high=supply.high,
        hot=design.ambient.high,
        tolerance=design.tolerance,
        drawer=drawer,
        refs={},
        nodes={},
        supply_name=supply.word,
        side=drive.side if drive else "low",
        on="low" if drive is not None and drive.inverts else "high",
        source=supply.resistance + supply.lead,
        ac=supply.ac,
        frequency=supply.frequency,
        guarded=frozenset(kind_name(type(s)) for s in design.stages if s.role == "guard"),
        ground=SIGNAL_GROUND if drive is not None and drive.isolates else GROUND,
        back=RETURN if drive is not None and drive.isolates else GROUND,
    )
    found, before, rail = [], GROUND, rail_nodes(design)
    for k, (stage, refs) in enumerate(zip(design.stages, references(design), strict=True)):
        out = stage.output or before
        nodes = {"in": before, "out": out}
        if stage.on_rail:
            nodes |= {"rail_in": rail[0], "rail_out": rail[1]}
            rail = rail[1:]
        found.append(replace(base, index=k, refs=refs, nodes=nodes))
        before = out
    pairs = list(zip(design.stages, found, strict=True))
    clamps = [c for stage, view in pairs if (c := stage.gate_clamp(view)) is not None]
    found = [replace(view, gate_clamp=min(clamps, default=None)) for view in found]
    for fact in ("offer", "demand", "switch", "clamp"):
        value: Any = None
        for stage, view in zip(design.stages, found, strict=True):
            got = getattr(stage, fact)(view)
            value = got if got is not None else value
        if fact == "switch" and value is not None:
            # What guards keep in series and put across counts as the switch's own.
            lost = sum(s.loses(v) for s, v in zip(design.stages, found, strict=True))
            demand = found[0].demand
            lost += supply.ripple / 2 + (supply.lead * supply.low / demand.typical if demand else 0.0)
            across = sum(s.snub(v) for s, v in zip(design.stages, found, strict=True))
            value = replace(
                value,
                drop=value.drop + lost,
                drop_worst=value.drop_worst + lost,
                capacitance=value.capacitance + across,
            )
        found = [replace(view, **dict[str, Any]({fact: value})) for view in found]
    return found


def rail_nodes(design: Design) -> list[str]:
    """The + rail from the supply on: one node before each guard that lies in it, "plus" behind the last."""
    guards = sum(1 for s in design.stages if s.on_rail)
    return [*("battery" if k == 0 else f"rail_{k}" for k in range(guards)), "plus"]


def netlist(design: Design, drawer: Drawer, corner: Corner, schedule: Schedule | None = None) -> Netlist:
    """The design's circuit at one corner under one schedule."""
    schedule = schedule or Schedule()
    points = [] if design.supply.ac else [(t, v) for t, v in schedule.supply]
    sine = (
        Sine(amplitude=corner.supply * math.sqrt(2), frequency=design.supply.frequency)
        if design.supply.ac
        else None
    )
    all_views = views(design, drawer)
    devices: list[Device] = [
        VoltageSource(
            name=SUPPLY,
            a=rail_nodes(design)[0],
            b=all_views[0].back,
            value=0.0 if points or sine else corner.supply,
            points=points,
            sine=sine,
            resistance=design.supply.resistance + design.supply.lead,
        )
    ]
    for stage, view in zip(design.stages, all_views, strict=True):
        devices += stage.devices(view, corner, schedule)
    return Netlist.of(devices)


def drawing(design: Design, drawer: Drawer) -> Drawing:
    """The schematic, stages from left to right between the rails."""
    pen = Pen()
    pairs = list(zip(design.stages, views(design, drawer), strict=True))
    for stage, view in sorted(
        pairs, key=lambda p: not p[0].on_rail
    ):  # what lies in the rail comes first, above the signal
        stage.draw(pen, view)
        if stage.on_rail:
            pen.x = max(pen.x, pen.rail_x - SIGNAL_WIDTH)
    pen.place(SUPPLY, "rail", 0.0, 0.0, label="~ line" if design.supply.ac else "+ rail")
    if pen.back is not None:
        pen.place(SUPPLY, "terminal", *pen.back, label="~ return", side="right")
        pen.place("ZERO", "ground", 0.0, HEIGHT, label="bridge −", pins=())
    else:
        pen.place(SUPPLY, "ground", 0.0, HEIGHT, label="0 V rail")
    pen.tag("plus", "V", pen.rail_x + 8.0, 0.0)
    return pen.done(pen.x)
