"""Latches of transistors and thyristors, and the guard that latches: what their formulas say, on the circuit.

Oracles: the transient of the whole design; the charge-control model at its operating point.
"""

import unittest

import numpy as np
from hexlet_core.cards import Drawer
from hexlet_core.cards.card import BipolarCard, FieldEffectCard
from hexlet_core.cards.derive import mosfet
from hexlet_core.cards.points import jump_charge
from hexlet_core.circuit.measure import signal
from hexlet_core.circuit.solve import transient
from hexlet_core.design.document import Design, Supply, changed, in_line
from hexlet_core.design.study import study
from hexlet_core.rehearsal.press_map import press_map
from hexlet_core.rehearsal.rehearse import waves_of
from hexlet_core.rehearsal.script import presets
from hexlet_core.stages.behaviours.latch_555 import Latch555
from hexlet_core.stages.behaviours.toggle import Toggle
from hexlet_core.stages.contract import Act, Corner, Stage
from hexlet_core.stages.drives.bypass_start import BypassStart
from hexlet_core.stages.drives.complementary import Complementary
from hexlet_core.stages.drives.cut_off_latch import CutOffLatch
from hexlet_core.stages.drives.npn_latch import NpnLatch
from hexlet_core.stages.drives.push_push import PushPush
from hexlet_core.stages.drives.relay_hold_npn import RelayHoldNpn
from hexlet_core.stages.drives.soft_latch import SoftLatch
from hexlet_core.stages.drives.thyristor_latch import ThyristorLatch
from hexlet_core.stages.loads.module import ModuleLoad
from hexlet_core.stages.loads.motor import MotorLoad
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.rules.regenerative import Pair
from hexlet_core.stages.signals.push_button import PushButton

from .circuits import verdict, verdicts
from .test_holding import found, kept
from .test_timing import on

BATTERY = Supply(kind="lead-acid battery", low=10.8, typical=12.6, high=14.4, resistance=0.05)


def lit(design: Design, block: str, net: str, acts: tuple[Act, ...], at: tuple[float, ...]) -> list[bool]:
    """Whether a net stands above half the supply at some moments, begun with nothing charged."""
    here = study(design)
    waves = transient(here.acted(Corner(supply=design.supply.typical), acts), at[-1] + 0.01, from_rest=True)
    volts = signal(waves, here.signal(block, net))
    return [float(np.interp(t, waves.time, volts)) > design.supply.typical / 2 for t in at]


class Toggles(unittest.TestCase):
    def test_it_turns_over_as_the_button_is_let_go(self) -> None:
        """Oracle: the transient: the same while held, the other one after."""
        stage = Toggle()
        begin, gap = 1.0, 3 * stage.waits()
        acts = (Act("b1", "active", begin, 0.2), Act("b1", "active", begin + gap, 0.2))
        times = (begin - 0.05, begin + 0.5, begin + gap - 0.05, begin + 2 * gap)
        self.assertEqual(
            [v > 0.3 for v in self.outs(kept(stage), acts, times)],
            [False, True, True, False],
            "over and back",
        )

    def outs(self, design: Design, acts: tuple[Act, ...], at: tuple[float, ...]) -> list[float]:
        """The output at some moments, over a supply's volts behind the zener."""
        here = study(design)
        waves = transient(here.acted(Corner(supply=12.0), acts), at[-1] + 0.01, from_rest=True)
        out, fed = (signal(waves, here.signal("b2", n)) for n in ("out", "fed"))
        return [float(np.interp(t, waves.time, out / np.maximum(fed, 1.0))) for t in at]

    def test_its_emitters_step_is_what_is_said(self) -> None:
        """Oracle: the operating point of the circuit across values and supplies."""
        for ohms, r_c in ((68.0, 1e3), (150.0, 1e3), (220.0, 2.2e3)):
            design = kept(Toggle(r_emitter=ohms, r_c=r_c))
            here = study(design)
            said = verdict(design, "step").nominal
            waves = transient(here.acted(Corner(supply=design.supply.low), ()), 2.0, from_rest=True)
            shown = float(signal(waves, here.signal("b2", "emitters"))[-1])
            self.assertAlmostEqual(said, shown, delta=0.1 * shown)

    def test_a_step_too_small_does_not_turn_it_over(self) -> None:
        """Oracle: the transient of a press: with a third of the least step nothing changes."""
        design = kept(Toggle(r_emitter=20.0))
        self.assertEqual(verdict(design, "step").standing, "fails")
        acts = (Act("b1", "active", 1.0, 0.3),)
        self.assertEqual([v > 0.3 for v in self.outs(design, acts, (0.95, 3.0))], [False, False])

    def test_a_loaded_side_loses(self) -> None:
        """Oracle: builds whose output is loaded with twice the collector resistor."""
        light, heavy = kept(Toggle()), changed(kept(Toggle()), [("blocks.b3.r_pull", 1.5e3)])
        self.assertEqual(verdict(light, "alike").standing, "fits")
        self.assertEqual(verdict(heavy, "alike").standing, "tight")

    def test_its_match_is_told_with_the_parts_that_decide(self) -> None:
        match = found(kept(Toggle())).match
        self.assertLess(match.passed, match.builds)
        self.assertTrue(match.leads)
        self.assertIn(match.leads[0], match.says)
        sure = found(kept(SoftLatch())).match
        self.assertGreaterEqual(sure.passed, match.passed)


