"""Designs: the shelf, opening, saving, undo, and the live answer."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain
from uuid import UUID

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from drawer.actions import drawer
from hexlet_core.design.channels import together
from hexlet_core.design.confirm import Confirmed, confirm
from hexlet_core.design.document import changed, read_design
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.exchange import offers
from hexlet_core.design.places import Places, places
from hexlet_core.design.remedies import with_offers
from hexlet_core.design.starts import start, starts
from hexlet_core.design.study import Study, study
from hexlet_core.errors import DocumentError, Problem, SettleError
from hexlet_core.fields import Document, read_document
from hexlet_core.formats.tables import waves_csv
from hexlet_core.quantity import show
from hexlet_core.rehearsal.menu import menu
from hexlet_core.rehearsal.press_map import MapStep, press_map
from hexlet_core.rehearsal.rehearse import rehearse, waves_of
from hexlet_core.rehearsal.script import Script, presets
from hexlet_core.rehearsal.spread import FanStep, spread
from ninja import Router
from notebook.actions import current_run
from workshop import actions
from workshop.models import Design

from .bench import bench_of
from .schemas import (
    Answer,
    AnswerIn,
    Gone,
    LastReading,
    OffersIn,
    OffersOut,
    Opened,
    Refusal,
    RequestIn,
    SaveIn,
    ScriptIn,
    Shelf,
    ShelfRow,
    SpreadIn,
    StaleRefusal,
    StartIn,
    Unsettled,
    WindowsOut,
)

router = Router(tags=["designs"])


def opened(design: Design) -> Opened:
    """A design as the workspace wants it."""
    revision = design.revision
    after = revision.children.order_by("-number").first()
    return Opened(
        id=design.id,
        name=design.name,
        stamp=design.stamp,
        revision=revision.number,
        saved=revision.created,
        document=read_design(revision.document),
        can_undo=revision.parent is not None,
        can_redo=after is not None,
        undo_label=revision.label,
        redo_label=after.label if after else "",
    )


def _row(design: Design) -> ShelfRow:
    document = read_design(design.revision.document)
    bench = bench_of(design, document)
    run = current_run(design)
    last = None
    newest = run.readings.filter(undone=False, skipped=False).last() if run else None
    if newest is not None:
        rung = next((r for r in bench.progress.rungs if r.expected.id == newest.rung), None)
        if rung is not None:
            last = LastReading(
                text=rung.text,
                where=f"{rung.expected.probe.title}, {rung.expected.words}",
                standing=rung.judged.standing if rung.judged else None,
                place=rung.place,
                taken=newest.taken,
            )
    blocks = [study(document, drawer()).flow.stage(id) for id in study(document, drawer()).order]
    path = " › ".join(s.title if s.role == "drive" else s.summary for s in blocks if s.role != "guard")
    progress = bench.progress
    return ShelfRow(
        id=design.id,
        name=design.name,
        path=path,
        facets=list(progress.facets),
        next_facet=progress.next_facet,
        next_text=progress.next_text,
        next_do=progress.next_do,
        last=last,
        touched=design.touched,
    )


@router.get("/shelf", response=Shelf)
def shelf(request: HttpRequest) -> Shelf:
    """All designs, newest first, and the one deleted last."""
    found = list(Design.objects.filter(deleted__isnull=True).select_related("current"))
    gone = Design.objects.filter(deleted__isnull=False).order_by("-deleted").first()
    supply = read_design(found[0].revision.document).supply if found else None
    words = f"{supply.low:g} / {supply.typical:g} / {show(supply.high, 'V')}" if supply else ""
    return Shelf(
        starts=list(starts()),
        designs=[_row(d) for d in found],
        deleted=Gone(id=gone.id, name=gone.name) if gone else None,
        supply=words,
    )


@router.post("/designs", response=Opened)
def create(request: HttpRequest, body: StartIn) -> Opened:
    """A new design from a starting point."""
    document = read_design(body.document) if body.document is not None else start(body.start)
    return opened(actions.create(document))


@router.get("/designs/{design_id}", response=Opened)
def open_design(request: HttpRequest, design_id: UUID) -> Opened:
    """One design."""
    return opened(actions.find(design_id))


@router.put("/designs/{design_id}", response={200: Opened, 409: StaleRefusal, 422: Refusal})
def save(request: HttpRequest, design_id: UUID, body: SaveIn) -> Opened:
    """Save on top of the state that was opened."""
    return opened(actions.save(design_id, body.document, body.stamp, body.label))


@router.post("/designs/{design_id}/undo", response=Opened)
def undo(request: HttpRequest, design_id: UUID) -> Opened:
    """Go back one revision."""
    return opened(actions.step(design_id, -1))


@router.post("/designs/{design_id}/redo", response=Opened)
def redo(request: HttpRequest, design_id: UUID) -> Opened:
    """Go forward one revision."""
    return opened(actions.step(design_id, 1))


@router.delete("/designs/{design_id}", response=Gone)
def delete(request: HttpRequest, design_id: UUID) -> Gone:
    """Take a design off the shelf; it can be put back."""
    gone = actions.delete(design_id)
    return Gone(id=gone.id, name=gone.name)


@router.post("/designs/{design_id}/restore", response=Opened)
def restore(request: HttpRequest, design_id: UUID) -> Opened:
    """Put a deleted design back."""
    return opened(actions.restore(design_id))


@router.post("/designs/{design_id}/change", response={200: Opened, 409: StaleRefusal, 422: Refusal})
def change(request: HttpRequest, design_id: UUID, body: RequestIn) -> Opened:
    """Take what was typed or chosen, all of it or none, on top of the state that was opened."""
    changes = [(c.path, c.value) for c in body.changes]
    return opened(actions.change(design_id, changes, body.stamp, body.label))


@router.post("/offers", response={200: OffersOut, 422: Refusal})
def offers_at(request: HttpRequest, body: OffersIn) -> OffersOut:
    """What could take a block's place, and what is there, each judged in the design."""
    return OffersOut(offers=list(offers(_with_block(body), body.block)))


