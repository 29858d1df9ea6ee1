"""Between the computed points: crossings, peaks and energies against answers found by another way. Each test
names its oracle.
"""

import unittest
from unittest import mock

import numpy as np
from hexlet_core.cards import catalogue, derive
from hexlet_core.circuit import measure
from hexlet_core.circuit.curve import Curve
from hexlet_core.circuit.devices import (
    Bipolar,
    Capacitor,
    ContactSwitch,
    CurrentSource,
    Inductor,
    Mosfet,
    Resistor,
    VoltageSource,
)
from hexlet_core.circuit.devices.base import thermal_voltage
from hexlet_core.circuit.measure import Measurement, Since, measured
from hexlet_core.circuit.netlist import GROUND, Netlist
from hexlet_core.circuit.solve import TooLong, stretches, transient
from scipy.integrate import quad
from scipy.optimize import brentq

from .registered import npn, r, registered, v

TIMES, ENERGIES = 2e-4, 1e-3  # what default tolerance promises
LOGIC = derive.mosfet(catalogue()["nmos-55v-5a-logic"])  # type: ignore[arg-type]


def of(netlist: Netlist, stop: float, what: str, signal: str, **more: object) -> float:
    return Measurement(name="m", what=what, signal=signal, **more).of(transient(netlist, stop))  # type: ignore[arg-type]


def channel(v_gs: float, v_ds: float) -> float:
    """The MOSFET's channel equation, written anew [A]."""
    n, s = LOGIC["slope"], 2 * LOGIC["slope"] * thermal_voltage(25.0)
    l_f, l_r = (
        np.logaddexp(0, (v_gs - LOGIC["v_th"]) / s),
        np.logaddexp(0, (v_gs - LOGIC["v_th"] - n * v_ds) / s),
    )
    return float(
        2
        * n
        * LOGIC["beta"]
        * thermal_voltage(25.0) ** 2
        * (l_f**2 - l_r**2)
        / (1 + LOGIC["theta"] * s * l_f)
    )


class Exponentials(unittest.TestCase):
    def circuit(self) -> Netlist:
        return Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", points=[(0.0, 10.0), (1e-3, 10.0), (1e-3, 0.0)]),
                r("R", "a", "x", 10e3),
                Capacitor(name="C", a="x", b="0", capacitance=1e-7),
            ]
        )

    def test_delays_where_the_curve_is_shallow(self) -> None:
        """Oracle: t = RC·ln(V/level)."""
        for level in (9.0, 5.0, 1.0, 0.3, 0.1):
            exact = 1e-3 * np.log(10 / level)
            self.assertAlmostEqual(
                of(self.circuit(), 12e-3, "delay", "x", level=level, after=1e-3), exact, delta=TIMES * exact
            )

    def test_energies_and_extremes(self) -> None:
        """Oracle: half of CV² in the resistor; ∫i²t the same over R; the charge CV; the current's
        peak V/R.
        """
        net = self.circuit()
        half = 0.5 * 1e-7 * 100
        self.assertAlmostEqual(of(net, 12e-3, "energy", "p(R)", after=1e-3), half, delta=ENERGIES * half)
        self.assertAlmostEqual(
            of(net, 12e-3, "square_time", "i(R.a)", after=1e-3), half / 1e4, delta=ENERGIES * half / 1e4
        )
        self.assertAlmostEqual(
            of(net, 12e-3, "energy", "i(C.a)", after=1e-3 + 1e-8), -1e-6, delta=ENERGIES * 1e-6
        )
        self.assertAlmostEqual(of(net, 12e-3, "peak", "i(C.a)"), 1e-3, delta=ENERGIES * 1e-3)
        self.assertAlmostEqual(of(net, 12e-3, "slope", "x", after=2e-3), -1e4 / np.e, delta=1e-3 * 1e4)

    def test_a_ring(self) -> None:
        """Oracle: a damped sine's first peak, when it comes, and its frequency."""
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", points=[(0.0, 0.0), (0.0, 1.0)]),
                r("R", "a", "m", 20.0),
                Inductor(name="L", a="m", b="x", inductance=1e-3, resistance=1e-6),
                Capacitor(name="C", a="x", b="0", capacitance=1e-6),
            ]
        )
        decay, omega = 20.0 / 2e-3, np.sqrt(1e9 - 1e8)
        first = np.pi / omega
        found = measured(
            lambda: stretches(net, 1e-3, from_rest=True),
            [
                Measurement(name="peak", what="highest", signal="x"),
                Measurement(name="at", what="time_of_highest", signal="x"),
            ],
            1e-3,
        )
        self.assertAlmostEqual(found["peak"], 1 + np.exp(-decay * first), delta=ENERGIES)
        self.assertAlmostEqual(found["at"], first, delta=2e-3 * first)


