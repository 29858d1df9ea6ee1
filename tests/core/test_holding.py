"""What holds a state: sets, holds, rides a sag, resets, survives bounce, over parts, heat and supplies.

Oracles: the transient of the whole design; a divider's own volts; a timer's own least supply.
"""

import unittest

import numpy as np
from hexlet_core.circuit.measure import signal
from hexlet_core.circuit.solve import transient
from hexlet_core.design.around import calibration
from hexlet_core.design.document import Design, Supply, changed, in_line
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError
from hexlet_core.rehearsal.holding import Keeping, holding
from hexlet_core.rehearsal.lit import half_amps, load_signal
from hexlet_core.rehearsal.press_map import press_map, presser
from hexlet_core.rehearsal.rehearse import waves_of
from hexlet_core.rehearsal.script import presets
from hexlet_core.stages.behaviours.counter_timer import CounterTimer
from hexlet_core.stages.behaviours.latch_555 import Latch555
from hexlet_core.stages.behaviours.set_reset import SetReset
from hexlet_core.stages.behaviours.toggle import Toggle
from hexlet_core.stages.contract import Act, Corner, Stage
from hexlet_core.stages.drives.cut_off import CutOff
from hexlet_core.stages.drives.held_latch import HeldLatch
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_latch import NpnLatch
from hexlet_core.stages.drives.push_push import PushPush
from hexlet_core.stages.drives.relay_hold import RelayHold
from hexlet_core.stages.drives.relay_hold_npn import RelayHoldNpn
from hexlet_core.stages.drives.soft_latch import SoftLatch
from hexlet_core.stages.drives.thyristor_latch import ThyristorLatch
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.module import ModuleLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.signals.push_button import PushButton

from .circuits import verdict, verdicts
from .test_timing import on


def kept(stage: Stage, volts: float = 12.0, load: Stage | None = None) -> Design:
    """A design about one kind that keeps a state, with the buttons that it asks for."""
    forms = [p.form for p in stage.ports() if p.kind == "contact" and p.way == "in"]
    most = 0.5 if isinstance(stage, ThyristorLatch) else 0.05  # the load itself goes through the one for off
    buttons = [PushButton(form="NC" if form == "break" else "NO", most=most) for form in forms]
    drive = () if stage.role == "drive" else (NmosLowSide(),)
    path = (*buttons, stage, *drive, load or Resistive())
    return in_line(*path, name="Kept", supply=on(volts))


def found(design: Design) -> Keeping:
    last = list(holding(study(design)))[-1].holding
    assert last is not None
    return last


KINDS: tuple[Stage, ...] = (
    SetReset(),
    Toggle(),
    Latch555(),
    Latch555(card="timer-bipolar"),
    HeldLatch(),
    SoftLatch(),
    SoftLatch(loop="load"),
    PushPush(),
    NpnLatch(),
    NpnLatch(loop="anode", r_feed=680.0),
    ThyristorLatch(),
    ThyristorLatch(off="interrupting"),
    ThyristorLatch(made="thyristor"),
    ThyristorLatch(made="thyristor", off="interrupting"),
    RelayHold(),
    RelayHoldNpn(),
)


