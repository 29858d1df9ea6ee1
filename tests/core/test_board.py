"""Board plans: the netlist read back from every one is the design's, by an independent reading of metal."""

import csv
import io
import itertools
import json
import random
import subprocess
import sys
import tempfile
import unittest
from functools import cache
from pathlib import Path

import numpy as np
from hexlet_core.build.boards import ACROSS, OWNED, Bench, Board, Seat
from hexlet_core.build.bodies import BoardPart, Leg, Wanted, wanted
from hexlet_core.build.buying import shopping, substitutes
from hexlet_core.build.greedy import Full, boards_for, first_plan
from hexlet_core.build.joined import Pieces
from hexlet_core.build.keeping import carried
from hexlet_core.build.layout import BoardPlan, BoardWire, read_plan
from hexlet_core.build.lying import names
from hexlet_core.build.mistakes import Mistake, as_built, mistakes
from hexlet_core.build.moving import moved, unpinned
from hexlet_core.build.planner import Planner, planned
from hexlet_core.build.proof import cells, proof
from hexlet_core.build.repeated import repeated
from hexlet_core.build.rough import Ground
from hexlet_core.build.rows import seated
from hexlet_core.build.sheet import sheet
from hexlet_core.build.standins import _seen
from hexlet_core.build.steps import steps
from hexlet_core.build.view import PlanStep, fits, viewed
from hexlet_core.cards import Drawer, catalogue, resistor_cards
from hexlet_core.circuit.solve import operating_point
from hexlet_core.design.circuit import acted
from hexlet_core.design.document import Design, Supply, changed, in_line
from hexlet_core.design.insert import exchanged
from hexlet_core.design.starts import chain_selector
from hexlet_core.design.study import Study, study
from hexlet_core.errors import DocumentError
from hexlet_core.formats.board import board_svg
from hexlet_core.formats.tables import shopping_csv
from hexlet_core.quantity import show
from hexlet_core.stages.behaviours.one_shot import OneShot
from hexlet_core.stages.contract import Corner, Switch
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.drives.straight import Straight
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.registry import KINDS
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from .circuits import every_design, fan, whole

LIGHT = (PushButton(to="zero"), OneShot(), NmosLowSide(r_pull=100e3), LedLoad(count=3))
ROOT = Path(__file__).resolve().parents[2]


def light() -> Study:
    return study(whole(LIGHT))


def first(here: Study, owned: tuple[Board, ...] = OWNED) -> BoardPlan:
    """The plan that is found at once."""
    what = wanted(here)
    ground, rough = boards_for(what, owned)
    plan = seated(rough, what, ground)
    assert plan is not None
    return plan


@cache
def best(name: str) -> PlanStep:
    """The planner's last word on a design."""
    here = {"fan": study(fan()), "light": light()}[name]
    *_, last = planned(here)
    return last


def best_plan(name: str) -> BoardPlan:
    view = best(name).view
    assert view is not None
    return view.plan


def wrong_nets(plan: BoardPlan, what: Wanted) -> set[str]:
    """The nets that a plan gets wrong, by connected components of a graph of seats: another method than the
    proof's, on another graph.
    """
    names: dict[tuple[object, ...], int] = {}

    def node(*key: object) -> int:
        return names.setdefault(key, len(names))

    def seat(s: Seat) -> int:
        if s.rail:
            half = (
                plan.boards[s.board - 1].rails == "split"
                and s.column > plan.boards[s.board - 1].positions // 2
            )
            return node("rail", s.board, s.rail, s.row[1:], half)
        return node("strip", s.board, s.column, s.row in "abcde")

    edges = [(seat(w.a), seat(w.b)) for w in plan.links]
    legs = [(p.part, x.leg, seat(x.seat)) for p in plan.placings for x in p.legs]
    for p in plan.placings:
        if p.shape == "button":
            edges += [(seat(p.legs[k].seat), seat(p.legs[k + 1].seat)) for k in (0, 2)]
        if p.shape == "leads":
            edges += [(node("leg", p.part, x.leg), seat(x.seat)) for x in p.legs]
    for m in plan.meetings:
        for end in m.ends:
            edges.append((node("leg", m.ends[0].part, m.ends[0].leg), node("leg", end.part, end.leg)))
            legs.append((end.part, end.leg, node("leg", end.part, end.leg)))
    for sign, net in what.rails.items():
        legs += [("rail", net, k) for key, k in names.items() if key[0] == "rail" and key[2] == sign]
    a, b = zip(*edges, strict=True) if edges else ((), ())
    graph = coo_array((np.ones(len(a)), (a, b)), shape=(len(names), len(names)))
    _, of = connected_components(graph, directed=False)
    return _mixed([(part, leg, int(of[at])) for part, leg, at in legs], what)


