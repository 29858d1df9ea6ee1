"""Single devices and the kernel's own parts. Each test names its oracle."""

import unittest

import numpy as np
from hexlet_core.circuit import lu, rows
from hexlet_core.circuit import transient as integrator
from hexlet_core.circuit.devices import Bounce, Capacitor, Diode, Pin, PinStep, Relay, Resistor, VoltageSource
from hexlet_core.circuit.devices.switch import bounce_offsets
from hexlet_core.circuit.netlist import Groups, Netlist
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.errors import DocumentError, SettleError
from hexlet_core.fields import read_document
from hexlet_core.rehearsal.lanes import thin

from .circuits import COIL_L, COIL_R, step_into_coil
from .test_circuit import toggle_times


class LinearAlgebra(unittest.TestCase):
    def test_factor_and_solve(self) -> None:
        """Oracle: numpy's own solver, on matrices that need pivoting."""
        rng = np.random.default_rng(1)
        for n in (1, 2, 5, 12):
            a, b = rng.normal(size=(n, n)), rng.normal(size=n)
            a[0, 0] = 0.0 if n > 1 else 1.0
            factored, x, piv = a.copy(), b.copy(), np.zeros(n, np.int64)
            self.assertEqual(lu.factor(factored, piv, n), -1)
            lu.solve(factored, piv, n, x)
            np.testing.assert_allclose(x, np.linalg.solve(a, b), rtol=1e-9)

    def test_a_singular_matrix_names_its_column(self) -> None:
        a = np.array([[1.0, 2.0], [2.0, 4.0]])
        self.assertEqual(lu.factor(a, np.zeros(2, np.int64), 2), 1)

    def test_the_integrators_coefficients(self) -> None:
        """Oracle: the method is exact on q = t²: the backward difference of its three points is 2(t + h)."""
        h, t = 0.3, 1.1
        old, mid, new = t**2, (t + rows.GAMMA * h) ** 2, (t + h) ** 2
        slope = (integrator.W_NEW * new - integrator.W_MID * mid + integrator.W_OLD * old) / h
        self.assertAlmostEqual(slope, 2 * (t + h), places=12)
        self.assertAlmostEqual(rows.STAGE, integrator.W_NEW, places=12)


class RelayContacts(unittest.TestCase):
    def circuit(self, bounce: Bounce | None = None) -> Netlist:
        coil = step_into_coil().devices
        relay = Relay(
            name="K1",
            a="top",
            b="0",
            com="c",
            no="no",
            nc="nc",
            resistance=COIL_R,
            inductance=COIL_L,
            pull_in=9 / COIL_R,
            drop_out=1.2 / COIL_R,
            operate_travel=3e-3,
            bounce=bounce,
        )
        return Netlist.of(
            [
                coil[0],
                relay,
                VoltageSource(name="VC", a="c", b="0", value=5.0),
                Resistor(name="R1", a="no", b="0", resistance=100.0),
                Resistor(name="R2", a="nc", b="0", resistance=100.0),
            ]
        )

    def test_break_before_make(self) -> None:
        """Oracle: a changeover contact never joins both sides; NC opens as the armature starts, NO closes
        when it lands.
        """
        waves = transient(self.circuit(), 0.03)
        no, nc = waves.state("K1", 2), waves.state("K1", 3)
        self.assertFalse(((no > 0.5) & (nc > 0.5)).any())
        self.assertAlmostEqual(
            toggle_times(waves, "K1", 2)[0] - toggle_times(waves, "K1", 3)[0], 3e-3, delta=1e-9
        )
        self.assertAlmostEqual(waves["no"][-1], 5.0 * 100 / 100.05, delta=1e-3)
        self.assertLess(abs(waves["nc"][-1]), 1e-5)

    def test_bounce_follows_its_list(self) -> None:
        """Oracle: the offsets themselves; twice the number of reopenings after the first touch."""
        bounce = Bounce(duration=1e-3, times=3, seed=5)
        times = toggle_times(transient(self.circuit(bounce), 0.03), "K1", 2)
        np.testing.assert_allclose(np.array(times[1:]) - times[0], bounce_offsets(bounce), atol=1e-9)
        self.assertAlmostEqual(times[-1] - times[0], 1e-3, delta=1e-9)

    def test_a_coil_that_lets_go_too_soon_falls_back(self) -> None:
        """Oracle: a pulse that ends during the travel never closes the contact."""
        net = self.circuit()
        short = VoltageSource(
            name="V1",
            a="top",
            b="0",
            points=[
                (0.0, 0.0),
                (1e-3, 0.0),
                (1e-3, 12.0),
                (8.5e-3, 12.0),
                (8.5e-3, -12.0),
                (20e-3, -12.0),
                (20e-3, 0.0),
            ],
        )
        waves = transient(Netlist.of([short, *net.devices[1:]]), 9.5e-3)
        self.assertEqual(toggle_times(waves, "K1", 2), [])

    def test_settled_coil(self) -> None:
        """Oracle: Ohm's law, with the loss resistance across the inductance alone carrying nothing."""
        net = Netlist.of(
            [
                VoltageSource(name="V1", a="top", b="0", value=12.0),
                Relay(
                    name="K1", a="top", b="0", resistance=96.0, inductance=0.45, pull_in=0.09, drop_out=0.01
                ),
            ]
        )
        self.assertAlmostEqual(operating_point(net).current("K1", "a"), 0.125, places=9)


