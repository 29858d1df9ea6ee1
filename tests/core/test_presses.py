"""The press map against single runs of the same design.

Oracle: one transient of the whole design for a press held just under, or just over, an edge of the map.
"""

import unittest

from hexlet_core.design.document import Design, changed, in_line
from hexlet_core.design.script import PressButton, Script
from hexlet_core.design.starts import selector
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError
from hexlet_core.rehearsal.press_map import PressMap, press_map
from hexlet_core.rehearsal.rehearse import waves_of
from hexlet_core.stages.behaviours.one_shot import OneShot
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.soft_latch import SoftLatch
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.signals.push_button import PushButton

from .circuits import fan


def mapped(design: Design) -> PressMap:
    *_, last = press_map(study(design))
    assert last.map is not None
    return last.map


def shot(**values: object) -> Design:
    one = OneShot.model_validate({"r_time": 100e3, "c_time": 1e-6} | values)
    return in_line(PushButton(to="zero"), one, NmosLowSide(), Resistive(), name="Timed")


class Presses(unittest.TestCase):
    def test_a_coupled_one_shot_does_not_care_how_long(self) -> None:
        found = mapped(shot())
        self.assertEqual([[s.kind for s in r.spans] for r in found.rows], [["pulse"]] * 3)
        self.assertIn("on for 11", found.rows[0].spans[0].words)

    def test_a_direct_one_stays_on_while_it_is_held(self) -> None:
        """Oracle: the one-shot's own time: longer holds are the hold itself."""
        found = mapped(shot(trigger="direct"))
        for row in found.rows:
            self.assertEqual([s.kind for s in row.spans], ["pulse", "held"])
            self.assertAlmostEqual(row.spans[0].high, 0.11, delta=0.03)

    def test_a_soft_latch_turns_on_and_off_whatever_the_hold(self) -> None:
        found = mapped(in_line(PushButton(), SoftLatch(), Resistive(), name="Latch"))
        self.assertEqual({(r.begin, r.spans[0].kind) for r in found.rows}, {("off", "on"), ("on", "off")})
        self.assertTrue(all(len(r.spans) == 1 for r in found.rows))

    def test_an_edge_lies_where_single_runs_say(self) -> None:
        """A tap too short for the relay does nothing; the map's edge is that hold, within a few per cent."""
        design = selector(Resistive(), Resistive())
        row = next(r for r in mapped(design).rows if r.begin == "off" and r.supply == design.supply.typical)
        nothing, on = row.spans
        self.assertEqual((nothing.kind, on.kind), ("nothing", "on"))
        for share, closed in ((0.9, False), (1.1, True)):
            hold = PressButton(do="press", button="S1", at=0.05, hold=share * nothing.high)
            waves = waves_of(study(design), Script(title="tap", stop=0.4, events=(hold,)))
            self.assertEqual(bool(waves.state("K1", 2)[-1] > 0.5), closed)

    def test_a_press_shorter_than_its_bounce_is_left_out(self) -> None:
        slow = changed(shot(), [("blocks.b1.bounce", 0.02)])
        self.assertAlmostEqual(mapped(slow).low, 0.024, delta=1e-3)

    def test_work_can_be_stopped_and_tells_how_far_it_is(self) -> None:
        steps = press_map(study(shot()))
        first, second = next(steps), next(steps)
        self.assertEqual((first.done, second.done), (1, 2))
        self.assertGreater(first.of, second.done)

    def test_a_design_without_a_behaviour_has_none(self) -> None:
        with self.assertRaisesRegex(DocumentError, "Put in a behaviour"):
            next(press_map(study(fan())))