def _mixed(legs: list[tuple[str, str, int]], what: Wanted) -> set[str]:
    """The nets that are in several components, or share one."""
    net_of = {(b.key, leg.name): leg.net or f"{b.key}.{leg.name}" for b in what.bodies for leg in b.legs}
    net_of |= {end: joint.net for joint in what.joints for end in joint.ends}
    net_of |= {("rail", net): net for net in what.rails.values()}
    pieces: dict[str, set[int]] = {}
    nets: dict[int, set[str]] = {}
    for part, leg, at in legs:
        net = net_of[part, leg]
        pieces.setdefault(net, set()).add(at)
        nets.setdefault(at, set()).add(net)
    wrong = {net for net, found in pieces.items() if len(found) > 1}
    return wrong | {n for found in nets.values() if len(found) > 1 for n in found}


def told_wrong(plan: BoardPlan, what: Wanted) -> set[str]:
    """The nets that the proof names."""
    found = {n for f in proof(plan, what) if f.electrical for n in f.nets}
    return {n.removesuffix(" unconnected") for n in found}


def covering() -> list[Design]:
    """Few designs of all in which every kind stands, and beside every kind that it ever stands beside."""
    pairs: list[tuple[Design, set[tuple[str, str]]]] = []
    for made in every_design():
        kinds = sorted(type(s).__name__ for s in made.blocks.values())
        pairs.append((made, set(itertools.combinations_with_replacement(kinds, 2))))
    left = set().union(*(own for _, own in pairs))
    found = []
    for made, own in sorted(pairs, key=lambda p: -len(p[1])):
        if own & left:
            left -= own
            found.append(made)
    return found


