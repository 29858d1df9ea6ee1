"""Timing: each kind's time against the simulated circuit, over its supply and its parts; and what goes wrong.

Oracles: the transient of the whole design, timers, junctions, leakage and all; and where said, closed forms.
"""

import unittest
from typing import Any

import numpy as np
from hexlet_core.circuit.measure import Measurement, signal
from hexlet_core.circuit.solve import transient
from hexlet_core.design.document import Design, Supply, changed, in_line
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.hangs import hangs
from hexlet_core.design.insert import behaving, removed
from hexlet_core.design.proofs import proofs
from hexlet_core.design.study import Study, study
from hexlet_core.errors import DocumentError
from hexlet_core.prove.expect import expectations
from hexlet_core.stages.behaviours.amp_oscillator import AmpOscillator
from hexlet_core.stages.behaviours.astable import Astable
from hexlet_core.stages.behaviours.counter_timer import CounterTimer
from hexlet_core.stages.behaviours.dimmer import Dimmer
from hexlet_core.stages.behaviours.one_shot import OneShot
from hexlet_core.stages.behaviours.power_on_delay import PowerOnDelay
from hexlet_core.stages.behaviours.transistor_astable import TransistorAstable
from hexlet_core.stages.behaviours.transistor_one_shot import TransistorOneShot
from hexlet_core.stages.contract import Act, Corner, Stage
from hexlet_core.stages.drives.held_gate import HeldGate
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.rules.timing import takes
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton
from hexlet_core.stages.signals.sensor_module import SensorModule

from .circuits import verdict, verdicts


def on(volts: float) -> Supply:
    """A bench supply that holds its volts to 4 %."""
    return Supply(kind="bench supply", low=0.96 * volts, typical=volts, high=1.04 * volts)


def made(stage: Stage, volts: float = 12.0, load: Stage | None = None, signal: Stage | None = None) -> Design:
    """A design about one timing kind: what it needs before it, a MOSFET where it is no drive, and a load."""
    kinds = {p.kind for p in stage.ports() if p.way == "in" and p.needed}
    before = (signal,) if signal else (PushButton(),) if kinds & {"command", "contact"} else ()
    drive = () if stage.role == "drive" else (NmosLowSide(),)
    return in_line(*before, stage, *drive, load or LedLoad(), name="Timed", supply=on(volts))


def timing(here: Study) -> tuple[str, Any]:
    """The block that times, and its stage."""
    return next(
        (site.id, stage)
        for stage, site in here.pairs
        if hasattr(stage, "c_time" if stage.role != "drive" else "c_hold")
    )


EVERY: tuple[tuple[Stage, tuple[float, ...]], ...] = (
    (Astable(), (5.0, 12.0)),
    (Astable(card="timer-bipolar", r_a=4.7e3, r_b=10e3, c_time=100e-9), (5.0, 15.0)),
    (Astable(steer="diode", r_a=68e3), (5.0, 12.0)),
    (Dimmer(), (9.0, 15.0)),
    (Dimmer(card="timer-cmos", turn=10.0), (5.0, 12.0)),
    (PowerOnDelay(), (5.0, 12.0)),
    (PowerOnDelay(card="timer-bipolar", r_time=100e3, c_time=1e-6), (5.0, 15.0)),
    (TransistorAstable(), (5.0, 9.0, 15.0)),
    (TransistorAstable(diodes="none"), (4.5,)),
    (TransistorOneShot(), (5.0, 9.0, 15.0)),
    (AmpOscillator(), (9.0, 15.0)),
    (CounterTimer(tap="5"), (5.0, 12.0)),
    (CounterTimer(tap="14"), (9.0,)),
    (HeldGate(), (5.0, 9.0, 15.0)),
    (OneShot(trigger="extends", r_time=100e3, c_time=10e-6), (5.0, 12.0)),
)


def proved(design: Design) -> list[Any]:
    """What the circuit shows of the times that a design promises."""
    here = study(design)
    return [p for b in design.blocks for p in proofs(here, b) if p.check.id in ("not_long", "not_slow")]


