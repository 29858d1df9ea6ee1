"""Which part a number hangs on most, and what measuring it does.

Oracle: a divider's own sensitivities in closed form; what is measured spreads no more than the meter reads.
"""

import unittest

from hexlet_core.circuit import vary
from hexlet_core.design.confirm import Confirmed, confirm
from hexlet_core.design.document import Design, changed
from hexlet_core.design.starts import start
from hexlet_core.design.study import Study, study
from hexlet_core.stages.contract import Corner

from .circuits import DRAWER


def relay(*changes: tuple[str, object]) -> Study:
    return study(changed(start("coil"), changes), DRAWER)


def confirmed(here: Study, id: str) -> Confirmed:
    return next(c for c in confirm(here) if c.id == id)


def spread_of(here: Study, ref: str, field: str) -> tuple[float, float]:
    circuit = here.netlist(Corner(supply=12.6))
    found = next(f for f in vary.factors(circuit) if (f.device, f.field) == (ref, field))
    return found.low / found.nominal, found.high / found.nominal


class Dominating(unittest.TestCase):
    def test_a_divider_hangs_on_both_its_resistors_alike(self) -> None:
        """V·R2/(R1 + R2): d ln V = R1/(R1 + R2)·(d ln R2 − d ln R1), the same share for either."""
        found = confirmed(relay(("blocks.b2.r_gate", 3300.0)), "b2.promised").dominant
        assert found is not None
        self.assertAlmostEqual(found.share, 0.5, delta=0.01)
        self.assertIn(found.part, ("R1", "R2"))

    def test_a_drop_hangs_on_the_transistor_whose_sheet_alone_says_it(self) -> None:
        found = confirmed(relay(("blocks.b2.r_gate", 5600.0)), "b4.pull_in").dominant
        assert found is not None
        self.assertEqual((found.part, found.what, found.path), ("Q1", "threshold", ""))
        self.assertFalse(found.settles)

    def test_what_fails_with_ordinary_parts_names_none(self) -> None:
        self.assertIsNone(confirmed(relay(("blocks.b2.r_gate", 5600.0)), "b2.fully_on").dominant)


class Measured(unittest.TestCase):
    def test_a_coil_spreads_until_it_is_measured(self) -> None:
        known: dict[str, object] = {**start("coil").origins, "blocks.b4.resistance": "given"}
        given = study(Design.model_validate(start("coil").model_dump() | {"origins": known}), DRAWER)
        self.assertAlmostEqual(spread_of(given, "K1", "resistance")[1], 1.1)
        known["blocks.b4.resistance"] = "measured"
        measured = study(Design.model_validate(start("coil").model_dump() | {"origins": known}), DRAWER)
        accuracy = measured.design.meter.accuracy
        low, high = spread_of(measured, "K1", "resistance")
        self.assertAlmostEqual(low, 1 - accuracy)
        self.assertAlmostEqual(high, 1 + accuracy)

    def test_a_measured_resistor_no_longer_has_its_tolerance(self) -> None:
        here = relay(("origins.blocks.b2.r_gate", "measured"))
        self.assertAlmostEqual(spread_of(here, "R1", "resistance")[1], 1 + here.design.meter.accuracy)
        self.assertAlmostEqual(spread_of(here, "R2", "resistance")[1], 1 + here.design.tolerance)

    def test_measuring_both_takes_the_tolerance_out_of_the_verdict(self) -> None:
        """V = V_0·R2/(R1 + R2), the resistors no farther off than the meter."""
        paths = ("blocks.b2.r_gate", "blocks.b2.r_pull")
        here = relay(*((f"origins.{p}", "measured") for p in paths))
        drive, off = here.design.blocks["b2"].model_dump(), here.design.meter.accuracy
        r1, r2 = drive["r_gate"] * (1 + off) + 25.0, drive["r_pull"] * (1 - off)
        found = next(v for v in here.verdicts if v.id == "b2.fully_on")
        self.assertAlmostEqual(found.worst, 3.3 * 0.96 * r2 / (r1 + r2), places=3)
