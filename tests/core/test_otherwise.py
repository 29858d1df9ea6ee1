"""When things go otherwise: held, pressed again, dips, a meter; halting and stepping; forgotten pins.

Oracles: closed forms of a charge, the transient of the whole design, and the divider's own volts.
"""

import math
import unittest

import numpy as np
from hexlet_core.build.steps import steps
from hexlet_core.circuit.measure import signal
from hexlet_core.circuit.solve import transient
from hexlet_core.design.document import Design, changed, in_line
from hexlet_core.design.places import places
from hexlet_core.design.proofs import proofs
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError
from hexlet_core.rehearsal.counting import REACTION, SURE, counting, rounds, runs
from hexlet_core.rehearsal.otherwise import Course, Otherwise, otherwise
from hexlet_core.rehearsal.rehearse import rehearse
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
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton
from hexlet_core.stages.signals.toggle_switch import ToggleSwitch

from .circuits import verdict, verdicts
from .test_timing import made, on

SHORT = {"r_time": 100e3, "c_time": 1e-6, "wanted": 0.11, "at_least": 0.08, "at_most": 0.15}


def found(design: Design) -> Otherwise:
    last = list(otherwise(study(design)))[-1].otherwise
    assert last is not None
    return last


def course(answer: Otherwise, title: str) -> Course:
    return next(w for w in answer.courses if w.title == title)


def pressed(stage: Stage) -> Design:
    """A design about one that is started by a button, to the rail that it asks for."""
    return made(stage, signal=PushButton(to="zero") if isinstance(stage, OneShot) else None)


def stepped(**more: object) -> Design:
    """An astable with a switch that halts it and a button that steps it."""
    stage = Astable.model_validate(more)
    path = (ToggleSwitch(), PushButton(), stage, NmosLowSide(), LedLoad())
    return in_line(*path, name="Stepped", supply=on(12.0))


class Ways(unittest.TestCase):
    def test_a_press_that_is_coupled_makes_one_time_however_long(self) -> None:
        """Oracle: R·C·ln 3."""
        answer = found(pressed(OneShot.model_validate(SHORT)))
        time = 100e3 * 1e-6 * math.log(3)
        for title in ("As it is meant", "Held on", "Pressed again half-way"):
            (span,) = course(answer, title).on
            self.assertAlmostEqual(span.end - span.begin, time, delta=0.02 * time, msg=title)
            self.assertTrue(course(answer, title).same)
        self.assertEqual(len(course(answer, "Pressed again at once").on), 2)

    def test_a_bare_trigger_holds_for_as_long_as_it_is_held(self) -> None:
        answer = found(pressed(OneShot.model_validate(SHORT | {"trigger": "direct"})))
        held = course(answer, "Held on")
        self.assertFalse(held.same)
        events = [e.at for e in held.script.events]
        self.assertAlmostEqual(held.on[0].end, events[1], delta=0.01)

    def test_an_emptied_one_begins_anew_at_each_press(self) -> None:
        """Oracle: the second press and one whole time after it is let go."""
        stage = OneShot.model_validate(SHORT | {"trigger": "extends", "counted": "release"})
        answer = found(pressed(stage))
        usual, again = (course(answer, t) for t in ("As it is meant", "Pressed again half-way"))
        apart = again.script.events[2].at - again.script.events[0].at
        longer = (again.on[-1].end - again.on[0].begin) - (usual.on[-1].end - usual.on[0].begin)
        self.assertAlmostEqual(longer, apart, delta=0.05 * apart)

    def test_what_is_left_on_a_capacitor_makes_the_next_delay_shorter(self) -> None:
        answer = found(made(PowerOnDelay()))
        again = course(answer, "Off and on again at once")
        self.assertFalse(again.same)
        self.assertEqual(len(again.on), 2)

    def test_a_meter_takes_what_the_formula_says(self) -> None:
        """Oracle: a charge to two thirds of the supply, the meter's resistance across the capacitor."""
        answer = found(pressed(OneShot(r_time=1e6, c_time=1e-6, wanted=1.1, at_least=0.8, at_most=1.5)))
        (span,) = course(answer, "With a meter at its capacitor").on
        meter, r, c = 10e6, 1e6, 0.9999e-6
        aims, source = meter / (r + meter), r * meter / (r + meter)
        time = source * c * math.log(aims / (aims - 2 / 3))
        self.assertAlmostEqual(span.end - span.begin, time, delta=0.02 * time)

    def test_a_pace_is_told_as_a_pace(self) -> None:
        answer = found(made(Astable()))
        self.assertIn("every", answer.title)
        self.assertEqual(answer.dips, ())
        self.assertFalse(answer.counts)
        self.assertTrue(all("rounds" in row.watch or "round" in row.watch for row in answer.by_hand))

    def test_every_way_can_be_rehearsed(self) -> None:
        """Oracle: the large rehearsal of the same script ends its last time on at the same moment."""
        design = pressed(OneShot.model_validate(SHORT))
        answer = found(design)
        for one in answer.courses[:4]:
            lane = next(
                lane for lane in rehearse(study(design), one.script).lanes if lane.title == "One-shot"
            )
            falls = [t for t, v, w in zip(lane.time, lane.value, lane.value[1:], strict=False) if v > 6 > w]
            self.assertAlmostEqual(falls[-1], one.on[-1].end, delta=2e-3, msg=one.title)

    def test_every_timing_kind_answers(self) -> None:
        kinds = (
            OneShot.model_validate(SHORT),
            Astable(c_time=1e-6),
            PowerOnDelay(c_time=1e-6),
            TransistorOneShot(),
            TransistorAstable(),
            Dimmer(),
            HeldGate(),
            CounterTimer(tap="4", c_time=47e-9),
        )
        for stage in kinds:
            with self.subTest(stage.kind):
                answer = found(made(stage))
                self.assertTrue(answer.courses[0].on, answer.courses[0].says)
                self.assertTrue(answer.courses[0].same)

    def test_what_keeps_no_time_or_counts_too_far_is_refused(self) -> None:
        plain = in_line(LogicPin(), NmosLowSide(), LedLoad(), name="Plain")
        for design in (plain, made(CounterTimer(tap="14"))):
            with self.assertRaises(DocumentError):
                list(otherwise(study(design)))


