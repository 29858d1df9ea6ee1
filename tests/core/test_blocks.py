"""A design is blocks and joins: ids, ports, facts along joins, nets, upgrades, exchanging, inserting and
removing.
"""

import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from threading import Barrier
from typing import Any
from unittest.mock import patch

from hexlet_core.build.steps import steps
from hexlet_core.cards import Drawer
from hexlet_core.circuit.solve import operating_point
from hexlet_core.design.document import VERSION, Design, changed, in_line, read_design
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.exchange import choices, guards, offers
from hexlet_core.design.flow import End, Flow
from hexlet_core.design.insert import inserted, removed
from hexlet_core.design.script import Script
from hexlet_core.design.study import Study, study
from hexlet_core.design.upgrades import UPGRADES
from hexlet_core.errors import DocumentError
from hexlet_core.fields import read_json
from hexlet_core.prove.expect import expectations
from hexlet_core.rehearsal.script import circuit
from hexlet_core.stages.contract import Corner, Fact
from hexlet_core.stages.drawing import connections, drawn_part
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.guards.fuse import Fuse
from hexlet_core.stages.guards.switch_snubber import SwitchSnubber
from hexlet_core.stages.loads.lamp import LampLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.registry import KINDS, kind_name, of_role
from hexlet_core.stages.signals.logic_pin import LogicPin

from .circuits import acts, every_design, fan, refs, verdicts

FIXTURES = Path(__file__).with_name("fixtures")
TOLD_APART = {"back_current"}  # judged by what flows, which the rail's own resistance now counts in


def kept(name: str) -> Any:
    return read_json((FIXTURES / name).read_text("utf-8"))


RELIMITED = ("peak", "surge", "freewheel_current")  # judged against another rating since


class Upgrades(unittest.TestCase):
    """Oracle: the verdicts that the program of version 1 gave of the same document, kept beside it."""

    def test_every_older_version_has_a_fixture(self) -> None:
        self.assertEqual(sorted(UPGRADES), list(range(1, VERSION)))
        for version in UPGRADES:
            self.assertTrue(list(FIXTURES.glob(f"version_{version}_*.json")))

    def test_an_old_design_means_what_it_meant(self) -> None:
        for name in ("version_1_fan.json", "version_1_camera.json"):
            made = kept(name)
            found = verdicts(read_design(made["document"]))
            limits = {c: v.limit for c, v in found.items() if v.sort == "limit"}
            same = [c for c in limits.keys() & made["verdicts"].keys() if c not in RELIMITED]
            self.assertGreater(len(same), 5)
            for check in same:
                with self.subTest(f"{name} {check}"):
                    limit = made["verdicts"][check][3]
                    self.assertAlmostEqual(limits[check], limit, delta=0.01 * abs(limit) + 1e-12)

    def test_what_was_known_by_place_is_known_by_id(self) -> None:
        found = read_design(kept("version_1_fan.json")["document"])
        self.assertEqual(found.origins, {"blocks.b4.resistance": "measured"})
        self.assertEqual(found.rated, {"blocks.b4.resistance": 100.0})
        self.assertEqual(set(found.set_aside["b2"]), {"npn_low_side"})
        (lost,) = [b for b, kept in found.set_aside.items() if "fuse" in kept]
        self.assertNotIn(lost, found.blocks)
        again = read_design(read_json(found.model_dump_json()))
        self.assertEqual(again, found)

    def test_an_old_design_with_a_fault_is_refused_at_its_field(self) -> None:
        data = kept("version_1_fan.json")["document"]
        data["stages"][1]["r_gate"] = "-470k"
        with self.assertRaisesRegex(DocumentError, r"blocks.b2.r_gate: .*Try 470 kΩ"):
            read_design(data)


