"""From a design's parts to its netlist at a corner, its actors posed, and its drawing."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from pydantic import ValidationError

from ..circuit.devices import Button, Device, Pin, PinStep, Press, Sine, VoltageSource
from ..circuit.netlist import Netlist
from ..errors import DocumentError, Problem
from ..stages.contract import Act, Corner, Placed, Stage
from ..stages.drawing import HEIGHT, SUPPLY_REF, Drawing, Fold, Pen, Point
from .document import SUPPLY, Design
from .flow import Flow

FOREVER = 1e6  # a press that is not let go [s]
SIGNAL_WIDTH = 8.0  # what a signal takes of the drawing
OWN_FOLD = 8.0  # from what is drawn to a channel that is folded with its switch


def supply_source(design: Design, corner: Corner, plus: str, zero: str) -> VoltageSource:
    """The supply at a corner."""
    supply = design.supply
    sine = Sine(amplitude=corner.supply * math.sqrt(2), frequency=supply.frequency) if supply.ac else None
    return VoltageSource(
        name=SUPPLY_REF,
        a=plus,
        b=zero,
        value=0.0 if sine else corner.supply,
        sine=sine,
        resistance=supply.resistance + supply.lead,
    )


def device_of(
    flow: Flow, block: str, part: Placed, corner: Corner, nodes: Mapping[str, str] | None = None
) -> Device:
    """One part as a device of the circuit, between its own nets, or between `nodes` by its terminals."""
    legs: dict[str, Any] = {}
    poles: dict[str, dict[str, str]] = {}  # of a relay, its second contact's legs and on: "com2", "no2"
    for terminal, net in part.legs.items():
        name = terminal.rstrip("0123456789")
        into = poles.setdefault(terminal[len(name) :], {}) if terminal != name else legs
        into[name] = nodes[terminal] if nodes is not None else flow.net(block, net)
    given: Mapping[str, Any] = part.numbers(corner)
    more: dict[str, Any] = {"poles": [poles[k] for k in sorted(poles)]} if poles else {}
    if "taps" in part.device.model_fields:
        more = {"taps": {int(k): leg["q"] for k, leg in poles.items()}}  # of a counter: "q4"
    name = flow.ref(block, part.local)
    if "spread" in given:
        given = {**given, "spread": part.device.bounded(given["spread"])}
    try:
        device = part.device(name=name, **legs, **more, **given)
        return at_extreme(measured(device, flow, block, part), part, corner)
    except ValidationError as error:
        text = str(error.errors()[0]["msg"])
        path = f"blocks.{block}.{part.field or part.local}"
        raise DocumentError(Problem(path, f"{name}, {part.title.lower()}: {text}")) from None


def measured(device: Device, flow: Flow, block: str, part: Placed) -> Device:
    """The device with what somebody measured spread no wider than the meter reads."""
    design = flow.design
    names = {device.main: part.field} if device.main and part.field else {}
    known = {}
    for name in device.spreads():
        if design.origins.get(f"blocks.{block}.{names.get(name, name)}") == "measured":
            value = float(getattr(device, name))
            known[name] = (value * (1 - design.meter.accuracy), value * (1 + design.meter.accuracy))
    if not known:
        return device
    update: dict[str, Any] = {"spread": {**device.spread, **device.bounded(known)}}
    return device.model_copy(update=update)


def at_extreme(device: Device, part: Placed, corner: Corner) -> Device:
    """The device at the corner's end of its spread, resistors apart: those have an end of their own."""
    if corner.spread == "typ" or part.kind == "resistor":
        return device
    end = 0 if corner.spread == "min" else 1
    return device.with_values({name: ends[end] for name, ends in device.spreads().items()})


def netlist(flow: Flow, corner: Corner) -> Netlist:
    """The design's circuit at one corner, every actor idle."""
    plus, zero = flow.net(SUPPLY, "plus"), flow.net(SUPPLY, "zero")
    devices: list[Device] = [supply_source(flow.design, corner, plus, zero)]
    for block in flow.order:
        devices += [device_of(flow, block, part, corner) for part in flow.parts(block)]
    return Netlist.of(devices)


def actors(flow: Flow) -> dict[str, Placed]:
    """The parts that can be posed or pressed, by reference."""
    return {
        flow.ref(block, part.local): part
        for block in flow.order
        for part in flow.parts(block)
        if part.poses is not None or issubclass(part.device, Button)
    }


def pressed(part: Placed, state: str) -> bool:
    """Whether a button is pressed in a state: "active", or the level its command has while it is."""
    return state in ("active", part.active)


def acted(circuit: Netlist, flow: Flow, corner: Corner, acts: Iterable[Act]) -> Netlist:
    """The circuit with its actors doing what a scene or script says, each from its own times on."""
    by_block: dict[str, list[Act]] = {}
    for act in sorted(acts, key=lambda a: a.at):
        by_block.setdefault(act.who, []).append(act)
    changed: dict[str, Device] = {}
    devices = {d.name: d for d in circuit.devices}
    for block, own in by_block.items():
        for part in flow.parts(block):
            ref = flow.ref(block, part.local)
            if part.poses is not None:
                changed[ref] = _stepped(devices[ref], part.poses(corner), own)
            elif issubclass(part.device, Button):
                changed[ref] = _pressed(devices[ref], part, own)
    return Netlist.of(changed.get(d.name, d) for d in circuit.devices)


