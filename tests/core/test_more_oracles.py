"""Timers, latches, soft starts, lamps: whole circuits against answers found by another method, named in each
test.
"""

import unittest
from typing import Any

import numpy as np
from hexlet_core.circuit.devices import (
    Bipolar,
    Button,
    Capacitor,
    ContactSwitch,
    Counter,
    Diode,
    Inductor,
    Lamp,
    Meter,
    Mosfet,
    Optocoupler,
    Potentiometer,
    Press,
    Sine,
    Thyristor,
    Timer,
    VoltageSource,
)
from hexlet_core.circuit.devices.base import thermal_voltage
from hexlet_core.circuit.measure import Measurement, crossings
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.circuit.states import all_states
from hexlet_core.circuit.waves import Waves
from scipy.integrate import solve_ivp
from scipy.optimize import brentq
from scipy.special import lambertw

from . import references
from .registered import PMOS, RECTIFIER, c, npn, oscillator, r, registered, v

V_T = thermal_voltage(25.0)


def toggles(waves: Waves, name: str, index: int = 0) -> np.ndarray:
    return np.asarray(waves.time[np.flatnonzero(np.diff(waves.state(name, index))) + 1])


class Timers(unittest.TestCase):
    def shot(self, *more: Any, ra: float = 100e3, cap: float = 1e-5, **timer: float) -> Waves:
        net = Netlist.of(
            [
                v("V", "plus", 12.0),
                r("RT", "plus", "trig", 10e3),
                Button(name="S", com="trig", no="0", presses=[Press(at=0.05, hold=0.05)], travel=0.0),
                r("R", "plus", "cap", ra),
                c("C", "cap", "0", cap),
                Timer(
                    name="U",
                    vcc="plus",
                    trig="trig",
                    thr="cap",
                    dis="cap",
                    reset="plus",
                    out="out",
                    r_discharge=10.0,
                    **timer,
                ),
                r("RL", "out", "0", 1e4),
                *more,
            ]
        )
        return transient(net, 2.5)

    def width(self, waves: Waves) -> float:
        begin, end = toggles(waves, "U")[:2]
        return float(end - begin)

    def test_one_shot(self) -> None:
        """Oracle: R·C·ln 3, from the residual voltage V·r/(R + r) that the discharge transistor leaves."""
        rest = 12.0 * 10 / (100e3 + 10)
        self.assertAlmostEqual(self.width(self.shot()), 1.0 * np.log((12 - rest) / 4.0), delta=1e-4)

    def test_one_shot_with_leakage_and_a_meter(self) -> None:
        """Oracle: the same with the Thevenin source of R against everything that loads the node."""
        for extra, ohms in (
            ([Meter(name="M", red="cap", resistance=1e6)], 1e6),
            ([r("RL2", "cap", "0", 3e6)], 3e6),
        ):
            load = 100e3 * ohms / (100e3 + ohms)
            top = 12.0 * ohms / (100e3 + ohms)
            rest = 12.0 * 10 / (100e3 + 10)
            exact = load * 1e-5 * np.log((top - rest) / (top - 8.0))
            self.assertAlmostEqual(self.width(self.shot(*extra)), exact, delta=5e-4 * exact)

    def test_bias_current_lengthens(self) -> None:
        """Oracle: a constant current out of the node lowers what it climbs to by I·R."""
        top = 12.0 - 1e-6 * 100e3
        exact = np.log(top / (top - 8.0))
        self.assertAlmostEqual(self.width(self.shot(threshold_bias=1e-6)), exact, delta=2e-3 * exact)

    def astable(self, *steer: Any, ra: float, rb: float, cap: float) -> tuple[float, float]:
        path: list[Any] = list(steer) or [r("RB", "dis", "cap", rb)]
        net = Netlist.of(
            [
                v("V", "plus", 9.0),
                r("RA", "plus", "dis", ra),
                *path,
                c("C", "cap", "0", cap),
                Timer(
                    name="U",
                    vcc="plus",
                    trig="cap",
                    thr="cap",
                    dis="dis",
                    reset="plus",
                    out="out",
                    r_discharge=1.0,
                    discharge_limit=10.0,
                ),
                r("RL", "out", "0", 1e4),
            ]
        )
        waves = transient(net, 8 * (ra + 2 * rb) * cap, from_rest=True)
        gaps = np.diff(toggles(waves, "U"))[2:6]
        high = waves.state("U", 0)[np.searchsorted(waves.time, toggles(waves, "U")[2])] > 0.5
        return (float(gaps[0]), float(gaps[1])) if high else (float(gaps[1]), float(gaps[0]))

    def test_astable(self) -> None:
        """Oracle: ln 2·(RA + RB)·C and ln 2·RB·C."""
        high, low = self.astable(ra=10e3, rb=47e3, cap=1e-8)
        self.assertAlmostEqual(high, np.log(2) * 57e3 * 1e-8, delta=1e-4 * high)
        self.assertAlmostEqual(low, np.log(2) * 47e3 * 1e-8, delta=1e-3 * low)

    def test_event_times_do_not_depend_on_the_step_tolerance(self) -> None:
        """Oracle: the closed form, within 1e-4 at any tolerance of the steps."""
        net = Netlist.of(
            [
                v("V", "plus", 9.0),
                r("RA", "plus", "dis", 10e3),
                r("RB", "dis", "cap", 68e3),
                c("C", "cap", "0", 1e-8),
                r("RL", "out", "0", 1e4),
                Timer(
                    name="U",
                    vcc="plus",
                    trig="cap",
                    thr="cap",
                    dis="dis",
                    reset="plus",
                    out="out",
                    discharge_limit=10.0,
                ),
            ]
        )
        exact = np.log(2) * 78e3 * 1e-8
        for rtol in (1e-2, 1e-3, 1e-5):
            waves = transient(net, 0.01, from_rest=True, rtol=rtol)
            gaps = np.diff(toggles(waves, "U"))
            self.assertAlmostEqual(
                float(gaps[2] if gaps[2] > gaps[1] else gaps[1]), exact, delta=1e-4 * exact
            )

    def test_astable_with_steering_diode(self) -> None:
        """Oracle: the diode's own law in the charging path, integrated by another package."""
        i_s, n = 1e-9, 1.8
        ra, rb, cap = 10e3, 47e3, 1e-8
        steer = [
            r("RB", "dis", "cap", rb),
            Diode(name="D", a="dis", k="cap", i_s=i_s, ideality=n, capacitance=1e-13),
        ]
        high, _ = self.astable(*steer, ra=ra, rb=rb, cap=cap)

        def charge(t: float, y: np.ndarray) -> list[float]:
            def miss(drop: float) -> float:
                return float((9.0 - y[0] - drop) / ra - drop / rb - i_s * np.expm1(drop / (n * V_T)))

            drop = float(brentq(miss, 0.0, 1.5))
            return [(9.0 - y[0] - drop) / ra / cap]

        def full(t: float, y: np.ndarray) -> float:
            return float(y[0] - 6.0)

        full.terminal = True  # type: ignore[attr-defined]
        found = solve_ivp(charge, (0, 1e-3), [3.0], rtol=1e-9, atol=1e-12, events=full)
        self.assertAlmostEqual(high, float(np.asarray(found.t_events)[0][0]), delta=1e-3 * high)

    def test_reset_beats_trigger_and_trigger_beats_threshold(self) -> None:
        """Oracle: the chip's own table of states."""

        def output(reset: float, trig: float, thr: float) -> bool:
            net = Netlist.of(
                [
                    v("V", "plus", 9.0),
                    v("VR", "rs", reset),
                    v("VT", "tr", trig),
                    v("VH", "th", thr),
                    r("RL", "out", "0", 1e4),
                    Timer(name="U", vcc="plus", trig="tr", thr="th", reset="rs", out="out"),
                ]
            )
            return operating_point(net)["out"] > 4.0

        self.assertFalse(output(0.0, 1.0, 1.0))
        self.assertTrue(output(9.0, 1.0, 8.0))
        self.assertFalse(output(9.0, 8.0, 8.0))
        self.assertFalse(output(9.0, 5.0, 4.0))  # between the thresholds it keeps its state

    def test_counter_taps(self) -> None:
        """Oracle: counting from zero tap n first rises after 2ⁿ⁻¹ falling edges of the clock."""
        taps = {1: "q1", 2: "q2", 4: "q4"}
        clock = VoltageSource(
            name="CK", a="clk", b="0", points=[(0.0, 0.0), (5e-4, 0.0), (5e-4, 5.0), (1e-3, 5.0)], period=1e-3
        )
        net = Netlist.of(
            [
                v("V", "plus", 5.0),
                clock,
                Counter(name="N", vdd="plus", clk="clk", reset="0", taps=taps),
                *(r(f"R{n}", q, "0", 1e5) for n, q in taps.items()),
            ]
        )
        waves = transient(net, 0.0199, h_max=1e-3)
        for n, node in taps.items():
            first = crossings(waves.time, waves[node], 2.5, "rise")[0]
            self.assertAlmostEqual(first, 2 ** (n - 1) * 1e-3, delta=1e-6, msg=node)

    def test_a_pulse_shorter_than_the_delay_is_not_seen(self) -> None:
        """Oracle: the stated minimum pulse."""
        for hold, fires in ((2e-6, False), (2e-5, True)):
            press = [Press(at=1e-3, hold=hold)]
            net = Netlist.of(
                [
                    v("V", "plus", 9.0),
                    r("RT", "plus", "trig", 1e3),
                    Button(name="S", com="trig", no="0", presses=press, travel=0.0),
                    r("R", "plus", "cap", 1e4),
                    c("C", "cap", "0", 1e-7),
                    Timer(
                        name="U",
                        vcc="plus",
                        trig="trig",
                        thr="cap",
                        dis="cap",
                        reset="plus",
                        out="out",
                        delay=1e-5,
                    ),
                    r("RL", "out", "0", 1e4),
                ]
            )
            self.assertEqual(bool(transient(net, 2e-3).state("U", 0).max() > 0.5), fires)