class Dips(unittest.TestCase):
    def test_a_dip_under_what_the_capacitor_has_ends_the_time(self) -> None:
        """Oracle: half-way the capacitor stands at V·(1 − e^(−t/2RC)); two thirds of the dip lie under it."""
        answer = found(pressed(OneShot.model_validate(SHORT)))
        half = 12.0 * (1 - math.exp(-math.log(3) / 2))
        for dip in answer.dips:
            if dip.volts > 2.0 and dip.seconds <= 1e-3:
                meant = "short" if dip.volts * 2 / 3 < half else "through"
                self.assertEqual(dip.fate, meant, dip)

    def test_deeper_is_never_better(self) -> None:
        answer = found(made(PowerOnDelay(c_time=1e-6)))
        for seconds in {d.seconds for d in answer.dips}:
            fates = [d.fate == "through" for d in answer.dips if d.seconds == seconds]
            self.assertEqual(fates, sorted(fates, reverse=True))


class Counted(unittest.TestCase):
    def test_from_the_press_and_from_letting_go_differ_by_the_press(self) -> None:
        answer = found(pressed(OneShot(r_time=100e3, c_time=10e-6, wanted=1.1, at_least=0.8, at_most=1.5)))
        by = {(c.begins, c.ends): c.seconds for c in answer.counts}
        ends = {e for _, e in by}
        self.assertEqual(len(ends), 2)
        for end in ends:
            self.assertAlmostEqual(by["the press", end] - by["letting go", end], 0.15, places=6)

    def test_the_one_wished_is_what_is_judged(self) -> None:
        """Oracle: the circuit from letting go; the press itself is 150 ms."""
        for stage in (
            OneShot(r_time=100e3, c_time=10e-6, wanted=1.0, at_least=0.7, at_most=1.4),
            TransistorOneShot(),
            HeldGate(),
        ):
            with self.subTest(stage.kind):
                other = "release" if stage.counted == "press" else "press"
                own, moved = (
                    pressed(stage.model_copy(update={"counted": c})) for c in (stage.counted, other)
                )
                apart = verdict(moved, "not_long").nominal - verdict(own, "not_long").nominal
                self.assertAlmostEqual(apart, 0.15 if other == "press" else -0.15, places=6)
                here = study(moved)
                block = next(site.id for s, site in here.pairs if type(s) is type(stage))
                shown = [p for p in proofs(here, block) if p.check.id == "not_long"]
                self.assertTrue(shown and all(p.holds for p in shown))

    def test_windows_count_the_press_too(self) -> None:
        """Oracle: the lowest resistor put in gives the least time that was asked for."""
        stage = OneShot(r_time=47e3, c_time=10e-6, counted="release", wanted=0.4, at_least=0.3, at_most=0.6)
        design = pressed(stage)
        window = next(w for w in study(design).windows if w.path.endswith("r_time"))
        assert window.low is not None
        then = changed(design, [("blocks.b2.r_time", window.low.value)])
        self.assertAlmostEqual(verdict(then, "not_short").worst, 0.3, delta=3e-3)