class Planned(unittest.TestCase):
    def test_every_kind_beside_every_other_plans_and_proves(self) -> None:
        """Oracle: the design's own netlist, read back by the proof and by connected components."""
        seen = {Straight.__name__}  # a signal straight to a load touches no board
        for made in covering():
            here = study(made)
            what = wanted(here)
            self.assertEqual(what.problems, ())
            if not what.bodies:
                self.assertTrue(here.open or made.supply.walled or what.joints)
                continue
            seen |= {type(s).__name__ for s in made.blocks.values()}
            plan = first(here)
            with self.subTest([type(s).__name__ for s in made.blocks.values()]):
                self.assertEqual(proof(plan, what), ())
                self.assertEqual(wrong_nets(plan, what), set())
                self.assertTrue(fits(plan, what))
        self.assertEqual(seen, {k.__name__ for k in KINDS})

    def test_small_boards_reach_their_bound_and_the_same_plan_twice(self) -> None:
        """Oracle: the solver's own bound; and a second run."""
        for name in ("fan", "light"):
            last = best(name)
            assert last.view is not None
            self.assertEqual((last.view.findings, last.links), ((), last.bound), last.says)
            self.assertEqual(len(last.view.plan.links), last.links)
        *_, again = planned(study(fan()))
        self.assertEqual(again, best("fan"))

    def test_channels_are_laid_out_alike(self) -> None:
        """Oracle: the seats of one channel against those of the next: all are so many positions on."""
        here = study(chain_selector(Resistive(), Resistive()))
        *_, last = planned(here)
        assert last.view is not None
        self.assertEqual(last.view.findings, ())
        (channels,) = repeated(here, wanted(here).bodies)
        shifts, placed = set(), last.view.plan.of
        for one, two in zip(*channels, strict=True):
            for a, b in zip(placed[one].legs, placed[two].legs, strict=True):
                self.assertEqual(a.seat.row, b.seat.row)
                shifts.add(b.seat.column - a.seat.column)
        self.assertEqual(len(shifts), 1)
        self.assertIn("channels alike", last.says)

    def test_a_large_board_is_bettered_by_the_dozen(self) -> None:
        """Oracle: the proof, and fewer wires than the first plan has, by a third at least."""
        made = next(d for d in every_design() if 40 < sum(p.on_board for p in study(d).parts) < 60)
        planner = Planner(study(made))
        planner.alike = ()
        found = list(planner.steps())
        begun, last = found[0], found[-1]
        assert last.view is not None
        self.assertEqual(last.view.findings, ())
        self.assertLess(last.links, 0.67 * begun.links)

    def test_as_few_wires_as_a_circuit_can_have(self) -> None:
        """Oracle: by hand. Two resistors in a row from rail to rail need no wire; a transistor whose emitter
        is on 0 V needs one from its strip to the rail; a chip's two pins on + need one each.
        """
        r = [
            BoardPart("b1.a", "R1", "b1", "resistor", "two", (Leg("a", "p"), Leg("b", "x"))),
            BoardPart("b1.b", "R2", "b1", "resistor", "two", (Leg("a", "x"), Leg("b", "0"))),
        ]
        q = BoardPart("b1.q", "Q1", "b1", "npn", "inline", (Leg("e", "0"), Leg("b", "x"), Leg("c", "p")))
        nets = {"a": "p", "b": "p", "c": "x"}
        pins = tuple(Leg(n, nets.get(n, "")) for n in "abcdefgh")
        chip = BoardPart("b1.u", "U1", "b1", "timer", "chip", pins)
        for bodies, wires in ((r[:1], 0), (r, 1), ([r[0], q], 2), ([r[0], chip], 2)):
            what = Wanted(tuple(bodies), {"+": "p", "0": "0"})
            self.assertEqual(self._fewest(what), wires)

    @staticmethod
    def _fewest(what: Wanted) -> int:
        from hexlet_core.build.strips import Model
        from ortools.sat.python import cp_model

        model = Model(what, Ground((Board(),)))
        model.m.minimize(model.links)
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = 1
        assert solver.solve(model.m) == cp_model.OPTIMAL
        return int(solver.objective_value)

    def test_no_wire_is_needless_and_none_is_missing(self) -> None:
        """Oracle: a wire less leaves a net apart; one more joins two nets, or is needless."""
        what, plan = wanted(light()), best_plan("light")
        for k in range(len(plan.links)):
            less = plan.model_copy(update={"links": plan.links[:k] + plan.links[k + 1 :]})
            self.assertEqual({f.id for f in proof(less, what)}, {"apart"})
            self.assertEqual(told_wrong(less, what), {plan.links[k].net})
        free = [Seat(column=c, row="c") for c in range(1, 30)]
        taken = {(s.board, s.column, s.across) for p in plan.placings for s in (leg.seat for leg in p.legs)}
        ends = [s for s in free if (1, s.column, s.across) not in taken]
        for a, b in itertools.pairwise(ends):
            more = plan.model_copy(update={"links": (*plan.links, BoardWire(net="x", a=a, b=b))})
            self.assertEqual(told_wrong(more, what), wrong_nets(more, what))

    def test_more_than_a_strip_carries_stays_off(self) -> None:
        made = in_line(
            LogicPin(), NmosLowSide(r_pull=6800.0), Resistive(resistance=6.0, power=50.0), name="Hot"
        )
        here = study(made)
        what, plan = wanted(here), first(here)
        self.assertEqual(
            what.heavy, {"b2.switch", "b4.load"} & what.heavy | {"b2.switch", "b3.load"} & what.heavy
        )
        switch = plan.of["b2.switch"]
        self.assertEqual([leg.leg for leg in switch.legs], ["g"])
        self.assertIn("b2.drain", {m.net for m in plan.meetings})
        seats = [Seat.model_validate({"column": c, "row": "h"}) for c in (20, 21, 22)]
        legs = [{"leg": n, "net": "", "seat": s} for n, s in zip("gds", seats, strict=True)]
        on = switch.model_copy(
            update={"shape": "inline", "legs": tuple(type(switch.legs[0]).model_validate(x) for x in legs)}
        )
        left = plan.model_copy(
            update={"placings": tuple(on if p.part == "b2.switch" else p for p in plan.placings)}
        )
        self.assertIn("heavy", {f.id for f in proof(left, what)})

    def test_split_rails_and_a_second_board(self) -> None:
        """Oracle: the proof; and that a board too small for all is not the only one in use."""
        here = light()
        split = first(here, (Board(positions=30, rails="split"),))
        self.assertEqual(proof(split, wanted(here)), ())
        big = next(d for d in every_design() if sum(p.on_board for p in study(d).parts) > 40)
        plan = first(study(big), (Board(positions=30), Board(positions=30), Board(positions=30)))
        self.assertGreater(len(plan.boards), 1)
        self.assertEqual(proof(plan, wanted(study(big))), ())
        for placing in plan.placings:
            if placing.shape != "leads":
                self.assertEqual(len({leg.seat.board for leg in placing.legs}), 1)


