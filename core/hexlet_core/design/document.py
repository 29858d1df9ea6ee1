"""The design document: one circuit for one purpose on one supply, versioned and frozen.

The JSON form is the pydantic model's own; `read_design` upgrades old versions and refuses newer ones.
"""

from __future__ import annotations

from typing import Annotated, Any, Final, Literal

from pydantic import Field, StringConstraints, model_validator

from ..errors import DocumentError, Problem
from ..fields import Document, Q, read_document
from ..stages.contact import above_wall
from ..stages.registry import PATH, AnyStage
from ..stages.wording import Origin

FORMAT: Final = "hexlet-design"
VERSION: Final = 1


class Supply(Document):
    """The supply's real range, not its name."""

    kind: Literal[
        "lead-acid battery", "lithium battery", "bench supply", "adapter", "rail", "transformer"
    ] = "lead-acid battery"
    low: Annotated[float, Q("V", 0.5, 400.0)] = 10.8
    typical: Annotated[float, Q("V", 0.5, 400.0)] = 12.6
    high: Annotated[float, Q("V", 0.5, 400.0)] = 14.4
    resistance: Annotated[float, Q("Ω", 0.0, 1e4)] = 0.05
    frequency: Annotated[float, Q("Hz", 10.0, 1000.0)] = 50.0  # of a transformer, whose volts are rms
    lead: Annotated[float, Q("Ω", 0.0, 1e3)] = (
        0.0  # of a long lead that carries the load's current, both ways
    )
    spare: Annotated[float, Q("A", 1e-4, 1e3)] | None = (
        None  # what a borrowed rail can give besides what it feeds already
    )
    ripple: Annotated[float, Q("V", 0.0, 100.0)] = 0.0  # of a borrowed rail, peak to peak

    @model_validator(mode="after")
    def _in_order(self) -> Supply:
        if not self.low <= self.typical <= self.high:
            raise ValueError(
                f"The supply must rise from low to typical to high: {self.low:g}, {self.typical:g}, "
                f"{self.high:g} V does not."
            )
        return self

    @property
    def walled(self) -> bool:
        """Whether it lies above what may be built here."""
        return above_wall(self.high, self.ac)

    @property
    def ac(self) -> bool:
        return self.kind == "transformer"

    @property
    def word(self) -> str:
        return "battery" if "battery" in self.kind else "supply"


class Ambient(Document):
    """The surroundings' temperature."""

    typical: Annotated[float, Q("°C", -40.0, 85.0)] = 25.0
    high: Annotated[float, Q("°C", -40.0, 85.0)] = 40.0


class Meter(Document):
    """The user's meter: input resistance, accuracy as a share of the reading, and resolution."""

    resistance: Annotated[float, Q("Ω", 1e4, 1e12)] = 10e6
    accuracy: Annotated[float, Q("", 0.0, 0.2)] = 0.005
    resolution: Annotated[float, Q("V", 0.0, 1.0)] = 0.01


class Design(Document):
    """One design. `stages` lie along the signal path; `origins` say where a given came from."""

    format: Literal["hexlet-design"] = FORMAT
    version: Literal[1] = VERSION
    name: Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True)] = "New design"
    supply: Supply = Supply()
    ambient: Ambient = Ambient()
    meter: Meter = Meter()
    tolerance: Annotated[float, Q("", 0.0, 0.2)] = 0.01
    stages: Annotated[tuple[AnyStage, ...], Field(min_length=1, max_length=20)]
    set_aside: dict[str, AnyStage] = Field(default_factory=dict)
    origins: dict[str, Origin] = Field(default_factory=dict)
    rated: dict[str, float] = Field(
        default_factory=dict
    )  # what a given was rated before it was measured, by path
    notes: Annotated[str, StringConstraints(max_length=5000)] = ""

    @model_validator(mode="after")
    def _one_of_each(self) -> Design:
        roles = [s.role for s in self.stages]
        for role in ("signal", "drive", "load"):
            if roles.count(role) != 1:
                raise ValueError(f"A design has exactly one {role} stage. This one has {roles.count(role)}.")
        if [PATH.index(r) for r in roles] != sorted(PATH.index(r) for r in roles):
            raise ValueError("The stages must lie along the signal path: signal, drive, guard, load.")
        return self

    def place(self, role: str) -> int | None:
        """Where the stage of a role lies, or None."""
        return next((k for k, s in enumerate(self.stages) if s.role == role), None)


def read_design(data: Any) -> Design:
    """A design from plain data.

    Raises:
        DocumentError: not a design, from a newer version, or with fields that cannot be used; each named.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise DocumentError(
            Problem("format", f"This is not a design: the file must say “format”: “{FORMAT}”.")
        )
    version = data.get("version")
    if isinstance(version, int) and version > VERSION:
        raise DocumentError(
            Problem(
                "version",
                (
                    f"This design was written by a newer version: it says {version}, this program reads up "
                    f"to {VERSION}. Update the program."
                ),
            )
        )
    return read_document(Design, data)


def changed(design: Design, changes: list[tuple[str, Any]]) -> Design:
    """The design with fields set by dotted path; list places are numbers.

    Raises:
        DocumentError: a path leads nowhere, or a value is refused at its field.
    """
    data = design.model_dump(mode="json")
    for path, value in changes:
        target: Any = data
        *parents, last = path.split(".")
        try:
            for step in parents:
                target = target[int(step)] if isinstance(target, list) else target[step]
            if isinstance(target, list):
                target[int(last)] = value
            else:
                target[last] = value
        except (KeyError, IndexError, ValueError, TypeError):
            raise DocumentError(Problem(path, "There is no such field in this design.")) from None
    return read_design(data)
