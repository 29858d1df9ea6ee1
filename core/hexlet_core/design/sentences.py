"""The givens as a sentence for each facet, put together from what the stages say of themselves."""

from __future__ import annotations

from ..stages.contract import Load, Open, Signal
from ..stages.contract.stage import Spoken
from ..stages.say.wording import Say, Sentence, Word, inside
from .channels import Channel, lines
from .document import Design
from .study import Study

RESTS = (("off", "off"), ("on", "on"))
SUPPLIES = (
    ("lead-acid battery", "lead-acid"),
    ("lithium battery", "lithium"),
    ("bench supply", "bench"),
    ("adapter", "adapter"),
    ("rail", "borrowed rail"),
    ("transformer", "AC transformer"),
)


def _fed(design: Design) -> tuple[Sentence, Sentence]:
    """The supply as pieces of a sentence: its volts, and all of it."""
    source = Say(design.supply, "supply", design.origins)
    volts = source.field("low", "typical", "high", note=f"{design.supply.word} low, typical, high")
    fed: Sentence = (
        Word(text="on"),
        source.field("kind", note="kind of supply", choices=SUPPLIES),
        Word(text="at"),
        volts,
    )
    if design.supply.kind == "rail":
        if design.supply.spare is not None:
            fed = (*fed, Word(text="that can spare"), source.field("spare", note="besides what it feeds"))
        fed = (*fed, Word(text="with a ripple of"), source.field("ripple"))
    if design.supply.kind in ("rail", "adapter", "transformer") or design.supply.lead > 0:
        fed = (*fed, Word(text="on leads of"), source.field("lead", note="both ways"))
    return (volts,), fed


def sentences(here: Study, opened: Channel | None = None) -> dict[str, Sentence]:
    """The sentence of each facet that has givens. Several blocks' pieces follow each other; those of other
    channels than the open one are left out.
    """
    hidden = {b for _, blocks in lines(here.design) for b in blocks} if opened else set()
    hidden -= set(opened.blocks) if opened else set()
    design = here.design
    volts, fed = _fed(design)
    found: dict[str, Sentence] = {}
    loads: Sentence = ()
    signals: Sentence = ()
    for stage, site in here.pairs:
        if site.id in hidden:
            continue
        say = Say(stage, f"blocks.{site.id}", design.origins)
        if isinstance(stage, Load) and not loads:
            loads = stage.phrase(say, site)
        if isinstance(stage, Load):
            at_rest = Word(text=f"At rest the {inside(stage.title)} is")
            found["behave"] = (*found.get("behave", ()), at_rest, say.field("at_rest", choices=RESTS))
        if isinstance(stage, Signal) and not signals:
            signals = stage.phrase(say, site)
        if isinstance(stage, Spoken):
            try:
                beside = isinstance(stage, Load) and "load" in found
                pieces = stage.givens(say, site, () if beside else fed)
                if beside:
                    pieces["load"] = (Word(text="and beside it"), *pieces.get("load", ()))
            except Open:
                continue
            for facet, piece in pieces.items():
                found[facet] = found.get(facet, ()) + piece
    keeps = any(stage.stateful for stage, site in here.pairs if site.id not in hidden)
    if keeps and design.supply.word == "battery":
        charge = Say(design.supply, "supply", design.origins).field("capacity", note="its charge")
        found["behave"] = (*found.get("behave", ()), Word(text="from a battery of"), charge)
    source = (Word(text="from a"), *signals) if signals else ()
    more = found.get("drive", ())
    found["drive"] = (Word(text="Switch a"), *loads, Word(text="on"), *volts, *source, *more)
    meter = Say(design.meter, "meter", design.origins)
    found["prove"] = (
        Word(text="The battery or supply reads as on the first rung; your meter has"),
        meter.field("resistance", note="input resistance"),
        Word(text="and is right within"),
        meter.field("accuracy", note="of the reading, 0.005 = 0.5%"),
    )
    return found
