"""Card in, card out. Oracle: the datasheet's own test circuit, solved by the kernel with the
derived model.
"""

import math
import unittest

import numpy as np
from hexlet_core.cards import Drawer, catalogue, derive, read_card, resistor_cards
from hexlet_core.cards.bench import gain_at
from hexlet_core.cards.card import (
    BipolarCard,
    DiodeCard,
    FieldEffectCard,
    GainPoint,
    LampCard,
    LedCard,
    MotorCard,
    NpnCard,
    OptocouplerCard,
    RelayCard,
    ResistorCard,
    ThyristorCard,
    TimerCard,
    ZenerCard,
)
from hexlet_core.circuit.devices import (
    Bipolar,
    CurrentSource,
    Diode,
    Lamp,
    Mosfet,
    Motor,
    Optocoupler,
    Resistor,
    Thyristor,
    Timer,
    VoltageSource,
)
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.circuit.waves import Solution
from hexlet_core.errors import DocumentError
from scipy.optimize import brentq


def fed(current: float, *devices: object, into: str = "x") -> Solution:
    """Devices with a current source into node `into`."""
    return operating_point(Netlist.of([CurrentSource(name="I", a="0", b=into, value=current), *devices]))  # type: ignore[list-item]


class GivesBack(unittest.TestCase):
    def of(self, kind: type) -> list:  # type: ignore[type-arg]
        found = [c for c in catalogue().values() if isinstance(c, kind)]
        self.assertTrue(found)
        return found

    def test_diode_forward_points(self) -> None:
        for card in self.of(DiodeCard):
            for point in card.forward:
                v = fed(point.current, Diode(name="D", a="x", k="0", **derive.diode(card)))["x"]
                self.assertAlmostEqual(v, point.voltage, delta=1e-3, msg=card.id)

    def test_zener_voltage_and_impedance_at_the_test_current(self) -> None:
        for card in self.of(ZenerCard):

            def at(i: float, card: ZenerCard = card) -> float:
                return fed(i, Diode(name="Z", a="0", k="x", **derive.zener(card)))["x"]

            self.assertAlmostEqual(at(card.test_current), card.voltage, delta=card.voltage * 1e-4)
            step = card.test_current * 0.01
            slope = (at(card.test_current + step) - at(card.test_current - step)) / (2 * step)
            self.assertAlmostEqual(slope, card.impedance, delta=card.impedance * 0.01)

    def test_bipolar_saturation_and_gain(self) -> None:
        for card in self.of(BipolarCard):
            sign = 1.0 if card.kind == "npn" else -1.0
            q = Bipolar(name="Q", c="x", b="b", e="0", **derive.bipolar(card))
            sat = fed(
                sign * card.sat_collector,
                q,
                CurrentSource(name="IB", a="0", b="b", value=sign * card.sat_base),
            )
            self.assertAlmostEqual(sat["x"], sign * card.v_ce_sat, delta=0.01, msg=card.id)
            self.assertAlmostEqual(sat["b"], sign * card.v_be_sat, delta=0.01, msg=card.id)
            points = [
                ("min", card.gain_min, card.gain_at),
                ("typ", card.gain, card.gain_at),
                ("max", card.gain_max, card.gain_at),
            ]
            if card.gain_far:
                points.append(("typ", card.gain_far.gain, card.gain_far.current))
            for spread, gain, at in points:
                q = Bipolar(name="Q", c="x", b="b", e="0", **derive.bipolar(card, spread=spread))  # type: ignore[arg-type]
                i_b, v_ce = at / gain, 1.5 + at * q.r_c
                supply = VoltageSource(name="VC", a="x", b="0", value=sign * v_ce)
                active = operating_point(
                    Netlist.of([supply, q, CurrentSource(name="IB", a="0", b="b", value=sign * i_b)])
                )
                self.assertAlmostEqual(
                    sign * active.current("Q", "c") / i_b, gain, delta=gain * 0.03, msg=f"{card.id} {spread}"
                )

    def test_base_emitter_breakdown(self) -> None:
        """At the rated reverse voltage a few microamperes flow, a volt beyond it the junction has broken
        down.
        """
        for card in self.of(NpnCard):
            q = Bipolar(name="Q", c="0", b="b", e="x", **derive.bipolar(card))
            self.assertAlmostEqual(
                fed(1e-5, q, Resistor(name="R", a="b", b="0", resistance=1.0))["x"], card.v_ebo, delta=0.05
            )

    def test_mosfet_resistance_and_threshold(self) -> None:
        for card in self.of(FieldEffectCard):
            sign = 1.0 if card.kind == "n_mosfet" else -1.0
            q = Mosfet(name="Q", g="g", d="x", s="0", **derive.mosfet(card))
            for point in (card.on[0], card.on[-1]):
                v = (
                    sign
                    * fed(
                        sign * point.current,
                        q,
                        VoltageSource(name="VG", a="g", b="0", value=sign * point.v_gs),
                    )["x"]
                )
                self.assertAlmostEqual(
                    v / point.current, point.resistance, delta=point.resistance * 0.01, msg=card.id
                )
            tied = Mosfet(name="Q", g="x", d="x", s="0", **derive.mosfet(card))
            self.assertAlmostEqual(
                sign * fed(sign * card.threshold_current, tied)["x"], card.threshold, delta=5e-3
            )

    def test_led(self) -> None:
        for card in self.of(LedCard):
            v = fed(card.forward.current, Diode(name="D", a="x", k="0", **derive.led(card)))["x"]
            self.assertAlmostEqual(v, card.forward.voltage, delta=1e-3, msg=card.id)

    def test_zener_drift(self) -> None:
        """5.1 V does not drift; above it the voltage rises with temperature, as measured at the
        test current; a reference's is its card's.
        """
        for card in self.of(ZenerCard):
            hot, cold = (
                fed(card.test_current, Diode(name="D", a="0", k="x", **derive.zener(card, t)))["x"]
                for t in (75.0, 25.0)
            )
            told = 9e-4 * (card.voltage - 5.1) if card.drift is None else card.drift
            self.assertAlmostEqual((hot - cold) / 50 / card.voltage, told / card.voltage, delta=1e-6)

    def test_thyristor_holding_gate_and_on_voltage(self) -> None:
        """As a datasheet measures: current lowered until it lets go; gate current raised until it fires; drop
        at the rated current.
        """
        for card in self.of(ThyristorCard):
            q = Thyristor(name="T", a="x", k="0", g="g", **derive.thyristor(card))
            on = operating_point(
                Netlist.of([CurrentSource(name="I", a="0", b="x", value=card.on.current), q]),
                guess={"x": 1.0, "g": 0.8},
            )
            self.assertAlmostEqual(on["x"], card.on.voltage, delta=0.08)
            lowered = VoltageSource(name="V", a="p", b="0", points=[(0.0, 12.0), (0.05, 12.0), (1.0, 0.0)])
            kick = CurrentSource(
                name="IG",
                a="0",
                b="g",
                points=[
                    (0.0, 0.0),
                    (1e-3, 0.0),
                    (1e-3, 3 * card.gate_current),
                    (0.04, 3 * card.gate_current),
                    (0.04, 0.0),
                ],
            )
            waves = transient(
                Netlist.of([lowered, Resistor(name="R", a="p", b="x", resistance=1e3), q, kick]),
                1.0,
                h_max=1e-3,
            )
            i = -waves["i(V)"]
            lets_go = waves.time[int(np.argmax((waves.time > 0.05) & (waves["x"] > 1.2)))]
            self.assertAlmostEqual(
                float(np.interp(lets_go - 3e-3, waves.time, i)), card.holding, delta=0.15 * card.holding
            )
            ramp = CurrentSource(name="IG", a="0", b="g", points=[(0.0, 0.0), (1.0, 3 * card.gate_current)])
            fired = transient(
                Netlist.of(
                    [
                        VoltageSource(name="V", a="p", b="0", value=12.0),
                        Resistor(name="R", a="p", b="x", resistance=100.0),
                        q,
                        ramp,
                    ]
                ),
                1.0,
                h_max=1e-2,
            )
            at = float(fired.time[int(np.argmax(fired["x"] < 6.0))]) * 3 * card.gate_current
            self.assertAlmostEqual(at, card.gate_current, delta=0.2 * card.gate_current)

    def test_optocoupler(self) -> None:
        for card in self.of(OptocouplerCard):
            q = Optocoupler(name="O", a="a", k="0", c="c", e="0", **derive.optocoupler(card))
            point = operating_point(
                Netlist.of(
                    [
                        CurrentSource(name="I", a="0", b="a", value=card.transfer_at),
                        VoltageSource(name="V", a="c", b="0", value=5.0),
                        q,
                    ]
                )
            )
            self.assertAlmostEqual(
                point.current("O", "c") / card.transfer_at, card.transfer, delta=0.02 * card.transfer
            )
            sat = operating_point(
                Netlist.of(
                    [
                        CurrentSource(name="I", a="0", b="a", value=card.saturation_led),
                        CurrentSource(name="L", a="0", b="c", value=card.saturation.current),
                        q,
                    ]
                )
            )
            self.assertAlmostEqual(sat["c"], card.saturation.voltage, delta=0.02)
            led = operating_point(
                Netlist.of(
                    [
                        CurrentSource(name="I", a="0", b="a", value=card.led.current),
                        VoltageSource(name="V", a="c", b="0", value=5.0),
                        q,
                    ]
                )
            )
            self.assertAlmostEqual(led["a"], card.led.voltage, delta=5e-3)

    def test_lamp_hot_and_cold(self) -> None:
        for card in self.of(LampCard):
            q = Lamp(name="L", a="x", b="0", **derive.lamp(card))
            hot = operating_point(Netlist.of([VoltageSource(name="V", a="x", b="0", value=card.volts), q]))
            self.assertAlmostEqual(hot.current("L", "a") * card.volts, card.watts, delta=0.01 * card.watts)
            cold = operating_point(Netlist.of([VoltageSource(name="V", a="x", b="0", value=1e-3), q]))
            self.assertAlmostEqual(
                1e-3 / cold.current("L", "a"), card.cold or 0.1 * card.volts**2 / card.watts, delta=1e-3
            )

    def test_motor_running_and_stalled(self) -> None:
        for card in self.of(MotorCard):
            for locked, amps in ((False, card.running), (True, card.stall)):
                q = Motor(name="M", a="x", b="0", locked=locked, **derive.motor(card))
                point = operating_point(
                    Netlist.of([VoltageSource(name="V", a="x", b="0", value=card.volts), q])
                )
                self.assertAlmostEqual(point["i(M)"], amps, delta=0.01 * amps)

    def test_timer_outputs_and_thresholds(self) -> None:
        for card in self.of(TimerCard):

            def chip(trig: float, load: float, card: TimerCard = card) -> Solution:
                return operating_point(
                    Netlist.of(
                        [
                            VoltageSource(name="V", a="p", b="0", value=10.0),
                            VoltageSource(name="VT", a="t", b="0", value=trig),
                            CurrentSource(name="IL", a="out", b="0", value=load),
                            CurrentSource(
                                name="ID", a="0", b="d", value=card.discharge.current if trig > 5 else 0.0
                            ),
                            Resistor(name="RD", a="d", b="0", resistance=1e6),
                            Timer(
                                name="U",
                                vcc="p",
                                trig="t",
                                thr="t",
                                dis="d",
                                reset="p",
                                out="out",
                                ctrl="c",
                                **derive.timer(card),
                            ),
                        ]
                    )
                )

            for point in card.high:
                self.assertAlmostEqual(
                    10.0 - chip(1.0, point.current)["out"], point.drop, delta=0.02, msg=card.id
                )
            low = chip(9.0, -card.low.current)
            self.assertAlmostEqual(low["out"], card.low.drop, delta=1e-3)
            self.assertAlmostEqual(low["d"], card.discharge.drop, delta=2e-3)
            self.assertAlmostEqual(low["c"], 20 / 3, delta=1e-3)

    def test_every_card_has_a_model_that_takes_it(self) -> None:
        for card in catalogue().values():
            device, rule = derive.RULES[card.kind]
            self.assertTrue(set(rule(card)) <= set(device.model_fields), card.id)

    def test_mosfet_spread_and_heat_move_the_threshold(self) -> None:
        card = self.of(FieldEffectCard)[0]
        typical, weak = derive.mosfet(card)["v_th"], derive.mosfet(card, spread="min")["v_th"]
        self.assertAlmostEqual(typical - weak, card.threshold - card.threshold_min)
        sign = 1.0 if card.kind == "n_mosfet" else -1.0
        cold, hot = (
            sign
            * fed(
                sign * card.threshold_current, Mosfet(name="Q", g="x", d="x", s="0", **derive.mosfet(card, t))
            )["x"]
            for t in (25.0, 75.0)
        )
        # In weak inversion kT/q moves it by up to 0.8 mV/K more.
        self.assertTrue(-0.14 < hot - cold < -0.098, hot - cold)

    def test_mosfet_miller_charge(self) -> None:
        """Qgd: the gate-drain charge that passes while the drain falls from half its rating to 0 at the
        plateau.
        """
        for card in self.of(FieldEffectCard):
            q = Mosfet(name="Q", g="g", d="x", s="0", **derive.mosfet(card))
            plateau = card.threshold + 0.5

            def held(
                drain: float,
                q: Mosfet = q,
                plateau: float = plateau,
                sign: float = 1.0 if card.kind == "n_mosfet" else -1.0,
            ) -> float:
                point = operating_point(
                    Netlist.of(
                        [
                            VoltageSource(name="G", a="g", b="0", value=sign * plateau),
                            VoltageSource(name="D", a="x", b="0", value=sign * drain),
                            q,
                        ]
                    )
                )
                return sign * float(point.waves.charge("Q", "g")[0])

            self.assertAlmostEqual(held(0.0) - held(card.v_ds / 2), card.q_gd, delta=card.q_gd * 0.01)

    def test_relay_currents(self) -> None:
        for card in self.of(RelayCard):
            rule = derive.relay(card)
            self.assertAlmostEqual(rule["pull_in"] * card.coil, card.pull_in * card.rated)
            self.assertAlmostEqual(rule["inductance"] / card.coil, card.time_constant)

    def test_copper(self) -> None:
        self.assertAlmostEqual(derive.copper(96.0, 52.0, 21.0), 96.0 * (1 + 0.0039 * 31))

    def test_a_hot_junction_drops_two_millivolts_a_kelvin_at_a_milliamp(self) -> None:
        """And at other currents what the diode law says: V = n·kT/q·ln(I/I_S), so n·(k/q)·ln(I/1 mA) a kelvin
        besides.
        """
        for card in self.of(DiodeCard):
            rule = derive.diode(card)
            for current in (1e-6, 1e-3):
                cold, hot = (
                    fed(
                        current, Diode(name="D", a="x", k="0", **(rule | {"temperature": t, "r_series": 0.0}))
                    )["x"]
                    for t in (25.0, 75.0)
                )
                also = rule["ideality"] * 8.617e-5 * math.log(current / 1e-3)
                if current > 1e4 * rule["i_s"]:  # nearer to I_S the logarithm bends
                    self.assertAlmostEqual(
                        (hot - cold) / 50, -2e-3 + also, delta=3e-5, msg=f"{card.id} at {current}"
                    )

    def test_base_emitter_voltage_at_small_and_large_currents(self) -> None:
        """Oracle: the card's two points, and between them never more than 10 mV from the junction's own 60 mV
        a decade plus a straight line through what is left at the larger one.
        """
        for card in self.of(BipolarCard):
            sign = 1.0 if card.kind == "npn" else -1.0

            def v_be(i_c: float, card: BipolarCard = card, sign: float = sign, **more: float) -> float:
                q = Bipolar(name="Q", c="c", b="b", e="0", **(derive.bipolar(card) | more))
                held = [VoltageSource(name="V", a="c", b="0", value=sign * 5.0), q]
                found = brentq(
                    lambda i_b: (
                        abs(
                            operating_point(
                                Netlist.of([CurrentSource(name="I", a="0", b="b", value=sign * i_b), *held])
                            ).current("Q", "c")
                        )
                        - i_c
                    ),
                    i_c / 1e4,
                    i_c,
                )
                return (
                    sign
                    * operating_point(
                        Netlist.of([CurrentSource(name="I", a="0", b="b", value=sign * found), *held])
                    )["b"]
                )

            self.assertAlmostEqual(v_be(card.v_be_on_at), card.v_be_on, delta=3e-3, msg=card.id)
            self.assertAlmostEqual(v_be(1e-2) - v_be(1e-3), 0.0592, delta=0.01, msg=card.id)
            self.assertAlmostEqual(v_be(1e-3, temperature=75.0) - v_be(1e-3), -0.1, delta=3e-3, msg=card.id)

    def test_gain_falls_at_low_current(self) -> None:
        """Oracle: the card's own number where it has one; without, three quarters at a thousandth of the test
        current.
        """
        for card in self.of(BipolarCard):
            if card.gain_far is None:
                low, at = (gain_at(card, i) for i in (card.gain_at / 1000, card.gain_at))
                self.assertAlmostEqual(low / at, 0.75, delta=0.01, msg=card.id)
            told = card.model_copy(
                update={"gain_low": GainPoint(current=card.gain_at / 100, gain=0.6 * card.gain)}
            )
            self.assertAlmostEqual(
                gain_at(told, told.gain_at / 100), 0.6 * card.gain, delta=0.02 * card.gain, msg=card.id
            )
            self.assertAlmostEqual(
                gain_at(told, told.gain_at), card.gain, delta=0.02 * card.gain, msg=card.id
            )
            if told.gain_far:
                far = gain_at(told, told.gain_far.current, 5.0) / (1 + 4 / 80)  # less the Early effect
                self.assertAlmostEqual(far, told.gain_far.gain, delta=0.05 * told.gain_far.gain, msg=card.id)