class Bends(unittest.TestCase):
    """A node without charge of its own follows others: it must be right between the points too."""

    def test_a_held_gate_lets_go_slowly(self) -> None:
        """Oracle: the gate's exponential in closed form, and at each of its voltages the drain's balance by
        bisection.
        """
        c, ohms, supply, load = 4.7e-6, 2.2e6, 12.0, 120.0
        net = Netlist.of(
            [
                v("V", "p", supply),
                ContactSwitch(name="S", a="p", b="g", closed=True, times=[1.0]),
                Capacitor(name="C", a="g", b="0", capacitance=c),
                r("R", "g", "0", ohms),
                Mosfet(
                    name="M",
                    g="g",
                    d="d",
                    s="0",
                    **(LOGIC | {"c_gs": 1e-13, "c_gd_low": 1e-14, "c_gd_high": 1e-14, "c_ds": 1e-14}),
                ),
                r("RL", "p", "d", load),
            ]
        )
        leak = 1 / (
            1 / ohms + 1 / LOGIC["gate_leakage"] + 1e-9 + 1e-12
        )  # and the open switch's gigohm, from the supply
        rest = supply * 1e-9 * leak

        def gate(t: float) -> float:
            return float(rest + (supply - rest) * np.exp(-t / (leak * c)))

        def drain(t: float) -> float:
            return float(brentq(lambda x: (supply - x) / load - channel(gate(t), x), 0.0, supply))

        def when(current: float) -> float:
            return float(brentq(lambda t: (supply - drain(t)) / load - current, 0.0, 60.0, xtol=1e-9))

        def power(t: float) -> float:
            return drain(t) * (supply - drain(t)) / load

        waves = transient(net, 120.0)
        self.assertAlmostEqual(
            Measurement(name="m", what="delay", signal="i(RL.a)", level=0.05, edge="fall", after=1.0).of(
                waves
            ),
            when(0.05),
            delta=TIMES * when(0.05),
        )
        top = supply / load
        fall = Measurement(
            name="m", what="fall", signal="i(RL.a)", span=(0.1 * top, 0.9 * top), after=1.0
        ).of(waves)
        self.assertAlmostEqual(fall, when(0.1 * top) - when(0.9 * top), delta=1e-3 * fall)
        self.assertAlmostEqual(
            Measurement(name="m", what="peak", signal="p(M)", after=2.0).of(waves),
            supply**2 / 4 / load,
            delta=ENERGIES * 0.3,
        )
        begin, end = when(0.95 * top), when(0.02 * top)
        exact = quad(power, begin, end, epsabs=1e-9, limit=200)[0]
        spent = Measurement(name="m", what="energy", signal="p(M)", after=1.0 + begin, until=1.0 + end).of(
            waves
        )
        self.assertAlmostEqual(spent, exact, delta=ENERGIES * exact)

    def test_a_slow_source_through_a_clamp(self) -> None:
        """Oracle: Lambert's function, as an independent bisection of the diode's balance; energy by
        quadrature.
        """
        i_s, n = 1e-12, 1.0 * thermal_voltage(25.0)
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", points=[(0.0, 0.0), (10.0, 12.0)]),
                r("R", "a", "x", 1e3),
                Bipolar(name="Q", c="x", b="x", e="0", i_s=i_s, beta_f=1e5, beta_r=1e3, early=1e6, r_c=1e-6),
            ]
        )

        def volts(t: float) -> float:
            return float(
                brentq(lambda x: (1.2 * t - x) / 1e3 - i_s * (1 + 1e-5) * np.expm1(x / n), -1.0, 2.0)
            )

        waves = transient(net, 10.0)
        exact = quad(lambda t: volts(t) * (1.2 * t - volts(t)) / 1e3, 0, 10, points=[0.5, 0.6], epsabs=1e-12)[
            0
        ]
        self.assertAlmostEqual(
            Measurement(name="m", what="energy", signal="p(Q)").of(waves), exact, delta=ENERGIES * exact
        )
        near = Curve(waves.time, waves["x"], waves.slope("x"), waves.jumps > 0)
        moments = np.linspace(0.1, 9.9, 97)
        np.testing.assert_allclose(near.at(moments)[0], [volts(t) for t in moments], atol=1e-3 * 0.7)

    def test_a_latch_that_lets_go_of_a_falling_supply(self) -> None:
        """Oracle: the supply at which the same balance stops having two solutions, by a run at a thousandth
        of the tolerance; and no row of the default run lies between the two states longer than a millionth of
        it.
        """
        net = Netlist.of(
            [
                VoltageSource(name="V", a="p", b="0", points=[(0.0, 12.0), (1.0, 12.0), (101.0, 2.0)]),
                r("RC", "p", "c", 1e3),
                Bipolar(name="QP", polarity="pnp", c="b", b="e2", e="p", beta_f=50.0),
                r("RE", "p", "e2", 10e3),
                r("RB", "e2", "c", 22e3),
                npn("QN", "c", "b"),
                r("RS", "b", "0", 2.2e3),
                Capacitor(name="C", a="b", b="0", capacitance=1e-9),
            ]
        )
        start = {"b": 0.7, "c": 0.1}
        coarse, fine = (transient(net, 101.0, guess=start, rtol=t, event_rtol=t) for t in (5e-4, 5e-7))
        at = [
            Measurement(name="m", what="delay", signal="v(p,c)", level=1.0, edge="fall").of(w)
            for w in (coarse, fine)
        ]
        self.assertAlmostEqual(at[0], at[1], delta=TIMES * at[1])
        through = (coarse["c"] > 0.5) & (coarse["c"] < coarse["p"] - 0.5)
        self.assertLess(float(np.ptp(coarse.time[through])) if through.any() else 0.0, 2e-6 * 101)


