"""Who ends up on: an interlock's buttons in every order, against runs of the circuit written out by hand."""

import unittest

import numpy as np
from hexlet_core.circuit.measure import signal
from hexlet_core.circuit.solve import transient
from hexlet_core.design.document import Design, changed
from hexlet_core.design.starts import chain_selector, selector
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError
from hexlet_core.rehearsal.lit import half_amps, load_signal
from hexlet_core.rehearsal.orders import Order, Orders, orders
from hexlet_core.stages.contract import Act, Corner
from hexlet_core.stages.drives.one_of_chain import OneOfChain
from hexlet_core.stages.drives.one_of_n import OneOfN
from hexlet_core.stages.drives.soft_latch import SoftLatch
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.signals.push_button import PushButton

from .circuits import verdict
from .test_holding import kept


def chosen(design: Design) -> Orders:
    last = list(orders(study(design)))[-1].orders
    assert last is not None
    return last


def panels(count: int, **more: object) -> Design:
    made = selector(*(Resistive(resistance=47.0, power=10.0) for _ in range(count)))
    block = next(id for id, stage in made.blocks.items() if isinstance(stage, OneOfN))
    return changed(made, [(f"blocks.{block}.{k}", v) for k, v in more.items()])


def way(found: Orders, words: str) -> Order:
    return next(o for o in found.orders if o.words == words)


class HoldLine(unittest.TestCase):
    def test_never_two_in_the_end_from_two_to_six(self) -> None:
        for count in (2, 3, 6):
            answer = chosen(panels(count))
            self.assertEqual(answer.channels, count)
            self.assertEqual(answer.runs, 8 * count * (count - 1))
            for order in answer.orders:
                self.assertTrue(order.meant, order.words)
                self.assertTrue(all(len(pair.on) <= 1 for pair in order.pairs), order.words)

    def test_the_last_one_let_go_has_its_way(self) -> None:
        answer = chosen(panels(3))
        self.assertEqual(way(answer, "Both held, first let go").ends, "the second")
        self.assertEqual(way(answer, "Both held, second let go").ends, "the first")
        self.assertEqual(way(answer, "Both held").ends, "the lower number")

    def test_zeners_break_the_hold_line_and_the_answer_says_so(self) -> None:
        """Oracle: the transient of one tap: with zeners the relay lets go while the button travels back."""
        design = panels(3, faster=True)
        answer = chosen(design)
        self.assertFalse(way(answer, "First tapped, none on").meant)
        self.assertIn("First tapped", answer.says)
        here = study(design)
        load = design.of_role("load")[0]
        waves = transient(
            here.acted(Corner(supply=design.supply.high), (Act("b1", "active", 0.1, 0.1),)), 0.6
        )
        amps = np.abs(signal(waves, load_signal(here, load)))
        self.assertLess(float(amps[-1]), half_amps(here, load, design.supply.high))

    def test_a_slow_release_puts_two_on_and_is_measured(self) -> None:
        """Oracle: buttons that hardly travel or bounce leave only the diode's delay between the two: what
        the verdict says one opens later than the other shuts.
        """
        design = panels(2)
        buttons = [id for id, s in design.blocks.items() if isinstance(s, PushButton)]
        quick = [(f"blocks.{id}.{k}", v) for id in buttons for k, v in (("travel", 1e-3), ("bounce", 1e-4))]
        design = changed(design, quick)
        told = verdict(design, "never_two")
        self.assertNotEqual(told.standing, "fits")
        tapped = way(chosen(design), "Second tapped while the first is on")
        for pair in tapped.pairs:
            self.assertAlmostEqual(pair.overlap, told.worst - told.limit, delta=5e-4)

    def test_what_does_not_choose_is_refused(self) -> None:
        with self.assertRaises(DocumentError):
            list(orders(study(kept(SoftLatch()))))


class Chain(unittest.TestCase):
    def test_a_pair_held_is_off_and_the_last_one_let_go_wins(self) -> None:
        """Oracle: the circuit: each of the two takes the other's transistors out."""
        for count in (2, 3):
            answer = chosen(chain_selector(*(Resistive(resistance=47.0, power=10.0) for _ in range(count))))
            self.assertEqual(way(answer, "Both held").ends, "none")
            self.assertEqual(way(answer, "Both held, first let go").ends, "the second")
            self.assertEqual(way(answer, "Both let go at once").ends, "none")
            self.assertTrue(all(o.meant and o.alike for o in answer.orders))
            self.assertEqual(answer.overlap, 0.0)

    def test_what_stands_and_what_the_chain_drops_is_what_flows(self) -> None:
        """Oracle: the operating point with all off, and the coil's volts while one is held."""
        for count in (2, 4):
            design = chain_selector(*(Resistive() for _ in range(count)))
            here = study(design)
            block = next(id for id, s in design.blocks.items() if isinstance(s, OneOfChain))
            stage, site = here.flow.stage(block), here.flow.sites[block]
            assert isinstance(stage, OneOfChain)
            waves = transient(here.acted(Corner(supply=12.6), ()), 0.2)
            standing = float(np.abs(signal(waves, "i(BAT)"))[-1])
            self.assertAlmostEqual(stage.standing(12.6), standing, delta=0.12 * standing)
            held = transient(here.acted(Corner(supply=12.6), (Act("b1", "active", 0.05, 0.1),)), 0.5)
            coil = float(signal(held, here.signal(block, "v(chain_1,coil_1)"))[-1])
            self.assertAlmostEqual(12.6 - stage.drop(site, 12.6), coil, delta=0.15)