class Cards(unittest.TestCase):
    def test_missing_and_contradictory_numbers_are_named(self) -> None:
        npn = catalogue()["npn-40v-200ma"].model_dump(mode="json")
        for change, field, word in (
            ({"v_ceo": None}, "v_ceo", ""),
            ({"gain_min": 500}, "", "gain must rise"),
            ({"v_ce_sat": 1.2}, "", "saturated"),
            ({"power": "-1"}, "power", "outside"),
        ):
            data = {**npn, **change}
            data = {k: v for k, v in data.items() if v is not None}
            with self.subTest(change), self.assertRaises(DocumentError) as caught:
                read_card(data)
            problem = caught.exception.problems[0]
            self.assertIn(word, problem.message)
            self.assertTrue(problem.field.endswith(field))

    def test_resistance_below_the_threshold_is_refused(self) -> None:
        card = catalogue()["nmos-55v-30a"].model_dump(mode="json")
        card["on"] = [{"v_gs": 2.0, "resistance": 0.1, "current": 1}]
        with self.assertRaisesRegex(DocumentError, "where it begins"):
            read_card(card)

    def test_promises_hold_from_their_gate_voltage_up(self) -> None:
        card = catalogue()["nmos-55v-5a-logic"]
        assert isinstance(card, FieldEffectCard)
        self.assertIsNone(card.promised_on(2.4))
        self.assertEqual(getattr(card.promised_on(3.3), "resistance", None), 0.06)
        self.assertEqual(getattr(card.promised_on(5.0), "resistance", None), 0.045)

    def test_drawer_counts_values_and_refuses_wrong_kinds(self) -> None:
        cards = resistor_cards([220.0, 4700.0])
        drawer = Drawer(own={c.id: c for c in cards}, stock={cards[0].id: 3})
        self.assertEqual(drawer.resistors(), {220.0: 3})
        self.assertEqual(len(drawer.of(ResistorCard)), 2)
        with self.assertRaisesRegex(DocumentError, "does not go here"):
            drawer.card("zener-15v", NpnCard)
        with self.assertRaisesRegex(DocumentError, "no such part card"):
            drawer.card("nothing", NpnCard)

    def test_catalogue_names_no_type_numbers(self) -> None:
        for card in catalogue().values():
            self.assertNotRegex(card.title, r"\b(?:BC|2N|IRF|1N|TIP|BS)\d")
            self.assertFalse(math.isnan(card.price))