class ByHand(unittest.TestCase):
    def test_runs_are_those_of_two_ends_that_are_off(self) -> None:
        """Oracle: the scatter of means drawn at random lies within the share nineteen times in twenty."""
        draw = np.random.default_rng(5)
        for seconds, within in ((1.0, 0.1), (5.0, 0.02), (20.0, 0.01)):
            n = runs(seconds, within)
            ends = draw.uniform(-REACTION, REACTION, (4000, n, 2))
            means = (ends[:, :, 1] - ends[:, :, 0]).mean(axis=1)
            share = float((np.abs(means) <= within * seconds).mean())
            self.assertGreater(share, 0.94)
            if n > 1:
                fewer = means.std() * math.sqrt(n / max(n - 1, 1)) * SURE
                self.assertGreater(fewer, within * seconds * 0.95 * math.sqrt((n - 1) / n))

    def test_rounds_at_once_need_fewer(self) -> None:
        self.assertEqual(rounds(10.0, 0.1), 1)
        self.assertLess(rounds(0.5, 0.05), runs(0.5, 0.05))

    def test_no_pace_is_within_itself(self) -> None:
        told = {row.within: row.aloud for row in counting(30.0, False)}
        self.assertIn("not aloud", told[0.05])
        self.assertNotIn("not aloud", told[0.1])


class Stepping(unittest.TestCase):
    def test_halted_it_stands_and_each_press_is_one_step(self) -> None:
        """Oracle: the transient with bouncing contacts: one fall and one rise of the output a press."""
        here = study(stepped())
        acts = (Act("b1", "active", 0.2), Act("b2", "active", 1.5, 0.15), Act("b2", "active", 2.2, 0.15))
        waves = transient(here.acted(Corner(supply=12.0), acts), 3.0, from_rest=True)
        high = signal(waves, here.signal("b3", "out")) > 6.0
        late = waves.time > 1.2
        self.assertEqual(int(np.abs(np.diff(high[late].astype(int))).sum()), 4)
        self.assertFalse(high[-1])

    def test_a_halting_resistor_that_is_too_large_goes_on(self) -> None:
        """Oracle: V·R_B/(R_B + R_halt) against a third of the supply; and the circuit, which goes on."""
        design = stepped(r_b=10e3, r_halt=47e3, c_time=10e-6)
        self.assertEqual(verdict(design, "halt_holds").standing, "fails")
        self.assertAlmostEqual(verdict(design, "halt_holds").nominal, 12.0 * 10 / 57, places=3)
        here = study(design)
        waves = transient(here.acted(Corner(supply=12.0), (Act("b1", "active"),)), 3.0, from_rest=True)
        high = signal(waves, here.signal("b3", "out")) > 6.0
        self.assertGreater(int(np.abs(np.diff(high.astype(int))).sum()), 4)

    def test_the_trimmers_end_is_the_worst_and_its_window_prevents_it(self) -> None:
        design = stepped(tuned="trimmer", r_b=2e3, r_trim=100e3, turn=60.0)
        self.assertEqual(verdict(design, "halt_holds").standing, "tight")  # at its end, not where it stands
        window = next(w for w in study(design).windows if w.path.endswith("r_halt"))
        assert window.high is not None
        cured = changed(design, [("blocks.b3.r_halt", 0.8 * window.high.value)])
        self.assertEqual(verdict(cured, "halt_holds").standing, "fits")

    def test_a_fast_one_counts_its_bounces(self) -> None:
        self.assertEqual(verdict(stepped(c_time=10e-9), "step_once").standing, "tight")
        self.assertEqual(verdict(stepped(), "step_once").standing, "fits")

    def test_contacts_are_offered_where_none_is_joined(self) -> None:
        here = study(in_line(Astable(), NmosLowSide(), LedLoad(), name="Plain", supply=on(12.0)))
        notes = {p.note: p for p in places(here, "b1").places}
        offered = notes["a contact that halts it"].choices[0].offer
        then = study(changed(here.design, [(c.path, c.value) for c in offered.changes]))
        self.assertFalse(then.open or then.problems)
        self.assertIn("halt_holds", [v.check for v in then.verdicts])