class OneButton(unittest.TestCase):
    def test_how_soon_the_next_press_counts(self) -> None:
        """Oracle: the first span that counts begins no later than the wait that is told."""
        for stage in (SoftLatch(), PushPush(), Toggle()):
            with self.subTest(stage.title):
                drawn = list(press_map(study(kept(stage))))[-1].map
                assert drawn is not None
                told = verdict(kept(stage), "again").nominal
                self.assertTrue(drawn.again)
                for row in drawn.again:
                    self.assertEqual(row.spans[-1].kind, "off")
                    self.assertLessEqual(row.spans[-1].low, told)

    def test_two_buttons_have_no_next_press(self) -> None:
        drawn = list(press_map(study(kept(NpnLatch()))))[-1].map
        assert drawn is not None
        self.assertEqual(drawn.again, ())

    def test_held_by_its_load_it_comes_back_with_a_large_capacitor(self) -> None:
        """Oracle: the transient of a quick press; the pilot's loop leaves the load out."""
        load = ModuleLoad(capacitance=470e-6)
        acts = (Act("b1", "active", 4.0, 0.15), Act("b1", "active", 9.0, 0.04))
        for loop, back in (("load", True), ("pilot", False)):
            design = kept(SoftLatch.model_validate({"loop": loop}), load=load)
            gate_up = lit(design, "b2", "gate", acts, (3.9, 8.9, 14.0))
            self.assertEqual(gate_up, [True, False, not back], loop)
            if back:
                self.assertEqual(verdict(design, "output_falls").standing, "fails")
            else:
                self.assertNotIn("output_falls", verdicts(design))

    def test_a_gulp_that_the_pnp_cannot_carry_is_told_and_true(self) -> None:
        """Oracle: the transient: a motor that stands still keeps the output down, and is off afterwards."""
        design = kept(PushPush(), load=MotorLoad())
        self.assertEqual(verdict(design, "starts").standing, "fails")
        acts = (Act("b1", "active", 4.0, 0.15),)
        self.assertEqual(lit(design, "b2", "collector", acts, (3.9, 8.0)), [False, False])

    def test_a_hot_soft_latch_wakes_off(self) -> None:
        """Oracle: the transient from nothing charged at 75 °C; with a slow small gate it wakes on, and with a
        quick small one it has let go before the bases follow.
        """
        slow = SoftLatch(c_gate=2.2e-9, r_pull=100e3, r_hold=56e3, c_base=100e-9)
        for stage, wakes in ((SoftLatch(), False), (slow, True), (SoftLatch(c_gate=1e-9), False)):
            design = kept(stage)
            here = study(design)
            waves = transient(here.acted(Corner(supply=12.0, celsius=75.0), ()), 2.0, from_rest=True)
            self.assertEqual(float(signal(waves, here.signal("b2", "drain"))[-1]) > 6.0, wakes)
            self.assertEqual(verdict(design, "plugged").standing == "fails", wakes)

    def test_the_charge_of_a_jump_is_the_models(self) -> None:
        """Oracle: the device's own gate-drain capacitance integrated over the jump in small steps."""
        card = Drawer().card("pmos-55v-12a", FieldEffectCard)
        model = mosfet(card)
        w = np.linspace(0.0, -12.0, 20001)
        middle = (w[1:] + w[:-1]) / 2
        half = (model["c_gd_high"] - model["c_gd_low"]) / 2
        farads = model["c_gd_low"] + half * (1 + np.tanh(middle / model["v_gd_scale"]))
        self.assertAlmostEqual(jump_charge(card, 12.0), float(farads.sum() * 12.0 / 20000), delta=1e-13)


