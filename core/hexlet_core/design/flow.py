"""Facts along joins, nets and references: what each block of a design sees.

Facts are asked for lazily and kept. A fact at a port is what its neighbours state there (`Stage.tell`),
changed by every block in line on the way (`Stage.through`). A round of questions is refused with its ports
named.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cached_property
from threading import local

from ..cards import Drawer
from ..circuit.netlist import GROUND, Groups
from ..errors import DocumentError, Problem
from ..stages.contract import TERMINALS, Fact, Open, Placed, Port, Site, Stage
from ..stages.contract.facts import Side
from .document import SUPPLY, SUPPLY_PORT, Design

End = tuple[str, str]  # a block and one of its ports


class Flow:
    """One design's blocks, joined. Implements what a `Site` asks."""

    def __init__(self, design: Design, drawer: Drawer) -> None:
        self.design, self.drawer = design, drawer
        self.hot, self.series = design.ambient.high, design.series
        self.sites = {id: Site(self, id, stage) for id, stage in design.blocks.items()}
        self._ports: dict[str, dict[str, Port]] = {
            id: {p.name: p for p in stage.ports()} for id, stage in design.blocks.items()
        }
        self._ports[SUPPLY] = {SUPPLY_PORT.name: SUPPLY_PORT}
        self._left: dict[End, Fact | None] = {}
        self._asking = local()  # a design's flow is shared; the ports being asked are each thread's own
        self._placed: dict[str, tuple[Placed, ...]] = {}
        self.open: dict[str, str] = {}  # blocks whose parts wait for a port, and for which

    def tolerance(self, block: str) -> float:
        """How far a block's resistors may be off; no more than the meter reads once all are measured."""
        design, stage = self.design, self.design.blocks.get(block)
        fields = type(stage).model_fields if stage is not None else {}
        own = [f"blocks.{block}.{f}" for f in fields if f.startswith("r_") and getattr(stage, f) is not None]
        known = bool(own) and all(design.origins.get(path) == "measured" for path in own)
        return min(design.tolerance, design.meter.accuracy) if known else design.tolerance

    # --- joins ------------------------------------------------------------------------------------
    @cached_property
    def joins(self) -> tuple[tuple[End, End], ...]:
        """Every join, those by the default rail included."""
        found = [(_end(a), _end(b)) for a, b in self.design.joins]
        fed = {end for _, end in found}
        rail = _end(self.design.rail)
        for id, ports in self._ports.items():
            for port in ports.values():
                end = (id, port.name)
                own = rail[0] == id
                if port.kind == "rail" and port.way == "in" and end not in fed and not own:
                    found.append((rail, end))
        return tuple(found)

    @cached_property
    def _neighbours(self) -> dict[End, list[End]]:
        found: dict[End, list[End]] = {}
        for a, b in self.joins:
            found.setdefault(a, []).append(b)
            found.setdefault(b, []).append(a)
        return found

    def joined(self, block: str, port: str) -> Sequence[End]:
        return self._neighbours.get((block, port), ())

    def port(self, end: End) -> Port:
        return self._ports[end[0]][end[1]]

    def side(self, block: str) -> Side:
        """The side of the switch that a block's load or control input leads to."""
        inputs = [p for p in self._ports[block].values() if p.way == "in" and p.kind in ("load", "control")]
        for port in inputs:
            for end in self.joined(block, port.name):
                own = self.port(end).side
                return own if own is not None else self.side(end[0])
        raise Open(f"{block}.{inputs[0].name if inputs else 'load'}")

    def missing(self) -> Iterator[str]:
        """Ports that a block needs and that nothing is joined to: "b2.command"."""
        for id, ports in self._ports.items():
            for port in ports.values():
                if port.needed and id != SUPPLY and not self.joined(id, port.name):
                    yield f"{id}.{port.name}"

    # --- facts ------------------------------------------------------------------------------------
    def seen(self, block: str, port: str) -> list[Fact]:
        """What the neighbours at a port state there."""
        return [f for end in self.joined(block, port) if (f := self.leaving(end)) is not None]

    def beside(self, block: str, port: str) -> list[Fact]:
        """What the other neighbours of this port's neighbour state to it."""
        return [
            f
            for end in self.joined(block, port)
            for other in self.joined(*end)
            if other != (block, port) and (f := self.leaving(other)) is not None
        ]

    def leaving(self, end: End) -> Fact | None:
        """The fact that leaves a block at a port."""
        if end in self._left:
            return self._left[end]
        asked: list[End] = self._asking.__dict__.setdefault("ends", [])
        if end in asked:
            ring = [*asked[asked.index(end) :], end]
            raise DocumentError(
                Problem(
                    "joins",
                    f"These ports wait for each other: {', '.join('.'.join(e) for e in ring)}. What holds "
                    "itself on must be one behaviour.",
                )
            )
        asked.append(end)
        try:
            fact = self._stated(end)
        finally:
            asked.pop()
        self._left[end] = fact
        return fact

    def _stated(self, end: End) -> Fact | None:
        block, name = end
        if block == SUPPLY:
            return self.design.supply.as_rail()
        port, stage, site = self.port(end), self.design.blocks[block], self.sites[block]
        if not port.passes:
            return stage.tell(name, site)
        came = self.seen(block, port.passes)
        if not came:
            raise Open(f"{block}.{port.passes}")
        fact: Fact = stage.through(name, _together(came), site)
        return fact

    # --- parts and references -----------------------------------------------------------------------
    def parts(self, block: str) -> tuple[Placed, ...]:
        if block not in self._placed:
            try:
                self._placed[block] = tuple(self.design.blocks[block].make(self.sites[block]))
            except Open as wait:
                self.open[block] = wait.port
                self._placed[block] = ()
        return self._placed[block]

    @cached_property
    def references(self) -> dict[tuple[str, str], str]:
        """Each part's reference by block and local name, numbered in order of creation."""
        counts: dict[str, int] = {}
        found = {}
        for block in self.design.blocks:
            for part in self.parts(block):
                counts[part.letter] = counts.get(part.letter, 0) + 1
                found[block, part.local] = f"{part.letter}{counts[part.letter]}"
        return found

    def onward(self, block: str) -> str:
        """The first part of the load at the end of a block's line."""
        while self.design.blocks[block].role != "load":
            ends = [
                end
                for p in self._ports[block].values()
                if p.way == "out" and p.kind == "load"
                for end in self.joined(block, p.name)
            ]
            if not ends:
                return ""
            block = ends[0][0]
        parts = self.parts(block)
        return self.ref(block, parts[0].local) if parts else ""

    def ref(self, block: str, local: str) -> str:
        return self.references.get((block, local)) or f"R_{{{local}}}"

    # --- nets ---------------------------------------------------------------------------------------
    @cached_property
    def _nets(self) -> dict[str, str]:
        """The circuit's name of every own net: ground, or the name its first owner gives it."""
        groups = Groups()
        for a, b in self.joins:
            out, into = self.port(a), self.port(b)
            for terminal in TERMINALS[out.kind]:
                if terminal in out.nets and terminal in into.nets:
                    groups.join(f"{a[0]}.{out.nets[terminal]}", f"{b[0]}.{into.nets[terminal]}")
        zero = groups.find(f"{SUPPLY}.zero")
        owned: dict[str, str] = {groups.find(f"{SUPPLY}.plus"): f"{SUPPLY}.plus", zero: GROUND}
        for turn in range(3):  # an output names a net before an input does, a bare contact last
            for id, ports in self._ports.items():
                for port in ports.values():
                    gives = port.way == "out" and not port.passes
                    if turn == (2 if gives and port.kind == "contact" else 0 if gives else 1):
                        for net in port.nets.values():
                            owned.setdefault(groups.find(f"{id}.{net}"), f"{id}.{net}")
        names = {
            f"{id}.{net}"
            for id, ports in self._ports.items()
            for p in ports.values()
            for net in p.nets.values()
        }
        return {name: owned[groups.find(name)] for name in names}

    def net(self, block: str, local: str) -> str:
        name = f"{block}.{local}"
        return self._nets.get(name, name)

    # --- order --------------------------------------------------------------------------------------
    @cached_property
    def order(self) -> tuple[str, ...]:
        """Blocks along the flow: what lies in the rail first, then from the signals to the loads."""
        after: dict[str, set[str]] = {id: set() for id in self.design.blocks}
        for (a, _), (b, port) in self.joins:
            rail = self._ports[b][port].kind == "rail"
            if a != SUPPLY and a != b and not (rail and not self._in_rail(a)):
                after[b].add(a)
        found: list[str] = []
        waiting = dict(after)
        while waiting:
            ready = [id for id, before in waiting.items() if not before - set(found)] or list(waiting)[:1]
            ready.sort(key=lambda id: (not self._in_rail(id), self._depth(id, found)))
            found.append(ready[0])
            del waiting[ready[0]]
        return tuple(found)

    def _depth(self, id: str, found: list[str]) -> tuple[int, int]:
        """What follows the block placed last comes next; guards on the rail before what they guard."""
        last = found[-1] if found else ""
        follows = any(a[0] == last and self.port(a).kind != "rail" for a, b in self.joins if b[0] == id)
        return (0 if follows else 1, list(self.design.blocks).index(id))

    def _in_rail(self, id: str) -> bool:
        return any(p.kind == "rail" and p.way == "out" for p in self._ports[id].values())

    def stage(self, id: str) -> Stage:
        return self.design.blocks[id]


def _end(name: str) -> End:
    block, _, port = name.partition(".")
    return (block, port)


def _together(facts: Sequence[Fact]) -> Fact:
    """Several facts at one port as one."""
    first = facts[0]
    if len(facts) == 1:
        return first
    summed = getattr(type(first), "sum", None)
    assert summed is not None, f"{type(first).__name__} facts do not add"
    fact: Fact = summed(facts)
    return fact
