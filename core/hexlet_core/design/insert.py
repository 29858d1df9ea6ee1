"""Putting blocks into a design and taking them out; each gives another design, and what makes it."""

from __future__ import annotations

from collections.abc import Mapping

from ..stages.contract import Port, Stage
from ..stages.registry import kind_name
from ..stages.say.checks import Change
from .document import Design, Join, port_of


def spliced(design: Design, kind: type[Stage], join: Join) -> Design | None:
    """The design with a block of a kind in one of its joins; None where it does not pass that on."""
    begin, end = join
    carried = port_of(design.blocks, begin)
    stage = kind()
    into = next(
        (p for p in stage.ports() if p.way == "in" and p.passes and carried and p.kind == carried.kind), None
    )
    if into is None:
        return None
    id = design.kept_id(kind_name(kind))
    stage = design.set_aside.get(id, {}).get(kind_name(kind)) or stage
    if "line" in kind.model_fields and carried is not None:
        upper = getattr(design.blocks[begin.partition(".")[0]], "side", "low") == "high"
        stage = stage.model_copy(update={"line": "upper" if upper else "lower"})
    k = design.joins.index(join)
    joins = (
        *design.joins[:k],
        (begin, f"{id}.{into.name}"),
        (f"{id}.{into.passes}", end),
        *design.joins[k + 1 :],
    )
    return design.model_copy(update={"blocks": {**design.blocks, id: stage}, "joins": joins})


def inserted(design: Design, kind: type[Stage], load: str) -> Design | None:
    """The design with a guard of a kind on a load's line, at the end of the rail, or on its drive's control.

    None where it has no place: the drive has no control to hang on.
    """
    name = kind_name(kind)
    id = design.kept_id(name)
    stage = design.set_aside.get(id, {}).get(name) or kind()
    line = _line_to(design, load)
    drive = line[0] if line else None
    if drive is not None and "line" in kind.model_fields:
        upper = getattr(design.blocks[drive], "side", "low") == "high"
        stage = stage.model_copy(update={"line": "upper" if upper else "lower"})
    ports = {p.kind: p for p in stage.ports() if p.way == "in"}
    joins, rail = list(design.joins), design.rail
    through = {p.kind for p in stage.ports() if p.passes}
    if "control" in ports:
        out = _output(design, drive, "control")
        if out is None:
            return None
        joins.append((out, f"{id}.{ports['control'].name}"))
    if "load" in through:
        early = "line" in kind.model_fields  # a diode in the line lies right behind the switch
        out = _output(design, drive, "load")
        at = next(
            (k for k, (a, b) in enumerate(joins) if (a == out if early else b.startswith(f"{load}."))), None
        )
        if at is None:
            return None
        a, b = joins[at]
        joins[at : at + 1] = [(a, f"{id}.load"), (f"{id}.out", b)]
    if "rail" in through:
        joins = [(f"{id}.out" if a == rail and not _in_rail(design, b) else a, b) for a, b in joins]
        joins.append((rail, f"{id}.rail"))
        rail = f"{id}.out"
    blocks = {**design.blocks, id: stage}
    return design.model_copy(update={"blocks": blocks, "joins": tuple(joins), "rail": rail})


def behaving(design: Design, kind: type[Stage]) -> Design | None:
    """The design with a behaviour before its first drive; None where it does not fit there."""
    commands = (j for j in design.joins if (p := port_of(design.blocks, j[1])) and p.kind == "command")
    return next((made for j in commands if (made := spliced(design, kind, j)) is not None), None)


def _in_rail(design: Design, name: str) -> bool:
    port = port_of(design.blocks, name)
    return port is not None and port.kind == "rail" and bool(port.passes)


def _line_to(design: Design, load: str) -> list[str]:
    """The blocks from the switch to a load, along its line."""
    line, here = [load], load
    while True:
        before = next(
            (
                a.partition(".")[0]
                for a, b in design.joins
                if b.partition(".")[0] == here and _kind(design, b) == "load"
            ),
            None,
        )
        if before is None:
            return line if len(line) > 1 else []
        line.insert(0, before)
        here = before


def _kind(design: Design, name: str) -> str:
    port = port_of(design.blocks, name)
    return port.kind if port is not None else ""


def _output(design: Design, block: str | None, kind: str) -> str | None:
    if block is None:
        return None
    ports: Mapping[str, Port] = {p.kind: p for p in design.blocks[block].ports() if p.way == "out"}
    return f"{block}.{ports[kind].name}" if kind in ports else None


def removed(design: Design, block: str) -> Design:
    """The design without a block: what it lay between is joined again, its values are set aside."""
    stage = design.blocks[block]
    rail = design.rail
    closed: dict[str, list[Join]] = {}  # what takes the place of the join into each port that passes on
    for port in stage.ports():
        feed = next((a for a, b in design.joins if b == f"{block}.{port.name}"), None)
        if port.way == "in" and port.passes and feed is not None:
            out = f"{block}.{port.passes}"
            closed[f"{block}.{port.name}"] = [(feed, b) for a, b in design.joins if a == out]
            rail = feed if rail == out else rail
    joins = [
        new
        for a, b in design.joins
        for new in closed.get(b, [(a, b)] if block not in (a.partition(".")[0], b.partition(".")[0]) else [])
    ]
    if rail.partition(".")[0] == block:
        rail = "s.out"
    aside = {**design.set_aside, block: {**design.set_aside.get(block, {}), kind_name(type(stage)): stage}}
    return design.model_copy(
        update={
            "blocks": {id: s for id, s in design.blocks.items() if id != block},
            "joins": tuple(joins),
            "rail": rail,
            "set_aside": aside,
        }
    )


def whole_changes(design: Design, trial: Design, block: str) -> tuple[Change, ...]:
    """What turns the design into a trial that has one block more, or less."""
    data = trial.model_dump(mode="json")
    found = [Change(path="joins", value=data["joins"]), Change(path="rail", value=data["rail"])]
    if block in trial.blocks:
        return (Change(path=f"blocks.{block}", value=data["blocks"][block]), *found)
    kept = Change(path=f"set_aside.{block}", value=data["set_aside"][block])
    return (kept, Change(path=f"blocks.{block}", value=None), *found)