class Regenerative(unittest.TestCase):
    def test_its_volts_are_the_circuits(self) -> None:
        """Oracle: the transient of the whole design, from a few milliamps to half an amp."""
        for ohms in (30.0, 100.0, 470.0, 2200.0):
            design = kept(ThyristorLatch(), load=Resistive(resistance=ohms, power=50.0))
            here = study(design)
            stage, site = here.flow.stage("b3"), here.flow.sites["b3"]
            assert isinstance(stage, ThyristorLatch)
            waves = transient(here.acted(Corner(supply=12.0), (Act("b1", "active", 0.1, 0.15),)), 1.0)
            shown = float(signal(waves, here.signal("b3", "anode"))[-1])
            said = stage.held(site).volts((12.0 - shown) / ohms)
            self.assertAlmostEqual(said, shown, delta=0.06)

    def test_a_load_under_the_holding_current_is_let_go(self) -> None:
        """Oracle: the transient: it holds with half as much again, and not with a third."""
        pair = Pair(
            Drawer().card("npn-60v-1a", BipolarCard), Drawer().card("pnp-60v-1a", BipolarCard), 3.3e3, 6.8e3
        )
        for times, holds in ((2.0, True), (0.33, False)):
            load = Resistive(resistance=11.2 / (times * pair.holding), power=1.0)
            design = kept(ThyristorLatch(), load=load)
            here = study(design)
            waves = transient(here.acted(Corner(supply=12.0), (Act("b1", "active", 0.1, 0.15),)), 1.0)
            self.assertEqual(float(signal(waves, here.signal("b3", "anode"))[-1]) < 6.0, holds, times)
        small = kept(ThyristorLatch(), load=Resistive(resistance=1e5, power=1.0))
        self.assertEqual(verdict(small, "held_on").standing, "fails")

    def test_off_that_shorts_leaves_the_load_on_until_it_is_let_go(self) -> None:
        """Oracle: the transient of both ways to go off."""
        acts = (Act("b1", "active", 0.1, 0.15), Act("b2", "active", 0.6, 0.3))
        for off, while_held in (("shorting", True), ("interrupting", False)):
            design = kept(ThyristorLatch.model_validate({"off": off}))
            here = study(design)
            waves = transient(here.acted(Corner(supply=12.0), acts), 1.5)
            amps = np.abs(signal(waves, here.signal("b4", "i(load.a)")))
            seen = [float(np.interp(t, waves.time, amps)) > 0.05 for t in (0.5, 0.75, 1.4)]
            self.assertEqual(seen, [True, while_held, False])

    def test_an_off_button_that_is_too_small_is_told_with_one_that_is_not(self) -> None:
        buttons = (PushButton(), PushButton())
        design = in_line(*buttons, ThyristorLatch(), Resistive(), name="Small", supply=on(12.0))
        told = verdict(design, "off_carries")
        self.assertEqual(told.standing, "fails")
        assert told.remedy is not None
        cured = changed(design, [(c.path, c.value) for c in told.remedy.changes])
        self.assertEqual(verdict(cured, "off_carries").standing, "fits")

    def test_the_load_at_the_anode_gate_may_be_as_small_as_it_likes(self) -> None:
        """Oracle: the transient with a load of a megohm, after a press."""
        for loop, r in (("anode", 1e6), ("output", 100.0)):
            stage = NpnLatch.model_validate({"loop": loop})
            design = kept(stage, load=Resistive(resistance=r, power=5.0))
            here = study(design)
            waves = transient(here.acted(Corner(supply=12.0), (Act("b1", "active", 0.1, 0.15),)), 1.0)
            self.assertLess(float(signal(waves, here.signal("b3", "collector"))[-1]), 0.5)