class Suite(unittest.TestCase):
    def test_defaults_pass_with_two_hundred_sets_of_parts(self) -> None:
        for stage in KINDS:
            with self.subTest(stage.title):
                answer = found(kept(stage))
                self.assertEqual((answer.passed, answer.builds), (200, 200), answer.lost)
                self.assertTrue(all(w.on == 0 for w in answer.wakes), answer.says)

    def test_what_waiting_costs(self) -> None:
        """Oracle: the coil by Ohm's law, the timer's own current from its card, hours = 1 A·h / current."""
        design, stage = kept(RelayHold()), RelayHold()
        site = study(design).flow.sites[design.of_role("drive")[0]]
        relay = found(design).drawn
        assert relay is not None
        self.assertLess(relay.off, 1e-6)
        amps = 12.0 / stage.coil(site).resistance
        self.assertAlmostEqual(relay.on, amps, delta=0.02 * amps)
        timer = found(kept(Latch555(card="timer-bipolar"))).drawn
        assert timer is not None
        self.assertGreater(timer.off, 3e-3)
        self.assertIn(f"{1 / timer.off / 24:.0f} days", timer.says)

    def test_at_three_temperatures_and_three_supplies_it_holds_for_a_minute(self) -> None:
        for stage in KINDS:
            design = kept(stage)
            here = study(design)
            kind, site, who, off = presser(here)
            first = 1.0 + kind.settles(site)
            load = design.of_role("load")[0]
            name = load_signal(here, load)
            for celsius in (-10.0, 25.0, 60.0):
                for volts in (design.supply.low, design.supply.high):
                    with self.subTest(stage.title, celsius=celsius, volts=volts):
                        acts = (Act(who, "active", first, 0.15), Act(off, "active", first + 60.0, 0.15))
                        corner = Corner(supply=volts, celsius=celsius)
                        waves = transient(here.acted(corner, acts), first + 63.0, from_rest=True)
                        amps = np.abs(signal(waves, name))
                        lit = [
                            float(np.interp(t, waves.time, amps)) > half_amps(here, load, volts)
                            for t in (first - 0.1, first + 1.0, first + 59.9, first + 62.9)
                        ]
                        self.assertEqual(lit, [False, True, True, False])

    def test_every_press_counts_once_on_every_supply(self) -> None:
        for stage in KINDS:
            with self.subTest(stage.title):
                drawn = list(press_map(study(kept(stage))))[-1].map
                assert drawn is not None
                for row in drawn.rows:
                    meant = "on" if row.begin == "off" else "off"
                    counted = {s.kind for s in row.spans if s.high > 0.02}  # a relay takes some milliseconds
                    self.assertEqual(counted, {meant}, row)

    def test_no_verdict_of_a_default_fails(self) -> None:
        for stage in KINDS:
            fails = [v.id for v in verdicts(kept(stage)).values() if v.standing == "fails"]
            self.assertEqual(fails, [], stage.title)


class Waking(unittest.TestCase):
    def test_equal_sides_race_and_unequal_ones_do_not(self) -> None:
        """Oracle: with equal pull-downs nothing but the parts' spread tells the two sides apart."""
        equal = kept(SetReset(r_pull_on=100e3))
        answer = found(equal)
        self.assertIn("race", answer.says)
        self.assertTrue(any(0 < w.on < w.of for w in answer.wakes))
        told = verdict(equal, "comes_up_off")
        self.assertEqual(told.standing, "fails")
        window = next(w for w in study(equal).windows if w.path.endswith("r_pull_on"))
        assert window.high is not None
        cured = changed(equal, [("blocks.b3.r_pull_on", 0.9 * window.high.value)])
        self.assertTrue(all(w.on == 0 for w in found(cured).wakes))

    def test_a_timer_under_its_least_supply_forgets(self) -> None:
        """Oracle: the card's least supply against the sag."""
        answer = found(kept(Latch555(card="timer-bipolar"), 5.0))
        self.assertEqual(answer.passed, 0)
        self.assertIn("sag to 4 V", answer.lost[0].words)
        self.assertEqual(verdict(kept(Latch555(card="timer-bipolar"), 5.0), "timer_least").standing, "fits")

    def test_a_longer_dip_is_never_kinder(self) -> None:
        """Where a dip to some volts is forgotten for a second, none to fewer volts is kept for one."""
        for stage in (SetReset(), HeldLatch(), SoftLatch()):
            long = [d.stays for d in found(kept(stage)).dips if d.seconds == 1.0]
            self.assertEqual(long, sorted(long, reverse=True), stage.title)

    def test_what_nobody_presses_is_refused(self) -> None:
        with self.assertRaises(DocumentError):
            list(holding(study(in_line(NmosLowSide(), LedLoad(), name="Open"))))


