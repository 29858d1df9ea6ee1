"""One way to run many variants of a circuit: on every core, in order, with progress, and stopped on request.

The compiled kernel releases the interpreter's lock, so threads are enough. A variant's result depends on
nothing but the variant, so it is the same alone and in a batch.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from itertools import islice
from typing import TypeVar

from ..errors import HexletError, Problem

T = TypeVar("T")
R = TypeVar("R")
Progress = Callable[[int, int], None]  # done, of how many
AHEAD = 4  # variants handed out before their turn, a worker


class Cancelled(HexletError):
    """The work was stopped before it was done."""


def stream(function: Callable[[T], R], items: Sequence[T], *, workers: int | None = None) -> Iterator[R]:
    """Results in the items' order, as they come; closing the iterator stops the work."""
    count = workers or os.cpu_count() or 1
    with ThreadPoolExecutor(count) as pool:
        left = iter(items)
        waiting = [pool.submit(function, item) for item in islice(left, count * AHEAD)]
        try:
            while waiting:
                yield waiting.pop(0).result()
                waiting += [pool.submit(function, item) for item in islice(left, 1)]
        finally:
            for future in waiting:
                future.cancel()


def run(
    function: Callable[[T], R],
    items: Sequence[T],
    *,
    progress: Progress | None = None,
    cancelled: Callable[[], bool] | None = None,
    workers: int | None = None,
) -> list[R]:
    """All results in the items' order.

    Args:
        progress: told how many are done after each.
        cancelled: asked after each; True stops the work.
    Raises:
        Cancelled: it was stopped.
    """
    found: list[R] = []
    for result in stream(function, items, workers=workers):
        found.append(result)
        if progress:
            progress(len(found), len(items))
        if cancelled and cancelled() and len(found) < len(items):
            raise Cancelled(Problem("", f"Stopped after {len(found)} of {len(items)}."))
    return found
