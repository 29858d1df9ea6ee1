"""Long work apart from the requests: a job at a time, a few more in line, each known by what it answers.

The same question asked twice is one job. A job steps on while somebody looks at it: between two steps it sees
whether it was stopped or left alone, so that a closed page does not hold the machine. What a job has answered
is kept while there is room, and a page that is loaded again finds it.

Memory: one process of the core, some 250 MB, and `KEPT` answers of some 200 kB.
"""

from __future__ import annotations

import logging
import time
from collections import OrderedDict
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from threading import Condition, Thread
from typing import Literal

from django.db import close_old_connections
from hexlet_core.errors import HexletError
from hexlet_core.fields import Document

log = logging.getLogger(__name__)
AT_ONCE = 1  # both cores work on it
IN_LINE = 12
KEPT = 40
LEFT_ALONE = 20.0  # how long nobody has looked when a job is given up [s]
State = Literal["waiting", "running", "done", "failed", "stopped"]
OVER: tuple[State, ...] = ("done", "failed", "stopped")
Work = Callable[[], Iterator[Document]]


class Busy(Exception):
    """So much is waiting that no more is taken."""


@dataclass
class Job:
    """One question under way: its newest step, what went wrong, when it was looked at last."""

    id: str
    work: Work
    state: State = "waiting"
    last: Document | None = None
    why: str = ""
    wanted: int = 1
    seen: float = field(default_factory=time.monotonic)

    @property
    def unwanted(self) -> bool:
        return self.wanted < 1 or time.monotonic() - self.seen > LEFT_ALONE


class Executor:
    """Runs jobs on threads of its own."""

    def __init__(self, at_once: int = AT_ONCE, in_line: int = IN_LINE, kept: int = KEPT) -> None:
        self._most, self._in_line, self._kept = at_once, in_line, kept
        self._jobs: OrderedDict[str, Job] = OrderedDict()
        self._changed, self._running = Condition(), 0

    def ask(self, id: str, work: Work) -> Job:
        """The job of a question: the one there is, or a new one.

        Raises: Busy.
        """
        with self._changed:
            job = self._jobs.get(id)
            if job is not None and job.state in ("waiting", "running", "done"):
                job.seen, job.wanted = time.monotonic(), job.wanted + (job.state not in OVER)
                self._jobs.move_to_end(id)
                return job
            waiting = sum(j.state == "waiting" and not j.unwanted for j in self._jobs.values())
            if waiting >= self._in_line:
                raise Busy
            job = self._jobs[id] = Job(id, work)
            self._jobs.move_to_end(id)
            for old in [j.id for j in self._jobs.values() if j.state in OVER][: -self._kept or None]:
                del self._jobs[old]
            if self._running < self._most:
                self._running += 1
                Thread(target=self._run, name="jobs", daemon=True).start()
            return job

    def find(self, id: str) -> Job | None:
        """A job by its id, looked at now."""
        with self._changed:
            job = self._jobs.get(id)
            if job is not None:
                job.seen = time.monotonic()
            return job

    def stop(self, id: str) -> Job | None:
        """One who asked wants it no more; when none does it ends after its present step."""
        with self._changed:
            job = self._jobs.get(id)
            if job is not None:
                job.wanted -= 1
            return job

    def settle(self, seconds: float) -> bool:
        """Wait until nothing runs; whether that came about."""
        with self._changed:
            return self._changed.wait_for(lambda: self._running == 0, seconds)

    def _run(self) -> None:
        while True:
            with self._changed:
                job = next((j for j in self._jobs.values() if j.state == "waiting"), None)
                if job is None:
                    self._running -= 1
                    self._changed.notify_all()
                    break
                job.state = "running"
            self._step_through(job)
        close_old_connections()

    def _step_through(self, job: Job) -> None:
        end: State = "done"
        try:
            steps = job.work()
            try:
                while True:
                    if job.unwanted:
                        end = "stopped"
                        break
                    step = next(steps, None)
                    if step is None:
                        break
                    job.last = step
            finally:
                close = getattr(steps, "close", None)
                if close is not None:
                    close()
        except HexletError as error:
            end, job.why = "failed", str(error.problems[0])
        except Exception:
            log.exception("A job ended with a fault of the program.")
            end, job.why = "failed", "That is a fault of the program, not yours."
        with self._changed:
            job.state = end
            self._changed.notify_all()


executor = Executor()
