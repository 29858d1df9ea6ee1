"""Checks that no kind makes: what a borrowed rail can spare, and parts whose card is not there."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress

from ..cards.card import Card
from ..quantity import show
from ..stages.contract import Draw, Open
from ..stages.say.checks import Change, Check, check, high, holds, when
from .document import SUPPLY, SUPPLY_PORT
from .flow import Flow


def card_checks(flow: Flow, block: str) -> Iterator[Check]:
    """What is wrong with the cards that a block's parts name: nothing, unless one of them is not there."""
    site = flow.sites[block]
    fitted = {part.field for part in flow.parts(block)}
    for field in flow.stage(block).cards:
        if field not in fitted or not site.unknown(field):
            continue
        named, stands_in = getattr(site.stage, field), site.card(field, Card)
        yield holds(
            f"{field}_there",
            "Its card is in the drawer",
            "need",
            "place",
            False,
            at=when("until it is chosen"),
            says=f"No fitting card “{named}” in the drawer: {stands_in.title} is reckoned with.",
            formula="card ∈ drawer",
            numbers=f"“{named}” is not there, or is another kind of part",
            because="The numbers told here are those of the part that stands in for it.",
            cure=f"Take {stands_in.title}, or choose another.",
            changes=(Change(path=site.path(field), value=stands_in.id),),
        )


def design_checks(flow: Flow) -> Iterator[Check]:
    """The design's own checks."""
    rail = flow.design.supply.as_rail()
    draws = []
    for end in flow.joined(SUPPLY, SUPPLY_PORT.name):
        with suppress(Open):
            fact = flow.leaving(end)
            if isinstance(fact, Draw):
                draws.append(fact)
    if rail.spare is not None and draws:
        whole = Draw.sum(draws)
        amps = max(whole.amps, whole.surge)
        yield check(
            "rail_spare",
            "Rail can spare it",
            "limit",
            "current",
            unit="A",
            nominal=amps,
            most=rail.spare,
            facet="load",
            at=high("load cold, first moment counted"),
            says=f"Takes {show(amps, 'A')}; {show(rail.spare, 'A')} are spare.",
            formula="I ≤ I_{rail} − I_{already}",
            numbers=f"{show(amps, 'A')} ≤ {show(rail.spare, 'A')}",
            because="A borrowed rail feeds something already, and browns it out when it is asked for more.",
            cure="Feed the load from a supply of its own, with the 0 V joined.",
        )
