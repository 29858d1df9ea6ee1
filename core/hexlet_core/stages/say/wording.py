"""Givens as a sentence: words and fields in reading order.

A field names its path in the document; the view turns it into something to type in. Stages say their own
pieces (`Stage.phrase`, `Stage.givens`) with a `Say`; `design.sentences` puts them together.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import BaseModel

from ...fields import Document, quantity_of
from ...quantity import show

Origin = Literal["measured", "rated", "limit", "assumed", "wanted", "given"]
ORIGIN_WORDS: dict[Origin, str] = {
    "measured": "measured",
    "rated": "on its case",
    "limit": "pin limit",
    "assumed": "assumed",
    "wanted": "wanted",
    "given": "given",
}


class Word(Document):
    """Plain words between fields."""

    type: Literal["word"] = "word"
    text: str


class Field(Document):
    """One value in the sentence; several `paths` are typed with slashes between."""

    type: Literal["field"] = "field"
    paths: tuple[str, ...]
    text: str
    unit: str
    note: str
    origin: Origin
    choices: tuple[tuple[str, str], ...] = ()


Sentence = tuple[Word | Field, ...]


class Say:
    """Makes fields of one model's values; `prefix` is where the model stands in the document."""

    def __init__(self, owner: BaseModel, prefix: str, origins: Mapping[str, Origin]) -> None:
        self.owner, self.prefix, self.origins = owner, prefix, origins

    def field(
        self, *names: str, note: str = "", origin: Origin = "given", choices: tuple[tuple[str, str], ...] = ()
    ) -> Field:
        """One or more of the model's fields as a place to type in."""
        quantity = quantity_of(type(self.owner), names[0])
        unit = quantity.unit if quantity is not None else ""
        values = [getattr(self.owner, name) for name in names]
        paths = tuple(f"{self.prefix}.{name}" for name in names)
        kept = self.origins.get(paths[0], origin)
        usual = type(self.owner).model_fields[names[0]].default
        if kept == "wanted" and paths[0] not in self.origins and values[0] == usual:
            note = note or "not asked"
        if choices:
            text = dict(choices).get(str(values[0]), str(values[0]))
        elif all(isinstance(v, float) for v in values):
            shown = [show(v, unit) for v in values]
            text = (
                " / ".join([*(s.rsplit(" ", 1)[0] for s in shown[:-1]), shown[-1]])
                if len(shown) > 1
                else shown[0]
            )
        else:
            text = "none" if values[0] is None else str(values[0])
        return Field(
            paths=paths, text=text, unit=unit, note=note or ORIGIN_WORDS[kept], origin=kept, choices=choices
        )


def inside(title: str) -> str:
    """A title as it stands inside a sentence: "relay coil", but "N-MOSFET, low side" and "AC bridge"."""
    return title if title[:2].isupper() or title[1:2] == "-" else title[0].lower() + title[1:]
