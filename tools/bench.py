"""Speed, as ratios within one run, and the few absolute figures that were asked for. `make bench` prints the table.

The reference for the rehearsal is scipy's Radau on hand-written equations of the same fan relay: states are
the coil's current, the gate's and the drain's voltage; contact events are left out, which favours it.
"""

from __future__ import annotations

import gzip
import statistics
import subprocess
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from hexlet_core.cards import Drawer, catalogue, derive
from hexlet_core.cards.card import DiodeCard, MosfetCard
from hexlet_core.circuit.devices.base import thermal_voltage
from hexlet_core.circuit.solve import transient
from hexlet_core.design.circuit import netlist
from hexlet_core.design.document import Design, Supply
from hexlet_core.design.evaluate import evaluate
from hexlet_core.rehearsal.events import SetPin
from hexlet_core.rehearsal.rehearse import rehearse, waves_of
from hexlet_core.rehearsal.script import Script, schedule
from hexlet_core.stages.contract import Corner
from hexlet_core.stages.freewheel import Freewheel
from hexlet_core.stages.logic_pin import LogicPin
from hexlet_core.stages.nmos_low_side import NmosLowSide
from hexlet_core.stages.relay_coil import RelayCoil
from scipy.integrate import solve_ivp

ROOT = Path(__file__).resolve().parent.parent
DESIGN = Design(name="Fan", supply=Supply(resistance=0.0), stages=(LogicPin(), NmosLowSide(r_pull=6800.0), Freewheel(), RelayCoil()))
SCRIPT = Script(title="on and off", stop=0.13, events=(SetPin(at=0.01, level="high"), SetPin(at=0.092, level="low")))
DRAWER = Drawer()


def clock(function: Callable[[], object], times: int) -> float:
    """Median time of a call [s]."""
    function()
    taken = []
    for _ in range(times):
        begin = time.perf_counter()
        function()
        taken.append(time.perf_counter() - begin)
    return statistics.median(taken)


def hand_written(rtol: float, max_step: float = np.inf) -> tuple[np.ndarray, np.ndarray]:
    """Coil current over time by Radau, restarted at each edge of the pin."""
    mosfet, rectifier = catalogue()["nmos-55v-5a-logic"], catalogue()["diode-1a-100v"]
    assert isinstance(mosfet, MosfetCard) and isinstance(rectifier, DiodeCard)
    q, d = derive.mosfet(mosfet), derive.diode(rectifier)
    v_t = thermal_voltage(25.0)
    n, s = q["slope"], 2 * q["slope"] * v_t
    r_coil, l_coil, supply = 96.0, 96.0 * 4.7e-3, 12.6

    def rhs(t: float, y: np.ndarray, pin: float) -> list[float]:
        i, v_g, v_d = y
        a, b = (v_g - q["v_th"]) / s, (v_g - q["v_th"] - n * v_d) / s
        l_f, l_r = np.logaddexp(0, a), np.logaddexp(0, b)
        channel = 2 * n * q["beta"] * v_t**2 * (l_f**2 - l_r**2) / (1 + q["theta"] * s * l_f)
        body = q["i_s"] * np.expm1(min(-v_d / (q["ideality"] * v_t), 60.0))
        wheel = d["i_s"] * np.expm1(min((v_d - supply) / (d["ideality"] * v_t), 60.0))
        through = (i + (supply - v_d) / (500 * r_coil)) / (1 + 1 / 500)
        c_gd = q["c_gd_low"] + 0.5 * (q["c_gd_high"] - q["c_gd_low"]) * (1 + np.tanh((v_g - v_d) / q["v_gd_scale"]))
        into_gate = (pin - v_g) / 245.0 - v_g / 6800.0
        into_drain = through - channel + body - wheel
        det = np.array([[q["c_gs"] + c_gd, -c_gd], [-c_gd, q["c_ds"] + c_gd + d["capacitance"]]])
        dv = np.linalg.solve(det, [into_gate, into_drain])
        return [(supply - v_d - r_coil * through) / l_coil, float(dv[0]), float(dv[1])]

    y, times, currents = np.array([0.0, 0.0, supply]), [], []
    for begin, end, pin in ((0.0, 0.01, 0.0), (0.01, 0.092, 3.3), (0.092, 0.13, 0.0)):
        found = solve_ivp(rhs, (begin, end), y, method="Radau", rtol=rtol, atol=rtol * 1e-3, args=(pin,), max_step=max_step)
        y = found.y[:, -1]
        times.append(found.t)
        currents.append(found.y[0])
    return np.concatenate(times), np.concatenate(currents)


def main() -> None:
    rows: list[tuple[str, str, str]] = []
    rows.append(("evaluate", f"{clock(lambda: evaluate(DESIGN), 15) * 1e3:.0f} ms", "under 50 ms"))
    rows.append(("rehearse the fan relay", f"{clock(lambda: rehearse(DESIGN), 15) * 1e3:.0f} ms", "under 50 ms"))
    exact_t, exact_i = hand_written(1e-9, 2e-5)

    def error(t: np.ndarray, i: np.ndarray) -> float:
        """Largest error at a solver's own points, as a share of the peak."""
        return float(np.abs(i - np.interp(t, exact_t, exact_i)).max() / exact_i.max())

    circuit = netlist(DESIGN, DRAWER, Corner(supply=12.6), schedule(SCRIPT, DESIGN))
    waves = waves_of(DESIGN, SCRIPT, DRAWER)
    ours = error(waves.time, waves["i(K1)"])
    reference = next((r for r in (1e-3, 3e-4, 1e-4, 3e-5, 1e-5, 1e-6) if error(*hand_written(r)) <= ours), 1e-6)
    fast, slow = clock(lambda: transient(circuit, 0.13), 15), clock(lambda: hand_written(reference), 3)
    rows.append(("transient against Radau at equal error", f"{slow / fast:.0f} times faster", "at least 20"))
    rows.append(("  error of ours, of the peak current", f"{ours:.1e}", f"Radau at rtol {reference:g}"))
    rows.append(
        (
            "  steps, Newton iterations",
            f"{waves.counts.steps}, {waves.counts.newton}",
            f"{waves.counts.newton / (2 * waves.counts.steps):.1f} a solve",
        )
    )
    script = sum(len(gzip.compress(f.read_bytes(), 9)) for f in (ROOT / "web" / "dist" / "assets").glob("*.js"))
    rows.append(("script of the first page, compressed", f"{script / 1000:.0f} kB", "under 300 kB"))
    begin = time.perf_counter()
    subprocess.run(["make", "-s", ".stamps/web", ".stamps/data", ".stamps/kernel"], cwd=ROOT, check=True)
    rows.append(("make run on a warm clone, before serving", f"{time.perf_counter() - begin:.1f} s", "under 10 s"))
    for name, value, wanted in rows:
        print(f"{name:44}{value:>20}   {wanted}")


if __name__ == "__main__":
    main()
