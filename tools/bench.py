"""Speed, as ratios within one run, and the few absolute figures that were asked for. `make bench` prints the
tables and writes docs/benchmarks.md.

The reference solvers are scipy's, on compiled hand-written equations of the same circuits
(tests/core/references.py). The floor is the kernel's own dense LU on a matrix of the same size, factored and
solved as often as the circuit was assembled.
"""

from __future__ import annotations

import gzip
import os
import platform
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numba
import numpy as np
from hexlet_core.cards import Drawer, catalogue, derive
from hexlet_core.circuit import lu, vary
from hexlet_core.circuit.devices import Resistor
from hexlet_core.circuit.devices.base import thermal_voltage
from hexlet_core.circuit.engine import compiled
from hexlet_core.circuit.measure import Measurement, crossings
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.circuit.waves import Waves
from hexlet_core.design.document import Supply, in_line
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.script import Script, SetPin
from hexlet_core.design.study import Study, study
from hexlet_core.rehearsal.rehearse import rehearse
from hexlet_core.rehearsal.script import circuit as circuit_of
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.signals.logic_pin import LogicPin

from tests.core import references
from tests.core.registered import Circuit, latch, one_shot, pwm, registered
from tests.core.test_random import tally
from tools import boards
from tools.served import served

ROOT = Path(__file__).resolve().parent.parent
DESIGN = in_line(
    LogicPin(),
    NmosLowSide(r_pull=6800.0),
    Freewheel(),
    RelayCoil(),
    name="Fan",
    supply=Supply(resistance=0.0),
)
SCRIPT = Script(
    title="on and off", stop=0.13, events=(SetPin(at=0.01, level="high"), SetPin(at=0.092, level="low"))
)
TOLERANCES = (1e-2, 3e-3, 1e-3, 3e-4, 1e-4, 3e-5, 1e-5, 3e-6, 1e-6)
Row = tuple[str, ...]


def clock(function: Callable[[], object], times: int) -> float:
    """Median time of a call [s]."""
    function()
    taken = []
    for _ in range(times):
        begin = time.perf_counter()
        function()
        taken.append(time.perf_counter() - begin)
    return statistics.median(taken)


@numba.njit(error_model="numpy")  # type: ignore[untyped-decorator]
def dense(a: np.ndarray, b: np.ndarray, count: int) -> None:
    n = len(b)
    copy, x, piv = np.empty((n, n)), np.empty(n), np.empty(n, np.int64)
    for _ in range(count):
        copy[:, :] = a
        x[:] = b
        lu.factor(copy, piv, n)
        lu.solve(copy, piv, n, x)


def floor(n: int, count: int) -> float:
    """Time of bare dense solutions of one size [s]."""
    rng = np.random.default_rng(1)
    a, b = rng.normal(size=(n, n)) + n * np.eye(n), rng.normal(size=n)
    return clock(lambda: dense(a, b, count), 5)


def run(circuit: Circuit) -> Waves:
    return transient(circuit.netlist, circuit.stop, from_rest=circuit.from_rest)


def kernel_time(circuit: Circuit, times: int) -> float:
    """Median time inside the compiled integrator alone [s]."""
    spent: list[float] = []
    engine = compiled()

    def timed(*arguments: object) -> object:
        begin = time.perf_counter()
        found = engine.march(*arguments)
        spent[-1] += time.perf_counter() - begin  # a long run marches in stretches
        return found

    for _ in range(times):
        spent.append(0.0)
        transient(
            circuit.netlist, circuit.stop, from_rest=circuit.from_rest, engine=engine._replace(march=timed)
        )
    return statistics.median(spent)


