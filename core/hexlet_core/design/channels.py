"""Channels: each load with the blocks of its own line. Alike ones are edited as one until told apart.

Two channels are alike when their lines are of the same kinds with the same values, names apart, and neither
has been told apart. What is changed in one is then changed in all of them.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from ..fields import Document, quantity_of
from ..quantity import show
from ..stages.contract import Stage
from ..stages.registry import kind_name
from ..stages.say.checks import Change
from .document import Design

NAMES = ("name", "kind")  # fields that tell no channels apart
PATH = re.compile(
    r"^(?P<table>blocks\.|set_aside\.|origins\.blocks\.|rated\.blocks\.)(?P<block>b\d+)(?:\.(?P<field>\w+))?$"
)


class Channel(Document):
    """One load and its line. `alike` are the numbers that are edited with it, its own among them.

    `apart` makes it one of its own, `together` makes all of its kinds like it; `lost` says in words what
    that would overwrite.
    """

    number: int
    load: str
    blocks: tuple[str, ...]
    port: str
    title: str
    value: str
    alike: tuple[int, ...]
    differs: str
    apart: tuple[Change, ...] = ()
    together: tuple[Change, ...] = ()
    lost: str = ""


# The switch's output, and the blocks behind it, the load last; one that hangs beside it comes before it.
Line = tuple[str, tuple[str, ...]]


def lines(design: Design) -> tuple[Line, ...]:
    """Each load's line; a switch that only this load hangs on is its first block."""
    found: list[Line] = []
    on: dict[str, list[str]] = {}  # the loads on an output
    for load in design.of_role("load"):
        at = next((a for a, b in design.joins if b in _loads_in(design, load)), f"none for {load}")
        on.setdefault(at, []).append(load)
    for first, *others in on.values():
        blocks, begin = [*others, first], ""
        while True:
            feed = next((a for a, b in design.joins if b in _loads_in(design, blocks[0])), "")
            source = feed.partition(".")[0]
            if not feed:
                break
            begin = feed
            if design.blocks[source].role == "guard" or _only(design, source, blocks):
                blocks.insert(0, source)
                continue
            break
        found.append((begin, tuple(blocks)))
    return tuple(found)


def _loads_in(design: Design, block: str) -> list[str]:
    return [f"{block}.{p.name}" for p in design.blocks[block].ports() if p.way == "in" and p.kind == "load"]


def _only(design: Design, switch: str, line: Iterable[str]) -> bool:
    """Whether a switch has no load output besides the one that leads to a line's blocks."""
    outs = [p for p in design.blocks[switch].ports() if p.way == "out" and p.kind == "load"]
    behind = {b.partition(".")[0] for a, b in design.joins if a in {f"{switch}.{p.name}" for p in outs}}
    return len(outs) == 1 and behind <= set(line)


def _values(stage: Stage) -> dict[str, Any]:
    return {k: v for k, v in stage.model_dump(mode="json").items() if k not in NAMES}


def _kinds(design: Design, line: Line) -> tuple[str, ...]:
    return tuple(kind_name(type(design.blocks[b])) for b in line[1])


def _linked(design: Design, a: Line, b: Line) -> bool:
    """Whether two channels are edited as one."""
    return (
        _kinds(design, a) == _kinds(design, b)
        and not {a[1][-1], b[1][-1]} & set(design.apart)
        and all(
            _values(design.blocks[x]) == _values(design.blocks[y]) for x, y in zip(a[1], b[1], strict=True)
        )
    )


def twins(design: Design, block: str) -> Iterator[Mapping[str, str]]:
    """For each channel that is edited with a block's own: its blocks and output by those of that channel."""
    every = lines(design)
    own = next((line for line in every if block in line[1]), None)
    for other in every:
        if own is not None and other != own and _linked(design, own, other):
            yield {own[0]: other[0], **dict(zip(own[1], other[1], strict=True))}