class Promises(unittest.TestCase):
    def test_every_time_is_that_of_the_circuit_over_the_supply(self) -> None:
        """Within 2 %; the transistor one-shot within 3 %, see its own words."""
        for stage, supplies in EVERY:
            signal_ = PushButton(to="zero") if isinstance(stage, OneShot) else None
            for volts in supplies:
                with self.subTest((type(stage).__name__, volts)):
                    found = proved(made(stage, volts, signal=signal_))
                    self.assertTrue(found)
                    for proof in found:
                        self.assertLess(proof.off, 0.03 if isinstance(stage, TransistorOneShot) else 0.02)

    def test_parts_at_their_ends_stay_inside_what_is_told(self) -> None:
        """The circuit with its capacitor and resistors at one end each: between least and most."""
        for stage, supplies in EVERY:
            if isinstance(stage, Dimmer | OneShot | CounterTimer):
                continue  # told in hertz, from the second press, or by the pace alone
            design = made(stage, supplies[-1])
            least, most = (verdict(design, id).worst for id in ("not_short", "not_long"))
            block, own = timing(study(design))
            farads = "c_hold" if hasattr(own, "c_hold") else "c_time"
            tolerance = 0.2 if getattr(own, farads) >= 1e-6 else 0.1
            for way in (-1, 1):
                ohms = [
                    n
                    for n in type(own).model_fields
                    if n in ("r_a", "r_b", "r_time", "r_on", "r_off", "r_hold")
                ]
                off = [
                    (f"blocks.{block}.{farads}", getattr(own, farads) * (1 + way * tolerance)),
                    *((f"blocks.{block}.{n}", getattr(own, n) * (1 + way * 0.01)) for n in ohms),
                ]
                with self.subTest((type(stage).__name__, way)):
                    for proof in proved(changed(design, off)):
                        self.assertGreater(proof.found, 0.99 * least)
                        self.assertLess(proof.found, 1.01 * most)

    def test_each_finder_tells_what_its_values_would_do(self) -> None:
        for stage, supplies in EVERY:
            signal_ = PushButton(to="zero") if isinstance(stage, OneShot) else None
            design = made(stage, supplies[-1], signal=signal_)
            found = evaluate(study(design)).finder
            if isinstance(stage, Dimmer):
                self.assertIsNone(found)
                continue
            assert found is not None
            for row in found.rows[:3]:
                with self.subTest((type(stage).__name__, row.title)):
                    then = changed(design, [(c.path, c.value) for c in row.changes])
                    nominal = verdict(then, "not_long").nominal
                    self.assertAlmostEqual(row.nominal / min(nominal, 100 * found.high), 1.0, places=6)

    def test_a_charge_through_a_resistor_is_the_closed_form(self) -> None:
        """Oracle: R·C·ln 2 from a third to two thirds."""
        found = takes(1e-6, 4.0, 8.0, lambda v: (12.0 - v) / 1e5)
        self.assertAlmostEqual(found / (0.1 * np.log(2)), 1.0, places=9)
        self.assertEqual(takes(1e-6, 4.0, 8.0, lambda v: (7.0 - v) / 1e5), float("inf"))


class HangsOn(unittest.TestCase):
    def test_each_part_moves_it_as_the_formula_says(self) -> None:
        """Oracle: t = R·C·ln 3 is proportional to both; 10 MΩ beside a leaking capacitor make it longer."""
        *_, last = hangs(study(made(OneShot(), signal=PushButton(to="zero"))))
        assert last.hangs is not None
        found = last.hangs
        capacitor, levels, resistor = found.levers
        self.assertAlmostEqual((capacitor.high - capacitor.low) / found.value, 0.4, delta=0.01)
        self.assertAlmostEqual((resistor.high - resistor.low) / found.value, 0.02, delta=0.002)
        self.assertEqual(levels.part, "U1")
        self.assertLess(np.ptp([p.value for p in found.supplies]) / found.value, 1e-3)
        assert found.metered is not None
        self.assertAlmostEqual(found.metered / found.value, 1.035, delta=0.01)

    def test_a_held_gate_hangs_on_its_threshold_and_the_supply(self) -> None:
        *_, last = hangs(study(made(HeldGate(c_hold=1e-6))))
        assert last.hangs is not None
        self.assertIn("threshold", [lever.what for lever in last.hangs.levers[:2]])
        values = [p.value for p in last.hangs.supplies]
        self.assertEqual(values, sorted(values))

    def test_a_design_without_a_time_is_refused(self) -> None:
        with self.assertRaises(DocumentError):
            list(hangs(study(in_line(LogicPin(), NmosLowSide(), LedLoad()))))


