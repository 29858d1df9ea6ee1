"""Documents: round trips, versions, refusals with the field named; and what evaluation and progress say."""

import unittest
from typing import Any

from hexlet_core.build.steps import steps
from hexlet_core.cards import Drawer
from hexlet_core.circuit.devices.pin import Pin
from hexlet_core.circuit.devices.source import VoltageSource
from hexlet_core.design.compare import differences, summary
from hexlet_core.design.document import Design, Supply, changed, in_line, read_design
from hexlet_core.design.evaluate import FACETS, evaluate
from hexlet_core.design.exchange import offers
from hexlet_core.design.script import Script, SetPin, SetSupply
from hexlet_core.design.starts import start
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError, EntryError, HexletError
from hexlet_core.fields import Q, read_json
from hexlet_core.prove.expect import expectations, judged
from hexlet_core.prove.progress import Taken, progress
from hexlet_core.rehearsal.lanes import thin
from hexlet_core.rehearsal.rehearse import rehearse
from hexlet_core.rehearsal.script import circuit, presets
from hexlet_core.stages.drawing import Pen
from hexlet_core.stages.drives.ac_bridge import AcBridge
from hexlet_core.stages.loads.ac_load import AcLoad
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.signals.logic_pin import LogicPin
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from .circuits import every_design, fan


def refused(data: Any) -> str:
    try:
        read_design(data)
    except DocumentError as error:
        return str(error)
    raise AssertionError("it was taken")


class Documents(unittest.TestCase):
    def test_round_trip(self) -> None:
        for design in every_design():
            self.assertEqual(read_design(read_json(design.model_dump_json())), design)

    def test_shorthand_is_taken_in_documents(self) -> None:
        self.assertEqual(
            getattr(changed(fan(), [("blocks.b2.r_gate", "4k7")]).blocks["b2"], "r_gate", 0), 4700.0
        )

    def test_broken_and_newer_are_refused_by_name(self) -> None:
        data = fan().model_dump(mode="json")
        self.assertIn("newer version: it says 3, this program reads up to 2", refused({**data, "version": 3}))
        self.assertIn("not a design", refused({**data, "format": "recipe"}))
        self.assertIn("not a design", refused([1, 2]))
        self.assertIn("blocks: This is missing", refused({k: v for k, v in data.items() if k != "blocks"}))
        self.assertIn("colour: There is no such field", refused({**data, "colour": "red"}))
        turned = [[b, a] for a, b in data["joins"]]
        self.assertIn("joins: b2.command is an input", refused({**data, "joins": turned}))
        crossed = [["b1.out", "b4.load"]]
        self.assertIn("b1.out gives a command, b4.load takes a load", refused({**data, "joins": crossed}))
        twice = [*data["joins"], ["b2.out", "b4.load"]]
        self.assertIn("b4.load is joined already", refused({**data, "joins": twice}))
        self.assertIn("rail: b1.out is no rail's output", refused({**data, "rail": "b1.out"}))

    def test_each_bad_value_is_named_at_its_field(self) -> None:
        for path, value, words in (
            ("blocks.b2.r_gate", "-470k", "Try 470 kΩ"),
            ("blocks.b2.r_gate", "0", "outside"),
            ("blocks.b2.r_gate", "", "Nothing was entered"),
            ("blocks.b2.r_gate", "1e400", "infinite"),
            ("blocks.b2.r_gate", "5 V", "Volts where ohms"),
            ("blocks.b1.level", "3k3 V", "Try 3.3 V"),
            ("blocks.b4.resistance", True, "A number or an entry"),
            ("blocks.b4.kind", "spaceship", "not one of the choices"),
            ("blocks.b10.r", 1, "no such field"),
        ):
            with self.subTest(path=path, value=value), self.assertRaises(DocumentError) as caught:
                changed(fan(), [(path, value)])
            text = str(caught.exception)
            self.assertIn(words, text)
            field = caught.exception.problems[0].field
            self.assertTrue(field.startswith("blocks"), field)
            self.assertNotIn("nmos_low_side", field)

    def test_contradictory_givens(self) -> None:
        with self.assertRaisesRegex(DocumentError, "rise from low to typical to high: 15, 12.6, 14.4"):
            changed(fan(), [("supply.low", 15.0)])
        with self.assertRaisesRegex(DocumentError, "burst limit is below"):
            changed(fan(), [("blocks.b1.burst", "1m")])

    def test_not_json(self) -> None:
        for text in ("{", b"\xff\xfe{", "[" * 100_000):
            with self.assertRaises(DocumentError):
                read_json(text)

    @given(
        st.recursive(
            st.none() | st.booleans() | st.floats() | st.text(max_size=8),
            lambda c: st.lists(c, max_size=4) | st.dictionaries(st.text(max_size=8), c, max_size=4),
            max_leaves=20,
        )
    )
    @settings(suppress_health_check=[HealthCheck.too_slow])
    def test_any_json_is_answered_or_refused(self, data: Any) -> None:
        for attempt in (
            data,
            {"format": "hexlet-design", "version": 1, "stages": data},
            {"format": "hexlet-design", "version": 2, "blocks": data, "joins": data},
            {**fan().model_dump(mode="json"), "supply": data},
        ):
            try:
                read_design(attempt)
            except HexletError as error:
                self.assertTrue(error.problems)

    def test_bounds_say_what_is_allowed(self) -> None:
        with self.assertRaises(EntryError) as caught:
            Q("V", 1.0, 15.0).check(3300.0, "3k3 V", "level")
        self.assertEqual(caught.exception.problem.suggestion, "3.3 V")
        self.assertEqual(caught.exception.problem.allowed, "1 V to 15 V")

    def test_differences_in_words(self) -> None:
        one, two = fan(), changed(fan(), [("blocks.b2.r_gate", 270.0), ("supply.low", 10.5)])
        found = {d.path: (d.mine, d.theirs) for d in differences(two, one)}
        self.assertEqual(found["blocks.b2.r_gate"], ("270", "220"))
        self.assertEqual(len(found), 2)
        self.assertEqual(summary(one, one), "No change")
        self.assertIn("and 1 more", summary(one, two))
        other = changed(one, [("blocks.b4", Resistive().model_dump(mode="json"))])
        self.assertIn("became resistive", summary(one, other))


