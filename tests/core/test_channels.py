"""Channels: alike ones are edited as one until they are told apart; one is open, the others are folded.

Oracle: the documents themselves, and the full drawing beside the folded one.
"""

import unittest

from hexlet_core.design.channels import channels, lines, together, twins
from hexlet_core.design.document import Design, changed, in_line
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.starts import selector
from hexlet_core.design.study import study
from hexlet_core.prove.expect import expectations
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.signals.logic_pin import LogicPin

from .circuits import fan


def panels(*ohms: float) -> Design:
    return selector(*(Resistive(resistance=r, power=10.0, name=f"Panel {k}") for k, r in enumerate(ohms, 1)))


def pair() -> Design:
    """Two pins, each with a switch, a freewheel and a coil of its own."""
    one = in_line(LogicPin(), NmosLowSide(r_pull=6800.0), Freewheel(), RelayCoil(), name="Two coils")
    other = {"b5": LogicPin(), "b6": NmosLowSide(r_pull=6800.0), "b7": Freewheel(), "b8": RelayCoil()}
    joins = (("b5.out", "b6.command"), ("b6.out", "b7.load"), ("b7.out", "b8.load"))
    return one.model_copy(update={"blocks": one.blocks | other, "joins": one.joins + joins})


def edit(design: Design, *changes: tuple[str, object]) -> Design:
    return changed(design, together(design, changes))


class Channels(unittest.TestCase):
    def test_one_load_is_no_channel(self) -> None:
        self.assertEqual(channels(fan()), ())

    def test_a_line_begins_at_the_switch_that_is_its_own(self) -> None:
        self.assertEqual([blocks for _, blocks in lines(pair())], [("b2", "b3", "b4"), ("b6", "b7", "b8")])
        (first, *_) = lines(panels(22.0, 22.0, 22.0))
        self.assertEqual(len(first[1]), 1)

    def test_alike_channels_are_edited_as_one(self) -> None:
        made = panels(22.0, 22.0, 22.0)
        loads = made.of_role("load")
        after = edit(made, (f"blocks.{loads[1]}.resistance", 33.0))
        self.assertEqual([after.blocks[b].resistance for b in loads], [33.0] * 3)  # type: ignore[attr-defined]
        names = [after.blocks[b].name for b in loads]  # type: ignore[attr-defined]
        self.assertEqual(names, ["Panel 1", "Panel 2", "Panel 3"])

    def test_a_name_is_its_own(self) -> None:
        made = panels(22.0, 22.0)
        first, second = made.of_role("load")
        after = edit(made, (f"blocks.{first}.name", "Left"))
        self.assertEqual(after.blocks[second].name, "Panel 2")  # type: ignore[attr-defined]

    def test_what_differs_or_is_told_apart_is_edited_alone(self) -> None:
        made = panels(22.0, 22.0, 16.0)
        self.assertEqual([c.alike for c in channels(made)], [(1, 2), (1, 2), (3,)])
        self.assertIn("16 Ω", channels(made)[2].differs)
        (told,) = channels(made)[1].apart
        apart = changed(made, [(told.path, told.value)])
        self.assertEqual([c.alike for c in channels(apart)], [(1,), (2,), (3,)])
        loads = apart.of_role("load")
        after = edit(apart, (f"blocks.{loads[0]}.resistance", 40.0))
        self.assertEqual([after.blocks[b].resistance for b in loads], [40.0, 22.0, 16.0])  # type: ignore[attr-defined]

    def test_all_alike_names_what_is_lost_and_copies_the_open_one(self) -> None:
        made = panels(22.0, 22.0, 16.0)
        open_one = channels(made)[0]
        self.assertEqual(open_one.lost, "resistance 16 Ω")
        after = changed(made, [(c.path, c.value) for c in open_one.together])
        self.assertEqual([c.alike for c in channels(after)], [(1, 2, 3)] * 3)

    def test_a_kind_is_exchanged_in_all(self) -> None:
        made = pair()
        drive = NpnLowSide(r_base=270.0)
        after = edit(
            made,
            ("set_aside.b2", {"nmos_low_side": made.blocks["b2"].model_dump(mode="json")}),
            ("blocks.b2", drive.model_dump(mode="json")),
        )
        self.assertEqual((after.blocks["b2"], after.blocks["b6"]), (drive, drive))
        self.assertEqual(after.set_aside["b6"]["nmos_low_side"], made.blocks["b6"])

    def test_what_was_measured_counts_for_all_that_are_alike(self) -> None:
        made = pair()
        after = edit(made, ("origins.blocks.b4.resistance", "measured"))
        self.assertEqual(after.origins["blocks.b8.resistance"], "measured")

    def test_twins_are_by_place(self) -> None:
        (found,) = twins(pair(), "b3")
        self.assertEqual(dict(found), {"b2.out": "b6.out", "b2": "b6", "b3": "b7", "b4": "b8"})


class Folded(unittest.TestCase):
    def test_one_channel_is_open_and_the_others_are_boxes(self) -> None:
        for made in (panels(22.0, 22.0, 16.0), pair()):
            here = study(made)
            every, full = channels(made), here.drawing
            for c in every:
                drawn = evaluate(here, c.number).drawing
                shut = {f.number for f in drawn.folds}
                self.assertEqual(shut, {o.number for o in every} - {c.number})
                refs = {s.ref for s in drawn.symbols}
                own = {here.flow.ref(b, p.local) for b in c.blocks for p in here.flow.parts(b)}
                others = {
                    here.flow.ref(b, p.local)
                    for o in every
                    if o is not c
                    for b in o.blocks
                    for p in here.flow.parts(b)
                }
                self.assertTrue(own <= refs, own - refs)
                self.assertFalse(others & refs)
                self.assertLess(drawn.frame[2], full.frame[2])

    def test_all_opens_all(self) -> None:
        here = study(panels(22.0, 22.0))
        self.assertEqual(evaluate(here, 0).drawing, here.drawing)

    def test_sentences_are_about_the_open_channel(self) -> None:
        here = study(panels(22.0, 22.0, 16.0))
        said = " ".join(getattr(p, "text", "") for p in evaluate(here, 3).sentences["load"])
        self.assertIn("16 Ω", said)
        self.assertNotIn("22 Ω", said)

    def test_each_load_is_read_while_its_own_channel_is_on(self) -> None:
        """Oracle: 12.6 V across each panel, whichever button was pressed."""
        found = [e for e in expectations(study(panels(22.0, 33.0))) if e.probe.id == "load_current"]
        self.assertEqual(len(found), 2)
        for reading, ohms in zip(found, (22.0, 33.0), strict=True):
            self.assertAlmostEqual(reading.nominal, 12.6 / ohms, delta=0.03 * reading.nominal)
