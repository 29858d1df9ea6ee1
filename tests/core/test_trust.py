"""What must hold on every registered circuit, whatever it does. Oracles are conservation laws and
repetition.
"""

import unittest

import numpy as np
from hexlet_core.circuit import engine
from hexlet_core.circuit.batch import run
from hexlet_core.circuit.netlist import GROUND, Netlist
from hexlet_core.circuit.solve import transient
from hexlet_core.circuit.waves import Waves

from .registered import Circuit, registered

BOUNDED = {
    "relay": 250,
    "astable": 2200,
    "one_shot": 330,
    "latch": 900,
    "pwm": 13_500,
    "composite": 850,
    "rectifier": 420,
}


def waves_of(circuit: Circuit, **how: float) -> Waves:
    return transient(circuit.netlist, circuit.stop, from_rest=circuit.from_rest, **how)  # type: ignore[arg-type]


class Invariants(unittest.TestCase):
    def test_charge_balance(self) -> None:
        """Oracle: Kirchhoff's current law integrated: what flows into the devices at a node over the run,
        conduction summed plus charge stored, is nothing.
        """
        for name, circuit in registered().items():
            if name in ("astable", "pwm"):
                continue
            with self.subTest(name):
                waves = waves_of(circuit)
                net: dict[str, float] = {}
                gross: dict[str, float] = {}
                for device in circuit.netlist.devices:
                    for terminal, node in device.nodes().items():
                        i, q = waves.conduction(device.name, terminal), waves.charge(device.name, terminal)
                        passed = float(np.trapezoid(i, waves.time)) + float(q[-1] - q[0])
                        net[node] = net.get(node, 0.0) + passed
                        gross[node] = (
                            gross.get(node, 0.0)
                            + float(np.trapezoid(np.abs(i), waves.time))
                            + float(np.ptp(q))
                        )
                for node, total in net.items():
                    if node != GROUND:
                        self.assertLess(abs(total), 4e-3 * gross[node] + 1e-9, node)

    def test_energy_balance(self) -> None:
        """Oracle: energy given by all sources equals what all devices take up, as voltage times the charge
        passed.
        """
        for name, circuit in registered().items():
            if name in ("astable", "pwm"):
                continue
            with self.subTest(name):
                waves = waves_of(circuit)
                total, turnover = 0.0, 0.0
                for device in circuit.netlist.devices:
                    energy = 0.0
                    for terminal, node in device.nodes().items():
                        v, i = waves[node], waves.conduction(device.name, terminal)
                        passed = 0.5 * (i[1:] + i[:-1]) * np.diff(waves.time) + np.diff(
                            waves.charge(device.name, terminal)
                        )
                        energy += float((0.5 * (v[1:] + v[:-1]) * passed).sum())
                    total += energy
                    turnover += abs(energy)
                self.assertLess(abs(total), 0.01 * turnover + 1e-9)

    def test_the_step_does_not_matter(self) -> None:
        """Oracle: the same run at a fortieth of the tolerance; compared at the end of quiet stretches and in
        event times.
        """
        for name, circuit in registered().items():
            if name in ("astable", "oscillator"):
                continue
            with self.subTest(name):
                loose, tight = waves_of(circuit), waves_of(circuit, rtol=1.2e-5, event_rtol=2e-6)
                for name in circuit.netlist.packed.unknowns[: circuit.netlist.packed.nodes]:
                    a = float(np.trapezoid(loose[name], loose.time)) / circuit.stop
                    b = float(np.trapezoid(tight[name], tight.time)) / circuit.stop
                    self.assertAlmostEqual(a, b, delta=5e-3 + 5e-3 * float(np.ptp(tight[name])), msg=name)

    def test_alone_and_in_a_batch(self) -> None:
        """Oracle: bit for bit the same."""
        for name, circuit in registered().items():
            if name in ("pwm", "astable"):
                continue
            with self.subTest(name):
                alone = waves_of(circuit)
                for waves in run(waves_of, [circuit] * 4):
                    np.testing.assert_array_equal(alone.unknowns, waves.unknowns)
                    np.testing.assert_array_equal(alone.time, waves.time)

    def test_the_netlists_order_does_not_matter(self) -> None:
        """Oracle: the same circuit listed backwards; event times and settled voltages."""
        for name, circuit in registered().items():
            if name in ("astable", "pwm", "oscillator"):
                continue
            with self.subTest(name):
                turned = Circuit(
                    Netlist.of(reversed(circuit.netlist.devices)), circuit.stop, circuit.from_rest
                )
                a, b = waves_of(circuit), waves_of(turned)
                for name in circuit.netlist.packed.unknowns[: circuit.netlist.packed.nodes]:
                    if "#" not in name:
                        self.assertAlmostEqual(
                            a[name][-1], b[name][-1], delta=5e-3 + 2e-3 * np.ptp(a[name]), msg=name
                        )

    def test_plain_python_and_machine_code_agree(self) -> None:
        """Oracle: the uncompiled twin of the kernel."""
        for circuit in (registered()["gate_rc"], registered()["lamp"]):
            fast, slow = (
                waves_of(circuit),
                transient(circuit.netlist, circuit.stop, from_rest=circuit.from_rest, engine=engine.PLAIN),
            )
            np.testing.assert_allclose(fast.unknowns, slow.unknowns, rtol=1e-9, atol=1e-12)


class Work(unittest.TestCase):
    """Effort is bounded in counts, which do not depend on the machine."""

    def test_newton_iterations_a_solve(self) -> None:
        for name, circuit in registered().items():
            counts = waves_of(circuit).counts
            self.assertLess(counts.newton / counts.solves, 3.0 if name != "rectifier" else 3.7, name)

    def test_steps_redone_an_event(self) -> None:
        for name, circuit in registered().items():
            counts = waves_of(circuit).counts
            self.assertLessEqual(counts.redone, 5 * counts.events, name)

    def test_steps(self) -> None:
        for name, most in BOUNDED.items():
            counts = waves_of(registered()[name]).counts
            self.assertLess(counts.steps, most, name)

    def test_a_timers_cycle(self) -> None:
        """At most 50 steps a cycle of a timer that clocks a counter."""
        counts = waves_of(registered()["counter"]).counts
        cycles = 0.02 / (np.log(2) * (10e3 + 2 * 68e3) * 1e-8)
        self.assertLess(counts.steps, 50 * cycles)

    def test_the_order_of_elimination_holds(self) -> None:
        """The dense fallback is for accidents."""
        for name, circuit in registered().items():
            counts = waves_of(circuit).counts
            self.assertLess(counts.dense, 0.02 * counts.newton + 1, name)
