"""The drawer as the core wants it, and what can be done to it. Each change is one transaction and can be
taken back.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db import transaction
from hexlet_core.build.boards import OWNED, Board
from hexlet_core.cards import Drawer, catalogue, read_card
from hexlet_core.errors import DocumentError, Problem

from .models import Item, OwnBoard, Shuffle

KEPT = 50  # changes that can be taken back


def drawer() -> Drawer:
    """Own cards and stock, read once."""
    items = list(Item.objects.all())
    return Drawer(
        own={i.card_id: read_card(i.card) for i in items if i.card is not None},
        stock={i.card_id: i.stock for i in items},
    )


def boards() -> tuple[Board, ...]:
    """The boards that are owned; the usual two where nobody said."""
    rows = OwnBoard.objects.all()
    found = tuple(Board.model_validate({"positions": r.positions, "rails": r.rails}) for r in rows)
    return found or OWNED


@transaction.atomic
def own_boards(owned: Iterable[Board]) -> None:
    """Say which boards are owned."""
    OwnBoard.objects.all().delete()
    OwnBoard.objects.bulk_create(OwnBoard(positions=b.positions, rails=b.rails) for b in owned)


def put(card_id: str, stock: int, card: dict[str, object] | None = None) -> None:
    """Set how many there are of a card, adding it when new."""
    Item.objects.update_or_create(card_id=card_id, defaults={"stock": stock, "card": card})


@transaction.atomic
def change(
    label: str, wanted: Iterable[tuple[str, int, dict[str, Any] | None]], *, gone: Iterable[str] = ()
) -> None:
    """Set cards and stock, remove others, and remember what was there.

    Raises: DocumentError when an own card takes an archetype's id.
    """
    rows, removed = list(wanted), list(gone)
    touched = [card_id for card_id, _, _ in rows] + removed
    there = {i.card_id: {"stock": i.stock, "card": i.card} for i in Item.objects.filter(card_id__in=touched)}
    Shuffle.objects.create(label=label[:120], before={card_id: there.get(card_id) for card_id in touched})
    for card_id, stock, card in rows:
        if card is not None and card_id in catalogue():
            raise DocumentError(
                Problem(
                    "id",
                    "This is an archetype's id. Give your own card an id of its own.",
                    got=card_id,
                    suggestion=f"my-{card_id}",
                )
            )
        put(card_id, stock, card)
    Item.objects.filter(card_id__in=removed).delete()
    for old in Shuffle.objects.all()[KEPT:]:
        old.delete()


@transaction.atomic
def undo() -> str:
    """Take the newest change back; its label, or nothing when there is none."""
    last = Shuffle.objects.first()
    if last is None:
        return ""
    for card_id, was in last.before.items():
        if was is None:
            Item.objects.filter(card_id=card_id).delete()
        else:
            put(card_id, was["stock"], was["card"])
    last.delete()
    return last.label
