"""Putting blocks into a design, exchanging and removing them; each gives another design."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..stages.contract import Port, Stage
from ..stages.registry import kind_name, of_role
from ..stages.say.checks import Change
from .document import Design, Join, port_of

OTHER = {"command": "contact", "contact": "command"}  # what a signal gives in place of the other


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
    id, stage = _brought_in(design, kind)
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


def _brought_in(design: Design, kind: type[Stage]) -> tuple[str, Stage]:
    """The id and values of a block of a kind that comes in: of one that was taken out, where there is one."""
    name = kind_name(kind)
    id = design.kept_id(name)
    return id, design.set_aside.get(id, {}).get(name) or kind()


def inserted(design: Design, kind: type[Stage], load: str) -> Design | None:
    """The design with a guard of a kind on a load's line, at the end of the rail, or on its drive's control.

    None where it has no place: the drive has no control to hang on.
    """
    id, stage = _brought_in(design, kind)
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


def joined_beside(design: Design, kind: type[Stage], load: str) -> Design | None:
    """The design with another load of a kind on the output that a load hangs on."""
    into = next((p for p in kind().ports() if p.way == "in" and p.kind == "load"), None)
    k, join = next(
        ((k, j) for k, j in enumerate(design.joins) if j[1].partition(".")[0] == load), (0, ("", ""))
    )
    if into is None or kind_of_port(design, join[1]) != "load":
        return None
    id, stage = _brought_in(design, kind)
    joins = (*design.joins[: k + 1], (join[0], f"{id}.{into.name}"), *design.joins[k + 1 :])
    return design.model_copy(update={"blocks": {**design.blocks, id: stage}, "joins": joins})


def joined_to(design: Design, kind: type[Stage], end: str) -> Design | None:
    """The design with a block of a kind joined to an input that nothing is joined to, by name: "b1.halt"."""
    into = port_of(design.blocks, end)
    given = (p for p in kind().ports() if p.way == "out" and into is not None and p.kind == into.kind)
    out = next(given, None)
    if out is None:
        return None
    id, stage = _brought_in(design, kind)
    joins = (*design.joins, (f"{id}.{out.name}", end))
    return design.model_copy(update={"blocks": {**design.blocks, id: stage}, "joins": joins})


def exchanged(design: Design, block: str, stage: Stage) -> Design:
    """The design with another stage at a block, the old one set aside with its values."""
    old = design.blocks[block]
    kept = {**design.set_aside.get(block, {}), kind_name(type(old)): old}
    moved = (moved_join(design, join, block, stage) for join in design.joins)
    return design.model_copy(
        update={
            "blocks": {**design.blocks, block: stage},
            "joins": tuple(j for j in moved if j is not None),
            "set_aside": {**design.set_aside, block: kept},
        }
    )


def moved_join(design: Design, join: Join, block: str, stage: Stage) -> Join | None:
    """A join with another stage at a block: to its port of the same kind; None where it has none.

    A signal's bare contact stands in for its command, and the other way round.
    """
    old = {p.name: p for p in design.blocks[block].ports()}
    new = list(stage.ports())
    ends: list[str] = []
    for k, name in enumerate(join):
        id, _, port = name.partition(".")
        if id != block:
            ends.append(name)
            continue
        was = old[port]
        same = [p for p in new if (p.kind, p.way, bool(p.passes)) == (was.kind, was.way, bool(was.passes))]
        if same:
            best = next((p for p in same if p.name == port), same[0])
            ends.append(f"{block}.{best.name}")
            continue
        other = OTHER.get(was.kind)
        into = next((p for p in new if p.way == "in" and p.kind == other), None)
        source = join[0].partition(".")[0]
        gives = next((p for p in _ports(design, source) if p.way == "out" and p.kind == other), None)
        if k == 0 or into is None or gives is None:
            return None
        return (f"{source}.{gives.name}", f"{block}.{into.name}")
    return (ends[0], ends[1])


def _ports(design: Design, block: str) -> tuple[Port, ...]:
    return design.blocks[block].ports() if block in design.blocks else ()


def behaving(design: Design, kind: type[Stage]) -> Design | None:
    """The design with a behaviour: before its first drive; in place of the signal where it commands by
    itself; in the drive's place where it switches itself.
    """
    for join in design.joins:
        if kind_of_port(design, join[1]) != "command":
            continue
        if by_itself(kind()):
            return _in_place_of_signal(design, kind, join)
        made = spliced(design, kind, join)
        if made is not None:
            return made
        signal, drive = (end.partition(".")[0] for end in join)
        if kind.role == "drive" and design.blocks[drive].role == "drive":
            with_contact = _with_contact(design, signal)
            fits = all(
                moved_join(with_contact, j, drive, kind()) is not None
                or kind_of_port(design, j[0]) == "control"
                for j in with_contact.joins
            )
            return exchanged(with_contact, drive, kind()) if fits else None
    return None


def by_itself(stage: Stage) -> bool:
    """Whether a stage gives a command that nobody gives it."""
    return any(p.kind == "command" and p.way == "out" for p in stage.ports()) and not any(
        p.way == "in" and p.kind in ("command", "contact") and p.needed for p in stage.ports()
    )


def _in_place_of_signal(design: Design, kind: type[Stage], join: Join) -> Design:
    """The design with a behaviour that commands by itself, and without all that gave the command before."""
    id, stage = _brought_in(design, kind)
    out = next(p for p in stage.ports() if p.kind == "command" and p.way == "out")
    joins = tuple((f"{id}.{out.name}", j[1]) if j == join else j for j in design.joins)
    made = design.model_copy(update={"blocks": {**design.blocks, id: stage}, "joins": joins})
    before = join[0].partition(".")[0]
    while before and not any(begin.partition(".")[0] == before for begin, _ in made.joins):
        further = next(
            (begin.partition(".")[0] for begin, end in made.joins if end.partition(".")[0] == before), ""
        )
        made, before = removed(made, before), further if further != "s" else ""
    return made


def _with_contact(design: Design, signal: str) -> Design:
    """The design with a signal that has a bare contact, the first kind that has one where it has none."""
    if any(p.kind == "contact" for p in _ports(design, signal)):
        return design
    kind = next(k for k in of_role("signal") if any(p.kind == "contact" for p in k().ports()))
    return exchanged(design, signal, kind())


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
                if b.partition(".")[0] == here and kind_of_port(design, b) == "load"
            ),
            None,
        )
        if before is None:
            return line if len(line) > 1 else []
        line.insert(0, before)
        here = before


def kind_of_port(design: Design, name: str) -> str:
    """What a port of a name like "b2.command" carries; empty where there is none."""
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
    blocks = {id: s for id, s in design.blocks.items() if id != block}
    if stage.role == "behaviour" and by_itself(stage):
        back, signal = _signal_for(design)
        gives = next(p.name for p in signal.ports() if p.kind == "command" and p.way == "out")
        blocks[back] = signal
        joins += [(f"{back}.{gives}", b) for a, b in design.joins if a.partition(".")[0] == block]
    aside = {**design.set_aside, block: {**design.set_aside.get(block, {}), kind_name(type(stage)): stage}}
    return design.model_copy(
        update={"blocks": blocks, "joins": tuple(joins), "rail": rail, "set_aside": aside}
    )


def _signal_for(design: Design) -> tuple[str, Stage]:
    """The id and values of a signal for a command that nobody gives any more: the last one taken out."""
    kept = [
        (id, stage)
        for id, stages in design.set_aside.items()
        if id not in design.blocks
        for stage in stages.values()
        if stage.role == "signal"
    ]
    return kept[-1] if kept else (design.free_id(), of_role("signal")[0]())


def changes_between(design: Design, trial: Design) -> tuple[Change, ...]:
    """What turns a design into a trial of the same document: blocks, joins, rail, and what is set aside."""
    aside, blocks = (design.set_aside, trial.set_aside), (design.blocks, trial.blocks)
    found = [
        Change(path=f"set_aside.{id}", value=_dumped(aside[1].get(id)))
        for id in dict.fromkeys((*aside[0], *aside[1]))
        if aside[0].get(id) != aside[1].get(id)
    ]
    found += [
        Change(path=f"blocks.{id}", value=blocks[1][id].model_dump(mode="json") if id in blocks[1] else None)
        for id in dict.fromkeys((*blocks[0], *blocks[1]))
        if blocks[0].get(id) is not blocks[1].get(id) and blocks[0].get(id) != blocks[1].get(id)
    ]
    if design.joins != trial.joins:
        found.append(Change(path="joins", value=[list(j) for j in trial.joins]))
    if design.rail != trial.rail:
        found.append(Change(path="rail", value=trial.rail))
    return tuple(found)


def _dumped(kept: Mapping[str, Stage] | None) -> dict[str, Any] | None:
    """What is set aside of a block, as plain data."""
    return None if kept is None else {kind: stage.model_dump(mode="json") for kind, stage in kept.items()}


def placed_as(design: Design, trial: Design, kind: type[Stage]) -> str:
    """The block that is of a kind in a trial and was not in the design."""
    own = (id for id, stage in trial.blocks.items() if type(stage) is kind)
    return next(id for id in own if type(design.blocks.get(id)) is not kind)