class Dimmers(unittest.TestCase):
    def test_the_share_across_the_turn_is_that_of_the_circuit(self) -> None:
        for turn in (0.0, 25.0, 75.0, 100.0):
            design = made(Dimmer(turn=turn), load=Resistive())
            here = study(design)
            stage, site = here.flow.stage("b1"), here.flow.sites["b1"]
            assert isinstance(stage, Dimmer)
            told = stage.halves(site)
            waves = transient(here.netlist(Corner(supply=12.0)), 0.002 + 9 * told.period, from_rest=True)
            duty = Measurement(name="d", what="duty", signal=here.signal("b1", "out"), level=6.0, after=0.002)
            with self.subTest(turn):
                self.assertAlmostEqual(float(duty.of(waves)), told.duty, delta=0.01)
        share = evaluate(here).turns[0].curves[0].values
        self.assertLess(share[0], 3.0)
        self.assertGreater(share[-1], 97.0)

    def test_heat_in_the_switch_is_on_time_and_edges(self) -> None:
        """Oracle: the mean of the MOSFET's power in the transient, with a gate resistor for slow edges."""
        for ohms in (220.0, 47e3):
            load = Resistive(resistance=8.0, power=30.0)
            design = in_line(Dimmer(), NmosLowSide(r_gate=ohms), load, supply=on(12.0))
            here = study(design)
            waves = transient(here.netlist(Corner(supply=12.48)), 0.012, from_rest=True)
            late = waves.time > 0.004
            watts = signal(waves, here.signal("b2", "p(switch)"))
            mean = float(np.trapezoid(watts[late], waves.time[late]) / np.ptp(waves.time[late]))
            with self.subTest(ohms):
                self.assertLess(abs(verdict(design, "heat").nominal / mean - 1), 0.35)

    def test_a_meter_reads_the_mean(self) -> None:
        """Oracle: the share of the time times the output's high level."""
        here = study(made(Dimmer(card="timer-cmos"), load=Resistive()))
        found = {e.id: e.nominal for e in expectations(here)}
        self.assertAlmostEqual(found["b1.out.active"] / 12.0, 0.5, delta=0.02)


class Leaks(unittest.TestCase):
    def test_the_time_to_be_trusted_is_the_capacitors_own(self) -> None:
        """Oracle: the last third of the supply over R, a fifth of it, against two thirds over the capacitor's
        own resistance of 100 s / C: R × C ≤ 10 s, and ln 3 of it is 11 s, whatever the pair.
        """
        for ohms, farads in ((390e3, 100e-6), (39e3, 1e-3), (3.9e6, 10e-6)):
            with self.subTest(ohms=ohms):
                told = verdict(made(OneShot(r_time=ohms, c_time=farads)), "leak")
                self.assertIn("11 s can be trusted", told.sentence)
                assert told.remedy is not None
                self.assertIn("film capacitor", told.remedy.text)
        film = verdict(made(OneShot(r_time=1e6, c_time=470e-9)), "leak")
        self.assertEqual(film.standing, "fits")
        self.assertNotIn("trusted", film.sentence)

    def test_a_window_ends_where_the_leak_counts(self) -> None:
        """Oracle: R × C = 10 s again, at the window's end."""
        wish = {"wanted": 8.0, "at_least": 5.0, "at_most": 20.0}
        design = made(OneShot.model_validate({"r_time": 1e6, "c_time": 10e-6} | wish))
        end = next(w for w in evaluate(study(design)).windows if w.path == "blocks.b2.r_time").high
        assert end is not None
        self.assertEqual(end.verdict, "leak")
        self.assertAlmostEqual(end.value / 1e6, 1.0, delta=0.01)


