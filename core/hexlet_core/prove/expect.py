"""Expected readings: each probe in each scene, with the band that tolerances and the meter leave.

Every reading is taken from the design's circuit with the meter in it: a voltmeter loads the nodes with its
input resistance. The band spans the corners of part spread, resistor tolerance and signal level at the supply
actually read, widened by the meter's accuracy and resolution.
"""

from __future__ import annotations

from itertools import product
from typing import Literal

import numpy as np

from ..cards.derive import Spread
from ..circuit.devices import Resistor
from ..circuit.measure import signal
from ..circuit.netlist import GROUND, Netlist
from ..circuit.solve import operating_point, transient
from ..circuit.waves import Waves
from ..design.study import Study
from ..errors import SettleError
from ..fields import Document
from ..quantity import show
from ..stages.contract import Corner, Probe, Scene

AC_SETTLES, AC_PERIODS = 0.4, 2  # an alternating circuit runs this long [s], then is read over some periods
EXTREMES: tuple[Spread, ...] = ("min", "max")
CURRENT_RESOLUTION = 1e-4  # [A]
LOAD_SHARE = 0.03  # a load's own resistance, as measured


class Expected(Document):
    """One rung: where to probe, in which scene, and the band it should land in."""

    id: str
    block: str
    probe: Probe
    scene: str
    words: str
    unit: Literal["V", "A"]
    nominal: float
    low: float
    high: float
    low_text: str
    high_text: str


class _Bench:
    """The design's circuit at one corner and scene after the other, each solved once."""

    def __init__(self, here: Study) -> None:
        self.here = here
        self.runs: dict[tuple[Corner, Scene, str], Waves] = {}

    def read(self, corner: Corner, scene: Scene, name: str) -> float:
        """What an ideal meter's needle would come to rest at."""
        ac = self.here.design.supply.ac
        if ac or scene.look is not None:
            return self._in_time(corner, scene, name, averaged=ac)
        circuit = self.here.acted(corner, scene.acts)
        if name.startswith("i("):
            device, _, terminal = name[2:-1].rpartition(".")
            return operating_point(circuit).current(device, terminal)
        red, black = _leads(name)
        point = operating_point(self._metered(circuit, red, black))
        return point[red] - (0.0 if black == GROUND else point[black])

    def _metered(self, circuit: Netlist, red: str, black: str) -> Netlist:
        ohms = self.here.design.meter.resistance
        return Netlist.of([*circuit.devices, Resistor(name="METER", a=red, b=black, resistance=ohms)])

    def _in_time(self, corner: Corner, scene: Scene, name: str, *, averaged: bool) -> float:
        """Read off a run: at the scene's moment, or where the supply alternates the mean of volts and rms of
        amps.
        """
        current = name.startswith("i(")
        # On alternating current the meter's own load is left out, under 1 % here.
        meter = "" if current or averaged else name
        key = (corner, scene, meter)
        if key not in self.runs:
            circuit = self.here.acted(corner, scene.acts)
            if meter:
                circuit = self._metered(circuit, *_leads(name))
            stop = AC_SETTLES if averaged else scene.look or 0.0
            self.runs[key] = transient(circuit, stop, from_rest=scene.cold)
        waves = self.runs[key]
        values = signal(waves, name)
        if not averaged:
            return _mean(waves.time, values, scene.mean) if scene.mean else float(values[-1])
        last = waves.time >= AC_SETTLES - AC_PERIODS / self.here.design.supply.frequency
        t, v = waves.time[last], values[last]
        if current:
            return float(np.sqrt(np.trapezoid(v**2, t) / (t[-1] - t[0])))
        return float(np.trapezoid(v, t) / (t[-1] - t[0]))


def _mean(time: np.ndarray, values: np.ndarray, span: float) -> float:
    """The mean of the last `span` [s] of a curve."""
    last = time >= time[-1] - span
    return float(np.trapezoid(values[last], time[last]) / (time[-1] - time[last][0]))


def _leads(name: str) -> tuple[str, str]:
    """The nodes of a voltage: "b2.gate" against ground, or the two of "v(a,b)"."""
    if name.startswith("v("):
        red, _, black = name[2:-1].partition(",")
        return red, black
    return name, GROUND


def expectations(here: Study, supply: float | None = None) -> tuple[Expected, ...]:
    """Every reading worth taking, in order.

    Args:
        supply: what the supply really reads [V]; the typical value when left out.
    A scene in which the circuit does not come to rest has no reading and is left out; an unfinished design
    has none.
    """
    if here.open:
        return ()
    bench, found = _Bench(here), []
    for block, probe in here.probes:
        for id in probe.scenes:
            scene = here.scene(block, id)
            if scene is not None:
                try:
                    found.append(_expected(here, bench, block, probe, scene, supply))
                except SettleError:
                    continue  # a state that does not hold has no reading
    return tuple(found)


def _corners(here: Study, volts: float) -> list[Corner]:
    tol = here.design.tolerance
    found = [Corner(supply=volts)] + [
        Corner(supply=volts, spread=spread, resistors=r, signal=level)
        for spread, r, level in product(EXTREMES, (-tol, tol), EXTREMES)
    ]
    return found[:1] + found[1::4] if here.design.supply.ac else found


def _expected(
    here: Study, bench: _Bench, block: str, probe: Probe, scene: Scene, supply: float | None
) -> Expected:
    volts = supply if supply is not None else here.design.supply.typical
    name = here.signal(block, probe.signal)
    values = [bench.read(corner, scene, name) for corner in _corners(here, volts)]
    unit: Literal["V", "A"] = "A" if probe.current else "V"
    meter = here.design.meter
    step = CURRENT_RESOLUTION if unit == "A" else meter.resolution
    share = meter.accuracy + (LOAD_SHARE if unit == "A" else 0.0)
    low, high = min(values), max(values)
    low -= abs(low) * share + step
    high += abs(high) * share + step
    low = max(low, 0.0) if 0 <= values[0] < 10 * step else low
    return Expected(
        id=f"{block}.{probe.id}.{scene.id}",
        block=block,
        probe=probe,
        scene=scene.id,
        words=scene.words,
        unit=unit,
        nominal=values[0],
        low=low,
        high=high,
        low_text=show(low, unit),
        high_text=show(high, unit),
    )


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
