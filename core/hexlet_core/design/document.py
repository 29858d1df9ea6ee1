"""The design document: one circuit for one purpose on one supply, versioned and frozen.

A design is blocks and joins: `blocks` holds each stage under an id that it keeps for good, in order of
creation;
`joins` lead from an output port to an input port ("b1.out" to "b2.command"). `rail` feeds every rail input
that
nothing else feeds. The JSON form is the pydantic model's own; `read_design` upgrades old versions
(`upgrades`) and
refuses newer ones.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Annotated, Any, Final, Literal

from pydantic import Field, StringConstraints, ValidationInfo, field_validator, model_validator

from ..errors import DocumentError, Problem
from ..fields import Document, Q, read_document
from ..quantity import Interval
from ..stages.contract import Port, Rail, Role, Stage
from ..stages.contract.ports import row
from ..stages.registry import AnyStage, kind_name
from ..stages.rules.contact import above_wall
from ..stages.say.windows import Series
from ..stages.say.wording import Origin
from .script import Script
from .upgrades import upgraded

FORMAT: Final = "hexlet-design"
VERSION: Final = 2


class Supply(Document):
    """The supply's real range, not its name."""

    kind: Literal[
        "lead-acid battery", "lithium battery", "bench supply", "adapter", "rail", "transformer"
    ] = "lead-acid battery"
    low: Annotated[float, Q("V", 0.5, 400.0)] = 10.8
    typical: Annotated[float, Q("V", 0.5, 400.0)] = 12.6
    high: Annotated[float, Q("V", 0.5, 400.0)] = 14.4
    resistance: Annotated[float, Q("Ω", 0.0, 1e4)] = 0.05
    capacity: Annotated[float, Q("Ah", 1e-3, 1e4)] = 7.0  # of a battery
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

    def as_rail(self) -> Rail:
        """What it gives, as a fact for the blocks it feeds."""
        return Rail(
            volts=Interval(self.low, self.typical, self.high),
            resistance=self.resistance + self.lead,
            ripple=self.ripple,
            word=self.word,
            frequency=self.frequency if self.ac else None,
            spare=self.spare,
        )


class Ambient(Document):
    """The surroundings' temperature."""

    typical: Annotated[float, Q("°C", -40.0, 85.0)] = 25.0
    high: Annotated[float, Q("°C", -40.0, 85.0)] = 40.0

    @model_validator(mode="after")
    def _in_order(self) -> Ambient:
        if self.typical > self.high:
            raise ValueError(
                f"It is hottest at {self.high:g} °C: the usual {self.typical:g} °C lie above that."
            )
        return self


class UserMeter(Document):
    """The user's meter: input resistance, accuracy as a share of the reading, and resolution."""

    resistance: Annotated[float, Q("Ω", 1e4, 1e12)] = 10e6
    accuracy: Annotated[float, Q("", 0.0, 0.2)] = 0.005
    resolution: Annotated[float, Q("V", 0.0, 1.0)] = 0.01


BlockId = Annotated[str, StringConstraints(pattern=r"^b[1-9][0-9]{0,3}$")]
PortName = Annotated[str, StringConstraints(pattern=r"^(s|b[1-9][0-9]{0,3})\.[a-z][a-z0-9_]{0,23}$")]
Join = tuple[PortName, PortName]
KindName = Annotated[str, StringConstraints(max_length=40)]
FieldPath = Annotated[str, StringConstraints(max_length=80)]
Rated = Annotated[float, Q("", -1e15, 1e15)]
SUPPLY = "s"  # the supply's id among the blocks
SUPPLY_PORT = Port("out", "rail", "out", {"plus": "plus", "zero": "zero"})


