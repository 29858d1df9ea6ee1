"""The kernel against physics. Each test names the oracle that it derives by another way."""

import unittest

import numpy as np
from hexlet_core.cards import catalogue, derive
from hexlet_core.circuit import engine
from hexlet_core.circuit.devices import (
    Bipolar,
    Bounce,
    Capacitor,
    ContactSwitch,
    CurrentSource,
    Diode,
    Inductor,
    Mosfet,
    Pin,
    PinStep,
    Relay,
    Resistor,
    Sine,
    VoltageSource,
)
from hexlet_core.circuit.devices.base import thermal_voltage
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.circuit.waves import Waves
from hexlet_core.errors import NetlistError, SettleError
from scipy.optimize import brentq, fsolve
from scipy.special import lambertw

from .circuits import COIL_L, COIL_R, integrate, rc_step, step_into_coil

V_T = thermal_voltage(25.0)


def first_after(waves: Waves, values: np.ndarray, level: float, start: float = 0.0) -> float:
    """When a rising curve passes a level, straight between rows."""
    k = int(np.argmax((values >= level) & (waves.time > start)))
    t0, t1, v0, v1 = waves.time[k - 1], waves.time[k], values[k - 1], values[k]
    return float(t0 + (level - v0) / (v1 - v0) * (t1 - t0))


def toggle_times(waves: Waves, name: str, index: int = 2) -> list[float]:
    """When a discrete state changes."""
    return [float(t) for t in waves.time[np.flatnonzero(np.diff(waves.state(name, index))) + 1]]