class Evaluation(unittest.TestCase):
    def test_every_design_gets_an_answer(self) -> None:
        for design in every_design():
            found = evaluate(study(design))
            self.assertEqual([f.facet for f in found.facets], list(FACETS))
            self.assertEqual([o.in_use for o in found.loads].count(True), 1)
            self.assertTrue(found.sentences["drive"])
            for sentence in found.sentences.values():
                for word in sentence:
                    for path in getattr(word, "paths", ()):
                        changed(design, [(path, _value(design, path))])

    def test_remedies_mend_what_they_name(self) -> None:
        design = fan(r_pull=100e3)
        boot = next(v for v in evaluate(study(design)).verdicts if v.check == "boot")
        assert boot.remedy and boot.remedy.changes
        mended = changed(design, [(c.path, c.value) for c in boot.remedy.changes])
        self.assertNotEqual(
            next(v for v in evaluate(study(mended)).verdicts if v.check == "boot").standing, "fails"
        )
        bare = changed(fan(), [("blocks.b3.school", "none"), ("blocks.b2.card", "nmos-60v-300ma")])
        peak = next(v for v in evaluate(study(bare)).verdicts if v.check == "peak")
        assert peak.remedy and peak.remedy.changes
        self.assertNotEqual(
            next(
                v
                for v in evaluate(
                    study(changed(bare, [(c.path, c.value) for c in peak.remedy.changes]))
                ).verdicts
                if v.check == "peak"
            ).standing,
            "fails",
        )

    def test_a_card_that_is_not_there_is_named_and_stood_in_for(self) -> None:
        """Oracle: the design with the stand-in chosen, which the remedy leads to."""
        for wrong in ("nothing", "npn-40v-200ma"):  # unknown; of another kind
            here = study(changed(fan(), [("blocks.b2.card", wrong)]))
            told = next(v for v in here.verdicts if v.id == "b2.card_there")
            self.assertEqual(told.standing, "fails")
            assert told.remedy is not None
            mended = study(changed(here.design, [(c.path, c.value) for c in told.remedy.changes]))
            self.assertEqual(mended.design, fan())
            self.assertEqual(
                {v.id: v.worst for v in here.verdicts if v.id != told.id},
                {v.id: v.worst for v in mended.verdicts},
            )

    def test_choosing_back_brings_the_old_values(self) -> None:
        design = fan()
        there = changed(
            design,
            [
                (c.path, c.value)
                for s in offers(study(design), "b2")
                if s.kind == "npn_low_side"
                for c in s.changes
            ],
        )
        back = changed(
            there,
            [
                (c.path, c.value)
                for s in offers(study(there), "b2")
                if s.kind == "nmos_low_side"
                for c in s.changes
            ],
        )
        self.assertEqual(back.blocks, design.blocks)

    def test_cautions_stay_where_they_belong(self) -> None:
        self.assertIn("fuse", " ".join(evaluate(study(fan())).cautions))
        high = changed(fan(), [("supply.high", 80.0)])
        self.assertIn("licensed person", " ".join(evaluate(study(high)).cautions))
        self.assertEqual(steps(study(high)), ())

    def test_trade_holds_every_school(self) -> None:
        trade = evaluate(study(fan())).trade
        assert trade is not None
        by = {p.school: p for p in trade.points}
        self.assertGreater(by["schottky"].release, by["diode"].release)
        self.assertGreater(by["diode"].release, by["diode_zener"].release)
        self.assertGreater(by["diode_zener"].peak, by["diode"].peak)
        self.assertIsNone(
            evaluate(study(changed(fan(), [("blocks.b4", Resistive().model_dump(mode="json"))]))).trade
        )

    def test_starting_points_hold_up(self) -> None:
        for what in ("coil", "heater"):
            self.assertNotEqual(evaluate(study(start(what))).standing, "fails")  # type: ignore[arg-type]

    def test_wires_run_straight(self) -> None:
        with self.assertRaises(ValueError):
            Pen().wire((0, 0), (1, 1))


