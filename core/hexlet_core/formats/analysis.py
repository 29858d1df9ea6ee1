"""What may be asked of a netlist: one document a kind of analysis, each able to run itself.

Every answer is a table (columns of equal length) with what else was found beside it. CornersOf, random draws,
sweeps, searches and maps repeat another analysis, `of`, and record its measurements; what failed is told with
its variant, never left out without a word.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal, Protocol

import numpy as np
from pydantic import Field, model_validator

from ..circuit import vary
from ..circuit.devices import Lamp
from ..circuit.measure import Measurement, SignalName, measured, signal
from ..circuit.netlist import Netlist
from ..circuit.solve import EVENT_RTOL, RTOL, TooLong, operating_point, stretches, transient
from ..circuit.states import all_states
from ..circuit.waves import Solution, Waves
from ..errors import DocumentError, Problem, SettleError
from ..fields import Document, Q
from ..roots import root

Number = Annotated[float, Q("", -1e12, 1e12)]
Path = Annotated[str, Field(min_length=3, max_length=80)]
Measures = Annotated[list[Measurement], Field(max_length=50)]
Columns = Annotated[list[SignalName], Field(max_length=50)]
HAIR = (
    1e-6  # parts that differ by so little are alike: an outcome that such a difference turns round is a race
)
APART = 0.1  # share of its swing by which a node ends elsewhere in that case


class Subject(vary.Variable, Protocol):
    """What is analysed: a circuit whose numbers can be changed, and the netlist it is as it stands."""

    @property
    def whole(self) -> Netlist: ...


class Answer(Document):
    """Columns of a table, and `notes` beside it."""

    columns: dict[str, list[float | None]]
    notes: dict[str, Any] = {}


def _column(values: Any) -> list[float | None]:
    return [float(v) if math.isfinite(v) else None for v in values]


def named(netlist: Netlist) -> list[str]:
    """The columns of an answer: unknowns that are not inside a device, and what else a reader looks for."""
    unknowns = [n for n in netlist.packed.unknowns if "#" not in n]
    return unknowns + [f"i({d.name})" for d in netlist.devices if isinstance(d, Lamp)]


def _names_apart(measures: Sequence[Measurement], columns: Sequence[str]) -> None:
    twice = [name for name, count in Counter([*(m.name for m in measures), *columns]).items() if count > 1]
    if twice:
        raise ValueError(f"Two things asked for are called {twice[0]}. Give each its own name.")


def _free(measures: Sequence[Measurement], columns: Sequence[str], netlist: Netlist) -> list[str]:
    """The answer's columns, where no measurement and no extra column takes the name of another.

    Raises:
        DocumentError: one does.
    """
    taken = set(named(netlist))
    for k, measure in enumerate(measures):
        if measure.name in taken or measure.name == "time":
            raise DocumentError(
                Problem(
                    f"analysis.measures[{k}].name",
                    "A node or a current is called that already. Give it another name.",
                    got=measure.name,
                )
            )
    return [*named(netlist), *(c for c in columns if c not in taken)]


def _notes(waves: Waves) -> dict[str, Any]:
    return {
        "passed": [s.model_dump() for s in waves.stresses()],
        "loose": list(waves.netlist.loose()),
        "races": [r.model_dump() for r in waves.races()],
    }


def _shown(values: Mapping[str, Any]) -> dict[str, list[float | None]]:
    """The columns of a study, without what is inside devices."""
    return {name: _column(v) for name, v in values.items() if "#" not in name}


def _failures(failed: Sequence[vary.Failure]) -> list[dict[str, Any]]:
    return [f.model_dump() for f in failed]


class OperatingPoint(Document):
    """The settled state; near `guess` where there are several, or `all_states` of a small latch."""

    kind: Literal["operating_point"] = "operating_point"
    guess: dict[str, Number] = {}
    all_states: bool = False
    measures: Measures = []
    columns: Columns = []

    @model_validator(mode="after")
    def _possible(self) -> OperatingPoint:
        _names_apart(self.measures, self.columns)
        for measure in self.measures:
            if measure.what != "level":
                raise ValueError(
                    f"A settled state has no {measure.what}: only the level of a signal. Ask for a transient."
                )
        return self

    def point(self, netlist: Netlist, near: Solution | None = None) -> Solution:
        """The state, near another one's voltages and discrete states if there is one."""
        if near is None:
            return operating_point(netlist, guess=self.guess)
        nodes = netlist.packed.unknowns[: netlist.packed.nodes]
        return operating_point(
            netlist, guess={n: near[n] for n in nodes if n in near.values}, states=near.states()
        )

    def numbers(self, netlist: Netlist) -> dict[str, float]:
        """Every unknown, and each measurement's signal."""
        return self.read(self.point(netlist))

    def read(self, point: Solution) -> dict[str, float]:
        """The same of a state that is known."""
        asked = {m.name: m.signal for m in self.measures} | {c: c for c in self.columns}
        return point.values | {name: float(signal(point.waves, what)[0]) for name, what in asked.items()}

    def run(self, subject: Subject) -> Answer:
        netlist = subject.whole
        names = _free(self.measures, self.columns, netlist)
        if self.all_states:
            found = all_states(netlist)
            columns = {
                n: _column(s.point[n] for s in found) for n in named(netlist) if n in netlist.packed.unknowns
            }
            return Answer(
                columns=columns | {"growth": _column(s.growth for s in found)},
                notes={"stable": [s.stable for s in found]},
            )
        point = self.point(netlist)
        columns = {n: _column(signal(point.waves, n)) for n in names}
        extra = {m.name: _column(signal(point.waves, m.signal)) for m in self.measures}
        return Answer(columns=columns | extra, notes=_notes(point.waves))