class Linear(unittest.TestCase):
    def test_divider(self) -> None:
        """Oracle: Ohm's law."""
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", value=9.0),
                Resistor(name="R1", a="a", b="m", resistance=1e3),
                Resistor(name="R2", a="m", b="0", resistance=2e3),
            ]
        )
        point = operating_point(net)
        self.assertAlmostEqual(point["m"], 6.0, places=7)
        self.assertAlmostEqual(point.current("R2", "a"), 3e-3, places=9)
        self.assertAlmostEqual(point["i(V)"], -3e-3, places=9)

    def test_gate_rc(self) -> None:
        """Oracle: V(1 − exp(−t/RC))."""
        r, c = 4700.0, 1e-7
        waves = transient(rc_step(r - 1.0, Capacitor(name="C1", a="out", b="0", capacitance=c)), 6e-3)
        t = waves.time - 1e-3
        exact = np.where(t > 0, 5.0 * -np.expm1(-np.maximum(t, 0) / (r * c)), 0.0)
        self.assertLess(np.abs(waves["out"] - exact).max(), 5e-3)

    def test_error_falls_with_the_tolerance(self) -> None:
        """Oracle: the same closed form; the error must shrink at least fourfold for a hundredth of the
        tolerance.
        """

        def error(rtol: float) -> float:
            waves = transient(
                rc_step(4699.0, Capacitor(name="C1", a="out", b="0", capacitance=1e-7)), 6e-3, rtol=rtol
            )
            t = np.maximum(waves.time - 1e-3, 0)
            return float(np.abs(waves["out"] - 5.0 * -np.expm1(-t / 4.7e-4)).max())

        self.assertLess(error(1e-5), error(1e-3) / 4)

    def test_coil_rise_and_pull_in(self) -> None:
        """Oracle: V/R·(1 − exp(−tR/L)) with the loss resistance's 0.2 % in the time constant."""
        waves = transient(step_into_coil(), 0.03)
        tau = COIL_L / COIL_R * (1 + 1 / 500)
        t = np.maximum(waves.time - 1e-3, 0)
        exact = 12.0 / COIL_R * -np.expm1(-t / tau)
        self.assertLess(np.abs(waves["i(K1)"] - exact).max(), 0.005 * 12 / COIL_R)
        pulls = toggle_times(waves, "K1", 0)[0] - 1e-3
        self.assertAlmostEqual(pulls, -tau * np.log(1 - 0.75), delta=pulls * 0.005)

    def test_contact_follows_after_its_travel(self) -> None:
        """Oracle: travel times are given; the closing is the pull-in plus the travel exactly."""
        waves = transient(step_into_coil(operate_travel=2e-3), 0.03)
        pulls, held = toggle_times(waves, "K1", 0)
        self.assertAlmostEqual(held - pulls, 2e-3, delta=1e-9)
        self.assertEqual(toggle_times(waves, "K1", 2), [held])

    def test_lc_rings_at_its_frequency(self) -> None:
        """Oracle: f = 1/(2π√(LC)), from the zero crossings of the damped ring."""
        net = Netlist.of(
            [
                CurrentSource(name="I", a="0", b="x", points=[(0.0, 1e-3), (1e-4, 1e-3), (1e-4, 0.0)]),
                Inductor(name="L", a="x", b="0", inductance=1e-3, resistance=0.1),
                Capacitor(name="C", a="x", b="0", capacitance=1e-7),
                Resistor(name="R", a="x", b="0", resistance=1e5),
            ]
        )
        waves = transient(net, 8e-4, rtol=1e-5)
        after = waves.time > 1.2e-4
        t, v = waves.time[after], waves["x"][after]
        k = np.flatnonzero((v[:-1] < 0) & (v[1:] >= 0))
        crossings = t[k] - v[k] * (t[k + 1] - t[k]) / (v[k + 1] - v[k])
        period = np.diff(crossings).mean()
        self.assertAlmostEqual(period, 2 * np.pi * np.sqrt(1e-10), delta=period * 2e-3)

    def test_sine_source(self) -> None:
        """Oracle: the amplitude behind an RC at its corner is 1/√2."""
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", sine=Sine(amplitude=1.0, frequency=1000.0)),
                Resistor(name="R", a="a", b="x", resistance=1 / (2 * np.pi * 1e3 * 1e-7)),
                Capacitor(name="C", a="x", b="0", capacitance=1e-7),
            ]
        )
        waves = transient(net, 10e-3, rtol=1e-5)
        late = waves.time > 8e-3
        self.assertAlmostEqual(waves["x"][late].max(), 1 / np.sqrt(2), delta=5e-3)

    def test_switch_toggles_exactly_and_bounces_the_same_each_time(self) -> None:
        """Oracle: the given times; and equality of two runs for one seed, difference for another."""

        def toggles(seed: int) -> list[float]:
            net = Netlist.of(
                [
                    VoltageSource(name="V", a="a", b="0", value=5.0),
                    ContactSwitch(name="S", a="a", b="x", times=[1e-3, 5e-3], bounce=Bounce(seed=seed)),
                    Resistor(name="R", a="x", b="0", resistance=1e3),
                ]
            )
            return toggle_times(transient(net, 8e-3), "S", 0)

        found = toggles(1)
        self.assertEqual(len(found), 8)  # closing, three reopenings and closings, opening
        self.assertAlmostEqual(found[0], 1e-3, delta=1e-9)  # rows follow a jump by a fraction of a nanosecond
        self.assertAlmostEqual(found[-1], 5e-3, delta=1e-9)
        self.assertEqual(found, toggles(1))
        self.assertNotEqual(found, toggles(2))

    def test_repeating_source(self) -> None:
        """Oracle: the mean of a sawtooth."""
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", points=[(0.0, 0.0), (1e-3, 2.0)], period=1e-3),
                Resistor(name="R", a="a", b="0", resistance=1.0),
            ]
        )
        waves = transient(net, 5e-3)
        mean = np.trapezoid(waves["a"], waves.time) / 5e-3
        self.assertAlmostEqual(mean, 1.0, delta=0.01)