class Latches(unittest.TestCase):
    def bistable(self, *more: Any) -> Netlist:
        return Netlist.of(
            [
                v("V", "plus", 5.0),
                r("RC1", "plus", "c1", 1e3),
                r("RC2", "plus", "c2", 1e3),
                r("RB1", "c2", "b1", 10e3),
                r("RB2", "c1", "b2", 10e3),
                npn("Q1", "c1", "b1"),
                npn("Q2", "c2", "b2"),
                *more,
            ]
        )

    def test_all_states(self) -> None:
        """Oracle: symmetry. Two stable states that mirror each other, and the balanced one between, which is
        not.
        """
        states = all_states(self.bistable())
        stable = [s.point for s in states if s.stable]
        self.assertEqual((len(stable), len(states)), (2, 3))
        self.assertAlmostEqual(stable[0]["c1"], stable[1]["c2"], delta=1e-3)
        self.assertAlmostEqual(states[2].point["c1"], states[2].point["c2"], delta=1e-3)

    def test_growth_is_what_a_transient_shows(self) -> None:
        """Oracle: a disturbance of the balanced state grows as exp(s·t), seen in a transient from there."""
        balanced = all_states(self.bistable())[2]
        kick = [
            ContactSwitch(name="S", a="c1", b="k", times=[1e-9], on_resistance=1e3, off_resistance=1e12),
            v("VK", "k", balanced.point["c1"] + 1e-3),
        ]
        start = {n: balanced.point[n] for n in ("c1", "c2", "b1", "b2")}
        waves = transient(
            self.bistable(*kick), 60 / balanced.growth, guess=start, rtol=1e-6, h_max=0.1 / balanced.growth
        )
        off = np.abs(waves["c1"] - waves["c2"])
        k = (off > 0.002) & (off < 0.02) & (waves.time > 1e-9)
        slope = np.polyfit(waves.time[k], np.log(off[k]), 1)[0]
        self.assertAlmostEqual(slope, balanced.growth, delta=0.1 * balanced.growth)

    def test_a_wanted_state_is_found(self) -> None:
        """Oracle: the side that is named is the one that is off."""
        for low, high in (("c1", "c2"), ("c2", "c1")):
            point = operating_point(self.bistable(), guess={low: 0.0, high: 5.0})
            self.assertGreater(point[high] - point[low], 3.0)

    def test_both_buttons_held(self) -> None:
        """Oracle: both bases at ground, both transistors off: the collectors divide RC against the other's RB
        into nothing.
        """
        both = [r("S1", "b1", "0", 0.1), r("S2", "b2", "0", 0.1)]
        point = operating_point(self.bistable(*both))
        for node in ("c1", "c2"):
            self.assertAlmostEqual(point[node], 5.0 * 10e3 / 11e3, delta=5e-3)

    def test_one_shot_of_two_transistors(self) -> None:
        """Oracle: four state equations with the transistors' own charges, integrated by another package."""
        pulse = [(0.0, 0.0), (0.1, 0.0), (0.1, 5.0), (0.101, 5.0), (0.101, 0.0)]
        q = references.MODEL
        net = Netlist.of(
            [
                v("V", "plus", 5.0),
                r("RC1", "plus", "c1", 1e3),
                r("RC2", "plus", "c2", 1e3),
                r("RB2", "plus", "b2", 47e3),
                c("C", "c1", "b2", 1e-6),
                r("RF", "c2", "b1", 10e3),
                Bipolar(name="Q1", c="c1", b="b1", e="0", **q),
                Bipolar(name="Q2", c="c2", b="b2", e="0", **q),
                VoltageSource(name="VS", a="s", b="0", points=pulse),
                r("RS", "s", "b1", 4.7e3),
            ]
        )
        waves = transient(net, 0.3)
        at_rest = np.array([waves[n][0] for n in ("c1", "b1", "c2", "b2")])
        pieces = [(0.0, 0.1, (0.0,)), (0.1, 0.101, (5.0,)), (0.101, 0.3, (0.0,))]
        t, y = references.integrated(references.one_shot_rhs, at_rest, pieces, "LSODA", 1e-7)

        def width(time: np.ndarray, c2: np.ndarray) -> float:
            return float(crossings(time, c2, 2.5, "fall")[0] - crossings(time, c2, 2.5, "rise")[0])

        exact = width(t, y[2])
        self.assertAlmostEqual(width(waves.time, waves["c2"]), exact, delta=0.002 * exact)

    def test_thyristor_holds_and_lets_go(self) -> None:
        """Oracle: the two-transistor equivalent's own formula for the holding current."""
        q = Thyristor(name="T", a="a", k="0", g="g", r_gk=1e3, gain_n=20.0, alpha_p=0.3)
        hold = 20.0 * 0.6 / (1e3 * (21 * 0.3 - 1))
        pulse = VoltageSource(
            name="VG", a="gs", b="0", points=[(0.0, 0.0), (1e-3, 0.0), (1e-3, 5.0), (2e-3, 5.0), (2e-3, 0.0)]
        )
        for amps, stays in ((hold * 2.0, True), (hold * 0.5, False)):
            net = Netlist.of(
                [
                    v("V", "plus", 12.0),
                    r("RL", "plus", "a", 11.0 / amps),
                    q,
                    pulse,
                    Diode(name="DG", a="gs", k="gd"),
                    r("RG", "gd", "g", 2.2e3),
                ]
            )
            waves = transient(net, 5e-3)
            self.assertLess(float(np.interp(1.9e-3, waves.time, waves["a"])), 2.0)
            self.assertEqual(bool(waves["a"][-1] < 2.0), stays, amps)


