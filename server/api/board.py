"""Board plans: kept, moved by hand, gone back on; and which boards there are."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from drawer.actions import drawer, own_boards
from hexlet_core.build.buying import ShoppingList, shopping, substitutes
from hexlet_core.build.layout import read_plan
from hexlet_core.build.mistakes import mistakes
from hexlet_core.build.moving import moved, unpinned
from hexlet_core.build.view import BoardView, viewed
from hexlet_core.design.study import study
from hexlet_core.formats.tables import shopping_csv
from hexlet_core.quantity import show
from hexlet_core.rehearsal.standing import standing
from ninja import Query, Router
from notebook import actions as notebook
from workshop.actions import document_of, find

from .asked import asked
from .bench import bench_of
from .board_schemas import (
    BoardsIn,
    KeepIn,
    MistakesIn,
    MistakesOut,
    MoveIn,
    PartIn,
    ShoppingIn,
    SubstitutesOut,
    VoltsIn,
    VoltsOut,
)
from .exchange import attached
from .schemas import Bench, Refusal

router = Router(tags=["board"])


@router.put("/designs/{design_id}/plan", response={200: Bench, 422: Refusal})
def keep(request: HttpRequest, design_id: UUID, body: KeepIn) -> Bench:
    """Build by a plan from now on."""
    design = find(design_id)
    notebook.keep_plan(design, read_plan(body.plan))
    return bench_of(design)


@router.delete("/designs/{design_id}/plan", response=Bench)
def drop(request: HttpRequest, design_id: UUID) -> Bench:
    """Plan anew from nothing."""
    design = find(design_id)
    notebook.drop_plans(design)
    return bench_of(design)


@router.delete("/designs/{design_id}/plan/last", response=Bench)
def undo(request: HttpRequest, design_id: UUID) -> Bench:
    """Go back to the plan before."""
    design = find(design_id)
    notebook.undo_plan(design)
    return bench_of(design)


@router.post("/board/moved", response={200: BoardView, 422: Refusal})
def move(request: HttpRequest, body: MoveIn) -> BoardView:
    """A plan with a part moved by hand, read back and proven."""
    plan = read_plan(body.plan)
    if body.pinned:
        plan = moved(plan, body.part, body.along, body.rows, body.leg, body.turned)
    else:
        plan = unpinned(plan, body.part)
    return viewed(asked(body).here, plan)


@router.post("/board/volts", response={200: VoltsOut, 422: Refusal})
def volts(request: HttpRequest, body: VoltsIn) -> VoltsOut:
    """What stands on every net at a moment of the rehearsal."""
    here, script, _ = asked(body)
    found = standing(here, script, min(body.at, script.stop))
    return VoltsOut(volts={net: show(round(v, 2), "V") for net, v in found.items()})


@router.post("/board/substitutes", response={200: SubstitutesOut, 422: Refusal})
def instead(request: HttpRequest, body: PartIn) -> SubstitutesOut:
    """What could take a part's place, and what the design would say of it."""
    return SubstitutesOut(rows=list(substitutes(asked(body).here, body.block, body.local)))


@router.post("/board/mistakes", response={200: MistakesOut, 422: Refusal})
def wrong(request: HttpRequest, body: MistakesIn) -> MistakesOut:
    """What may go wrong at a step, and what comes of it."""
    return MistakesOut(rows=list(mistakes(asked(body).here, read_plan(body.plan), body.key)))


def _wanted(designs: list[UUID]) -> ShoppingList:
    found = [find(id) for id in dict.fromkeys(designs)]
    parts = drawer()
    return shopping([(d.name, study(document_of(d), parts)) for d in found])


@router.post("/shopping", response={200: ShoppingList, 422: Refusal})
def shop(request: HttpRequest, body: ShoppingIn) -> ShoppingList:
    """What some designs need together."""
    return _wanted(body.designs)


@router.get("/shopping.csv", response={200: None})
def shop_csv(request: HttpRequest, design: Annotated[list[UUID], Query(..., max_length=200)]) -> HttpResponse:
    """The same as a file."""
    return attached(shopping_csv(_wanted(design)), "shopping-list.csv", "text/csv")


@router.put("/boards", response={200: BoardsIn, 422: Refusal})
def own(request: HttpRequest, body: BoardsIn) -> BoardsIn:
    """Say which boards are owned."""
    own_boards(body.boards)
    return body