class Nonlinear(unittest.TestCase):
    def test_diode_and_resistor(self) -> None:
        """Oracle: the Lambert W solution of V = iR + nV_T·ln(i/I_S + 1)."""
        i_s, n, r, v = 1e-9, 1.8, 470.0, 5.0
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", value=v),
                Resistor(name="R", a="a", b="x", resistance=r),
                Diode(name="D", a="x", k="0", i_s=i_s, ideality=n),
            ]
        )
        a = n * V_T
        i = a / r * float(np.real(lambertw(i_s * r / a * np.exp((v + i_s * r) / a)))) - i_s
        self.assertAlmostEqual(operating_point(net).current("R", "a"), i, delta=i * 1e-5)

    def test_saturated_transistor(self) -> None:
        """Oracle: the transport equations solved for the two junction voltages by another solver."""
        q = Bipolar(name="Q", c="c", b="b", e="0", i_s=1e-15, beta_f=90.0, beta_r=3.0, early=80.0, r_c=1.7)
        net = Netlist.of(
            [
                VoltageSource(name="V", a="p", b="0", value=14.4),
                Resistor(name="RL", a="p", b="c", resistance=96.0),
                VoltageSource(name="VB", a="s", b="0", value=3.3),
                Resistor(name="RB", a="s", b="b", resistance=270.0),
                q,
            ]
        )

        def equations(u: np.ndarray) -> list[float]:
            v_be, v_bc = u
            i_cc, i_ec = 1e-15 * np.expm1(v_be / V_T), 1e-15 * np.expm1(v_bc / V_T)
            i_c = (i_cc - i_ec) * (1 - v_bc / 80) - i_ec / 3
            i_b = i_cc / 90 + i_ec / 3
            v_c = v_be - v_bc + 1.7 * i_c
            return [(3.3 - v_be) / 270 - i_b, (14.4 - v_c) / 96 - i_c]

        v_be, v_bc = fsolve(equations, [0.82, 0.75], xtol=1e-12)
        i_cc, i_ec = 1e-15 * np.expm1(v_be / V_T), 1e-15 * np.expm1(v_bc / V_T)
        v_ce = v_be - v_bc + 1.7 * ((i_cc - i_ec) * (1 - v_bc / 80) - i_ec / 3)
        point = operating_point(net)
        self.assertAlmostEqual(point["c"], float(v_ce), delta=1e-4)
        self.assertAlmostEqual(point["b"], float(v_be), delta=1e-4)

    def test_pnp_mirrors_npn(self) -> None:
        """Oracle: symmetry. All voltages and currents change sign."""

        def solved(polarity: str, sign: float) -> float:
            net = Netlist.of(
                [
                    VoltageSource(name="V", a="p", b="0", value=sign * 12),
                    Resistor(name="RL", a="p", b="c", resistance=1e3),
                    VoltageSource(name="VB", a="s", b="0", value=sign * 3),
                    Resistor(name="RB", a="s", b="b", resistance=47e3),
                    Bipolar(name="Q", c="c", b="b", e="0", polarity=polarity),  # type: ignore[arg-type]
                ]
            )
            return operating_point(net)["c"]

        self.assertAlmostEqual(solved("npn", 1.0), -solved("pnp", -1.0), places=6)

    def test_mosfet_square_law(self) -> None:
        """Oracle: β/(2n)·(V_GS − V_th)² in strong inversion, far above threshold and saturated."""
        net = Netlist.of(
            [
                VoltageSource(name="G", a="g", b="0", value=4.0),
                VoltageSource(name="D", a="d", b="0", value=10.0),
                Mosfet(name="Q", g="g", d="d", s="0", beta=0.01, v_th=2.0, slope=1.4),
            ]
        )
        exact = 0.01 / 2.8 * 4.0
        self.assertAlmostEqual(operating_point(net).current("Q", "d"), exact, delta=exact * 1e-3)

    def test_gate_reaches_threshold(self) -> None:
        """Oracle: R·C·ln(V/(V − V_th)) with constant capacitance while the drain is held at its supply."""
        q = Mosfet(
            name="Q",
            g="out",
            d="d",
            s="0",
            beta=1.0,
            v_th=1.5,
            c_gs=4e-10,
            c_gd_low=1e-12,
            c_gd_high=1.0001e-12,
        )
        base = rc_step(99_999.0, q, 3.3)
        net = Netlist.of([*base.devices, VoltageSource(name="VD", a="d", b="0", value=12.0)])
        waves = transient(net, 2e-3)
        t = first_after(waves, waves["out"], 1.5, 1e-3) - 1e-3
        exact = 1e5 * 4.01e-10 * np.log(3.3 / (3.3 - 1.5))
        self.assertAlmostEqual(t, exact, delta=exact * 5e-3)


def release_circuit(*freewheel: Diode, switch_off: float = 0.04) -> Netlist:
    """A coil let go by an ideal switch at `switch_off`."""
    return Netlist.of(
        [
            VoltageSource(name="V", a="plus", b="0", value=14.4),
            ContactSwitch(
                name="S",
                a="out",
                b="0",
                closed=True,
                times=[switch_off],
                on_resistance=1e-3,
                off_resistance=1e9,
            ),
            Relay(
                name="K1",
                a="plus",
                b="out",
                resistance=COIL_R,
                inductance=COIL_L,
                pull_in=9 / COIL_R,
                drop_out=1.2 / COIL_R,
                release_travel=1e-3,
                loss=1e8,
            ),
            Resistor(name="RX", a="out", b="0", resistance=1e8),
            *freewheel,
        ]
    )


