"""Behaviours: what they promise against the simulated circuit, and where they stop working."""

import math
import unittest
from typing import Any

import numpy as np
from hexlet_core.circuit.measure import signal
from hexlet_core.circuit.solve import transient
from hexlet_core.design.document import Design, changed, in_line
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.insert import behaving, exchanged
from hexlet_core.design.proofs import proofs
from hexlet_core.design.script import Script, SetSupply
from hexlet_core.design.starts import selector
from hexlet_core.design.study import Study, study
from hexlet_core.rehearsal.rehearse import waves_of
from hexlet_core.stages.behaviours.one_shot import OneShot
from hexlet_core.stages.contract import Act, Corner
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.one_of_n import OneOfN
from hexlet_core.stages.drives.soft_latch import SoftLatch
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.module import ModuleLoad
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.rules.timer import Charge
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton

from .circuits import verdict, verdicts

RISE = 0.5  # of a state that is 0 or 1


def light(signal_: Any = None, **values: Any) -> Design:
    """A red light that stays on for a while after a press."""
    button = signal_ or PushButton(to="zero")
    return in_line(button, OneShot(**values), NmosLowSide(), LedLoad(), name="Red map light")


def pulses(here: Study, acts: tuple[Act, ...], stop: float, volts: float = 12.6) -> list[float]:
    """How long each pulse of the timer lasts [s], in the simulated circuit."""
    waves = transient(here.acted(Corner(supply=volts), acts), stop)
    on = signal(waves, here.signal("b2", "state(timer)")) > RISE
    edges = np.flatnonzero(np.diff(on.astype(int)))
    times = waves.time[edges + 1]
    return [float(b - a) for a, b in zip(times[::2], times[1::2], strict=False)]


class Charging(unittest.TestCase):
    def test_without_leakage_it_is_r_times_c_times_ln_3(self) -> None:
        """Oracle: the exponential charge, closed form."""
        self.assertAlmostEqual(Charge(12.0, 1e5, 1e-5).seconds, 1e5 * 1e-5 * math.log(3), places=12)
        self.assertAlmostEqual(Charge(5.0, 1e5, 1e-5).seconds, 1e5 * 1e-5 * math.log(3), places=12)

    def test_what_leaks_makes_it_longer_and_at_last_never_ends(self) -> None:
        """Oracle: at half the supply's current leaking at the threshold, the aim is the threshold itself."""
        dry, wet = Charge(12.0, 1e5, 1e-5), Charge(12.0, 1e5, 1e-5, leak=1e6)
        self.assertGreater(wet.seconds, dry.seconds)
        self.assertEqual(Charge(12.0, 1e5, 1e-5, leak=1.99e5).seconds, math.inf)
        self.assertEqual(Charge(12.0, 1e6, 1e-5, bias=4.1e-6).seconds, math.inf)


