"""What wakes up, what is a race, what a temperature and a current limit do. Each test names its oracle."""

import math
import unittest
from typing import Any

import numpy as np
from hexlet_core.cards import catalogue, derive
from hexlet_core.circuit.devices import (
    Battery,
    Bipolar,
    Capacitor,
    ContactSwitch,
    Counter,
    Diode,
    Inductor,
    Lamp,
    Mosfet,
    Relay,
    Resistor,
    Thyristor,
    Timer,
    VoltageSource,
)
from hexlet_core.circuit.measure import Measurement
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.circuit.states import all_states
from hexlet_core.circuit.waves import Waves
from hexlet_core.errors import DocumentError, NetlistError
from hexlet_core.formats.analysis import Transient

from .registered import npn, r, v

BIPOLAR = derive.timer(catalogue()["timer-bipolar"])  # type: ignore[arg-type]


def ramp(name: str, *points: tuple[float, float]) -> VoltageSource:
    return VoltageSource(name=name, a="p", b="0", points=list(points))


class Timers(unittest.TestCase):
    def one_shot(self, supply: VoltageSource, c_trig: float | None = None, **more: Any) -> Netlist:
        held = [Capacitor(name="CT", a="t", b="0", capacitance=c_trig)] if c_trig else []
        return Netlist.of(
            [
                supply,
                r("RT", "p", "t", 10e3),
                *held,
                r("R", "p", "c", 100e3),
                Capacitor(name="C", a="c", b="0", capacitance=1e-6),
                Timer(name="U", vcc="p", trig="t", thr="c", dis="c", reset="p", out="o", **(BIPOLAR | more)),
                r("RL", "o", "0", 1e3),
            ]
        )

    def test_silent_inputs_are_a_race(self) -> None:
        """Oracle: the trigger follows the supply, the capacitor is empty: neither comparator speaks as the
        supply passes its least.
        """
        rise = ramp("V", (0.0, 0.0), (0.01, 9.0))
        for side, high in (("low", False), ("high", True)):
            waves = transient(self.one_shot(rise, wakes=side), 0.05, from_rest=True)
            (race,) = waves.races()
            self.assertEqual(race.device, "U")
            self.assertAlmostEqual(race.time, 0.01 * BIPOLAR["least"] * 0.99 / 9.0, delta=1e-5)
            self.assertEqual(bool(waves["o"][-1] > 3.0), high)

    def test_inputs_that_speak_decide(self) -> None:
        """Oracle: a capacitor keeps the trigger low while the supply rises: it fires, and there
        is no race.
        """
        waves = transient(
            self.one_shot(ramp("V", (0.0, 0.0), (0.001, 9.0)), c_trig=1e-6), 0.05, from_rest=True
        )
        self.assertEqual((waves.races(), bool(waves["o"][-1] > 3.0)), ((), True))

    def test_settled_long_ago_is_no_race(self) -> None:
        self.assertEqual(transient(self.one_shot(ramp("V", (0.0, 9.0), (0.05, 9.0))), 0.05).races(), ())

    def test_a_dip_loses_the_state(self) -> None:
        """Oracle: a latch of a timer that was set keeps through a sag to just above its least supply, and
        forgets below.
        """

        def after(dip: float) -> Waves:
            supply = ramp("V", (0.0, 9.0), (0.2, 9.0), (0.201, dip), (0.21, dip), (0.211, 9.0))
            return transient(
                Netlist.of(
                    [
                        supply,
                        VoltageSource(
                            name="VT",
                            a="t",
                            b="0",
                            points=[(0.0, 8.0), (0.1, 8.0), (0.1, 0.1), (0.11, 0.1), (0.11, 8.0)],
                        ),
                        v("VH", "h", 0.1),
                        Timer(name="U", vcc="p", trig="t", thr="h", reset="p", out="o", **BIPOLAR),
                        r("RL", "o", "0", 1e3),
                    ]
                ),
                0.3,
            )

        kept, lost = after(BIPOLAR["least"] * 1.02), after(BIPOLAR["least"] * 0.9)
        self.assertGreater(kept["o"][-1], 6.0)
        self.assertLess(lost["o"][-1], 0.5)
        self.assertEqual((len(kept.races()), len(lost.races())), (0, 1))

    def test_a_counter_wakes_unknown_unless_reset(self) -> None:
        """Oracle: its reset through a capacitor holds it at nothing; without, the count is what it is said to
        start with.
        """

        def waves(c: float) -> Waves:
            return transient(
                Netlist.of(
                    [
                        ramp("V", (0.0, 0.0), (1e-3, 5.0)),
                        Capacitor(name="CR", a="p", b="rs", capacitance=c),
                        r("RR", "rs", "0", 100e3),
                        v("VC", "clk", 0.0),
                        Counter(name="N", vdd="p", clk="clk", reset="rs", taps={1: "q1"}, start=1),
                        r("R1", "q1", "0", 1e5),
                    ]
                ),
                0.1,
                from_rest=True,
            )

        reset, free = waves(1e-7), waves(1e-12)
        self.assertEqual((reset.races(), round(float(reset["q1"][-1]), 1)), ((), 0.0))
        self.assertEqual([race.device for race in free.races()], ["N"])
        self.assertGreater(free["q1"][-1], 4.5)


