"""Checks that no kind makes: what a borrowed rail can spare, parts whose card is not there, loads that are
switched again and again.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress

from ..cards.card import Card
from ..quantity import show
from ..stages.contract import Draw, Load, Open
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


# What a load makes of being switched again and again, by what it is: seen from so many times a second, up to
# so many; heard from so many to so many.
SEEN, STEADY, HEARD = 8.0, 90.0, (20.0, 16e3)  # [Hz]


def beat_checks(flow: Flow, block: str) -> Iterator[Check]:
    """Whether a load can follow a switch that opens and closes by itself, and what people notice of it."""
    stage, site = flow.stage(block), flow.sites[block]
    if not isinstance(stage, Load) or not site.seen("load"):
        return
    beat, demand = site.switch.beat, stage.takes(site)
    if beat is None:
        return
    shortest, pace = min(beat.on, beat.off), 1 / beat.period
    wound = demand.winding
    told = f"on for {show(beat.on, 's')}, off for {show(beat.off, 's')}"
    if wound is not None and wound.drop_out > 0.0:
        need = 3 * max(
            wound.travel, wound.henries * demand.amps(site.switch.rail.typical) / site.switch.rail.typical
        )
        yield check(
            "follows_beat",
            "Has time to move",
            "need",
            "time",
            unit="s",
            nominal=shortest,
            least=need,
            at=when("each time"),
            says=f"It is {told}; it moves within {show(need, 's')}.",
            formula="t ≥ 3 · t_{move}",
            numbers=f"{show(shortest, 's')} ≥ {show(need, 's')}",
            because="What is switched faster than it moves chatters, or hangs in between and heats.",
            cure="Take a slower pace, or a load without moving parts.",
        )
    if demand.use == "lamp" or stage.lights:
        yield check(
            "flickers",
            "Does not flicker",
            "practice",
            "time",
            unit="Hz",
            nominal=pace,
            at=when("watched from the corner of the eye"),
            says=f"{show(pace, 'Hz')}: {told}.",
            formula=f"f ≥ {STEADY:g} Hz, or slow enough to be seen as blinking",
            numbers=f"{show(pace, 'Hz')}",
            because=f"Between {SEEN:g} Hz and {STEADY:g} Hz it looks neither steady nor like single flashes.",
            cure="Take a smaller capacitor for a steady light, or a larger one to blink.",
            least=STEADY if pace > SEEN else None,
            most=None if pace > SEEN else SEEN,
        )
    if demand.use == "motor" or (wound is not None and not wound.drop_out):
        low, most = HEARD
        yield check(
            "heard",
            "Is not heard",
            "practice",
            "time",
            unit="Hz",
            nominal=pace,
            at=when("a quiet room"),
            says=f"{show(pace, 'Hz')}: {told}.",
            formula=f"f ≥ {show(most, 'Hz')} or f ≤ {show(low, 'Hz')}",
            numbers=f"{show(pace, 'Hz')}",
            because="A winding sings at the pace at which it is switched.",
            cure="Take a pace above what is heard, or live with the tone.",
            least=most if pace > low else None,
            most=None if pace > low else low,
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
