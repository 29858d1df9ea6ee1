"""Every check that names where the circuit shows its number is held to it, on the cut-out around its block.

Oracle throughout: the operating point or transient of the simulated cut-out at the check's own corner.
"""

import math
import random
import unittest
from collections import Counter
from functools import cache

from hexlet_core.design.cutout import cutout
from hexlet_core.design.document import Design, changed, in_line
from hexlet_core.design.proofs import Proof, proofs
from hexlet_core.design.study import Study, study
from hexlet_core.fields import quantity_of
from hexlet_core.stages.behaviours.one_shot import OneShot
from hexlet_core.stages.drives.complementary import Complementary
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.guards.gate_clamp import GateClamp
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.registry import KINDS, kind_name
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton
from hexlet_core.stages.signals.stage_output import StageOutput

from .circuits import DRAWER, every_design, verdict

# Kinds with no number that a circuit at rest or in a moment shows: ratings against ratings, or a supply that
# alternates.
UNSHOWN = {
    "ac_bridge", "ac_load", "across_switch", "back_feed", "base_reverse", "decoupling", "direct_contact",
    "fuse", "gate_clamp", "logic_pin", "reverse_guard", "stage_output", "straight", "switch_snubber",
    "wire",
}  # fmt: skip


@cache
def shown() -> tuple[tuple[Study, Proof], ...]:
    """Every proof of every second design."""
    timed = in_line(StageOutput(what="CMOS timer"), Complementary(), Resistive(), name="In turn")
    studies = [here for made in (*every_design()[::2], timed) if not (here := study(made, DRAWER)).open]
    return tuple((here, p) for here in studies for id in here.order for p in proofs(here, id))


def told(here: Study, proof: Proof) -> str:
    chain = " > ".join(kind_name(type(s)) for s in here.design.blocks.values())
    numbers = f"says {proof.check.nominal:.4g}, shows {proof.found:.4g} ({proof.off:.1%})"
    return f"{proof.block}.{proof.check.id}: {numbers} in {chain}"


def failing(here: Study, block: str) -> bool:
    return any(v.standing == "fails" and v.sort == "need" for v in cutout(here, block).verdicts)


def stalled(here: Study) -> bool:
    """Whether a block that commands by itself does not run: nothing behind it does what is said then."""
    return any(stage.role == "behaviour" and failing(here, site.id) for stage, site in here.pairs)


class EveryKind(unittest.TestCase):
    def test_the_circuit_shows_what_is_said(self) -> None:
        wrong = [told(here, p) for here, p in shown() if not p.holds and not math.isnan(p.found)]
        self.assertEqual(wrong, [])
        self.assertGreater(len(shown()), 2500)

    def test_only_what_does_not_work_shows_nothing(self) -> None:
        """A module that is starved resets again and again: it has no state to read."""
        blind = [
            told(here, p)
            for here, p in shown()
            if math.isnan(p.found) and not failing(here, p.block) and "module" not in told(here, p)
        ]
        self.assertEqual(blind, [])

    def test_formulas_are_held_to_per_cents(self) -> None:
        count = Counter(p.check.shown.within <= 0.06 for _, p in shown() if p.check.shown is not None)
        self.assertGreater(count[True], 0.75 * count.total())

    def test_every_kind_says_where_its_numbers_show(self) -> None:
        found = {kind_name(type(here.flow.stage(p.block))) for here, p in shown()}
        self.assertEqual({kind_name(k) for k in KINDS} - found, UNSHOWN)

    def test_resistors_off_their_values_change_both_alike(self) -> None:
        """The same formulas with every resistor between a half and double: scale, ask again."""
        draw = random.Random(7)
        wrong = []
        for made in every_design()[3::11]:
            here = study(scaled(made, draw), DRAWER)
            if here.open or here.problems or stalled(here):
                continue
            found = [p for id in here.order for p in proofs(here, id)]
            wrong += [told(here, p) for p in found if not p.holds and not math.isnan(p.found)]
        self.assertEqual(wrong, [])


def scaled(made: Design, draw: random.Random) -> Design:
    """The design with every resistor of its drives and signals at another value."""
    changes = []
    for id, stage in made.blocks.items():
        for name, field in type(stage).model_fields.items():
            value = getattr(stage, name)
            quantity = quantity_of(type(stage), name)
            resistor = quantity is not None and quantity.unit == "Ω" and name.startswith("r_")
            if resistor and value is not None and stage.role in ("drive", "signal"):
                assert field is not None
                changes.append((f"blocks.{id}.{name}", value * math.exp(draw.uniform(-0.7, 0.7))))
    return changed(made, changes)


class CutOuts(unittest.TestCase):
    def test_what_is_said_in_a_cut_out_is_what_is_said_in_the_whole(self) -> None:
        """Oracle: the whole design: a border tells the fact that it stands for."""
        for made in every_design()[::23]:
            here = study(made, DRAWER)
            for id in here.order:
                part = cutout(here, id)
                whole = {v.check: (v.nominal, v.worst) for v in here.judged(id)}
                self.assertEqual({v.check: (v.nominal, v.worst) for v in part.judged(id)}, whole)

    def test_it_leaves_out_what_gives_the_command(self) -> None:
        line = in_line(PushButton(to="zero"), OneShot(), NpnLowSide(), Freewheel(), RelayCoil(), name="Timed")
        found = cutout(study(line), "b3").design.blocks
        self.assertNotIn("b2", found)
        self.assertEqual({"b3", "b4", "b5"} - found.keys(), set())

    def test_a_drive_behind_a_time_is_judged_without_waiting_for_it(self) -> None:
        """Oracle: the drive alone behind a level of the timer's: the same proof, far sooner."""
        line = in_line(PushButton(to="zero"), OneShot(), NpnLowSide(), Freewheel(), RelayCoil(), name="Timed")
        found = {p.check.id: p for p in proofs(study(line), "b3")}
        self.assertTrue(found["fully_on"].holds)
        self.assertGreater(found["fully_on"].found, 1e-3)


class OutOfSaturation(unittest.TestCase):
    def test_a_base_that_cannot_saturate_it_is_told_as_hot(self) -> None:
        """Oracle: I_C = h_FE·I_B, and the load's line: 100 Ω from 12.6 V leave the transistor watts."""
        made = in_line(LogicPin(), NpnLowSide(r_base=22e3, r_pull=None), Resistive(resistance=100.0))
        heat = verdict(made, "heat")
        amps = verdict(made, "switch_current").nominal
        i_b = (3.3 - 0.72) / 22e3
        self.assertLess(amps, 200 * i_b)
        self.assertGreater(heat.nominal, 0.02)
        (proof,) = [p for p in proofs(study(made), "b2") if p.check.id == "heat"]
        self.assertAlmostEqual(proof.found / heat.nominal, 1.0, delta=0.2)

    def test_a_clamp_at_the_gate_draws_on_the_pin(self) -> None:
        """Oracle: (V − V_Z)/R by hand: a 3.3 V pin stays under a 12 V zener, a 20 V signal does not."""
        button = PushButton(to="plus")
        made = in_line(button, NmosLowSide(), GateClamp(), Resistive(), name="Clamped")
        here = study(changed(made, [("supply.high", 24.0), ("supply.typical", 20.0), ("supply.low", 18.0)]))
        found = {v.check: v for v in here.judged("b2")}["pin_steady"]
        self.assertAlmostEqual(found.nominal, (20.0 - 12.0) / 220.1, delta=0.03 * found.nominal)