class Latches(unittest.TestCase):
    def latch(self, *points: tuple[float, float]) -> Netlist:
        return Netlist.of(
            [
                ramp("V", *points),
                r("RC1", "p", "c1", 1e3),
                r("RC2", "p", "c2", 1e3),
                r("RB1", "c2", "b1", 10e3),
                r("RB2", "c1", "b2", 10e3),
                npn("Q1", "c1", "b1"),
                npn("Q2", "c2", "b2"),
            ]
        )

    def test_a_symmetric_latch_is_an_answer(self) -> None:
        """Oracle: symmetry: the two ends are mirror images, and neither is preferred."""
        answer = Transient(stop=1.0).run(self.latch((0.0, 0.0), (1.0, 9.0)))
        ends = [parted["state"] for parted in answer.notes["parted"]]
        self.assertEqual(len(ends), 2)
        self.assertAlmostEqual(ends[0]["c1"], ends[1]["c2"], delta=0.05)
        self.assertGreater(abs(ends[0]["c1"] - ends[0]["c2"]), 5.0)

    def test_an_unequal_one_is_certain(self) -> None:
        """Oracle: the side with the smaller base resistor conducts, in all_states as in time."""
        devices = [
            d.model_copy(update={"resistance": 8e3}) if d.name == "RB1" else d
            for d in self.latch((0.0, 0.0), (1.0, 9.0)).devices
        ]
        answer = Transient(stop=1.0).run(Netlist.of(devices))
        self.assertEqual(answer.notes["parted"], [])
        self.assertLess(answer.columns["c1"][-1] or 0.0, 0.5)

    def test_a_start_that_cannot_last_is_told(self) -> None:
        """Oracle: held at the balanced state of all_states, the latch may fall to either side; at rest on one
        side it stays.
        """
        net = self.latch((0.0, 9.0))
        states = all_states(net)
        for state in states:
            nodes = {n: state.point[n] for n in ("c1", "c2", "b1", "b2")}
            parted = Transient(stop=1e-3, guess=nodes).run(net).notes["parted"]
            self.assertEqual([p["time"] for p in parted], [] if state.stable else [0.0, 0.0])

    def test_states_at_a_moment(self) -> None:
        """Oracle: early in the ramp there is one state, late there are three."""
        net = self.latch((0.0, 0.0), (1.0, 9.0))
        self.assertEqual([len(all_states(net, time=t)) for t in (0.03, 0.9)], [1, 3])


class Heat(unittest.TestCase):
    def test_base_emitter_and_gain(self) -> None:
        """Oracle: −2 mV a kelvin at 1 mA, +0.5 % a kelvin."""

        def at(celsius: float) -> tuple[float, float]:
            q = Bipolar(
                name="Q", c="c", b="b", e="0", i_s=1e-14, beta_f=100.0, early=1e6, temperature=celsius
            )
            point = operating_point(
                Netlist.of([v("V", "c", 5.0), v("VB", "b", 0.65 - 2e-3 * (celsius - 25)), q])
            )
            return point.current("Q", "c"), point.current("Q", "c") / point.current("Q", "b")

        (cold, gain), (hot, more) = at(25.0), at(85.0)
        self.assertAlmostEqual(
            math.log(hot / cold) * 0.0309, 0.0, delta=4e-3
        )  # the same current but for what 0.65 V is off 1 mA's
        self.assertAlmostEqual(more / gain, 1 + 60 * 5e-3, delta=1e-3)

    def test_mosfet_copper_and_zener(self) -> None:
        """Oracle: each drift's own rule, as measured at the terminals."""
        card: Any = catalogue()["nmos-55v-5a-logic"]

        def ohms(celsius: float) -> float:
            q = Mosfet(name="M", g="g", d="d", s="0", **derive.mosfet(card, celsius))
            return (
                operating_point(
                    Netlist.of([v("VG", "g", 5.0), v("VD", "x", 0.02), r("R", "x", "d", 1e-6), q])
                ).current("M", "d")
                ** -1
                * 0.02
            )

        self.assertTrue(
            1.15 < ohms(75.0) / ohms(25.0) < 1.25
        )  # +25 % of the channel, less what the lower threshold gives back
        coil = [
            operating_point(
                Netlist.of(
                    [
                        v("V", "a", 1.0),
                        Inductor(name="L", a="a", b="0", inductance=1.0, resistance=10.0, temperature=t),
                    ]
                )
            )["i(L)"]
            for t in (25.0, 125.0)
        ]
        self.assertAlmostEqual(coil[0] / coil[1], 1.39, delta=1e-6)

    def test_a_cold_mosfet_is_taken(self) -> None:
        card: Any = catalogue()["pmos-55v-12a"]
        for celsius in (-55.0, 175.0):
            q = Mosfet(name="M", g="g", d="d", s="0", **derive.mosfet(card, celsius))
            point = operating_point(Netlist.of([v("VG", "g", 0.0), v("VD", "d", 5.0), q]))
            self.assertGreater(point.current("M", "d"), 0.0)  # its body diode


