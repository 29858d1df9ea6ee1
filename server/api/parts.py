"""The parts drawer: cards, stock, where they are used, files in and out; and what would do in a design."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from drawer import actions
from drawer.models import Item, Shuffle
from hexlet_core.cards import catalogue, read_card
from hexlet_core.cards.bench import curve, given_back
from hexlet_core.cards.card import AnyCard
from hexlet_core.cards.labels import label
from hexlet_core.design.choose import Shortlist, cards_named, shortlist
from hexlet_core.design.document import read_design
from hexlet_core.design.mend import Mends, mends
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError, HexletError, Problem
from hexlet_core.fields import Q
from hexlet_core.formats.cards import Row, cards_csv, cards_json, read_rows
from hexlet_core.quantity import show
from hexlet_core.stages.drawing import SYMBOLS
from ninja import Router
from workshop.models import Design

from .schemas import (
    CardField,
    CardIn,
    CardOut,
    DrawerOut,
    ImportIn,
    MendIn,
    RowsIn,
    ShortlistIn,
    StockIn,
    StockRow,
)

router = Router(tags=["drawer"])
LARGEST = 1_000_000  # characters in an imported file


# The symbol that stands for each kind of card in the list.
MARKS = {
    "resistor": "resistor",
    "potentiometer": "resistor",
    "capacitor": "capacitor",
    "n_mosfet": "n_mosfet",
    "p_mosfet": "p_mosfet",
    "npn": "npn",
    "pnp": "pnp",
    "diode": "diode",
    "zener": "zener",
    "bridge": "bridge",
    "led": "led",
    "relay": "coil",
    "optocoupler": "optocoupler",
    "fuse": "fuse",
    "lamp": "lamp",
    "motor": "motor",
    "module": "module",
    "buzzer": "buzzer",
    "timer": "board",
    "counter": "board",
    "comparator": "gate_input",
    "thyristor": "diode",
}


def _used() -> dict[str, list[str]]:
    """Names of the designs that use each card."""
    found: dict[str, list[str]] = {}
    for design in Design.objects.filter(deleted__isnull=True).select_related("current"):
        for card in _cards_of(json.dumps(design.revision.document)):
            found.setdefault(card, []).append(design.name)
    return found


@lru_cache(2000)
def _cards_of(document: str) -> frozenset[str]:
    """The cards that a document's parts name, there or not; none where it cannot be read."""
    try:
        here = study(read_design(json.loads(document)))
        return frozenset(cards_named(here))
    except HexletError:
        return frozenset()


def _drawer() -> DrawerOut:
    found, used = actions.drawer(), _used()
    last = Shuffle.objects.first()
    rows = [
        StockRow(
            id=c.id,
            kind=c.kind,
            title=c.title,
            brief=c.brief,
            legs=list(c.legs),
            price=c.price,
            stock=found.count(c.id),
            own=c.id in found.own,
            used=used.get(c.id, []),
        )
        for c in sorted(found.cards.values(), key=lambda c: (c.kind, getattr(c, "value", 0.0), c.title))
    ]
    return DrawerOut(
        cards=rows,
        glyphs={kind: list(SYMBOLS[name].shapes) for kind, name in MARKS.items()},
        undo=last.label if last else "",
    )


@router.get("/drawer", response=DrawerOut)
def stock(request: HttpRequest) -> DrawerOut:
    """Every known card, how many there are, and which designs use it."""
    return _drawer()


def _fields(card: AnyCard) -> list[CardField]:
    """A card's fields in order, each with its unit and value as text; fields inside fields are named with
    points.
    """

    def walk(model: Any, path: str) -> list[CardField]:
        out = []
        for name, info in type(model).model_fields.items():
            value, where = getattr(model, name), f"{path}{name}"
            if name in ("id", "kind", "title", "price", "legs", "face", "package"):
                continue
            quantity = next((m for m in info.metadata if isinstance(m, Q)), None)
            if hasattr(value, "model_fields"):
                out += walk(value, f"{where}.")
            elif isinstance(value, tuple):
                out += [
                    f
                    for k, v in enumerate(value)
                    if hasattr(v, "model_fields")
                    for f in walk(v, f"{where}.{k}.")
                ]
            elif isinstance(value, dict):
                out += [f for k, v in value.items() for f in walk(v, f"{where}.{k}.")]
            elif isinstance(value, float):
                out.append(
                    CardField(
                        path=where,
                        title=label(where),
                        unit=quantity.unit if quantity else "",
                        text=show(value, quantity.unit if quantity else "", 4),
                    )
                )
            else:
                out.append(
                    CardField(
                        path=where,
                        title=label(where),
                        unit="",
                        text=""
                        if value is None
                        else str(value).lower()
                        if isinstance(value, bool)
                        else str(value),
                    )
                )
        return out

    return walk(card, "")