class HeldByItsOutput(unittest.TestCase):
    def test_a_load_that_keeps_its_volts_turns_it_on_again(self) -> None:
        """Oracle: the transient of a quick press of the off button, the load's capacitor large."""
        large = kept(HeldLatch(), load=ModuleLoad(capacitance=220e-6))
        small = kept(HeldLatch(), load=ModuleLoad(capacitance=100e-9))
        self.assertEqual(verdict(large, "output_falls").standing, "fails")
        self.assertEqual(verdict(small, "output_falls").standing, "fits")
        lit = []
        for design in (large, small):
            here = study(design)
            acts = (Act("b1", "active", 0.5, 0.15), Act("b2", "active", 2.0, 0.04))
            waves = transient(here.acted(Corner(supply=12.0), acts), 4.0)
            lit.append(float(signal(waves, here.signal("b3", "drain"))[-1]) > 6.0)
        self.assertEqual(lit, [True, False])

    def test_a_short_at_its_output_lets_it_go(self) -> None:
        """Oracle: the transient with the load's own resistance all but nothing."""
        here = study(kept(HeldLatch(), load=Resistive(resistance=0.1, power=1e4)))
        acts = (Act("b1", "active", 0.1, 0.15),)
        waves = transient(here.acted(Corner(supply=12.0), acts), 1.0)
        self.assertLess(float(signal(waves, here.signal("b3", "drain"))[-1]), 0.5)

    def test_a_counter_cuts_its_own_supply(self) -> None:
        """Oracle: the count's own time from the press; then nothing is drawn any more."""
        base = kept(HeldLatch(), load=Resistive(resistance=470, power=1))
        counter = CounterTimer(tap="6", c_time=47e-9, wanted=1.0, at_least=0.7, at_most=1.4)
        joins = (*base.joins, ("b3.fed", "b9.rail"), ("b9.out", "b3.cut"))
        here = study(base.model_copy(update={"blocks": {**base.blocks, "b9": counter}, "joins": joins}))
        self.assertFalse(here.open or here.problems)
        self.assertIn("b3.cuts", [v.id for v in here.verdicts])
        waves = transient(here.acted(Corner(supply=12.0), (Act("b1", "active", 0.2, 0.15),)), 3.0)
        up = waves.time[signal(waves, here.signal("b3", "drain")) > 6.0]
        whole = counter.times(here.flow.sites["b9"]).nominal
        self.assertAlmostEqual(float(up[-1] - up[0]), whole, delta=0.03 * whole)
        self.assertLess(abs(float(signal(waves, "i(BAT.a)")[-1])), 1e-5)

    def test_with_a_coil_it_holds_and_lets_go(self) -> None:
        path = (PushButton(), PushButton(), HeldLatch(), Freewheel(), RelayCoil())
        answer = found(in_line(*path, name="Coil", supply=on(12.0)))
        self.assertEqual(answer.passed, answer.builds, answer.lost)


class OneButton(unittest.TestCase):
    def test_a_small_resistor_back_oscillates_while_held(self) -> None:
        """Oracle: twice the divider's source resistance; and the transient of a long press."""
        design = kept(Latch555(r_back=15e3))
        self.assertEqual(verdict(design, "held_keeps").standing, "fails")
        here = study(design)
        acts = (Act("b1", "active", 0.5, 1.5),)
        for made, least in ((here, 5), (study(kept(Latch555())), 0)):
            waves = transient(made.acted(Corner(supply=12.0), acts), 1.9, from_rest=True)
            high = signal(waves, made.signal("b2", "out"))[waves.time > 0.6] > 6.0
            self.assertEqual(int(np.abs(np.diff(high.astype(int))).sum()) > least, made is here)

    def test_its_window_ends_where_it_begins_to_oscillate(self) -> None:
        """Oracle: the ideal output's 2 · R, a bipolar's a little more."""
        for card, most in (("timer-cmos", 1.1), ("timer-bipolar", 1.25)):
            design = kept(Latch555(card=card))
            window = next(w for w in study(design).windows if w.path.endswith("r_back"))
            assert window.low is not None
            self.assertTrue(0.75 * 22e3 <= window.low.value <= most * 2 * 11e3 * 2, window.low)


class ByItsOwnContact(unittest.TestCase):
    def test_a_press_that_is_too_short_is_told_and_is_what_the_circuit_shows(self) -> None:
        """Oracle: where the press map's first span ends, its bounce among it."""
        design = kept(RelayHold())
        said = verdict(design, "press").nominal
        drawn = list(press_map(study(design)))[-1].map
        assert drawn is not None
        for row in drawn.rows:
            if row.begin == "off":
                self.assertEqual(row.spans[0].kind, "nothing")
                self.assertAlmostEqual(row.spans[0].high, said, delta=0.25 * said)

    def test_stop_wins_over_start(self) -> None:
        """Oracle: the transient with both held."""
        here = study(kept(RelayHold()))
        acts = (Act("b1", "active", 0.2, 1.0), Act("b2", "active", 0.5, 0.3))
        waves = transient(here.acted(Corner(supply=12.0), acts), 1.6)
        volts = signal(waves, here.signal("b3", "switched"))
        at = [float(np.interp(t, waves.time, volts)) > 6.0 for t in (0.4, 0.7, 1.1, 1.5)]
        self.assertEqual(at, [True, False, True, True])

    def test_a_contact_of_the_other_form_is_refused(self) -> None:
        wrong = in_line(PushButton(), PushButton(), RelayHold(), Resistive(), name="Wrong", supply=on(12.0))
        self.assertIn("b3.off", [p.field for p in study(wrong).problems])
        other = in_line(PushButton(form="NC"), PushButton(), HeldLatch(), Resistive(), name="Other")
        self.assertIn("b3.on", [p.field for p in study(other).problems])


