"""The netlist form: {"format": "hexlet-netlist", "version": 1, "devices": [...], "analysis": {...}}.

A device is an object with its kind under "device", a "name", its terminals by name and its values in SI
units or shorthand. Instead of a model's parameters it may name a catalogue card: "card": "npn-40v-200ma".
"""

from __future__ import annotations

from typing import Annotated, Any, Final, Literal

from pydantic import Field, StringConstraints

from ..cards import catalogue, read_card
from ..cards.derive import RULES
from ..circuit.devices import AnyDevice
from ..circuit.netlist import Netlist
from ..circuit.solve import RTOL, operating_point, transient
from ..errors import DocumentError, Problem
from ..fields import Document, Q, read_document

FORMAT: Final = "hexlet-netlist"


class OperatingPoint(Document):
    """The settled state."""

    kind: Literal["operating_point"] = "operating_point"


class Transient(Document):
    """From time 0 to `stop` [s]; from discharged parts when `from_rest`."""

    kind: Literal["transient"] = "transient"
    stop: Annotated[float, Q("s", 1e-9, 1e6)]
    longest_step: Annotated[float, Q("s", 1e-12, 1e6)] | None = None
    tolerance: Annotated[float, Q("", 1e-7, 0.1)] = RTOL
    from_rest: bool = False


class NetlistDocument(Document):
    """A netlist with what to compute."""

    format: Literal["hexlet-netlist"] = FORMAT
    version: Literal[1] = 1
    title: Annotated[str, StringConstraints(max_length=200)] = ""
    devices: Annotated[list[AnyDevice], Field(min_length=1, max_length=2000)]
    analysis: Annotated[OperatingPoint | Transient, Field(discriminator="kind")] = OperatingPoint()


def read_netlist(data: Any) -> NetlistDocument:
    """A netlist document from plain data, cards replaced by their models.

    Raises:
        DocumentError: each field that cannot be used, named.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise DocumentError(Problem("format", f"This is not a netlist: the file must say “format”: “{FORMAT}”."))
    devices = data.get("devices")
    if isinstance(devices, list):
        data = {**data, "devices": [_with_card(d, f"devices[{k}]") for k, d in enumerate(devices)]}
    return read_document(NetlistDocument, data)


def _with_card(device: Any, field: str) -> Any:
    if not isinstance(device, dict) or "card" not in device:
        return device
    named = device["card"]
    if isinstance(named, dict):
        try:
            card = read_card(named)
        except DocumentError as error:
            raise DocumentError(*(Problem(f"{field}.card.{p.field}", p.message, p.got, p.allowed) for p in error.problems)) from None
    else:
        found = catalogue().get(str(named))
        if found is None:
            raise DocumentError(Problem(f"{field}.card", "There is no such card in the catalogue. `parts` lists them.", got=repr(named)))
        card = found
    rule = RULES.get(card.kind)
    if rule is None:
        raise DocumentError(Problem(f"{field}.card", f"A {card.kind} card has no model to put here.", got=repr(named)))
    params = dict(rule(card))  # type: ignore[operator]
    if card.kind == "relay":
        params["resistance"] = card.coil
    return {**params, **{k: v for k, v in device.items() if k != "card"}}


def solve_document(document: NetlistDocument) -> tuple[list[str], list[list[float]]]:
    """Column names and rows: one row for an operating point, one a step for a transient.

    Raises:
        NetlistError, SettleError: as `circuit.solve`.
    """
    netlist = Netlist.of(document.devices)
    names = [n for n in netlist.packed.unknowns if "#" not in n]
    analysis = document.analysis
    if isinstance(analysis, OperatingPoint):
        point = operating_point(netlist)
        return names, [[point[n] for n in names]]
    waves = transient(netlist, analysis.stop, h_max=analysis.longest_step, rtol=analysis.tolerance, from_rest=analysis.from_rest)
    return ["time", *names], [list(row) for row in zip(waves.time.tolist(), *(waves[n].tolist() for n in names), strict=True)]