class KeptApart(unittest.TestCase):
    """Any guard inserted or removed: no other block's values, origins, references, steps or
    readings change.
    """

    def test_inserting_a_fuse_leaves_everything_else_alone(self) -> None:
        made = fan().model_copy(update={"origins": {"blocks.b4.resistance": "measured"}})
        for guard in guards(study(made)):
            if guard.in_use:
                continue
            after = changed(made, [(c.path, c.value) for c in guard.changes])
            with self.subTest(guard.kind):
                self.assertEqual({k: after.blocks[k] for k in made.blocks}, made.blocks)
                self.assertEqual(after.origins, made.origins)
                self.assertEqual(refs(made), {k: refs(after)[k] for k in refs(made)} | _doubled(made, after))
                mine = [s.id for s in steps(study(made))]
                self.assertEqual([s.id for s in steps(study(after)) if s.id in mine], mine)
                self.assertLessEqual(
                    {e.id for e in expectations(study(made))}, {e.id for e in expectations(study(after))}
                )

    def test_out_and_in_again_is_where_it_was(self) -> None:
        made = in_line(
            LogicPin(), NpnLowSide(r_base=270.0), Fuse(wire=3.0), Freewheel(), SwitchSnubber(), RelayCoil()
        )
        for block in made.of_role("guard"):
            out = removed(made, block)
            self.assertFalse(study(out).open)
            back = inserted(out, type(made.blocks[block]), "b6")
            assert back is not None
            self.assertEqual(back.blocks[block], made.blocks[block])
            self.assertEqual(set(back.blocks), set(made.blocks))

    def test_any_kind_stands_twice(self) -> None:
        """Oracle: two of everything on one design read back from its drawing, and no id is said twice."""
        for kind in of_role("guard"):
            made = inserted(fan(), kind, "b4")
            twice = inserted(made, kind, "b4") if made is not None else None
            if twice is None or made is None:
                continue
            here = Study(twice, Drawer())
            with self.subTest(kind_name(kind)):
                self.assertEqual(len(twice.blocks), 6)
                ids = [v.id for v in here.verdicts]
                self.assertEqual(len(set(ids)), len(ids))
                self.assertEqual(connections(here.drawing), drawn_part(here.netlist(Corner(supply=12.6))))
                nets = {n for d in here.netlist(Corner(supply=12.6)).devices for n in d.nodes().values()}
                self.assertEqual({n for n in nets if n.startswith(("b5.", "b6."))} & _before(fan()), set())


def _doubled(made: Design, after: Design) -> dict[str, str]:
    """Local names that the new block has too stand for the newer part."""
    new = {p.local for b in set(after.blocks) - set(made.blocks) for p in study(after).flow.parts(b)}
    return {k: v for k, v in refs(made).items() if k in new}


def _before(made: Design) -> set[str]:
    return {n for d in study(made).netlist(Corner(supply=12.6)).devices for n in d.nodes().values()}


class Channels(unittest.TestCase):
    """Several drives, several loads, side by side on one supply."""

    def two(self) -> Design:
        one = fan()
        blocks = dict(one.blocks) | {
            "b5": LogicPin(),
            "b6": NpnLowSide(r_base=270.0),
            "b7": LampLoad(watts=1.0),
        }
        joins = (*one.joins, ("b5.out", "b6.command"), ("b6.out", "b7.load"))
        return one.model_copy(update={"blocks": blocks, "joins": joins})

    def test_each_is_judged_as_if_alone(self) -> None:
        """Oracle: the verdicts of the two designs by themselves."""
        both = {v.id: v for v in study(self.two()).verdicts}
        for alone, shift in (
            (fan(), 0),
            (in_line(LogicPin(), NpnLowSide(r_base=270.0), LampLoad(watts=1.0)), 4),
        ):
            for v in study(alone).verdicts:
                if v.block:
                    other = both[f"b{int(v.block[1:]) + shift}.{v.check}"]
                    self.assertEqual(
                        (v.nominal, v.worst, v.limit), (other.nominal, other.worst, other.limit), v.id
                    )

    def test_the_circuit_is_both(self) -> None:
        here = study(self.two())
        point = operating_point(here.acted(Corner(supply=12.6), [*acts(self.two(), "high")]))
        self.assertGreater(point.current("K1", "a"), 0.12)
        self.assertLess(abs(point.current("E1", "a")), 1e-4)
        self.assertEqual(connections(here.drawing), drawn_part(here.netlist(Corner(supply=12.6))))
        self.assertEqual(len(expectations(here)), len(expectations(study(fan()))) + 6)

    def test_loads_side_by_side_add(self) -> None:
        """Oracle: Ohm's law for two resistors on one switch."""
        one = in_line(LogicPin(), NpnLowSide(r_base=100.0), Resistive(resistance=100.0))
        both = one.model_copy(
            update={
                "blocks": dict(one.blocks) | {"b4": Resistive(resistance=200.0)},
                "joins": (*one.joins, ("b2.out", "b4.load")),
            }
        )
        self.assertAlmostEqual(verdicts(both)["switch_current"].worst, 14.4 / 100 + 14.4 / 200)


