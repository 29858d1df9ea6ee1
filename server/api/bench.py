"""The bench: build steps and readings."""

from __future__ import annotations

import hashlib
import json
from functools import lru_cache
from uuid import UUID

from django.core.cache import cache
from django.http import HttpRequest
from drawer.actions import boards, drawer
from hexlet_core.build.layout import read_plan
from hexlet_core.build.meter_ways import METER_WAYS
from hexlet_core.build.steps import steps
from hexlet_core.build.view import viewed
from hexlet_core.cards import Drawer, read_card
from hexlet_core.design.document import Design as Document
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError, Problem
from hexlet_core.prove.expect import Expected, expectations
from hexlet_core.prove.progress import progress
from hexlet_core.quantity import show
from hexlet_core.sources import digest
from ninja import Router
from notebook import actions as notebook
from pydantic import TypeAdapter
from workshop.actions import document_of, find
from workshop.models import Design

from .schemas import Bench, ReadingIn, SupplyIn, TickIn

router = Router(tags=["bench"])
LADDER: TypeAdapter[tuple[Expected, ...]] = TypeAdapter(tuple[Expected, ...])


@lru_cache(maxsize=64)
def _expected(document: str, cards: str, supply: float | None) -> tuple[Expected, ...]:
    """The ladder of a document with own cards, both as JSON: worked out once until one of them changes, kept
    over restarts.
    """
    key = hashlib.sha256("\n".join((digest(), document, cards, str(supply))).encode()).hexdigest()
    known = cache.get(key)
    if known is not None:
        return LADDER.validate_json(known)
    own = {c.id: c for c in (read_card(d) for d in json.loads(cards))}
    found = expectations(study(Document.model_validate_json(document), Drawer(own=own)), supply)
    cache.set(key, LADDER.dump_json(found))
    return found


def own_cards(parts: Drawer) -> str:
    """The cards of one's own that change what is told, as JSON. Resistors do not, for values stand in the
    document; nor does how many there are of each.
    """
    return json.dumps([c.model_dump(mode="json") for c in parts.own.values() if c.kind != "resistor"])


def bench_of(design: Design, document: Document | None = None) -> Bench:
    """Steps, ladder and progress of a design's revision in force."""
    document = document or document_of(design)
    parts, run = drawer(), notebook.current_run(design)
    here = study(document, parts)
    kept = notebook.kept_plan(design)
    board = viewed(here, kept) if kept is not None and not here.open and not document.supply.walled else None
    plan = board.steps if board is not None else steps(here)
    done = list(design.steps_done.values_list("step", flat=True))
    supply = run.supply if run else None
    expected = _expected(document.model_dump_json(), own_cards(parts), supply)
    found = progress(evaluate(here), plan, done, expected, notebook.taken(run))
    return Bench(
        progress=found,
        steps=list(plan),
        parts=list(here.parts),
        done=done,
        supply=supply,
        supply_text=show(supply if supply is not None else document.supply.typical, "V", 4),
        meter_ways=METER_WAYS,
        board=board,
        boards=list(boards()),
        plans=design.plans.count(),
    )


@router.get("/designs/{design_id}/bench", response=Bench)
def bench(request: HttpRequest, design_id: UUID) -> Bench:
    """Where building and proving stand."""
    return bench_of(find(design_id))


@router.post("/designs/{design_id}/steps", response=Bench)
def tick(request: HttpRequest, design_id: UUID, body: TickIn) -> Bench:
    """Mark a build step done, or not done after all."""
    design = find(design_id)
    if body.plan is not None:
        notebook.keep_plan(design, read_plan(body.plan))
    if body.done and body.step not in {s.id for s in bench_of(design).steps}:
        raise DocumentError(Problem("step", "There is no such step in this design.", got=body.step))
    notebook.tick(design, body.step, body.done)
    return bench_of(design)


@router.put("/designs/{design_id}/supply", response=Bench)
def supply(request: HttpRequest, design_id: UUID, body: SupplyIn) -> Bench:
    """Note what the supply reads; the bands follow it."""
    design = find(design_id)
    notebook.start_run(design, notebook.supply_reading(body.text))
    return bench_of(design)


@router.post("/designs/{design_id}/readings", response=Bench)
def read(request: HttpRequest, design_id: UUID, body: ReadingIn) -> Bench:
    """Note a reading."""
    design = find(design_id)
    rungs = {r.expected.id: r.expected for r in bench_of(design).progress.rungs}
    if body.rung not in rungs:
        raise DocumentError(Problem("rung", "There is no such reading in this design.", got=body.rung))
    unit = rungs[body.rung].unit
    notebook.read(design, body.rung, body.text, unit, over_range=body.over_range, skipped=body.skipped)
    return bench_of(design)


@router.delete("/designs/{design_id}/readings/last", response=Bench)
def undo_reading(request: HttpRequest, design_id: UUID) -> Bench:
    """Take the newest reading back."""
    design = find(design_id)
    notebook.undo_reading(design)
    return bench_of(design)
