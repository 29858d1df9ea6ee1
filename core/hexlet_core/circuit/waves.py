"""What a solved circuit tells: an operating point, a trajectory, currents, powers, limits passed, races."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np

from ..fields import Document
from .devices import RECORD, Device, Floats, Ints
from .engine import Engine
from .memory import workspace
from .netlist import GROUND, Netlist


class Stress(Document):
    """A limit that was passed: which device, which limit, how far and when first."""

    device: str
    what: str
    limit: float
    reached: float
    time: float


class Race(Document):
    """A moment at which either of two states may follow: what decides it, and which was taken."""

    device: str
    time: float
    text: str


@dataclass(frozen=True)
class Solution:
    """An operating point: unknowns by name, currents by device and terminal."""

    netlist: Netlist
    values: dict[str, float]
    waves: Waves

    def __getitem__(self, name: str) -> float:
        return 0.0 if name == GROUND else self.values[name]

    def current(self, device: str, terminal: str) -> float:
        """Current from the node into a device's terminal [A]."""
        return float(self.waves.conduction(device, terminal)[0])

    def power(self, device: str) -> float:
        """What a device takes up [W]."""
        return float(self.waves.power(device)[0])

    def states(self) -> dict[str, list[float]]:
        """The discrete states of every device that has some."""
        return {
            d.name: [self.state(d.name, k) for k in range(len(d.state()))]
            for d in self.netlist.flat
            if d.state()
        }

    def state(self, device: str, index: int = 0) -> float:
        """One of a device's discrete states."""
        return float(self.waves.state(device, index)[0])


@dataclass(frozen=True)
class Counts:
    """The work a transient took."""

    newton: int  # assemblies of the whole circuit: every Newton iteration is one
    steps: int
    rejected: int
    events: int
    redone: int
    dense: int  # factorings that had to leave the fixed order
    solves: int


class DeviceFlow(NamedTuple):
    """What goes into a device at its unknowns, or at one: conduction [A], charge [C], and how fast both
    change.
    """

    conduction: Floats
    charge: Floats
    d_conduction: Floats
    d_charge: Floats


