"""The contract, over every registered kind in every place it can take; and formulas against simulation."""

import itertools
import math
import unittest
from typing import Any

from hexlet_core.cards import Drawer, catalogue
from hexlet_core.circuit.solve import operating_point
from hexlet_core.design.circuit import drawing, netlist, views
from hexlet_core.design.document import Design, Supply, changed
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.judge import verdicts_of
from hexlet_core.prove.expect import expectations
from hexlet_core.rehearsal.events import SetPin
from hexlet_core.rehearsal.rehearse import waves_of
from hexlet_core.rehearsal.script import Script
from hexlet_core.stages.buzzer import BuzzerLoad
from hexlet_core.stages.contract import Corner, Schedule
from hexlet_core.stages.drawing import connections, drawn_part
from hexlet_core.stages.findings import share, worst_of
from hexlet_core.stages.freewheel import Freewheel
from hexlet_core.stages.lamp import LampLoad
from hexlet_core.stages.led import LedLoad
from hexlet_core.stages.logic_pin import LogicPin
from hexlet_core.stages.motor import MotorLoad
from hexlet_core.stages.nmos_low_side import NmosLowSide
from hexlet_core.stages.npn_low_side import NpnLowSide
from hexlet_core.stages.registry import KINDS, PATH, kind_name
from hexlet_core.stages.relay_coil import RelayCoil, fraction_of_rise
from hexlet_core.stages.resistive import Resistive

from .circuits import every_design, fan

DRAWER = Drawer()


def verdict(design: Design, name: str) -> Any:
    return next(v for v in verdicts_of(design, DRAWER) if v.id == name)


