"""The contract, over every registered kind in every place it can take; and formulas against simulation."""

import itertools
import math
import random
import unittest
from typing import Any, Literal, get_args, get_origin

from hexlet_core.build.steps import steps
from hexlet_core.cards import Drawer, catalogue
from hexlet_core.cards.card import ResistorCard
from hexlet_core.circuit.solve import operating_point
from hexlet_core.design.document import Design, Supply, changed, in_line
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.remedies import with_offers
from hexlet_core.design.script import Script, SetPin
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError
from hexlet_core.fields import quantity_of
from hexlet_core.prove.expect import expectations
from hexlet_core.quantity import within
from hexlet_core.rehearsal.rehearse import waves_of
from hexlet_core.stages.contract import ROLES, Corner, Stage
from hexlet_core.stages.drawing import connections, drawn_part
from hexlet_core.stages.drawing.labels import hidden_words
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.loads.buzzer import BuzzerLoad
from hexlet_core.stages.loads.lamp import LampLoad
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.motor import MotorLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.registry import KINDS, kind_name
from hexlet_core.stages.rules.coil import time_to_rise
from hexlet_core.stages.say.checks import share, worst_of
from hexlet_core.stages.signals.logic_pin import LogicPin

from .circuits import every_design, fan, posed, verdict

DRAWER = Drawer()


def extremes(kind: type[Stage], name: str) -> list[Any]:
    """A field's bounds, or everything it can be."""
    found = quantity_of(kind, name)
    if found is not None:
        return [found.low, found.high]
    annotation = kind.model_fields[name].annotation
    if annotation is bool:
        return [True, False]
    return list(get_args(annotation)) if get_origin(annotation) is Literal else []