@router.get("/cards/{card_id}", response=CardOut)
def card(request: HttpRequest, card_id: str) -> CardOut:
    """One card: its fields, what its model gives back, its curve, and where it is used."""
    found = actions.drawer()
    if card_id not in found.cards:
        raise DocumentError(Problem("id", "There is no such part card.", got=card_id))
    one = found.cards[card_id]
    return CardOut(
        card=one.model_dump(mode="json"),
        fields=_fields(one),
        stock=found.count(card_id),
        own=card_id in found.own,
        used=_used().get(card_id, []),
        back=list(given_back(one)),
        curve=curve(one),
    )


@router.put("/cards/{card_id}", response=DrawerOut)
def save(request: HttpRequest, card_id: str, body: CardIn) -> DrawerOut:
    """Keep an own card, new or edited; a contradiction is refused at its field."""
    one = read_card({**body.card, "id": card_id})
    found = actions.drawer()
    actions.change(
        f"{one.title} kept",
        [(card_id, found.count(card_id) if body.stock is None else body.stock, one.model_dump(mode="json"))],
    )
    return _drawer()


@router.post("/cards/{card_id}/stock", response=DrawerOut)
def count(request: HttpRequest, card_id: str, body: StockIn) -> DrawerOut:
    """Set how many there are."""
    found = actions.drawer()
    if card_id not in found.cards:
        raise DocumentError(Problem("id", "There is no such part card.", got=card_id))
    own = found.own.get(card_id)
    actions.change(
        f"{found.cards[card_id].title}: {body.stock}",
        [(card_id, body.stock, own.model_dump(mode="json") if own else None)],
    )
    return _drawer()


@router.delete("/cards/{card_id}", response=DrawerOut)
def remove(request: HttpRequest, card_id: str) -> DrawerOut:
    """Take an own card out; one that a design uses stays."""
    if card_id in catalogue() or not Item.objects.filter(card_id=card_id).exists():
        raise DocumentError(Problem("id", "Only a card of your own can be taken out.", got=card_id))
    users = _used().get(card_id, [])
    if users:
        raise DocumentError(
            Problem("id", f"{users[0]} uses it. Choose another part there first.", got=card_id)
        )
    actions.change(f"{card_id} taken out", [], gone=[card_id])
    return _drawer()


@router.post("/drawer/undo", response=DrawerOut)
def undo(request: HttpRequest) -> DrawerOut:
    """Take the newest change of the drawer back."""
    actions.undo()
    return _drawer()


@router.post("/drawer/read", response=list[Row])
def read(request: HttpRequest, body: ImportIn) -> list[Row]:
    """Read a file of cards row by row; nothing is saved."""
    if len(body.text) > LARGEST:
        raise DocumentError(Problem(body.name, f"The file is larger than {LARGEST // 1000} kB. Split it."))
    return list(read_rows(body.text, body.name, actions.drawer()))


@router.post("/drawer/rows", response=DrawerOut)
def bring_in(request: HttpRequest, body: RowsIn) -> DrawerOut:
    """Keep the rows that were read and confirmed, all at once."""
    known = actions.drawer()
    wanted: list[tuple[str, int, dict[str, Any] | None]] = []
    for k, row in enumerate(body.rows):
        one = read_card(row.card)
        if any(one.id == other for other, _, _ in wanted):
            raise DocumentError(
                Problem(f"rows[{k}].card.id", "Another row has this card already.", got=one.id)
            )
        own = None if one.id in catalogue() and one == catalogue()[one.id] else one.model_dump(mode="json")
        wanted.append((one.id, row.stock, own))
    actions.change(
        f"{len(wanted)} rows of {body.name}",
        [w for w in wanted if known.cards.get(w[0]) is not None or w[2] is not None],
    )
    return _drawer()


@router.get("/drawer/export/{what}", response={200: None})
def export(request: HttpRequest, what: Literal["csv", "json"]) -> HttpResponse:
    """Own cards and everything in stock, as a file that can be read back."""
    found = actions.drawer()
    cards = [c for c in found.cards.values() if c.id in found.own or found.count(c.id)]
    text = cards_csv(found, cards) if what == "csv" else cards_json(found, cards)
    response = HttpResponse(
        text, content_type=f"{'text/csv' if what == 'csv' else 'application/json'}; charset=utf-8"
    )
    response["Content-Disposition"] = f'attachment; filename="drawer.{what}"'
    return response


@router.post("/shortlist", response=Shortlist)
def what_would_do(request: HttpRequest, body: ShortlistIn) -> Shortlist:
    """The cards for one field of a design, each judged in it."""
    here = study(read_design(body.document), actions.drawer())
    _, block, field = body.path.split(".") if body.path.count(".") == 2 else ("", "", "")
    if block not in here.design.blocks or field not in here.design.blocks[block].cards:
        raise DocumentError(Problem("path", "No part card belongs there.", got=body.path))
    return shortlist(here, block, field)


@router.post("/mends", response=Mends)
def what_mends(request: HttpRequest, body: MendIn) -> Mends:
    """What mends a verdict and breaks nothing else, the best first; and what does not mend it."""
    return mends(study(read_design(body.document), actions.drawer()), body.verdict)