class Contract(unittest.TestCase):
    def test_every_kind_says_who_it_is(self) -> None:
        names = [kind_name(k) for k in KINDS]
        self.assertEqual(len(set(names)), len(names))
        for kind in KINDS:
            with self.subTest(kind):
                self.assertIn(kind.role, PATH)
                for words in (kind.title, kind.purpose, kind.choose, kind.avoid):
                    self.assertGreater(len(words), 3)
                self.assertTrue(kind.__doc__ is None or "pydantic" not in kind.__doc__)
                self.assertEqual(kind().model_validate(kind().model_dump(mode="json")), kind())

    def test_the_drawing_reads_back_as_the_netlist(self) -> None:
        for design in every_design():
            with self.subTest([s.summary for s in design.stages]):
                wired = drawn_part(netlist(design, DRAWER, Corner(supply=12.6)))
                self.assertEqual(connections(drawing(design, DRAWER)), wired)

    def test_the_drawing_notices_a_lifted_wire(self) -> None:
        """The check above can fail: without one wire the netlists differ."""
        design = fan()
        drawn = drawing(design, DRAWER)
        wired = drawn_part(netlist(design, DRAWER, Corner(supply=12.6)))
        for k in range(len(drawn.wires)):
            lifted = drawn.model_copy(update={"wires": drawn.wires[:k] + drawn.wires[k + 1 :]})
            self.assertNotEqual(connections(lifted), wired, drawn.wires[k])

    def test_symbols_do_not_lie_on_each_other(self) -> None:
        for design in every_design():
            places = [(s.x, s.y) for s in drawing(design, DRAWER).symbols]
            for (x0, y0), (x1, y1) in itertools.combinations(places, 2):
                self.assertGreater(abs(x0 - x1) + abs(y0 - y1), 2.5)

    def test_every_verdict_is_whole(self) -> None:
        for design in every_design():
            found = verdicts_of(design, DRAWER)
            self.assertEqual(len({v.id for v in found}), len(found))
            for v in found:
                with self.subTest(v.id):
                    for number in (v.nominal, v.worst, v.limit, v.used, v.used_worst):
                        self.assertTrue(math.isfinite(number))
                    for words in (
                        v.title,
                        v.sentence,
                        v.corner,
                        v.working.formula,
                        v.working.substituted,
                        v.working.reason,
                        v.figures,
                    ):
                        self.assertTrue(words)
                    self.assertAlmostEqual(v.left, 1 - v.used_worst)
                    self.assertGreaterEqual(v.used_worst, v.used)
                    if v.standing in ("fails", "tight"):
                        assert v.remedy is not None
                        self.assertTrue(v.remedy.text)

    def test_standings_follow_the_one_rule(self) -> None:
        for v in (v for d in every_design() for v in verdicts_of(d, DRAWER)):
            wanted = "fails" if v.used > 1 + 1e-9 else "tight" if v.used_worst > 0.8 else "fits"
            self.assertEqual(v.standing, wanted, v.id)
            self.assertAlmostEqual(v.used, share(v.nominal, v.limit, v.sense))

    def test_readings_come_in_probes_a_person_can_find(self) -> None:
        alternating = [d for d in every_design() if d.supply.ac]
        for design in [d for d in every_design() if not d.supply.ac][::4] + alternating[:1]:
            for expected in expectations(design, DRAWER):
                self.assertLessEqual(expected.low, expected.nominal + 1e-9)
                self.assertGreaterEqual(expected.high, expected.nominal - 1e-9)
                self.assertTrue(expected.probe.red and expected.probe.black)

    def test_windows_at_their_ends_use_the_whole_limit(self) -> None:
        """Oracle: the verdict that a bound names, judged with the value put on the bound: exactly full at the
        worst corner.
        """
        for design in (
            fan(),
            Design(
                name="n",
                stages=(
                    LogicPin(steady=20e-3),
                    NpnLowSide(r_base=300.0, r_pull=4.7e3),
                    Freewheel(),
                    RelayCoil(),
                ),
            ),
            Design(name="l", stages=(LogicPin(), NmosLowSide(r_pull=6800.0), LedLoad())),
        ):
            for window in evaluate(design, DRAWER).windows:
                for bound in (window.low, window.high, *window.others):
                    if bound is None or not 2 < bound.value < 1e7:
                        continue
                    at = changed(design, [(window.path, bound.value)])
                    found = verdict(at, bound.verdict)
                    with self.subTest(f"{window.ref} {bound.title}"):
                        self.assertAlmostEqual(share(found.worst, found.limit, found.sense), 1.0, delta=0.02)

    def test_what_a_window_suggests_fits_it(self) -> None:
        for window in evaluate(fan(), DRAWER).windows:
            assert window.low and window.high and window.suggested
            self.assertLessEqual(window.low.value, window.suggested)
            self.assertGreaterEqual(window.high.value, window.suggested)

    def test_an_empty_window_names_two_limits_and_offers(self) -> None:
        design = Design(name="n", stages=(LogicPin(), NpnLowSide(r_base=240.0), Freewheel(), RelayCoil()))
        base = next(w for w in evaluate(design, DRAWER).windows if w.title == "base resistor")
        assert base.low and base.high and base.gap
        self.assertGreater(base.low.value, base.high.value)
        self.assertEqual({base.low.verdict, base.high.verdict}, {"pin_steady", "fully_on"})
        titles = " ".join(o.title for o in base.offers)
        for word in ("MOSFET", "gain", "load of"):
            self.assertIn(word, titles)

    def test_offers_with_changes_do_what_they_say(self) -> None:
        design = Design(name="n", stages=(LogicPin(), NpnLowSide(r_base=240.0), Freewheel(), RelayCoil()))
        for window in evaluate(design, DRAWER).windows:
            for offer in window.offers:
                if offer.changes:
                    after = changed(design, [(c.path, c.value) for c in offer.changes])
                    self.assertNotEqual(after, design)
        mosfet = next(o for w in evaluate(design, DRAWER).windows for o in w.offers if "MOSFET" in o.title)
        after = changed(design, [(c.path, c.value) for c in mosfet.changes])
        self.assertEqual(after.stages[1].kind, "nmos_low_side")
        self.assertEqual(after.set_aside["npn_low_side"], design.stages[1])
        self.assertNotIn("fails", {v.standing for v in verdicts_of(after, DRAWER) if v.facet == "drive"})

    def test_forcing_a_gain_opens_the_window(self) -> None:
        design = Design(
            name="n", stages=(LogicPin(), NpnLowSide(r_base=240.0, r_pull=None), Freewheel(), RelayCoil())
        )
        gain = next(o for w in evaluate(design, DRAWER).windows for o in w.offers if "gain" in o.title)
        after = changed(design, [(c.path, c.value) for c in gain.changes])
        base = next(w for w in evaluate(after, DRAWER).windows if w.title == "base resistor")
        self.assertIsNone(base.gap)