class Design(Document):
    """One design: `blocks` by id, `joins` from outputs to inputs, and what is known of their
    values by path.
    """

    format: Literal["hexlet-design"] = FORMAT
    version: Literal[2] = VERSION
    name: Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True)] = "New design"
    supply: Supply = Supply()
    ambient: Ambient = Ambient()
    meter: UserMeter = UserMeter()
    tolerance: Annotated[float, Q("", 0.0, 0.2)] = 0.01
    series: Series = "E24"  # what resistors are chosen from; capacitors come in a coarser one
    blocks: Annotated[dict[BlockId, AnyStage], Field(min_length=1, max_length=40)]
    joins: Annotated[tuple[Join, ...], Field(max_length=200)] = ()
    rail: PortName = "s.out"  # feeds every rail input that nothing else feeds
    apart: Annotated[tuple[BlockId, ...], Field(max_length=40)] = ()  # loads whose channels are told apart
    set_aside: Annotated[
        dict[BlockId, Annotated[dict[KindName, AnyStage], Field(max_length=60)]], Field(max_length=80)
    ] = Field(default_factory=dict)  # by block, then by kind
    origins: Annotated[dict[FieldPath, Origin], Field(max_length=600)] = Field(default_factory=dict)
    # What a given was rated before it was measured.
    rated: Annotated[dict[FieldPath, Rated], Field(max_length=600)] = Field(default_factory=dict)
    script: Script | None = None  # what is rehearsed; one of the usual scripts where none is kept
    notes: Annotated[str, StringConstraints(max_length=5000)] = ""

    @field_validator("joins")
    @classmethod
    def _possible(cls, joins: tuple[Join, ...], info: ValidationInfo) -> tuple[Join, ...]:
        blocks = info.data.get("blocks")
        if blocks is not None:
            problem = refused_join(blocks, joins)
            if problem:
                raise ValueError(problem)
        return joins

    @field_validator("set_aside")
    @classmethod
    def _of_its_role(
        cls, set_aside: dict[str, dict[str, Stage]], info: ValidationInfo
    ) -> dict[str, dict[str, Stage]]:
        blocks = info.data.get("blocks") or {}
        for id, kept in set_aside.items():
            for kind, stage in kept.items():
                if kind != kind_name(type(stage)):
                    raise ValueError(f"{id}.{kind} holds a {kind_name(type(stage))}. Name it so.")
                if id in blocks and stage.role != blocks[id].role:
                    raise ValueError(
                        f"{id} is a {blocks[id].role}; a {stage.role} cannot be set aside there."
                    )
        return set_aside

    @field_validator("rail")
    @classmethod
    def _a_rail(cls, rail: str, info: ValidationInfo) -> str:
        blocks = info.data.get("blocks")
        found = port_of(blocks, rail) if blocks is not None else SUPPLY_PORT
        if found is None or found.kind != "rail" or found.way != "out":
            raise ValueError(f"{rail} is no rail's output. Name one, or “s.out” for the supply's own.")
        return rail

    def of_role(self, role: Role) -> list[str]:
        """The blocks of a role, in order of creation."""
        return [id for id, stage in self.blocks.items() if stage.role == role]

    def free_id(self) -> str:
        """An id that no block has or had."""
        known = [int(id[1:]) for id in (*self.blocks, *self.set_aside)]
        return f"b{max(known, default=0) + 1}"

    def kept_id(self, kind: str) -> str:
        """The id of a block that was taken out and was of a kind; else one that no block has or had."""
        out = (b for b, kept in self.set_aside.items() if b not in self.blocks and kind in kept)
        return next(out, self.free_id())


def port_of(blocks: Mapping[str, Stage], name: str) -> Port | None:
    """The port of a name like "b2.command"; None where there is none."""
    block, _, port = name.partition(".")
    if block == SUPPLY:
        return SUPPLY_PORT if port == SUPPLY_PORT.name else None
    if block not in blocks:
        return None
    return next((p for p in blocks[block].ports() if p.name == port), None)


def refused_join(blocks: Mapping[str, Stage], joins: Sequence[Join]) -> str | None:
    """What is wrong with the first join that cannot be; None when all can."""
    taken: dict[str, int] = {}
    for begin, end in joins:
        out, into = port_of(blocks, begin), port_of(blocks, end)
        for name, port, way in ((begin, out, "out"), (end, into, "in")):
            if port is None:
                return f"{name}: there is no such port. Look at the block's kind, or take the join out."
            if port.way != way:
                return f"{name} is an {'output' if port.way == 'out' else 'input'}: turn the join round."
        assert out is not None and into is not None
        if out.kind != into.kind:
            return f"{begin} gives a {out.kind}, {end} takes a {into.kind}: the two do not join."
        taken[end] = taken.get(end, 0) + 1
        if taken[end] > into.count:
            return f"{end} is joined already. Take the other join out first."
    return None


def read_design(data: Any) -> Design:
    """A design from plain data, upgraded from an older version where it is one.

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
                f"This design was written by a newer version: it says {version}, this program reads up to "
                f"{VERSION}. Update the program.",
            )
        )
    return read_document(Design, upgraded(data, VERSION))


BY_PATH = ("origins", "rated")  # tables whose keys are themselves paths


def changed(design: Design, changes: Iterable[tuple[str, Any]]) -> Design:
    """The design with fields set by dotted path. A block, or an entry of a table, set to None is taken out.

    Raises:
        DocumentError: a path leads nowhere, or a value is refused at its field.
    """
    data = design.model_dump(mode="json")
    for path, value in changes:
        target: Any = data
        table, _, key = path.partition(".")
        *parents, last = (table, key) if table in BY_PATH and key else path.split(".")
        try:
            for step in parents:
                target = target[step]
            if value is None and parents in (["blocks"], ["set_aside"], ["origins"], ["rated"]):
                del target[last]
            else:
                target[last] = value
        except (KeyError, TypeError):
            raise DocumentError(Problem(path, "There is no such field in this design.")) from None
    return read_design(data)


def in_line(*stages: Stage, **more: Any) -> Design:
    """A design of blocks in a row, each joined to the ones before it as its ports allow.

    The first is b1. A block in line passes its port's kind on; a rail guard feeds all that come after the
    supply.
    """
    blocks = {f"b{k}": stage for k, stage in enumerate(stages, 1)}
    joins, rail = row({id: s.ports() for id, s in blocks.items()}, f"{SUPPLY}.{SUPPLY_PORT.name}")
    return Design(blocks=blocks, joins=tuple(joins), rail=rail, **more)
