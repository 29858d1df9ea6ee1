"""mend(study, verdict): the smallest change found that mends a failing verdict and breaks nothing else.

Tried in this order: a value its window suggests, all values of one block, another part card, another school
of a guard, another guard, another drive. Givens are facts and are never changed.
"""

from __future__ import annotations

from collections.abc import Iterator

from ..errors import HexletError
from ..fields import Document
from ..quantity import show
from ..stages.contract import Open
from ..stages.contract.stage import Schooled
from ..stages.say.checks import Change
from .choose import card_fields, with_card
from .document import Design
from .exchange import guards, offers, sized, tried
from .study import Study


class Mend(Document):
    """What mends a verdict, in words, and the changes that do it."""

    text: str
    changes: tuple[Change, ...]


def _stage_change(design: Design, block: str) -> Change:
    return Change(path=f"blocks.{block}", value=design.blocks[block].model_dump(mode="json"))


Trial = tuple[str, tuple[Change, ...]]


def _trials(here: Study) -> Iterator[Trial]:
    """What could be tried, the simplest first: a value, a part, another way, a guard, another drive."""
    yield from _values(here)
    yield from _cards(here)
    yield from _ways(here)
    yield from ((f"{g.title} added", g.changes) for g in guards(here) if not g.in_use)
    for block in here.design.of_role("drive"):
        for offer in offers(here, block):
            if not offer.in_use and offer.standing != "fails":
                yield f"{offer.title} in place of {here.design.blocks[block].title}", offer.changes


def _values(here: Study) -> Iterator[Trial]:
    for found in here.windows:
        if found.suggested is not None and found.suggested != found.present:
            text = f"{found.ref} {show(found.suggested, found.unit)}"
            yield text, (Change(path=found.path, value=found.suggested),)
    for block in here.design.of_role("drive"):
        trial = sized(here.design, block, here.drawer)
        yield "every resistor of the drive sized anew", (_stage_change(trial, block),)


def _cards(here: Study) -> Iterator[Trial]:
    design, drawer = here.design, here.drawer
    cards = [
        (block, field, card)
        for block, field, kind in card_fields(design)
        if design.blocks[block].role != "signal"
        for card in drawer.of(kind)
        if getattr(design.blocks[block], field) != card.id
    ]
    for block, field, card in sorted(cards, key=lambda c: (drawer.count(c[2].id) == 0, c[2].price)):
        yield card.title, (Change(path=f"blocks.{block}.{field}", value=card.id),)
        if design.blocks[block].role == "drive":
            trial = sized(with_card(design, block, field, card.id), block, drawer)
            yield f"{card.title}, its resistors sized for it", (_stage_change(trial, block),)


def _ways(here: Study) -> Iterator[Trial]:
    for stage, site in here.pairs:
        if isinstance(stage, Schooled):
            for way in stage.ways(site):
                if getattr(stage, way.field) != way.value:
                    yield way.title, (Change(path=site.path(way.field), value=way.value),)


def mend(here: Study, verdict: str) -> Mend | None:
    """The first change that makes a verdict pass and lets no other one fail; None where nothing was found."""
    before = {v.id: v.standing for v in here.verdicts}
    was = before.get(verdict)
    if was not in ("fails", "tight"):
        return None
    broken = {i for i, s in before.items() if s == "fails"}
    for text, changes in _trials(here):
        then = tried(here, changes)
        try:
            after = {v.id: v.standing for v in then.verdicts} if then is not None else None
        except (HexletError, Open):
            after = None
        if after is None or then is None or then.open:
            continue
        now = {i for i, s in after.items() if s == "fails"}
        better = verdict not in now and (was == "fails" or after.get(verdict, "fits") == "fits")
        if better and now <= broken:
            return Mend(text=text, changes=changes)
    return None