class OneShots(unittest.TestCase):
    def test_its_time_is_that_of_the_simulated_circuit(self) -> None:
        """Oracle: the transient of the whole design, timer, button, leakage and all; within 2 %."""
        for values in (
            {},
            {"r_time": 47e3, "c_time": 10e-6},
            {"r_time": 1e6, "c_time": 470e-9, "r_discharge": None},
            {"r_time": 2.2e3, "c_time": 1e-6, "card": "timer-bipolar"},
            {"r_time": 100e3, "c_time": 10e-6, "trigger": "direct"},
        ):
            with self.subTest(values):
                found = [p for p in proofs(study(light(**values)), "b2") if p.check.id == "not_long"]
                self.assertTrue(found[0].holds, found)

    def test_a_long_press_is_a_short_one_when_it_is_coupled(self) -> None:
        """Oracle: the transient; direct, the output lasts as long as the press."""
        values: dict[str, Any] = {"r_time": 100e3, "c_time": 1e-6}
        long = (Act("b1", "active", 0.01, 1.0),)
        coupled = pulses(study(light(**values)), long, 2.0)
        direct = pulses(study(light(**values, trigger="direct")), long, 2.0)
        self.assertAlmostEqual(coupled[0], 0.11, delta=0.004)
        self.assertAlmostEqual(direct[0], 1.0, delta=0.02)

    def test_its_extremes_are_those_of_its_parts(self) -> None:
        """Oracle: the simulated circuit with its capacitor and threshold at their ends."""
        here = study(light(r_time=47e3, c_time=10e-6, at_least=0.1, at_most=1.0))
        worst = verdict(here.design, "not_long").worst
        nominal = verdict(here.design, "not_long").nominal
        self.assertAlmostEqual(worst / nominal, 1.2 * 1.01 * (1 + 0.01 * 1.82), delta=0.02)

    def test_a_pin_of_3_volts_never_reaches_the_trigger(self) -> None:
        """Oracle: the transient: no pulse at all from a pin that swings 3.3 V beside a 12.6 V timer."""
        here = study(light(LogicPin()))
        self.assertEqual(verdicts(here.design)["triggered"].standing, "fails")
        self.assertEqual(verdicts(here.design)["sense"].standing, "fails")
        self.assertEqual(pulses(here, (Act("b1", "active", 0.01, 0.5),), 2.0), [])

    def test_a_direct_trigger_that_rests_low_is_said(self) -> None:
        here = study(light(PushButton(to="plus"), trigger="direct"))
        self.assertEqual(verdicts(here.design)["sense"].standing, "fails")
        three = study(light(LogicPin(), trigger="direct"))
        self.assertEqual(verdicts(three.design)["trigger_rests"].standing, "fails")

    def test_a_supply_above_the_chips_is_a_limit(self) -> None:
        found = verdict(light(card="timer-cmos"), "timer_most")
        self.assertEqual((found.standing, found.sort), ("tight", "limit"))

    def test_windows_use_the_whole_of_what_was_asked(self) -> None:
        """Oracle: the verdicts at the window's own ends."""
        window = next(w for w in study(light()).windows if w.path == "blocks.b2.r_time")
        assert window.high is not None and window.low is not None
        at_most = verdict(light(r_time=window.high.value), "not_long")
        at_least = verdict(light(r_time=window.low.value), "not_short")
        self.assertAlmostEqual(at_most.used_worst, 1.0, delta=0.01)
        self.assertAlmostEqual(at_least.used_worst, 1.0, delta=0.01)

    def test_the_finder_tells_what_each_pair_would_do(self) -> None:
        """Oracle: the design with the pair taken: the same three times."""
        found = evaluate(study(light())).finder
        assert found is not None
        self.assertTrue(found.rows[0].in_use)
        for row in found.rows[1:]:
            values = {c.path.rsplit(".", 1)[-1]: c.value for c in row.changes}
            made = verdict(light(**values), "not_long")
            self.assertAlmostEqual(made.nominal, row.nominal)
            self.assertAlmostEqual(made.worst, row.high)

    def test_every_ordinary_time_has_no_failure(self) -> None:
        for wanted in (0.5, 5.0, 60.0):
            values = {"wanted": wanted, "at_least": wanted * 0.6, "at_most": wanted * 1.5}
            rows = evaluate(study(light(**values))).finder
            assert rows is not None
            best = {c.path.rsplit(".", 1)[-1]: c.value for c in rows.rows[1].changes}
            failing = [v.id for v in verdicts(light(**values, **best)).values() if v.standing == "fails"]
            self.assertEqual(failing, [], wanted)


def latch(load: Any = None, **values: Any) -> Design:
    """One button that turns a load on and off."""
    return in_line(PushButton(), SoftLatch(**values), load or Resistive(), name="Bench light")


def after(here: Study, acts: tuple[Act, ...], times: tuple[float, ...], volts: float = 12.6) -> list[bool]:
    """Whether the switch is on at some times, in the simulated circuit, by its gate's own volts."""
    waves = transient(here.acted(Corner(supply=volts), acts), times[-1])
    gate = signal(waves, here.signal("b2", "v(plus,gate)"))
    return [float(np.interp(t, waves.time, gate)) > volts / 2 for t in times]


def presses(*times: float, hold: float = 0.15) -> tuple[Act, ...]:
    return tuple(Act("b1", "active", t, hold) for t in times)


