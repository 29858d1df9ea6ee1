"""A relay's or button's contact against what it switches: carry, make, the least that keeps it clean, and
volts.

A contact's rating depends on its load: a motor or lamp is allowed far less than a heater, and a small current
never burns the film off a power contact. Direct current arcs do not go out by themselves, so its volts are
rated lower.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ...cards.card import ContactRating, RelayCard
from ...quantity import show
from ..contract.descriptions import Allowed, Ladder
from ..contract.facts import Loss, Switch, Use
from ..contract.site import Site
from ..say.checks import Check, Facet, check, when

STARTS: dict[Use, float] = {
    "resistive": 1.0,
    "motor": 6.0,
    "lamp": 10.0,
    "signal": 1.0,
}  # inrush over running current
USE_WORDS: dict[Use, str] = {
    "resistive": "a heater",
    "motor": "a motor",
    "lamp": "a lamp",
    "signal": "a signal",
}
RUNGS: dict[Use, str] = {"resistive": "Heater", "motor": "Motor", "lamp": "Lamp", "signal": "Signal"}
WALL_AC, WALL_DC = 30.0, 60.0  # above these nothing is built here: ratings only [V rms, V]


@dataclass(frozen=True)
class Switched:
    """What a contact switches: what it is, what it takes running and at the start [A], its volts."""

    name: str
    use: Use
    runs: float
    starts: float
    volts: float
    ac: bool = False


def ladder(ratings: Mapping[Use, ContactRating], on: Switched) -> Ladder:
    """The contact's ratings beside one use of it."""
    mine = ratings.get(on.use)
    rated = 0.0 if mine is None else (mine.volts_ac or mine.volts) if on.ac else mine.volts
    return Ladder(
        title=on.name,
        rungs=tuple(
            Allowed(use=u, title=RUNGS[u], least=r.least, run=r.run, make=r.make) for u, r in ratings.items()
        ),
        use=on.use,
        runs=on.runs,
        starts=on.starts,
        volts=on.volts,
        rated_volts=rated,
        ac=on.ac,
        says=(
            f"Not rated for {USE_WORDS[on.use]}"
            if mine is None
            else f"Runs at {show(on.runs, 'A')} of {show(mine.run, 'A')}, "
            f"starts at {show(on.starts, 'A')} of "
            f"{show(mine.make, 'A')}."
        ),
    )


def contact_checks(
    ratings: Mapping[Use, ContactRating], on: Switched, tag: str = "", facet: Facet | None = None
) -> Iterator[Check]:
    """Run, start, least and volts of one contact."""
    rating, kind = ratings.get(on.use), USE_WORDS[on.use]
    if rating is None:
        yield check(
            f"{tag}contact_run",
            f"{on.name} run on the contact",
            "limit",
            "contact",
            unit="A",
            nominal=on.runs,
            most=0.0,
            facet=facet,
            at=when("running"),
            says=f"The contact is not rated for {kind} at all.",
            formula="I_{run} ≤ I_{rated, this load}",
            numbers=f"{show(on.runs, 'A')}, no rating",
            because="A rating for a heater says nothing about a motor, a lamp or a signal.",
            cure=f"Take a relay whose sheet gives a rating for {kind}.",
        )
        return
    yield check(
        f"{tag}contact_run",
        f"{on.name} run on the contact",
        "limit",
        "contact",
        unit="A",
        nominal=on.runs,
        most=rating.run,
        facet=facet,
        at=when("running"),
        says=f"{show(on.runs, 'A')} of {show(rating.run, 'A')} for {kind}.",
        formula="I_{run} ≤ I_{rated, this load}",
        numbers=f"{show(on.runs, 'A')} ≤ {show(rating.run, 'A')}",
        because=(
            "A contact's rating depends on what it switches: a motor or lamp is allowed far less than a "
            "heater."
        ),
        cure="Take a relay with a bigger contact for this type of load.",
    )
    yield check(
        f"{tag}contact_make",
        f"{on.name} start on the contact",
        "limit",
        "contact",
        unit="A",
        nominal=on.starts,
        most=rating.make,
        facet=facet,
        at=when("starting from rest or cold"),
        says=f"{show(on.starts, 'A')} at the start, makes {show(rating.make, 'A')}.",
        formula="I_{start} = k · I_{run}",
        numbers=f"= {on.starts / on.runs:.3g} · {show(on.runs, 'A')} = {show(on.starts, 'A')}",
        because="Motors draw five to eight times their running current at the start, cold lamps ten times.",
        cure="Take a relay that may make more, or limit the start current.",
    )
    yield check(
        f"{tag}contact_clean",
        "Contact keeps itself clean",
        "limit",
        "contact",
        unit="A",
        nominal=on.runs,
        least=rating.least,
        facet=facet,
        at=when("least current"),
        says=f"Wants {show(rating.least, 'A')}, gets {show(on.runs, 'A')}.",
        formula="I_{least} ≤ I_{run}",
        numbers=f"{show(rating.least, 'A')} ≤ {show(on.runs, 'A')}",
        because="A small current never burns the film off a power contact: it turns into a dry contact.",
        cure="Use a signal relay with gilded contacts, or load the contact a little.",
    )
    rated = (rating.volts_ac or rating.volts) if on.ac else rating.volts
    yield check(
        f"{tag}contact_volts",
        "Volts across the contact",
        "limit",
        "contact",
        unit="V",
        nominal=on.volts,
        most=rated,
        facet=facet,
        at=when("contact open"),
        says=f"{show(on.volts, 'V')} of {show(rated, 'V')} {'AC' if on.ac else 'DC'}.",
        formula="V_{contact} ≤ V_{rated}",
        numbers=f"{show(on.volts, 'V')} ≤ {show(rated, 'V')}",
        because=(
            "AC passes zero a hundred times a second and puts its own arc out."
            if on.ac
            else "DC arcs do not go out by themselves; the DC rating is well under the AC one."
        ),
        cure=(
            "Above 30 V AC or 60 V DC this program gives ratings only. Local code and a licensed person "
            "decide."
        ),
    )


def above_wall(volts: float, ac: bool) -> bool:
    """Whether rms or direct volts lie above what may be built here."""
    return volts > (WALL_AC if ac else WALL_DC)


def wall_cautions(volts: float, ac: bool, where: str) -> tuple[str, ...]:
    """What must stay on screen when a side is above what may be built here."""
    if not above_wall(volts, ac):
        return ()
    kind = "30 V AC" if ac else "60 V DC"
    return (
        f"{where} is above {kind}: touching it can kill. Ratings are for information; there is no build "
        "plan and no wiring for that side. Your local electrical code and a licensed person decide how it "
        "is built, and connect it.",
        ("Switch the line conductor, not the neutral. " if ac else "")
        + "A closed enclosure, a fuse, strain relief on every cable, and the spacing to all that is touched "
        "are part of it.",
    )


def contact_switch(site: Site, local: str, output: str, active: bool = True) -> Switch:
    """The contact of a block's relay as its load's switch."""
    relay = site.card("card", RelayCard)
    rating = next(iter(relay.ratings.values()))
    return Switch(
        ref=site.ref(local),
        output=output,
        side="high",
        rail=site.rail,
        losses=(Loss.ohms(relay.contact_resistance, 2 * relay.contact_resistance),),
        breakdown=10 * rating.volts,
        capacitance=5e-12,
        on="high",
        active=active,
    )