class Moved(unittest.TestCase):
    def test_hand_edits_are_read_as_they_are(self) -> None:
        """Oracle: connected components of the seats. Random shifts, turns, single legs, several in a row."""
        rng = random.Random(5)
        what, plan = wanted(light()), best_plan("light")
        parts, wrong = [p.part for p in plan.placings], 0
        for _ in range(400):
            then = plan
            for _ in range(rng.choice((1, 1, 2, 4))):
                try:
                    then = moved(
                        then,
                        rng.choice(parts),
                        rng.randint(-3, 3),
                        rng.randint(-2, 2),
                        rng.choice((None, None, 0, 1)),
                        rng.random() < 0.3,
                    )
                except DocumentError:
                    continue
            self.assertEqual(told_wrong(then, what), wrong_nets(then, what))
            wrong += bool(told_wrong(then, what))
        self.assertGreater(wrong, 100)

    def test_what_lies_wrong_is_told(self) -> None:
        what, plan = wanted(study(fan())), best_plan("fan")
        part = plan.of["b2.series"]
        a = part.legs[0].seat

        def after(**how: object) -> set[str]:
            return {f.id for f in proof(moved(plan, "b2.series", **how), what)}  # type: ignore[arg-type]

        self.assertIn("reach", after(leg=0, along=9))
        on = next(p for p in plan.placings if p.part == "b2.pull").legs[0].seat
        self.assertIn(
            "taken",
            after(
                leg=0, along=on.column - a.column, rows=list(ACROSS).index(on.row) - list(ACROSS).index(a.row)
            ),
        )
        self.assertIn("one_strip", {f.id for f in proof(self._folded(plan), what)})
        with self.assertRaises(DocumentError) as beside:
            moved(plan, "b2.series", along=-30)
        self.assertIn("beside the board", str(beside.exception))
        for how in ({"part": "b9.none"}, {"part": "b2.series", "leg": 7}):
            with self.assertRaises(DocumentError):
                moved(plan, **how)  # type: ignore[arg-type]
        self.assertEqual(unpinned(moved(plan, "b2.series", along=1), "b2.series").pinned, ())

    @staticmethod
    def _folded(plan: BoardPlan) -> BoardPlan:
        """A resistor with both legs in one strip."""
        part = plan.of["b2.series"]
        seats = [Seat(column=20, row="a"), Seat(column=20, row="e")]
        legs = tuple(leg.model_copy(update={"seat": s}) for leg, s in zip(part.legs, seats, strict=True))
        then = part.model_copy(update={"legs": legs})
        return plan.model_copy(update={"placings": tuple(then if p is part else p for p in plan.placings)})

    def test_a_button_turned_is_the_same_button(self) -> None:
        """Oracle: a contact has no direction, so its two sides may be exchanged only where the nets are: the
        proof says which nets.
        """
        what, plan = wanted(light()), best_plan("light")
        then = moved(plan, "b1.contact", turned=True)
        self.assertEqual(told_wrong(then, what), wrong_nets(then, what))
        self.assertEqual(proof(moved(then, "b1.contact", turned=True), what), proof(plan, what))


