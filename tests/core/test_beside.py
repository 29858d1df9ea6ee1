"""Loads beside each other on one switch, a relay with its own diode, a wire as the signal, no series
resistor, and the slow sweep of the input.

Oracles: currents add at a node; the divider and the threshold in closed form; the circuit without the part.
"""

import unittest

from hexlet_core.build.steps import steps
from hexlet_core.design.channels import channels, lines
from hexlet_core.design.confirm import confirm
from hexlet_core.design.document import Design, changed, in_line
from hexlet_core.design.insert import joined_beside, removed
from hexlet_core.design.mend import mends
from hexlet_core.design.picture import flow_picture
from hexlet_core.design.places import places
from hexlet_core.design.starts import start
from hexlet_core.design.study import Study, study
from hexlet_core.rehearsal.rehearse import Rehearsal, rehearse
from hexlet_core.rehearsal.script import presets
from hexlet_core.stages.contract import Stage
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.wire import JumperWire

from .circuits import DRAWER, fan, verdict


def with_beside(kind: type[Stage]) -> Design:
    made = joined_beside(fan(), kind, "b4")
    assert made is not None
    return made


class Beside(unittest.TestCase):
    def test_the_switch_carries_both(self) -> None:
        """Kirchhoff: what each takes at the cold, full supply adds up."""
        alone, together = (verdict(d, "switch_current").worst for d in (fan(), with_beside(Resistive)))
        self.assertAlmostEqual(together - alone, 14.4 / Resistive().resistance, places=3)

    def test_the_circuit_says_so_too(self) -> None:
        here = study(with_beside(LedLoad), DRAWER)
        told = [c for c in confirm(here) if c.id.startswith(("b2", "b4")) and not c.agrees]
        self.assertEqual(told, [])

    def test_they_are_one_channel_and_drawn_in_its_flow(self) -> None:
        design = with_beside(LedLoad)
        self.assertEqual(len(lines(design)), 1)
        self.assertEqual(channels(design), ())
        self.assertEqual(flow_picture(study(design, DRAWER)).channels, 1)

    def test_it_is_offered_and_taken_out_again(self) -> None:
        beside = next(p for p in places(study(fan(), DRAWER), "b4").places if p.where == "beside")
        offer = next(c.offer for c in beside.choices if c.offer.kind == "led")
        design = changed(fan(), [(c.path, c.value) for c in offer.changes])
        self.assertEqual(design.joins, with_beside(LedLoad).joins)
        self.assertEqual(removed(design, offer.block).joins, fan().joins)


class ItsOwnDiode(unittest.TestCase):
    def test_it_does_what_a_diode_does_and_is_not_bought(self) -> None:
        one, other = study(fan("diode"), DRAWER), study(fan("inside"), DRAWER)
        self.assertAlmostEqual(verdict(one.design, "peak").worst, verdict(other.design, "peak").worst)
        self.assertNotIn("D1", {ref for _, ref, part in other.placed if part.listed})
        self.assertIn("Which coil pin is +", [s.title for s in steps(other)])

    def test_no_relay_grows_one_to_mend_a_fault(self) -> None:
        here = study(fan("none"), DRAWER)
        bad = next(v.id for v in here.verdicts if v.standing == "fails")
        changes = [c for mend in mends(here, bad).mends for c in mend.changes]
        self.assertTrue(changes)
        self.assertNotIn("inside", [c.value for c in changes])


class NothingBetween(unittest.TestCase):
    def made(self, signal: Stage, drive: Stage) -> Study:
        return study(in_line(signal, drive, Freewheel(), RelayCoil(), name="Bare"), DRAWER)

    def test_a_gate_may_do_without_a_resistor(self) -> None:
        here = self.made(LogicPin(), NmosLowSide(r_gate=None, r_pull=6800.0))
        self.assertEqual([v.id for v in here.verdicts if v.standing == "fails"], [])
        gate = verdict(here.design, "fully_on")
        self.assertAlmostEqual(gate.nominal, 3.3 * 0.96 * 6800 / (6800 + 25), places=3)

    def test_a_base_may_not(self) -> None:
        """(3.43 − 0.65) V behind the pin's own 25 Ω."""
        taken = verdict(self.made(LogicPin(), NpnLowSide(r_base=None)).design, "pin_steady")
        self.assertEqual(taken.standing, "fails")
        self.assertAlmostEqual(taken.worst, (3.432 - 0.65) / 25, delta=0.01)

    def test_a_wire_needs_something_to_hold_what_it_leaves(self) -> None:
        held, loose = (self.made(JumperWire(), NmosLowSide(r_pull=pull)) for pull in (10e3, None))
        self.assertEqual([v.id for v in held.verdicts if v.standing == "fails"], [])
        unheld = [v.id for v in loose.verdicts if v.standing != "fits" and "unplugged" in v.check]
        self.assertTrue(unheld)


class Swept(unittest.TestCase):
    def swept(self, *changes: tuple[str, object]) -> Rehearsal:
        here = study(changed(start("coil"), changes), DRAWER)
        return rehearse(here, next(p for p in presets(here) if p.title.startswith("Input swept")))

    def test_where_it_pulls_in_and_lets_go_is_told(self) -> None:
        first, second = (m.text for m in self.swept().marks)
        self.assertIn("comes on", first)
        self.assertIn("lets go", second)

    def test_a_divider_moves_both_by_what_it_divides(self) -> None:
        """V_in = V_gate·(R1 + R2)/R2."""
        plain, divided = self.swept(), self.swept(("blocks.b2.r_gate", 2200.0))
        r_gate, r_pull = 220.0, start("coil").blocks["b2"].model_dump()["r_pull"]
        expected = (1 + 2225 / r_pull) / (1 + (r_gate + 25) / r_pull)
        one, other = (float(run.marks[0].text.split(" V")[0]) for run in (plain, divided))
        self.assertAlmostEqual(other / one, expected, delta=0.02)
