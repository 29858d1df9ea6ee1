"""How soon a board is planned, how few wires it takes and how few there can be: the demo designs, and a
folder of netlists where one is named.

Part of `make bench`; alone: `python -m tools.boards [FOLDER]`.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

from demo import quillmoor
from hexlet_core.build.boards import OWNED
from hexlet_core.build.bodies import BoardPart, Leg, Wanted
from hexlet_core.build.planner import Planner
from hexlet_core.cards import catalogue
from hexlet_core.circuit.devices import Device
from hexlet_core.circuit.netlist import GROUND
from hexlet_core.design.document import Design
from hexlet_core.design.study import study
from hexlet_core.fields import read_json
from hexlet_core.formats.netlist import read_netlist

Row = tuple[str, ...]
HEAD: Row = ("board", "parts + leads, nets", "first plan s (wires)", "best s", "wires, fewest", "all s")
# What a device is on a board; its legs in the order in which they lie.
INLINE = {"bipolar": ("e", "b", "c"), "mosfet": ("g", "d", "s"), "potentiometer": ("a", "w", "b")}
TWO = {"resistor": "resistor", "capacitor": "capacitor", "diode": "diode"}
CHIPS = {"timer": "timer-cmos", "counter": "counter-14", "comparator": "comparator-open"}


def designs() -> Iterator[Design]:
    yield quillmoor.fan_history()[-1][1]
    yield from quillmoor.others()


def part(device: Device) -> BoardPart | None:
    """A device of a netlist as the board sees it."""
    nodes, kind, key = device.nodes(), device.device, f"n.{device.name}"
    if kind in INLINE:
        legs = tuple(Leg(t, nodes.get(t, "")) for t in INLINE[kind])
        return BoardPart(key, device.name, "n", "npn", "inline", legs)
    if kind in TWO:
        legs = tuple(Leg(t, n) for t, n in nodes.items())
        return BoardPart(key, device.name, "n", TWO[kind], "two", legs)
    if kind in CHIPS:
        order = catalogue()[CHIPS[kind]].legs
        return BoardPart(key, device.name, "n", kind, "chip", tuple(Leg(t, nodes.get(t, "")) for t in order))
    if kind == "button" and "nc" not in nodes:
        legs = tuple(Leg(t, n) for t, n in nodes.items() for _ in range(2))
        return BoardPart(key, device.name, "n", "button", "button", legs)
    legs = tuple(Leg(t, n) for t, n in nodes.items())
    return BoardPart(key, device.name, "n", kind, "leads", legs) if legs else None


def netlist(path: Path) -> Wanted:
    """What the board of a netlist has to carry: its supply's + and 0 V on the rails."""
    devices = read_netlist(read_json(path.read_bytes())).devices
    supply = next((d for d in devices if d.device == "voltage"), None)
    rails = {"0": GROUND} | ({"+": supply.nodes()["a"]} if supply is not None else {})
    parts = [p for d in devices if (p := part(d)) is not None]
    on_board = {n for p in parts if p.shape != "leads" for n in p.nets}
    for k, p in enumerate(parts):
        if p.shape == "leads":
            parts[k] = replace(p, legs=tuple(x for x in p.legs if x.net in on_board))
    return Wanted(tuple(p for p in parts if p.legs), rails)


def row(name: str, planner: Planner) -> Row:
    """Plan one board, and tell when the first and the best plan were there."""
    begun = time.perf_counter()
    seen = [(time.perf_counter() - begun, step) for step in planner.steps()]
    (first, at_first), (whole, last) = seen[0], seen[-1]
    if last.view is None:
        return (name, *("",) * 4, last.problems[0].message if last.problems else "")
    best = next(at for at, step in seen if step.links == last.links)
    what = planner.what
    leads = sum(len(p.legs) for p in what.bodies if p.shape == "leads")
    size = f"{sum(p.shape != 'leads' for p in what.bodies)} + {leads}, {len(what.nets)}"
    fewest = str(last.bound) if last.bound == last.links else f"≥ {last.bound}"
    return (
        name,
        size,
        f"{first:.2f} ({at_first.links})",
        f"{best:.1f}",
        f"{last.links}, {fewest}",
        f"{whole:.1f}",
    )


def rows(folder: str = "") -> list[Row]:
    """Every demo design, then every netlist of a folder."""
    found = [row(d.name, Planner(study(d), OWNED)) for d in designs()]
    for path in sorted(Path(folder).glob("*.json")) if folder else ():
        planner = Planner(study(next(designs())), OWNED)
        planner.what, planner.alike = netlist(path), ()
        found.append(row(path.stem, planner))
    return found


def table(found: list[Row]) -> str:
    return "\n".join("| " + " | ".join(r) + " |" for r in (HEAD, tuple("---" for _ in HEAD), *found))


if __name__ == "__main__":
    print(table(rows(sys.argv[1] if len(sys.argv) > 1 else "")))