class Pins(unittest.TestCase):
    def test_levels_behind_their_resistance(self) -> None:
        """Oracle: dividers. High, weak pull-up while booting, floating."""
        for level, resistance, wanted in (
            (3.3, 25.0, 3.3 * 1000 / 1025),
            (3.3, 45e3, 3.3 * 1000 / 46e3),
            (0.0, 1e10, 0.0),
        ):
            net = Netlist.of(
                [
                    Pin(name="P", out="x", steps=[PinStep(time=0.0, level=level, resistance=resistance)]),
                    Resistor(name="R", a="x", b="0", resistance=1e3),
                ]
            )
            self.assertAlmostEqual(operating_point(net)["x"], wanted, places=6)

    def test_steps_out_of_order_are_refused(self) -> None:
        for steps in (
            [],
            [{"time": 1.0, "level": 0, "resistance": 1}],
            [
                {"time": 0, "level": 0, "resistance": 1},
                {"time": 2, "level": 0, "resistance": 1},
                {"time": 1, "level": 0, "resistance": 1},
            ],
        ):
            with self.assertRaises(DocumentError):
                read_document(Pin, {"name": "P", "out": "x", "steps": steps})


class Sources(unittest.TestCase):
    def test_contradictions_are_refused(self) -> None:
        for more, words in (
            ({"points": [[1, 0], [0, 1]]}, "must not go backwards"),
            ({"points": [[0, 0], [2, 1]], "period": 1}, "must hold all points"),
            ({"points": [[0, 0]], "sine": {"amplitude": 1, "frequency": 50}}, "not both"),
        ):
            with self.assertRaisesRegex(DocumentError, words):
                read_document(VoltageSource, {"name": "V", "a": "a", "b": "0", **more})

    def test_a_ramp_is_followed_exactly(self) -> None:
        """Oracle: the ramp itself, at every accepted step."""
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", points=[(1e-3, 0.0), (3e-3, 4.0)]),
                Resistor(name="R", a="a", b="0", resistance=1.0),
            ]
        )
        waves = transient(net, 5e-3)
        np.testing.assert_allclose(waves["a"], np.interp(waves.time, [1e-3, 3e-3], [0.0, 4.0]), atol=1e-6)

    def test_a_leaky_capacitor_discharges_through_its_leak(self) -> None:
        """Oracle: exp(−t/RC) with R the stated leakage."""
        steps = [PinStep(time=0.0, level=5.0, resistance=1.0), PinStep(time=1e-3, level=0.0, resistance=1e12)]
        net = Netlist.of(
            [
                Pin(name="P", out="x", steps=steps),
                Capacitor(name="C", a="x", b="0", capacitance=1e-6, leakage=1e4),
            ]
        )
        waves = transient(net, 21e-3)
        self.assertAlmostEqual(waves["x"][-1], 5.0 * np.exp(-2.0), delta=0.01)


class Answers(unittest.TestCase):
    def test_an_unsettled_start_says_so(self) -> None:
        """A current forced through a reverse junction without breakdown in reach: an answer or a sentence."""
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", value=1e6),
                Diode(name="D", a="0", k="a", breakdown=1e5, breakdown_slope=1e-3),
                Resistor(name="R", a="a", b="0", resistance=1.0),
            ]
        )
        try:
            point = operating_point(net)
            self.assertTrue(np.isfinite(point["a"]))
        except SettleError as error:
            self.assertIn("No answer for the operating point", str(error))

    def test_ground_reads_zero_and_powers_balance(self) -> None:
        """Oracle: what the source gives, the resistor takes."""
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", value=10.0),
                Resistor(name="R", a="a", b="0", resistance=50.0),
            ]
        )
        point = operating_point(net)
        self.assertEqual(point["0"], 0.0)
        self.assertAlmostEqual(point.power("R"), 2.0)
        self.assertAlmostEqual(point.power("V"), -2.0)

    def test_union_find(self) -> None:
        groups = Groups()
        self.assertTrue(groups.join("a", "b"))
        self.assertTrue(groups.join("b", "c"))
        self.assertFalse(groups.join("a", "c"))
        self.assertNotEqual(groups.find("a"), groups.find("d"))

    def test_thinning_short_curves_keeps_everything(self) -> None:
        self.assertEqual(thin(np.array([0.0, 1.0]), np.array([3.0, 4.0])).tolist(), [0, 1])
        self.assertEqual(len(thin(np.linspace(0, 1, 50), np.zeros(50))), 2)