@dataclass(frozen=True)
class Waves:
    """A trajectory: `time` [s], shape (rows,); `waves[name]` the same shape [V or A].

    `slopes` are the unknowns' rates of change. Between two rows each unknown is the cubic through both
    with their
    slopes; where `jumps` marks the later row, it jumped, or moved too fast to be followed, and is a
    straight line.
    """

    netlist: Netlist
    time: Floats
    unknowns: Floats
    slopes: Floats
    states: Floats
    jumps: Ints
    counts: Counts
    engine: Engine
    torn: bool = False  # it ends where the parts decide which way it goes on
    escape: float | None = None  # when it left a state that could not last and that it had followed long [s]

    def __getitem__(self, name: str) -> Floats:
        if name == GROUND:
            return np.zeros_like(self.time)
        return self.unknowns[:, self.netlist.packed.unknowns.index(name)]

    def slope(self, name: str) -> Floats:
        """Rate of change of an unknown [V/s or A/s]."""
        if name == GROUND:
            return np.zeros_like(self.time)
        return self.slopes[:, self.netlist.packed.unknowns.index(name)]

    @cached_property
    def _places(self) -> dict[str, int]:
        return {d.name: k for k, d in enumerate(self.netlist.flat)}

    @cached_property
    def _devices(self) -> dict[str, Device]:
        return {d.name: d for d in (*self.netlist.flat, *self.netlist.devices)}

    def device(self, name: str) -> Device:
        return self._devices[name]

    def _record(self, name: str) -> DeviceFlow:
        """What flows at each unknown of a device with equations, shapes (rows, unknowns)."""
        packed, d = self.netlist.packed, self._places[name]
        width = packed.widths[d]
        work = workspace(packed.plan, width, width, 1.0)
        return DeviceFlow(
            *self.engine.device_flows(
                packed.circuit(), work, d, width, self.time, self.unknowns, self.slopes, self.states
            )
        )

    def flow(self, name: str, terminal: str) -> DeviceFlow:
        """What flows into a terminal; that into all its parts at the terminal's node."""
        device = self.device(name)
        if device.code:
            k = device.places()[terminal]
            return DeviceFlow(*(table[:, k] for table in self._record(name)))
        # Wired with every terminal on a node of its own, the parts tell which of theirs a terminal is.
        apart = device.model_copy(update={t: f"@{t}" for t in device.nodes()})
        parts = [
            self.flow(p.name, t) for p in apart.parts() for t, n in p.nodes().items() if n == f"@{terminal}"
        ]
        return DeviceFlow(*(np.sum(tables, axis=0) for tables in zip(*parts, strict=True)))

    def conduction(self, name: str, terminal: str) -> Floats:
        """Current into a terminal, charging currents left out [A]."""
        return self.flow(name, terminal).conduction

    def charge(self, name: str, terminal: str) -> Floats:
        """Charge held at a terminal [C]."""
        return self.flow(name, terminal).charge

    def current(self, name: str, terminal: str) -> Floats:
        """Current into a terminal, charging included [A]."""
        return self.current_and_slope(name, terminal)[0]

    def current_and_slope(self, name: str, terminal: str) -> tuple[Floats, Floats]:
        """`current`, and how fast it changes [A/s]; a charging current's slope is taken between rows."""
        flow = self.flow(name, terminal)
        return flow.conduction + flow.d_charge, flow.d_conduction + _between_rows(
            self.time, flow.d_charge, self.jumps
        )

    def power(self, name: str) -> Floats:
        """Conduction loss in a device: sum of terminal voltages times currents [W]."""
        return self.power_and_slope(name)[0]

    def power_and_slope(self, name: str) -> tuple[Floats, Floats]:
        """`power`, and how fast it changes [W/s]."""
        device = self.device(name)
        if not device.code:
            parts = [self.power_and_slope(p.name) for p in device.parts()]
            return np.sum([p for p, _ in parts], axis=0), np.sum([s for _, s in parts], axis=0)
        flow = self._record(name)
        power, slope = np.zeros_like(self.time), np.zeros_like(self.time)
        for k, node in enumerate(device.record_nodes()):
            power += self[node] * flow.conduction[:, k]
            slope += self[node] * flow.d_conduction[:, k] + self.slope(node) * flow.conduction[:, k]
        return power, slope

    def state(self, name: str, index: int) -> Floats:
        """One of a device's discrete states over time."""
        device = self.device(name)
        device = device if device.code else device.parts()[0]
        if not 0 <= index < len(device.state()):
            raise KeyError(name)
        name = device.name
        return self.states[:, int(self.netlist.packed.ia[self._places[name] * RECORD + 2]) + index]

    def races(self) -> tuple[Race, ...]:
        """What woke up without being told its state, and where the whole circuit had none to prefer."""
        found = []
        for device in self.netlist.flat:
            wakes = device.undecided()
            since = float(self.state(device.name, wakes[0])[-1]) if wakes else -1.0
            if wakes and since >= 0.0:
                found.append(Race(device=device.name, time=since, text=wakes[1]))
        if self.torn:
            text = (
                "The circuit cannot stay as it is, and nothing says which way it goes: both states are "
                "possible; the parts decide."
            )
            found.append(Race(device="", time=float(self.time[-1]), text=text))
        return tuple(found)

    def stresses(self) -> tuple[Stress, ...]:
        """Every limit that a device states and that was passed."""
        found = []
        for device in self.netlist.flat:
            for what, a, b, limit in device.ratings():
                nodes = device.nodes()
                if a not in nodes or b not in nodes:
                    continue
                v = self[nodes[a]] - self[nodes[b]]
                v = np.abs(v) if what in ("gate", "voltage") else v
                if float(v.max()) > limit:
                    k = int(np.argmax(v > limit))
                    first = (
                        np.interp(limit, v[k - 1 : k + 1], self.time[k - 1 : k + 1]) if k else self.time[0]
                    )
                    found.append(
                        Stress(
                            device=device.name,
                            what=what,
                            limit=limit,
                            reached=float(v.max()),
                            time=float(first),
                        )
                    )
        return tuple(found)


def _between_rows(time: Floats, value: Floats, jumps: Ints) -> Floats:
    """The slope of a curve at its rows, by the parabola through a row's neighbours; one-sided
    beside a jump.
    """
    if len(time) < 3 or not value.any():
        return np.zeros_like(value)
    gaps = np.maximum(np.diff(time), 1e-300)
    chords = np.where(jumps[1:] > 0, np.nan, np.diff(value) / gaps)
    before, after = np.concatenate([[np.nan], chords]), np.concatenate([chords, [np.nan]])
    g_before, g_after = np.concatenate([[1.0], gaps]), np.concatenate([gaps, [1.0]])
    middle = (before * g_after + after * g_before) / (g_before + g_after)
    # At an end the parabola's slope there, from the chord beside it and the slope one row further in.
    first = 2 * after - np.concatenate([middle[1:], [np.nan]])
    last = 2 * before - np.concatenate([[np.nan], middle[:-1]])
    found = middle
    for other in (first, last, after, before):
        found = np.where(np.isnan(found), other, found)
    return np.nan_to_num(found)