class Pins(unittest.TestCase):
    def test_what_is_forgotten_is_told_and_cured(self) -> None:
        for stage in (OneShot(), Astable(), Dimmer(), PowerOnDelay()):
            for field, value, check in (
                ("reset", "open", "reset_tied"),
                ("control", "open", "control_quiet"),
                ("decoupling", "none", "decoupled"),
            ):
                with self.subTest(stage.kind, check=check):
                    self.assertEqual(verdict(made(stage), check).standing, "fits")
                    told = verdict(made(stage.model_copy(update={field: value})), check)
                    self.assertEqual(told.standing, "tight")
                    design = made(stage.model_copy(update={field: value}))
                    assert told.remedy is not None
                    cured = changed(design, [(c.path, c.value) for c in told.remedy.changes])
                    self.assertEqual(verdict(cured, check).standing, "fits")

    def test_a_bipolar_one_wants_more_at_its_supply(self) -> None:
        """Oracle: the charge of its spike from a tenth of the supply."""
        need = verdict(made(Astable(card="timer-bipolar")), "decoupled").limit
        self.assertAlmostEqual(need, 0.3 * 2e-7 / 1.2, delta=1e-10)

    def test_a_stiff_signal_lifts_the_trigger_and_a_diode_keeps_it_down(self) -> None:
        """Oracle: the transient's highest trigger volts."""
        stage = OneShot.model_validate(SHORT)
        tops = []
        for clamp in ("none", "diode"):
            made_with = in_line(
                LogicPin(level=5.0), stage.model_copy(update={"clamp": clamp}), NmosLowSide(), LedLoad(),
                name="Lifted", supply=on(5.0),
            )  # fmt: skip
            here = study(made_with)
            acts = (Act("b1", "active"), Act("b1", "idle", 0.02), Act("b1", "active", 0.2))
            waves = transient(here.acted(Corner(supply=5.0), acts), 0.4)
            tops.append(float(signal(waves, here.signal("b2", "trig")).max()))
            self.assertEqual(verdict(made_with, "trigger_lifted").standing != "fits", clamp == "none")
        self.assertGreater(tops[0], 7.0)
        self.assertLess(tops[1], 6.2)

    def test_two_taps_on_one_strip_fight(self) -> None:
        """Oracle: the transient: while they differ the strip lies half-way."""
        design = made(CounterTimer(tap="5", second="4", c_time=47e-9))
        told = verdict(design, "one_tap")
        self.assertEqual(told.standing, "fails")
        assert told.remedy is not None
        cured = changed(design, [(c.path, c.value) for c in told.remedy.changes])
        self.assertNotIn("one_tap", verdicts(cured))
        here = study(design)
        waves = transient(here.netlist(Corner(supply=12.0)), 0.7, from_rest=True)
        levels = signal(waves, here.signal("b1", "out"))
        self.assertGreater(int(((levels > 5.0) & (levels < 7.0)).sum()), 3)


class Dual(unittest.TestCase):
    def test_two_timers_alike_fit_one_package(self) -> None:
        first, second = Astable(), OneShot.model_validate(SHORT)
        for card, there in (("timer-cmos", True), ("timer-bipolar", False)):
            path: tuple[Stage, ...] = (
                first,
                second.model_copy(update={"card": card}),
                NmosLowSide(),
                LedLoad(),
            )
            ids = [s.id for s in steps(study(in_line(*path, name="Two", supply=on(12.0))))]
            self.assertEqual(any(i.startswith("dual.") for i in ids), there)


class Plates(unittest.TestCase):
    def test_the_capacitor_keeps_its_volts_as_it_is_thrown(self) -> None:
        """Oracle: the step between its plates just before and just after the press."""
        here = study(made(TransistorOneShot()))
        shown = rehearse(here)
        (plates,) = shown.plates
        press = next(e.at for e in shown.script.events if e.at > 0)

        def step(at: float) -> float:
            first, second = (
                float(np.interp(at, lane.time, lane.value))
                for lane in (plates.first_volts, plates.second_volts)
            )
            return first - second

        self.assertAlmostEqual(step(press - 1e-3), step(press + 12e-3), delta=0.3)
        self.assertLess(min(plates.second_volts.value), -8.0)
        self.assertEqual(len(rehearse(study(made(TransistorAstable()))).plates), 2)

    def test_a_capacitor_turned_round_is_told_of_an_electrolytic_alone(self) -> None:
        """Oracle: a junction and a diode less a saturated collector."""
        told = verdict(made(TransistorOneShot()), "turned_round")
        self.assertAlmostEqual(told.nominal, 1.2, delta=0.15)
        film = made(TransistorOneShot(c_time=470e-9, r_time=3.3e6))
        self.assertNotIn("turned_round", verdicts(film))