class Rows(unittest.TestCase):
    def test_every_row_satisfies_kirchhoff(self) -> None:
        """Oracle: the current law at every node and every row, charging currents from the devices' own
        charges.

        Edges of microseconds, where a coupling capacitor multiplies what the slope is off, are left out; a
        closed switch of milliohms turns the tolerance of a tenth of a millivolt into a hundredth or two of
        its current.
        """
        for name, circuit in registered().items():
            if name in ("pwm", "composite"):
                continue
            with self.subTest(name):
                waves = transient(circuit.netlist, circuit.stop, from_rest=circuit.from_rest)
                total: dict[str, np.ndarray] = {}
                largest: dict[str, float] = {}
                for device in circuit.netlist.devices:
                    for terminal, node in device.nodes().items():
                        i = waves.current(device.name, terminal)
                        total[node] = total.get(node, 0.0) + i
                        largest[node] = max(largest.get(node, 0.0), float(np.abs(i).max()))
                for node, left in total.items():
                    if node != GROUND:
                        slow = np.diff(waves.time, prepend=0.0) > 1e-5
                        self.assertLess(
                            float(np.abs(left[slow]).max(initial=0.0)), 0.03 * largest[node] + 1e-10, node
                        )

    def test_slopes_are_those_of_the_curve(self) -> None:
        """Oracle: the exponential's own derivative."""
        net = Exponentials().circuit()
        waves = transient(net, 12e-3)
        late = waves.time > 1e-3 + 1e-9
        np.testing.assert_allclose(waves.slope("x")[late], -waves["x"][late] / 1e-3, atol=1e4 * 3e-4)

    def test_current_sources_and_moving_ones(self) -> None:
        """Oracle: a current ramp into a capacitor: a parabola."""
        net = Netlist.of(
            [
                CurrentSource(name="I", a="0", b="x", points=[(0.0, 0.0), (1e-3, 1e-3)]),
                Capacitor(name="C", a="x", b="0", capacitance=1e-6),
            ]
        )
        found = measured(
            lambda: stretches(net, 1e-3, from_rest=True),
            [Measurement(name="m", what="mean", signal="x")],
            1e-3,
        )
        self.assertAlmostEqual(found["m"], 0.5 / 3, delta=1e-4)