class Release(unittest.TestCase):
    def test_diode_release_time(self) -> None:
        """Oracle: L·di/dt = −R·i − V_D(i), V_D the diode's exponential, integrated by another package."""
        i_s, n = 1e-9, 1.8
        waves = transient(release_circuit(Diode(name="D", a="out", k="plus", i_s=i_s, ideality=n)), 0.08)
        fell = [t for t in toggle_times(waves, "K1", 0) if t > 0.04]
        start = 14.4 / COIL_R
        exact = integrate(
            lambda t, y: np.array([-(COIL_R * y[0] + n * V_T * np.log(y[0] / i_s + 1)) / COIL_L]),
            [start],
            (0, 0.05),
            lambda t, y: y[0] - 1.2 / COIL_R,
        )
        self.assertAlmostEqual(fell[0] - 0.04, exact, delta=exact * 5e-3)

    def test_zener_school_is_faster_by_its_closed_form(self) -> None:
        """Oracle: (L/R)·ln((IR + V)/(I_drop·R + V)), V the mean clamp; within 3 % because the clamp is not
        quite constant.
        """
        card = catalogue()["zener-15v"]
        zener = Diode(name="Z", a="plus", k="m", **derive.zener(card))  # type: ignore[arg-type]
        diode = Diode(name="D", a="out", k="m", **derive.diode(catalogue()["diode-1a-100v"]))  # type: ignore[arg-type]
        waves = transient(release_circuit(diode, zener), 0.08)
        fell = next(t for t in toggle_times(waves, "K1", 0) if t > 0.04) - 0.04
        v = 15.0 + 0.7 + 14 * 0.017 * np.log(0.06 / 0.017)
        self.assertAlmostEqual(fell, COIL_L / COIL_R * np.log((14.4 + v) / (1.2 + v)), delta=fell * 0.03)

    def test_no_diode_breaks_the_switch_down_and_the_energy_is_accounted_for(self) -> None:
        """Oracle: V_DS(max), and ½LI² plus what the supply adds meanwhile = heat in the switch
        and the coil.
        """
        q = Mosfet(name="Q", g="g", d="out", s="0", beta=20.0, v_th=1.2, breakdown=55.0)
        steps = [
            PinStep(time=0.0, level=3.3, resistance=25.0),
            PinStep(time=0.04, level=0.0, resistance=25.0),
        ]
        net = Netlist.of(
            [
                VoltageSource(name="V", a="plus", b="0", value=12.0),
                Pin(name="P", out="g", steps=steps),
                q,
                Relay(
                    name="K1",
                    a="plus",
                    b="out",
                    resistance=COIL_R,
                    inductance=COIL_L,
                    pull_in=9 / COIL_R,
                    drop_out=1.2 / COIL_R,
                ),
            ]
        )
        waves = transient(net, 0.06)
        self.assertAlmostEqual(waves["out"].max(), 55.0, delta=2.0)
        after = waves.time >= 0.04
        t = waves.time[after]
        through = waves.conduction("K1", "a")[after]
        stored = 0.5 * COIL_L * waves["i(K1)"][after][0] ** 2
        supplied = np.trapezoid(waves["plus"][after] * through, t)
        spent = np.trapezoid(waves.power("Q")[after] + waves.power("K1")[after], t)
        # The coil's terminal power less its loss is what its field gives back.
        self.assertAlmostEqual(
            np.trapezoid(waves.power("Q")[after], t),
            stored + supplied - np.trapezoid(COIL_R * through**2, t),
            delta=0.02 * stored,
        )
        self.assertAlmostEqual(spent, supplied, delta=0.005 * stored)


