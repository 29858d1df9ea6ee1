"""Checks that no single block can see: what flows through the board's strips, and what a borrowed rail can
spare.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress

from ..quantity import show
from ..stages.contract import Demand, Draw, Open
from ..stages.say.checks import Check, check, high
from .document import SUPPLY, SUPPLY_PORT
from .flow import Flow

STRIP_LIMIT = 1.0  # what a breadboard's tie point carries [A]


def design_checks(flow: Flow) -> Iterator[Check]:
    """The design's own checks."""
    rail = flow.design.supply.as_rail()
    draws, heaviest = [], 0.0
    for end in flow.joined(SUPPLY, SUPPLY_PORT.name):
        with suppress(Open):
            fact = flow.leaving(end)
            if isinstance(fact, Draw):
                draws.append(fact)
    for block, stage in flow.design.blocks.items():
        for port in stage.ports():
            if port.kind == "load" and port.way == "out" and not port.passes:
                with suppress(Open):
                    demands = [f for f in flow.seen(block, port.name) if isinstance(f, Demand)]
                    if demands:
                        heaviest = max(heaviest, Demand.sum(demands).most(rail.high))
    if heaviest > 0:
        yield check(
            "strip",
            "Strip current",
            "practice",
            "current",
            unit="A",
            nominal=heaviest,
            most=STRIP_LIMIT,
            at=high("load cold"),
            says=f"{show(heaviest, 'A')} of {show(STRIP_LIMIT, 'A')} through a strip.",
            formula="I = V_{high} / R_{cold}",
            numbers=f"= {show(heaviest, 'A')}",
            because=(
                "A breadboard's contact springs carry about an amp. What draws more is wired at the part, "
                "never through a strip."
            ),
            cure="Wire the load's path off the board, with leads of its own.",
        )
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
