"""History under stress: branches, two writers at once, and what survives."""

from threading import Barrier, Thread
from uuid import UUID

from django.db import connection
from django.test import TestCase, TransactionTestCase
from hexlet_core.design.document import changed, read_design
from hexlet_core.design.starts import start
from workshop import actions
from workshop.models import Design, Revision


def edit(design: Design, value: float) -> Design:
    """Save another gate resistor."""
    document = changed(read_design(design.revision.document), [("blocks.b2.r_gate", value)])
    return actions.save(design.id, document.model_dump(mode="json"), design.stamp, f"R1 {value:g}")


class Branches(TestCase):
    def setUp(self) -> None:
        self.design = actions.create(start("coil"))

    def gate(self) -> float:
        self.design = actions.find(self.design.id)
        return float(self.design.revision.document["blocks"]["b2"]["r_gate"])

    def test_an_edit_after_undo_keeps_the_other_branch(self) -> None:
        edit(self.design, 270.0)
        actions.step(self.design.id, -1)
        edit(actions.find(self.design.id), 330.0)
        self.assertEqual(self.gate(), 330.0)
        self.assertEqual(Revision.objects.filter(design=self.design).count(), 3)
        actions.step(self.design.id, -1)
        self.assertEqual(self.gate(), 220.0)
        actions.step(self.design.id, 1)
        self.assertEqual(self.gate(), 330.0)

    def test_undo_makes_an_open_copy_stale(self) -> None:
        before = edit(self.design, 270.0)
        actions.step(self.design.id, -1)
        with self.assertRaises(actions.Stale) as caught:
            edit(before, 330.0)
        self.assertEqual(caught.exception.design.revision.number, 1)

    def test_redo_at_the_end_does_nothing(self) -> None:
        stamp = self.design.stamp
        actions.step(self.design.id, 1)
        self.assertEqual(actions.find(self.design.id).stamp, stamp)

    def test_restoring_into_a_taken_name(self) -> None:
        actions.delete(self.design.id)
        twin = actions.create(start("coil"))
        self.assertEqual(twin.name, "New coil switch")
        self.assertEqual(actions.restore(self.design.id).name, "New coil switch 2")

    def test_what_is_not_there(self) -> None:
        with self.assertRaises(actions.NotThere):
            actions.find(UUID(int=7))
        with self.assertRaises(actions.NotThere):
            actions.restore(self.design.id)

    def test_numbers_count_up_and_parents_point_back(self) -> None:
        for value in (270.0, 330.0, 390.0):
            edit(actions.find(self.design.id), value)
        numbers = list(Revision.objects.filter(design=self.design).values_list("number", "parent__number"))
        self.assertEqual(numbers, [(1, None), (2, 1), (3, 2), (4, 3)])

    def test_a_long_name_still_finds_a_free_one(self) -> None:
        name = "x" * 80
        self.assertEqual(actions.create(start("coil"), name=name).name, name)
        other = actions.free_name(name)
        self.assertLessEqual(len(other), 80)
        self.assertNotEqual(other, name)


class TwoWriters(TransactionTestCase):
    def test_of_two_saves_on_one_state_exactly_one_is_taken(self) -> None:
        design = actions.create(start("coil"))
        barrier, outcomes = Barrier(2), []

        def write(value: float) -> None:
            barrier.wait()
            try:
                edit(design, value)
                outcomes.append("taken")
            except actions.Stale:
                outcomes.append("stale")
            finally:
                connection.close()

        threads = [Thread(target=write, args=(v,)) for v in (270.0, 330.0)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(sorted(outcomes), ["stale", "taken"])
        self.assertEqual(Revision.objects.count(), 2)