class Transient(Document):
    """From time 0 to `stop` [s].

    It begins settled, with what happens at 0 done already, or before it does when `settled_before`; from
    discharged parts when `from_rest`; or settled around what `starts` says of single capacitors [V] and
    inductors [A].
    """

    kind: Literal["transient"] = "transient"
    stop: Annotated[float, Q("s", 1e-9, 1e6)]
    longest_step: Annotated[float, Q("s", 1e-12, 1e6)] | None = None
    tolerance: Annotated[float, Q("", 1e-7, 0.1)] = RTOL
    event_tolerance: Annotated[float, Q("", 1e-7, 0.1)] = EVENT_RTOL
    from_rest: bool = False
    settled_before: bool = False
    starts: dict[str, Number] = {}
    guess: dict[str, Number] = {}
    measures: Measures = []
    columns: Columns = []

    @model_validator(mode="after")
    def _possible(self) -> Transient:
        _names_apart(self.measures, self.columns)
        if self.from_rest and (self.starts or self.settled_before):
            raise ValueError(
                "It begins discharged or settled, not both. Leave out from_rest, or starts and "
                "settled_before."
            )
        return self

    def how(self) -> dict[str, Any]:
        """As arguments of `transient`."""
        return {
            "h_max": self.longest_step,
            "rtol": self.tolerance,
            "event_rtol": self.event_tolerance,
            "from_rest": self.from_rest,
            "guess": self.guess,
            "starts": self.starts,
        }

    def waves(self, netlist: Netlist) -> Waves:
        return transient(netlist, self.stop, **self.how())

    def numbers(self, netlist: Netlist) -> dict[str, float]:
        return measured(lambda: stretches(netlist, self.stop, **self.how()), self.measures, self.stop)

    def run(self, subject: Subject) -> Answer:
        netlist = subject.whole
        names = _free(self.measures, self.columns, netlist)
        try:
            waves = self.waves(netlist)
        except TooLong:
            if not self.measures:
                raise
            # Too long to keep: what was asked is measured as it is computed.
            return Answer(
                columns={},
                notes={
                    "measured": {n: _column([v])[0] for n, v in self.numbers(netlist).items()},
                    "kept": False,
                },
            )
        work = {"steps": waves.counts.steps, "newton": waves.counts.newton, "events": waves.counts.events}
        read = measured(lambda: iter((waves,)), self.measures, float(waves.time[-1]))
        found = {name: _column([value])[0] for name, value in read.items()}
        columns = {"time": waves.time.tolist()} | {n: signal(waves, n).tolist() for n in names}
        return Answer(
            columns=columns,
            notes={"measured": found, **_notes(waves), "parted": self._parted(waves), "work": work},
        )

    def _parted(self, waves: Waves) -> list[dict[str, Any]]:
        """The states that were possible where the parts alone decided: of a run that ends or begins there, or
        of one that a hair's difference sends elsewhere.
        """
        nodes = waves.netlist.packed.unknowns[: waves.netlist.packed.nodes]
        nodes = tuple(n for n in nodes if "#" not in n)
        if waves.torn or waves.escape == 0.0:
            at = float(waves.time[-1]) if waves.torn else 0.0
            return [
                {"time": at, "state": {n: s.point[n] for n in nodes}}
                for s in all_states(waves.netlist, time=at)
                if s.stable
            ]
        if waves.escape is None:
            return []
        ends = [{n: float(waves[n][-1]) for n in nodes}]
        for sign in (1.0, -1.0):
            leaning = {
                d.name: {d.main: getattr(d, d.main) * (1.0 + sign * HAIR * (-1.0) ** k)}
                for k, d in enumerate(waves.netlist.devices)
                if d.main
            }
            try:
                other = self.waves(waves.netlist.varied(leaning))
            except SettleError:
                continue
            ends.append({n: float(other[n][-1]) for n in nodes})
        swing = {n: float(np.ptp(waves[n])) for n in nodes}
        kept: list[dict[str, float]] = []
        for end in ends:
            if all(any(abs(end[n] - o[n]) > APART * swing[n] for n in nodes if swing[n] > 0) for o in kept):
                kept.append(end)
        return [{"time": waves.escape, "state": end} for end in kept] if len(kept) > 1 else []