def _value(design: Design, path: str) -> Any:
    data: Any = design.model_dump(mode="json")
    for step in path.split("."):
        data = data[int(step)] if isinstance(data, list) else data[step]
    return data


class Rehearsing(unittest.TestCase):
    def test_presets_run_and_marks_are_measured(self) -> None:
        for script in presets(study(fan())):
            found = rehearse(study(fan()), script)
            self.assertEqual(
                {lane.id for lane in found.lanes},
                {"b1.pin", "s.plus", "b4.current", "b2.drain", "b4.contact", "b2.gate"},
            )
            self.assertEqual(found.events[0], 0.0)
        text = " ".join(m.text for m in rehearse(study(fan())).marks)
        for word in ("closes", "lets go", "peak"):
            self.assertIn(word, text)

    def test_conducting_is_when_current_flows(self) -> None:
        """Oracle: with the pin low nothing conducts but what leaks; the diode only after switch-off."""
        spells = {c.ref: c.spans for c in rehearse(study(fan())).conducting}
        self.assertTrue(all(begin >= 0.0099 for begin, _ in spells["Q1"]))
        # The gate's edge lifts the drain through the Miller capacitance for some nanoseconds: that is real.
        self.assertTrue(all(begin >= 0.0919 for begin, end in spells["D1"] if end - begin > 1e-6))
        self.assertTrue(spells["M1"])

    def test_the_circuit_follows_the_script(self) -> None:
        script = Script(
            title="x",
            stop=0.1,
            start_volts=14.4,
            events=(
                SetPin(at=0.0, level="boot"),
                SetSupply(at=0.02, volts=10.8),
                SetPin(at=0.01, level="high"),
                SetPin(who="b1", at=0.05, level="idle"),
            ),
        )
        devices = {d.name: d for d in circuit(study(fan()), script).devices}
        pin, battery = devices["P1"], devices["BAT"]
        assert isinstance(pin, Pin) and isinstance(battery, VoltageSource)
        self.assertEqual([s.time for s in pin.steps], [0.0, 0.01, 0.05])
        self.assertEqual([s.resistance for s in pin.steps], [45e3, 25.0, 25.0])
        self.assertEqual(battery.points, [(0.0, 14.4), (0.02, 14.4), (0.021, 10.8)])
        with self.assertRaisesRegex(DocumentError, r"events\[0\].who: There is nothing of that name"):
            circuit(study(fan()), Script(events=(SetPin(who="S9", at=0.0, level="high"),)))

    def test_thinning_keeps_the_curve(self) -> None:
        """Oracle: the full curve; the kept points, joined straight, stay within the promised share of its
        range.
        """
        import numpy as np

        t = np.linspace(0, 1, 2000)
        v = np.exp(-5 * t) * np.sin(30 * t)
        k = thin(t, v)
        self.assertLess(len(k), 200)
        self.assertLess(np.abs(np.interp(t, t[k], v[k]) - v).max(), np.ptp(v) / 400 * 1.01)