def _stepped(device: Device, poses: Mapping[str, tuple[float, float]], acts: Sequence[Act]) -> Device:
    steps = []
    if not acts or acts[0].at > 0.0:
        steps.append(PinStep(time=0.0, level=poses["idle"][0], resistance=poses["idle"][1]))
    for act in acts:
        steps.append(PinStep(time=act.at, level=poses[act.state][0], resistance=poses[act.state][1]))
        if act.hold is not None:
            back = poses["idle"]
            steps.append(PinStep(time=act.at + act.hold, level=back[0], resistance=back[1]))
    assert isinstance(device, Pin)
    return device.model_copy(update={"steps": steps})


def _pressed(device: Device, part: Placed, acts: Sequence[Act]) -> Device:
    presses: list[Press] = []
    begin: float | None = None
    for act in acts:
        down = pressed(part, act.state)
        if down and act.hold is not None:
            presses.append(Press(at=act.at, hold=act.hold))
        elif down and begin is None:
            begin = act.at
        elif not down and begin is not None:
            presses.append(Press(at=begin, hold=act.at - begin))
            begin = None
    if begin is not None:
        presses.append(Press(at=begin, hold=FOREVER))
    assert isinstance(device, Button)
    return device.model_copy(update={"presses": presses})


def _split(name: str) -> tuple[str, str]:
    block, _, port = name.partition(".")
    return block, port


def drawing(flow: Flow, folded: Mapping[str, Fold] | None = None, hidden: Iterable[str] = ()) -> Drawing:
    """The schematic, blocks from left to right between the rails; what hangs in the air is left out.

    `folded` are switches' outputs whose channels are drawn as a box, with their blocks `hidden`.
    """
    pen, folds, left_out = Pen(), dict(folded or {}), set(hidden)
    shut: list[Fold] = []
    pen.lifted = any(stage.lifts for stage in flow.design.blocks.values())
    reached: dict[tuple[str, str], Point | None] = {}
    apart: set[tuple[str, str]] = set()  # outputs of a block that has several, each at a place of its own
    widest = 0.0
    places = {block: k for k, block in enumerate(flow.order)}
    backward: list[tuple[tuple[str, str], Point]] = []
    loose = {_split(port)[0] for port in flow.missing() if flow.port(_split(port)).way == "in"}
    for block in flow.order:
        stage = flow.stage(block)
        if block in left_out:
            own = [f for port, f in folds.items() if _split(port)[0] == block]
            shut += own  # a switch of its own is folded with its load
            continue
        pen.folded = {name: f for port, f in folds.items() for b, name in [_split(port)] if b == block}
        joined = [
            (port, end)
            for port in stage.ports()
            if port.way == "in" and port.kind not in ("rail", "contact")
            for end in flow.joined(block, port.name)
        ]
        later = {port.name: end for port, end in joined if places.get(end[0], -1) > places[block]}
        inputs = [(port.kind, end) for port, end in joined if port.name not in later]
        pen.returning = frozenset(later)
        if block in loose or block in flow.open or any(end not in reached for _, end in inputs):
            continue
        for kind, end in inputs:
            if kind == "control":
                pen.control = reached[end]
            else:
                pen.output = reached[end] or pen.output
            if end in apart:
                pen.x = pen.output[0]
        stage.draw(pen, flow.sites[block])
        backward += [(end, pen.stubs[name]) for name, end in later.items() if name in pen.stubs]
        widest = max(widest, pen.x)
        apart |= {(block, name) for name in pen.outs}
        _outputs(pen, block, stage, reached)
    for end, stub in backward:
        begin = reached.get(end)
        if begin is not None:
            pen.back(begin, stub, flow.ref(end[0], flow.parts(end[0])[0].local))
            widest = max(widest, pen.x)
    if shut:
        pen.fold(shut, max(widest, pen.x) + OWN_FOLD)
    _supply(pen, flow.design.supply.ac)
    return pen.done(max(widest, pen.x))


def _outputs(pen: Pen, block: str, stage: Stage, reached: dict[tuple[str, str], Point | None]) -> None:
    """Where what a block gives can be reached from now on."""
    for port in stage.ports():
        if port.way == "out":
            here = pen.control if port.kind == "control" else pen.outs.get(port.name, pen.output)
            reached[block, port.name] = here
        if port.way == "out" and port.kind == "control":
            pen.at_control = 0
        if port.way == "out" and port.kind == "rail":
            pen.x = max(pen.x, pen.rail_x - SIGNAL_WIDTH)
    pen.outs = {}


def _supply(pen: Pen, ac: bool) -> None:
    """The supply's own ends."""
    pen.place(SUPPLY_REF, "rail", 0.0, 0.0, label="~ line" if ac else "+ rail", side="above")
    if pen.return_at is not None:
        pen.place(SUPPLY_REF, "terminal", *pen.return_at, label="~ return", side="right")
        pen.place("ZERO", "ground", 0.0, HEIGHT, label="bridge −", pins=())
    else:
        pen.place(SUPPLY_REF, "ground", 0.0, HEIGHT, label="0 V rail", side="below")
    pen.tag(f"{SUPPLY}.plus", "V", (pen.main_x if pen.main_x is not None else pen.rail_x) + 8.0, 0.0)