class Curves(unittest.TestCase):
    """The cubics themselves. Oracle: polynomials and sines in closed form."""

    def cubic(self) -> Curve:
        t = np.array([0.0, 1.0, 3.0])
        return Curve(t, t**3 - 3 * t, 3 * t**2 - 3, np.zeros(3, bool))

    def test_exact_on_cubics(self) -> None:
        found = self.cubic()
        t = np.linspace(0, 3, 31)
        np.testing.assert_allclose(found.at(t)[0], t**3 - 3 * t, atol=1e-12)
        self.assertAlmostEqual(found.integral(), 81 / 4 - 27 / 2)
        self.assertAlmostEqual(found.square(), 3**7 / 7 - 6 * 3**5 / 5 + 9 * 3**3 / 3, places=9)
        times, rising = found.crossings(0.0)
        self.assertAlmostEqual(float(times[-1]), np.sqrt(3), places=9)
        self.assertTrue(rising[-1])

    def test_an_extreme_between_rows_is_found(self) -> None:
        t = np.linspace(0, 2 * np.pi, 9) + 0.2
        wave = Curve(t, np.sin(t), np.cos(t), np.zeros(9, bool)).monotone()
        self.assertAlmostEqual(float(wave.value.max()), 1.0, delta=2e-3)
        rises = wave.crossings(0.99)[0]
        self.assertEqual(len(rises), 2)

    def test_a_jump_is_a_straight_line(self) -> None:
        t = np.array([0.0, 1.0, 1.0, 2.0])
        step = Curve(t, np.array([0.0, 0.0, 5.0, 5.0]), np.zeros(4), np.array([False, False, True, False]))
        self.assertEqual([float(x) for x in step.crossings(2.5)[0]], [1.0])
        self.assertEqual((step.window(0.5, 1.5).integral(), step.integral()), (2.5, 5.0))


class RandomSwitches(unittest.TestCase):
    """Slow ramps through MOSFETs and transistors with random values."""

    def test_default_tolerance_keeps_its_promise(self) -> None:
        """Oracle: the same at a five-thousandth of the tolerance. Times within 2e-4 of the run; peaks and
        energies within 1e-3, one in twenty within 1e-2 (a falling gate counts its error against its peak, not
        against the threshold).
        """
        energies = []
        for seed in range(40):
            rng = np.random.default_rng(seed)
            stop, volts, ohms = 10 ** rng.uniform(-3, 1), rng.uniform(4, 24), 10 ** rng.uniform(2, 5)
            load, lag = 10 ** rng.uniform(1.5, 3), stop * rng.uniform(0.005, 0.1)
            points = [
                (0.0, 0.0),
                (0.1 * stop, 0.0),
                (stop * rng.uniform(0.11, 0.4), volts),
                (0.6 * stop, volts),
                (stop * rng.uniform(0.61, 0.9), 0.0),
            ]
            switch = Mosfet(name="Q", g="g", d="out", s="0", **LOGIC) if seed % 2 else npn("Q", "out", "b")
            net = Netlist.of(
                [
                    VoltageSource(name="VI", a="in", b="0", points=points),
                    v("V", "p", volts),
                    r("RG", "in", "g", ohms),
                    r("RB", "g", "b", 10e3),
                    r("RBE", "b", "0", 1e6),
                    Capacitor(name="C", a="g", b="0", capacitance=lag / ohms),
                    switch,
                    r("RL", "p", "out", load),
                ]
            )
            coarse, fine = transient(net, stop), transient(net, stop, rtol=1e-7, event_rtol=1e-7)
            low, high = float(fine["out"].min()), float(fine["out"].max())
            for share in (0.1, 0.5, 0.9):
                crossed = [
                    Measurement(name="m", what="delay", signal="out", level=low + share * (high - low)).of(w)
                    for w in (coarse, fine)
                ]
                self.assertAlmostEqual(crossed[0], crossed[1], delta=TIMES * stop, msg=f"{seed} at {share}")
            for what, signal in (("energy", "p(Q)"), ("peak", "p(Q)"), ("energy", "p(RL)"), ("mean", "out")):
                got = [Measurement(name="m", what=what, signal=signal).of(w) for w in (coarse, fine)]  # type: ignore[arg-type]
                energies.append(abs(got[0] / got[1] - 1))
        self.assertLess(float(np.quantile(energies, 0.95)), ENERGIES)
        self.assertLess(max(energies), 1e-2)