class Proving(unittest.TestCase):
    def test_the_meter_loads_what_it_reads(self) -> None:
        """Oracle: a 1 MΩ node divides with a 1 MΩ meter."""
        design = changed(fan(r_pull=1e6), [("meter.resistance", 1e6), ("blocks.b2.r_gate", 1e6)])
        gate = next(e for e in expectations(study(design)) if e.id == "b2.gate.active")
        self.assertAlmostEqual(gate.nominal, 3.3 * 0.5 / 1.5, delta=0.02)

    def test_bands_follow_the_supply_read(self) -> None:
        low = next(e for e in expectations(study(fan()), supply=11.0) if e.id == "b2.drain.idle")
        self.assertAlmostEqual(low.nominal, 11.0, delta=0.01)
        current = next(e for e in expectations(study(fan()), supply=11.0) if e.id == "b4.coil_current.active")
        # The closed contact's load, 12 V at 1 A, shares the battery's 0.05 Ω with the coil.
        at_coil = 11.0 / (1 + 0.05 * (1 / 96.1 + 1 / 12.05))
        self.assertAlmostEqual(current.nominal, at_coil / (96 + 0.05), delta=1e-4)

    def test_judgement(self) -> None:
        band = next(e for e in expectations(study(fan())) if e.id == "b2.drain.active")
        self.assertEqual(judged(band, band.nominal).standing, "inside")
        self.assertEqual(judged(band, 1.84).standing, "outside")
        self.assertIn("over", judged(band, 1.84).text)
        self.assertEqual(judged(band, None, over_range=True).text, "over range")
        drain = next(e for e in expectations(study(fan())) if e.id == "b2.drain.idle")
        self.assertIn("under", judged(drain, 3.0).text)

    def test_progress_counts_and_says_what_is_next(self) -> None:
        design = fan()
        plan, ladder, found = steps(study(design)), expectations(study(design)), evaluate(study(design))
        none = progress(found, plan, (), ladder, {})
        self.assertEqual((none.built, none.inside, none.left, none.next_facet), (0, 0, len(ladder), "build"))
        done = [s.id for s in plan]
        self.assertEqual(progress(found, plan, done, ladder, {}).next_facet, "prove")
        good = {e.id: Taken(value=e.nominal) for e in ladder}
        whole = progress(found, plan, done, ladder, good)
        standings = {f.facet: f.standing for f in whole.facets}
        self.assertEqual((standings["build"], standings["prove"]), ("proven", "proven"))
        bad = progress(found, plan, done, ladder, {**good, "b2.drain.active": Taken(value=1.84)})
        self.assertEqual((bad.outside, bad.next_do), (1, "Read it again"))
        skipped = progress(found, plan, done, ladder, {**good, "b2.drain.active": Taken(skipped=True)})
        self.assertEqual((skipped.left, skipped.outside), (1, 0))
        broken = fan(r_pull=100e3)
        self.assertEqual(progress(evaluate(study(broken)), plan, (), ladder, {}).next_facet, "drive")


class Building(unittest.TestCase):
    def test_steps_are_in_an_order_that_works(self) -> None:
        for design in every_design():
            plan = steps(study(design))
            ids = [s.id for s in plan]
            self.assertEqual(len(set(ids)), len(ids))
            placed: set[str] = set()
            for step in plan:
                if step.action == "place" and step.part:
                    placed.add(step.part)
                if step.action == "check":
                    self.assertTrue(step.expect, step.id)
            self.assertEqual(placed, {p.ref for p in study(design).parts if p.on_board})
            powered = ids.index("ac_power" if design.supply.ac else "current_limit")
            self.assertLess(max((k for k, s in enumerate(plan) if s.action == "place"), default=-1), powered)
            if "b3.diode.place" in ids and "b4.relay.place" in ids:
                self.assertLess(ids.index("b3.diode.place"), ids.index("b4.relay.place"))

    def test_nothing_is_built_above_the_wall(self) -> None:
        """Oracle: 30 V AC and 60 V DC, and the readings that would need a meter on that side."""
        bridge = in_line(
            LogicPin(),
            AcBridge(),
            AcLoad(volts=230.0),
            name="Wall",
            supply=Supply(kind="transformer", low=200, typical=230, high=253),
        )
        self.assertEqual(steps(study(bridge)), ())
        wall = evaluate(study(bridge)).wall
        assert wall is not None
        self.assertTrue(wall.above)
        self.assertIn("licensed person", " ".join(wall.says))
        contact = changed(fan(), [("blocks.b4.contact_supply", "AC"), ("blocks.b4.contact_volts", 230.0)])
        self.assertNotIn("b4.contact", [s.id for s in steps(study(contact))])
        self.assertIn("licensed person", " ".join(evaluate(study(contact)).cautions))

    def test_parts_know_the_drawer(self) -> None:
        parts = study(fan(), Drawer(stock={"nmos-55v-5a-logic": 6})).parts
        self.assertEqual(next(p for p in parts if p.ref == "Q1").stock, 6)
        self.assertEqual(next(p for p in parts if p.ref == "D1").stock, 0)
