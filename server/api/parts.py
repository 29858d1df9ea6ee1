"""The parts drawer, as a list."""

from __future__ import annotations

from django.http import HttpRequest
from drawer.actions import drawer
from ninja import Router

from .schemas import StockRow

router = Router(tags=["drawer"])


@router.get("/drawer", response=list[StockRow])
def stock(request: HttpRequest) -> list[StockRow]:
    """Every known card with how many there are."""
    found = drawer()
    return [
        StockRow(id=c.id, kind=c.kind, title=c.title, stock=found.count(c.id), price=c.price, own=c.id in found.own)
        for c in sorted(found.cards.values(), key=lambda c: (c.kind, c.title))
    ]
