"""Card in, card out. Oracle: the datasheet's own test circuit, solved by the kernel with the derived model."""

import math
import unittest

from hexlet_core.cards import Drawer, catalogue, derive, read_card, resistor_cards
from hexlet_core.cards.card import DiodeCard, MosfetCard, NpnCard, RelayCard, ResistorCard, ZenerCard
from hexlet_core.circuit.devices import Bipolar, CurrentSource, Diode, Mosfet, VoltageSource
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import Solution, operating_point
from hexlet_core.errors import DocumentError


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

    def test_npn_saturation_and_gain(self) -> None:
        for card in self.of(NpnCard):
            q = Bipolar(name="Q", c="x", b="b", e="0", **derive.npn(card))
            sat = fed(card.sat_collector, q, CurrentSource(name="IB", a="0", b="b", value=card.sat_base))
            self.assertAlmostEqual(sat["x"], card.v_ce_sat, delta=0.01)
            self.assertAlmostEqual(sat["b"], card.v_be_sat, delta=0.01)
            for spread, gain in (("min", card.gain_min), ("typ", card.gain), ("max", card.gain_max)):
                q = Bipolar(name="Q", c="x", b="b", e="0", **derive.npn(card, spread=spread))
                i_b = card.gain_at / gain
                v_ce = 1.5 + card.gain_at * q.r_c
                active = operating_point(
                    Netlist.of([VoltageSource(name="VC", a="x", b="0", value=v_ce), q, CurrentSource(name="IB", a="0", b="b", value=i_b)])
                )
                self.assertAlmostEqual(active.current("Q", "c") / i_b, gain, delta=gain * 0.03)

    def test_mosfet_resistance_and_threshold(self) -> None:
        for card in self.of(MosfetCard):
            q = Mosfet(name="Q", g="g", d="x", s="0", **derive.n_mosfet(card))
            for point in (card.on[0], card.on[-1]):
                v = fed(point.current, q, VoltageSource(name="VG", a="g", b="0", value=point.v_gs))["x"]
                self.assertAlmostEqual(v / point.current, point.resistance, delta=point.resistance * 0.01, msg=card.id)
            tied = Mosfet(name="Q", g="x", d="x", s="0", **derive.n_mosfet(card))
            self.assertAlmostEqual(fed(card.threshold_current, tied)["x"], card.threshold, delta=5e-3)

    def test_mosfet_spread_and_heat_move_the_threshold(self) -> None:
        card = self.of(MosfetCard)[0]
        typical, weak = derive.n_mosfet(card)["v_th"], derive.n_mosfet(card, spread="min")["v_th"]
        self.assertAlmostEqual(typical - weak, card.threshold - card.threshold_min)
        self.assertAlmostEqual(derive.n_mosfet(card, 75.0)["v_th"] - typical, -0.1)

    def test_mosfet_miller_charge(self) -> None:
        """Qgd: the gate-drain charge that passes while the drain falls from half its rating to 0 at the plateau."""
        for card in self.of(MosfetCard):
            q = Mosfet(name="Q", g="g", d="x", s="0", **derive.n_mosfet(card))
            plateau = card.threshold + 0.5

            def held(drain: float, q: Mosfet = q, plateau: float = plateau) -> float:
                point = operating_point(
                    Netlist.of(
                        [VoltageSource(name="G", a="g", b="0", value=plateau), VoltageSource(name="D", a="x", b="0", value=drain), q]
                    )
                )
                return float(point.waves.charge("Q", "g")[0])

            self.assertAlmostEqual(held(0.0) - held(card.v_ds / 2), card.q_gd, delta=card.q_gd * 0.01)

    def test_relay_currents(self) -> None:
        for card in self.of(RelayCard):
            rule = derive.relay(card)
            self.assertAlmostEqual(rule["pull_in"] * card.coil, card.pull_in * card.rated)
            self.assertAlmostEqual(rule["inductance"] / card.coil, card.time_constant)

    def test_copper(self) -> None:
        self.assertAlmostEqual(derive.copper(96.0, 52.0, 21.0), 96.0 * (1 + 0.0039 * 31))

    def test_a_hot_junction_drops_two_millivolts_a_kelvin(self) -> None:
        card = self.of(DiodeCard)[0]
        point = card.forward[0]
        hot = fed(point.current, Diode(name="D", a="x", k="0", **derive.diode(card, 75.0)))["x"]
        self.assertAlmostEqual(hot, point.voltage - 0.1, delta=2e-3)


class Cards(unittest.TestCase):
    def test_missing_and_contradictory_numbers_are_named(self) -> None:
        npn = catalogue()["npn-40v-200ma"].model_dump(mode="json")
        for change, field, word in (
            ({"v_ceo": None}, "v_ceo", ""), ({"gain_min": 500}, "", "gain must rise"), ({"v_ce_sat": 1.2}, "", "saturated"), ({"power": "-1"}, "power", "outside"),
        ):  # fmt: skip
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
        assert isinstance(card, MosfetCard)
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