class Power(unittest.TestCase):
    def test_led_and_resistor(self) -> None:
        """Oracle: the Lambert W function's closed form for a diode behind a resistor."""
        i_s, n, ohms, volts = 1e-18, 2.0, 330.0, 5.0
        point = operating_point(
            Netlist.of(
                [
                    v("V", "a", volts),
                    r("R", "a", "k", ohms),
                    Diode(name="D", a="k", k="0", i_s=i_s, ideality=n),
                ]
            )
        )
        scale = n * V_T
        exact = scale / ohms * lambertw(i_s * ohms / scale * np.exp((volts + i_s * ohms) / scale)).real - i_s
        self.assertAlmostEqual(point.current("D", "a"), exact, delta=1e-4 * exact)

    def test_rc_across_a_coil(self) -> None:
        """Oracle: the free ring of the coil's L with R and C of the snubber, as two state equations of
        another package.
        """
        coil, l, r_s, cap = 96.0, 0.45, 100.0, 1e-6
        net = Netlist.of(
            [
                v("V", "plus", 12.0),
                ContactSwitch(
                    name="S", a="x", b="0", closed=True, times=[0.05], on_resistance=1e-3, off_resistance=1e12
                ),
                Inductor(name="L", a="plus", b="x", inductance=l, resistance=coil),
                r("RS", "plus", "s", r_s),
                c("C", "s", "x", cap),
                r("RX", "s", "x", 1e9),
            ]
        )
        waves = transient(net, 0.08)

        def ring(t: float, y: np.ndarray) -> list[float]:
            i, u = y  # coil current; capacitor voltage from the snubber's node to the drain
            return [(-coil * i - r_s * i + u) / l, -i / cap]

        moments = np.linspace(1e-4, 0.029, 60)
        found = solve_ivp(
            ring, (0, 0.03), [0.125, 12.0 * 0 + 12.0], method="Radau", rtol=1e-9, atol=1e-12, t_eval=moments
        )
        np.testing.assert_allclose(
            np.interp(moments + 0.05, waves.time, waves["i(L)"]), found.y[0], atol=0.005 * 0.125
        )

    def test_lamp_inrush(self) -> None:
        """Oracle: the filament's heat balance, integrated by another package behind the same source
        resistance.
        """
        lamp = Lamp(name="L", a="x", b="0", volts=12.0, watts=5.0)
        g_cold, exponent, share, loss, capacity, _ = lamp.numbers()
        waves = transient(registered()["lamp"].netlist, 0.3)

        def heat(t: float, y: np.ndarray) -> list[float]:
            ohms = (1 + y[0]) ** exponent / g_cold
            at_lamp = 12.0 * ohms / (ohms + 0.11)
            return [(at_lamp**2 / ohms * share - ((1 + y[0]) ** 4 - 1) * loss) / (capacity * 298.15)]

        moments = np.array([0.001, 0.01, 0.04, 0.09, 0.24])
        found = solve_ivp(heat, (0, 0.29), [0.0], method="Radau", rtol=1e-9, atol=1e-10, t_eval=moments)
        np.testing.assert_allclose(
            np.interp(moments + 0.01, waves.time, waves["T(L)"] / 298.15), found.y[0], atol=0.005 * 8
        )
        peak = float(waves.current("L", "a").max())
        self.assertAlmostEqual(peak, 12.0 / (1 / g_cold + 0.11), delta=0.02 * peak)
        self.assertAlmostEqual(float(waves.conduction("L", "a")[-1]), 5.0 / 12.0, delta=0.02)

    def test_soft_start_with_a_miller_capacitor(self) -> None:
        """Oracle: on the plateau the gate's current all goes into C_m, so dV_out/dt = I/C_m while the channel
        follows.
        """
        waves = transient(registered()["soft_start"].netlist, 1.5)
        inside = waves.time[(waves["out"] > 3.0) & (waves["out"] < 8.0)]
        even = np.linspace(inside[0], inside[-1], 200)
        out, g, plus = (np.interp(even, waves.time, waves[n]) for n in ("out", "g", "plus"))
        slope, drift, sag = (float(np.polyfit(even, x, 1)[0]) for x in (out, g, plus))
        into = float((g / 47e3 - (plus - g) / 100e3).mean())  # the gate gives way as the load takes more
        self.assertAlmostEqual(
            slope, (into + 1e-6 * drift + 4.7e-6 * (drift - sag)) / 1e-6, delta=0.005 * slope
        )

    def test_two_diode_drop_cut_off(self) -> None:
        """Oracle: the transistor's base sees the divider less two drops; the supply where it lets go by
        bisection.
        """
        i_s, n = 1e-9, 1.8

        def gate(volts: float) -> float:
            net = Netlist.of(
                [
                    v("V", "plus", volts),
                    r("R1", "plus", "m", 33e3),
                    r("R2", "m", "0", 10e3),
                    Diode(name="D1", a="m", k="x", i_s=i_s, ideality=n),
                    Diode(name="D2", a="x", k="b", i_s=i_s, ideality=n),
                    r("RB", "b", "0", 100e3),
                    Bipolar(name="Q", c="c", b="b", e="0", i_s=1e-14, beta_f=200.0),
                    r("RC", "plus", "c", 10e3),
                ]
            )
            return operating_point(net)["c"] - volts / 2

        threshold = brentq(gate, 5.0, 14.0)
        v_b = V_T * np.log(threshold / 2 / 10e3 / 1e-14)
        i = v_b / 100e3 + threshold / 2 / 10e3 / 200.0
        drop = n * V_T * np.log(i / i_s + 1)
        self.assertAlmostEqual(threshold, (v_b + 2 * drop) * 4.3 + i * 33e3, delta=0.005 * threshold)

    def test_schmitt_oscillator(self) -> None:
        """Oracle: 2RC·ln((1 + k)/(1 − k)) with the swing at the loaded output."""
        circuit = oscillator()
        waves = transient(circuit.netlist, circuit.stop, from_rest=True)
        period = Measurement(name="T", what="period", signal="out", after=5e-3).of(waves)
        self.assertAlmostEqual(period, 2e-3 * np.log(3), delta=0.005 * period)

    def test_snubber_on_rectified_ac(self) -> None:
        """Oracle: three state equations (smoothing and snubber capacitors, inductor), the bridge's current
        from its two diodes' law by bisection, integrated by another package.
        """
        waves = transient(registered()["rectifier"].netlist, 0.1)
        i_s, slope, ohms = RECTIFIER["i_s"], 2 * RECTIFIER["ideality"] * V_T, 2 * RECTIFIER["r_series"] + 0.5

        def bridge(t: float, out: float) -> float:
            left = abs(33.9 * np.sin(2 * np.pi * 50 * t)) - out
            if left <= 0:
                return 0.0
            return float(brentq(lambda i: left - i * ohms - slope * np.log1p(i / i_s), 0.0, left / ohms))

        def states(t: float, y: np.ndarray) -> list[float]:
            out, across, coil = y
            snub = (out - across) / 100.0
            return [
                (bridge(t, out) - out / 220.0 - coil - snub) / 4.7e-4,
                snub / 1e-7,
                (out - 470.0 * coil) / 0.05,
            ]

        moments = np.linspace(0.02, 0.099, 120)
        found = solve_ivp(
            states,
            (0, 0.1),
            [0.0, 0.0, 0.0],
            method="LSODA",
            rtol=1e-7,
            atol=1e-9,
            t_eval=moments,
            max_step=2e-4,
        )
        np.testing.assert_allclose(
            np.interp(moments, waves.time, waves["p"] - waves["n"]), found.y[0], atol=0.005 * 33
        )
        np.testing.assert_allclose(
            np.interp(moments, waves.time, waves["i(L)"]), found.y[2], atol=0.005 * 0.07
        )

    def test_power_on_by_a_supply_ramp(self) -> None:
        """Oracle: the state that the same circuit rests in."""
        ramp = VoltageSource(name="V", a="plus", b="0", points=[(0.0, 0.0), (0.2, 12.0)])
        net = Netlist.of(
            [
                ramp,
                Mosfet(name="Q", g="g", d="out", s="plus", **PMOS),
                r("RG", "plus", "g", 100e3),
                r("RD", "g", "0", 47e3),
                r("RL", "out", "0", 100.0),
            ]
        )
        ramped = transient(net, 0.4)
        still = operating_point(Netlist.of([v("V", "plus", 12.0), *net.devices[1:]]))
        for node in ("g", "out"):
            self.assertAlmostEqual(float(ramped[node][-1]), still[node], delta=5e-3)

    def test_a_capacitor_starts_where_it_was_left(self) -> None:
        """Oracle: exponential decay from the initial voltage, through resistor and ESR."""
        net = Netlist.of(
            [
                Capacitor(name="C", a="x", b="0", capacitance=1e-5, esr=10.0, initial=9.0),
                r("R", "x", "0", 90.0),
            ]
        )
        waves = transient(net, 4e-3, from_rest=True)
        k = waves.time > 1e-8
        self.assertLess(np.abs(waves["x"][k] - 8.1 * np.exp(-waves.time[k] / 1e-3)).max(), 0.02)

    def test_potentiometer_turned(self) -> None:
        """Oracle: the divider at each moment."""
        net = Netlist.of(
            [
                v("V", "a", 10.0),
                Potentiometer(
                    name="P",
                    a="0",
                    w="w",
                    b="a",
                    resistance=1e4,
                    turns=[(0.0, 0.0), (1.0, 1.0)],
                    end_resistance=2.0,
                ),
            ]
        )
        waves = transient(net, 1.0)
        np.testing.assert_allclose(waves["w"], 10 * (2 + 1e4 * waves.time) / (1e4 + 4), atol=1e-3)

    def test_optocoupler_transfer_saturation_and_speed(self) -> None:
        """Oracle: the stated transfer with the transistor active; a collector resistor that cannot carry it
        saturates.
        """
        opto = Optocoupler(name="O", a="a", k="0", c="c", e="0", transfer=1.0, knee=1e6)
        led = [VoltageSource(name="VI", a="in", b="0", value=5.0), r("RI", "in", "a", 680.0), opto]
        active = operating_point(Netlist.of([*led, v("VC", "c", 5.0)]))
        self.assertAlmostEqual(
            active.current("O", "c"), active.current("O", "a"), delta=0.01 * active.current("O", "a")
        )
        saturated = operating_point(Netlist.of([*led, v("VC", "plus", 5.0), r("RC", "plus", "c", 10e3)]))
        self.assertLess(saturated["c"], 0.3)

    def test_ac_source(self) -> None:
        """Oracle: an RC low-pass in steady state: amplitude 1/√(1 + (ωRC)²)."""
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", sine=Sine(amplitude=10.0, frequency=50.0)),
                r("R", "a", "x", 1e3),
                c("C", "x", "0", 1e-5),
            ]
        )
        waves = transient(net, 0.3)
        late = waves.time > 0.2
        self.assertAlmostEqual(
            float(np.abs(waves["x"][late]).max()), 10 / np.hypot(1, 2 * np.pi * 50 * 0.01), delta=0.02
        )