@router.post("/windows", response={200: WindowsOut, 422: Refusal})
def windows_of(request: HttpRequest, body: OffersIn) -> WindowsOut:
    """A block's windows; an empty one with everything that could be done instead."""
    found = with_offers(_with_block(body))
    return WindowsOut(windows=[w for w in found if w.block == body.block])


@router.post("/places", response={200: Places, 422: Refusal})
def places_at(request: HttpRequest, body: OffersIn) -> Places:
    """What would fit around a block, and what taking it out would do."""
    return places(_with_block(body), body.block)


def _with_block(body: OffersIn) -> Study:
    here = study(read_design(body.document), drawer())
    if body.block not in here.design.blocks:
        raise DocumentError(Problem("block", "There is no such block in this design.", got=body.block))
    return here


def _asked(body: AnswerIn) -> tuple[Study, Script]:
    """The document with what is being tried, and the script to run."""
    design = read_design(body.document)
    if body.changes:
        design = changed(design, together(design, [(c.path, c.value) for c in body.changes]))
    here = study(design, drawer())
    return here, read_document(Script, body.script) if body.script is not None else presets(here)[0]


@router.post("/answer", response={200: Answer, 422: Refusal})
def answer(request: HttpRequest, body: AnswerIn) -> Answer:
    """Verdicts, windows, schematic and waves of a document, saved or not."""
    here, script = _asked(body)
    rehearsal, unsettled = None, None
    evaluation = evaluate(here, body.channel)
    if not here.open:
        try:
            rehearsal = rehearse(here, script)
        except SettleError as error:
            unsettled = Unsettled(time=error.time, message=error.problems[0].message)
    return Answer(
        document=here.design,
        evaluation=evaluation,
        rehearsal=rehearsal,
        menu=list(menu(here, rehearsal)) if rehearsal else [],
        unsettled=unsettled,
        presets=list(presets(here)),
    )


@router.post("/script", response={200: Script, 422: Refusal})
def check_script(request: HttpRequest, body: ScriptIn) -> Script:
    """A script as it was typed, read; or at which event's which field it was not understood."""
    return read_document(Script, body.script)


@router.post("/spread", response={200: FanStep, 422: Refusal})
def spread_of(request: HttpRequest, body: SpreadIn) -> StreamingHttpResponse:
    """The rehearsal at all corners or with random parts. One line of JSON a step; closing the connection
    cancels it.
    """
    here, script = _asked(body)
    return _streamed(spread(here, script, body.wish))


@router.post("/confirm", response={200: list[Confirmed], 422: Refusal})
def what_the_circuit_says(request: HttpRequest, body: AnswerIn) -> list[Confirmed]:
    """What the simulated circuit says to each verdict that it can answer."""
    here, _ = _asked(body)
    return list(confirm(here))


@router.post("/press-map", response={200: MapStep, 422: Refusal})
def map_of_presses(request: HttpRequest, body: AnswerIn) -> StreamingHttpResponse:
    """What becomes of a press, by hold and supply, as `spread` answers."""
    here, _ = _asked(body)
    return _streamed(press_map(here, body.channel))


def _streamed(steps: Iterator[Document]) -> StreamingHttpResponse:
    """Steps as lines of JSON; what cannot run is refused before the first line."""
    first = next(steps)
    lines = (step.model_dump_json() + "\n" for step in chain((first,), steps))
    return StreamingHttpResponse(lines, content_type="application/x-ndjson")


@router.post("/waves", response={200: None, 422: Refusal})
def waves(request: HttpRequest, body: AnswerIn) -> HttpResponse:
    """Every unknown of the rehearsal over time, as CSV."""
    here, script = _asked(body)
    return HttpResponse(waves_csv(waves_of(here, script)), content_type="text/csv; charset=utf-8")