class LongRuns(unittest.TestCase):
    def measures(self) -> list[Measurement]:
        return [
            Measurement(name="period", what="period", signal="clk", after=1e-3),
            Measurement(name="duty", what="duty", signal="clk", level=2.5, after=1e-3),
            Measurement(name="mean", what="mean", signal="cap"),
            Measurement(name="edges", what="transitions", signal="clk", level=2.5),
            Measurement(name="heat", what="energy", signal="p(R1)"),
            Measurement(name="width", what="width", signal="clk"),
        ]

    def test_measured_without_being_kept(self) -> None:
        """Oracle: the same measurements on the kept wave; and the period's closed form, ln 2·(RA + 2RB)·C."""
        circuit = registered()["counter"]
        waves = transient(circuit.netlist, circuit.stop)
        kept = {m.name: m.of(waves) for m in self.measures()}
        with mock.patch.object(measure, "MAX_ROWS", 100):
            streamed = measured(
                lambda: stretches(circuit.netlist, circuit.stop), self.measures(), circuit.stop
            )
        for name, value in kept.items():
            self.assertAlmostEqual(streamed[name], value, delta=1e-9 * abs(value), msg=name)
        exact = np.log(2) * (10e3 + 2 * 68e3) * 1e-8
        self.assertAlmostEqual(streamed["period"], exact, delta=3e-3 * exact)

    def test_stretches_join_into_the_run(self) -> None:
        """Oracle: the run in one piece."""
        circuit = registered()["oscillator"]
        with mock.patch("hexlet_core.circuit.solve.STRETCH", 64):
            pieces = transient(circuit.netlist, circuit.stop, from_rest=True)
        whole = transient(circuit.netlist, circuit.stop, from_rest=True)
        np.testing.assert_array_equal(pieces.time, whole.time)
        np.testing.assert_array_equal(pieces.unknowns, whole.unknowns)

    def test_too_long_to_keep_says_so(self) -> None:
        with (
            mock.patch("hexlet_core.circuit.solve.MAX_ROWS", 50),
            self.assertRaisesRegex(TooLong, "measurements alone"),
        ):
            transient(registered()["counter"].netlist, 0.02)


class NewMeasures(unittest.TestCase):
    def test_between_two_signals(self) -> None:
        """Oracle: an RC's delay behind its source, and how often it passes a level outside a
        while after it.
        """
        net = Netlist.of(
            [
                VoltageSource(
                    name="V",
                    a="a",
                    b="0",
                    points=[(0.0, 0.0), (1e-3, 0.0), (1e-3, 1.0), (5e-3, 1.0), (5e-3, 0.0)],
                    period=8e-3,
                ),
                Resistor(name="R", a="a", b="x", resistance=1e3),
                Capacitor(name="C", a="x", b="0", capacitance=1e-6),
            ]
        )
        since = Since(signal="a", level=0.5, edge="rise")
        self.assertAlmostEqual(
            of(net, 24e-3, "delay", "x", level=0.5, edge="rise", since=since), 1e-3 * np.log(2), delta=3e-7
        )
        either = Since(signal="a", level=0.5)
        counts = [
            of(net, 24e-3, "transitions", "x", level=0.5, since=either, blank=b)
            for b in (0.0, 0.5e-3, 0.9e-3)
        ]
        self.assertEqual(counts, [6.0, 6.0, 0.0])

    def test_ratio_and_root_mean_square(self) -> None:
        """Oracle: a sine's rms, and a divider's ratio."""
        t = np.linspace(0, 1, 2001)
        wave = Measurement(name="m", what="rms", signal="x").on(t, 2 * np.sin(2 * np.pi * 5 * t))
        self.assertAlmostEqual(wave, np.sqrt(2), places=4)
        net = Netlist.of([v("V", "a", 10.0), r("R1", "a", "m", 3e3), r("R2", "m", "0", 1e3)])
        self.assertAlmostEqual(of(net, 1e-3, "mean", "m", over="a"), 0.25, places=9)

    def test_what_makes_no_sense_is_refused(self) -> None:
        for wrong in (
            {"after": 2.0, "until": 1.0},
            {"what": "mean", "span": (1, 2)},
            {"span": (2, 1)},
            {"what": "mean", "since": Since(signal="a", level=1.0)},
            {"what": "transitions", "blank": 0.1},
        ):
            with self.subTest(wrong), self.assertRaises(ValueError):
                Measurement(**({"name": "m", "what": "rise", "signal": "x"} | wrong))  # type: ignore[arg-type]