class Trimmers(unittest.TestCase):
    """A trimmer in line with the timing resistor."""

    def test_the_time_across_the_turn_is_that_of_the_circuit(self) -> None:
        for stage in (
            Astable(tuned="trimmer", c_time=1e-6),
            Astable(tuned="trimmer", c_time=1e-6, steer="diode"),
            OneShot(tuned="trimmer", trigger="direct", r_time=10e3, r_trim=100e3, c_time=10e-6),
        ):
            for turn in (0.0, 30.0, 100.0):
                for proof in proved(made(stage.model_copy(update={"turn": turn}))):
                    with self.subTest(stage.summary, turn=turn, check=proof.check.id):
                        self.assertTrue(proof.holds, (proof.check.nominal, proof.found))

    def test_what_a_miss_offers_reaches_the_wish_whatever_the_parts(self) -> None:
        """Oracle: R × C × ln 3 in closed form, every part at either end, and what leaks hardly counts."""
        wish = OneShot(r_time=220e3, c_time=1e-6, wanted=0.3, at_least=0.29, at_most=0.31)
        design = made(wish)
        offered = verdict(design, "not_short").remedy
        assert offered is not None
        better = changed(design, [(c.path, c.value) for c in offered.changes])
        fixed = better.blocks["b2"]
        assert isinstance(fixed, OneShot)
        self.assertEqual(fixed.tuned, "trimmer")
        ids = ("not_short", "not_long", "reaches_short", "reaches_long", "settable")
        self.assertEqual({verdict(better, i).standing for i in ids}, {"fits"})
        for r in (0.99, 1.01):
            for c in (0.8, 1.2):
                for level in (1.0986 * 0.98, 1.0986 * 1.02):
                    needed = wish.wanted / (level * fixed.c_time * c)
                    with self.subTest(r=r, c=c, level=level):
                        self.assertLess(fixed.r_time * r, needed)
                        self.assertGreater(fixed.r_time * r + 0.8 * fixed.r_trim, needed)

    def test_a_trimmer_that_is_too_small_or_too_coarse_is_told(self) -> None:
        small = made(OneShot(tuned="trimmer", r_time=220e3, r_trim=1e3, c_time=100e-6))
        self.assertEqual(verdict(small, "reaches_long").standing, "fails")
        coarse = OneShot(tuned="trimmer", r_time=1e3, r_trim=5e6, c_time=10e-6, at_least=44.9, at_most=45.1)
        self.assertEqual(verdict(made(coarse), "settable").standing, "tight")


class Beating(unittest.TestCase):
    def test_what_a_load_makes_of_the_pace(self) -> None:
        fast = {"r_a": 4.7e3, "r_b": 10e3, "c_time": 10e-9}
        coil = in_line(Astable(**fast), NmosLowSide(), Freewheel(), RelayCoil(), supply=on(12.0))
        self.assertEqual(verdict(coil, "follows_beat").standing, "fails")
        slow = in_line(Astable(), NmosLowSide(), Freewheel(), RelayCoil(), supply=on(12.0))
        self.assertEqual(verdict(slow, "follows_beat").standing, "fits")
        for farads, standing in ((10e-6, "fits"), (470e-9, "tight"), (10e-9, "fits")):
            self.assertEqual(verdict(made(Astable(c_time=farads)), "flickers").standing, standing)
        self.assertNotIn("flickers", verdicts(in_line(LogicPin(), NmosLowSide(), LedLoad())))

    def test_it_takes_the_signals_place_and_gives_it_back(self) -> None:
        pin = in_line(LogicPin(), NmosLowSide(), LedLoad(), name="Blink")
        blinks = behaving(pin, Astable)
        assert blinks is not None
        self.assertEqual(study(blinks).open, ())
        self.assertEqual([type(s) for s in blinks.blocks.values()], [NmosLowSide, LedLoad, Astable])
        back = removed(blinks, blinks.of_role("behaviour")[0])
        self.assertCountEqual(back.joins, pin.joins)
        self.assertEqual(back.blocks["b1"], pin.blocks["b1"])

    def test_ordinary_ones_show_no_failure(self) -> None:
        for stage, supplies in EVERY:
            if isinstance(stage, OneShot) or stage != type(stage)():
                continue
            failing = [v.id for v in study(made(stage, supplies[-1])).verdicts if v.standing == "fails"]
            self.assertEqual(failing, [], type(stage).__name__)


