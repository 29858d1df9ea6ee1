"""A model searched in a thread of its own: each better solution as it is found, and at last the bound."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from queue import SimpleQueue
from threading import Thread
from typing import Any, NamedTuple

from ortools.sat.python import cp_model

from .neatness import neat
from .rough import Rough
from .strips import Model


class Solved(NamedTuple):
    """A solution of a model, or at the end its bound."""

    rough: Rough | None
    bound: int = 0
    solution: Sequence[int] = ()


def searched(model: Model, effort: float, known: int, **parameters: Any) -> Iterator[Solved]:
    """Every better solution of a model, and at last its bound; closing it stops the work.

    Where a model that asks for fewer wires than `known` has no solution, that is the bound.
    """
    found: SimpleQueue[Solved | None] = SimpleQueue()
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.linearization_level = 0
    solver.parameters.max_deterministic_time = effort
    for name, value in parameters.items():
        setattr(solver.parameters, name, value)

    class Heard(cp_model.CpSolverSolutionCallback):
        def on_solution_callback(self) -> None:
            found.put(Solved(model.read(self.value), solution=list(self.response_proto.solution)))

    def run() -> None:
        heard = Heard()
        nothing = solver.solve(model.m, heard) == cp_model.INFEASIBLE
        found.put(Solved(None, known if nothing else _whole(solver.best_objective_bound)))
        found.put(None)

    thread = Thread(target=run, daemon=True)
    thread.start()
    try:
        while (step := found.get()) is not None:
            yield step
    finally:
        solver.stop_search()
        thread.join()


def _whole(bound: float) -> int:
    """A bound as the whole number that it means."""
    return max(0, int(-(-(bound - 1e-6) // 1)))


def fewest(model: Model, effort: float) -> Rough | None:
    """The plan with the fewest wires that is found; None where there is none."""
    model.m.minimize(model.links)
    return _last(searched(model, effort, 0))


def fewer(model: Model, near: Rough, effort: float) -> Rough | None:
    """A plan with fewer wires than one that is known, looked for round it."""
    model.begin_near(near)
    model.m.add(model.links < near.links)
    model.m.minimize(model.links)
    return _last(searched(model, effort, 0, cp_model_probing_level=0, symmetry_level=0))


def neatest(model: Model, near: Rough, effort: float) -> Rough:
    """A plan as good as one that is known, and pleasanter."""
    model.m.add(model.links <= near.links)
    model.m.minimize(neat(model))
    model.begin_near(near)
    return _last(searched(model, effort, 0, linearization_level=1)) or near


def _last(found: Iterator[Solved]) -> Rough | None:
    best = None
    for solved in found:
        best = solved.rough or best
    return best
