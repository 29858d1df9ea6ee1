"""A netlist: named devices between named nodes, checked and packed into flat arrays."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..errors import NetlistError, Problem
from .devices import RECORD, Device, Floats, Ints
from .devices.base import HEAD

GROUND = "0"


@dataclass(frozen=True)
class Packed:
    """A netlist as the kernel takes it. `unknowns` names the rows of x; nodes come first."""

    ia: Ints
    fa: Floats
    sa: Floats
    lim: Floats
    nodes: int
    unknowns: tuple[str, ...]
    widths: tuple[int, ...]  # how many unknowns each device has in its record


class Groups:
    """Union-find over names."""

    def __init__(self) -> None:
        self._parent: dict[str, str] = {}

    def find(self, name: str) -> str:
        parent = self._parent.setdefault(name, name)
        if parent == name:
            return name
        root = self._parent[name] = self.find(parent)
        return root

    def join(self, a: str, b: str) -> bool:
        """Put a and b in one group; False if they already were."""
        root_a, root_b = self.find(a), self.find(b)
        self._parent[root_a] = root_b
        return root_a != root_b


@dataclass(frozen=True)
class Netlist:
    """Devices wired by node names; node "0" is ground."""

    devices: tuple[Device, ...]

    @classmethod
    def of(cls, devices: Iterable[Device]) -> Netlist:
        return cls(tuple(devices))

    def check(self) -> None:
        """Refuse what has no solution.

        Raises:
            NetlistError: two devices of one name, no ground, a node with one connection, a node with no
                path for direct current to ground, or a loop of voltage sources.
        """
        problems: list[Problem] = []
        for name, count in Counter(d.name for d in self.devices).items():
            if count > 1:
                problems.append(Problem(name, f"{count} devices have this name. Give each its own."))
        touched: Counter[str] = Counter()
        paths, fixed = Groups(), Groups()
        for device in self.devices:
            nodes = device.nodes()
            touched.update(nodes.values())
            for a, b in device.conducts:
                if a in nodes and b in nodes:
                    paths.join(nodes[a], nodes[b])
            for a, b in device.fixes:
                stiff = getattr(device, "resistance", 0.0) == 0.0
                if stiff and not fixed.join(nodes[a], nodes[b]):
                    problems.append(
                        Problem(
                            device.name,
                            f"This voltage source closes a loop of voltage sources through {nodes[a]} and {nodes[b]}, "
                            "so its current has no value. Give one of them a series resistance.",
                        )
                    )
        if GROUND not in touched:
            problems.append(Problem("devices", "No device is connected to node 0, the ground every voltage is counted from."))
        for node, count in touched.items():
            if node == GROUND:
                continue
            if count == 1:
                owner = next(d.name for d in self.devices if node in d.nodes().values())
                problems.append(Problem(node, f"This node floats: only {owner} is connected to it. Connect it or leave it out."))
            elif paths.find(node) != paths.find(GROUND):
                problems.append(
                    Problem(
                        node,
                        "This node floats: no direct current can reach ground from it, so its voltage is not defined. "
                        "Add a resistor from it to node 0.",
                    )
                )
        if problems:
            raise NetlistError(*problems)

    @cached_property
    def packed(self) -> Packed:
        """Flat arrays for the kernel. Node voltages first, then voltages inside devices, then currents."""
        names: list[str] = []
        for device in self.devices:
            names += [n for n in device.record_nodes() if n != GROUND and n not in names]
        inner = [(d.name, k) for d in self.devices for k in range(d.inner_nodes())]
        branches = [(d.name, k) for d in self.devices for k in range(d.branches())]
        unknowns = [*names, *(f"{n}#{k}" for n, k in inner), *(f"i({n})" for n, k in branches)]
        ground = len(unknowns)
        index = {name: k for k, name in enumerate(names)} | {GROUND: ground}
        index |= {f"{n}#{k}": len(names) + j for j, (n, k) in enumerate(inner)}
        index |= {f"i({n})": len(names) + len(inner) + j for j, (n, k) in enumerate(branches)}
        ia = np.full(RECORD * len(self.devices), ground, np.int64)
        fa: list[float] = []
        sa: list[float] = []
        lim: list[float] = []
        widths = []
        for d, device in enumerate(self.devices):
            p = d * RECORD
            ia[p : p + HEAD] = device.code, len(fa), len(sa), len(lim)
            mine = device.record_nodes()
            mine += [f"{device.name}#{k}" for k in range(device.inner_nodes())]
            mine += [f"i({device.name})" for _ in range(device.branches())]
            ia[p + HEAD : p + HEAD + len(mine)] = [index[m] for m in mine]
            widths.append(len(mine))
            fa += device.numbers()
            sa += device.state()
            lim += device.junctions()
        return Packed(
            ia, np.array(fa), np.array(sa or [0.0]), np.array(lim or [0.0]),
            len(names) + len(inner), tuple(unknowns), tuple(widths),
        )  # fmt: skip

    def connections(self) -> frozenset[frozenset[str]]:
        """What is joined to what, without node names: sets of "device.terminal"."""
        by_node: dict[str, set[str]] = {}
        for device in self.devices:
            for terminal, node in device.nodes().items():
                by_node.setdefault(node, set()).add(f"{device.name}.{terminal}")
        return frozenset(frozenset(pins) for pins in by_node.values())
