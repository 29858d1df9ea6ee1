"""Expected readings: each probe in each state, with the band that tolerances and the meter leave.

Every reading is an operating point of the design's circuit with the meter in it: a voltmeter loads the
node with its input resistance. The band spans the corners of part spread, resistor tolerance and signal
level at the supply actually read, widened by the meter's accuracy and resolution.
"""

from __future__ import annotations

from itertools import product
from typing import Literal

import numpy as np

from ..cards import Drawer
from ..cards.derive import Spread
from ..circuit.devices import Resistor
from ..circuit.netlist import GROUND, Netlist
from ..circuit.solve import operating_point, transient
from ..circuit.waves import Waves
from ..design.circuit import netlist, views
from ..design.document import Design
from ..errors import SettleError
from ..fields import Document
from ..quantity import show
from ..stages.contract import Corner, Probe, Schedule, State

STATE_WORDS: dict[State, str] = {"low": "low", "high": "high", "floating": "unplugged"}
AC_SETTLES, AC_PERIODS = 0.4, 2  # an alternating circuit runs this long [s], then is read over some periods
EXTREMES: tuple[Spread, ...] = ("min", "max")
CURRENT_RESOLUTION = 1e-4  # [A]


class Expected(Document):
    """One rung: where to probe, in which state, and the band it should land in."""

    id: str
    probe: Probe
    state: State
    words: str
    unit: Literal["V", "A"]
    nominal: float
    low: float
    high: float
    low_text: str
    high_text: str


class _Bench:
    """The design's circuit at one corner and state after the other, each solved once."""

    def __init__(self, design: Design, drawer: Drawer) -> None:
        self.design, self.drawer = design, drawer
        self.runs: dict[tuple[Corner, State], Waves] = {}

    def read(self, corner: Corner, state: State, probe: Probe) -> float:
        """What an ideal meter's needle would come to rest at."""
        if self.design.supply.ac:
            return self._averaged(corner, state, probe)
        circuit = netlist(self.design, self.drawer, corner, Schedule(signal=(state,)))
        if probe.quantity == "current" and probe.device and probe.terminal:
            return operating_point(circuit).current(probe.device, probe.terminal)
        assert probe.node is not None
        meter = Resistor(name="METER", a=probe.node, b=GROUND, resistance=self.design.meter.resistance)
        return operating_point(Netlist.of([*circuit.devices, meter]))[probe.node]

    def _averaged(self, corner: Corner, state: State, probe: Probe) -> float:
        """On alternating current: the mean of a voltage, the rms of a current. The meter's own load is left
        out, under 1 % here.
        """
        if (corner, state) not in self.runs:
            self.runs[corner, state] = transient(
                netlist(self.design, self.drawer, corner, Schedule(signal=(state,))), AC_SETTLES
            )
        waves = self.runs[corner, state]
        last = waves.time >= AC_SETTLES - AC_PERIODS / self.design.supply.frequency
        t = waves.time[last]
        if probe.node is not None:
            return float(np.trapezoid(waves[probe.node][last], t) / (t[-1] - t[0]))
        assert probe.device and probe.terminal
        return float(
            np.sqrt(np.trapezoid(waves.current(probe.device, probe.terminal)[last] ** 2, t) / (t[-1] - t[0]))
        )


def expectations(
    design: Design, drawer: Drawer | None = None, supply: float | None = None
) -> tuple[Expected, ...]:
    """Every reading worth taking, in order.

    Args:
        supply: what the supply really reads [V]; the typical value when left out.
    A state in which the circuit does not come to rest has no reading and is left out.
    """
    drawer = drawer or Drawer()
    volts = supply if supply is not None else design.supply.typical
    probes = [p for s, v in zip(design.stages, views(design, drawer), strict=True) for p in s.probes(v)]
    tol, bench = design.tolerance, _Bench(design, drawer)
    offer = views(design, drawer)[0].offer
    noun = offer.name if offer else "signal"
    found = []
    for probe, state in [(p, state) for p in probes for state in p.states]:
        corners = [Corner(supply=volts)] + [
            Corner(supply=volts, spread=spread, resistors=r, signal=signal)
            for spread, r, signal in product(EXTREMES, (-tol, tol), EXTREMES)
        ]  # type: ignore[arg-type]
        if design.supply.ac:
            corners = corners[:1] + corners[1::4]
        try:
            values = [bench.read(c, state, probe) for c in corners]
        except SettleError:
            continue  # a state that does not hold has no reading
        unit: Literal["V", "A"] = "A" if probe.quantity == "current" else "V"
        step = CURRENT_RESOLUTION if unit == "A" else design.meter.resolution
        load_share = 0.03 if unit == "A" else 0.0  # the load's own resistance, as measured
        low, high = min(values), max(values)
        low -= abs(low) * (design.meter.accuracy + load_share) + step
        high += abs(high) * (design.meter.accuracy + load_share) + step
        low = max(low, 0.0) if 0 <= values[0] < 10 * step else low
        found.append(
            Expected(
                id=f"{probe.id}.{state}",
                probe=probe,
                state=state,
                words=f"{noun} {STATE_WORDS[state]}",
                unit=unit,
                nominal=values[0],
                low=low,
                high=high,
                low_text=show(low, unit),
                high_text=show(high, unit),
            )
        )
    return tuple(found)


class Judged(Document):
    """A reading against its band."""

    standing: Literal["inside", "outside"]
    text: str


def judged(expected: Expected, value: float | None, over_range: bool = False) -> Judged:
    """Whether a reading lies in its band, and by how much not. `over_range` is the meter's OL."""
    if over_range or value is None:
        return Judged(standing="outside", text="over range")
    slack = 1e-9 * max(abs(expected.low), abs(expected.high), 1e-6)
    if value > expected.high + slack:
        return Judged(standing="outside", text=f"{show(value - expected.high, expected.unit)} over")
    if value < expected.low - slack:
        return Judged(standing="outside", text=f"{show(expected.low - value, expected.unit)} under")
    return Judged(standing="inside", text="inside")