Single = Annotated[OperatingPoint | Transient, Field(discriminator="kind")]


class Sweep(Document):
    """`of` while one number, like "V1.value", "S1.presses[0].hold" or "events[0].ramp", takes each of
    `values` in turn.

    `carry` begins each operating point from the one before, so that a latch stays on its side.
    """

    kind: Literal["sweep"] = "sweep"
    number: Path
    values: Annotated[list[Number], Field(min_length=1, max_length=2000)]
    of: Single = OperatingPoint()
    carry: bool = False

    @model_validator(mode="after")
    def _possible(self) -> Sweep:
        if self.carry and not isinstance(self.of, OperatingPoint):
            raise ValueError(
                "Only operating points carry their state along. For a transient, let a source move slowly."
            )
        return self

    def run(self, subject: Subject) -> Answer:
        if self.carry and isinstance(self.of, OperatingPoint):
            return self._carried(subject, self.of)
        found = vary.sweep(subject, self.number, self.values, self.of.numbers)
        columns: dict[str, list[float | None]] = {self.number: list(self.values)}
        return Answer(columns=columns | _shown(found.values), notes={"failed": _failures(found.failed)})

    def _carried(self, subject: Subject, of: OperatingPoint) -> Answer:
        device, field = vary.target(subject, self.number, self.values)
        near: Solution | None = None

        def step(netlist: Netlist) -> dict[str, float]:
            nonlocal near
            near = of.point(netlist, near)
            return of.read(near)

        found = vary.table(subject, [{device: {field: v}} for v in self.values], step, workers=1)
        columns: dict[str, list[float | None]] = {self.number: list(self.values)}
        return Answer(columns=columns | _shown(found.values), notes={"failed": _failures(found.failed)})


class Find(Document):
    """The value of one number, between `low` and `high`, at which a measurement of `of` passes `level`."""

    kind: Literal["find"] = "find"
    number: Path
    low: Number
    high: Number
    of: Single
    measure: Annotated[str, Field(min_length=1, max_length=80)]
    level: Number
    precision: Annotated[float, Q("", 1e-12, 0.1)] = 1e-6

    @model_validator(mode="after")
    def _possible(self) -> Find:
        if self.low >= self.high:
            raise ValueError("The interval runs backwards. Make low smaller than high.")
        return self

    def run(self, subject: Subject) -> Answer:
        device, field = vary.target(subject, self.number, (self.low, self.high))
        tried: dict[float, float] = {}

        def off(value: float) -> float:
            found = self.of.numbers(subject.varied({device: {field: value}}))
            if self.measure not in found:
                raise DocumentError(
                    Problem(
                        "analysis.measure",
                        "The analysis does not measure anything of that name.",
                        got=self.measure,
                    )
                )
            tried[value] = found[self.measure]
            if not math.isfinite(tried[value]):
                raise DocumentError(
                    Problem(
                        "analysis.measure",
                        f"At {self.number} = {value:g} it is not there to be measured. Narrow low and high.",
                        got=self.measure,
                    )
                )
            return tried[value] - self.level

        try:
            at = root(off, self.low, self.high, share=self.precision)
        except ValueError:
            low, high = tried[self.low], tried[self.high]
            raise DocumentError(
                Problem(
                    "analysis.level",
                    f"It is {low:g} at one end and {high:g} at the other: the level is not passed between.",
                    got=f"{self.level:g}",
                )
            ) from None
        return Answer(
            columns={self.number: [at], self.measure: [off(at) + self.level]}, notes={"tried": len(tried)}
        )