class Unfinished(unittest.TestCase):
    def test_an_open_port_is_listed_and_only_what_needs_it_waits(self) -> None:
        made = fan()
        loose = made.model_copy(update={"joins": tuple(j for j in made.joins if j[1] != "b2.command")})
        found = evaluate(study(loose))
        self.assertEqual([o.port for o in found.open], ["b1.out", "b2.command"])
        self.assertIn("waits for a signal", found.open[1].text)
        self.assertNotIn("fully_on", {v.check for v in found.verdicts})
        self.assertEqual((steps(study(loose)), expectations(study(loose))), ((), ()))
        with self.assertRaisesRegex(DocumentError, "b1.out: Nothing is joined here yet"):
            circuit(study(loose), Script())

    def test_every_kind_alone_is_an_answer(self) -> None:
        for kind in KINDS:
            with self.subTest(kind_name(kind)):
                found = evaluate(study(Design(blocks={"b1": kind()})))
                self.assertEqual(len(found.flow.blocks), 1)

    def test_joins_without_sense_are_refused_in_words(self) -> None:
        bare = in_line(LogicPin(), NpnLowSide(), RelayCoil())
        made = inserted(bare, next(k for k in KINDS if kind_name(k) == "back_feed"), "b3")
        assert made is not None
        self.assertFalse(study(made).problems)
        wrong = changed(made, [("blocks.b4.line", "upper")])
        self.assertIn("the diode belongs beside it", str(study(wrong).problems[0]))


class Exchanging(unittest.TestCase):
    def test_every_choice_is_whole_and_can_be_taken_back(self) -> None:
        for made in every_design()[::12]:
            for block in made.blocks:
                for choice in choices(made, block):
                    if choice.in_use:
                        continue
                    after = changed(made, [(c.path, c.value) for c in choice.changes])
                    self.assertEqual(set(after.blocks), set(made.blocks))
                    self.assertEqual(
                        after.set_aside[block][kind_name(type(made.blocks[block]))], made.blocks[block]
                    )

    def test_offers_are_judged_in_the_design(self) -> None:
        made = fan()
        for offer in offers(study(made), "b2"):
            after = made if offer.in_use else changed(made, [(c.path, c.value) for c in offer.changes])
            own = [
                v for v in study(after).verdicts if v.block == "b2" or v.facet == "load" or v.about == "peak"
            ]
            fails = any(v.standing == "fails" for v in own)
            self.assertEqual(offer.standing == "fails", fails, offer.kind)
            self.assertTrue(offer.note and offer.costs)

    def test_a_study_is_the_same_object_for_the_same_content(self) -> None:
        self.assertIs(study(fan()), study(fan()))
        self.assertIsNot(study(fan()), study(fan(), Drawer(stock={"npn-60v-1a": 1})))

    def test_two_may_ask_a_design_at_once(self) -> None:
        """Oracle: what each is told is what one alone is told; neither takes the other for a ring."""
        both, told = Barrier(2), Flow._stated

        def met(flow: Flow, end: End) -> Fact | None:
            if end == ("b1", "out"):
                both.wait(timeout=5)
            return told(flow, end)

        flow = Flow(fan(), Drawer())
        with patch.object(Flow, "_stated", met), ThreadPoolExecutor(2) as pool:
            facts = list(pool.map(flow.leaving, [("b1", "out")] * 2))
        self.assertEqual(facts, [Flow(fan(), Drawer()).leaving(("b1", "out"))] * 2)
