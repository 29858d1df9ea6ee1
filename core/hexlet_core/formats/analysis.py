"""What may be asked of a netlist: one document a kind of analysis, each able to run itself.

Every answer is a table (columns of equal length) with what else was found beside it. Corners, random draws,
sweeps and maps repeat another analysis, `of`, and record its measurements.
"""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ..circuit import vary
from ..circuit.measure import Measure, signal
from ..circuit.netlist import Netlist
from ..circuit.solve import EVENT_RTOL, RTOL, Waves, operating_point, transient
from ..circuit.states import all_states
from ..fields import Document, Q

Number = Annotated[float, Q("", -1e12, 1e12)]
Path = Annotated[str, Field(min_length=3, max_length=80)]
Measures = Annotated[list[Measure], Field(max_length=50)]


class Answer(Document):
    """Columns of a table, and `notes` beside it."""

    columns: dict[str, list[float | None]]
    notes: dict[str, Any] = {}


def _column(values: Any) -> list[float | None]:
    return [float(v) if math.isfinite(v) else None for v in values]


def _named(waves: Waves) -> list[str]:
    return [n for n in waves.netlist.packed.unknowns if "#" not in n]


class OperatingPoint(Document):
    """The settled state; near `guess` where there are several, or `all_states` of a small latch."""

    kind: Literal["operating_point"] = "operating_point"
    guess: dict[str, Number] = {}
    all_states: bool = False
    measures: Measures = []

    def numbers(self, netlist: Netlist) -> dict[str, float]:
        """Every unknown, and each measurement's signal."""
        point = operating_point(netlist, guess=self.guess)
        return point.values | {m.name: float(signal(point.waves, m.signal)[0]) for m in self.measures}

    def run(self, netlist: Netlist) -> Answer:
        if self.all_states:
            found = all_states(netlist)
            names = _named(found[0].point.waves) if found else []
            columns = {n: _column(s.point[n] for s in found) for n in names}
            return Answer(columns=columns | {"growth": _column(s.growth for s in found)}, notes={"stable": [s.stable for s in found]})
        point = operating_point(netlist, guess=self.guess)
        names = _named(point.waves)
        extra = {m.name: float(signal(point.waves, m.signal)[0]) for m in self.measures}
        notes = {"passed": [s.model_dump() for s in point.waves.stresses()], "loose": list(netlist.loose())}
        return Answer(columns={n: [point[n]] for n in names} | {n: _column([v]) for n, v in extra.items()}, notes=notes)


class Transient(Document):
    """From time 0 to `stop` [s]; from discharged parts when `from_rest`."""

    kind: Literal["transient"] = "transient"
    stop: Annotated[float, Q("s", 1e-9, 1e6)]
    longest_step: Annotated[float, Q("s", 1e-12, 1e6)] | None = None
    tolerance: Annotated[float, Q("", 1e-7, 0.1)] = RTOL
    event_tolerance: Annotated[float, Q("", 1e-7, 0.1)] = EVENT_RTOL
    from_rest: bool = False
    guess: dict[str, Number] = {}
    measures: Measures = []

    def waves(self, netlist: Netlist) -> Waves:
        return transient(
            netlist, self.stop, h_max=self.longest_step, rtol=self.tolerance, event_rtol=self.event_tolerance, from_rest=self.from_rest,
            guess=self.guess,
        )  # fmt: skip

    def numbers(self, netlist: Netlist) -> dict[str, float]:
        waves = self.waves(netlist)
        return {m.name: m.of(waves) for m in self.measures}

    def run(self, netlist: Netlist) -> Answer:
        waves = self.waves(netlist)
        names = _named(waves)
        notes = {
            "measured": {m.name: _column([m.of(waves)])[0] for m in self.measures},
            "passed": [s.model_dump() for s in waves.stresses()],
            "loose": list(netlist.loose()),
            "work": {"steps": waves.counts.steps, "newton": waves.counts.newton, "events": waves.counts.events},
        }
        return Answer(columns={"time": waves.time.tolist()} | {n: waves[n].tolist() for n in names}, notes=notes)


Single = Annotated[OperatingPoint | Transient, Field(discriminator="kind")]


class Sweep(Document):
    """`of` while one number, like "V1.value", takes each of `values` in turn."""

    kind: Literal["sweep"] = "sweep"
    number: Path
    values: Annotated[list[Number], Field(min_length=1, max_length=2000)]
    of: Single = OperatingPoint()

    def run(self, netlist: Netlist) -> Answer:
        found = vary.sweep(netlist, self.number, self.values, self.of.numbers)
        return Answer(columns={self.number: list(self.values)} | {n: _column(v) for n, v in found.items() if "#" not in n})


class Corners(Document):
    """`of` at all combinations of the parts' extremes, or of those that matter most."""

    kind: Literal["corners"] = "corners"
    of: Single
    most: Annotated[int, Field(ge=2, le=4096)] = vary.MOST_CORNERS

    def run(self, netlist: Netlist) -> Answer:
        found = vary.corners(netlist, self.of.numbers, most=self.most)
        columns = {n: _column(v) for n, v in found.extremes.items() if "#" not in n}
        return Answer(columns=columns, notes={"combined": found.combined, "left_out": found.left_out, "worst": found.worst})


class MonteCarlo(Document):
    """`of` for `count` random variants of the parts; `wishes` are the intervals wanted, for the yield."""

    kind: Literal["monte_carlo"] = "monte_carlo"
    of: Single
    count: Annotated[int, Field(ge=2, le=20_000)] = 200
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    distribution: vary.Distribution = "uniform"
    wishes: dict[str, tuple[Number, Number]] = {}

    def run(self, netlist: Netlist) -> Answer:
        found = vary.monte_carlo(netlist, self.of.numbers, self.count, self.seed, self.distribution)
        kept = {n: v for n, v in found.items() if "#" not in n}
        described = {n: vary.statistics(n, v, self.wishes.get(n)).model_dump() for n, v in kept.items()}
        shares = vary.sensitivities(netlist, self.of.numbers)
        return Answer(columns={n: _column(v) for n, v in kept.items()}, notes={"statistics": described, "comes_from": shares})


class Map(Document):
    """`of` over two numbers of the circuit: rows of the table run through `down` within each of `across`."""

    kind: Literal["map"] = "map"
    across: Path
    columns: Annotated[list[Number], Field(min_length=1, max_length=200)]
    down: Path
    rows: Annotated[list[Number], Field(min_length=1, max_length=200)]
    of: Single

    def run(self, netlist: Netlist) -> Answer:
        found = vary.plane(netlist, self.across, self.columns, self.down, self.rows, self.of.numbers)
        x, y = np.meshgrid(self.columns, self.rows)
        axes = {self.across: _column(x.ravel()), self.down: _column(y.ravel())}
        return Answer(columns=axes | {n: _column(v.ravel()) for n, v in found.items() if "#" not in n})


AnyAnalysis = Annotated[OperatingPoint | Transient | Sweep | Corners | MonteCarlo | Map, Field(discriminator="kind")]
