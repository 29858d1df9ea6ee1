"""Part cards in a design: which fields name one, which are in use, and which others would do."""

from __future__ import annotations

from ..cards.card import Card
from ..errors import HexletError
from ..fields import Document
from ..stages.contract import Stage
from ..stages.say.checks import Change, Standing, worst_of
from .document import Design
from .exchange import costs_of, note_of
from .study import Study


class Listed(Document):
    """A part card that could take a place: how its design would stand, and what breaks."""

    card: str
    title: str
    brief: str
    in_use: bool
    stock: int
    standing: Standing
    note: str
    failing: tuple[str, ...]
    drop: float | None
    heat: float | None
    gate: float | None
    package: str
    price: float
    changes: tuple[Change, ...]


class Shortlist(Document):
    """The cards for one field, those that pass first."""

    path: str
    title: str
    rows: tuple[Listed, ...]


class CardUse(Document):
    """A field of the design that names a part card, and the card in it."""

    path: str
    block: str
    title: str
    card: str
    card_title: str
    role: str


def card_fields(design: Design) -> list[tuple[str, str, type[Card]]]:
    """Every field of the design that names a part card, as block, field and kind of card."""
    return [(id, field, kind) for id, stage in design.blocks.items() for field, kind in stage.cards.items()]


def part_title(stage: Stage, field: str) -> str:
    """What a card field is called: the block's title, and which of its parts."""
    return stage.title if field == "card" else f"{stage.title}, {field.replace('_', ' ')}"


def cards_named(here: Study) -> set[str]:
    """The ids of the cards that the parts really fitted name, those that are not in the drawer too."""
    return {getattr(here.design.blocks[use.block], use.path.rpartition(".")[2]) for use in uses(here)}


def uses(here: Study) -> tuple[CardUse, ...]:
    """The fields whose cards are really fitted."""
    fitted = {(id, p.field) for id, _, p in here.placed if p.card is not None}
    found = []
    for id, field, _ in card_fields(here.design):
        if (id, field) not in fitted:
            continue
        stage = here.design.blocks[id]
        card = here.drawer.cards.get(getattr(stage, field))
        found.append(
            CardUse(
                path=f"blocks.{id}.{field}",
                block=id,
                title=part_title(stage, field),
                card=card.id if card else "",
                card_title=card.title if card else "",
                role=stage.role,
            )
        )
    return tuple(found)


def shortlist(here: Study, block: str, field: str) -> Shortlist:
    """All cards that fit a field, each judged in this design; those that pass first, then by price.

    Raises:
        KeyError: the block has no such field.
    """
    stage = here.design.blocks[block]
    kind, path = stage.cards[field], f"blocks.{block}.{field}"
    rows = []
    for card in here.drawer.of(kind):
        then = Study(with_card(here.design, block, field, card.id), here.drawer)
        try:
            verdicts = then.verdicts
        except HexletError:
            continue
        broken = [v for v in verdicts if v.standing == "fails"]
        costs = {c.title: c.value for c in costs_of(then, block)} if stage.role == "drive" else {}
        lowest = getattr(card, "lowest_on", None)
        rows.append(
            Listed(
                card=card.id,
                title=card.title,
                brief=card.brief,
                in_use=getattr(stage, field) == card.id,
                stock=here.drawer.count(card.id),
                standing=worst_of(v.standing for v in verdicts),
                note=note_of(verdicts),
                failing=tuple(f"{v.title}: {v.sentence}" for v in broken),
                drop=costs.get("drop"),
                heat=costs.get("heat"),
                gate=lowest.v_gs if lowest is not None else None,
                package=card.package or f"{len(card.legs)} legs",
                price=card.price,
                changes=(Change(path=path, value=card.id),),
            )
        )
    rows.sort(key=lambda r: (r.standing == "fails", r.price))
    return Shortlist(path=path, title=part_title(stage, field), rows=tuple(rows))


def with_card(design: Design, block: str, field: str, card: str) -> Design:
    """The design with one card exchanged."""
    stage = design.blocks[block].model_copy(update={field: card})
    return design.model_copy(update={"blocks": {**design.blocks, block: stage}})