class Settling(unittest.TestCase):
    """Circuits that Newton's method alone does not find."""

    def test_a_thyristor_whose_gate_is_fed_from_the_start(self) -> None:
        """Oracle: the load takes the supply less the on-state voltage."""
        on = Thyristor(name="T", a="a", k="0", g="g")
        point = operating_point(
            Netlist.of([v("V", "p", 12.0), r("RL", "p", "a", 100.0), on, r("RG", "p", "g", 10e3)])
        )
        self.assertLess(point["a"], 1.2)
        self.assertAlmostEqual(point.current("RL", "a"), (12.0 - point["a"]) / 100.0, places=9)

    def test_a_timers_output_with_nothing_on_it(self) -> None:
        """Oracle: loaded by a hundred kilohms it switches at the same times."""

        def edges(ohms: float) -> float:
            net = Netlist.of(
                [
                    v("V", "p", 12.0),
                    r("RA", "p", "d", 1e3),
                    r("RB", "d", "c", 47e3),
                    Capacitor(name="C", a="c", b="0", capacitance=1e-8),
                    Timer(name="U", vcc="p", trig="c", thr="c", dis="d", reset="p", out="o"),
                    r("RL", "o", "0", ohms),
                ]
            )
            return Measurement(name="t", what="period", signal="o", level=6.0, after=1e-3).of(
                transient(net, 0.01)
            )

        self.assertAlmostEqual(edges(1e12), edges(1e5), delta=1e-4 * edges(1e5))

    def test_a_mosfet_with_hardly_any_capacitance(self) -> None:
        """Oracle: Ohm's law with its on-resistance, before and after its gate is pulled down at once."""
        for more in ({"c_ds": 1e-14}, {"beta": 1e5}, {"i_s": 1e-3}):
            q = Mosfet(name="Q", polarity="p", g="g", d="o", s="p", v_th=2.0, **({"beta": 5.0} | more))  # type: ignore[arg-type]
            net = Netlist.of(
                [
                    v("V", "p", 12.0),
                    q,
                    r("RP", "p", "g", 1e5),
                    ContactSwitch(name="S", a="g", b="0", times=[0.01], on_resistance=0.1),
                    r("RL", "o", "0", 100.0),
                ]
            )
            out = transient(net, 0.05)["o"]
            self.assertTrue(out[0] < 0.2 and out[-1] > 11.4, more)