class Kept(unittest.TestCase):
    def test_random_parts_stay_and_the_rest_is_planned_round_them(self) -> None:
        """Oracle: the proof, and the seats of what was kept. Pins in every combination must not make a plan
        that exists impossible.
        """
        rng, here, plan = random.Random(3), light(), best_plan("light")
        for _ in range(6):
            stay = {p.part for p in plan.placings if rng.random() < 0.6}
            part = plan.model_copy(
                update={"placings": tuple(p for p in plan.placings if p.part in stay), "links": ()}
            )
            *_, last = planned(here, OWNED, part, stay)
            assert last.view is not None
            self.assertEqual(last.view.findings, ())
            self.assertTrue(
                {p: s for p, s in _seats(plan).items() if p in stay}.items() <= _seats(last.view.plan).items()
            )

    def test_a_value_moves_nothing(self) -> None:
        plan = best_plan("fan")
        made = changed(fan(), [("blocks.b2.r_gate", 330.0)])
        *_, last = planned(study(made), OWNED, plan, plan.of)
        assert last.view is not None
        self.assertEqual((last.stage, _seats(last.view.plan)), ("kept", _seats(plan)))
        self.assertEqual(last.view.plan.of["b2.series"].label, "330")

    def test_another_kind_moves_only_what_must(self) -> None:
        """Oracle: the seats before; parts that both kinds have stay where they are."""
        plan = best_plan("fan")
        after = exchanged(fan(), "b2", NpnLowSide())
        *_, last = planned(study(after), OWNED, plan, plan.of)
        assert last.view is not None
        self.assertEqual(last.view.findings, ())
        was, now = _seats(plan), _seats(last.view.plan)
        same = {p for p in was if p in now and plan.of[p].kind == last.view.plan.of[p].kind}
        self.assertIn("b3.diode", same)
        self.assertEqual({p: now[p] for p in same}, {p: was[p] for p in same})

    def test_what_is_pinned_badly_moves_as_little_as_can_be(self) -> None:
        """Oracle: a part put where it breaks the circuit must move again, and no other built one does."""
        here, plan = study(fan()), best_plan("fan")
        across = plan.of["b3.diode"].legs[0].seat
        then = moved(plan, "b2.switch", along=0, rows=0, turned=True)
        self.assertTrue(told_wrong(then, wanted(here)))
        *_, last = planned(here, OWNED, then, [p for p in plan.of if p != "b2.switch"])
        assert last.view is not None
        self.assertEqual(last.view.findings, ())
        self.assertEqual(last.view.plan.of["b3.diode"].legs[0].seat, across)

    def test_what_is_built_is_moved_or_taken_out(self) -> None:
        """Oracle: by hand, a plan in which one part moved and one is gone, both of them built."""
        plan = best_plan("fan")
        done = {f"{p.part}.place" for p in plan.placings}
        new = moved(plan, "b2.series", along=12)
        gone = plan.of["b3.diode"]
        new = new.model_copy(update={"placings": tuple(p for p in new.placings if p is not gone)})
        then, undone = carried(plan, new, done)
        self.assertEqual(undone, {"b2.series.place", "b3.diode.place"})
        self.assertEqual(then.of["b2.series"].was, tuple(leg.seat for leg in plan.of["b2.series"].legs))
        self.assertEqual([p.part for p in then.out], ["b3.diode"])
        shown = {s.id: s for s in steps(study(fan()), then)}
        self.assertEqual((shown["b2.series.place"].action, shown["out.b3.diode"].action), ("move", "out"))
        self.assertIn("Move it from", shown["b2.series.place"].detail)
        back, again = carried(then, plan, done - undone)
        self.assertEqual((back.of["b2.series"].was, again), ((), frozenset()))


def _seats(plan: BoardPlan) -> dict[str, tuple[Seat, ...]]:
    return {p.part: tuple(leg.seat for leg in p.legs) for p in plan.placings}


class Refused(unittest.TestCase):
    def test_words_at_the_part(self) -> None:
        """A card without leg order, with a leg too few, and a chip that is too wide."""
        timer = catalogue()["timer-cmos"]
        for legs, word in (
            ((), "gives no leg order"),
            (("gnd", "trig", "out", "reset"), "not among the 4 legs"),
            (tuple(timer.legs) + tuple(f"x{k}" for k in range(16)), "does not straddle the gap"),
        ):
            own = timer.model_copy(update={"id": "my-timer", "legs": legs})
            drawer = Drawer(own={"my-timer": own})
            made = changed(whole(LIGHT), [("blocks.b2.card", "my-timer")])
            what = wanted(Study(made, drawer))
            self.assertEqual([p.field for p in what.problems], ["blocks.b2.card"])
            self.assertIn(word, what.problems[0].message)
            (only,) = planned(Study(made, drawer))
            self.assertEqual((only.view, only.problems), (None, what.problems))

    def test_too_much_for_the_boards(self) -> None:
        big = next(d for d in every_design() if sum(p.on_board for p in study(d).parts) > 60)
        (only,) = planned(study(big), (Board(positions=30),))
        self.assertIsNone(only.view)
        self.assertIn("finds no room", only.problems[0].message)
        with self.assertRaises(Full):
            first_plan(wanted(study(big)), Ground((Board(positions=30),)))

    def test_above_the_wall_there_is_none(self) -> None:
        high = changed(fan(), [("supply.high", 80.0), ("supply.typical", 75.0), ("supply.low", 70.0)])
        self.assertEqual(wanted(study(high)).bodies, ())
        (only,) = planned(study(high))
        self.assertIsNone(only.view)
        self.assertEqual(steps(study(high), best_plan("fan")), ())

    def test_a_broken_plan_is_named(self) -> None:
        data = json.loads(best_plan("fan").model_dump_json())
        data["placings"][0]["legs"][0]["seat"]["row"] = "z"
        with self.assertRaises(DocumentError) as told:
            read_plan(data)
        self.assertIn("placings", told.exception.problems[0].field)
        for shape, kind, legs in (
            ("two", "resistor", 3),
            ("two", "relay", 2),
            ("button", "button", 2),
            ("chip", "timer", 7),
        ):
            part = {"part": "b2.x", "ref": "X", "kind": kind, "shape": shape}
            seat = {"column": 3, "row": "a"}
            data = json.loads(best_plan("fan").model_dump_json())
            data["placings"][0] = part | {"legs": [{"leg": "a", "seat": seat}] * legs}
            with self.assertRaises(DocumentError, msg=shape) as told:
                read_plan(data)
            self.assertIn("placings", told.exception.problems[0].field)
        other = best_plan("light")
        self.assertIn("strange", {f.id for f in proof(other, wanted(study(fan())))})
        self.assertFalse(viewed(study(fan()), other).fits)
        small = best_plan("fan").model_copy(update={"boards": (Board(positions=30),)})
        far = moved(
            best_plan("fan").model_copy(update={"boards": (Board(positions=63),)}), "b2.series", along=40
        )
        lost = small.model_copy(update={"placings": far.placings})
        self.assertEqual({f.id for f in proof(lost, wanted(study(fan())))}, {"nowhere"})