def together(design: Design, changes: Iterable[tuple[str, Any]]) -> list[tuple[str, Any]]:
    """Changes with the same ones for every channel that is alike: values, and kinds that join alike.

    What is joined anew says itself where, and makes the channel one of its own.
    """
    found = list(changes)
    given = {path for path, _ in found}
    if given & {"joins", "apart"}:
        return found
    for path, value in tuple(found):
        at = PATH.match(path)
        if at is None or at["block"] not in design.blocks or at["field"] in NAMES:
            continue
        for twin in twins(design, at["block"]):
            other = twin[at["block"]]
            name = f"{at['table']}{other}" + (f".{at['field']}" if at["field"] else "")
            if name not in given:
                found.append((name, value if at["field"] else _as_twin(design, at["table"], other, value)))
    return found


def _as_twin(design: Design, table: str, block: str, value: Any) -> Any:
    """A whole block, or what is set aside of one, for another block that keeps its own name and old self."""
    old = design.blocks[block]
    if table == "set_aside.":
        kept = {k: s.model_dump(mode="json") for k, s in design.set_aside.get(block, {}).items()}
        return {**kept, kind_name(type(old)): old.model_dump(mode="json")}
    name = getattr(old, "name", None)
    return {**value, "name": name} if isinstance(value, dict) and "name" in value and name else value


def channels(design: Design) -> tuple[Channel, ...]:
    """Every channel of a design that has several; none where there is but one load."""
    every = lines(design)
    if len(every) < 2:
        return ()
    return tuple(_channel(design, every, k) for k in range(len(every)))


def _channel(design: Design, every: tuple[Line, ...], k: int) -> Channel:
    own = every[k]
    load = design.blocks[own[1][-1]]
    title = str(getattr(load, "name", load.title))
    alike = [n for n, other in enumerate(every, 1) if n == k + 1 or _linked(design, own, other)]
    others = [line for line in every if line != own and _kinds(design, line) == _kinds(design, own)]
    copied = [
        (f"blocks.{b}.{field}", value, getattr(design.blocks[b], field))
        for line in others
        for a, b in zip(own[1], line[1], strict=True)
        for field, value in _values(design.blocks[a]).items()
        if _values(design.blocks[b]).get(field) != value
    ]
    loads = {line[1][-1] for line in (own, *others)}
    kept = [b for b in design.apart if b not in loads]
    return Channel(
        number=k + 1,
        load=own[1][-1],
        blocks=own[1],
        port=own[0],
        title=title,
        value=load.summary.partition(", ")[0].replace(title.lower(), "").strip(),
        alike=tuple(alike),
        differs=_differs(design, own, others[0]) if others and len(alike) == 1 else "",
        apart=(Change(path="apart", value=[*design.apart, own[1][-1]]),) if len(alike) > 1 else (),
        together=(
            (*(Change(path=p, value=v) for p, v, _ in copied), Change(path="apart", value=kept))
            if others and len(alike) < len(others) + 1
            else ()
        ),
        lost=", ".join(_said(design, path, was) for path, _, was in copied[:4]),
    )


def _said(design: Design, path: str, value: Any) -> str:
    """A value by the words of its field: "resistance 22 Ω"."""
    _, block, field = path.split(".")
    quantity = quantity_of(type(design.blocks[block]), field)
    text = show(value, quantity.unit) if quantity and isinstance(value, float) else str(value)
    return f"{field.replace('_', ' ')} {text}"


def _differs(design: Design, own: Line, other: Line) -> str:
    """What tells a channel apart from another one, in words."""
    pairs = zip(own[1], other[1], strict=True)
    found = [
        _said(design, f"blocks.{a}.{field}", getattr(design.blocks[a], field))
        for a, b in pairs
        for field, value in _values(design.blocks[a]).items()
        if _values(design.blocks[b]).get(field) != value
    ]
    return ", ".join(found[:3])
