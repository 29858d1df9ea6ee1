"""Import and export: design JSON, parts CSV, waveforms CSV, schematic SVG, and the published schemas."""

from __future__ import annotations

import json
import re
from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from drawer.actions import drawer
from hexlet_core.build.layout import BoardPlan
from hexlet_core.build.view import viewed
from hexlet_core.design.document import Design as Document
from hexlet_core.design.document import read_design
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.script import Script
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError, Problem
from hexlet_core.fields import read_json
from hexlet_core.formats.board import board_svg
from hexlet_core.formats.netlist import NetlistDocument
from hexlet_core.formats.svg import schematic_svg
from hexlet_core.formats.tables import parts_csv, waves_csv
from hexlet_core.rehearsal.rehearse import waves_of
from hexlet_core.rehearsal.script import script_of
from ninja import Router
from notebook import actions as notebook
from pydantic import BaseModel
from workshop import actions

from .designs import opened
from .schemas import ImportIn, Opened

router = Router(tags=["exchange"])
LARGEST = 1_000_000  # characters in an imported file
SCHEMAS: dict[str, type[BaseModel]] = {
    "design": Document,
    "netlist": NetlistDocument,
    "script": Script,
    "plan": BoardPlan,
}


def attached(text: str, name: str, kind: str) -> HttpResponse:
    """A text as a file to be kept."""
    response = HttpResponse(text, content_type=f"{kind}; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.get("/designs/{design_id}/export/{what}", response={200: None})
def export(
    request: HttpRequest,
    design_id: UUID,
    what: Literal["design", "parts", "waves", "schematic", "board", "plan"],
) -> HttpResponse:
    """A design as a file."""
    design = actions.find(design_id)
    document = actions.document_of(design)
    here = study(document, drawer())
    stem = re.sub(r"[^a-z0-9]+", "-", design.name.lower()).strip("-") or "design"
    if what == "design":
        return attached(document.model_dump_json(indent=1) + "\n", f"{stem}.json", "application/json")
    if what == "parts":
        return attached(parts_csv(here.parts), f"{stem}-parts.csv", "text/csv")
    if what == "waves":
        return attached(waves_csv(waves_of(here, script_of(here)[0])), f"{stem}-waves.csv", "text/csv")
    if what in ("board", "plan"):
        plan = notebook.kept_plan(design)
        if plan is None:
            raise DocumentError(
                Problem("plan", "There is no plan yet. Open Build, and keep one by a step done.")
            )
        if what == "plan":
            return attached(plan.model_dump_json(indent=1) + "\n", f"{stem}-plan.json", "application/json")
        return attached(board_svg(viewed(here, plan).plan, design.name), f"{stem}-board.svg", "image/svg+xml")
    return attached(schematic_svg(here.drawing, design.name), f"{stem}.svg", "image/svg+xml")


@router.post("/import", response=Opened)
def bring_in(request: HttpRequest, body: ImportIn) -> Opened:
    """Bring a design file in; a broken or newer one changes nothing."""
    if len(body.text) > LARGEST:
        raise DocumentError(
            Problem(
                body.name,
                f"The file is larger than {LARGEST // 1000} kB, which no design is. Pick another file.",
            )
        )
    document = read_design(read_json(body.text))
    evaluate(study(document, drawer()))  # refuses a card that is not known here
    return opened(actions.create(document, f"Brought in from {body.name}"))


@router.get("/schema/{what}", response=dict[str, Any])
def schema(request: HttpRequest, what: Literal["design", "netlist", "script", "plan"]) -> dict[str, Any]:
    """The JSON Schema of a format."""
    found: dict[str, Any] = json.loads(json.dumps(SCHEMAS[what].model_json_schema()))
    return found
