"""Build steps read from a stage's own netlist: which leg goes where, in words a person finds on the board."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from ..circuit.devices import Device
from .descriptions import Part, Step

RAILS = {"plus": "the + rail", "0": "the 0 V rail"}
FULL = {
    "g": "gate",
    "d": "drain",
    "s": "source",
    "b": "base",
    "c": "collector",
    "e": "emitter",
    "a": "anode",
    "k": "cathode",
    "com": "common",
    "no": "NO",
    "nc": "NC",
}


def strip(node: str) -> str:
    """What a node is called on the board."""
    return RAILS.get(node, f"the {node.replace('_', ' ')} strip")


def placed(devices: Iterable[Device], parts: Iterable[Part]) -> tuple[Step, ...]:
    """One step for each part: which leg goes where, read from the devices it is in the netlist; and a check
    by the meter where the part has one.
    """
    found = []
    fitted = {p.ref: p for p in parts}
    for device in devices:
        part = fitted.get(device.name)
        if part is None:
            continue
        nodes, ref = device.nodes(), device.name
        plain = len(nodes) == 2 and part.kind in ("resistor", "load", "capacitor", "fuse")
        if plain:
            title = f"{ref}, {part.value}: {' to '.join(_short(n) for n in nodes.values())}"
            where = " to ".join(strip(n) for n in nodes.values())
        elif len(nodes) == 2 and set(nodes) == {"a", "k"}:
            title, where = (
                f"{ref}: band to {_short(nodes['k'])}",
                f"its band (cathode) to {strip(nodes['k'])}, the other end to {strip(nodes['a'])}",
            )
        else:
            title = f"{ref}: {', '.join(FULL.get(leg, leg) for leg in part.legs or nodes)}"
            where = ", ".join(f"{FULL.get(leg, leg)} to {strip(n)}" for leg, n in nodes.items())
        legs = (
            (
                " Marked face as the leg order shows, each leg in a strip of its own. Yours may differ: "
                "check its sheet or find the legs with the meter."
            )
            if len(part.legs) > 2
            else ""
        )
        action: Literal["place", "link"] = "place" if part.on_board else "link"
        off = "" if part.on_board else " It stays off the board, on leads of its own."
        found.append(
            Step(
                id=f"place_{ref.lower()}",
                action=action,
                title=title[:90],
                part=ref,
                detail=f"{part.title}: {where}.{legs}{off}",
            )
        )
        if part.check:
            found.append(
                Step(
                    id=f"check_{ref.lower()}",
                    action="check",
                    title=f"{ref}, by the meter",
                    part=ref,
                    detail=part.check[0],
                    expect=part.check[1],
                )
            )
    return tuple(found)


def _short(node: str) -> str:
    """A node's name as it stands in a step's title."""
    return {"plus": "+ rail", "0": "0 V rail"}.get(node, node.replace("_", " "))
