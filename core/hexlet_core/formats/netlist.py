"""The netlist form: {"format": "hexlet-netlist", "version": 1, "devices": [...], "analysis": {...}}.

A device is an object with its kind under "device", a "name", its terminals by name and its values in SI
units or shorthand. Instead of a model's parameters it may name a catalogue card: "card": "npn-40v-200ma".
`events` are those of `rehearsal.events`, analyses those of `formats.analysis`.
"""

from __future__ import annotations

from typing import Annotated, Any, Final, Literal

from pydantic import Field, StringConstraints

from ..cards import catalogue, read_card
from ..cards.derive import RULES
from ..circuit.devices import AnyDevice
from ..circuit.netlist import Netlist
from ..errors import DocumentError, Problem
from ..fields import Document, read_document
from ..rehearsal.events import Events, apply
from .analysis import Answer, AnyAnalysis, OperatingPoint

FORMAT: Final = "hexlet-netlist"


class NetlistDocument(Document):
    """A netlist with what to compute."""

    format: Literal["hexlet-netlist"] = FORMAT
    version: Literal[1] = 1
    title: Annotated[str, StringConstraints(max_length=200)] = ""
    devices: Annotated[list[AnyDevice], Field(min_length=1, max_length=2000)]
    events: Events = ()
    analysis: AnyAnalysis = OperatingPoint()


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
    fits, rule = RULES[card.kind]
    if device.get("device") != fits.model_fields["device"].default:
        raise DocumentError(Problem(f"{field}.card", f"A {card.kind} card does not fit here.", got=repr(named)))
    params = dict(rule(card))
    return {**params, **{k: v for k, v in device.items() if k != "card"}}


def solve_document(document: NetlistDocument) -> Answer:
    """What the document's analysis finds, after its events have been put into the circuit.

    Raises:
        NetlistError, SettleError: as `circuit.solve`.
        DocumentError: an event or a measurement names what is not there.
    """
    return document.analysis.run(apply(Netlist.of(document.devices), document.events))