class Contract(unittest.TestCase):
    def test_every_kind_says_who_it_is(self) -> None:
        names = [kind_name(k) for k in KINDS]
        self.assertEqual(len(set(names)), len(names))
        for kind in KINDS:
            with self.subTest(kind):
                self.assertIn(kind.role, ROLES)
                for words in (kind.title, kind.purpose, kind.choose, kind.avoid):
                    self.assertGreater(len(words), 3)
                self.assertTrue(kind.__doc__ is None or "pydantic" not in kind.__doc__)
                self.assertEqual(kind().model_validate(kind().model_dump(mode="json")), kind())

    def test_the_drawing_reads_back_as_the_netlist(self) -> None:
        for design in every_design():
            with self.subTest([s.summary for s in design.blocks.values()]):
                wired = drawn_part(study(design).netlist(Corner(supply=12.6)))
                self.assertEqual(connections(study(design).drawing), wired)

    def test_the_drawing_notices_a_lifted_wire(self) -> None:
        """The check above can fail: without one wire the netlists differ."""
        design = fan()
        drawn = study(design).drawing
        wired = drawn_part(study(design).netlist(Corner(supply=12.6)))
        for k in range(len(drawn.wires)):
            lifted = drawn.model_copy(update={"wires": drawn.wires[:k] + drawn.wires[k + 1 :]})
            self.assertNotEqual(connections(lifted), wired, drawn.wires[k])

    def test_symbols_do_not_lie_on_each_other(self) -> None:
        for design in every_design():
            places = [(s.x, s.y) for s in study(design).drawing.symbols]
            for (x0, y0), (x1, y1) in itertools.combinations(places, 2):
                self.assertGreater(abs(x0 - x1) + abs(y0 - y1), 2.5)

    def test_no_word_or_tag_lies_on_anything(self) -> None:
        """Oracle: rectangles at the smallest size a drawing is shown at."""
        for design in every_design():
            with self.subTest([s.summary for s in design.blocks.values()]):
                self.assertEqual(hidden_words(study(design).drawing), [])

    def test_a_word_on_a_wire_is_noticed(self) -> None:
        """The check above can fail: words moved onto their own symbol are found."""
        drawing = study(fan()).drawing
        symbol = next(s for s in drawing.symbols if s.words)
        assert symbol.words is not None
        moved = symbol.words.model_copy(update={"x": symbol.x, "y": symbol.y, "level": "middle"})
        symbols = tuple(s.model_copy(update={"words": moved}) if s is symbol else s for s in drawing.symbols)
        self.assertNotEqual(hidden_words(drawing.model_copy(update={"symbols": symbols})), [])

    def test_every_verdict_is_whole(self) -> None:
        for design in every_design():
            found = study(design).verdicts
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

    def test_every_field_at_its_bounds_and_in_corners_gives_an_answer(self) -> None:
        """Oracle: none is needed: whatever the document takes is judged, drawn and made a circuit of."""
        rng = random.Random(7)
        homes: dict[type[Stage], tuple[Design, str]] = {}
        for made in every_design():
            for id, stage in made.blocks.items():
                homes.setdefault(type(stage), (made, id))
        self.assertEqual(set(homes), set(KINDS))
        for kind, (made, id) in homes.items():
            fields = {name: found for name in kind.model_fields if (found := extremes(kind, name))}
            trials = [{name: value} for name, found in fields.items() for value in found]
            trials += [{name: rng.choice(found) for name, found in fields.items()} for _ in range(5)]
            for trial in trials:
                try:
                    then = changed(made, [(f"blocks.{id}.{name}", value) for name, value in trial.items()])
                except DocumentError:
                    continue
                with self.subTest(kind=kind.__name__, trial=trial):
                    evaluate(study(then))
                    try:
                        study(then).netlist(Corner(supply=then.supply.high))
                    except DocumentError as refused:
                        self.assertTrue(refused.problems[0].field.startswith(f"blocks.{id}."))

    def test_standings_follow_the_one_rule(self) -> None:
        for v in (v for d in every_design() for v in study(d).verdicts):
            edge = {"limit": 0.8, "need": 0.95, "wish": 0.95, "practice": 1.0}[v.sort] + 1e-9
            if v.sort == "limit" and v.about == "supply high":
                edge = 0.95 + 1e-9  # a load's own rating
            broken = v.used > 1 + 1e-9 and v.sort != "practice"
            wanted = "fails" if broken else "tight" if v.used_worst > edge else "fits"
            self.assertEqual(v.standing, "told" if v.ask else wanted, v.id)
            self.assertAlmostEqual(v.used, share(v.nominal, v.limit, v.sense))

    def test_readings_come_in_probes_a_person_can_find(self) -> None:
        alternating = [d for d in every_design() if d.supply.ac]
        for design in [d for d in every_design() if not d.supply.ac][::4] + alternating[:1]:
            for expected in expectations(study(design)):
                self.assertLessEqual(expected.low, expected.nominal + 1e-9)
                self.assertGreaterEqual(expected.high, expected.nominal - 1e-9)
                self.assertTrue(expected.probe.red and expected.probe.black)

    def test_windows_at_their_ends_use_the_whole_limit(self) -> None:
        """Oracle: the verdict that a bound names, judged with the value put on the bound: exactly full at the
        worst corner.
        """
        for design in (
            fan(),
            in_line(
                LogicPin(steady=20e-3),
                NpnLowSide(r_base=300.0, r_pull=4.7e3),
                Freewheel(),
                RelayCoil(),
                name="n",
            ),
            in_line(LogicPin(), NmosLowSide(r_pull=6800.0), LedLoad(), name="l"),
        ):
            for window in evaluate(study(design)).windows:
                for bound in (window.low, window.high, *window.others):
                    if bound is None or not 2 < bound.value < 1e7:
                        continue
                    at = changed(design, [(window.path, bound.value)])
                    found = verdict(at, bound.verdict)
                    with self.subTest(f"{window.ref} {bound.title}"):
                        self.assertAlmostEqual(share(found.worst, found.limit, found.sense), 1.0, delta=0.02)

    def test_what_a_window_suggests_fits_it(self) -> None:
        for window in evaluate(study(fan())).windows:
            assert window.low and window.high and window.suggested
            self.assertLessEqual(window.low.value, window.suggested)
            self.assertGreaterEqual(window.high.value, window.suggested)

    def test_an_empty_window_names_two_limits_and_offers(self) -> None:
        design = in_line(LogicPin(steady=4e-3), NpnLowSide(r_base=240.0), Freewheel(), RelayCoil(), name="n")
        base = next(w for w in with_offers(study(design)) if w.title == "base resistor")
        assert base.low and base.high and base.gap
        self.assertGreater(base.low.value, base.high.value)
        self.assertEqual({base.low.verdict, base.high.verdict}, {"pin_steady", "fully_on"})
        titles = " ".join(o.title for o in base.offers)
        for word in ("MOSFET", "load of"):
            self.assertIn(word, titles)

    def test_offers_with_changes_do_what_they_say(self) -> None:
        design = in_line(LogicPin(steady=4e-3), NpnLowSide(r_base=240.0), Freewheel(), RelayCoil(), name="n")
        for window in with_offers(study(design)):
            for offer in window.offers:
                if offer.changes:
                    after = changed(design, [(c.path, c.value) for c in offer.changes])
                    self.assertNotEqual(after, design)
        mosfet = next(o for w in with_offers(study(design)) for o in w.offers if "MOSFET" in o.title)
        after = changed(design, [(c.path, c.value) for c in mosfet.changes])
        self.assertIsInstance(after.blocks["b2"], NmosLowSide)
        self.assertEqual(after.set_aside["b2"]["npn_low_side"], design.blocks["b2"])
        self.assertNotIn("fails", {v.standing for v in study(after).verdicts if v.facet == "drive"})

    def test_good_practice_gives_way_where_nothing_else_fits(self) -> None:
        """Oracle: 8 mA of a 3.3 V pin saturate the weakest specimen at 166 mA, and do not overdrive it."""
        made = in_line(LogicPin(), NpnLowSide(r_base=390.0, r_pull=None), Freewheel(), RelayCoil(), name="n")
        base = next(w for w in study(made).windows if w.title == "base resistor")
        assert base.low and base.high
        self.assertEqual((base.low.verdict, base.high.verdict), ("pin_steady", "fully_on"))
        self.assertEqual((base.gap, base.standing), (None, "tight"))
        self.assertTrue(any(b.soft and b.value < base.low.value for b in base.others))
        strong = next(
            w for w in study(changed(made, [("blocks.b1.steady", 0.02)])).windows if w.part == "series"
        )
        assert strong.high
        self.assertEqual(strong.high.verdict, "overdrive")

    def test_values_come_from_what_was_chosen(self) -> None:
        """Oracle: the series themselves, and a drawer of one resistor."""
        for series in ("E12", "E24", "E96"):
            found = study(changed(fan(), [("series", series)]), DRAWER).windows
            for w in found:
                self.assertIn(
                    w.suggested, within(w.suggested, w.suggested, series) if w.suggested else [None]
                )
        own = ResistorCard(id="mine", title="330 Ω", value=330.0)
        few = Drawer({"mine": own}, {"mine": 4})
        windows = {w.part: w for w in study(changed(fan(), [("series", "drawer")]), few).windows}
        self.assertEqual((windows["series"].suggested, windows["pull"].suggested), (330.0, None))
        self.assertEqual([t.value for t in windows["pull"].ticks], [330.0][: len(windows["pull"].ticks)])


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
            waves = waves_of(study(design), script)
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
            peak = waves_of(study(design), script)["b2.drain"].max()
            self.assertLessEqual(peak, verdict(design, "peak").worst * 1.005)
            self.assertGreater(peak, verdict(design, "peak").nominal * 0.93)

    def test_gate_voltage_at_the_corner(self) -> None:
        design = fan()
        corner = Corner(supply=10.8, signal="min", resistors=0.0)
        point = operating_point(posed(design, "high", corner))
        self.assertAlmostEqual(point["b2.gate"], verdict(design, "fully_on").nominal, delta=2e-3)

    def test_gate_while_the_pin_boots(self) -> None:
        """Oracle: the coil's current in the simulated circuit, from nothing to all of it."""
        for pull in (6800.0, 20e3, 24e3, 27e3, 100e3):
            design = fan(r_pull=pull)
            point = operating_point(posed(design, "boot", Corner(supply=14.4, signal="max")))
            said = min(verdict(design, "boot").nominal, 14.4 / 96)
            self.assertAlmostEqual(point["i(K1)"], said, delta=0.01 * said + 1e-6)
        self.assertEqual(verdict(fan(r_pull=100e3), "boot").standing, "fails")
        self.assertEqual(verdict(fan(r_pull=6800.0), "boot").standing, "fits")

    def test_a_100k_pull_down_really_lets_the_fan_run_at_boot(self) -> None:
        corner = Corner(supply=12.6, signal="max", spread="min", celsius=40.0)
        on = operating_point(posed(fan(r_pull=100e3), "boot", corner))
        off = operating_point(posed(fan(r_pull=6800.0), "boot", corner))
        self.assertGreater(on["i(K1)"], 0.1)
        self.assertLess(off["i(K1)"], 1e-3)

    def test_pin_currents(self) -> None:
        design = in_line(LogicPin(), NpnLowSide(r_base=270.0), Freewheel(), RelayCoil(), name="n")
        point = operating_point(posed(design, "high", Corner(supply=14.4)))
        self.assertAlmostEqual(-point.current("P1", "out"), verdict(design, "pin_steady").nominal, delta=1e-4)

    def test_a_base_drive_right_at_minimum_gain_saturates_the_weakest(self) -> None:
        """The window's high end: at the worst corner, VCE stays at or under the card's saturation voltage."""
        design = in_line(
            LogicPin(steady=30e-3, burst=30e-3),
            NpnLowSide(r_base=230.0, r_pull=None),
            Freewheel(),
            RelayCoil(),
            name="n",
        )
        card = catalogue()["npn-40v-200ma"]
        corner = Corner(supply=14.4, spread="min", resistors=0.01, signal="min")
        point = operating_point(posed(design, "high", corner))
        self.assertLessEqual(point["b2.collector"], card.v_ce_sat * 1.25)  # type: ignore[union-attr]

    def test_switching_time_against_the_simulated_gate(self) -> None:
        """Oracle: the simulated drain falls within what the charge balance promises, and not ten times
        sooner.
        """
        design = fan(r_gate=4700.0)
        script = Script(title="on", stop=2e-3, events=(SetPin(at=1e-3, level="high"),))
        waves = waves_of(study(design), script)
        fallen = waves.time[(waves["b2.drain"] < 0.3) & (waves.time > 1e-3)][0] - 1e-3
        promised = verdict(design, "switching").nominal
        self.assertLess(fallen, promised)
        self.assertGreater(fallen, promised / 10)

    def test_heat(self) -> None:
        design = fan()
        point = operating_point(posed(design, "high", Corner(supply=14.4)))
        self.assertAlmostEqual(
            point.power("Q1"), verdict(design, "heat").nominal, delta=0.25 * verdict(design, "heat").nominal
        )