class RelayByTransistors(unittest.TestCase):
    def test_stop_wins_and_the_drop_is_counted(self) -> None:
        """Oracle: the transient with both held, and the coil's volts while it holds."""
        design = kept(RelayHoldNpn())
        acts = (Act("b1", "active", 0.2, 1.0), Act("b2", "active", 0.5, 0.3))
        self.assertEqual(lit(design, "b3", "switched", acts, (0.4, 0.7, 1.1, 1.5)), [True, False, True, True])
        low = kept(RelayHoldNpn(), 10.3)
        self.assertLess(verdict(low, "switch_pull_in").worst, verdict(low, "switch_pull_in").nominal)


class LatchedGuard(unittest.TestCase):
    def design(self, **more: object) -> Design:
        path = (PushButton(), CutOffLatch.model_validate(more), Resistive(resistance=24.0, power=10.0))
        return in_line(*path, name="Guarded", supply=BATTERY)

    def edges(self, design: Design, script: str) -> list[tuple[float, bool]]:
        """The battery's volts at each change of the load, and whether it came on."""
        here = study(design)
        waves = waves_of(here, next(s for s in presets(here) if script in (s.title or "")))
        volts = signal(waves, here.signal("b2", "plus"))
        lit = signal(waves, here.signal("b2", "drain")) > 5.0
        return [(float(volts[k]), bool(lit[k + 1])) for k in np.flatnonzero(np.diff(lit.astype(int)))]

    REFERENCES = (
        {"reference": "zener", "turn": 30.0},
        {"reference": "zener", "turn": 70.0},
        {"reference": "shunt", "r_bottom": 4.7e3, "r_trim": 5e3},
        {"reference": "junctions", "r_bottom": 1.2e3, "r_trim": 1e3},
    )

    def test_its_level_is_that_of_the_circuit_with_each_reference(self) -> None:
        """Oracle: the transient on a battery turned slowly down: it lets go within 60 mV of what is said."""
        for more in self.REFERENCES:
            with self.subTest(more):
                design = self.design(**more)
                here = study(design)
                stage, site = here.flow.stage("b2"), here.flow.sites["b2"]
                assert isinstance(stage, CutOffLatch)
                off = [volts for volts, came in self.edges(design, "slowly") if not came]
                self.assertAlmostEqual(off[-1], stage.cuts(site), delta=0.06)

    def test_it_stays_off_as_the_battery_recovers_and_comes_with_a_press(self) -> None:
        changes = [came for _, came in self.edges(self.design(), "slowly")]
        self.assertEqual(changes[-2:], [False, True])

    def test_held_on_a_flat_battery_it_gives_up_once(self) -> None:
        """Oracle: the transient with the button held for long; a re-arming resistor too small keeps it on."""
        design = self.design()
        here = study(design)
        stage, site = here.flow.stage("b2"), here.flow.sites["b2"]
        assert isinstance(stage, CutOffLatch)
        script = next(s for s in presets(here) if "flat" in (s.title or ""))
        for ohms, last in ((680e3, False), (100e3, True)):
            made = study(self.design(r_rearm=ohms))
            waves = waves_of(made, script)
            lit = signal(waves, made.signal("b2", "drain")) > 5.0
            held = script.events[0].at + 0.9 * 3 * stage.settles(site)
            self.assertEqual(bool(np.interp(held, waves.time, lit) > 0.5), last)
        self.assertEqual(verdict(self.design(r_rearm=100e3), "gives_up").standing, "fails")
        self.assertEqual(verdict(design, "gives_up").standing, "fits")

    def test_junctions_stray_with_the_weather_as_the_circuit_does(self) -> None:
        """Oracle: the level of the circuit 30 K warmer, its junctions' own drift among it."""
        for more, worse in (
            ({"reference": "junctions", "r_bottom": 1.2e3, "r_trim": 1e3}, "tight"),
            ({}, "fits"),
        ):
            design = self.design(**more)
            here = study(design)
            stage, site = here.flow.stage("b2"), here.flow.sites["b2"]
            assert isinstance(stage, CutOffLatch)
            script = next(s for s in presets(here) if "slowly" in (s.title or ""))
            levels = []
            for celsius in (25.0, 55.0):
                waves = waves_of(here, script, Corner(supply=12.6, celsius=celsius))
                lit = signal(waves, here.signal("b2", "drain")) > 5.0
                last = [k for k in np.flatnonzero(np.diff(lit.astype(int))) if lit[k]][-1]
                levels.append(float(signal(waves, here.signal("b2", "plus"))[last]))
            shown = (levels[1] - levels[0]) / 30.0
            self.assertAlmostEqual(stage.drift(site), shown, delta=0.35 * abs(shown))
            self.assertEqual(verdict(design, "strays").standing, worse)