class Supplies(unittest.TestCase):
    def test_a_bench_supply_limits(self) -> None:
        """Oracle: Ohm's law at the limit, within its hundredth; below it the limit is not felt."""
        for ohms, volts in ((10.0, 1.0), (1000.0, 12.0)):
            for supply in (
                VoltageSource(name="V", a="p", b="0", value=12.0, limit=0.1),
                Battery(name="B", a="p", volts=12.0, resistance=1e-4, limit=0.1),
            ):
                found = operating_point(Netlist.of([supply, r("R", "p", "0", ohms)]))["p"]
                self.assertAlmostEqual(found, volts, delta=0.012 * volts)

    def test_charging_a_capacitor_from_a_limited_supply(self) -> None:
        """Oracle: a constant current makes a straight line, I/C a second."""
        net = Netlist.of(
            [
                VoltageSource(
                    name="V", a="a", b="0", points=[(0.0, 0.0), (1e-3, 0.0), (1e-3, 12.0)], limit=0.1
                ),
                r("R", "a", "x", 1.0),
                Capacitor(name="C", a="x", b="0", capacitance=1e-3),
            ]
        )
        waves = transient(net, 0.2)
        k = (waves.time > 0.01) & (waves["x"] < 10.0)
        slope = float(np.polyfit(waves.time[k], waves["x"][k], 1)[0])
        self.assertAlmostEqual(slope, 100.0, delta=1.0)

    def test_a_lamps_columns_and_ambient(self) -> None:
        """Oracle: the rated point; and at no voltage it is as warm as its surroundings."""
        point = operating_point(
            Netlist.of([v("V", "p", 12.0), Lamp(name="L1", a="p", b="0", volts=12.0, watts=5.0)])
        )
        self.assertAlmostEqual(point["T(L1)"], 2600.0 - 298.15, delta=0.5)
        answer = Transient(stop=1e-3).run(point.netlist)
        self.assertAlmostEqual(answer.columns["i(L1)"][-1] or 0.0, 5 / 12, delta=1e-3)
        cold = operating_point(
            Netlist.of([v("V", "p", 0.0), Lamp(name="L1", a="p", b="0", volts=12.0, watts=5.0, ambient=60.0)])
        )
        self.assertAlmostEqual(cold["T(L1)"], 35.0, delta=0.1)


class Starts(unittest.TestCase):
    def test_single_parts_start_with_what_they_hold(self) -> None:
        """Oracle: exponentials from the given voltage and current, in a circuit otherwise settled."""
        net = Netlist.of(
            [
                v("V", "a", 10.0),
                r("R1", "a", "x", 1e3),
                Capacitor(name="C", a="x", b="0", capacitance=1e-6, esr=1.0),
                r("R2", "a", "y", 10.0),
                Inductor(name="L", a="y", b="0", inductance=1e-2, resistance=1e-6),
            ]
        )
        waves = transient(net, 3e-3, starts={"C": 2.0, "L": 0.25})
        t = waves.time[2:]
        np.testing.assert_allclose(waves["i(L)"][2:], 1.0 - 0.75 * np.exp(-t * 1e3), atol=1e-3)
        np.testing.assert_allclose(waves["x"][2:], 10 - 8 * np.exp(-t / 1.001e-3) * 1000 / 1001, atol=6e-3)
        with self.assertRaisesRegex(DocumentError, "no part of that name"):
            transient(net, 1e-3, starts={"C9": 1.0})
        with self.assertRaisesRegex(DocumentError, "Only capacitors"):
            transient(net, 1e-3, starts={"R1": 1.0})

    def test_a_string_of_capacitors_from_rest(self) -> None:
        """Oracle: the charge is the same in both, so the voltages go as the inverse of the capacitances."""
        net = Netlist.of(
            [
                VoltageSource(name="V", a="a", b="0", points=[(0.0, 0.0), (1e-3, 0.0), (2e-3, 9.0)]),
                r("R", "a", "b", 10.0),
                Capacitor(name="C1", a="b", b="m", capacitance=1e-6),
                Capacitor(name="C2", a="m", b="0", capacitance=2e-6),
            ]
        )
        self.assertAlmostEqual(transient(net, 5e-3, from_rest=True)["m"][-1], 3.0, delta=5e-3)
        with self.assertRaises(NetlistError):
            transient(net, 5e-3)

    def test_five_more_poles_fit(self) -> None:
        """Oracle: six contacts close together."""
        poles = [{"com": "p", "no": f"n{k}"} for k in range(5)]
        relay = Relay(
            name="K",
            a="p",
            b="0",
            com="p",
            no="n",
            poles=poles,
            resistance=100.0,
            inductance=0.1,
            pull_in=0.05,
            drop_out=0.01,
        )  # type: ignore[arg-type]
        loads = [r(f"R{n}", n, "0", 1e3) for n in ("n", *(f"n{k}" for k in range(5)))]
        point = operating_point(Netlist.of([v("V", "p", 12.0), relay, *loads]))
        self.assertTrue(all(point[f"n{k}"] > 11.9 for k in range(5)))

    def test_what_contradicts_itself_is_refused(self) -> None:
        for wrong in (
            lambda: Relay(name="K", a="a", b="0", resistance=1.0, inductance=1.0, pull_in=0.1, drop_out=0.2),
            lambda: Counter(name="N", vdd="p", clk="c", reset="0", taps={20: "q"}),
            lambda: Resistor(name="R", a="i(R)", b="0", resistance=1.0),
            lambda: Resistor(name="R", a="x#1", b="0", resistance=1.0),
            lambda: Diode(name="D", a="a", k="0", spread={"i_s": (1.0, 2.0)}),
        ):
            with self.assertRaises(ValueError):
                wrong()