def circuits() -> list[Row]:
    """Size, work and time of every registered circuit, and how the kernel stands to the floor."""
    rows: list[Row] = []
    for name, circuit in registered().items():
        counts = run(circuit).counts
        n = len(circuit.netlist.packed.unknowns)
        taken, alone, least = (
            clock(partial(run, circuit), 7),
            kernel_time(circuit, 7),
            floor(n, counts.newton),
        )
        rows.append(
            (
                name,
                str(n),
                str(len(circuit.netlist.flat)),
                f"{circuit.stop:g}",
                str(counts.steps),
                str(counts.newton),
                f"{counts.newton / counts.solves:.2f}",
                f"{counts.redone / counts.events:.1f}" if counts.events else "",
                f"{taken * 1e3:.2f}",
                f"{alone / counts.newton * 1e6:.2f}",
                f"{alone / least:.2f}",
            )
        )
    return rows


def equal_error(ours: float, error_of: Callable[[float], float]) -> float:
    """The loosest tolerance at which another solver is as accurate."""
    return next((r for r in TOLERANCES if error_of(r) <= ours), TOLERANCES[-1])


def against_radau() -> Row:
    """The fan relay's coil current, error as a share of its peak at the solver's own points."""
    mosfet, rectifier = (
        derive.mosfet(catalogue()["nmos-55v-5a-logic"]),
        derive.diode(catalogue()["diode-1a-100v"]),
    )  # type: ignore[arg-type]
    q = np.array(
        [
            mosfet[k]
            for k in (
                "beta",
                "v_th",
                "theta",
                "slope",
                "c_gs",
                "c_gd_low",
                "c_gd_high",
                "v_gd_scale",
                "c_ds",
                "i_s",
                "ideality",
            )
        ]
    )
    d = np.array([rectifier[k] for k in ("i_s", "ideality", "capacitance")])
    pieces = [
        (a, b, (pin, q, d, thermal_voltage(25.0)))
        for a, b, pin in ((0.0, 0.01, 0.0), (0.01, 0.092, 3.3), (0.092, 0.13, 0.0))
    ]

    def other(rtol: float, **how: float) -> tuple[np.ndarray, np.ndarray]:
        t, y = references.integrated(
            references.fan_rhs, np.array([0.0, 0.0, 12.6]), pieces, "Radau", rtol, **how
        )
        return t, y[0]

    exact_t, exact_i = other(1e-9, max_step=2e-5)

    def error(t: np.ndarray, i: np.ndarray) -> float:
        return float(np.abs(i - np.interp(t, exact_t, exact_i)).max() / exact_i.max())

    circuit = circuit_of(study(DESIGN), SCRIPT)
    waves = transient(circuit, 0.13)
    ours = error(waves.time, waves["i(K1)"])
    rtol = equal_error(ours, lambda r: error(*other(r)))
    factor = clock(lambda: other(rtol), 3) / clock(lambda: transient(circuit, 0.13), 15)
    return (
        "relay against Radau, equal error",
        f"{factor:.0f} times",
        "25",
        f"ours {ours:.0e} of the peak, Radau at rtol {rtol:g} {error(*other(rtol)):.0e}",
    )


def against_stiff(method: str, wanted: str) -> Row:
    """The transistor astable's mean period over six seconds."""
    start = np.array([0.1, 0.0, 0.0, 0.0])

    def period(t: np.ndarray, v: np.ndarray) -> float:
        return float(np.diff(crossings(t, v, 0.3, "rise")[1:]).mean())

    def other(rtol: float, how: str = method) -> tuple[np.ndarray, np.ndarray]:
        t, y = references.integrated(references.astable_rhs, start, [(0.0, 6.0, ())], how, rtol, max_step=0.2)
        return t, y[1]

    exact = period(*other(1e-8, "Radau"))
    net = references.astable()
    waves = transient(net, 6.0, from_rest=True)
    ours = abs(period(waves.time, waves["b1"]) / exact - 1)

    def error(rtol: float) -> float:
        try:
            return abs(period(*other(rtol)) / exact - 1)
        except (ValueError, IndexError):
            return np.inf

    rtol = equal_error(ours, error)
    factor = clock(lambda: other(rtol), 3) / clock(lambda: transient(net, 6.0, from_rest=True), 7)
    return (
        f"astable against {method}, equal error",
        f"{factor:.0f} times",
        wanted,
        f"period: ours {ours:.0e}, {method} at rtol {rtol:g} {error(rtol):.0e}",
    )