class FormulaAgainstSimulation(unittest.TestCase):
    """Oracle: the simulated circuit, measured as a person would, against what the formulas promise."""

    def test_release_time_of_each_school(self) -> None:
        script = Script(
            title="off",
            stop=0.07,
            start_volts=14.4,
            events=(SetPin(at=0.0, level="high"), SetPin(at=0.03, level="low")),
        )
        for school in ("diode", "schottky", "diode_zener", "none"):
            design = fan(school)  # type: ignore[arg-type]
            waves = waves_of(design, script, DRAWER)
            closed = waves.state("K1", 2)
            opened = waves.time[(closed < 0.5) & (waves.time > 0.03)][0] - 0.03
            with self.subTest(school):
                self.assertAlmostEqual(opened, verdict(design, "release").nominal, delta=0.04 * opened)

    def test_peak_is_what_the_clamp_promises(self) -> None:
        script = Script(
            title="off",
            stop=0.05,
            start_volts=14.4,
            events=(SetPin(at=0.0, level="high"), SetPin(at=0.03, level="low")),
        )
        for school in ("diode", "schottky", "diode_zener"):
            design = fan(school)  # type: ignore[arg-type]
            peak = waves_of(design, script, DRAWER)["drain"].max()
            self.assertLessEqual(peak, verdict(design, "peak").worst * 1.005)
            self.assertGreater(peak, verdict(design, "peak").nominal * 0.93)

    def test_gate_voltage_at_the_corner(self) -> None:
        design = fan()
        corner = Corner(supply=10.8, signal="min", resistors=0.0)
        point = operating_point(netlist(design, DRAWER, corner, Schedule(signal=("high",))))
        self.assertAlmostEqual(point["gate"], verdict(design, "fully_on").nominal, delta=2e-3)

    def test_gate_while_the_pin_boots(self) -> None:
        for pull in (6800.0, 100e3):
            design = fan(r_pull=pull)
            corner = Corner(supply=12.6, signal="max")
            point = operating_point(netlist(design, DRAWER, corner, Schedule(signal=("boot",))))
            self.assertAlmostEqual(point["gate"], verdict(design, "boot").nominal, delta=2e-3)
        self.assertEqual(verdict(fan(r_pull=100e3), "boot").standing, "fails")
        self.assertEqual(verdict(fan(r_pull=6800.0), "boot").standing, "fits")

    def test_a_100k_pull_down_really_lets_the_fan_run_at_boot(self) -> None:
        corner = Corner(supply=12.6, signal="max", spread="min", celsius=40.0)
        on = operating_point(netlist(fan(r_pull=100e3), DRAWER, corner, Schedule(signal=("boot",))))
        off = operating_point(netlist(fan(r_pull=6800.0), DRAWER, corner, Schedule(signal=("boot",))))
        self.assertGreater(on["i(K1)"], 0.1)
        self.assertLess(off["i(K1)"], 1e-3)

    def test_pin_currents(self) -> None:
        design = Design(name="n", stages=(LogicPin(), NpnLowSide(r_base=270.0), Freewheel(), RelayCoil()))
        point = operating_point(netlist(design, DRAWER, Corner(supply=14.4), Schedule(signal=("high",))))
        self.assertAlmostEqual(-point.current("P1", "out"), verdict(design, "pin_steady").nominal, delta=1e-4)

    def test_a_base_drive_right_at_minimum_gain_saturates_the_weakest(self) -> None:
        """The window's high end: at the worst corner, VCE stays at or under the card's saturation voltage."""
        design = Design(
            name="n",
            stages=(
                LogicPin(steady=30e-3, burst=30e-3),
                NpnLowSide(r_base=230.0, r_pull=None),
                Freewheel(),
                RelayCoil(),
            ),
        )
        card = catalogue()["npn-40v-200ma"]
        corner = Corner(supply=14.4, spread="min", resistors=0.01, signal="min")
        point = operating_point(netlist(design, DRAWER, corner, Schedule(signal=("high",))))
        self.assertLessEqual(point["collector"], card.v_ce_sat * 1.25)  # type: ignore[union-attr]

    def test_switching_time_against_the_simulated_gate(self) -> None:
        """Oracle: the simulated drain falls within what the charge balance promises, and not ten times
        sooner.
        """
        design = fan(r_gate=4700.0)
        script = Script(title="on", stop=2e-3, events=(SetPin(at=1e-3, level="high"),))
        waves = waves_of(design, script, DRAWER)
        fallen = waves.time[(waves["drain"] < 0.3) & (waves.time > 1e-3)][0] - 1e-3
        promised = verdict(design, "switching").nominal
        self.assertLess(fallen, promised)
        self.assertGreater(fallen, promised / 10)

    def test_heat(self) -> None:
        design = fan()
        point = operating_point(netlist(design, DRAWER, Corner(supply=14.4), Schedule(signal=("high",))))
        self.assertAlmostEqual(
            point.power("Q1"), verdict(design, "heat").nominal, delta=0.25 * verdict(design, "heat").nominal
        )