class SoftLatches(unittest.TestCase):
    def test_each_press_turns_it_over_and_off_is_where_it_begins(self) -> None:
        """Oracle: the transient, over the supply's whole range and with 2.2 mF at the load."""
        for load in (Resistive(), Resistive(resistance=33.0, power=20.0), ModuleLoad(capacitance=2.2e-3)):
            for volts in (10.8, 12.6, 14.4):
                with self.subTest((load.summary, volts)):
                    here = study(latch(load))
                    found = after(here, presses(0.5, 4.0, 9.0), (0.4, 3.9, 8.9, 12.0), volts)
                    self.assertEqual(found, [False, True, False, True])

    def test_however_long_the_press_it_counts_once(self) -> None:
        """Oracle: the transient."""
        here = study(latch())
        found = after(here, presses(0.5, hold=3.0), (1.0, 3.4, 5.0))
        self.assertEqual(found, [True, True, True])
        found = after(here, (*presses(0.5), *presses(4.0, hold=3.0)), (3.9, 4.5, 6.9, 9.0))
        self.assertEqual(found, [True, False, False, False])

    def test_a_holding_resistor_beyond_its_window_does_not_hold(self) -> None:
        """Oracle: the transient at the low supply, far beyond and well inside the window's end."""
        window = next(w for w in study(latch()).windows if w.path == "blocks.b2.r_hold")
        assert window.high is not None
        inside = study(latch(r_hold=0.9 * window.high.value))
        beyond = study(latch(r_hold=6 * window.high.value))
        self.assertNotEqual(verdicts(inside.design)["holds"].standing, "fails")
        self.assertEqual(verdicts(beyond.design)["holds"].standing, "fails")
        self.assertEqual(after(inside, presses(0.5), (3.0,), 10.8), [True])
        self.assertEqual(after(beyond, presses(0.5), (3.0,), 10.8), [False])

    def test_a_charging_resistor_too_small_chatters_while_held(self) -> None:
        """Oracle: the transient: held down after turning off, it comes on again."""
        window = next(w for w in study(latch()).windows if w.path == "blocks.b2.r_charge")
        assert window.low is not None
        values = {"r_charge": 0.2 * window.low.value}
        self.assertEqual(verdicts(latch(**values))["stays_off_held"].standing, "fails")
        here = study(latch(**values))
        waves = transient(here.acted(Corner(supply=14.4), (*presses(0.5), *presses(3.0, hold=4.0))), 7.0)
        drain = signal(waves, here.signal("b2", "drain"))
        late = waves.time > 3.3
        self.assertGreater(float(drain[late].max()), 7.0)

    def test_plugged_in_it_stays_off(self) -> None:
        """Oracle: the transient from nothing charged, however fast the supply comes."""
        here = study(latch())
        for ramp in (1e-5, 1e-3, 0.1):
            plug = SetSupply(at=0.1, volts=14.4, ramp=ramp)
            waves = waves_of(here, Script(stop=1.0, start_volts=0.0, events=(plug,)))
            self.assertLess(float(signal(waves, here.signal("b2", "drain"))[-1]), 0.5)

    def test_a_pin_is_replaced_by_a_button_where_a_contact_is_wanted(self) -> None:
        pin = in_line(LogicPin(), NmosLowSide(), Resistive(), name="Bench light")
        made = behaving(pin, SoftLatch)
        assert made is not None
        self.assertIsInstance(made.blocks["b1"], PushButton)
        self.assertEqual(study(made).open, ())
        back = exchanged(made, "b2", NmosLowSide())
        self.assertIn(("b1.out", "b2.command"), back.joins)


def panels(count: int = 3, **values: Any) -> Design:
    """A selector whose buttons do not bounce."""
    made = selector(*(Resistive(resistance=22.0, power=10.0) for _ in range(count)), name="Panels")
    return changed(
        made,
        [
            *((f"blocks.{b}.bounce", 1e-6) for b, s in made.blocks.items() if isinstance(s, PushButton)),
            *((f"blocks.b{count + 2}.{k}", v) for k, v in values.items()),
        ],
    )


