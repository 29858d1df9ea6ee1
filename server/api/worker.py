"""The process that long work runs in: the core alone, at a lower priority, so that the server stays prompt.

It reads questions from its input and writes steps to its output, both pickled; it ends with its parent. Run
as `python -m api.worker`; `Worker` is the side of it that the server sees.
"""

from __future__ import annotations

import os
import pickle
import subprocess
import sys
from collections.abc import Callable, Iterator
from contextlib import suppress
from pathlib import Path
from queue import SimpleQueue
from threading import Lock, Thread
from typing import Any, BinaryIO

from hexlet_core.build.boards import Board
from hexlet_core.build.layout import BoardPlan
from hexlet_core.cards import Drawer
from hexlet_core.design.document import Design
from hexlet_core.design.hangs import hangs
from hexlet_core.design.script import Script
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError, HexletError, Problem
from hexlet_core.fields import Document
from hexlet_core.rehearsal.holding import holding
from hexlet_core.rehearsal.orders import orders
from hexlet_core.rehearsal.otherwise import otherwise
from hexlet_core.rehearsal.press_map import press_map
from hexlet_core.rehearsal.spread import Wish, spread

LOWER = 10  # how much it yields to others, as `nice` counts
ENDED = "The work was ended by the machine, perhaps for want of memory. Ask for less, or try again."


def _spread(design: Design, drawer: Drawer, script: Script, wish: Wish) -> Iterator[Document]:
    return spread(study(design, drawer), script, wish)


def _press_map(design: Design, drawer: Drawer, channel: int) -> Iterator[Document]:
    return press_map(study(design, drawer), channel)


def _hangs(design: Design, drawer: Drawer) -> Iterator[Document]:
    return hangs(study(design, drawer))


def _orders(design: Design, drawer: Drawer) -> Iterator[Document]:
    return orders(study(design, drawer))


def _otherwise(design: Design, drawer: Drawer, channel: int) -> Iterator[Document]:
    return otherwise(study(design, drawer), channel)


def _plan(
    design: Design, drawer: Drawer, owned: tuple[Board, ...], kept: BoardPlan | None, stays: tuple[str, ...]
) -> Iterator[Document]:
    from hexlet_core.build.planner import planned  # its solver takes a second to load

    return planned(study(design, drawer), owned, kept, stays)


def _holding(design: Design, drawer: Drawer, channel: int) -> Iterator[Document]:
    return holding(study(design, drawer), channel)


WORK: dict[str, Callable[..., Iterator[Document]]] = {
    "spread": _spread,
    "press map": _press_map,
    "hangs": _hangs,
    "orders": _orders,
    "otherwise": _otherwise,
    "holding": _holding,
    "plan": _plan,
}


class Worker:
    """The process, started when it is first needed and again when it has ended. One question at a time."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None
        self._turn, self._asked = Lock(), 0

    def steps(self, kind: str, *what: Any) -> Iterator[Document]:
        """Every step of an answer; closing the iterator stops the work.

        Raises: HexletError, as the work does, or when the process was ended.
        """
        with self._turn:
            process, self._asked = self._running(), self._asked + 1
            number = self._asked
            try:
                _put(process.stdin, ("ask", number, kind, what))
                yield from self._heard(process, number)
            except (OSError, EOFError, pickle.UnpicklingError):
                process.kill()
                raise DocumentError(Problem("", ENDED)) from None

    def _heard(self, process: subprocess.Popen[bytes], number: int) -> Iterator[Document]:
        over = False
        try:
            while True:
                word, found = _got(process.stdout)
                if word == "step":
                    yield found
                    continue
                over = True
                if word == "refused":
                    raise DocumentError(*found)
                return
        finally:
            if not over:  # nobody wants the rest: let it end, so that the next question has its own answer
                with suppress(OSError, EOFError):
                    _put(process.stdin, ("stop", number))
                    while _got(process.stdout)[0] == "step":
                        pass

    def _running(self) -> subprocess.Popen[bytes]:
        if self._process is None or self._process.poll() is not None:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "api.worker"],
                cwd=Path(__file__).resolve().parent.parent,
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
            )
        return self._process


def _put(to: Any, what: object) -> None:
    pickle.dump(what, to)
    to.flush()


def _got(source: Any) -> Any:
    return pickle.load(source)


class _Asked:
    """The worker's side of its input: questions in line, and which of them are stopped."""

    def __init__(self, source: BinaryIO) -> None:
        self.line: SimpleQueue[tuple[int, str, tuple[Any, ...]]] = SimpleQueue()
        self.stopped = 0
        Thread(target=self._listen, args=(source,), daemon=True).start()

    def _listen(self, source: BinaryIO) -> None:
        with suppress(EOFError, pickle.UnpicklingError):
            while True:
                word, number, *more = _got(source)
                if word == "stop":
                    self.stopped = number
                else:
                    self.line.put((number, more[0], more[1]))
        os._exit(0)  # the parent is gone


def main() -> None:
    """Answer until the parent ends."""
    with suppress(OSError):
        os.nice(LOWER)
    out = os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)  # what is printed must not fall among the answers
    asked = _Asked(os.fdopen(os.dup(0), "rb"))
    while True:
        number, kind, what = asked.line.get()
        try:
            steps = WORK[kind](*what)
            for step in steps:
                _put(out, ("step", step))
                if asked.stopped >= number:
                    steps.close()  # type: ignore[attr-defined]
                    break
            _put(out, ("end", None))
        except HexletError as error:
            _put(out, ("refused", error.problems))


if __name__ == "__main__":
    main()
