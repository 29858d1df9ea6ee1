"""What can be done to designs. Each action is one transaction and leaves its mark in the history."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone
from hexlet_core.design.channels import together
from hexlet_core.design.compare import differences, summary
from hexlet_core.design.document import Design as Document
from hexlet_core.design.document import changed, read_design
from hexlet_core.errors import Problem

from .models import Design, Revision


class NotThere(Exception):
    """There is no such design, or it is deleted."""


class Stale(Exception):
    """A save was based on an older state; carries the state in force."""

    def __init__(self, design: Design, mine: Document) -> None:
        self.design = design
        self.mine = mine
        self.differences = differences(mine, document_of(design))
        super().__init__("stale")


class NameTaken(Exception):
    """Another design has this name."""

    def __init__(self, name: str, free: str) -> None:
        self.problem = Problem("name", "Another design has this name.", got=name, suggestion=free)
        super().__init__(name)


def find(design_id: UUID, *, deleted: bool = False) -> Design:
    """A design by id.

    Raises: NotThere.
    """
    found = Design.objects.select_related("current").filter(id=design_id, deleted__isnull=not deleted).first()
    if found is None:
        raise NotThere
    return found


def document_of(design: Design) -> Document:
    """The document in force, under the design's own name: what it was called at that revision may be taken.

    Raises: DocumentError.
    """
    return read_design(design.revision.document).model_copy(update={"name": design.name})


def free_name(name: str) -> str:
    """`name`, or with the next number behind it when it is taken."""
    taken = set(Design.objects.filter(deleted__isnull=True).values_list("name", flat=True))
    stem, number = re.sub(r" \d+$", "", name)[:74], 2
    while name in taken:
        name, number = f"{stem} {number}", number + 1
    return name


@transaction.atomic
def create(document: Document, label: str = "Started", *, name: str | None = None) -> Design:
    """A new design with its first revision; a taken name gets a number."""
    document = document.model_copy(update={"name": free_name(name or document.name)})
    design = Design.objects.create(name=document.name)
    _revise(design, document, label)
    return design


def _revise(design: Design, document: Document, label: str) -> None:
    last = design.revisions.order_by("-number").first()
    design.current = Revision.objects.create(
        design=design,
        number=(last.number if last else 0) + 1,
        parent=design.current,
        document=document.model_dump(mode="json"),
        label=label[:120],
    )
    design.name = document.name
    design.stamp += 1
    design.save()


@transaction.atomic
def save(design_id: UUID, data: Any, stamp: int, label: str) -> Design:
    """A new revision on top of the state that `stamp` names.

    Raises: NotThere, Stale, NameTaken, DocumentError.
    """
    document = read_design(data)
    design = find(design_id)
    if design.stamp != stamp:
        raise Stale(design, document)
    return _taken(design, document, label)


def _taken(design: Design, document: Document, label: str) -> Design:
    """The design with a document as its newest revision, if that changes anything."""
    before = document_of(design)
    if document.name != design.name:
        free = free_name(document.name)
        if free != document.name:
            raise NameTaken(document.name, free)
    if document != before:
        _revise(design, document, label or summary(before, document))
    return design


@transaction.atomic
def change(design_id: UUID, changes: Sequence[tuple[str, Any]], stamp: int, label: str) -> Design:
    """A new revision with some fields changed, all of them or none, on top of the state that `stamp` names.

    Raises: NotThere, Stale, NameTaken, DocumentError.
    """
    design = find(design_id)
    before = document_of(design)
    document = changed(before, together(before, changes))
    if design.stamp != stamp:
        raise Stale(design, document)
    return _taken(design, document, label)


@transaction.atomic
def step(design_id: UUID, direction: int) -> Design:
    """Undo (−1) or redo (+1) one revision; does nothing at either end.

    Raises: NotThere.
    """
    design = find(design_id)
    target = design.revision.parent if direction < 0 else design.revision.children.order_by("-number").first()
    if target is not None:
        design.current = target
        name = target.document["name"]
        design.name = name if name == design.name else free_name(name)
        design.stamp += 1
        design.save()
    return design


@transaction.atomic
def delete(design_id: UUID) -> Design:
    """Take a design off the shelf; `restore` brings it back."""
    design = find(design_id)
    design.deleted = timezone.now()
    design.save()
    return design


@transaction.atomic
def restore(design_id: UUID) -> Design:
    """Put a deleted design back; its name gets a number when it was taken meanwhile."""
    design = find(design_id, deleted=True)
    design.deleted = None
    design.name = free_name(design.name)
    design.save()
    return design