def on(design: Design, acts: tuple[Act, ...], stop: float, volts: float = 12.6) -> tuple[Any, list[Any]]:
    """When, and for each channel whether its load contact is closed."""
    here = study(design)
    waves = transient(here.acted(Corner(supply=volts), acts), stop)
    block = design.of_role("drive")[0]
    count = len(design.of_role("load"))
    return waves.time, [
        signal(waves, here.signal(block, f"state(relay_{k},2)")) > RISE for k in range(1, count + 1)
    ]


OFF = 4  # the block of the button for none, behind three others


def tap(button: int, at: float, hold: float = 0.1) -> Act:
    """The button for off is 0."""
    return Act(f"b{button or OFF}", "active", at, hold)


class Selectors(unittest.TestCase):
    def test_each_button_ends_on_its_own_load_and_off_on_none(self) -> None:
        """Oracle: the transient, two to six channels, over the supply's range."""
        for count in (2, 3, 6):
            for volts in (10.8, 14.4):
                order = [*range(1, count + 1), 1, 0]
                acts = tuple(
                    Act(f"b{k or count + 1}", "active", 0.1 + 0.2 * n, 0.1) for n, k in enumerate(order)
                )
                time, closed = on(panels(count), acts, 0.2 * len(order) + 0.2, volts)
                for n, k in enumerate(order):
                    at = int(np.searchsorted(time, 0.28 + 0.2 * n)) - 1
                    self.assertEqual([c for c, own in enumerate(closed, 1) if own[at]], [k] if k else [])

    def test_never_two_at_once_as_the_formula_says(self) -> None:
        """Oracle: the transient's own moments of opening and shutting, within 6 %."""
        design = panels()
        stage, site = next(study(design).of_role("drive"))
        assert isinstance(stage, OneOfN)
        for volts in (10.8, 12.6, 14.4):
            time, closed = on(design, (tap(1, 0.05), tap(2, 0.3)), 0.5, volts)
            opens = float(time[np.flatnonzero(np.diff(closed[0].astype(int)) < 0)[0] + 1]) - 0.3
            shuts = float(time[np.flatnonzero(np.diff(closed[1].astype(int)) > 0)[0] + 1]) - 0.3
            self.assertFalse((closed[0] & closed[1]).any())
            self.assertAlmostEqual(opens / stage.opens(site, volts), 1.0, delta=0.06)
            self.assertAlmostEqual(shuts / stage.shuts(site, volts), 1.0, delta=0.06)

    def test_a_button_without_travel_lets_two_run_and_zeners_keep_them_apart(self) -> None:
        """Oracle: the transient at the full battery; the verdict says the same both times."""
        quick = [(f"blocks.b{k}.travel", 1e-5) for k in (1, 2, 3)]
        for faster, standing in ((False, "fails"), (True, "fits")):
            design = changed(panels(faster=faster), quick)
            _, closed = on(design, (tap(1, 0.05), tap(2, 0.3)), 0.5, 14.4)
            self.assertEqual(bool((closed[0] & closed[1]).any()), standing == "fails")
            self.assertEqual(verdicts(design)["never_two"].standing, standing)

    def test_two_together_and_the_last_let_go(self) -> None:
        """Oracle: the transient; the first in the line wins while both are held."""
        time, closed = on(panels(), (tap(1, 0.1, 0.2), tap(2, 0.15, 0.3)), 0.7)
        both, late = np.searchsorted(time, (0.28, 0.65))
        self.assertEqual([bool(c[both]) for c in closed], [True, False, False])
        self.assertEqual([bool(c[late]) for c in closed], [False, True, False])

    def test_the_wrong_contact_is_refused_by_name(self) -> None:
        wrong = changed(panels(), [("blocks.b1.form", "NC")])
        self.assertIn("changeover contact is wanted", str(study(wrong).problems[0]))

    def test_each_load_has_a_channel_of_its_own(self) -> None:
        flow = evaluate(study(panels())).flow
        self.assertEqual(flow.channels, 3)
        self.assertEqual([b.channel for b in flow.blocks if b.role == "load"], [0, 1, 2])
