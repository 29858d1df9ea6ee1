"""Whole little circuits with exact or independently integrated answers. Each test derives its oracle by
another method.
"""

import unittest

import numpy as np
from hexlet_core.cards import catalogue, derive
from hexlet_core.circuit.devices import (
    Bipolar,
    Capacitor,
    ContactSwitch,
    Diode,
    Inductor,
    Mosfet,
    Resistor,
    VoltageSource,
)
from hexlet_core.circuit.devices.base import thermal_voltage
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.circuit.waves import Waves
from scipy.optimize import brentq

from . import references
from .circuits import integrate

V_T = thermal_voltage(25.0)


def rising(waves: Waves, name: str, level: float) -> np.ndarray:
    """Times at which a node rises through a level."""
    v, t = waves[name], waves.time
    k = np.flatnonzero((v[:-1] < level) & (v[1:] >= level))
    return np.asarray(t[k] + (level - v[k]) / (v[k + 1] - v[k]) * (t[k + 1] - t[k]))


def overdrive(i: float, beta: float, n: float = 1.4) -> float:
    """Gate voltage above threshold for a saturated current: i = 2nβV_T²·ln²(1 + exp(v/(2nV_T)))
    turned round.
    """
    root = np.sqrt(i / (2 * n * beta * V_T**2))
    return float(2 * n * V_T * np.log(np.expm1(root)))


class TwoTransistors(unittest.TestCase):
    def pair(self, *more: object, couple: object = None) -> Netlist:
        q = {"i_s": 1e-15, "beta_f": 150.0}
        devices: list[object] = [
            VoltageSource(name="V", a="plus", b="0", value=5.0),
            Resistor(name="RC1", a="plus", b="c1", resistance=1e3),
            Resistor(name="RC2", a="plus", b="c2", resistance=1e3),
            Bipolar(name="Q1", c="c1", b="b1", e="0", **q),
            Bipolar(name="Q2", c="c2", b="b2", e="0", **q),
            *more,
        ]
        return Netlist.of(devices)  # type: ignore[arg-type]

    def test_astable_period(self) -> None:
        """Oracle: each base climbs on RC towards V_CC, from V_BE,sat − (V_CC − V_CE) to where the loop's gain
        passes 1.
        """
        r, c = 47e3, 1e-7
        net = self.pair(
            Resistor(name="RB1", a="plus", b="b1", resistance=r),
            Resistor(name="RB2", a="plus", b="b2", resistance=r * 1.001),
            Capacitor(name="C1", a="c1", b="b2", capacitance=c),
            Capacitor(name="C2", a="c2", b="b1", capacitance=c),
        )
        waves = transient(net, 0.08, from_rest=True, rtol=1e-4)
        rises = rising(waves, "c1", 2.5)
        period = float(np.diff(rises[3:]).mean())
        v_sat, v_ce = V_T * np.log(5e-3 / 1e-15), 0.05
        v_fire = V_T * np.log(V_T / 1e3 / 1e-15)  # where one stage's gain passes 1: g_m·R_C = 1
        half = r * c * np.log((5.0 - (v_sat - (5.0 - v_ce))) / (5.0 - v_fire))
        self.assertAlmostEqual(period, 2 * half, delta=0.02 * period)

    def test_astable_against_its_state_equations(self) -> None:
        """Oracle: the same transistors and capacitors as four state equations, integrated by
        another package.
        """
        waves = transient(references.astable(), 4.0, from_rest=True)
        ours = float(np.diff(rising(waves, "b1", 0.3)[1:]).mean())
        t, y = references.integrated(
            references.astable_rhs,
            np.array([0.1, 0.0, 0.0, 0.0]),
            [(0.0, 4.0, ())],
            "LSODA",
            1e-6,
            max_step=0.2,
        )
        k = np.flatnonzero((y[1][:-1] < 0.3) & (y[1][1:] >= 0.3))
        exact = float(
            np.diff((t[k] + (0.3 - y[1][k]) / (y[1][k + 1] - y[1][k]) * (t[k + 1] - t[k]))[1:]).mean()
        )
        self.assertAlmostEqual(ours, exact, delta=0.001 * exact)

    def test_bistable_keeps_the_side_it_was_put_on(self) -> None:
        """Oracle: the button's side. Pulling one base down turns its transistor off, and it stays so after
        release.
        """
        cross = [
            Resistor(name="RB1", a="c2", b="b1", resistance=10e3),
            Resistor(name="RB2", a="c1", b="b2", resistance=10e3),
        ]
        for button, off, on in (("b1", "c1", "c2"), ("b2", "c2", "c1")):
            press = ContactSwitch(name="S", a=button, b="0", times=[1e-3, 2e-3], on_resistance=1.0)
            waves = transient(self.pair(*cross, press), 4e-3)
            self.assertGreater(waves[off][-1], 4.0)
            self.assertLess(waves[on][-1], 0.3)

    def test_emitter_follower(self) -> None:
        """Oracle: V_E = V_B − V_T·ln(I_C/I_S), solved for the current by bisection."""
        net = Netlist.of(
            [
                VoltageSource(name="V", a="plus", b="0", value=12.0),
                VoltageSource(name="VB", a="b", b="0", value=5.0),
                Bipolar(name="Q", c="plus", b="b", e="e", i_s=1e-14, beta_f=100.0, early=1e6),
                Resistor(name="RE", a="e", b="0", resistance=1e3),
            ]
        )
        v = brentq(lambda v: v / 1e3 - 1e-14 * np.exp((5.0 - v) / V_T) * 1.01, 3, 5)
        self.assertAlmostEqual(operating_point(net)["e"], float(v), delta=2e-3)


