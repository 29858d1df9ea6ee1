"""Designs: the shelf, opening, saving, undo, and the live answer."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from drawer.actions import drawer
from hexlet_core.design.around import calibration
from hexlet_core.design.channels import together
from hexlet_core.design.compare import Outcome, outcomes
from hexlet_core.design.confirm import Confirmed, confirm
from hexlet_core.design.document import changed, read_design
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.exchange import offers
from hexlet_core.design.places import Places, places
from hexlet_core.design.remedies import with_offers
from hexlet_core.design.starts import start, starts
from hexlet_core.design.study import Study, study
from hexlet_core.errors import DocumentError, Problem, SettleError
from hexlet_core.formats.tables import waves_csv
from hexlet_core.quantity import show
from hexlet_core.rehearsal.menu import menu
from hexlet_core.rehearsal.rehearse import rehearse, waves_of
from hexlet_core.rehearsal.script import presets
from hexlet_core.stages.contract.descriptions import Calibration
from hexlet_core.stages.say.terms import Term, terms
from ninja import Router
from workshop import actions
from workshop.models import Design

from . import standings
from .asked import asked
from .schemas import (
    Answer,
    AnswerIn,
    ChoicesIn,
    Gone,
    OffersIn,
    OffersOut,
    Opened,
    ReadingsIn,
    Refusal,
    RequestIn,
    SaveIn,
    Shelf,
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
        document=actions.document_of(design),
        can_undo=revision.parent is not None,
        can_redo=after is not None,
        undo_label=revision.label,
        redo_label=after.label if after else "",
    )


@router.get("/shelf", response=Shelf)
def shelf(request: HttpRequest) -> Shelf:
    """All designs, newest first, and the one deleted last."""
    found = list(Design.objects.filter(deleted__isnull=True).select_related("standing"))
    gone = Design.objects.filter(deleted__isnull=False).order_by("-deleted").first()
    return Shelf(
        starts=list(starts()),
        designs=standings.rows(found),
        deleted=Gone(id=gone.id, name=gone.name) if gone else None,
        supply=_supply(found[0]) if found else "",
    )


def _supply(design: Design) -> str:
    """A design's supply in words; none where the design cannot be read."""
    try:
        supply = actions.document_of(design).supply
    except DocumentError:
        return ""
    return f"{supply.low:g} / {supply.typical:g} / {show(supply.high, 'V')}"


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


@router.post("/answer", response={200: Answer, 422: Refusal})
def answer(request: HttpRequest, body: AnswerIn) -> Answer:
    """Verdicts, windows, schematic and waves of a document, saved or not."""
    here, script, left_out = asked(body)
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
        left_out=[f"{p.got}: {p.message}" if p.got else p.message for p in left_out],
    )


@router.post("/calibrate", response={200: Calibration, 422: Refusal})
def calibrate(request: HttpRequest, body: ReadingsIn) -> Calibration:
    """What readings of its level say of a design's trimmer."""
    return calibration(asked(body).here, body.readings)


@router.post("/outcomes", response={200: list[list[Outcome]], 422: Refusal})
def outcomes_of(request: HttpRequest, body: ChoicesIn) -> list[list[Outcome]]:
    """What comes of each choice, taken alone: the checks that say something else with it than without."""
    stand = [(c.path, c.value) for c in body.changes]
    design, cards = read_design(body.document), drawer()

    def made(*changes: tuple[str, Any]) -> Study:
        return study(changed(design, together(design, [*stand, *changes])), cards)

    return [list(outcomes(made((c.path, c.value)), made())) for c in body.choices]


@router.get("/terms", response=list[Term])
def terms_of(request: HttpRequest) -> list[Term]:
    """The field's words that the program's texts use, explained."""
    return list(terms())


@router.post("/confirm", response={200: list[Confirmed], 422: Refusal})
def what_the_circuit_says(request: HttpRequest, body: AnswerIn) -> list[Confirmed]:
    """What the simulated circuit says to each verdict that it can answer."""
    return list(confirm(asked(body).here))


@router.post("/waves", response={200: None, 422: Refusal})
def waves(request: HttpRequest, body: AnswerIn) -> HttpResponse:
    """Every unknown of the rehearsal over time, as CSV."""
    here, script, _ = asked(body)
    return HttpResponse(waves_csv(waves_of(here, script)), content_type="text/csv; charset=utf-8")
