"""Ports: where a block joins others, and which joins are possible.

Each kind of port carries one fact each way and a fixed set of terminals; a join unites their terminals.

======= ================== ============================ ===============================
kind    terminals          down, from the output        up, from the input
======= ================== ============================ ===============================
rail    plus, zero         `Rail`                       `Draw`: what is drawn from it
command out, ref           `Command`: two levels        `Take`: what it takes of it
control gate, ref, out     `Control`: what it stands    `Attached`: what hangs on it
load    top, bottom        `Switch`                     `Demand`: what the load takes
contact com, make, break   `Contact`: form, bounce      `Wetting`: volts and amps in it
======= ================== ============================ ===============================
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

PortKind = Literal["rail", "command", "control", "load", "contact"]
Way = Literal["in", "out"]
TERMINALS: dict[PortKind, tuple[str, ...]] = {
    "rail": ("plus", "zero"),
    "command": ("out", "ref"),
    "control": ("gate", "ref", "out"),
    "load": ("top", "bottom"),
    "contact": ("com", "make", "break"),
}


@dataclass(frozen=True)
class Port:
    """One port of a kind of block.

    Attributes:
        nets: which of the block's own nets each terminal is; a terminal left out stays apart.
        count: how many joins an input takes. An output takes any number, a contact one.
        needed: whether the block is unfinished without it.
        passes: of a block in line, the port on its other side.
        form: of a contact's input, what it wants of a contact: "make", "break" or "changeover".
        words: of an input that is not needed, what could be joined to it: "a contact that halts it".
        side: of a switch's own load and control outputs, on which side of the load it switches.
    """

    name: str
    kind: PortKind
    way: Way
    nets: Mapping[str, str] = field(default_factory=dict)
    count: int = 1
    needed: bool = True
    passes: str = ""
    form: str = ""
    words: str = ""
    side: Literal["low", "high"] | None = None


def rail_in(needed: bool = True) -> Port:
    """The usual rail input: own nets "plus" and "zero"."""
    return Port("rail", "rail", "in", {"plus": "plus", "zero": "zero"}, needed=needed)


def row(blocks: Mapping[str, Sequence[Port]], source: str) -> tuple[list[tuple[str, str]], str]:
    """Blocks in a row, each joined to the ones before it as its ports allow; and the rail's last output.

    Rails lead on only through blocks in line with them; `source` is the supply's own output. A contact's
    input takes the first contact before it that is not used yet, bare or as a command.
    """
    joins: list[tuple[str, str]] = []
    ends: dict[str, list[str]] = {"rail": [source]}  # by kind, what can be joined next; the last one stays
    bare: list[str] = []  # contacts nobody uses yet
    taken: set[str] = set()  # blocks whose contact is used bare: they give no command
    for id, ports in blocks.items():
        passed = {p.kind for p in ports if p.passes}
        for port in ports:
            if port.kind == "contact" and port.way == "in" and bare:
                joins.append((bare.pop(0), f"{id}.{port.name}"))
                taken.add(joins[-1][0].partition(".")[0])
                continue
            wanted = port.kind != "rail" or port.kind in passed
            wanted = wanted and ends.get(port.kind, [""])[0].partition(".")[0] not in taken
            if port.way == "in" and port.kind in ends and wanted:
                begin, *rest = ends[port.kind]
                joins.append((begin, f"{id}.{port.name}"))
                ends[port.kind] = [*([f"{id}.{port.passes}"] if port.passes else []), *rest] or [begin]
        used = {a.partition(".")[0] for a, _ in joins}
        bare = [name for name in bare if name.partition(".")[0] not in used]
        fresh: dict[str, list[str]] = {}
        for port in ports:
            if port.way == "out" and port.kind == "contact":
                bare.append(f"{id}.{port.name}")
            elif port.way == "out" and not port.passes and port.kind != "rail":
                fresh.setdefault(port.kind, []).append(f"{id}.{port.name}")
        ends |= fresh
    return joins, ends["rail"][0]