class Shown(unittest.TestCase):
    def test_steps_name_every_seat_once(self) -> None:
        """Oracle: the plan's own legs and wires."""
        for name, here in (("fan", study(fan())), ("light", light())):
            plan = best_plan(name)
            found = steps(here, plan)
            ids = [s.id for s in found]
            self.assertEqual(len(set(ids)), len(ids))
            keys = [s.key for s in found if s.key and s.action != "check"]
            self.assertEqual(sorted(keys), sorted(p.part for p in plan.placings))
            self.assertEqual(
                sorted(s.wire for s in found if s.wire), sorted(f"w{k}" for k in range(len(plan.links)))
            )
            for s in found:
                for seat in s.seats:
                    self.assertIn(
                        seat.seat,
                        {x.seat.word for p in plan.placings for x in p.legs}
                        | {e.word for w in plan.links for e in (w.a, w.b)},
                    )

    def test_an_led_stands_in_for_the_load(self) -> None:
        """Oracle: Ohm's law on the LED's resistor, and the gate's divider by hand: 10k over 6k8 turns
        the MOSFET on at 12.6 V, 10k over 330 does not.
        """
        here = study(fan())
        check = next(s for s in steps(here, best_plan("fan")) if s.id == "b2.standin.check")
        self.assertEqual(check.expect, "lit: drain near 0 V; dark: 11.8 V")
        switch = here.flow.leaving(("b2", "out"))
        assert isinstance(switch, Switch)
        site = here.flow.sites["b2"]
        lit = _seen(here, site, switch, "b2.drain", "b1.pin", "high")
        self.assertAlmostEqual(lit.amps, (12.6 - 1.85) / 2200, delta=2e-4)
        weak = study(fan(r_pull=330.0))
        self.assertNotIn("b2.standin.check", [s.id for s in steps(weak, None)])
        self.assertIn("b2.alone.check", [s.id for s in steps(light(), None)])

    def test_the_map_is_on_the_board(self) -> None:
        """Oracle: geometry: each leg in a seat of a strip with its net, nothing outside the frame, no two
        bodies on one seat.
        """
        for plan in (
            best_plan("fan"),
            best_plan("light"),
            first(light(), (Board(positions=30, rails="split"),)),
        ):
            found = sheet(plan)
            spots = {(s.x, s.y): strip.net for strip in found.strips for s in strip.seats}
            seats = [shape.seats for shape in found.parts] + [shape.seats for shape in found.tags]
            for own in [*seats, *(shape.seats for shape in found.wires)]:
                for s in own:
                    self.assertIn(spots[s.x, s.y], (s.net, ""))
                    self.assertTrue(
                        found.frame.left < s.x < found.frame.right
                        and found.frame.top < s.y < found.frame.bottom
                    )
            taken = [c for p in plan.placings for c in cells(p)]
            rails = {ACROSS[r] for r in ("+top", "0top", "0bottom", "+bottom")}
            on_strips = [c for c in taken if c[2] not in rails]
            self.assertEqual(len(set(on_strips)), len(on_strips))
            picture = board_svg(plan, "A & B")
            self.assertIn("A &amp; B", picture)
            self.assertIn(f'width="{(found.frame.right - found.frame.left) * 2.54:.2f}mm"', picture)

    def test_positions_are_counted_through_and_back(self) -> None:
        bench = Bench((Board(positions=30), Board(positions=63, rails="split")))
        for column in bench.columns:
            self.assertEqual(bench.column(bench.seat(column, "a")), column)
        self.assertEqual(len(bench.segments), 2 * 3)
        pieces = Pieces()
        self.assertTrue(pieces.join(("a",), ("b",)))
        self.assertFalse(pieces.join(("b",), ("a",)))