def faults(circuit: Netlist) -> list[dict[str, dict[str, float]]]:
    """Two hundred ways a latch may be wrong: every resistor open, shorted or another value, every gain and
    junction off.
    """
    found: list[dict[str, dict[str, float]]] = []
    for device in circuit.devices:
        if isinstance(device, Resistor):
            found += [
                {device.name: {"resistance": v}}
                for v in (1e-3, 1e9, device.resistance * 10, device.resistance / 10)
            ]
            found += [
                {device.name: {"resistance": device.resistance * f}} for f in np.geomspace(0.3, 3.0, 14)
            ]
        elif device.device == "bipolar":
            found += [{device.name: {"beta_f": v}} for v in (0.1, 5.0, 20.0, 500.0)] + [
                {device.name: {"i_s": 1e-20}}
            ]
    return (found * 3)[:200]


def figures() -> list[Row]:
    """The figures asked for, beside what was seen."""
    rows: list[Row] = [against_radau(), against_stiff("BDF", "50"), against_stiff("LSODA", "8")]
    rows.append(
        ("evaluate", f"{clock(lambda: evaluate(Study(DESIGN, Drawer())), 15) * 1e3:.0f} ms", "15 ms", "")
    )
    rows.append(
        (
            "rehearse the fan relay",
            f"{clock(lambda: rehearse(Study(DESIGN, Drawer())), 15) * 1e3:.0f} ms",
            "20 ms",
            "waves, lanes, marks, conducting parts",
        )
    )
    for name, circuit in (("one-shot rehearsal", one_shot()), ("latch rehearsal", latch())):
        rows.append((name, f"{clock(lambda c=circuit: run(c), 9) * 1e3:.1f} ms", "20 ms", ""))  # type: ignore[misc]
    rows.append(
        ("10 s of astable", f"{clock(lambda: run(registered()['astable']), 7) * 1e3:.0f} ms", "60 ms", "")
    )
    long = pwm(2.0)
    counts = run(long).counts
    cycles = counts.events / 2
    rows.append(
        (
            f"{cycles:.0f} PWM cycles",
            f"{clock(lambda: run(long), 1):.2f} s",
            "2.5 s for 2,130",
            f"{counts.steps / cycles:.0f} steps a cycle, 50 wanted",
        )
    )
    spread = Netlist.of(
        [
            d.model_copy(update={"tolerance": 0.05}) if d.name in ("R", "C") else d
            for d in one_shot().netlist.devices
        ]
    )
    width = Measurement(name="t", what="width", signal="state(U)", level=0.5)
    study = lambda n: {"t": width.of(transient(n, 2.0))}  # noqa: E731
    rows.append(
        (
            "1,000 Monte Carlo one-shots",
            f"{clock(lambda: vary.monte_carlo(spread, study, 1000), 1):.2f} s",
            "5 s",
            "both cores, measured each",
        )
    )
    latched = latch().netlist
    wrong = faults(latched)
    taken = clock(lambda: [operating_point(latched.varied(f)) for f in wrong], 3)
    rows.append(
        (
            f"{len(wrong)} DC faults of a latch",
            f"{taken * 1e3:.0f} ms",
            "50 ms",
            "packing and answer included",
        )
    )
    begin = time.perf_counter()
    subprocess.run([sys.executable, "-m", "hexlet_core.warm"], check=True)
    rows.append(
        (
            "kernel ready after a process starts",
            f"{time.perf_counter() - begin:.1f} s",
            "2.5 s",
            "interpreter and imports included",
        )
    )
    kept = run(long)
    size = (kept.unknowns.nbytes + kept.states.nbytes + kept.time.nbytes) / 1e6
    rows.append(
        (
            "memory of the longest waves",
            f"{size:.0f} MB",
            "bounded",
            f"{len(kept.time):,} rows of at most 400,000",
        )
    )
    script = sum(
        len(gzip.compress(f.read_bytes(), 9)) for f in (ROOT / "web" / "dist" / "assets").glob("*.js")
    )
    rows.append(("script of the first page, compressed", f"{script / 1000:.0f} kB", "300 kB", ""))
    rows += [dragged(), judged()]
    begin = time.perf_counter()
    subprocess.run(["make", "-s", ".stamps/web", ".stamps/kernel"], cwd=ROOT, check=True)
    subprocess.run([sys.executable, "server/manage.py", "set_up"], cwd=ROOT, check=True)
    rows.append(
        ("make run on a warm clone, before serving", f"{time.perf_counter() - begin:.1f} s", "10 s", "")
    )
    return rows


