"""What a card's model does at an operating point: closed solutions beside the simulated device itself.

Oracle: the operating point of one device between ideal sources, as a bench would measure it.
"""

import unittest

from hexlet_core.cards import catalogue, derive
from hexlet_core.cards.card import BipolarCard, DiodeCard, FieldEffectCard, LedCard, OptocouplerCard
from hexlet_core.cards.points import channel_volts, forward_volts, junctions, lit_amps, opto_volts
from hexlet_core.circuit.devices import Bipolar, CurrentSource, Diode, Mosfet, Resistor, VoltageSource
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point


def current(name: str, into: str, amps: float) -> CurrentSource:
    return CurrentSource(name=name, a="0", b=into, value=amps)


def volts(name: str, at: str, value: float) -> VoltageSource:
    return VoltageSource(name=name, a=at, b="0", value=value)


class Points(unittest.TestCase):
    def test_a_mosfets_channel(self) -> None:
        for card in catalogue().values():
            if isinstance(card, FieldEffectCard) and card.kind == "n_mosfet":
                for v_gs in (card.lowest_on.v_gs, 1.5 * card.lowest_on.v_gs):
                    amps = 0.2 * card.current
                    net = [volts("V", "g", v_gs), current("I", "d", amps)]
                    device = Mosfet(name="Q", g="g", d="d", s="0", **derive.mosfet(card))
                    found = operating_point(Netlist.of([*net, device]))["d"]
                    self.assertAlmostEqual(channel_volts(card, v_gs, amps) / found, 1.0, delta=5e-3)

    def test_a_saturated_transistor(self) -> None:
        for card in catalogue().values():
            if isinstance(card, BipolarCard) and card.kind == "npn":
                for share, gain in ((0.1, 10.0), (0.3, 20.0), (0.5, 10.0)):
                    i_c = share * card.current
                    i_b = i_c / gain
                    net = [current("IB", "b", i_b), current("IC", "c", i_c)]
                    device = Bipolar(name="Q", c="c", b="b", e="0", **derive.bipolar(card))
                    found = operating_point(Netlist.of([*net, device]))
                    said = junctions(card, i_c, i_b)
                    self.assertTrue(said.saturated)
                    self.assertAlmostEqual(said.v_ce, found["c"], delta=0.03 * found["c"] + 1e-3)
                    self.assertAlmostEqual(said.v_be, found["b"], delta=5e-3)

    def test_a_starved_one_is_not_saturated(self) -> None:
        card = catalogue()["npn-40v-200ma"]
        assert isinstance(card, BipolarCard)
        said = junctions(card, 0.1, 0.1 / (1.5 * card.gain))
        self.assertFalse(said.saturated)
        self.assertGreater(said.v_ce, 1.0)

    def test_a_diode_and_leds_in_a_row(self) -> None:
        card, red = catalogue()["diode-1a-100v"], next(c for c in catalogue().values() if c.kind == "led")
        assert isinstance(card, DiodeCard)
        assert isinstance(red, LedCard)
        for point in card.forward:
            self.assertAlmostEqual(forward_volts(card, point.current), point.voltage, places=6)
        chain = [Diode(name=f"D{k}", a=f"n{k}", k=f"n{k + 1}", **derive.led(red)) for k in range(3)]
        resistor = Resistor(name="R", a="n3", b="0", resistance=470.0)
        found = operating_point(Netlist.of([volts("V", "n0", 9.0), *chain, resistor]))
        self.assertAlmostEqual(lit_amps(red, 3, 470.0, 9.0), found["n3"] / 470.0, delta=1e-5)

    def test_an_optocoupler_gives_its_cards_saturation(self) -> None:
        """Oracle: the card's own point."""
        card = next(c for c in catalogue().values() if isinstance(c, OptocouplerCard))
        said = opto_volts(card, card.saturation.current, card.saturation_led)
        self.assertAlmostEqual(said, card.saturation.voltage, delta=0.02)