class CommandLine(unittest.TestCase):
    def run_core(self, *args: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "hexlet_core", *args],
            capture_output=True,
            text=True,
            cwd=ROOT / "core",
            check=False,
        )

    def test_a_plan_is_made_checked_and_drawn(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            design, plan, picture = (str(Path(folder) / n) for n in ("d.json", "p.json", "p.svg"))
            Path(design).write_text(fan().model_dump_json())
            made = self.run_core("plan", design, "--out", plan, "--svg", picture)
            self.assertEqual((made.returncode, made.stdout), (0, ""))
            self.assertIn("none fewer is possible", made.stderr)
            self.assertIn("<svg", Path(picture).read_text())
            self.assertEqual(json.loads(Path(plan).read_text())["format"], "hexlet-plan")
            self.assertEqual(self.run_core("plan", design, "--check", plan).returncode, 0)
            Path(design).write_text(whole(LIGHT).model_dump_json())
            wrong = self.run_core("plan", design, "--check", plan)
            self.assertEqual(wrong.returncode, 1)
            self.assertTrue(json.loads(wrong.stdout))
            self.assertEqual(self.run_core("plan", design, "--boards", "31").returncode, 2)


class Wiring(unittest.TestCase):
    def test_a_relays_contact_circuit_touches_no_strip(self) -> None:
        """Oracle: by hand: the fan's motor, its contact and the supply meet at the parts themselves."""
        what = wanted(study(fan()))
        ends = {j.net: set(j.ends) for j in what.joints}
        self.assertEqual(ends["b4.contact"], {("b4.relay", "no"), ("b4.contact_load", "a")})
        self.assertEqual(ends["0"], {("s", "-"), ("b4.contact_load", "b")})
        relay = what.of["b4.relay"]
        self.assertEqual({leg.name for leg in relay.legs}, {"a", "b"})

    def test_a_string_of_leds_is_so_many_parts(self) -> None:
        what = wanted(light())
        string = [b for b in what.bodies if b.kind == "led"]
        self.assertEqual(len(string), 3)
        for one, two in itertools.pairwise(string):
            self.assertEqual(one.legs[1].net, two.legs[0].net)

    def test_an_alternating_supply_has_no_rails(self) -> None:
        made = next(d for d in every_design() if d.supply.ac and not d.supply.walled)
        self.assertEqual(dict(wanted(study(made)).rails), {})
        self.assertEqual(proof(first(study(made)), wanted(study(made))), ())
        self.assertTrue(Supply().as_rail())


def told(here: Study, plan: BoardPlan, key: str) -> dict[str, Mistake]:
    return {m.title: m for m in mistakes(here, plan, key)}


class Mistaken(unittest.TestCase):
    def test_the_plan_as_it_should_be_is_the_designs_circuit(self) -> None:
        """Oracle: the design's own netlist at rest, in every state; behind an LED that is off, what leaks is
        told apart by a tenth of a volt only.
        """
        for here, plan in ((study(fan()), best_plan("fan")), (light(), best_plan("light"))):
            corner = Corner(supply=here.design.supply.high)
            built_one, of = as_built(here, plan, corner)
            for acts in here.combinations:
                now = operating_point(acted(built_one, here.flow, corner, acts))
                usual = operating_point(here.acted(corner, acts))
                for block, _, part in here.placed:
                    for leg, net in part.legs.items():
                        name = here.flow.net(block, net)
                        was = 0.0 if name == "0" else usual[name]
                        self.assertAlmostEqual(now[of[f"{block}.{part.local}", leg]], was, delta=0.1)

    def test_a_diode_the_wrong_way_round_shorts_the_switch(self) -> None:
        """Oracle: by hand. It lies forward across the coil's supply when the switch is on, so the supply
        drives it through the switch's resistance alone.
        """
        found = told(study(fan()), best_plan("fan"), "b3.diode")
        self.assertEqual(found["The wrong way round"].standing, "fails")
        self.assertIn("The supply is shorted", found["The wrong way round"].harms[0])

    def test_a_missing_freewheel_diode_lets_the_switch_break_down(self) -> None:
        """Oracle: the coil's current goes on, so an NPN without avalanche rating is harmed; and a rated
        MOSFET not.
        """
        named = "Its anode makes no contact"
        mosfet = told(study(fan()), best_plan("fan"), "b3.diode")[named]
        self.assertEqual((mosfet.standing, mosfet.harms), ("tight", ()))
        self.assertIn("rated to take", " ".join(mosfet.does))
        npn = study(in_line(LogicPin(), NpnLowSide(r_base=270.0), Freewheel(), RelayCoil(), name="N"))
        found = told(npn, first(npn), "b3.diode")[named]
        self.assertEqual(found.standing, "fails")
        self.assertIn("breaks down at 40 V", found.harms[0])

    def test_the_supply_on_the_wrong_rail(self) -> None:
        """Oracle: Ohm's law on the supply's own resistance."""
        found = told(study(fan()), best_plan("fan"), "s")
        worst = next(m for m in found.values() if "other rail" in m.title)
        self.assertIn(show(14.4 / 0.05, "A", 2), worst.harms[0])

    def test_a_wire_left_out_is_told(self) -> None:
        plan = best_plan("fan")
        (only,) = told(study(fan()), plan, "w0").values()
        self.assertEqual(only.standing, "tight")
        self.assertTrue(any("K1 is off" in d for d in only.does), only)
        self.assertEqual(mistakes(study(fan()), plan, "b9.none"), ())

    def test_a_button_without_contact_is_told(self) -> None:
        """Oracle: by hand. A pair in the air leaves its net apart from the button; nothing is harmed."""
        for side in ("com", "no"):
            dead = told(light(), best_plan("light"), "b1.contact")[
                f"Its {names('button')[side]} makes no contact"
            ]
            self.assertEqual((dead.standing, dead.harms), ("tight", ()))
            self.assertTrue(any("in the air" in d for d in dead.does), dead)


class Bought(unittest.TestCase):
    def test_what_several_designs_share_is_counted_once(self) -> None:
        """Oracle: counting by hand against the drawer."""
        drawer = Drawer(stock={"nmos-55v-5a-logic": 1, "diode-1a-100v": 5})
        one, two = (Study(d, drawer) for d in (fan(), whole(LIGHT)))
        both = shopping([("Fan", one), ("Light", two)])
        mosfets = next(r for r in both.rows if r.title.startswith("N-MOSFET 55 V 5 A"))
        self.assertEqual((mosfets.need, mosfets.stock, mosfets.buy), (2, 1, 1))
        self.assertEqual(mosfets.used, ("Fan: Q1", "Light: Q1"))
        leds = next(r for r in both.rows if r.kind == "led")
        self.assertEqual((leds.need, leds.buy, leds.cost), (3, 3, round(3 * leds.price, 2)))
        self.assertEqual(both.parts, sum(p.count for here in (one, two) for p in here.parts))
        self.assertAlmostEqual(both.cost, sum(r.buy * r.price for r in both.rows), delta=0.02)
        alone = shopping([("Fan", one)])
        self.assertEqual([r.used for r in alone.rows if r.kind == "n_mosfet"], [("Q1",)])
        rows = list(csv.DictReader(io.StringIO(shopping_csv(both))))
        self.assertEqual(sum(int(r["need"]) for r in rows), both.parts)

    def test_what_would_do_instead_is_judged(self) -> None:
        """Oracle: the verdicts of the design with the change really made."""
        drawer = Drawer(stock={"nmos-55v-30a": 2, "nmos-60v-300ma": 3})
        here = Study(fan(), drawer)
        rows = substitutes(here, "b2", "switch")
        self.assertTrue(rows)
        broken = {v.id for v in here.verdicts if v.standing == "fails"}
        for row in rows:
            then = study(changed(fan(), [(c.path, c.value) for c in row.changes]), drawer)
            fails = {v.id for v in then.verdicts if v.standing == "fails"} - broken
            self.assertEqual(row.standing == "fails", bool(fails), row)
            self.assertTrue(row.effect)
        own = resistor_cards([180.0, 270.0, 10e3])
        resistors = Drawer(own={c.id: c for c in own}, stock={c.id: 4 for c in own})
        near = substitutes(Study(fan(), resistors), "b2", "series")
        self.assertEqual({r.title for r in near}, {"180 Ω", "270 Ω"})
        self.assertEqual(substitutes(here, "b9", "none"), ())