class Traps(unittest.TestCase):
    """Each builds the mistake and expects the verdict."""

    def stands(self, stages: tuple[Any, ...], name: str, standing: str, **supply: float) -> None:
        design = Design(name="trap", stages=stages)
        if supply:
            design = changed(design, [(f"supply.{k}", v) for k, v in supply.items()])
        self.assertEqual(verdict(design, name).standing, standing)

    def test_no_base_resistor_to_speak_of(self) -> None:
        self.stands((LogicPin(), NpnLowSide(r_base=1.0), Freewheel(), RelayCoil()), "pin_steady", "fails")

    def test_no_freewheel_part(self) -> None:
        self.stands(
            (LogicPin(), NpnLowSide(r_base=300.0), Freewheel(school="none"), RelayCoil()), "peak", "fails"
        )

    def test_threshold_is_not_fully_on(self) -> None:
        self.stands(
            (LogicPin(), NmosLowSide(card="nmos-55v-30a"), Freewheel(), RelayCoil()), "fully_on", "fails"
        )

    def test_floating_gate(self) -> None:
        self.stands(
            (LogicPin(boot="floating"), NmosLowSide(r_pull=None), Freewheel(), RelayCoil()),
            "unplugged",
            "fails",
        )

    def test_base_drive_at_minimum_gain(self) -> None:
        self.stands((LogicPin(), NpnLowSide(r_base=470.0), Freewheel(), RelayCoil()), "fully_on", "fails")

    def test_hot_coil_on_a_flat_battery(self) -> None:
        self.stands((LogicPin(), NmosLowSide(), Freewheel(), RelayCoil(hottest=85.0)), "pull_in", "fails")

    def test_coil_on_charge(self) -> None:
        self.stands((LogicPin(), NmosLowSide(), Freewheel(), RelayCoil()), "coil_max", "fails", high=16.0)

    def test_small_diode_under_a_big_coil(self) -> None:
        self.stands(
            (LogicPin(), NmosLowSide(), Freewheel(diode="diode-200ma-100v"), RelayCoil(resistance=40.0)),
            "freewheel_current",
            "fails",
        )

    def test_zener_over_the_breakdown(self) -> None:
        self.stands(
            (
                LogicPin(),
                NpnLowSide(card="npn-40v-200ma"),
                Freewheel(school="diode_zener", zener="zener-24v"),
                RelayCoil(),
            ),
            "peak",
            "fails",
            high=18.0,
        )

    def test_lamp_on_a_heater_contact_and_dry_contact(self) -> None:
        self.stands(
            (LogicPin(), NmosLowSide(), Freewheel(), RelayCoil(contact_load="lamp", contact_current=2.0)),
            "contact_run",
            "fails",
        )
        self.stands(
            (LogicPin(), NmosLowSide(), Freewheel(), RelayCoil(contact_load="signal", contact_current=1e-3)),
            "contact_clean",
            "fails",
        )

    def test_board_current(self) -> None:
        self.stands(
            (LogicPin(), NmosLowSide(), Freewheel(school="none"), Resistive(resistance=6.0, power=50.0)),
            "strip",
            "fails",
        )

    def test_shared_rules(self) -> None:
        self.assertEqual(worst_of(["fits", "tight", "fails"]), "fails")
        self.assertEqual(worst_of([]), "fits")
        self.assertEqual(fraction_of_rise(2.0, 1.0, 1.0), math.inf)
        self.assertAlmostEqual(fraction_of_rise(0.5, 1.0, 2.0), 2 * math.log(2))
        self.assertEqual([v.index for v in views(fan(), DRAWER)], [0, 1, 2, 3])


