"""Scripts: who does what when, as readable JSON, kept with the design and published as a schema.

{"do": "press", "button": "S1", "at": 0.5, "hold": 0.2, "bounce": {"duration": 0.002, "times": 3}}
{"do": "set", "at": 0.01, "level": "high"}, {"do": "set", "who": "P2", "at": 0.01, "level": "active"}
{"do": "supply", "at": 0.05, "volts": 10.8, "ramp": 0.001}
{"do": "turn", "pot": "P1", "at": 0.1, "to": 0.8, "over": 0.5}
{"do": "sweep", "at": 0.1, "volts": 5.0, "over": 2.0}
{"do": "lift", "part": "R1", "at": 1.0}, {"do": "refit", "part": "R1", "at": 2.0}
{"do": "probe", "red": "cap", "at": 0.2, "until": 0.9, "resistance": "10M"}

In a netlist `source` names the source that `supply` and `sweep` move; in a design they are the supply and the
signal.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints, ValidationInfo, field_validator

from ..circuit.devices import Bounce
from ..fields import Document, Q

At = Annotated[float, Q("s", 0.0, 1e5)]
Ref = Annotated[str, StringConstraints(min_length=1, max_length=40)]


class SetPin(Document):
    """From `at` on, a signal is at this level. `who` is a block or a part's reference; the first signal when
    left out.

    "active" and "idle" are what the signal means by its levels; a button is pressed while it is active.
    """

    do: Literal["set"] = "set"
    at: At
    level: Literal["low", "high", "floating", "boot", "active", "idle"]
    who: Ref | None = None


class SetSupply(Document):
    """From `at` on, the supply goes to `volts` within `ramp`."""

    do: Literal["supply"] = "supply"
    at: At
    volts: Annotated[float, Q("V", 0.0, 400.0)]
    ramp: Annotated[float, Q("s", 1e-6, 1e4)] = 1e-3
    source: Ref | None = None


class PressButton(Document):
    """A button is held from `at` for `hold`, with bounce if any."""

    do: Literal["press"] = "press"
    button: Ref
    at: At
    hold: Annotated[float, Q("s", 1e-6, 1e5)]
    bounce: Bounce | None = None


class TurnPot(Document):
    """A potentiometer is turned to a place (0 to 1) within `over`."""

    do: Literal["turn"] = "turn"
    pot: Ref
    at: At
    to: Annotated[float, Q("", 0.0, 1.0)]
    over: Annotated[float, Q("s", 0.0, 1e4)] = 0.2


class SweepInput(Document):
    """The input goes slowly to `volts` within `over`."""

    do: Literal["sweep"] = "sweep"
    at: At
    volts: Annotated[float, Q("V", -400.0, 400.0)]
    over: Annotated[float, Q("s", 1e-6, 1e5)] = 1.0
    source: Ref | None = None


class LiftPart(Document):
    """A part is taken out."""

    do: Literal["lift"] = "lift"
    part: Ref
    at: At


class RefitPart(Document):
    """A part that was taken out is put back."""

    do: Literal["refit"] = "refit"
    part: Ref
    at: At


class ProbeNode(Document):
    """A meter lies between two nodes from `at` to `until` and loads them."""

    do: Literal["probe"] = "probe"
    red: Ref
    black: Ref = "0"
    at: At
    until: At
    resistance: Annotated[float, Q("Ω", 1e3, 1e12)] = 1e7

    @field_validator("until")
    @classmethod
    def _possible(cls, until: float, info: ValidationInfo) -> float:
        if until <= info.data.get("at", 0.0):
            raise ValueError("The meter is taken off before it is put on. Make this later.")
        return until


Event = Annotated[
    SetPin | SetSupply | PressButton | TurnPot | SweepInput | LiftPart | RefitPart | ProbeNode,
    Field(discriminator="do"),
]
Events = Annotated[tuple[Event, ...], Field(max_length=200)]


class Script(Document):
    """Events up to `stop` [s]; the signal starts low, the supply at its typical voltage."""

    title: Annotated[str, StringConstraints(min_length=1, max_length=80)] = "Pin on, then off"
    stop: Annotated[float, Q("s", 1e-6, 1e4)] = 0.13
    start_volts: Annotated[float, Q("V", 0.0, 400.0)] | None = None
    events: Events = ()
