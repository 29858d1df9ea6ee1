"""A netlist: named devices between named nodes, checked and packed into flat arrays."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from pydantic import ValidationError

from ..errors import NetlistError, Problem
from ..fields import as_problem
from .devices import RECORD, Device, Floats, Ints
from .devices.base import HEAD
from .memory import FOLLOWS, WATCHED, Circuit
from .sparse import plan

GROUND = "0"


@dataclass(frozen=True)
class Packed:
    """A netlist as the kernel takes it. `unknowns` names the rows of x; nodes come first."""

    ia: Ints
    fa: Floats
    sa: Floats
    lim: Floats
    plan: Ints
    nodes: int
    unknowns: tuple[str, ...]
    widths: tuple[int, ...]  # how many unknowns each device has in its record
    role: Ints  # of each unknown: ordinary, deciding events, or only following
    charge: Floats  # at each unknown, held by parts that start charged [C]

    def circuit(self, states: Floats | None = None) -> Circuit:
        """What the kernel runs: its own copies of what changes, beginning with some discrete states."""
        sa = (self.sa if states is None else states).copy()
        return Circuit(self.ia, self.fa, sa, self.lim.copy(), self.plan, self.nodes, len(self.unknowns))


class Groups:
    """Union-find over names."""

    def __init__(self) -> None:
        self._parent: dict[str, str] = {}

    def find(self, name: str) -> str:
        root = name
        while (parent := self._parent.setdefault(root, root)) != root:
            root = parent
        while name != root:  # the next search is short
            above = self._parent[name]
            self._parent[name] = root
            name = above
        return root

    def join(self, a: str, b: str) -> bool:
        """Put a and b in one group; False if they already were."""
        root_a, root_b = self.find(a), self.find(b)
        self._parent[root_a] = root_b
        return root_a != root_b


def _parts(device: Device) -> Sequence[Device]:
    """The devices one stands for.

    Raises:
        NetlistError: its numbers ask of one of them what that cannot be.
    """
    try:
        return device.parts()
    except ValidationError as error:
        found = as_problem(error.errors(include_url=False)[0], {})
        raise NetlistError(
            Problem(
                device.name, f"With these numbers its own {found.field} cannot be: {found.message}", found.got
            )
        ) from None


@dataclass(frozen=True)
class Netlist:
    """Devices wired by node names; node "0" is ground."""

    devices: tuple[Device, ...]

    @classmethod
    def of(cls, devices: Iterable[Device]) -> Netlist:
        return cls(tuple(devices))

    @cached_property
    def flat(self) -> tuple[Device, ...]:
        """The devices with equations: small circuits replaced by their parts."""
        return tuple(part for device in self.devices for part in _parts(device))

    @property
    def whole(self) -> Netlist:
        """Itself: the netlist as it stands, as of a circuit with events to come."""
        return self

    def varied(self, changes: Mapping[str, Mapping[str, float]]) -> Netlist:
        """The same circuit with some devices' numbers changed; only those are packed anew."""
        devices = tuple(d.with_values(changes[d.name]) if d.name in changes else d for d in self.devices)
        found = Netlist(devices)
        base = self.packed
        if len(self.flat) == len(self.devices):
            fa, charge = base.fa.copy(), base.charge.copy()
            for d, device in enumerate(devices):
                if device.name not in changes:
                    continue
                numbers = device.numbers()
                begin = int(base.ia[d * RECORD + 1])
                if (
                    len(numbers) != len(self.devices[d].numbers())
                    or device.inner_nodes() != self.devices[d].inner_nodes()
                ):
                    return found
                if (
                    device.state() != self.devices[d].state()
                    or device.start_charge() != self.devices[d].start_charge()
                ):
                    return found
                fa[begin : begin + len(numbers)] = numbers
            found.__dict__["packed"] = replace(base, fa=fa, charge=charge)
            found.__dict__["checked"] = True
        return found

    def check(self, charged: bool = False) -> None:
        """Refuse what has no solution; `charged` parts give a node its voltage too, so that a run can begin.

        Raises:
            NetlistError: two devices of one name, no ground, a node with no path for direct current to
                ground, or a loop of voltage sources.
        """
        if not (self.__dict__.get("checked") or (charged and self.__dict__.get("checked_charged"))):
            self._check(charged)
            self.__dict__["checked_charged" if charged else "checked"] = True

    def loose(self) -> tuple[str, ...]:
        """Nodes that only one device touches: their voltage is defined, but something is not connected."""
        touched = Counter(n for d in self.devices for n in set(d.nodes().values()))
        return tuple(n for n, count in touched.items() if count == 1 and n != GROUND)

    def _check(self, charged: bool) -> None:
        problems: list[Problem] = []
        for name, count in Counter(d.name for d in self.devices).items():
            if count > 1:
                problems.append(Problem(name, f"{count} devices have this name. Give each its own."))
        touched: Counter[str] = Counter()
        paths, fixed = Groups(), Groups()
        for device in self.devices:
            nodes = device.nodes()
            touched.update(nodes.values())
            for a, b in (*device.pairs(), *(device.holds if charged else ())):
                if a in nodes and b in nodes:
                    paths.join(nodes[a], nodes[b])
            for a, b in device.fixes:
                if device.stiff() and not fixed.join(nodes[a], nodes[b]):
                    problems.append(
                        Problem(
                            device.name,
                            f"This voltage source closes a loop of voltage sources through {nodes[a]} and "
                            f"{nodes[b]}, so its current has no value. Give one of them a series resistance.",
                        )
                    )
        if GROUND not in touched:
            problems.append(
                Problem(
                    "devices", "No device is connected to node 0, the ground every voltage is counted from."
                )
            )
        for node in touched:
            if node == GROUND:
                continue
            if paths.find(node) != paths.find(GROUND):
                owners = [d.name for d in self.devices if node in d.nodes().values()]
                only = (
                    f"only {owners[0]} is connected to it. Connect it"
                    if len(owners) == 1
                    else (
                        "no direct current can reach ground from it, so its voltage is not defined. Add a "
                        "resistor from it to node 0"
                    )
                )
                problems.append(Problem(node, f"This node floats: {only}."))
        if problems:
            raise NetlistError(*problems)

    @cached_property
    def packed(self) -> Packed:
        """Flat arrays for the kernel. Node voltages first, then voltages inside devices, then currents."""
        flat = self.flat
        names = list(dict.fromkeys(n for d in flat for n in d.record_nodes() if n != GROUND))
        inner = [f"{d.name}#{k}" for d in flat for k in range(d.inner_nodes())]
        branches = [name for d in flat for name in d.branch_names()]
        unknowns = [*names, *inner, *branches]
        ground = len(unknowns)
        index = {name: k for k, name in enumerate(unknowns)} | {GROUND: ground}
        ia = np.full(RECORD * len(flat), ground, np.int64)
        fa: list[float] = []
        sa: list[float] = []
        lim: list[float] = []
        widths = []
        blocks: list[tuple[int, ...]] = []
        pairs: list[tuple[int, tuple[int, ...]]] = []
        role, charge = np.zeros(ground + 1, np.int64), np.zeros(ground + 1)
        for d, device in enumerate(flat):
            p = d * RECORD
            ia[p : p + HEAD] = device.code, len(fa), len(sa), len(lim)
            mine = device.record_nodes()
            mine += [f"{device.name}#{k}" for k in range(device.inner_nodes())]
            mine += device.branch_names()
            places = [index[m] for m in mine]
            ia[p + HEAD : p + HEAD + len(mine)] = places[: RECORD - HEAD]
            if len(mine) > RECORD - HEAD:
                text = (
                    f"It meets {len(mine)} nodes and currents, and {RECORD - HEAD} are the most one part "
                    "can. Use two parts."
                )
                raise NetlistError(Problem(device.name, text))
            widths.append(len(mine))
            blocks += [tuple(places[k] for k in group) for group in device.couples()]
            if device.fixes and device.stiff():
                pairs.append((index[f"i({device.name})"], tuple(places[:2])))
            if device.fixes:
                role[index[f"i({device.name})"]] = FOLLOWS
            for k in device.watched():
                role[places[k]] = WATCHED
            for k, q in device.start_charge():
                charge[places[k]] += q
            fa += device.numbers()
            sa += device.state()
            lim += device.junctions()
        nodes = len(names) + len(inner)
        return Packed(
            ia,
            np.array(fa),
            np.array(sa or [0.0]),
            np.array(lim or [0.0]),
            plan(ground, nodes, blocks, pairs),
            nodes,
            tuple(unknowns),
            tuple(widths),
            role,
            charge,
        )

    def connections(self) -> frozenset[frozenset[str]]:
        """What is joined to what, without node names: sets of "device.terminal"."""
        by_node: dict[str, set[str]] = {}
        for device in self.devices:
            for terminal, node in device.nodes().items():
                by_node.setdefault(node, set()).add(f"{device.name}.{terminal}")
        return frozenset(frozenset(pins) for pins in by_node.values())