class CornersOf(Document):
    """`of` at all combinations of the parts' extremes, or of those that matter most."""

    kind: Literal["corners"] = "corners"
    of: Single
    most: Annotated[int, Field(ge=2, le=4096)] = vary.MOST_CORNERS

    def run(self, subject: Subject) -> Answer:
        found = vary.corners(subject, self.of.numbers, most=self.most)
        extremes = {name: found.extremes.get(name, (math.nan, math.nan)) for name in found.shown}
        of = {name: f"of {count} of {found.count}" for name, count in found.shown.items() if "#" not in name}
        missing = {name: list(where) for name, where in found.missing.items() if where and "#" not in name}
        notes = {
            "combined": found.combined,
            "left_out": found.left_out,
            "worst": found.worst,
            "extremes": of,
            "missing": missing,
            "failed": _failures(found.failed),
        }
        return Answer(columns=_shown(extremes), notes=notes)


class MonteCarlo(Document):
    """`of` for `count` random variants of the parts; `wishes` are the intervals wanted, for the yield."""

    kind: Literal["monte_carlo"] = "monte_carlo"
    of: Single
    count: Annotated[int, Field(ge=2, le=20_000)] = 200
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    distribution: vary.Distribution = "uniform"
    wishes: dict[str, tuple[Number, Number]] = {}

    @model_validator(mode="after")
    def _possible(self) -> MonteCarlo:
        for name, (low, high) in self.wishes.items():
            if not low <= high:
                raise ValueError(
                    f"The wish for {name} runs from {low:g} to {high:g}. The lower number comes first."
                )
        return self

    def run(self, subject: Subject) -> Answer:
        found = vary.monte_carlo(subject, self.of.numbers, self.count, self.seed, self.distribution)
        for name in self.wishes:
            if name not in found.values:
                raise DocumentError(
                    Problem(
                        f"analysis.wishes.{name}",
                        "The analysis does not measure anything of that name.",
                        got=name,
                    )
                )
        described = {}
        for name, values in found.values.items():
            if "#" not in name:
                leans = vary.depends(subject, found.missing(name), found.count, self.seed, self.distribution)
                described[name] = (
                    vary.statistics(name, values, self.wishes.get(name))
                    .model_copy(update={"missing_depends_on": leans})
                    .model_dump()
                )
        shares, failed = vary.sensitivities(subject, self.of.numbers)
        notes: dict[str, Any] = {
            "statistics": described,
            "comes_from": shares,
            "failed": _failures((*found.failed, *failed)),
        }
        if self.wishes:
            notes["met_together"] = vary.joint(found.values, self.wishes)
        return Answer(columns=_shown(found.values), notes=notes)


class Map(Document):
    """`of` over two numbers of the circuit: rows of the table run through `down` within each of `across`."""

    kind: Literal["map"] = "map"
    across: Path
    columns: Annotated[list[Number], Field(min_length=1, max_length=200)]
    down: Path
    rows: Annotated[list[Number], Field(min_length=1, max_length=200)]
    of: Single

    def run(self, subject: Subject) -> Answer:
        found = vary.plane(subject, self.across, self.columns, self.down, self.rows, self.of.numbers)
        x, y = np.meshgrid(self.columns, self.rows)
        axes = {self.across: _column(x.ravel()), self.down: _column(y.ravel())}
        return Answer(
            columns=axes | _shown({n: v.ravel() for n, v in found.values.items()}),
            notes={"failed": _failures(found.failed)},
        )


AnyAnalysis = Annotated[
    OperatingPoint | Transient | Sweep | Find | CornersOf | MonteCarlo | Map, Field(discriminator="kind")
]