# A key on the value's handle, and the moment of the last change on the page that it brings about [ms].
DRAG = """async (key) => {
  const handle = document.querySelector('[role=slider]');
  let last = 0;
  const watch = new MutationObserver(() => { last = performance.now(); });
  watch.observe(document.body, {subtree: true, childList: true, attributes: true, characterData: true});
  const begin = performance.now();
  handle.dispatchEvent(new KeyboardEvent('keydown', {key, bubbles: true}));
  for (let quiet = 0; quiet < 400;) {
    await new Promise((done) => setTimeout(done, 20));
    quiet = performance.now() - Math.max(last, begin);
  }
  watch.disconnect();
  await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
  return last - begin;
}"""


def dragged() -> Row:
    """A value stepped along its window: from the key to the last change on the page."""
    with served() as (base, ids, browser):
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        page.goto(f"{base}/design/{ids['Roof-vent fan relay']}/drive?part=blocks.b2.r_gate")
        page.get_by_role("slider").focus()
        page.wait_for_timeout(2000)
        keys = ["ArrowLeft", "ArrowRight"] * 3 + ["ArrowRight"] * 12 + ["ArrowLeft"] * 12
        taken = [float(page.evaluate(DRAG, key)) for key in keys][6:]
    taken.sort()
    seen = f"{statistics.median(taken):.0f} ms, {taken[int(0.95 * len(taken))]:.0f} ms"
    return (
        "a dragged value, key to last repaint, median and 95th",
        seen,
        "50 ms, 100 ms",
        f"{len(taken)} keys",
    )


def judged() -> Row:
    """Random designs, every verdict beside its simulated circuit."""
    found = tally(seed=1, count=1000)
    wrong = len(found.contradict) / found.compared
    return (
        "verdicts that contradict the circuit, random designs",
        f"{len(found.contradict)} of {found.compared} ({wrong:.2%})",
        "0",
        f"{found.designs} designs; {found.differ} numbers apart",
    )


def table(head: Row, rows: list[Row]) -> str:
    return "\n".join("| " + " | ".join(row) + " |" for row in (head, tuple("---" for _ in head), *rows))


def main() -> None:
    """Measure, print, and keep the tables."""
    first = table(
        (
            "circuit",
            "unknowns",
            "devices",
            "seconds",
            "steps",
            "Newton",
            "a solve",
            "redone an event",
            "ms",
            "µs an iteration",
            "of the floor",
        ),
        circuits(),
    )
    second = table(("figure", "seen", "wanted", "how"), figures())
    text = f"""# Benchmarks

Written by `make bench` on {platform.machine()}, Python {platform.python_version()},
numba {numba.__version__}. Times depend on the machine and on what else it does; the ratios and the counts
much less. A Newton iteration is one assembly of the whole circuit. "Of the floor" is the time inside the
integrator, recording and all, over that of dense LU solutions of the same size and number.

{first}

{second}

Boards of the demo designs, planned on one thread. The first plan is there at once; the fewest wires are a
proven bound.

{boards.table(boards.rows(os.environ.get("NETLISTS", "")))}
"""
    (ROOT / "docs" / "benchmarks.md").write_text(text, "utf-8")
    print(text)


if __name__ == "__main__":
    main()
