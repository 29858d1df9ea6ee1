"""mend(design, verdict): the smallest change found that mends a failing verdict and breaks nothing else.

Tried in this order: a value its window suggests, all values of one stage, another part card, another
school of a guard,
another guard, another drive. Givens are facts and are never changed.
"""

from __future__ import annotations

from collections.abc import Iterator

from ..cards import Drawer
from ..errors import HexletError
from ..fields import Document
from ..quantity import show
from ..stages.findings import Change
from .choose import card_fields, guards_of, schools_of, sized, with_card
from .circuit import views
from .document import Design, changed
from .judge import verdicts_of


class Mend(Document):
    """What mends a verdict, in words, and the changes that do it."""

    text: str
    changes: tuple[Change, ...]


def _trials(design: Design, drawer: Drawer) -> Iterator[tuple[str, tuple[Change, ...]]]:
    pairs = list(zip(design.stages, views(design, drawer), strict=True))
    for stage, view in pairs:
        for found in stage.windows(view):
            if found.suggested is not None and found.suggested != found.present:
                yield (
                    f"{found.ref} {show(found.suggested, found.unit)}",
                    (Change(path=found.path, value=found.suggested),),
                )
    place = design.place("drive")
    if place is not None:
        data = sized(design, "drive", drawer).model_dump(mode="json")
        yield (
            "every resistor of the drive sized anew",
            (Change(path=f"stages.{place}", value=data["stages"][place]),),
        )
    cards = [
        (k, field, card)
        for k, field, kind in card_fields(design)
        if design.stages[k].role != "signal"
        for card in drawer.of(kind)
    ]
    for k, field, card in sorted(cards, key=lambda c: (drawer.count(c[2].id) == 0, c[2].price)):
        if getattr(design.stages[k], field) != card.id:
            yield card.title, (Change(path=f"stages.{k}.{field}", value=card.id),)
            trial = with_card(design, k, field, card.id)
            if design.stages[k].role == "drive":
                data = sized(trial, "drive", drawer).model_dump(mode="json")
                yield (
                    f"{card.title}, its resistors sized for it",
                    (Change(path=f"stages.{k}", value=data["stages"][k]),),
                )
    for k, (stage, view) in enumerate(pairs):
        for way in stage.ways(view):
            if getattr(stage, way.field) != way.value:
                yield way.title, (Change(path=f"stages.{k}.{way.field}", value=way.value),)
    for guard in guards_of(design, drawer):
        if not guard.in_use:
            yield f"{guard.title} added", guard.changes
    for school in schools_of(design, drawer, verdicts_of(design, drawer)):
        if not school.in_use and school.standing != "fails":
            yield f"{school.title} in place of {design.stages[place or 0].title}", school.changes


def mend(design: Design, drawer: Drawer, verdict: str) -> Mend | None:
    """The first change that makes a verdict pass and lets no other one fail; None where nothing was found."""
    before = {v.id: v.standing for v in verdicts_of(design, drawer)}
    if before.get(verdict) not in ("fails", "tight"):
        return None
    broken = {i for i, s in before.items() if s == "fails"}
    for text, changes in _trials(design, drawer):
        try:
            after = {
                v.id: v.standing
                for v in verdicts_of(changed(design, [(c.path, c.value) for c in changes]), drawer)
            }
        except HexletError:
            continue
        now = {i for i, s in after.items() if s == "fails"}
        was = before.get(verdict)
        better = verdict not in now and (was == "fails" or after.get(verdict, "fits") == "fits")
        if better and now <= broken:
            return Mend(text=text, changes=changes)
    return None