class OtherLoads(unittest.TestCase):
    def design(self, load: object, drive: object = None) -> Design:
        return Design(name="Lamp", stages=(LogicPin(), drive or NmosLowSide(r_pull=6800.0), load))  # type: ignore[arg-type]

    def test_a_lamps_current_against_the_simulated_filament(self) -> None:
        """Oracle: the filament's own heat balance, solved at each end of the supply."""
        lamp = LampLoad()
        for volts in (10.8, 14.4):
            design = self.design(lamp).model_copy(
                update={"supply": Supply(low=volts, typical=volts, high=volts, resistance=0.0)}
            )
            found = verdict(design, "switch_current")
            point = operating_point(netlist(design, DRAWER, Corner(supply=volts), Schedule(signal=("high",))))
            self.assertAlmostEqual(found.worst, point.current("E1", "a"), delta=0.02 * found.worst)

    def test_a_lamps_inrush_against_the_simulated_one(self) -> None:
        """Oracle: the rehearsal's peak current on a full supply."""
        design = self.design(LampLoad()).model_copy(
            update={"supply": Supply(low=14.4, typical=14.4, high=14.4, resistance=0.0)}
        )
        waves = waves_of(design, Script(stop=0.05, events=(SetPin(at=0.01, level="high"),)), DRAWER)
        found = verdict(design, "surge")
        self.assertAlmostEqual(found.worst, float(waves.current("E1", "a").max()), delta=0.15 * found.worst)

    def test_an_leds_current_against_the_simulated_one(self) -> None:
        """Oracle: the junction's own curve, solved at each end of the supply; V_F is taken as constant by the
        formula.
        """
        for count, volts in ((1, 10.8), (1, 14.4), (3, 14.4)):
            design = self.design(LedLoad(count=count)).model_copy(
                update={"supply": Supply(low=volts, typical=volts, high=volts, resistance=0.0)}
            )
            point = operating_point(netlist(design, DRAWER, Corner(supply=volts), Schedule(signal=("high",))))
            nominal = verdict(design, "led_max").nominal
            self.assertAlmostEqual(nominal, point.current("R3", "a"), delta=0.03 * nominal)

    def test_led_current_over_the_limit_on_a_full_battery(self) -> None:
        self.assertEqual(verdict(self.design(LedLoad(r_series=560.0)), "led_max").standing, "fails")

    def test_a_string_too_long_for_a_low_battery(self) -> None:
        found = verdict(self.design(LedLoad(count=6, r_series=330.0)), "led_dim")
        self.assertEqual(found.standing, "fails")
        assert found.remedy is not None
        self.assertIn("fewer LEDs", found.remedy.text)

    def test_a_motors_start_and_run_against_the_simulated_one(self) -> None:
        """Oracle: the armature's own equations; the inductance rounds the first peak off by less than a
        tenth.
        """
        supply = Supply(low=12.0, typical=12.0, high=12.0, resistance=0.0)
        design = Design(
            name="Pump",
            supply=supply,
            stages=(LogicPin(), NmosLowSide(r_pull=6800.0), Freewheel(), MotorLoad(spin_up=0.3)),
        )
        waves = waves_of(design, Script(stop=3.0, events=(SetPin(at=0.01, level="high"),)), DRAWER)
        self.assertAlmostEqual(verdict(design, "surge").worst, float(waves["i(M1)"].max()), delta=0.1 * 1.5)
        self.assertAlmostEqual(
            verdict(design, "switch_current").worst, float(waves["i(M1)"][-1]), delta=0.01 * 0.25
        )

    def test_a_measured_coil_does_not_prove_a_motor(self) -> None:
        """Oracle: what was measured is gone with the load that had it."""
        design = fan().model_copy(update={"origins": {"stages.3.resistance": "measured"}})
        self.assertEqual(evaluate(design, DRAWER).facets[0].standing, "proven")
        motor = design.model_copy(update={"stages": (*design.stages[:3], MotorLoad())})
        self.assertNotEqual(evaluate(motor, DRAWER).facets[0].standing, "proven")

    def test_a_motor_without_a_freewheel_part(self) -> None:
        design = Design(
            name="Pump", stages=(LogicPin(), NpnLowSide(r_base=270.0), Freewheel(school="none"), MotorLoad())
        )
        self.assertEqual(verdict(design, "peak").standing, "fails")

    def test_a_standing_motor_is_too_much_for_a_small_transistor(self) -> None:
        self.assertEqual(
            verdict(self.design(MotorLoad(), NpnLowSide(r_base=270.0)), "surge").standing, "fails"
        )

    def test_a_small_transistor_cannot_start_a_lamp(self) -> None:
        self.assertEqual(
            verdict(self.design(LampLoad(), NpnLowSide(r_base=270.0)), "surge").standing, "fails"
        )

    def test_a_buzzer_that_a_flat_battery_does_not_sound(self) -> None:
        self.assertEqual(verdict(self.design(BuzzerLoad(sounds=11.0)), "sounds").standing, "fails")

    def test_a_lamp_beyond_its_volts(self) -> None:
        self.assertEqual(verdict(self.design(LampLoad(volts=6.0)), "lamp_volts").standing, "fails")
