"""The document and the script that a question is about."""

from __future__ import annotations

from drawer.actions import drawer
from hexlet_core.design.channels import together
from hexlet_core.design.document import changed, read_design
from hexlet_core.design.study import Study, study
from hexlet_core.fields import read_document
from hexlet_core.rehearsal.script import Script, presets

from .schemas import AnswerIn


def asked(body: AnswerIn) -> tuple[Study, Script]:
    """The document with what is being tried, and the script to run."""
    design = read_design(body.document)
    if body.changes:
        design = changed(design, together(design, [(c.path, c.value) for c in body.changes]))
    here = study(design, drawer())
    return here, read_document(Script, body.script) if body.script is not None else presets(here)[0]
