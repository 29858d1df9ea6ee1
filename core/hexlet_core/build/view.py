"""A plan as it is looked at: its map, its steps, and what the proof says."""

from __future__ import annotations

from typing import Literal

from ..design.study import Study
from ..errors import Problem
from ..fields import Document
from ..stages.contract import Step
from .bodies import BoardPart, Wanted, wanted
from .layout import BoardPlan, Placing, meetings
from .proof import Finding, proof
from .shapes import Sheet
from .sheet import sheet
from .steps import steps

Stage = Literal["first", "fewer", "bound", "neat", "kept", "around", "none"]


class BoardView(Document):
    """One plan of one design: proven where there are no findings.

    `fits` says whether it was made for the design's parts as they are; `words` what each net is called.
    """

    plan: BoardPlan
    sheet: Sheet
    steps: tuple[Step, ...]
    findings: tuple[Finding, ...]
    fits: bool
    words: dict[str, str]


class PlanStep(Document):
    """How far the planning is: the best plan so far, its wires and the fewest there can be, and its proof."""

    stage: Stage
    done: float
    view: BoardView | None = None
    links: int = 0
    bound: int = 0
    problems: tuple[Problem, ...] = ()
    says: str = ""


def same_legs(placing: Placing, body: BoardPart) -> bool:
    """Whether a part still has the legs that it was placed with."""
    return placing.shape == body.shape and tuple(x.leg for x in placing.legs) == tuple(
        leg.name for leg in body.legs
    )


def fits(plan: BoardPlan, what: Wanted) -> bool:
    """Whether a plan has the design's parts, leg by leg on the same nets."""
    if plan.of.keys() != what.of.keys() or {m.net for m in plan.meetings} != {j.net for j in what.joints}:
        return False
    return all(
        same_legs(plan.of[b.key], b)
        and tuple(x.net for x in plan.of[b.key].legs) == tuple(leg.net for leg in b.legs)
        for b in what.bodies
    )


def refreshed(plan: BoardPlan, what: Wanted) -> BoardPlan:
    """A plan with its parts called and joined as the design now says, each where it is."""
    placings = tuple(plan.of[body.key].of_part(body) for body in what.bodies)
    changed = {"placings": placings, "meetings": meetings(what), "heavy": tuple(sorted(what.heavy))}
    return plan.model_copy(update=changed)


def viewed(here: Study, plan: BoardPlan) -> BoardView:
    """A plan with its map, steps and proof."""
    what = wanted(here)
    fitting = fits(plan, what)
    if fitting:
        plan = refreshed(plan, what)
    return BoardView(
        plan=plan,
        sheet=sheet(plan),
        steps=steps(here, plan),
        findings=proof(plan, what),
        fits=fitting,
        words={net: here.called(net) for net in what.nets},
    )