class Traps(unittest.TestCase):
    """Each builds the mistake and expects the verdict."""

    def stands(self, stages: tuple[Any, ...], name: str, standing: str, **supply: float) -> None:
        design = in_line(*stages, name="trap")
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
            (LogicPin(boot="floating"), NmosLowSide(r_pull=None), Freewheel(), RelayCoil()), "boot", "fails"
        )
        self.stands(
            (LogicPin(boot="pull-down"), NmosLowSide(r_pull=None), Freewheel(), RelayCoil()),
            "unplugged",
            "tight",
        )

    def test_base_drive_at_minimum_gain(self) -> None:
        for base, need, margin in (
            (1e3, "fails", "tight"),
            (470.0, "fits", "tight"),
            (150.0, "fits", "fits"),
        ):
            stages = (LogicPin(), NpnLowSide(r_base=base), Freewheel(), RelayCoil())
            self.stands(stages, "fully_on", need)
            self.stands(stages, "overdrive", margin)

    def test_what_nobody_asked_is_told(self) -> None:
        line = in_line(LogicPin(), NmosLowSide(), Freewheel(), RelayCoil(), name="Asked")
        told = verdict(line, "release")
        self.assertEqual((told.standing, told.margin), ("told", "10.9 ms"))
        assert told.ask is not None
        asked = verdict(changed(line, [(told.ask.path, told.ask.value)]), "release")
        self.assertEqual((asked.standing, asked.ask), ("tight", None))
        sooner = verdict(changed(line, [("blocks.b3.release_within", 0.01)]), "release")
        self.assertEqual(sooner.standing, "fails")

    def test_hot_coil_on_a_flat_battery(self) -> None:
        self.stands((LogicPin(), NmosLowSide(), Freewheel(), RelayCoil(hottest=85.0)), "pull_in", "fails")

    def test_coil_on_charge(self) -> None:
        self.stands((LogicPin(), NmosLowSide(), Freewheel(), RelayCoil()), "coil_max", "fails", high=16.0)

    def test_small_diode_under_a_big_coil(self) -> None:
        """14.4 V / 40 Ω·(cold) for a moment, against the surge rating; for good, against the steady one."""
        small = Freewheel(diode="diode-200ma-100v")
        for coil, surge, often in ((40.0, "fits", "tight"), (12.0, "fails", "tight"), (96.0, "fits", "fits")):
            line = (LogicPin(), NmosLowSide(), small, RelayCoil(resistance=coil))
            self.stands(line, "freewheel_current", surge)
            self.stands(line, "freewheel_often", often)

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
        """More than a strip carries is a matter of the plan: a step that keeps it off the board."""
        for ohms, heavy in ((6.0, True), (100.0, False)):
            heater = Resistive(resistance=ohms, power=50.0)
            made = in_line(LogicPin(), NmosLowSide(r_pull=6800.0), heater, name="Heavy")
            self.assertEqual("b2.heavy.place" in {s.id for s in steps(study(made))}, heavy)

    def test_shared_rules(self) -> None:
        self.assertEqual(worst_of(["fits", "tight", "fails"]), "fails")
        self.assertEqual(worst_of([]), "fits")
        self.assertEqual(time_to_rise(2.0, 1.0, 1.0), math.inf)
        self.assertAlmostEqual(time_to_rise(0.5, 1.0, 2.0), 2 * math.log(2))


