"""The netlist form: {"format": "hexlet-netlist", "version": 1, "devices": [...], "analysis": {...}}.

A device is an object with its kind under "device", a "name", its terminals by name and its values in SI
units or shorthand. Instead of a model's parameters it may name a catalogue card: "card": "npn-40v-200ma".
`events` are those of `rehearsal.events`, analyses those of `formats.analysis`.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Any, Final, Literal

from pydantic import Field, StringConstraints, model_validator

from ..cards import catalogue, read_card
from ..cards.derive import RULES
from ..circuit.devices import AnyDevice, Device
from ..circuit.devices.base import put
from ..circuit.netlist import Netlist
from ..circuit.vary import Changes
from ..design.script import Events
from ..errors import DocumentError, Problem
from ..fields import Document, read_document
from ..rehearsal.events import apply
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

    @model_validator(mode="after")
    def _names_apart(self) -> NetlistDocument:
        first: dict[str, int] = {}
        for k, device in enumerate(self.devices):
            if device.name in first:
                raise ValueError(
                    f"devices[{first[device.name]}] and devices[{k}] are both called {device.name}. Give "
                    "each its own name."
                )
            first[device.name] = k
        return self


@dataclass(frozen=True)
class Scripted:
    """A netlist with the events that will happen to it: numbers of both can be changed."""

    bare: Netlist
    events: Events
    settled_before: bool = False

    @cached_property
    def whole(self) -> Netlist:
        """The netlist with the events put into it."""
        return apply(self.bare, [_later(e) for e in self.events] if self.settled_before else self.events)

    @property
    def devices(self) -> tuple[Device, ...]:
        return self.whole.devices

    @property
    def happenings(self) -> list[dict[str, Any]]:
        """The events as plain data, in which a path finds its number."""
        return [e.model_dump() for e in self.events]

    def varied(self, changes: Changes) -> Netlist:
        """The netlist with some numbers of its devices and events changed.

        Raises:
            DocumentError: an event cannot be like that.
        """
        of_events: Mapping[str, float] = changes.get("events", {})
        rest = {name: fields for name, fields in changes.items() if name != "events"}
        if not of_events:
            return self.whole.varied(rest)
        data: dict[str, Any] = {"events": self.happenings}
        for path, value in of_events.items():
            put(data, f"events{path}", value)
        events = read_document(_Happening, data).events
        return Scripted(self.bare, events, self.settled_before).whole.varied(rest)


class _Happening(Document):
    events: Events


SOON = 1e-12  # what happens at 0 comes this long after a start that is settled before it [s]


def _later(event: Any) -> Any:
    return event.model_copy(update={"at": SOON}) if event.at == 0.0 else event


def read_netlist(data: Any) -> NetlistDocument:
    """A netlist document from plain data, cards replaced by their models.

    Raises:
        DocumentError: each field that cannot be used, named.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise DocumentError(
            Problem("format", f"This is not a netlist: the file must say “format”: “{FORMAT}”.")
        )
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
            raise DocumentError(
                *(Problem(f"{field}.card.{p.field}", p.message, p.got, p.allowed) for p in error.problems)
            ) from None
    else:
        found = catalogue().get(str(named))
        if found is None:
            raise DocumentError(
                Problem(
                    f"{field}.card",
                    "There is no such card in the catalogue. `parts` lists them.",
                    got=repr(named),
                )
            )
        card = found
    fits, rule = RULES[card.kind]
    if device.get("device") != fits.model_fields["device"].default:
        raise DocumentError(
            Problem(f"{field}.card", f"A {card.kind} card does not fit here.", got=repr(named))
        )
    params = dict(rule(card))
    return {**params, **{k: v for k, v in device.items() if k != "card"}}


def solve_document(document: NetlistDocument) -> Answer:
    """What the document's analysis finds, after its events have been put into the circuit.

    Raises:
        NetlistError, SettleError: as `circuit.solve`.
        DocumentError: an event or a measurement names what is not there.
    """
    analysis = document.analysis
    inner = getattr(analysis, "of", analysis)
    return analysis.run(
        Scripted(Netlist.of(document.devices), document.events, getattr(inner, "settled_before", False))
    )