class Guarded(unittest.TestCase):
    """The battery guard, on a battery that is turned slowly down and up."""

    battery = Supply(kind="lead-acid battery", low=10.8, typical=12.6, high=14.4, resistance=0.05)

    def design(self, **more: object) -> Design:
        path = (CutOff.model_validate(more), Resistive(resistance=24.0, power=10.0))
        return in_line(*path, name="Guarded", supply=self.battery)

    def turned(self, design: Design) -> tuple[list[float], list[float]]:
        """The battery's volts at which it goes off, and comes on again."""
        here = study(design)
        script = presets(here)[0]
        waves = waves_of(here, script)
        volts, on = signal(waves, here.signal("b1", "plus")), signal(waves, here.signal("b1", "drain")) > 6.0
        after = waves.time > 1.0
        edges = np.flatnonzero(np.diff(on.astype(int)) * after[1:])
        return ([float(volts[k]) for k in edges if on[k]], [float(volts[k]) for k in edges if not on[k]])

    def test_both_levels_are_those_of_the_circuit_across_the_turn(self) -> None:
        """Oracle: the transient of the whole design, zener, comparator and filter among it."""
        for turn in (20.0, 33.0, 50.0):
            design = self.design(turn=turn)
            here = study(design)
            stage = here.flow.stage("b1")
            assert isinstance(stage, CutOff)
            site = here.flow.sites["b1"]
            (off,), (back,) = self.turned(design)
            self.assertAlmostEqual(off, stage.cuts(site), delta=0.05)
            self.assertAlmostEqual(back, stage.returns(site), delta=0.08)

    def test_its_trimmer_reaches_the_wish_whatever_the_parts(self) -> None:
        here = study(self.design())
        stage, site = here.flow.stage("b1"), here.flow.sites["b1"]
        assert isinstance(stage, CutOff)
        lowest, highest = stage.reaches(site)
        self.assertLess(lowest, 10.8)
        self.assertGreater(highest, 10.8)
        told = verdict(self.design(turn=90.0), "cuts_late")
        self.assertEqual(told.standing, "tight")
        assert told.remedy is not None
        cured = changed(self.design(turn=90.0), [(c.path, c.value) for c in told.remedy.changes])
        self.assertEqual(verdict(cured, "cuts_late").standing, "fits")

    def test_too_little_hysteresis_chatters(self) -> None:
        """Oracle: on a battery of two ohms the load goes on and off again and again as it falls."""
        weak = self.battery.model_copy(update={"resistance": 2.0})
        path = (CutOff(r_back=4.7e6, c_filter=100e-9), Resistive(resistance=24.0, power=10.0))
        chatters = in_line(*path, name="Weak", supply=weak)
        self.assertEqual(verdict(chatters, "chatters").standing, "fails")
        off, _ = self.turned(chatters)
        self.assertGreater(len(off), 3)
        self.assertEqual(verdict(self.design(), "chatters").standing, "fits")

    def test_readings_say_where_to_turn_it(self) -> None:
        """Oracle: a build whose zener is 4 % high: its level is read, and after the turn it is as wanted."""
        design = self.design(turn=15.0)
        here = study(design)
        stage, site = here.flow.stage("b1"), here.flow.sites["b1"]
        assert isinstance(stage, CutOff)

        def built(turn: float) -> float:
            return stage.cuts(site, turn, 0.0, 0.04)

        said = calibration(here, [built(15.0), built(15.0) + 0.01, built(15.0) - 0.01])
        assert said.turn is not None and said.mean is not None
        self.assertFalse(said.done)
        self.assertAlmostEqual(built(said.turn), stage.wanted, delta=0.03)
        turned = study(changed(design, [("blocks.b1.turn", said.turn)]))
        again = [built(said.turn)] * 3
        self.assertTrue(calibration(turned, again).done)
        self.assertFalse(calibration(turned, again[:1]).done)
        self.assertIsNone(calibration(here, []).mean)
        with self.assertRaises(DocumentError):
            calibration(study(kept(HeldLatch())), [10.0])
