"""The givens as a sentence: words and fields in reading order, one sentence a facet.

A field names its path in the document; the view turns it into something to type in.
"""

from __future__ import annotations

from typing import Literal

from ..fields import Document, Q
from ..quantity import show
from .document import Design, Origin


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
ORIGIN_WORDS: dict[str, str] = {
    "measured": "measured", "rated": "on its case", "limit": "pin limit", "assumed": "assumed", "wanted": "wanted", "given": "given",
}  # fmt: skip


def _unit(design: Design, path: str) -> str:
    model: object = design
    *parents, last = path.split(".")
    for step in parents:
        model = model[int(step)] if isinstance(model, tuple) else getattr(model, step)
    info = type(model).model_fields[last]  # type: ignore[attr-defined]
    return next((m.unit for m in info.metadata if isinstance(m, Q)), "")


def _value(design: Design, path: str) -> object:
    model: object = design
    for step in path.split("."):
        model = model[int(step)] if isinstance(model, tuple) else getattr(model, step)
    return model


def _field(design: Design, *paths: str, note: str = "", origin: Origin = "given", choices: tuple[tuple[str, str], ...] = ()) -> Field:
    unit = _unit(design, paths[0])
    values = [_value(design, p) for p in paths]
    kept = design.origins.get(paths[0], origin)
    if choices:
        text = dict(choices).get(str(values[0]), str(values[0]))
    elif all(isinstance(v, float) for v in values):
        shown = [show(v, unit) for v in values if isinstance(v, float)]
        text = " / ".join([*(s.rsplit(" ", 1)[0] for s in shown[:-1]), shown[-1]]) if len(shown) > 1 else shown[0]
    else:
        text = str(values[0])
    return Field(paths=paths, text=text, unit=unit, note=note or ORIGIN_WORDS[kept], origin=kept, choices=choices)


def sentences(design: Design) -> dict[str, Sentence]:
    """The sentence of each facet that has givens."""
    load, guard, signal = (design.place(r) for r in ("load", "guard", "signal"))
    supply = _field(design, "supply.low", "supply.typical", "supply.high", note=f"{design.supply.word} low, typical, high")
    noun = (
        "coil"
        if getattr(design.stages[load or 0], "kind", "") == "relay_coil"
        else getattr(design.stages[load or 0], "name", "load").lower()
    )
    resistance = _field(design, f"stages.{load}.resistance")
    found: dict[str, Sentence] = {
        "drive": (
            Word(text="Switch a"), resistance, Word(text=f"{noun} on"), supply, Word(text="from a"),
            _field(design, f"stages.{signal}.level", note="logic pin"), Word(text="that gives"),
            _field(design, f"stages.{signal}.steady", note="steady", origin="limit"), Word(text="or"),
            _field(design, f"stages.{signal}.burst", note="in bursts", origin="limit"),
        ),
        "behave": (
            Word(text="The load follows the pin. While the pin boots it is"),
            _field(design, f"stages.{signal}.boot", note="boot state", choices=(("floating", "floating"), ("pull-up", "pulled up"), ("pull-down", "pulled down"))),
            Word(text="by"), _field(design, f"stages.{signal}.boot_resistance", note="its own resistor"),
        ),
        "prove": (
            Word(text="The battery or supply reads as on the first rung; your meter has"), _field(design, "meter.resistance", note="input resistance"),
            Word(text="and is right within"), _field(design, "meter.accuracy", note="of the reading, 0.005 = 0.5%"),
        ),
    }  # fmt: skip
    kinds = (
        ("lead-acid battery", "lead-acid"),
        ("lithium battery", "lithium"),
        ("bench supply", "bench"),
        ("adapter", "adapter"),
        ("rail", "rail"),
    )
    fed = (Word(text="on"), _field(design, "supply.kind", note="kind of supply", choices=kinds), Word(text="at"), supply)
    if noun == "coil":
        found["load"] = (
            Word(text="A coil of"), resistance, Word(text="marked"), _field(design, f"stages.{load}.rated", note="on its case"), Word(text="hottest"),
            _field(design, f"stages.{load}.hottest", origin="assumed"), *fed,
        )  # fmt: skip
        if guard is not None:
            found["guard"] = (
                Word(text="When the pin drops, the contact opens within"), _field(design, f"stages.{guard}.release_within", origin="wanted"),
                Word(text="and the coil's time constant is"), _field(design, f"stages.{load}.time_constant", origin="assumed"),
            )  # fmt: skip
    else:
        found["load"] = (
            Word(text="A"), _field(design, f"stages.{load}.name", note="what it is"), Word(text="of"), resistance, Word(text="that stands"),
            _field(design, f"stages.{load}.power", note="rated"), *fed,
        )  # fmt: skip
    return found


__all__ = ["Field", "Sentence", "Word", "sentences"]
