"""The givens as a sentence for each facet, put together from what the stages say of themselves."""

from __future__ import annotations

from collections.abc import Sequence

from ..stages.contract import View
from ..stages.wording import Say, Sentence, Word
from .document import Design

SUPPLIES = (
    ("lead-acid battery", "lead-acid"),
    ("lithium battery", "lithium"),
    ("bench supply", "bench"),
    ("adapter", "adapter"),
    ("rail", "borrowed rail"),
    ("transformer", "AC transformer"),
)


def sentences(design: Design, all_views: Sequence[View]) -> dict[str, Sentence]:
    """The sentence of each facet that has givens."""
    source, meter = Say(design.supply, "supply", design.origins), Say(design.meter, "meter", design.origins)
    volts = source.field("low", "typical", "high", note=f"{design.supply.word} low, typical, high")
    fed: Sentence = (
        Word(text="on"),
        source.field("kind", note="kind of supply", choices=SUPPLIES),
        Word(text="at"),
        volts,
    )
    if design.supply.kind == "rail":
        spare = (
            (Word(text="that can spare"), source.field("spare", note="besides what it feeds"))
            if design.supply.spare is not None
            else ()
        )
        fed = (*fed, *spare, Word(text="with a ripple of"), source.field("ripple"))
    if design.supply.kind in ("rail", "adapter", "transformer") or design.supply.lead > 0:
        fed = (*fed, Word(text="on leads of"), source.field("lead", note="both ways"))
    found: dict[str, Sentence] = {}
    phrases: dict[str, Sentence] = {}
    for k, (stage, view) in enumerate(zip(design.stages, all_views, strict=True)):
        say = Say(stage, f"stages.{k}", design.origins)
        phrases[stage.role] = stage.phrase(say)
        for facet, pieces in stage.givens(say, view, fed).items():
            found[facet] = found.get(facet, ()) + pieces
    found["drive"] = (
        Word(text="Switch a"),
        *phrases["load"],
        Word(text="on"),
        volts,
        Word(text="from a"),
        *phrases["signal"],
    )
    found["prove"] = (
        Word(text="The battery or supply reads as on the first rung; your meter has"),
        meter.field("resistance", note="input resistance"),
        Word(text="and is right within"),
        meter.field("accuracy", note="of the reading, 0.005 = 0.5%"),
    )
    return found