class Traps(unittest.TestCase):
    def test_a_base_thrown_too_far_is_a_limit_and_a_diode_cures_it(self) -> None:
        for kind in (TransistorAstable, TransistorOneShot):
            bare = made(kind.model_validate({"diodes": "none"}), 12.0)
            self.assertEqual(verdict(bare, "reversed").standing, "fails")
            cured = changed(bare, [(c.path, c.value) for c in verdict(bare, "reversed").remedy.changes])  # type: ignore[union-attr]
            self.assertEqual(verdict(cured, "reversed").standing, "fits")
        self.assertEqual(verdict(made(TransistorAstable(diodes="none"), 4.0), "reversed").standing, "fits")
        again = made(OneShot(trigger="extends", keeps="none"), signal=PushButton(to="zero"))
        self.assertEqual(verdict(again, "reversed").standing, "fails")

    def test_a_bare_button_makes_the_time_hang_on_the_press(self) -> None:
        """Oracle: the transient; straight at the base a long press shortens it, coupled it does not."""

        def width(stage: Stage, hold: float) -> float:
            here = study(made(stage, 5.0))
            waves = transient(here.acted(Corner(supply=5.0), (Act("b1", "active", 0.1, hold),)), 4.0)
            above = signal(waves, here.signal("b2", "out")) > 2.5
            last = float(waves.time[np.flatnonzero(above)[-1]])
            return last - 0.1 - (hold if hold > 1.5 else 0.0)

        coupled = [width(TransistorOneShot(), hold) for hold in (0.02, 0.8)]
        self.assertAlmostEqual(coupled[0] / coupled[1], 1.0, delta=0.03)
        bare = [width(TransistorOneShot(trigger="direct", diodes="none"), hold) for hold in (0.02, 0.8)]
        self.assertGreater(abs(bare[0] / bare[1] - 1.0), 0.1)
        told = verdicts(made(TransistorOneShot(trigger="direct", diodes="none"), 4.5))["independent"]
        self.assertEqual(told.standing, "tight")

    def test_each_press_extends_a_one_shot_that_is_emptied(self) -> None:
        """Oracle: the transient of a sensor that fires again half-way."""
        stage = OneShot(input="rises", trigger="extends", counted="release", r_time=100e3, c_time=10e-6)
        here = study(made(stage, signal=SensorModule()))
        acts = (Act("b1", "active", 0.1, 0.05), Act("b1", "active", 0.7, 0.05))
        waves = transient(here.acted(Corner(supply=12.0), acts), 4.0)
        above = waves.time[signal(waves, here.signal("b2", "out")) > 6.0]
        one = verdict(here.design, "not_long").nominal
        self.assertAlmostEqual(float(above[-1]), 0.75 + one, delta=0.03 * one)

    def test_a_kick_begins_the_count_anew(self) -> None:
        """Oracle: the transient; the pace is not waited for, so it may be a beat sooner."""
        here = study(made(CounterTimer(tap="4", c_time=47e-9), signal=PushButton()))
        stage, site = here.flow.stage("b2"), here.flow.sites["b2"]
        assert isinstance(stage, CounterTimer)
        whole, beat = stage.times(site).nominal, stage.cycle(site).period
        kick = 0.6 * whole
        waves = transient(
            here.acted(Corner(supply=12.0), (Act("b1", "active", kick, 0.05),)), 2.2 * whole, from_rest=True
        )
        rises = waves.time[np.flatnonzero(signal(waves, here.signal("b2", "out")) > 6.0)[0]]
        self.assertGreater(float(rises), kick + 0.05 + whole - 2.5 * beat)
        self.assertLess(float(rises), kick + 0.05 + whole + 0.5 * beat)

    def test_what_hangs_on_a_collector_may_stop_it(self) -> None:
        base = made(TransistorAstable())
        self.assertEqual(verdict(base, "loaded").standing, "fits")
        heavy = changed(base, [("blocks.b2.r_pull", 1.5e3)])
        self.assertEqual(verdict(heavy, "loaded").standing, "fails")
