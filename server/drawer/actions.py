"""The drawer as the core wants it."""

from __future__ import annotations

from hexlet_core.cards import Drawer, read_card

from .models import Item


def drawer() -> Drawer:
    """Own cards and stock, read once."""
    items = list(Item.objects.all())
    return Drawer(own={i.card_id: read_card(i.card) for i in items if i.card is not None}, stock={i.card_id: i.stock for i in items})


def put(card_id: str, stock: int, card: dict[str, object] | None = None) -> None:
    """Set how many there are of a card, adding it when new."""
    Item.objects.update_or_create(card_id=card_id, defaults={"stock": stock, "card": card})
