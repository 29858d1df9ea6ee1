"""The executor: few at a time, the same question once, stopped when nobody wants it, full when it is full."""

import time
from collections.abc import Iterator
from threading import Event
from unittest import TestCase

from api.executor import Busy, Executor, Job
from hexlet_core.errors import DocumentError, Problem
from hexlet_core.fields import Document


class Step(Document):
    """One step of a made-up job."""

    done: int


class Held:
    """A job that steps only when it is let."""

    def __init__(self) -> None:
        self.begun, self.go, self.closed = Event(), Event(), Event()

    def __call__(self) -> Iterator[Document]:
        try:
            for k in range(1000):
                self.begun.set()
                self.go.wait(10)
                time.sleep(0.002)
                yield Step(done=k)
        finally:
            self.closed.set()


class Jobs(TestCase):
    def setUp(self) -> None:
        self.executor = Executor(at_once=2, in_line=3, kept=2)

    def held(self, id: str) -> tuple[Held, Job]:
        work = Held()
        return work, self.executor.ask(id, work)

    def test_no_more_than_two_run_and_three_wait(self) -> None:
        runs = [self.held(f"run {k}") for k in range(2)]
        for work, _ in runs:
            self.assertTrue(work.begun.wait(5))
        waiting = [self.held(f"wait {k}") for k in range(3)]
        self.assertEqual([job.state for _, job in waiting], ["waiting"] * 3)
        with self.assertRaises(Busy):
            self.held("one more")
        for work, job in (*runs, *waiting):
            self.executor.stop(job.id)
            work.go.set()
        self.assertTrue(self.executor.settle(10))
        self.assertFalse(waiting[0][0].begun.is_set(), "stopped before its turn, it never began")

    def test_the_same_question_is_computed_once_and_stopped_when_neither_wants_it(self) -> None:
        work, first = self.held("same")
        other, second = self.held("same")
        self.assertIs(first, second)
        self.executor.stop("same")
        work.go.set()
        time.sleep(0.05)
        self.assertEqual(first.state, "running")
        self.executor.stop("same")
        self.assertTrue(work.closed.wait(5))
        self.assertTrue(self.executor.settle(5))
        self.assertEqual(first.state, "stopped")
        self.assertFalse(other.begun.is_set())

    def test_an_answer_is_kept_and_a_fault_is_told(self) -> None:
        self.executor.ask("good", lambda: iter([Step(done=1), Step(done=2)]))
        self.assertTrue(self.executor.settle(5))
        again = self.executor.ask("good", Held())
        self.assertEqual((again.state, again.last), ("done", Step(done=2)))

        def refused() -> Iterator[Document]:
            raise DocumentError(Problem("events[0].part", "There is no such part.", got="R9"))
            yield Step(done=0)

        bad = self.executor.ask("bad", refused)
        self.assertTrue(self.executor.settle(5))
        self.assertEqual(bad.state, "failed")
        self.assertIn("There is no such part", bad.why)

    def test_only_so_many_answers_are_kept(self) -> None:
        for k in range(6):
            self.executor.ask(f"{k}", lambda: iter([Step(done=1)]))
            self.assertTrue(self.executor.settle(5))
        kept = [k for k in range(6) if self.executor.find(f"{k}")]
        self.assertLessEqual(len(kept), 3)
        self.assertIn(5, kept)