class BypassedStart(unittest.TestCase):
    def design(self, load: Stage, **more: object) -> Design:
        return in_line(BypassStart.model_validate(more), load, name="Bypassed", supply=BATTERY)

    def test_when_the_contact_shuts_and_both_gulps(self) -> None:
        """Oracle: the transient from an empty load, three loads and two waits."""
        loads = (ModuleLoad(capacitance=2200e-6, current=0.06), ModuleLoad(capacitance=4700e-6, current=0.1))
        for load in loads:
            for more in ({}, {"r_time": 470e3}):
                design = self.design(load, **more)
                here = study(design)
                stage, site = here.flow.stage("b1"), here.flow.sites["b1"]
                assert isinstance(stage, BypassStart)
                first, second = stage.gulps(site, 12.6)
                after = stage.waits(site, 12.6)
                waves = transient(here.acted(Corner(supply=12.6), ()), 3 * after, from_rest=True)
                shut = float(
                    waves.time[np.flatnonzero(signal(waves, here.signal("b1", "state(switch)")) > 0.5)[0]]
                )
                amps = np.abs(signal(waves, "i(BAT)"))
                self.assertAlmostEqual(shut, after, delta=0.05 * after)
                self.assertAlmostEqual(float(amps[waves.time < shut].max()), first, delta=0.1 * first)
                own = float(amps[waves.time >= shut].max())
                self.assertAlmostEqual(own, second, delta=0.15 * own + 0.2)

    def test_a_wait_that_is_too_short_gulps(self) -> None:
        hasty = self.design(ModuleLoad(capacitance=4700e-6, current=0.06), r_time=22e3)
        patient = self.design(ModuleLoad(capacitance=4700e-6, current=0.06), r_time=470e3)
        self.assertGreater(verdict(hasty, "second_gulp").nominal, 2 * verdict(patient, "second_gulp").nominal)

    def test_a_load_that_runs_behind_the_resistor_is_told(self) -> None:
        self.assertEqual(
            verdict(self.design(Resistive(resistance=10.0, power=30.0)), "runs_behind").standing, "tight"
        )
        self.assertEqual(verdict(self.design(Resistive(resistance=220.0)), "runs_behind").standing, "fits")


class TwoLoads(unittest.TestCase):
    def test_a_timer_latch_and_a_pair_of_followers_take_turns_with_two_loads(self) -> None:
        """Oracle: the transient: of both loads one has most of the supply, and a press swaps them; a bipolar
        timer's output stays so far below the supply that the resting one keeps more than a relay lets go at.
        """
        for card, rests in (("timer-cmos", "fits"), ("timer-bipolar", "fails")):
            loads = (Complementary(other=470.0), Resistive(resistance=470.0, power=2.0))
            design = in_line(PushButton(), Latch555(card=card), *loads, name="Turns", supply=on(12.0))
            self.assertEqual(verdict(design, "resting").standing, rests)
            here = study(design)
            acts = (Act("b1", "active", 0.5, 0.15), Act("b1", "active", 2.0, 0.15))
            waves = transient(here.acted(Corner(supply=12.0), acts), 3.5, from_rest=True)
            volts = signal(waves, here.signal("b3", "emitters"))
            shares = [float(np.interp(t, waves.time, volts)) / 12.0 for t in (0.4, 1.5, 3.4)]
            self.assertEqual([share > 0.5 for share in shares], [False, True, False])