class Gates(unittest.TestCase):
    def test_capacitor_held_gate(self) -> None:
        """Oracle: t = RC·ln(V0/V_off), V_off where the channel still carries half the load's current."""
        r, c = 1e6, 1e-6
        q = Mosfet(
            name="Q", g="g", d="d", s="0", beta=0.5, v_th=2.0, c_gs=1e-12, c_gd_low=1e-13, c_gd_high=1.1e-13
        )
        net = Netlist.of(
            [
                VoltageSource(name="V", a="plus", b="0", value=9.0),
                ContactSwitch(name="S", a="plus", b="g", closed=True, times=[0.1]),
                Resistor(name="R", a="g", b="0", resistance=r),
                Capacitor(name="C", a="g", b="0", capacitance=c),
                Resistor(name="RL", a="plus", b="d", resistance=1e3),
                q,
            ]
        )
        waves = transient(net, 3.0)
        held = float(rising(waves, "d", 4.5)[0]) - 0.1
        end = 9.0 * r / (r + 1e9)  # the open switch still leaks a gigaohm's worth
        tau = c / (1 / r + 1 / 1e9)
        self.assertAlmostEqual(
            held, tau * np.log((9.0 - end) / (2.0 + overdrive(4.5e-3, 0.5) - end)), delta=0.005 * held
        )

    def test_p_mosfet_high_side_with_pull_up(self) -> None:
        """Oracle: the gate climbs on RC to the supply; the output falls when |V_GS| passes what half the
        load's current needs.
        """
        r, c = 100e3, 1e-8
        q = Mosfet(
            name="Q",
            polarity="p",
            g="g",
            d="out",
            s="plus",
            beta=2.0,
            v_th=2.0,
            c_gs=c,
            c_gd_low=1e-14,
            c_gd_high=1.1e-14,
        )
        net = Netlist.of(
            [
                VoltageSource(name="V", a="plus", b="0", value=12.0),
                Resistor(name="RPU", a="plus", b="g", resistance=r),
                ContactSwitch(name="S", a="g", b="0", closed=True, times=[1e-3], on_resistance=10.0),
                Resistor(name="RL", a="out", b="0", resistance=100.0),
                q,
            ]
        )
        waves = transient(net, 6e-3, rtol=1e-4)
        self.assertAlmostEqual(waves["out"][0], 12.0, delta=0.1)
        k = int(np.argmax((waves["out"] < 6.0) & (waves.time > 1e-3)))
        fell = float(np.interp(6.0, waves["out"][[k, k - 1]], waves.time[[k, k - 1]])) - 1e-3
        self.assertAlmostEqual(
            fell, r * c * np.log(12.0 * (1 - 1e-4) / (2.0 + overdrive(0.06, 2.0))), delta=0.005 * fell
        )

    def test_channel_is_smooth_and_rises_with_the_gate(self) -> None:
        """Oracle: monotony, over eight decades from subthreshold to triode."""
        last = 0.0
        for v in np.linspace(0.2, 5.0, 60):
            net = Netlist.of(
                [
                    VoltageSource(name="G", a="g", b="0", value=float(v)),
                    VoltageSource(name="D", a="d", b="0", value=1.0),
                    Mosfet(name="Q", g="g", d="d", s="0"),
                ]
            )
            i = operating_point(net).current("Q", "d")
            self.assertGreater(i, last)
            last = i

    def test_on_resistance_rises_half_a_percent_a_kelvin(self) -> None:
        card = catalogue()["nmos-55v-5a-logic"]

        def ohms(celsius: float) -> float:
            q = Mosfet(name="Q", g="g", d="d", s="0", **derive.mosfet(card, celsius))  # type: ignore[arg-type]
            return (
                operating_point(
                    Netlist.of(
                        [
                            VoltageSource(name="G", a="g", b="0", value=10.0),
                            VoltageSource(name="V", a="p", b="0", value=1.0),
                            Resistor(name="R", a="p", b="d", resistance=10.0),
                            q,
                        ]
                    )
                )["d"]
                / 0.1
            )

        self.assertAlmostEqual(ohms(75.0) / ohms(25.0), 1.25, delta=0.03)