class Invariants(unittest.TestCase):
    def net(self) -> Netlist:
        steps = [
            PinStep(time=0.0, level=0.0, resistance=25.0),
            PinStep(time=5e-3, level=3.3, resistance=25.0),
            PinStep(time=3e-2, level=0.0, resistance=25.0),
        ]
        mosfet = derive.mosfet(catalogue()["nmos-55v-5a-logic"])  # type: ignore[arg-type]
        diode = derive.diode(catalogue()["diode-1a-100v"])  # type: ignore[arg-type]
        return Netlist.of(
            [
                VoltageSource(name="V", a="plus", b="0", value=12.6, resistance=0.05),
                Pin(name="P", out="p", steps=steps),
                Resistor(name="R1", a="p", b="g", resistance=220.0),
                Resistor(name="R2", a="g", b="0", resistance=6800.0),
                Mosfet(name="Q", g="g", d="d", s="0", **mosfet),
                Diode(name="D", a="d", k="plus", **diode),
                Relay(
                    name="K",
                    a="plus",
                    b="d",
                    com="plus",
                    no="m",
                    resistance=COIL_R,
                    inductance=COIL_L,
                    pull_in=9 / COIL_R,
                    drop_out=1.2 / COIL_R,
                ),
                Resistor(name="M", a="m", b="0", resistance=10.5),
            ]
        )

    def test_energy_balances_over_a_whole_rehearsal(self) -> None:
        """Oracle: conservation. Sources give what parts turn to heat plus what fields and charges gained."""
        waves = transient(self.net(), 0.06, rtol=1e-4)
        t = waves.time
        given = -np.trapezoid(waves["plus"] * waves.conduction("V", "a"), t) - np.trapezoid(
            waves["p"] * waves.conduction("P", "out"), t
        )
        r_total, g_loss = COIL_R, 1 / (500 * COIL_R)
        through = waves.conduction("K", "a")
        field = (waves["plus"] - waves["d"] - r_total * through) * waves["i(K)"]
        coil_heat = (waves["plus"] - waves["d"]) * through - field
        contact = waves["plus"] * waves.conduction("K", "com") + waves["m"] * waves.conduction("K", "no")
        heat = sum(np.trapezoid(waves.power(n), t) for n in ("R1", "R2", "Q", "D", "M")) + np.trapezoid(
            coil_heat + contact, t
        )
        stored = 0.5 * COIL_L * (waves["i(K)"][-1] ** 2 - waves["i(K)"][0] ** 2)
        charges = 0.0
        for name, terminals in (("Q", ("g", "d", "s")), ("D", ("a", "k"))):
            nodes = waves.device(name).nodes()
            for terminal in terminals:
                v, q = waves[nodes[terminal]], waves.charge(name, terminal)
                charges += float(np.sum(0.5 * (v[1:] + v[:-1]) * np.diff(q)))
        self.assertGreater(g_loss, 0)
        self.assertAlmostEqual(given, heat + stored + charges, delta=0.005 * given)

    def test_plain_and_compiled_agree(self) -> None:
        """Oracle: the same source run by Python itself."""
        plain, fast = transient(self.net(), 8e-3, engine=engine.PLAIN), transient(self.net(), 8e-3)
        self.assertEqual(plain.counts, fast.counts)
        np.testing.assert_allclose(plain["d"], fast["d"], rtol=1e-9, atol=1e-9)

    def test_order_of_devices_does_not_matter(self) -> None:
        """Oracle: the same circuit listed backwards."""
        one, two = transient(self.net(), 0.06), transient(Netlist.of(reversed(self.net().devices)), 0.06)
        a, b = toggle_times(one, "K", 2), toggle_times(two, "K", 2)
        np.testing.assert_allclose(a, b, rtol=1e-4)

    def test_step_limit_does_not_matter(self) -> None:
        """Oracle: the same circuit with ten times shorter steps; contact times within 0.5 %."""
        a, b = (
            toggle_times(transient(self.net(), 0.06), "K", 2),
            toggle_times(transient(self.net(), 0.06, h_max=1.2e-4, rtol=1e-5), "K", 2),
        )
        for one, two, edge in zip(a, b, (5e-3, 3e-2), strict=True):
            self.assertAlmostEqual(one - edge, two - edge, delta=0.005 * (two - edge))

    def test_effort_is_bounded(self) -> None:
        """Counts do not depend on the machine: Newton iterations a solve, redone steps an event."""
        counts = transient(self.net(), 0.06).counts
        self.assertLess(counts.newton / counts.solves, 3.0)
        self.assertLessEqual(counts.redone / counts.events, 5.5)
        self.assertLess(counts.steps, 700)

    def test_an_event_time_does_not_depend_on_the_step_it_falls_in(self) -> None:
        """Oracle: the threshold's own time on the closed form, at a tight step tolerance: 1e-4 relative."""
        waves = transient(step_into_coil(), 0.03, rtol=1e-6)
        exact = -COIL_L / COIL_R * (1 + 1 / 500) * np.log(1 - 0.75)
        self.assertAlmostEqual(toggle_times(waves, "K1", 0)[0] - 1e-3, exact, delta=exact * 1e-4)

    def test_from_rest_starts_discharged(self) -> None:
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", value=5.0),
                Resistor(name="R", a="a", b="x", resistance=1e3),
                Capacitor(name="C", a="x", b="0", capacitance=1e-6),
            ]
        )
        waves = transient(net, 3e-3, from_rest=True)
        k = int(np.argmin(np.abs(waves.time - 1e-3)))
        self.assertAlmostEqual(waves["x"][k], 5 * -np.expm1(-waves.time[k] / 1e-3), delta=0.01)

    def test_a_latch_needs_more_than_plain_newton_and_gets_it(self) -> None:
        """Oracle: symmetry of a two-transistor bistable; any settled state found satisfies Kirchhoff at each
        node.
        """

        def half(a: str, b: str, k: int) -> list[Resistor | Bipolar]:
            return [
                Resistor(name=f"RC{k}", a="plus", b=a, resistance=1e3),
                Resistor(name=f"RB{k}", a=a, b=f"b{k}", resistance=22e3),
                Bipolar(name=f"Q{k}", c=b, b=f"b{k}", e="0"),
            ]

        net = Netlist.of(
            [VoltageSource(name="V", a="plus", b="0", value=12.0), *half("x", "y", 1), *half("y", "x", 2)]
        )
        point = operating_point(net)
        into_x = point.current("RC1", "b") + point.current("RB1", "a") + point.current("Q2", "c")
        self.assertAlmostEqual(into_x, 0.0, delta=1e-9)


