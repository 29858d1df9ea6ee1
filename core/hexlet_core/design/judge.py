"""Checks that no single block can see: what a borrowed rail can spare."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress

from ..quantity import show
from ..stages.contract import Draw, Open
from ..stages.say.checks import Check, check, high
from .document import SUPPLY, SUPPLY_PORT
from .flow import Flow


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
