"""Rehearsals run many times, and events in words."""

import unittest

import numpy as np
from hexlet_core.design.script import LiftPart, ProbeNode, RefitPart, Script, SetPin, SetSupply, SweepInput
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError
from hexlet_core.rehearsal.events import told
from hexlet_core.rehearsal.rehearse import rehearse, waves_of
from hexlet_core.rehearsal.script import presets
from hexlet_core.rehearsal.spread import Fan, Wish, at_supply, corners_of, spread, times_of

from .circuits import every_design, fan


def last(design: object, script: Script, wish: Wish) -> Fan:
    steps = list(spread(study(design), script, wish))  # type: ignore[arg-type]
    assert [s.done for s in steps] == list(range(1, steps[-1].of + 1))
    assert steps[-1].fan is not None
    return steps[-1].fan


class Fans(unittest.TestCase):
    def test_corners_hold_the_nominal_curve_between_them(self) -> None:
        """Oracle: the nominal rehearsal, point by point, and its marks."""
        design, script = fan(), presets(study(fan()))[0]
        found = last(design, script, Wish(kind="corners"))
        self.assertEqual((found.runs, found.failed), (48, 0))
        waves = waves_of(study(design), script)
        coil = next(r for r in found.ribbons if r.lane == "b4.current")
        nominal = np.interp(found.time, waves.time, waves["i(K1)"])
        self.assertTrue(
            (nominal >= np.array(coil.low) - 1e-3).all() and (nominal <= np.array(coil.high) + 1e-3).all()
        )
        closes = next(m for m in found.marks if m.id.startswith("closes"))
        self.assertLess(closes.statistics.low, 8.9e-3)
        self.assertGreater(closes.statistics.high, 8.95e-3)

    def test_a_corner_alone_is_the_corner_in_the_fan(self) -> None:
        """Oracle: the same corner rehearsed by itself lies inside the extremes, and one of them makes each
        extreme.
        """
        design, script = fan(), presets(study(fan()))[3]
        found = last(design, script, Wish(kind="corners"))
        grid = times_of(script)
        drain = next(r for r in found.ribbons if r.lane == "b2.drain")
        tops = []
        for corner in corners_of(design):
            waves = waves_of(study(design), at_supply(script, design, corner.supply), corner)
            tops.append(np.interp(grid, waves.time, waves["b2.drain"]))
        np.testing.assert_allclose(np.max(tops, axis=0), drain.high, atol=1e-9)
        np.testing.assert_allclose(np.min(tops, axis=0), drain.low, atol=1e-9)

    def test_parts_are_the_same_for_the_same_seed(self) -> None:
        design, script = fan(), presets(study(fan()))[3]
        one, two = (last(design, script, Wish(kind="parts", count=8, seed=5)) for _ in range(2))
        self.assertEqual(one, two)
        self.assertNotEqual(one.ribbons, last(design, script, Wish(kind="parts", count=8, seed=6)).ribbons)
        self.assertLessEqual({"R1.resistance", "Q1.v_th", "D1.i_s", "K1.resistance"}, set(one.varied))

    def test_closing_the_iterator_stops(self) -> None:
        steps = spread(study(fan()), presets(study(fan()))[3], Wish(kind="parts", count=500))
        self.assertEqual(next(steps).done, 1)
        steps.close()  # type: ignore[attr-defined]

    def test_every_design_can_be_spread(self) -> None:
        for design in every_design()[:8]:
            found = last(design, presets(study(design))[:4][-1], Wish(kind="parts", count=2))
            self.assertEqual(found.failed, 0)


class Words(unittest.TestCase):
    def test_every_event_is_told_in_order(self) -> None:
        events = (
            SetSupply(at=0.2, volts=10.8),
            SetPin(at=0.1, level="boot"),
            SweepInput(at=0.3, volts=5, over=1),
            LiftPart(part="R1", at=0.4),
            RefitPart(part="R1", at=0.5),
            ProbeNode(red="gate", at=0.6, until=0.7),
        )
        found = told(events, "Battery")
        self.assertEqual([h.index for h in found], [1, 0, 2, 3, 4, 5])
        self.assertEqual([h.actor for h in found], ["Pin", "Battery", "Pin", "Bench", "Bench", "Bench"])
        self.assertEqual([h.text for h in found[:3]], ["boots", "to 10.8 V in 1 ms", "slowly to 5 V in 1 s"])

    def test_a_lifted_freewheel_diode_lets_the_drain_fly(self) -> None:
        """Oracle: without the diode the drain reaches the MOSFET's breakdown, with it a diode's drop above
        the supply.
        """
        script = Script(
            stop=0.06,
            events=(SetPin(at=0.0, level="high"), SetPin(at=0.02, level="low"), LiftPart(part="D1", at=0.0)),
        )
        lifted = waves_of(study(fan()), script)
        self.assertGreater(float(lifted["b2.drain"].max()), 50.0)
        kept = waves_of(study(fan()), script.model_copy(update={"events": script.events[:2]}))
        self.assertLess(float(kept["b2.drain"].max()), 14.0)

    def test_a_gate_beyond_its_limit_is_said(self) -> None:
        """Oracle: behind R1 and R2 the gate has 6800/(6800 + 245) of the signal, and passes 20 V
        at 69.1 ms.
        """
        script = Script(stop=0.2, events=(SweepInput(at=0.0, volts=30.0, over=0.1),))
        (words,) = rehearse(study(fan()), script).passed
        self.assertRegex(words, r"^Q1 gate: 2\d(\.\d)? V of 20 V allowed, first at 69")

    def test_a_part_that_is_not_there_is_refused(self) -> None:
        with self.assertRaisesRegex(DocumentError, "no device of that name"):
            rehearse(study(fan()), Script(events=(LiftPart(part="R99", at=0.0),)))

    def test_a_slow_sweep_finds_pull_in_and_release_apart(self) -> None:
        """Oracle: hysteresis; the coil lets go at a lower input than it pulls in."""
        script = next(p for p in presets(study(fan())) if "swept" in p.title)
        waves = waves_of(study(fan()), script)
        closed = waves.state("K1", 2) > 0.5
        on, off = np.flatnonzero(np.diff(closed.astype(int)))[:2]
        self.assertGreater(float(waves["b1.pin"][on]), float(waves["b1.pin"][off]))