class Refused(unittest.TestCase):
    def bad(self, *devices: object) -> str:
        with self.assertRaises(NetlistError) as caught:
            operating_point(Netlist.of(devices))  # type: ignore[arg-type]
        return str(caught.exception)

    def test_floating_nodes_are_named(self) -> None:
        v = VoltageSource(name="V", a="a", b="0", value=1.0)
        r = Resistor(name="R", a="a", b="0", resistance=1.0)
        self.assertIn(
            "x: This node floats: only C", self.bad(v, r, Capacitor(name="C", a="a", b="x", capacitance=1e-6))
        )
        self.assertIn(
            "no direct current",
            self.bad(
                v,
                r,
                Capacitor(name="C", a="a", b="x", capacitance=1e-6),
                Capacitor(name="C2", a="x", b="0", capacitance=1e-6),
            ),
        )

    def test_loops_of_sources_twins_and_no_ground(self) -> None:
        v = VoltageSource(name="V", a="a", b="0", value=1.0)
        self.assertIn(
            "loop of voltage sources", self.bad(v, VoltageSource(name="W", a="a", b="0", value=2.0))
        )
        self.assertIn("2 devices have this name", self.bad(v, v))
        self.assertIn(
            "No device is connected to node 0",
            self.bad(
                Resistor(name="R", a="a", b="b", resistance=1.0),
                Resistor(name="S", a="a", b="b", resistance=1.0),
            ),
        )

    def test_what_cannot_be_followed_says_when_and_where(self) -> None:
        """A source of 1 TV into a junction: no model goes there. The answer names the time, never
        a number.
        """
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", points=[(0.0, 0.0), (1e-3, 0.0), (1e-3, 1e6)]),
                Diode(name="D", a="a", k="0"),
                Resistor(name="R", a="a", b="0", resistance=1e3),
            ]
        )
        try:
            waves = transient(net, 2e-3)
            self.assertTrue(np.isfinite(waves["a"]).all())
        except SettleError as error:
            self.assertAlmostEqual(error.time, 1e-3, delta=1e-5)
            self.assertRegex(str(error), "would not settle|moves faster|not determined")

    def test_brent_agrees_with_the_clamp(self) -> None:
        """Oracle: a scalar root of the breakdown branch for a zener behind a resistor."""
        z = Diode(name="Z", a="0", k="x", breakdown=9.1, breakdown_current=5e-3, breakdown_slope=0.05)
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", value=14.4),
                Resistor(name="R", a="a", b="x", resistance=470.0),
                z,
            ]
        )
        exact = brentq(lambda v: (14.4 - v) / 470 - 5e-3 * np.exp((v - 9.1) / 0.05), 8, 10)
        self.assertAlmostEqual(operating_point(net)["x"], exact, delta=1e-4)