class Others(unittest.TestCase):
    def test_series_rlc(self) -> None:
        """Oracle: the closed form of an overdamped series circuit."""
        r, l, c = 200.0, 1e-3, 1e-6
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", points=[(0.0, 0.0), (1e-4, 0.0), (1e-4, 10.0)]),
                Inductor(name="L", a="a", b="m", inductance=l, resistance=r),
                Capacitor(name="C", a="m", b="0", capacitance=c),
            ]
        )
        # A capacitor alone leaves the node without a path for direct current: give it one that changes
        # nothing.
        net = Netlist.of([*net.devices, Resistor(name="RX", a="m", b="0", resistance=1e12)])
        waves = transient(net, 1.5e-3, rtol=1e-5)
        alpha, w2 = r / (2 * l), 1 / (l * c)
        s1, s2 = -alpha + np.sqrt(alpha**2 - w2), -alpha - np.sqrt(alpha**2 - w2)
        t = np.maximum(waves.time - 1e-4, 0)
        exact = 10 * (1 + (s2 * np.exp(s1 * t) - s1 * np.exp(s2 * t)) / (s1 - s2))
        self.assertLess(np.abs(waves["m"] - exact).max(), 5e-3)

    def test_diode_charges_a_capacitor(self) -> None:
        """Oracle: C·dv/dt = (V − v − V_D)/R with the diode's voltage by its own equation, integrated by
        another package.
        """
        i_s, r, c = 1e-9, 100.0, 1e-5
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", points=[(0.0, 0.0), (1e-3, 0.0), (1e-3, 5.0)]),
                Resistor(name="R", a="a", b="d", resistance=r),
                Diode(name="D", a="d", k="x", i_s=i_s, ideality=1.8),
                Capacitor(name="C", a="x", b="0", capacitance=c),
                Resistor(name="RX", a="x", b="0", resistance=1e9),
            ]
        )
        waves = transient(net, 8e-3)

        def current(v: float) -> float:
            return float(brentq(lambda i: 5.0 - v - i * r - 1.8 * V_T * np.log(i / i_s + 1), 0, 0.05))

        exact = integrate(
            lambda t, y: np.array([current(float(y[0])) / c]), [0.0], (0, 0.01), lambda t, y: y[0] - 3.0
        )
        self.assertAlmostEqual(float(rising(waves, "x", 3.0)[0]) - 1e-3, exact, delta=0.005 * exact)

    def test_supply_ramp_and_operating_point_agree(self) -> None:
        """Oracle: the same circuit solved at rest."""
        card = catalogue()["npn-40v-200ma"]

        def net(points: list[tuple[float, float]], value: float) -> Netlist:
            return Netlist.of(
                [
                    VoltageSource(name="V", a="plus", b="0", value=value, points=points),
                    Resistor(name="RB", a="plus", b="b", resistance=10e3),
                    Resistor(name="RC", a="plus", b="c", resistance=470.0),
                    Bipolar(name="Q", c="c", b="b", e="0", **derive.bipolar(card)),  # type: ignore[arg-type]
                ]
            )

        ramped = transient(net([(0.0, 0.0), (1e-3, 12.0)], 0.0), 3e-3)
        still = operating_point(net([], 12.0))
        for name in ("b", "c"):
            self.assertAlmostEqual(float(ramped[name][-1]), still[name], delta=2e-3)
