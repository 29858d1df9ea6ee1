"""Part cards, the shipped catalogue of generic archetypes, and the drawer a design is sized from."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cache, cached_property
from importlib.resources import files
from typing import TypeVar

from pydantic import ValidationError

from ..errors import DocumentError, EntryError, Problem
from ..fields import as_problem, read_json
from ..quantity import show_part
from .card import CARD_ADAPTER, AnyCard, CapacitorCard, Card, ResistorCard

C = TypeVar("C", bound=Card)
VALUED: dict[str, type[ResistorCard] | type[CapacitorCard]] = {"Ω": ResistorCard, "F": CapacitorCard}


def read_card(data: object) -> AnyCard:
    """A card from plain data.

    Raises:
        DocumentError: a number is missing, out of range, or contradicts another.
    """
    try:
        card = CARD_ADAPTER.validate_python(data)
    except ValidationError as error:
        found = [as_problem(e, data) for e in error.errors(include_url=False)]
        # A list that is too short because its items were refused needs no word of its own.
        raise DocumentError(
            *(
                p
                for p in found
                if not any(o is not p and p.field and o.field.startswith(f"{p.field}[") for o in found)
            )
        ) from None

    _modelled(card)
    return card


def _modelled(card: AnyCard) -> None:
    """Refuse a card from which no model can be made, or one outside its device's bounds."""
    from .derive import RULES

    device, rule = RULES[card.kind]
    try:
        params = rule(card)
    except (ValueError, ZeroDivisionError, OverflowError):
        raise DocumentError(
            Problem(
                "",
                (
                    "No model gives all these numbers back: they contradict each other. Check them against "
                    "the sheet."
                ),
            )
        ) from None
    for name, value in params.items():
        if isinstance(value, float):
            try:
                device.check_value(name, value)
            except EntryError as error:
                words = (
                    f"With these numbers the model's {name.replace('_', ' ')} would be out of reach: "
                    f"{error.problem.message}"
                )
                raise DocumentError(Problem("", f"{words} Check them against the sheet.")) from None


@cache
def catalogue() -> Mapping[str, AnyCard]:
    """The shipped archetypes by id."""
    cards = (read_card(c) for c in read_json(files(__name__).joinpath("catalogue.json").read_text("utf-8")))
    return {c.id: c for c in cards}


@dataclass(frozen=True)
class Drawer:
    """What the user owns: cards by id, and how many of each. Catalogue cards are always known."""

    own: Mapping[str, AnyCard] = field(default_factory=dict)
    stock: Mapping[str, int] = field(default_factory=dict)

    @cached_property
    def cards(self) -> Mapping[str, AnyCard]:
        return {**catalogue(), **self.own}

    @cached_property
    def stamp(self) -> str:
        """A digest of what it holds: two drawers with the same stamp are alike."""
        held = {k: self.own[k].model_dump(mode="json") for k in sorted(self.own)}
        return hashlib.sha256(json.dumps([held, sorted(self.stock.items())]).encode()).hexdigest()

    def card(self, card_id: str, kind: type[C], field_name: str = "card") -> C:
        """A card of a wanted kind.

        Raises:
            DocumentError: there is no such card, or it is of another kind.
        """
        found = self.cards.get(card_id)
        if found is None:
            raise DocumentError(
                Problem(field_name, "There is no such part card. Pick one from the drawer.", got=card_id)
            )
        if not isinstance(found, kind):
            raise DocumentError(
                Problem(field_name, f"This card is a {found.kind}, which does not go here.", got=card_id)
            )
        return found

    def of(self, kind: type[C]) -> list[C]:
        """All known cards of a kind."""
        return [c for c in self.cards.values() if isinstance(c, kind)]

    def count(self, card_id: str) -> int:
        return self.stock.get(card_id, 0)

    def values(self, unit: str) -> dict[float, int]:
        """Values of plain parts owned, resistors for "Ω" and capacitors for "F", and how many."""
        found: dict[float, int] = {}
        if unit in VALUED:
            for card in self.of(VALUED[unit]):
                if self.count(card.id):
                    found[card.value] = found.get(card.value, 0) + self.count(card.id)
        return found

    def resistors(self) -> dict[float, int]:
        """Resistor values owned [Ω] and how many."""
        return self.values("Ω")


def resistor_cards(values: Iterable[float]) -> list[ResistorCard]:
    """Plain 1 % quarter-watt resistor cards for a list of values [Ω]."""
    return [
        ResistorCard(
            id=f"r-{show_part(v).lower().replace('m', 'meg')}",
            title=f"Resistor {show_part(v)} 1 %",
            value=v,
            tolerance=0.01,
        )
        for v in values
    ]
