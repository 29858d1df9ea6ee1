"""A relay's or button's contact against what it switches: carry, make, the least that keeps it clean, and
volts.

A contact's rating depends on its load: a motor or lamp is allowed far less than a heater, and a small
current never burns
the film off a power contact. Direct current arcs do not go out by themselves, so its volts are rated lower.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from ..cards.card import ContactRating
from ..fields import Document
from ..quantity import show
from .findings import Remedy, Verdict, Working, judge

Use = Literal["resistive", "motor", "lamp", "signal"]
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
WALL_AC, WALL_DC = 30.0, 60.0  # above these nothing is built here: ratings only [V rms, V]


class Allowed(Document):
    """What a contact is allowed for one type of load [A]."""

    use: Use
    title: str
    least: float
    run: float
    make: float


class Contact(Document):
    """The contact ladder: what is allowed for each type, and what this load takes. Volts [V], currents
    [A].
    """

    title: str
    rungs: tuple[Allowed, ...]
    use: Use
    runs: float
    starts: float
    volts: float
    rated_volts: float
    ac: bool
    says: str


def ladder(
    title: str,
    ratings: Mapping[Use, ContactRating],
    use: Use,
    runs: float,
    starts: float,
    volts: float,
    ac: bool,
) -> Contact:
    """The contact's ratings beside one use of it."""
    names: dict[Use, str] = {"resistive": "Heater", "motor": "Motor", "lamp": "Lamp", "signal": "Signal"}
    rungs = tuple(
        Allowed(use=u, title=names[u], least=r.least, run=r.run, make=r.make) for u, r in ratings.items()
    )
    mine = ratings.get(use)
    rated = 0.0 if mine is None else (mine.volts_ac or mine.volts) if ac else mine.volts
    says = (
        f"Not rated for {USE_WORDS[use]}"
        if mine is None
        else (
            f"Runs at {show(runs, 'A')} of {show(mine.run, 'A')}, starts at {show(starts, 'A')} of "
            f"{show(mine.make, 'A')}."
        )
    )
    return Contact(
        title=title,
        rungs=rungs,
        use=use,
        runs=runs,
        starts=starts,
        volts=volts,
        rated_volts=rated,
        ac=ac,
        says=says,
    )


def contact_verdicts(
    name: str,
    ratings: Mapping[Use, ContactRating],
    use: Use,
    runs: float,
    starts: float,
    volts: float,
    *,
    ac: bool = False,
    facet: Literal["load", "drive"] = "load",
) -> list[Verdict]:
    """Run, start, least and volts of one contact."""
    rating, kind = ratings.get(use), USE_WORDS[use]
    if rating is None:
        return [
            judge(
                "contact_run",
                facet,
                f"{name} run on the contact",
                nominal=runs,
                worst=runs,
                limit=0.0,
                unit="A",
                sense="at most",
                corner="running",
                sentence=f"The contact is not rated for {kind} at all.",
                working=Working(
                    formula="I_{run} ≤ I_{rated, this load}",
                    substituted=f"{show(runs, 'A')}, no rating",
                    reason="A rating for a heater says nothing about a motor, a lamp or a signal.",
                ),
                remedy=Remedy(text=f"Take a relay whose sheet gives a rating for {kind}."),
            )
        ]
    rated_volts = (rating.volts_ac or rating.volts) if ac else rating.volts
    found = [
        judge(
            "contact_run",
            facet,
            f"{name} run on the contact",
            nominal=runs,
            worst=runs,
            limit=rating.run,
            unit="A",
            sense="at most",
            corner="running",
            sentence=f"{show(runs, 'A')} of {show(rating.run, 'A')} for {kind}.",
            working=Working(
                formula="I_{run} ≤ I_{rated, this load}",
                substituted=f"{show(runs, 'A')} ≤ {show(rating.run, 'A')}",
                reason=(
                    "A contact's rating depends on what it switches: a motor or lamp is allowed far less "
                    "than a heater."
                ),
            ),
            remedy=Remedy(text="Take a relay with a bigger contact for this type of load."),
        ),
        judge(
            "contact_make",
            facet,
            f"{name} start on the contact",
            nominal=starts,
            worst=starts,
            limit=rating.make,
            unit="A",
            sense="at most",
            corner="starting from rest or cold",
            sentence=f"{show(starts, 'A')} at the start, makes {show(rating.make, 'A')}.",
            working=Working(
                formula="I_{start} = k · I_{run}",
                substituted=f"= {starts / runs:.3g} · {show(runs, 'A')} = {show(starts, 'A')}",
                reason=(
                    "Motors draw five to eight times their running current at the start, cold lamps ten "
                    "times."
                ),
            ),
            remedy=Remedy(text="Take a relay that may make more, or limit the start current."),
        ),
        judge(
            "contact_clean",
            facet,
            "Contact keeps itself clean",
            nominal=runs,
            worst=runs,
            limit=rating.least,
            unit="A",
            sense="at least",
            corner="least current",
            sentence=f"Wants {show(rating.least, 'A')}, gets {show(runs, 'A')}.",
            working=Working(
                formula="I_{least} ≤ I_{run}",
                substituted=f"{show(rating.least, 'A')} ≤ {show(runs, 'A')}",
                reason=(
                    "A small current never burns the film off a power contact: it turns into a dry contact."
                ),
            ),
            remedy=Remedy(text="Use a signal relay with gilded contacts, or load the contact a little."),
        ),
        judge(
            "contact_volts",
            facet,
            "Volts across the contact",
            nominal=volts,
            worst=volts,
            limit=rated_volts,
            unit="V",
            sense="at most",
            corner="contact open",
            sentence=f"{show(volts, 'V')} of {show(rated_volts, 'V')} {'AC' if ac else 'DC'}.",
            working=Working(
                formula="V_{contact} ≤ V_{rated}",
                substituted=f"{show(volts, 'V')} ≤ {show(rated_volts, 'V')}",
                reason="AC passes zero a hundred times a second and puts its own arc out."
                if ac
                else "DC arcs do not go out by themselves; the DC rating is well under the AC one.",
            ),
            remedy=Remedy(
                text=(
                    "Above 30 V AC or 60 V DC this program gives ratings only. Local code and a licensed "
                    "person decide."
                )
            ),
        ),
    ]
    return found


def above_wall(volts: float, ac: bool) -> bool:
    """Whether rms or direct volts lie above what may be built here."""
    return volts > (WALL_AC if ac else WALL_DC)


def wall_cautions(volts: float, ac: bool, where: str) -> tuple[str, ...]:
    """What must stay on screen when a side is above what may be built here."""
    if not above_wall(volts, ac):
        return ()
    kind = "30 V AC" if ac else "60 V DC"
    return (
        (
            f"{where} is above {kind}: touching it can kill. Ratings are for information; there is no "
            "build plan and no wiring for that side. Your local electrical code and a licensed person "
            "decide how it is built, and connect it."
        ),
        (
            "Switch the line conductor, not the neutral. A closed enclosure, a fuse, strain relief on "
            "every cable, and the spacing between coil and contact side are part of it."
        ),
    )