class OtherLoads(unittest.TestCase):
    def design(self, load: object, drive: object = None) -> Design:
        return in_line(LogicPin(), drive or NmosLowSide(r_pull=6800.0), load, name="Lamp")  # type: ignore[arg-type]

    def test_a_lamps_current_against_the_simulated_filament(self) -> None:
        """Oracle: the filament's own heat balance, solved at each end of the supply."""
        lamp = LampLoad()
        for volts in (10.8, 14.4):
            design = self.design(lamp).model_copy(
                update={"supply": Supply(low=volts, typical=volts, high=volts, resistance=0.0)}
            )
            found = verdict(design, "switch_current")
            point = operating_point(posed(design, "high", Corner(supply=volts)))
            self.assertAlmostEqual(found.worst, point.current("E1", "a"), delta=0.02 * found.worst)

    def test_a_lamps_inrush_against_the_simulated_one(self) -> None:
        """Oracle: the rehearsal's peak current on a full supply."""
        design = self.design(LampLoad()).model_copy(
            update={"supply": Supply(low=14.4, typical=14.4, high=14.4, resistance=0.0)}
        )
        waves = waves_of(study(design), Script(stop=0.05, events=(SetPin(at=0.01, level="high"),)))
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
            point = operating_point(posed(design, "high", Corner(supply=volts)))
            nominal = verdict(design, "led_max").nominal
            self.assertAlmostEqual(nominal, point.current("R3", "a"), delta=0.03 * nominal)

    def test_led_current_over_the_limit_on_a_full_battery(self) -> None:
        self.assertEqual(verdict(self.design(LedLoad(r_series=560.0)), "led_max").standing, "fails")

    def test_a_string_too_long_for_a_low_battery(self) -> None:
        found = verdict(self.design(LedLoad(count=7, r_series=330.0)), "led_lights")
        self.assertEqual(found.standing, "fails")
        assert found.remedy is not None
        shorter = changed(
            self.design(LedLoad(count=7, r_series=330.0)), [(c.path, c.value) for c in found.remedy.changes]
        )
        self.assertLess(shorter.blocks["b3"].count, 7)  # type: ignore[attr-defined]
        self.assertEqual(verdict(shorter, "led_lights").standing, "fits")

    def test_a_motors_start_and_run_against_the_simulated_one(self) -> None:
        """Oracle: the armature's own equations; the inductance rounds the first peak off by less than a
        tenth.
        """
        supply = Supply(low=12.0, typical=12.0, high=12.0, resistance=0.0)
        design = in_line(
            LogicPin(),
            NmosLowSide(r_pull=6800.0),
            Freewheel(),
            MotorLoad(spin_up=0.3),
            name="Pump",
            supply=supply,
        )
        waves = waves_of(study(design), Script(stop=3.0, events=(SetPin(at=0.01, level="high"),)))
        self.assertAlmostEqual(verdict(design, "surge").worst, float(waves["i(M1)"].max()), delta=0.1 * 1.5)
        self.assertAlmostEqual(
            verdict(design, "switch_current").worst, float(waves["i(M1)"][-1]), delta=0.01 * 0.25
        )

    def test_a_measured_coil_does_not_prove_a_motor(self) -> None:
        """Oracle: what was measured is gone with the load that had it."""
        design = fan().model_copy(update={"origins": {"blocks.b4.resistance": "measured"}})
        self.assertEqual(evaluate(study(design)).facets[0].standing, "proven")
        motor = design.model_copy(update={"blocks": {**design.blocks, "b4": MotorLoad()}})
        self.assertNotEqual(evaluate(study(motor)).facets[0].standing, "proven")

    def test_a_motor_without_a_freewheel_part(self) -> None:
        design = in_line(
            LogicPin(), NpnLowSide(r_base=270.0), Freewheel(school="none"), MotorLoad(), name="Pump"
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
