"""Long work by id: asked for, looked at, stopped. The same question has the same id, also after a reload."""

from __future__ import annotations

import hashlib
from typing import Any

from django.http import Http404, HttpRequest
from drawer.actions import boards
from hexlet_core.build.layout import read_plan
from hexlet_core.build.view import PlanStep
from hexlet_core.design.hangs import HangsStep
from hexlet_core.design.study import Study
from hexlet_core.rehearsal.holding import HoldingStep
from hexlet_core.rehearsal.orders import OrdersStep
from hexlet_core.rehearsal.otherwise import OtherwiseStep
from hexlet_core.rehearsal.press_map import MapStep
from hexlet_core.rehearsal.script import circuit
from hexlet_core.rehearsal.spread import FanStep
from hexlet_core.sources import digest
from ninja import Router

from .asked import asked
from .board_schemas import PlanIn
from .executor import Job, executor
from .schemas import AnswerIn, JobOut, Refusal, SpreadIn
from .worker import Worker

router = Router(tags=["jobs"])
worker = Worker()


def _told(job: Job) -> JobOut:
    last = job.last
    return JobOut(
        id=job.id,
        state=job.state,
        problem=job.why,
        fan=last if isinstance(last, FanStep) else None,
        map=last if isinstance(last, MapStep) else None,
        hangs=last if isinstance(last, HangsStep) else None,
        holding=last if isinstance(last, HoldingStep) else None,
        otherwise=last if isinstance(last, OtherwiseStep) else None,
        orders=last if isinstance(last, OrdersStep) else None,
        plan=last if isinstance(last, PlanStep) else None,
    )


def _ask(kind: str, here: Study, *what: Any) -> JobOut:
    text = "\n".join((digest(), kind, here.design.model_dump_json(), here.drawer.stamp, *map(repr, what)))
    id = hashlib.sha256(text.encode()).hexdigest()[:32]
    return _told(executor.ask(id, lambda: worker.steps(kind, here.design, here.drawer, *what)))


@router.post("/jobs/spread", response={200: JobOut, 422: Refusal, 503: Refusal})
def ask_spread(request: HttpRequest, body: SpreadIn) -> JobOut:
    """The rehearsal at all corners or with random parts."""
    here, script, _ = asked(body)
    circuit(here, script)  # what cannot run is refused at its field, before it waits in line
    return _ask("spread", here, script, body.wish)


@router.post("/jobs/press-map", response={200: JobOut, 422: Refusal, 503: Refusal})
def ask_press_map(request: HttpRequest, body: AnswerIn) -> JobOut:
    """What becomes of a press, by hold and supply."""
    here = asked(body).here
    return _ask("press map", here, body.channel)


@router.post("/jobs/hangs", response={200: JobOut, 422: Refusal, 503: Refusal})
def ask_hangs(request: HttpRequest, body: AnswerIn) -> JobOut:
    """What a design's time hangs on: each part, the supply, the heat, a meter."""
    return _ask("hangs", asked(body).here)


@router.post("/jobs/otherwise", response={200: JobOut, 422: Refusal, 503: Refusal})
def ask_otherwise(request: HttpRequest, body: AnswerIn) -> JobOut:
    """What becomes of a design's time when things go otherwise."""
    return _ask("otherwise", asked(body).here, body.channel)


@router.post("/jobs/holding", response={200: JobOut, 422: Refusal, 503: Refusal})
def ask_holding(request: HttpRequest, body: AnswerIn) -> JobOut:
    """How surely a design keeps its state."""
    return _ask("holding", asked(body).here, body.channel)


@router.post("/jobs/orders", response={200: JobOut, 422: Refusal, 503: Refusal})
def ask_orders(request: HttpRequest, body: AnswerIn) -> JobOut:
    """Who ends up on, whatever the order of an interlock's buttons."""
    return _ask("orders", asked(body).here)


@router.post("/jobs/plan", response={200: JobOut, 422: Refusal, 503: Refusal})
def ask_plan(request: HttpRequest, body: PlanIn) -> JobOut:
    """A plan of the board, better step by step; or the kept one mended."""
    kept = read_plan(body.kept) if body.kept is not None else None
    return _ask("plan", asked(body).here, boards(), kept, tuple(body.stays))


@router.get("/jobs/{job_id}", response={200: JobOut, 404: Refusal})
def look(request: HttpRequest, job_id: str) -> JobOut:
    """How far a job is, with its newest step."""
    job = executor.find(job_id)
    if job is None:
        raise Http404
    return _told(job)


@router.delete("/jobs/{job_id}", response={200: JobOut, 404: Refusal})
def stop(request: HttpRequest, job_id: str) -> JobOut:
    """Want it no more."""
    job = executor.stop(job_id)
    if job is None:
        raise Http404
    return _told(job)
