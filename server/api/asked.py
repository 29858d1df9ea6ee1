"""The document and the script that a question is about."""

from __future__ import annotations

from typing import NamedTuple

from drawer.actions import drawer
from hexlet_core.design.channels import together
from hexlet_core.design.document import changed, read_design
from hexlet_core.design.script import Script
from hexlet_core.design.study import Study, study
from hexlet_core.errors import Problem
from hexlet_core.fields import read_document
from hexlet_core.rehearsal.script import script_of

from .schemas import AnswerIn


class Asked(NamedTuple):
    """A question's study, its script, and what of a kept script the design has no place for any more."""

    here: Study
    script: Script
    left_out: tuple[Problem, ...]


def asked(body: AnswerIn) -> Asked:
    """The document with what is being tried, and the script to run."""
    design = read_design(body.document)
    if body.changes:
        design = changed(design, together(design, [(c.path, c.value) for c in body.changes]))
    here = study(design, drawer())
    wish = read_document(Script, body.script) if body.script is not None else None
    script, left_out = script_of(here, wish)
    return Asked(here, script, left_out)
