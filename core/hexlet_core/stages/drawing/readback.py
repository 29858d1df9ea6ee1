"""The netlist read back from a drawing, by geometry alone."""

from __future__ import annotations

from ...circuit.netlist import Groups, Netlist
from .pen import Drawing, Point, chain_points, on_run

# Terminals that a drawing leaves to its reader: a pin's own 0 V.
IMPLIED = {("pin", "ref")}


def connections(drawing: Drawing) -> frozenset[frozenset[str]]:
    """The netlist read back: which pins are joined, from geometry alone.

    Wires join where an end of one touches the other; two runs that cross do not.
    """
    groups = Groups()
    for k, wire in enumerate(drawing.wires):
        for end in (wire.points[0], wire.points[-1]):
            for j, other in enumerate(drawing.wires):
                if any(on_run(end, a, b) for a, b in chain_points(other.points)):
                    groups.join(f"w{k}", f"w{j}")
    seats: dict[Point, str] = {}
    for symbol in drawing.symbols:
        for name, at in symbol.pins.items():
            pin = f"{symbol.ref}.{name}"
            groups.join(pin, seats.setdefault(at, pin))  # pins that touch are joined
            for k, wire in enumerate(drawing.wires):
                if any(on_run(at, a, b) for a, b in chain_points(wire.points)):
                    groups.join(pin, f"w{k}")
    nets: dict[str, set[str]] = {}
    for symbol in drawing.symbols:
        for name in symbol.pins:
            pin = f"{symbol.ref}.{name}"
            nets.setdefault(groups.find(pin), set()).add(pin)
    return frozenset(frozenset(pins) for pins in nets.values())


def drawn_part(netlist: Netlist) -> frozenset[frozenset[str]]:
    """The netlist's connections, less the terminals a drawing leaves implied."""
    implied = {
        f"{d.name}.{t}" for d in netlist.devices for kind, t in IMPLIED if getattr(d, "device", "") == kind
    }
    return frozenset(kept for pins in netlist.connections() if (kept := pins - implied))
